"""What burns, melts or catches fire is found, and no change that is offered brings it about."""

import json
from typing import Any

import pytest

from husbandry.advise.panels_and_mats import MAT_MOST_C, MAT_SHARE_MOST
from husbandry.documents.request import Request
from husbandry.documents.request_json import apply_patch, from_data
from husbandry.findings.hazards import hazards, seen_hazards
from husbandry.items.heaters import HeatMat
from husbandry.plan.plan import plan, prediction_of

LAMP = {"id": "emitter-1", "kind": "ceramic_emitter", "power_w": 60.0}
SIXTEEN_LITRES = (0.40, 0.26, 0.16)
PART_MESH = {"material": "acrylic", "mesh": "medium", "mesh_share": 0.3}
CLOSED = {"material": "acrylic"}


def tub(
    sample: dict[str, Any],
    species: str = "Eublepharis macularius",
    *,
    sides: tuple[float, float, float] = SIXTEEN_LITRES,
    lid: dict[str, Any] | None = None,
    items: tuple[dict[str, Any], ...] = (),
    room_c: tuple[float, float] = (21.0, 18.0),
) -> Request:
    """A tub of acrylic in a cool room."""
    data = json.loads(json.dumps(sample))
    length, depth, height = sides
    data["readings"] = []
    data["animals"] = [{"name": "", "species": species}]
    data["enclosure"] = {
        "inside_m": {"length": length, "depth": depth, "height": height},
        "panels": dict.fromkeys(("front", "back", "left", "right", "bottom"), "acrylic"),
        "lid": lid or CLOSED,
        "substrate": {"material": "soil", "depth_m": 0.02},
    }
    data["room"] = {**data["room"], "day_c": room_c[0], "night_c": room_c[1]}
    data["items"] = list(items)
    return from_data(data)


def hung(request: Request, below_lid_m: float) -> dict[str, Any]:
    inside = request.enclosure.inside_m
    return {
        **LAMP,
        "at_m": [inside.length / 2, inside.depth / 2, round(inside.height - below_lid_m, 3)],
    }


@pytest.mark.parametrize(
    ("share", "sides", "melts"),
    [
        (0.3, SIXTEEN_LITRES, True),  # the opening is 14 cm wide: its rim is 7 cm away
        (0.95, (0.6, 0.5, 0.4), False),
        (0.5, (0.9, 0.45, 0.45), False),
        (1.0, SIXTEEN_LITRES, False),
    ],
)
def test_mesh_in_part_of_a_lid_does_not_make_the_rest_of_it_safe(
    sample: dict[str, Any], share: float, sides: tuple[float, float, float], melts: bool
) -> None:
    """A 60 W emitter 3 cm below an acrylic lid passed when any of the lid was mesh."""
    lid = {"material": "acrylic", "mesh": "medium", "mesh_share": share}
    empty = tub(sample, sides=sides, lid=lid)
    request = tub(sample, sides=sides, lid=lid, items=(hung(empty, 0.03),))
    found = [hazard for hazard in hazards(request) if hazard.near == "the lid of acrylic"]
    assert bool(found) is melts


def test_a_hazard_is_a_finding_of_danger(sample: dict[str, Any]) -> None:
    """It was a mark on the drawing only."""
    request = tub(sample, items=(hung(tub(sample), 0.03),))
    notes = [note for note in plan(request).notes if note.slug == "hazard plastic"]
    assert notes and all(note.severity == "danger" for note in notes)
    lid = next(note for note in notes if "lid" in note.text)
    assert lid.values["gap_m"] == pytest.approx(0.03) and lid.values["least_m"] == 0.1


@pytest.mark.parametrize("lid", [CLOSED, PART_MESH], ids=["closed", "part mesh"])
@pytest.mark.parametrize("sides", [SIXTEEN_LITRES, (0.6, 0.4, 0.3), (0.9, 0.45, 0.45)])
@pytest.mark.parametrize(
    "species",
    [
        "Eublepharis macularius",
        "Correlophus ciliatus",
        "Pogona vitticeps",
        "Python regius",
        "Ranoidea caerulea",
    ],
)
def test_no_change_brings_a_hazard(
    sample: dict[str, Any], species: str, sides: tuple[float, float, float], lid: dict[str, Any]
) -> None:
    """Whoever accepts one suggestion after another never makes a fire."""
    request = tub(sample, species, sides=sides, lid=lid)
    for _ in range(4):
        made = plan(request)
        had = {hazard.key for hazard in seen_hazards(prediction_of(request))}
        for change in made.changes:
            after = prediction_of(apply_patch(request, change.patch))
            assert {hazard.key for hazard in seen_hazards(after)} <= had, change.kind
        if not made.changes:
            break
        request = apply_patch(request, made.changes[0].patch)


def test_a_small_closed_tub_gets_a_regulated_mat(sample: dict[str, Any]) -> None:
    """Common practice, no source: a mat on a thermostat under a part of the floor."""
    request = tub(sample)
    change = next(change for change in plan(request).changes if change.kind == "heat_add")
    after = apply_patch(request, change.patch)
    mat = after.items[0]
    assert isinstance(mat, HeatMat) and mat.thermostat is not None and mat.size_m is not None
    assert mat.thermostat.set_c <= MAT_MOST_C
    assert mat.size_m[0] * mat.size_m[1] <= MAT_SHARE_MOST * 0.40 * 0.26
    assert not any(change.kind == "heat_add" for change in plan(after).changes)


@pytest.mark.parametrize("species", ["Pogona vitticeps", "Chamaeleo calyptratus"])
def test_what_no_mat_can_warm_gets_a_sentence(sample: dict[str, Any], species: str) -> None:
    """A basking place of 40 °C comes from a lamp, and none hangs safely under 16 cm of acrylic."""
    made = plan(tub(sample, species))
    assert not any(change.kind in {"heat_add", "night_heat"} for change in made.changes)
    said = next(note for note in made.notes if note.slug == "no safe heat")
    assert said.severity == "danger" and "Warm the room" in said.text


def test_a_warm_room_needs_no_such_sentence(sample: dict[str, Any]) -> None:
    made = plan(tub(sample, "Correlophus ciliatus", room_c=(24.5, 22.0)))
    assert not any(note.slug == "no safe heat" for note in made.notes)
