"""A thermostat with a set point for the day and one for the night."""

import pytest

from husbandry.documents.request_json import from_data
from husbandry.forecast.day_forecast import day_of
from husbandry.items.thermostats import ThermostatSpec
from husbandry.plan.plan import summary_with_prediction
from husbandry.species.needs import NeedKey


@pytest.mark.parametrize(
    ("hour", "held"), [(13, 30), (19.9, 30), (20, 22), (3, 22), (7.9, 22), (8, 30), (27, 22)]
)
def test_the_night_holds_its_own(hour, held):
    both = ThermostatSpec(set_c=30, night_set_c=22)
    assert both.set_at(hour) == held
    assert ThermostatSpec(set_c=30).set_at(hour) == 30


def test_one_heater_holds_the_day_and_the_night(sample):
    """An emitter whose thermostat drops: warm air is held at both, within its power."""
    emitter = {
        "id": "emitter",
        "kind": "ceramic_emitter",
        "power_w": 100,
        "at_m": [0.4, 0.3, 0.5],
        "thermostat": {"set_c": 28, "night_set_c": 23, "probe": "warm_air"},
    }
    request = from_data({**sample, "items": [emitter]})
    _, prediction = summary_with_prediction(request)
    assert prediction.night is not None
    assert prediction.centre(NeedKey.WARM_AIR_DAY) == pytest.approx(28, abs=1.5)
    assert prediction.centre(NeedKey.AIR_NIGHT) == pytest.approx(23, abs=1.5)
    warm = day_of(request).series.warm_air
    assert max(warm) == pytest.approx(28, abs=2) and min(warm) == pytest.approx(23, abs=2)
