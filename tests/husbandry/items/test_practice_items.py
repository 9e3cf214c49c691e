"""Dig boxes, food dishes, drippers, fans, thermometers and what is climbed on (common practice, no
source, unless a source stands beside the check).
"""

import copy
from typing import Any

import pytest

from husbandry.build_plan.shopping import shopping
from husbandry.documents.request import Request
from husbandry.documents.request_json import apply_patch, from_data, to_data
from husbandry.documents.result import Change
from husbandry.errors import DocumentError
from husbandry.plan.plan import plan
from husbandry.predict.moisture import damp_of
from husbandry.predict.predict import AnimalPosition, Prediction, predict
from husbandry.setups.closure import RoomCase, data_of
from husbandry.setups.starter import start
from husbandry.species.library import find
from husbandry.species.needs import NeedKey

FAN = {"id": "fan-1", "kind": "fan", "at_m": [0.02, 0.2, 0.4], "air_l_h": 6000}
BOX = {
    "id": "box-1",
    "kind": "dig_box",
    "at_m": [1.1, 0.3, 0.0],
    "size_m": [0.4, 0.3, 0.25],
    "filled_m": 0.24,
}


def with_items(sample: dict[str, Any], *items: dict[str, Any]) -> Request:
    data = copy.deepcopy(sample)
    data["items"] += items
    return from_data(data)


def predicted(request: Request) -> Prediction:
    return predict(request, AnimalPosition(0.03))


def mended(request: Request, slug: str) -> Change:
    """The change that clears a finding when all that is offered is followed."""
    for _ in range(12):
        assert slug in slugs(request)
        change = next(one for one in plan(request).changes if one.clears)
        request = apply_patch(request, change.patch)
        if slug in change.clears:
            assert slug not in slugs(request)
            return change
    raise AssertionError(f"nothing clears {slug}")


def slugs(request: Request) -> set[str]:
    return {note.slug for note in plan(request, advise=False).notes}


def test_a_fan_moves_air_and_cools_what_is_warmer_than_its_room(sample: dict[str, Any]) -> None:
    still = predicted(with_items(sample))
    moved = predicted(with_items(sample, FAN))
    changes = [p.day.heat_model.changes_per_h(4.0) for p in (still, moved)]
    assert changes[1] > 1.5 * changes[0]
    air = [p.centre(NeedKey.WARM_AIR_DAY) for p in (still, moved)]
    assert air[0] is not None and air[1] is not None and air[1] < air[0] - 0.5


def test_a_fan_by_the_clock_dries_while_it_runs(sample: dict[str, Any]) -> None:
    data = copy.deepcopy(sample)
    data["enclosure"]["wetting"] = {"substrate": "damp"}
    timed = FAN | {"on": "12:00", "off": "14:00"}
    days = [damp_of(predicted(with_items(data, *fans))) for fans in ((), (timed,))]
    still, fanned = (day.forcing.changes_per_h for day in days if day is not None)
    grown = [n for n, (a, b) in enumerate(zip(still, fanned, strict=True)) if b > a + 0.01]
    assert grown == [24, 25, 26, 27], "half hours from 12:00 to 14:00"


def test_a_dripper_wets_by_what_is_not_caught(sample: dict[str, Any]) -> None:
    data = copy.deepcopy(sample)
    data["enclosure"]["wetting"] = {"substrate": "dry top"}
    dripper = {
        "id": "drip-1",
        "kind": "dripper",
        "at_m": [0.9, 0.3, 0.5],
        "l_per_h": 0.2,
        "on": "09:00",
        "off": "11:00",
    }
    damp = damp_of(predicted(with_items(data, dripper)))
    assert damp is not None
    assert sum(damp.forcing.mist_kg) == pytest.approx(0.3 * 0.2 * 2, rel=1e-9)


def test_a_buried_line_leaves_all_of_it_in_the_substrate(sample: dict[str, Any]) -> None:
    data = copy.deepcopy(sample)
    data["enclosure"]["wetting"] = {"substrate": "dry top"}
    line = {
        "id": "line-1",
        "kind": "dripper",
        "buried": True,
        "at_m": [0.9, 0.3, 0.02],
        "l_per_h": 0.2,
        "on": "09:00",
        "off": "11:00",
    }
    damp = damp_of(predicted(with_items(data, line)))
    assert damp is not None
    assert sum(damp.forcing.mist_kg) == pytest.approx(0.2 * 2, rel=1e-9)
    with pytest.raises(DocumentError, match="lies in the substrate"):
        with_items(data, {**line, "at_m": [0.9, 0.3, 0.4]})


@pytest.fixture(scope="module")
def chameleon() -> Request:
    asked = data_of(find("Chamaeleo calyptratus"), "adult", RoomCase(21.0, 18.0, 26.0, 50.0))
    found = start(asked).best
    assert found is not None
    return found.judged.request


def test_what_drinks_drops_is_never_left_with_a_dish(chameleon: Request) -> None:
    """Veiled chameleons drink moving drops (from memory: Nečas 1999)."""
    assert "no drops" not in slugs(chameleon)
    data = to_data(chameleon)
    data["enclosure"]["wetting"]["mistings"] = []
    data["items"] = [item for item in data["items"] if item["kind"] != "dripper"]
    dry = from_data(data)
    assert "no drops" in slugs(dry)
    buried = {"at_m": [0.3, 0.3, 0.0], "on": "09:00", "off": "11:00", "buried": True}
    line = {"id": "line-1", "kind": "dripper", "l_per_h": 0.1, **buried}
    assert "no drops" in slugs(with_items(data, line)), "nothing that it sees"
    change = mended(dry, "no drops")
    assert change.kind == "dripper_add" and change.price_eur > 0


@pytest.mark.parametrize(
    ("bend", "is_enough"),
    [
        ({}, True),
        ({"moist": False}, False),
        ({"filled_m": 0.1}, False),
        ({"size_m": [0.12, 0.1, 0.25]}, False),
    ],
)
def test_a_dig_box_does_for_eggs_where_it_is_deep_damp_and_long(
    sample: dict[str, Any], bend: dict[str, Any], is_enough: bool
) -> None:
    data = copy.deepcopy(sample)
    data["animals"][0] |= {
        "species": "Pogona vitticeps",
        "sex": "female",
        "length_mm": {"total": 460},
        "mass_g": 400,
    }
    data["enclosure"]["substrate"] = {"material": "soil", "depth_m": 0.05}
    assert "laying" in slugs(from_data(data))
    assert ("laying" not in slugs(with_items(data, BOX | bend))) == is_enough


def test_a_dry_or_short_dig_box_is_named_and_the_dry_one_mended(sample: dict[str, Any]) -> None:
    dry = with_items(sample, BOX | {"moist": False})
    assert "furniture box dry" in slugs(dry)
    change = mended(dry, "furniture box dry")
    assert change.effort == "own"
    assert "furniture box small" in slugs(with_items(sample, BOX | {"size_m": [0.1, 0.1, 0.25]}))


def test_a_dig_box_holds_no_more_than_to_its_rim(sample: dict[str, Any]) -> None:
    with pytest.raises(DocumentError, match="holds no more"):
        with_items(sample, BOX | {"filled_m": 0.3})


@pytest.mark.parametrize("kind", ["dripper"])
def test_what_runs_by_the_clock_needs_its_times(sample: dict[str, Any], kind: str) -> None:
    item = {"id": "new-1", "kind": kind, "at_m": [0.5, 0.3, 0.5], "l_per_h": 0.1}
    with pytest.raises(DocumentError, match="needs the times"):
        with_items(sample, item)


def test_vines_and_twigs_bend_under_heavy_animals(sample: dict[str, Any]) -> None:
    branch = {"id": "b-9", "kind": "branch", "at_m": [0.9, 0.3, 0.2], "size_m": [0.4, 0.04, 0.04]}
    assert "furniture yielding" in slugs(with_items(sample, branch | {"form": "vine"}))
    assert "furniture yielding" not in slugs(with_items(sample, branch | {"form": "cork"}))


def test_thermometers_that_are_placed_are_bought_once(sample: dict[str, Any]) -> None:
    """Two for the air whatever is placed: a thermostat that fails shows nothing."""
    meter = {"kind": "thermometer", "at_m": [0.5, 0.3, 0.2]}
    placed = [{**meter, "id": f"m-{n}"} for n in range(3)]
    lines = {line.slug: line.count for line in shopping(with_items(sample, *placed))}
    assert lines["thermometer"] == 3 and lines["hygrometer"] == 1
    lines = {line.slug: line.count for line in shopping(with_items(sample, placed[0]))}
    assert lines["thermometer"] == 2


@pytest.mark.parametrize(
    ("item", "name"),
    [
        ({"kind": "food_dish", "holds": "calcium", "size_m": [0.1, 0.1, 0.02]}, "calcium dish"),
        ({"kind": "thermometer", "measures": "both"}, "thermometer with hygrometer"),
        ({"kind": "branch", "form": "cork", "size_m": [0.3, 0.1, 0.1]}, "cork tube"),
    ],
)
def test_each_is_called_what_keepers_call_it(
    sample: dict[str, Any], item: dict[str, Any], name: str
) -> None:
    request = with_items(sample, {"id": "new-1", "at_m": [0.9, 0.3, 0.1], **item})
    assert request.item("new-1").name == name
