"""Cages of mesh: their air is the room's, their heat leaves with it."""

import json
from pathlib import Path
from typing import Any

import pytest

from husbandry.climate.mesh import mesh_transmission
from husbandry.climate.ventilation import side_exchange
from husbandry.documents.request_json import from_data
from husbandry.enclosure.catalogue import CATALOGUE, panels_of
from husbandry.enclosure.equipment import MATERIALS, MESHES
from husbandry.errors import DocumentError
from husbandry.plan.plan import plan, plan_with_prediction
from husbandry.species.needs import NeedKey
from tests.husbandry.setups.practice import SETUPS

SAMPLE = Path(__file__).parents[3] / "docs" / "samples" / "request.json"


def caged(walls: str) -> dict[str, Any]:
    """The chameleon of the practice table between walls of a material."""
    setup = next(one for one in SETUPS if "mesh cage" in one.name)
    data = setup.request({"how-big": "minimum"})
    front = "mesh" if walls == "mesh" else "glass"
    data["enclosure"]["panels"] = panels_of(front, walls)
    return data


def test_the_open_share_is_that_of_its_wire() -> None:
    """Calculated: (1 − wire / pitch)²."""
    screen = MESHES["fly_screen"]
    share = mesh_transmission(screen.wire_mm, screen.pitch_mm)
    assert MATERIALS["mesh"].open_share == pytest.approx(share, abs=0.01)


def test_the_air_of_a_cage_is_the_rooms() -> None:
    """Common practice, no source: within a kelvin and a half of the room by a usual lamp."""
    request = from_data(caged("mesh"))
    made = plan(request)
    for key in (NeedKey.WARM_AIR_DAY, NeedKey.COOL_AIR_DAY):
        predicted = made.need(key).predicted
        assert predicted is not None
        assert predicted.value == pytest.approx(request.room.day_c, abs=1.5)
    glass = plan(from_data(caged("glass"))).need(NeedKey.WARM_AIR_DAY).predicted
    assert (
        glass is not None and glass.value > made.need(NeedKey.WARM_AIR_DAY).predicted.value + 0.5
    )


def test_its_balance_holds_to_rounding() -> None:
    """What the lamps give leaves through the sides."""
    _, prediction = plan_with_prediction(from_data(caged("mesh")))
    model = prediction.day.heat_model
    assert model.open_sides_m2 == pytest.approx(
        4 * 0.445 * model.interior.air_height_m * 0.66, 0.01
    )
    assert abs(prediction.day.energy_residual_w()) < 1e-6 * sum(
        lamp.power_w for lamp in model.lamps
    )


def test_more_open_sides_and_a_warmer_cage_pass_more_air() -> None:
    flows = [side_exchange(area, 0.9, 2.0, 22.0) for area in (0.0, 0.2, 0.8)]
    assert flows == sorted(flows) and flows[0] == 0
    assert side_exchange(0.5, 0.9, 5.0, 22.0) > side_exchange(0.5, 0.9, 0.0, 22.0) > 0


def test_a_floor_and_a_lid_are_never_of_mesh() -> None:
    assert panels_of("mesh", "mesh")["bottom"] == "pvc_board"
    for where in (("panels", "bottom"), ("lid", "material")):
        data = json.loads(SAMPLE.read_text(encoding="utf-8"))
        data["enclosure"].setdefault(where[0], {})[where[1]] = "mesh"
        with pytest.raises(DocumentError):
            from_data(data)


def test_a_cage_can_be_chosen_for_a_first_setup() -> None:
    cage = CATALOGUE["mesh-60"]
    assert cage.planned and cage.mesh and cage.mesh_share == 1.0
    assert cage.outside_m[0] == pytest.approx(0.60, abs=0.015)
