"""What an animal basks on, raised or lowered until lamp and ultraviolet come out right."""

from typing import Any

import pytest

from husbandry.documents.request_json import apply_patch, from_data
from husbandry.plan.plan import plan
from husbandry.species.needs import NeedKey


def far_lamps(sample: dict[str, Any], lamp_m: float = 0.5, tube_m: float = 0.5) -> dict[str, Any]:
    """The sample's enclosure with its lamps hung far above the stone."""
    sample["readings"] = []
    sample.pop("earlier", None)
    sample["enclosure"]["inside_m"]["height"] = 0.6
    for item in sample["items"]:
        if item["id"] == "lamp-1":
            item["at_m"][2] = lamp_m
            item["power_w"] = 60
        if item["id"] == "tube-1":
            item["at_m"][2] = tube_m
            item["kind"] = "t5_14"
    return sample


def test_a_stone_is_raised_until_lamp_and_ultraviolet_are_right(sample: dict[str, Any]) -> None:
    request = from_data(far_lamps(sample))
    made = plan(request)
    assert {
        made.need(key).verdict.direction for key in (NeedKey.SURFACE_DAY, NeedKey.UVI_DAY)
    } == {"below"}
    change = next(change for change in made.changes if change.kind == "platform")
    assert change.effort == "own" and change.puts_right == 2
    assert change.values["to_m"] > change.values["from_m"]
    after = plan(apply_patch(request, change.patch))
    for effect in change.effects:
        seen = after.need(effect.need).predicted
        assert seen is not None and seen.value == pytest.approx(effect.after, abs=0.1)
    assert after.need(NeedKey.UVI_DAY).verdict.direction == "right"
    assert not any(
        note.slug == "furniture fall" for note in after.notes
    )  # it stays where a fall does no harm


def test_it_never_sinks_below_its_substrate_nor_into_reach_of_a_lamp(
    sample: dict[str, Any],
) -> None:
    for lamp_m, tube_m in ((0.30, 0.30), (0.58, 0.58)):
        for change in plan(from_data(far_lamps(sample, lamp_m, tube_m))).changes:
            if change.kind == "platform":
                moved = apply_patch(from_data(sample), change.patch).item(change.item_id)
                assert moved.at_m[2] >= sample["enclosure"]["substrate"]["depth_m"] - 1e-9
                assert (
                    moved.size_m is not None
                    and lamp_m - moved.at_m[2] - moved.size_m[2] >= 0.15 - 1e-9
                )


def test_a_climber_goes_along_with_its_branch(sample: dict[str, Any]) -> None:
    sample.update(
        animals=[{"name": "Ash", "species": "Chamaeleo calyptratus", "approaches": {}}],
        readings=[],
    )
    sample.pop("earlier", None)
    sample["enclosure"]["inside_m"] |= {"height": 1.0}
    sample["items"] = [
        {
            "id": "tube-1",
            "kind": "t5_12",
            "at_m": [0.5, 0.3, 0.95],
            "length_m": 0.85,
            "power_w": 39,
            "hours_run": 100,
            "on": "08:00",
            "off": "20:00",
        },
        {
            "id": "branch-1",
            "kind": "branch",
            "at_m": [0.5, 0.3, 0.45],
            "size_m": [0.6, 0.02, 0.02],
        },
    ]
    request = from_data(sample)
    made = plan(request)
    assert made.need(NeedKey.UVI_DAY).verdict.direction == "below"
    change = next(change for change in made.changes if change.kind == "platform")
    assert change.values["what"] == "branch" and change.values["to_m"] > change.values["from_m"]
    after = plan(apply_patch(request, change.patch))
    promised = next(effect for effect in change.effects if effect.need is NeedKey.UVI_DAY)
    seen = after.need(NeedKey.UVI_DAY)
    assert seen.verdict.direction == "right" and seen.predicted is not None
    assert seen.predicted.value == pytest.approx(promised.after, abs=0.05)
