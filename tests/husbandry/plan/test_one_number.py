"""One rule, one number: what is said of an enclosure in one place is not denied in another."""

import json
from typing import Any

import pytest

from husbandry.documents.naming import names
from husbandry.documents.request import Request
from husbandry.documents.request_json import from_data
from husbandry.findings.zones import zones_of
from husbandry.plan.plan import plan, plan_summary, prediction_of
from husbandry.predict.need_states import look
from husbandry.species.library import library
from husbandry.species.needs import NeedKey
from husbandry.targets.verdicts import TargetRange, judge


def bent(sample: dict[str, Any], **enclosure: Any) -> dict[str, Any]:
    data = json.loads(json.dumps(sample))
    data["readings"] = []
    data["enclosure"].update(enclosure)
    return data


def lamps(sample: dict[str, Any], *places: list[float]) -> Request:
    """The sample with one halogen flood at each of some places."""
    data = bent(sample)
    lamp = next(item for item in data["items"] if item["kind"] == "halogen_flood")
    others = [item for item in data["items"] if item["kind"] != "halogen_flood"]
    floods = [{**lamp, "id": f"flood-{n}", "at_m": place} for n, place in enumerate(places)]
    return from_data({**data, "items": [*floods, *others]})


@pytest.mark.parametrize(
    ("places", "called"),
    [
        ([[0.3, 0.3, 0.5]], ["halogen flood"]),
        ([[0.9, 0.3, 0.5], [0.3, 0.3, 0.5]], ["right halogen flood", "left halogen flood"]),
        ([[0.3, 0.5, 0.5], [0.3, 0.1, 0.5]], ["back halogen flood", "front halogen flood"]),
        (
            [[0.3, 0.3, 0.5], [0.6, 0.3, 0.5], [0.9, 0.3, 0.5]],
            ["left halogen flood", "middle halogen flood", "right halogen flood"],
        ),
        ([[0.3, 0.3, 0.5], [0.3, 0.3, 0.5]], ["halogen flood 1", "halogen flood 2"]),
    ],
)
def test_no_two_items_have_one_name(
    sample: dict[str, Any], places: list[list[float]], called: list[str]
) -> None:
    request = lamps(sample, *places)
    found = names(request)
    assert [found[f"flood-{n}"] for n in range(len(places))] == called
    assert len(set(found.values())) == len(request.items)


def test_changes_of_two_lamps_have_two_names(sample: dict[str, Any]) -> None:
    """Two lamps of one kind were told “Fit 75 W instead of 50 W” each."""
    made = plan(lamps(sample, [0.3, 0.3, 0.55], [0.9, 0.3, 0.55]))
    told = [change for change in made.changes if change.item_id.startswith("flood")]
    assert told and all(change.one_of_several for change in told)
    assert all("left" in change.item_name or "right" in change.item_name for change in told)


@pytest.mark.parametrize("depth", [0.02, 0.06, 0.09, 0.2])
@pytest.mark.parametrize("species", [s for s in library() if library()[s].habit != "aquatic"])
def test_substrate_has_one_depth(sample: dict[str, Any], species: str, depth: float) -> None:
    """“It needs 10 cm” stood beside “wants 15 cm at the least”."""
    data = bent(sample, substrate={"material": "soil", "depth_m": depth})
    data["animals"] = [{"name": "", "species": species}]
    data["items"] = []
    made = plan(from_data(data), advise=False)
    asked = [
        note.values["needed"]
        for note in made.notes
        if note.slug in {"room dig", "furniture substrate shallow", "furniture substrate bare"}
    ]
    assert len(asked) <= 1
    assert all(needed == made.size.substrate_needed_m for needed in asked)
    dig = [check for check in made.size.room if check.slug == "dig"]
    assert all(check.enough is not bool(asked) for check in dig)


def test_what_is_past_a_limit_is_not_right(sample: dict[str, Any]) -> None:
    """Of two animals one's target range reaches past the other's limit: “right, past the limit”."""
    request = from_data(bent(sample))
    target = look(request).targets[NeedKey.SURFACE_DAY]
    assert target.high is not None and target.limit_high is not None
    lower = target.limit_high.model_copy(update={"value": target.high_value - 2})
    strict = TargetRange(**{**vars(target), "limit_high": lower})
    found = judge(strict, target.high_value - 1, 0.1, speaks="measured")
    assert (found.direction, found.limit) == ("above", "breached") and found.by == pytest.approx(1)
    assert judge(strict, target.high_value - 3, 0.1, speaks="measured").direction == "right"


def test_too_strong_is_not_nowhere(sample: dict[str, Any]) -> None:
    """“Warmth and UV meet nowhere” stood beside a UV index of 7.6 where it basks."""
    data = bent(sample)
    for item in data["items"]:
        if item["kind"].startswith("t5"):
            item["kind"], item["hours_run"] = "t5_14", 0
            item["at_m"][2] = 0.33
    request = from_data(data)
    seen = plan_summary(request)
    prediction = prediction_of(request)
    lead = seen.animals[0]
    zones = zones_of(prediction, seen.needs, request.profiles[lead.species], lead.length_m)
    uv = prediction.centre(NeedKey.UVI_DAY)
    target = next(need for need in seen.needs if need.key is NeedKey.UVI_DAY)
    assert zones is not None and uv is not None and target.high is not None
    assert uv > target.high.value and zones.warm_light == "too strong"


def test_a_hide_at_the_warm_end_is_not_told_to_move_there(sample: dict[str, Any]) -> None:
    """“No hide is warm: move one” stood beside “All hides lie in the warm half”."""
    data = bent(sample)
    data["room"] |= {"day_c": 15, "night_c": 14}
    data["items"] = [item for item in data["items"] if item["kind"] in {"hide", "halogen_flood"}]
    for item in data["items"]:
        if item["kind"] == "hide":
            item["at_m"][0] = 0.45
        else:
            item["power_w"] = 35
    request = from_data(data)
    seen = plan_summary(request)
    lead = seen.animals[0]
    zones = zones_of(
        prediction_of(request), seen.needs, request.profiles[lead.species], lead.length_m
    )
    assert zones is not None and not zones.warm_hide and zones.hide_in_warm_half
