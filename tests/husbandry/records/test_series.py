"""What a channel's values sum up to: by hand, and against a slow count minute by minute."""

import datetime as dt
import math
from zoneinfo import ZoneInfo

import numpy as np
import pytest

from husbandry.records.channels import (
    POSSIBLE,
    Quantity,
    SensorPlace,
    is_possible,
    need_for,
    places_of,
)
from husbandry.records.moments import local_offsets
from husbandry.records.series import ChannelTargets, PhaseRange, summarise
from husbandry.species.needs import NEEDS, NeedKey

BEGIN = 1_781_740_800
"""18 June 2026, 00:00 UTC."""
DAY = PhaseRange(26.0, 30.0, 20.0, 34.0)
NIGHT = PhaseRange(18.0, 22.0, 15.0, 26.0)
TARGETS = ChannelTargets(DAY, NIGHT, ((8.0, 20.0),))


def times(days: float, step_s: int = 600) -> np.ndarray:
    return BEGIN + np.arange(0, int(days * 86_400), step_s, dtype=np.int64)


def wave(at_s: np.ndarray, day: float, night: float) -> np.ndarray:
    hours = (at_s % 86_400) / 3600
    return np.where((hours >= 8) & (hours < 20), day, night).astype(float)


def test_a_right_enclosure_is_in_range_all_the_time() -> None:
    at_s = times(4)
    found = summarise(at_s, wave(at_s, 28, 20), TARGETS, "UTC")
    day, night = found.phases
    assert (day.phase, day.in_range, day.below_degree_h, day.beyond_limit_h) == ("day", 1.0, 0, 0)
    assert (night.phase, night.in_range) == ("night", 1.0)
    assert day.hours == pytest.approx(48) and night.hours == pytest.approx(48)
    assert (day.low, day.mean, day.high) == (28, pytest.approx(28), 28)
    assert found.swing == pytest.approx(8) and len(found.days) == 4


def test_degree_hours_by_hand() -> None:
    """Two kelvin too cool for ten settled hours a day: twenty kelvin hours."""
    at_s = times(1)
    day = summarise(at_s, wave(at_s, 24, 20), TARGETS, "UTC").phases[0]
    assert day.in_range == 0 and day.below_degree_h == pytest.approx(20)
    assert day.above_degree_h == 0 and day.beyond_limit_h == 0


def test_limits_count_while_the_lamps_warm_up() -> None:
    """36 °C for the first hour of light is no matter of settling: the limit is 34."""
    at_s = times(1)
    hours = (at_s % 86_400) / 3600
    values = wave(at_s, 28, 20)
    values[(hours >= 8) & (hours < 9)] = 36
    day = summarise(at_s, values, TARGETS, "UTC").phases[0]
    assert day.in_range == 1.0 and day.beyond_limit_h == pytest.approx(1.0)


def test_a_stone_that_warms_up_is_not_too_cold_yet() -> None:
    """17 °C in the first hour of light, and 27 °C in the first of dark: on their way."""
    at_s = times(1)
    hours = (at_s % 86_400) / 3600
    values = wave(at_s, 28, 20)
    values[(hours >= 8) & (hours < 9)] = 17
    values[(hours >= 20) & (hours < 21)] = 27
    assert [one.beyond_limit_h for one in summarise(at_s, values, TARGETS, "UTC").phases] == [0, 0]
    values[(hours >= 12) & (hours < 13)] = 17
    values[(hours >= 21) & (hours < 22)] = 14
    found = summarise(at_s, values, TARGETS, "UTC").phases
    assert [one.beyond_limit_h for one in found] == pytest.approx([1, 1])


def test_against_a_slow_count(seed: int = 3) -> None:
    draw = np.random.default_rng(seed)
    at_s = times(5, 300)
    values = wave(at_s, 28, 20) + draw.normal(0, 2.5, len(at_s))
    found = summarise(at_s, values, TARGETS, "America/New_York")
    zone = ZoneInfo("America/New_York")
    inside = {"day": [0, 0], "night": [0, 0]}
    for second, value in zip(at_s, values, strict=True):
        local = dt.datetime.fromtimestamp(int(second), zone)
        hour = local.hour + local.minute / 60
        lit = 8 <= hour < 20
        if (hour - 8) % 24 < 2 or (hour - 20) % 24 < 2:
            continue
        low, high = (26, 30) if lit else (18, 22)
        own = inside["day" if lit else "night"]
        own[0] += low <= value <= high
        own[1] += 1
    for phase in found.phases:
        right, whole = inside[phase.phase]
        assert phase.in_range == pytest.approx(right / whole)


def test_a_gap_stands_for_two_hours_at_the_most() -> None:
    at_s = np.array([BEGIN + 10 * 3600, BEGIN + 11 * 3600, BEGIN + 19 * 3600], dtype=np.int64)
    found = summarise(at_s, np.array([28.0, 28.0, 28.0]), TARGETS, "UTC")
    assert found.phases[0].hours == pytest.approx(1 + 2 + 2)


def test_nothing_and_one_value() -> None:
    none = summarise(times(0), np.zeros(0), TARGETS, "UTC")
    assert none.phases == () and math.isnan(none.swing)
    one = summarise(times(0.005), np.array([28.0]), TARGETS, "UTC")
    assert len(one.days) == 1 and one.days[0].mean != one.days[0].mean


def test_a_place_without_a_need_is_shown_and_not_judged() -> None:
    at_s = times(1)
    found = summarise(
        at_s, wave(at_s, 28, 20), ChannelTargets(PhaseRange(), PhaseRange(), ()), "UTC"
    )
    assert [one.phase for one in found.phases] == ["night"]
    assert math.isnan(found.phases[0].in_range) and found.phases[0].beyond_limit_h == 0


def test_one_sided_ranges() -> None:
    at_s = times(1)
    wanted = ChannelTargets(PhaseRange(), PhaseRange(low=21.0), TARGETS.lit)
    night = summarise(at_s, wave(at_s, 28, 20), wanted, "UTC").phases[1]
    assert night.in_range == 0 and night.below_degree_h == pytest.approx(10), (
        "twelve hours less two"
    )


@pytest.mark.parametrize("zone", ["Europe/London", "America/St_Johns", "UTC"])
def test_offsets_agree_with_zoneinfo(zone: str) -> None:
    at_s = times(365, 43_200)
    name = ZoneInfo(zone)
    for second, offset in zip(at_s, local_offsets(at_s, zone), strict=True):
        own = dt.datetime.fromtimestamp(int(second), name).utcoffset()
        assert own is not None and own.total_seconds() == offset


def test_every_need_that_a_sensor_can_show_has_its_place() -> None:
    asked = {
        need_for(quantity, place, day=day)
        for quantity in Quantity
        for place in places_of(quantity)
        for day in (True, False)
    }
    assert asked - {None} == set(NeedKey)
    for quantity in Quantity:
        for place in places_of(quantity):
            for day in (True, False):
                key = need_for(quantity, place, day=day)
                assert key is None or NEEDS[key].kind.value in {quantity.value, "UV index"}


@pytest.mark.parametrize("quantity", list(Quantity))
def test_what_no_instrument_can_show(quantity: Quantity) -> None:
    low, high = POSSIBLE[quantity]
    assert is_possible(quantity, low) and is_possible(quantity, high)
    assert not any(is_possible(quantity, one) for one in (low - 1, high + 1, math.nan, math.inf))


def test_light_is_measured_where_it_basks() -> None:
    assert places_of(Quantity.UVI) == (SensorPlace.SURFACE,)
    assert SensorPlace.WATER not in places_of(Quantity.HUMIDITY)


def test_hours_lose_no_limit() -> None:
    """A mean of 31 °C hides a quarter of an hour at 36 °C: its most tells."""
    at_s = times(1, 3600)
    means = wave(at_s, 28, 20)
    lows, highs = means - 1, means + 1
    hours = (at_s % 86_400) / 3600
    highs[hours == 14] = 36
    found = summarise(at_s, means, TARGETS, "UTC", (lows, highs))
    assert found.phases[0].beyond_limit_h == pytest.approx(1)
    assert found.phases[0].high == 36 and found.days[0].high == 36
    assert summarise(at_s, means, TARGETS, "UTC").phases[0].beyond_limit_h == 0
