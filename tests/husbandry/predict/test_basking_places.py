"""Where the animal is: a climber basks on its branch, and limits hold wherever it can go."""

from typing import Any

import pytest

from husbandry.documents.request_json import from_data
from husbandry.plan.plan import plan_with_prediction
from husbandry.species.needs import NeedKey

FACE_M = 1.1


def chameleon(sample: dict[str, Any], below_m: float) -> dict[str, Any]:
    """A veiled chameleon in a tall box, a branch so far below a flood of 75 W."""
    top_m = FACE_M - below_m
    return {
        **sample,
        "animals": [
            {"name": "C", "species": "Chamaeleo calyptratus", "sex": "female", "mass_g": 110}
        ],
        "enclosure": {
            **{key: value for key, value in sample["enclosure"].items() if key != "approaches"},
            "inside_m": {"length": 0.6, "depth": 0.6, "height": 1.2},
        },
        "items": [
            {
                "id": "lamp-1",
                "kind": "halogen_flood",
                "at_m": [0.3, 0.3, FACE_M],
                "power_w": 75,
                "on": "07:00",
                "off": "19:00",
            },
            {
                "id": "branch-1",
                "kind": "branch",
                "at_m": [0.3, 0.3, top_m - 0.03],
                "size_m": [0.5, 0.03, 0.03],
            },
        ],
    }


@pytest.mark.parametrize(
    ("below_m", "surface_c"), [(0.52, 31.0), (0.32, 37.0), (0.20, 46.0), (0.12, 62.0)]
)
def test_a_branch_is_as_warm_as_the_beam_makes_it(
    sample: dict[str, Any], below_m: float, surface_c: float
) -> None:
    """Independent balance of a branch in the same flood: 31, 37, 46 and 62 °C (arithmetic, within
    two kelvin); the ground far below it stays at 28 °C.
    """
    _, seen = plan_with_prediction(from_data(chameleon(sample, below_m)))

    assert seen.centre(NeedKey.SURFACE_DAY) == pytest.approx(surface_c, abs=2.0)


def test_the_verdict_is_that_of_the_branch(sample: dict[str, Any]) -> None:
    near, _ = plan_with_prediction(from_data(chameleon(sample, 0.12)))
    far, _ = plan_with_prediction(from_data(chameleon(sample, 0.52)))

    assert near.need(NeedKey.SURFACE_DAY).verdict.limit == "breached"
    assert far.need(NeedKey.SURFACE_DAY).verdict.direction == "right"


def test_the_back_is_over_the_branch_and_cool_air_is_taken_low(sample: dict[str, Any]) -> None:
    _, seen = plan_with_prediction(from_data(chameleon(sample, 0.32)))

    assert 0.78 < seen.basking.z_m < 0.9
    assert seen.warm_point[1] > 0.7 > 0.5 > seen.cool_point[1]


def test_a_thermostat_on_the_surface_holds_the_branch(sample: dict[str, Any]) -> None:
    data = chameleon(sample, 0.20)
    data["items"][0]["thermostat"] = {"probe": "surface", "set_c": 34}
    _, seen = plan_with_prediction(from_data(data))

    assert seen.centre(NeedKey.SURFACE_DAY) == pytest.approx(34, abs=0.6)


def test_one_that_lives_on_the_ground_does_not_bask_on_a_branch(sample: dict[str, Any]) -> None:
    bare, seen = plan_with_prediction(from_data(sample))
    lamp = next(item for item in sample["items"] if item["kind"] == "halogen_flood")
    x, y, z = lamp["at_m"]
    branch = {
        "id": "branch-1",
        "kind": "branch",
        "at_m": [x, y, z - 0.15],
        "size_m": [0.3, 0.03, 0.03],
    }
    climbing, _ = plan_with_prediction(from_data({**sample, "items": [*sample["items"], branch]}))
    before, after = (
        made.need(NeedKey.SURFACE_DAY).predicted.value  # type: ignore[union-attr]
        for made in (bare, climbing)
    )

    assert after == pytest.approx(before, abs=1.5)
    assert seen.basking_slab is not None


def test_a_place_within_reach_that_is_too_hot_is_a_danger(sample: dict[str, Any]) -> None:
    """It basks right on the stone; a branch 8 cm under the lamp would burn it."""
    lamp = next(item for item in sample["items"] if item["kind"] == "halogen_flood")
    x, y, z = lamp["at_m"]
    branch = {
        "id": "branch-1",
        "kind": "branch",
        "at_m": [x, y, z - 0.11],
        "size_m": [0.3, 0.03, 0.03],
    }
    made, _ = plan_with_prediction(from_data({**sample, "items": [*sample["items"], branch]}))
    notes = [note for note in made.notes if note.slug == "reach surface"]

    assert notes and notes[0].severity == "danger" and "branch" in notes[0].text


def test_a_gecko_on_the_mesh_meets_the_lamp_above_it(sample: dict[str, Any]) -> None:
    """0.1 at the perch, far past its limit under the mesh that it climbs on (zone 1: source uv 6)."""
    data = {
        **sample,
        "animals": [{"name": "G", "species": "Correlophus ciliatus", "sex": "male", "mass_g": 40}],
        "enclosure": {
            **{key: value for key, value in sample["enclosure"].items() if key != "approaches"},
            "inside_m": {"length": 0.45, "depth": 0.45, "height": 0.6},
            "lid": {"material": "glass", "mesh": "fly_screen", "mesh_share": 0.8},
        },
        "items": [
            {
                "id": "tube-1",
                "kind": "t5_12",
                "at_m": [0.22, 0.22, 0.63],
                "length_m": 0.4,
                "power_w": 18,
                "above_lid": True,
                "on": "08:00",
                "off": "18:00",
            },
            {
                "id": "branch-1",
                "kind": "branch",
                "at_m": [0.22, 0.22, 0.2],
                "size_m": [0.3, 0.03, 0.03],
            },
        ],
    }
    made, _ = plan_with_prediction(from_data(data))
    notes = [note for note in made.notes if note.slug == "reach ultraviolet"]

    assert notes and "mesh" in notes[0].text and notes[0].values["uvi"] > 1.4
