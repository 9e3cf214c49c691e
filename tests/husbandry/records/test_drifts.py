"""Drifts by name, of places whose truth is made here: weather, doors and noise are in it."""

import datetime as dt

import numpy as np
import pytest

from husbandry.records.channels import Quantity, SensorPlace
from husbandry.records.drifts import DriftKind, drift_of, logged_days

DAY_S = 86_400
FIRST = 1_767_225_600
LIT = ((8.0, 20.0),)


def place(seed: int, days: int = 60, *, lamp_fall=0.0, step=None, night_step=0.0):
    """Hours of a basking place: 24 °C at night in a room that cools by 4 K, and 14 K of a lamp."""
    draw = np.random.default_rng(seed)
    at_s = FIRST + np.arange(0, days * 24, dtype=np.int64) * 3600
    n = (at_s - FIRST) / DAY_S
    weather = np.zeros(len(at_s))
    for k in range(1, len(at_s)):
        weather[k] = 0.97 * weather[k - 1] + 0.12 * draw.standard_normal()
    hours = (at_s % DAY_S) / 3600
    lit = np.clip((hours - 8) / 2, 0, 1) * (hours < 20)
    lift = 14 * (1 - lamp_fall * n / days)
    values = 24 - 4 * n / days + weather + lit * lift + draw.normal(0, 0.1, len(at_s))
    if step is not None:
        since = n >= days - 8
        values += np.where(since, step * np.where(lit > 0, 1, night_step), 0)
    return logged_days(at_s, values, LIT, "UTC")


def named(days, **more):
    return drift_of(days, Quantity.TEMPERATURE, SensorPlace.SURFACE, **more)


def test_a_room_that_cools_is_no_weaker_lamp() -> None:
    found = [named(place(seed)) for seed in range(100)]
    assert sum(one is not None for one in found) <= 2


@pytest.mark.parametrize("seed", range(20))
def test_a_lamp_that_loses_a_fifth_in_two_months_is_named(seed: int) -> None:
    found = named(place(seed, lamp_fall=0.2))
    assert found is not None and found.kind is DriftKind.LAMP
    assert found.amount == pytest.approx(-0.2 * 14, abs=0.9)
    assert found.days == 59


@pytest.mark.parametrize("seed", range(20))
def test_a_probe_that_slips_is_named_with_its_day(seed: int) -> None:
    found = named(place(seed, step=-5.0))
    assert found is not None and found.kind is DriftKind.SLIPPED
    assert found.amount == pytest.approx(-5, abs=1)
    assert abs((found.since - dt.date(2026, 2, 22)).days) <= 1


@pytest.mark.parametrize("seed", range(20))
def test_what_moves_by_day_and_by_night_alike_is_the_instrument_or_the_room(seed: int) -> None:
    found = named(place(seed, step=4.0, night_step=1.0))
    assert found is not None and found.kind is DriftKind.INSTRUMENT
    assert found.amount == pytest.approx(4, abs=1)


def test_what_was_changed_that_day_is_not_named_again() -> None:
    days = place(3, step=-5.0)
    assert named(days, changed=[dt.date(2026, 2, 22)]) is None
    assert named(place(3, lamp_fall=0.2), changed=[dt.date(2026, 2, 20)]) is None


def damp(fall_a_day: float, days: int = 30, misted_on: int | None = None):
    draw = np.random.default_rng(5)
    at_s = FIRST + np.arange(0, days * 24, dtype=np.int64) * 3600
    n = (at_s - FIRST) / DAY_S
    wet = n if misted_on is None else np.where(n < misted_on, n, n - misted_on)
    values = 85 - fall_a_day * wet + draw.normal(0, 1.5, len(at_s))
    return logged_days(at_s, values, LIT, "UTC")


def test_a_substrate_that_dries_is_named_until_it_is_watered() -> None:
    found = drift_of(damp(1.2), Quantity.HUMIDITY, SensorPlace.COOL)
    assert found is not None and found.kind is DriftKind.DRYING
    assert found.amount == pytest.approx(-1.2 * found.days, abs=4)
    assert drift_of(damp(0.2), Quantity.HUMIDITY, SensorPlace.COOL) is None
    watered = damp(1.2, misted_on=24)
    assert drift_of(watered, Quantity.HUMIDITY, SensorPlace.COOL) is None
    assert drift_of(damp(1.2), Quantity.HUMIDITY, SensorPlace.ROOM) is None


def test_nothing_logged_tells_nothing() -> None:
    empty = logged_days(np.zeros(0, dtype=np.int64), np.zeros(0), LIT, "UTC")
    assert named(empty) is None
    assert named(logged_days(*(np.array([FIRST]), np.array([20.0])), (), "UTC")) is None
