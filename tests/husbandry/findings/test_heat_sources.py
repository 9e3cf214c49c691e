"""What keeps its ranges and no keeper would build (common practice, no source)."""

import copy
from typing import Any

import pytest

from husbandry.documents.request_json import apply_patch, from_data
from husbandry.plan.plan import plan

DARK = {"id": "dark-1", "kind": "ceramic_emitter", "power_w": 100, "at_m": [0.3, 0.3, 0.5]}
BAR = {"id": "bar-1", "kind": "led_bar", "power_w": 40, "length_m": 0.6, "at_m": [0.4, 0.3, 0.56]}
TIMER = {"on": "08:00", "off": "20:00"}
PANEL = {"id": "panel-1", "kind": "infrared_panel", "power_w": 60, "at_m": [0.3, 0.3, 0.56]}


def said(sample: dict[str, Any], *items: dict[str, Any], species: str = "") -> set[str]:
    kept = [item for item in sample["items"] if item["kind"] in {"slab", "hide", "t5_12"}]
    data = copy.deepcopy(sample)
    data["items"] = [*kept, *items]
    if species:
        data["animals"] = [{"name": "", "species": species}]
    return {note.slug for note in plan(from_data(data), advise=False).notes}


def test_a_light_bar_is_no_heater(sample: dict[str, Any]) -> None:
    assert "heated by light" in said(sample, BAR | TIMER)
    assert "heated by light" not in said(sample, BAR | TIMER, DARK)


@pytest.mark.parametrize("heater", [DARK, PANEL], ids=["emitter", "panel"])
def test_an_animal_of_open_sun_is_not_warmed_in_the_dark(
    sample: dict[str, Any], heater: dict[str, Any]
) -> None:
    assert "dark basking" in said(sample, heater)
    lamp = {**DARK, "id": "sun-1", "kind": "halogen_flood", "at_m": [0.4, 0.3, 0.5], **TIMER}
    assert "dark basking" not in said(sample, heater, lamp)
    assert "dark basking" not in said(sample, heater, species="Python regius")


def test_a_halogen_lamp_in_its_place_is_offered(sample: dict[str, Any]) -> None:
    data = copy.deepcopy(sample)
    kept = [item for item in sample["items"] if item["kind"] in {"slab", "hide", "t5_12"}]
    data["items"] = [*kept, DARK]
    request = from_data(data)
    change = next(one for one in plan(request).changes if "dark basking" in one.clears)
    after = apply_patch(request, change.patch)
    assert after.item("dark-1").kind == "halogen_flood"
    assert "dark basking" not in {note.slug for note in plan(after, advise=False).notes}
