"""The room as an output, and an enclosure's power without running its day."""

import json
from pathlib import Path

import pytest

from husbandry.climate.room import circuit_share, room_rise
from husbandry.documents.request_json import from_data
from husbandry.forecast.day_forecast import day_of
from husbandry.forecast.power import PowerDraw, power_of, together

SAMPLE = json.loads((Path(__file__).parents[3] / "docs" / "samples" / "request.json").read_text())


def test_sixty_enclosures_warm_a_room():
    """Common practice, no source: a room full of enclosures needs no heating of its own.

    Sixty enclosures of 40 W in 20 m², usual losses.
    """
    assert room_rise(60 * 40, 20, 2.0) == pytest.approx(60)
    assert 3 < room_rise(4 * 45, 14, 2.0) < 10


def test_a_circuit_carries_four_fifths_for_hours():
    """16 A at 230 V: 3680 W, of which 2944 W for hours; 15 A at 120 V: 1440 W (common practice of
    lasting loads).
    """
    assert circuit_share(2944, 230, 16) == pytest.approx(1) and circuit_share(
        1440, 120, 15
    ) == pytest.approx(1)


@pytest.mark.parametrize("thermostat", [None, {"set_c": 36, "probe": "surface"}])
def test_power_from_the_steady_day_is_near_the_day_that_is_run(thermostat):
    items = [
        (
            {**item, "thermostat": thermostat}
            if item["kind"] == "halogen_flood" and thermostat
            else item
        )
        for item in SAMPLE["items"]
    ]
    request = from_data({**SAMPLE, "items": items, "readings": []})
    seen, run = power_of(request), day_of(request)
    assert seen.load_w == run.load.value
    # A thermostat gives full power while the enclosure warms up, which the steady day does not see.
    assert seen.mean_w * 24 / 1000 == pytest.approx(
        run.energy.value, rel=0.15 if thermostat else 0.02
    )


def test_enclosures_together_are_the_sum_of_each() -> None:
    """1 kW for 24 h is 24 kWh (definition)."""
    found = together(
        {
            "one": PowerDraw(load_w=600, mean_w=400, by_day_w=500),
            "two": PowerDraw(load_w=900, mean_w=600, by_day_w=700),
        }
    )
    assert (found.load.value, found.mean.value, found.by_day_w) == (1500, 1000, 1200)
    assert found.month.value == pytest.approx(24 * 365.2425 / 12) and [
        given.name for given in found.mean.inputs
    ] == ["one", "two"]
    assert together({}).load.value == 0
