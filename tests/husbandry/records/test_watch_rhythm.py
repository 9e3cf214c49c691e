"""A misting that does not come, a thermostat that hunts, a fridge and an incubator off their range.

Values are made by hand; what a fridge must hold is common practice, no source.
"""

import itertools

import numpy as np
import pytest

from husbandry.records.channels import Quantity, SensorPlace
from husbandry.records.kept_elsewhere import ClutchInside, dormancy_targets, incubator_targets
from husbandry.records.series import ChannelTargets, PhaseRange
from husbandry.records.watch import AlarmFinding, AlarmKind, WatchedChannel, watch
from husbandry.records.watch_rhythm import hunting, missed_misting
from husbandry.species.library import find

DAY_S = 86_400
FIRST = 1_767_225_600
"""Midnight in UTC."""
NONE = ChannelTargets(PhaseRange(), PhaseRange(), ())


def damp(hours: float, mistings: tuple[float, ...], missed: tuple[float, ...] = (), step_s=300):
    """Humidity over some days: 55 %, up by 30 at each misting, half of it gone in an hour."""
    at_s = FIRST + np.arange(0, int(hours * 3600), step_s, dtype=np.int64)
    values = np.full(len(at_s), 55.0)
    for day, hour in itertools.product(range(int(hours // 24) + 1), mistings):
        start = day * 24 + hour
        if start in missed:
            continue
        since = (at_s - FIRST) / 3600 - start
        values += np.where(since >= 0, 30 * 0.5 ** np.maximum(since, 0), 0)
    noise = np.random.default_rng(3).normal(0, 0.4, len(at_s))
    return at_s, np.round(values + noise, 1)


def test_a_misting_that_stays_away_is_told_at_its_time() -> None:
    at_s, values = damp(5 * 24 + 9.5, (8, 20), missed=(128.0,))
    found = missed_misting(at_s, values, "UTC")
    assert found is not None
    assert found.due_s == pytest.approx(FIRST + 128 * 3600, abs=600)
    assert found.usual_pct == pytest.approx(85, abs=2)


@pytest.mark.parametrize("hours", np.arange(96.3, 120.3, 1.0))
def test_an_enclosure_that_is_misted_is_quiet_at_any_hour(hours: float) -> None:
    assert missed_misting(*damp(hours, (8, 20)), "UTC") is None


def test_it_is_waited_for_three_quarters_of_an_hour() -> None:
    assert missed_misting(*damp(128.5, (8, 20), missed=(128.0,)), "UTC") is None


def test_a_late_misting_by_hand_ends_it() -> None:
    at_s, values = damp(5 * 24 + 11, (8, 20), missed=(128.0,))
    values[at_s >= FIRST + 130 * 3600] += 20
    assert missed_misting(at_s, values, "UTC", is_open=True) is None


def test_every_second_day_is_not_waited_for() -> None:
    at_s, values = damp(6 * 24 + 12, (8,), missed=(8.0, 56.0, 104.0, 152.0))
    assert missed_misting(at_s, values, "UTC") is None


def test_a_gap_over_its_time_hides_it() -> None:
    at_s, values = damp(5 * 24 + 9.5, (8,), missed=(128.0,))
    kept = (at_s < FIRST + 127.5 * 3600) | (at_s > FIRST + 129 * 3600)
    assert missed_misting(at_s[kept], values[kept], "UTC") is None


def test_a_timer_keeps_the_rooms_clock_when_summer_ends() -> None:
    """Berlin's clock goes back on 2025-10-26: 8:00 of the room is 6:00 and then 7:00 in UTC."""
    begin = 1_761_091_200  # 2025-10-22 00:00 UTC
    at_s = begin + np.arange(0, int(4.5 * DAY_S), 300, dtype=np.int64)
    values = np.full(len(at_s), 55.0)
    for day in range(5):
        utc_h = 6 if day < 4 else 7
        since = (at_s - begin) / 3600 - (day * 24 + utc_h)
        values += np.where(since >= 0, 30 * 0.5 ** np.maximum(since, 0), 0)
    until = at_s <= begin + 4 * DAY_S + 6.9 * 3600
    assert missed_misting(at_s[until], values[until], "Europe/Berlin") is None
    flat = np.where(at_s > begin + 4 * DAY_S + 6.9 * 3600, 55.0, values)
    found = missed_misting(at_s, flat, "Europe/Berlin")
    assert found is not None and found.due_s == pytest.approx(
        begin + 4 * DAY_S + 7 * 3600, abs=600
    )


def look(
    quantity: Quantity, place: SensorPlace, at_s, values, targets=NONE
) -> AlarmFinding | None:
    found = watch(WatchedChannel(quantity, place, at_s, values, targets, "UTC"), int(at_s[-1]))
    return found[0] if found else None


def test_a_missed_misting_is_a_care_and_wakes_nobody() -> None:
    at_s, values = damp(5 * 24 + 9.5, (8, 20), missed=(128.0,))
    found = look(Quantity.HUMIDITY, SensorPlace.COOL, at_s, values)
    assert found is not None
    assert (found.kind, found.severity, found.side) == (AlarmKind.MISTING, "care", "low")
    assert look(Quantity.HUMIDITY, SensorPlace.ROOM, at_s, values) is None


@pytest.mark.parametrize(("swing_k", "minutes", "hunts"), [(5, 20, True), (1.5, 10, False)])
def test_a_thermostat_hunts_when_it_swings_by_far_again_and_again(swing_k, minutes, hunts) -> None:
    at_s = FIRST + np.arange(0, 4 * 3600, 120, dtype=np.int64)
    values = 30 + swing_k / 2 * np.sin(2 * np.pi * at_s / (minutes * 60))
    found = hunting(at_s, values, int(at_s[-1]))
    assert (found is not None) is hunts
    if found is not None:
        assert found.swing_k == pytest.approx(swing_k, rel=0.1)


def test_a_door_that_is_opened_twice_is_no_hunting() -> None:
    at_s = FIRST + np.arange(0, 4 * 3600, 120, dtype=np.int64)
    values = np.full(len(at_s), 30.0)
    values[60:66] -= 5
    values[90:96] -= 5
    assert hunting(at_s, values, int(at_s[-1])) is None


def quiet(value: float, last: float) -> tuple[np.ndarray, np.ndarray]:
    """Two days at a value, and half an hour at another."""
    at_s = FIRST + np.arange(0, 2 * DAY_S, 300, dtype=np.int64)
    values = value + np.random.default_rng(4).normal(0, 0.1, len(at_s))
    values[-6:] = last
    return at_s, np.round(values, 1)


def test_a_fridge_that_freezes_is_a_danger_and_a_warm_one_a_care() -> None:
    """Common practice: 4 to 8 °C; below 2 °C it freezes, above 12 °C it wakes."""
    targets = dormancy_targets(4.0, 8.0)
    assert (targets.night.limit_low, targets.night.limit_high) == (2.0, 12.0)
    cold = look(Quantity.TEMPERATURE, SensorPlace.FRIDGE, *quiet(5.5, 1.2), targets)
    assert cold is not None and (cold.kind, cold.side, cold.severity) == (
        AlarmKind.LIMIT,
        "low",
        "danger",
    )
    warm = look(Quantity.TEMPERATURE, SensorPlace.FRIDGE, *quiet(5.5, 13.0), targets)
    assert warm is not None and (warm.kind, warm.side, warm.severity) == (
        AlarmKind.LIMIT,
        "high",
        "care",
    )
    assert look(Quantity.TEMPERATURE, SensorPlace.FRIDGE, *quiet(5.5, 5.6), targets) is None


def test_a_rest_that_is_not_so_cold_is_held_three_kelvin_below() -> None:
    assert dormancy_targets(14.0, 18.0).day.limit_low == 11.0
    assert dict(dormancy_targets(14.0, 18.0).derivations)["never below"].value == 11.0
    assert dormancy_targets(3.0, 6.0).day.limit_low == 2.0


def test_an_incubator_stays_by_its_set_point_and_heat_is_the_danger() -> None:
    young = find("Eublepharis macularius").young
    assert young.incubation_c is not None
    warmest = young.incubation_c.ends[1]
    targets = incubator_targets([ClutchInside(young, 28.0)])
    assert targets is not None
    assert (targets.night.low, targets.night.high) == (27.0, 29.0)
    assert targets.night.limit_high == warmest + 1
    hot = look(Quantity.TEMPERATURE, SensorPlace.EGGS, *quiet(28.0, warmest + 1.5), targets)
    assert hot is not None and (hot.kind, hot.severity) == (AlarmKind.LIMIT, "danger")
    cold = look(Quantity.TEMPERATURE, SensorPlace.EGGS, *quiet(28.0, 20.0), targets)
    assert cold is not None and (cold.kind, cold.severity) == (AlarmKind.LIMIT, "care")


def test_two_clutches_share_what_both_bear_and_live_young_ask_for_nothing() -> None:
    gecko, dragon = find("Eublepharis macularius").young, find("Pogona vitticeps").young
    both = incubator_targets([ClutchInside(gecko, 29.0), ClutchInside(dragon, 28.5)])
    assert both is not None and (both.day.low, both.day.high) == (28.0, 29.5)
    apart = incubator_targets([ClutchInside(gecko, 32.0), ClutchInside(dragon, 28.5)])
    assert apart is not None and (apart.day.low, apart.day.high) == (31.0, 33.0)
    assert apart.day.limit_low <= apart.day.low and apart.day.limit_high >= apart.day.high
    assert incubator_targets([ClutchInside(find("Boa imperator").young, None)]) is None
