"""Warming up, cycling and drying, told from values whose rhythm is known by arithmetic."""

import math

import numpy as np
import pytest

from husbandry.records.channels import Quantity
from husbandry.records.rhythm import rhythm_of, turning_points
from husbandry.records.series import ChannelTargets, PhaseRange, Values

LIT = ChannelTargets(PhaseRange(), PhaseRange(), ((8.0, 20.0),))
DAYS, STEP_S = 4, 300
AT_S = np.arange(0, DAYS * 86_400, STEP_S, dtype=np.int64)
HOURS = (AT_S % 86_400) / 3600


def warmed(tau_h: float) -> Values:
    """A place that follows its lamps with one time constant, from 20 to 30 °C and back."""
    day = 20 + 10 * (1 - np.exp(-np.maximum(HOURS - 8, 0) / tau_h))
    night = 20 + 10 * np.exp(-((HOURS - 20) % 24) / 0.3)
    return np.where((HOURS >= 8) & (HOURS < 20), day, night)


@pytest.mark.parametrize("tau_h", [0.5, 1.0, 1.5])
def test_nine_tenths_of_the_way_take_two_point_three_time_constants(tau_h: float) -> None:
    found = rhythm_of(AT_S, warmed(tau_h), LIT, "UTC", Quantity.TEMPERATURE)
    # the settled hour is not yet the end: the way is shorter by what is left then
    left = math.exp(-6.5 / tau_h)
    assert found.warm_up_h == pytest.approx(-tau_h * math.log(1 - 0.9 * (1 - left)), abs=0.1)


def test_a_thermostat_that_switches_every_ten_minutes_cycles_thrice_an_hour() -> None:
    values = 30 + 1.5 * np.sin(2 * np.pi * AT_S / 1200)
    found = rhythm_of(AT_S, values, LIT, "UTC", Quantity.TEMPERATURE)
    assert found.cycles_per_h == pytest.approx(3, rel=0.03)
    assert found.cycle_k == pytest.approx(3.0, abs=0.1)


def test_the_noise_of_a_sensor_is_no_cycle() -> None:
    noise = np.random.default_rng(1).normal(0, 0.1, len(AT_S))
    found = rhythm_of(AT_S, 30 + noise, LIT, "UTC", Quantity.TEMPERATURE)
    assert math.isnan(found.cycles_per_h)


def test_a_logger_by_the_hour_shows_no_cycles() -> None:
    hourly = AT_S[::12]
    values = 30 + 1.5 * np.sin(2 * np.pi * hourly / 7200)
    found = rhythm_of(hourly, values, LIT, "UTC", Quantity.TEMPERATURE)
    assert math.isnan(found.cycles_per_h)


def test_half_of_a_misting_is_gone_after_the_half_life() -> None:
    since = (HOURS - 9) % 12  # misted at 9 and at 21
    values = 50 + 30 * np.exp(-since / 2.0)
    found = rhythm_of(AT_S, values, LIT, "UTC", Quantity.HUMIDITY)
    assert found.mistings >= 2 * DAYS - 2
    whole = 1 - math.exp(-6.0)  # it has not come down to the bottom before the next
    assert found.drying_h == pytest.approx(-2.0 * math.log(1 - whole / 2), abs=0.1)


def test_damp_that_comes_slowly_is_no_misting() -> None:
    values = 60 + 15 * np.sin(2 * np.pi * HOURS / 24)
    found = rhythm_of(AT_S, values, LIT, "UTC", Quantity.HUMIDITY)
    assert found.mistings == 0
    assert math.isnan(found.drying_h)


def test_too_few_values_tell_nothing() -> None:
    found = rhythm_of(AT_S[:2], np.array([20.0, 21.0]), LIT, "UTC", Quantity.TEMPERATURE)
    assert math.isnan(found.warm_up_h)


def test_turning_points_alternate() -> None:
    values = np.array([0.0, 1, 3, 2.9, 5, 2, 2.2, 1, 4])
    assert [values[n] for n in turning_points(values, 1.5)] == [0, 5, 1]
