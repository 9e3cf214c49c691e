"""Brightness, the length of the day and plants' light in a plan."""

import json
from typing import Any

import pytest

from husbandry.documents.request_json import from_data
from husbandry.plan.plan import plan, prediction_of
from husbandry.predict.light import least_basking_lx, light_of, lit_hours
from husbandry.species.library import find


def bent(sample: dict[str, Any], **lamp: Any) -> dict[str, Any]:
    data: dict[str, Any] = json.loads(json.dumps(sample))
    if lamp:
        data["items"].append(
            {
                "id": "light-1",
                "kind": "led_bar",
                "at_m": [0.5, 0.3, 0.55],
                "length_m": 0.6,
                "on": "08:00",
                "off": "20:00",
                **lamp,
            }
        )
    return data


def test_a_light_bar_brings_brightness_and_a_little_warmth(sample: dict[str, Any]) -> None:
    dark, lit = (prediction_of(from_data(bent(sample, **more))) for more in ({}, {"power_w": 45}))
    assert light_of(lit).basking_lx > light_of(dark).basking_lx + 1000
    assert light_of(lit).leaf_mol > 2 * light_of(dark).leaf_mol
    middle = (0.6, 0.3)
    assert 0.2 < lit.day.value(lit.day.air(*middle)) - dark.day.value(dark.day.air(*middle)) < 8


def test_the_day_is_as_long_as_anything_shines(sample: dict[str, Any]) -> None:
    assert lit_hours(from_data(sample)) == pytest.approx(12, abs=0.1)
    assert lit_hours(
        from_data(bent(sample, power_w=20, on="05:00", off="21:00"))
    ) == pytest.approx(16, abs=0.1)
    assert lit_hours(from_data({**sample, "items": []})) == 0
    long = plan(from_data(bent(sample, power_w=20, on="05:00", off="23:00")))
    assert "length of day" in {note.slug for note in long.notes}
    assert "length of day" not in {note.slug for note in plan(from_data(sample)).notes}


def test_a_plan_carries_the_light_with_its_working(sample: dict[str, Any]) -> None:
    made = plan(from_data(sample))
    assert made.predictions["light_basking"].value > made.predictions["light_cool"].value > 0
    assert (
        made.predictions["light_leaf"].unit == "mol/m² d"
        and made.predictions["light_basking"].inputs
    )
    assert not any(
        key.startswith("light_") for key in plan(from_data({**sample, "items": []})).predictions
    )


def test_a_dim_place_is_noted_for_a_basker_and_a_light_bar_mends_it(
    sample: dict[str, Any],
) -> None:
    dim = bent(sample)
    dim["items"] = [t for t in dim["items"] if t["kind"] != "halogen_flood"]
    assert "dim basking" in {note.slug for note in plan(from_data(dim)).notes}
    dim["items"].append(
        {
            "id": "light-1",
            "kind": "led_bar",
            "at_m": [0.5, 0.3, 0.45],
            "length_m": 0.6,
            "power_w": 60,
            "on": "07:00",
            "off": "19:00",
        }
    )
    assert "dim basking" not in {note.slug for note in plan(from_data(dim)).notes}


@pytest.mark.parametrize(
    ("species", "least_lx"),
    [
        ("Pogona vitticeps", 5_000),
        ("Uromastyx ornata", 5_000),
        ("Chelonoidis carbonarius", 2_500),
        ("Terrapene carolina", 2_500),
    ],
)
def test_what_lives_in_broken_light_basks_in_less(species: str, least_lx: float) -> None:
    """Forest tortoises and box turtles lie in spots of sun under trees, agamas in the open (common
    practice, no source).
    """
    assert least_basking_lx(find(species)) == least_lx


def test_a_light_bar_is_no_heater_and_needs_its_length_and_power(sample: dict[str, Any]) -> None:
    request = from_data(bent(sample, power_w=20))
    bar = request.item("light-1")
    assert bar.warms and not bar.is_heater and not bar.is_uv
    for missing in ("length_m", "power_w"):
        data = bent(sample, power_w=20)
        del data["items"][-1][missing]
        with pytest.raises(Exception, match="it is required"):
            from_data(data)
