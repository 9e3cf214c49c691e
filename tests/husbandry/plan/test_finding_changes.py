"""Findings as changes: each that is offered clears its finding, brings no other, and is followed to
its end.
"""

import json
from typing import Any

import pytest

from husbandry.documents.request import Request
from husbandry.documents.request_json import apply_patch, from_data, to_data
from husbandry.plan.plan import plan
from husbandry.setups.closure import RoomCase, data_of
from husbandry.setups.placing import clashes
from husbandry.setups.starter import start
from husbandry.species.library import find
from tests.husbandry.conftest import SAMPLE


def bent(change: Any = None) -> Request:
    data = json.loads(SAMPLE.read_text(encoding="utf-8"))
    data["readings"] = []
    data["room"]["summer_max_c"] = 25.0
    if change is not None:
        change(data)
    return from_data(data)


def slugs(request: Request) -> list[str]:
    return [note.slug for note in plan(request).notes if note.severity != "fact"]


def test_each_change_clears_its_finding_and_brings_no_other() -> None:
    request = bent()
    made = plan(request)
    mended = [change for change in made.changes if change.clears]
    assert {slug for change in mended for slug in change.clears} >= {
        "no thermostat",
        "furniture undermined",
        "furniture substrate shallow",
        "hides",
    }
    before = slugs(request)
    for change in mended:
        after = slugs(apply_patch(request, change.patch))
        for slug in change.clears:
            assert after.count(slug) < before.count(slug), change.kind
        assert {slug for slug in after if not slug.startswith("unproven")} <= set(before)


def test_followed_to_the_end_no_finding_is_left_that_has_a_change() -> None:
    request = bent()
    for _ in range(12):
        change = next((one for one in plan(request).changes if one.clears), None)
        if change is None:
            break
        request = apply_patch(request, change.patch)
    left = set(slugs(request))
    assert not left & {"no thermostat", "furniture undermined", "hides"}
    assert "furniture substrate shallow" not in left


@pytest.fixture(scope="module")
def stripped() -> Request:
    """A grown snake's setup without hides and water."""
    asked = data_of(find("Lampropeltis californiae"), "adult", RoomCase(21.0, 18.0, 26.0, 50.0))
    found = start(asked).best
    assert found is not None
    data = to_data(found.judged.request)
    data["items"] = [item for item in data["items"] if item["kind"] not in {"hide", "dish"}]
    return from_data(data)


@pytest.mark.parametrize(("slug", "kind"), [("hides", "hide_add"), ("no dish", "dish_add")])
def test_what_is_missing_is_put_in_where_it_is_free(
    stripped: Request, slug: str, kind: str
) -> None:
    assert slug in slugs(stripped)
    change = next(one for one in plan(stripped).changes if slug in one.clears)
    assert change.kind == kind and change.price_eur > 0
    after = apply_patch(stripped, change.patch)
    assert slug not in slugs(after) and not clashes(after)


def egg_eater(stage: str) -> Request:
    """A whole setup for an egg-eating snake."""
    asked = data_of(find("Dasypeltis scabra"), stage, RoomCase(21.0, 18.0, 28.0, 50.0))
    found = start(asked).best
    assert found is not None
    return found.judged.request


def moved(request: Request, kind: str, x_m: float, y_m: float) -> Request:
    """The first item of a kind, elsewhere."""
    data = to_data(request)
    one = next(item for item in data["items"] if item["kind"] == kind)
    one["at_m"] = [round(x_m, 4), round(y_m, 4), one["at_m"][2]]
    return from_data(data)


def test_a_dish_under_a_lamp_is_moved_away() -> None:
    data = to_data(egg_eater("hatchling"))
    dish = next(item for item in data["items"] if item["kind"] == "dish")
    over = [*dish["at_m"][:2], round(data["enclosure"]["inside_m"]["height"] - 0.12, 3)]
    held = {"set_c": 22.0, "probe": "cool_air"}
    lamp = {"id": "heat-9", "kind": "ceramic_emitter", "power_w": 25, "at_m": over}
    data["items"].append({**lamp, "thermostat": held})
    hot = from_data(data)
    assert "furniture dish hot" in slugs(hot)
    change = next(one for one in plan(hot).changes if "furniture dish hot" in one.clears)
    assert change.kind == "move_item" and change.price_eur == 0
    after = apply_patch(hot, change.patch)
    assert "furniture dish hot" not in slugs(after) and not clashes(after)


def test_a_gap_that_holds_a_body_is_closed_by_moving_what_stands_beside_it() -> None:
    request = egg_eater("adult")
    hide = next(item for item in request.items if item.kind == "hide")
    assert hide.sides_m is not None
    # wider than its head, narrower than its body
    trapped = moved(
        request,
        "hide",
        hide.at_m[0],
        request.enclosure.inside_m.depth - hide.sides_m[1] / 2 - 0.013,
    )
    assert "furniture gap" in slugs(trapped)
    change = next(one for one in plan(trapped).changes if "furniture gap" in one.clears)
    assert change.kind == "move_item" and change.price_eur == 0
    after = apply_patch(trapped, change.patch)
    assert "furniture gap" not in slugs(after) and not clashes(after)


def test_a_light_that_burns_at_night_is_given_its_timer() -> None:
    def at_night(data: dict[str, Any]) -> None:
        for item in data["items"]:
            if "on" in item:
                item["on"], item["off"] = "00:00", "23:30"

    request = bent(at_night)
    made = plan(request)
    assert "light at night" in slugs(request)
    change = next(one for one in made.changes if "light at night" in one.clears)
    assert change.kind == "timer" and change.price_eur == 0
    assert "light at night" not in slugs(apply_patch(request, change.patch))


def test_a_cut_out_is_offered_where_a_fault_passes_a_limit() -> None:
    """An independent cut-out takes the power away: common practice, no source."""

    def strong(data: dict[str, Any]) -> None:
        lamp = next(item for item in data["items"] if item["kind"] == "halogen_flood")
        lamp["power_w"] = 150
        lamp["thermostat"] = {"set_c": 40, "probe": "surface"}

    request = bent(strong)
    assert "thermostat failed on" in slugs(request)
    made = plan(request)
    change = next(one for one in made.changes if "thermostat failed on" in one.clears)
    assert change.kind == "cut_out" and change.price_eur >= 30
    assert "thermostat failed on" not in slugs(apply_patch(request, change.patch))


def test_the_headline_is_never_answered_by_a_change_for_another_finding() -> None:
    made = plan(bent())
    assert made.answer is None or not made.answer.clears


def test_an_empty_enclosure_is_told_nothing_that_cannot_be() -> None:
    def bare(data: dict[str, Any]) -> None:
        data["items"] = []

    assert all(change.patch for change in plan(bent(bare)).changes)
