"""How bad a thermostat is that fails on."""

from typing import Any

import pytest

from husbandry.documents.request_json import from_data
from husbandry.plan.plan import plan
from tests.husbandry.setups.practice import SETUPS

SLUG = "thermostat failed on"


def gecko(**lamp: Any) -> dict[str, Any]:
    """A ground gecko under a lamp on its thermostat, as keepers build it."""
    setup = next(one for one in SETUPS if one.name == "ground gecko under 50 W")
    data = setup.request({"how-big": "minimum"})
    held = data["items"][[item["id"] for item in data["items"]].index("lamp-1")]
    held |= lamp
    return data


def severities(data: dict[str, Any]) -> set[str]:
    return {note.severity for note in plan(from_data(data)).notes if note.slug == SLUG}


@pytest.mark.parametrize(
    ("watts", "severity"),
    # Past the limit of a surface on the hottest day alone; on a usual day, too.
    [(20, set()), (50, {"care"}), (100, {"danger"}), (150, {"danger"})],
)
def test_a_stronger_lamp_makes_the_fault_worse(watts: float, severity: set[str]) -> None:
    assert severities(gecko(power_w=watts)) == severity


def test_a_cut_out_takes_the_fault_away() -> None:
    held = {"set_c": 33.5, "probe": "surface", "cut_out_c": 38}
    assert severities(gecko(power_w=100, thermostat=held)) == set()


def test_a_day_on_which_the_room_alone_is_too_hot_is_a_note_of_its_own() -> None:
    data = gecko()
    data["room"] |= {"summer_max_c": 36}
    (note,) = (note for note in plan(from_data(data)).notes if note.slug == "hot day")
    assert note.severity == "care" and note.values["safe_room_c"] < 36
