"""Energy at a plug by hand, and a lamp that draws nothing at its hour."""

import math

import numpy as np
import pytest

from husbandry.records.channels import Quantity, SensorPlace, is_possible, places_of
from husbandry.records.energy import energy_kwh_a_day, missing_draw
from husbandry.records.series import ChannelTargets, PhaseRange
from husbandry.records.watch import AlarmKind, WatchedChannel, watch

DAY_S = 86_400
FIRST = 1_767_225_600


def plug(days: float, step_s: int = 300, lamp_w: float = 75.0, mat_w: float = 0.0):
    """A lamp of twelve hours from 8:00, and a mat that a thermostat has on half of the time."""
    at_s = FIRST + np.arange(0, int(days * DAY_S), step_s, dtype=np.int64)
    hours = (at_s % DAY_S) / 3600
    lamp = lamp_w * ((hours >= 8) & (hours < 20))
    mat = mat_w * ((at_s // 900) % 2 == 0)
    return at_s, lamp + mat


def test_a_lamp_of_75_w_for_twelve_hours_is_nine_tenths_of_a_kilowatt_hour() -> None:
    """75 W × 12 h = 0.9 kWh (definition); a mat of 28 W half of the time 0.336."""
    assert energy_kwh_a_day(*plug(4)) == pytest.approx(0.9, rel=0.01)
    assert energy_kwh_a_day(*plug(4, mat_w=28)) == pytest.approx(0.9 + 0.336, rel=0.01)


def test_a_gap_counts_neither_as_on_nor_as_off() -> None:
    at_s, power = plug(6)
    hours = (at_s % DAY_S) / 3600
    kept = ~((at_s // DAY_S == FIRST // DAY_S + 2) & (hours >= 0))  # a whole day is missing
    assert energy_kwh_a_day(at_s[kept], power[kept]) == pytest.approx(0.9, rel=0.03)


def test_too_little_tells_no_day() -> None:
    assert math.isnan(energy_kwh_a_day(*plug(0.3)))
    assert math.isnan(energy_kwh_a_day(np.zeros(0, dtype=np.int64), np.zeros(0)))


def test_a_lamp_that_draws_nothing_at_its_hour_is_told() -> None:
    at_s, power = plug(5 + 11 / 24)
    dead = np.where(at_s >= FIRST + 5 * DAY_S, 0.0, power)
    found = missing_draw(at_s, dead)
    assert found is not None and found.usual_w == pytest.approx(75, abs=2)
    assert missing_draw(at_s, power) is None


@pytest.mark.parametrize("hour", range(24))
def test_a_thermostat_that_pauses_is_none(hour: int) -> None:
    assert missing_draw(*plug(5 + hour / 24, lamp_w=0, mat_w=40)) is None
    assert missing_draw(*plug(5 + hour / 24)) is None


def test_one_that_rests_for_hours_on_some_days_is_none() -> None:
    at_s, power = plug(6 + 11 / 24)
    mild = (at_s >= FIRST + 3 * DAY_S) & (at_s < FIRST + 4 * DAY_S)
    power = np.where(mild | (at_s >= FIRST + 6 * DAY_S), 0.0, power)
    assert missing_draw(at_s, power) is None, "a warm day did the same"


def test_it_is_a_care_and_silence_is_told_of_a_plug_too() -> None:
    at_s, power = plug(5 + 11 / 24)
    dead = np.where(at_s >= FIRST + 5 * DAY_S, 0.0, power)
    none = ChannelTargets(PhaseRange(), PhaseRange(), ())
    channel = WatchedChannel(Quantity.POWER, SensorPlace.PLUG, at_s, dead, none, "UTC")
    (found,) = watch(channel, int(at_s[-1]))
    assert (found.kind, found.severity) == (AlarmKind.NO_DRAW, "care")
    (silent,) = watch(channel, int(at_s[-1]) + 7200)
    assert silent.kind is AlarmKind.SILENT


def test_plugs_are_the_places_of_power_alone() -> None:
    assert places_of(Quantity.POWER) == (SensorPlace.PLUG, SensorPlace.PUMP)
    assert not {SensorPlace.PLUG, SensorPlace.PUMP} & set(places_of(Quantity.TEMPERATURE))
    assert places_of(Quantity.HEATING) == (SensorPlace.THERMOSTAT,)
    assert places_of(Quantity.MASS) == (SensorPlace.SCALE,)
    assert is_possible(Quantity.POWER, 60) and not is_possible(Quantity.POWER, -5)
