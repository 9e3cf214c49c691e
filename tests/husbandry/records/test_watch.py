"""Alarms by hand: each kind begins when it must, stays silent when it must, and ends."""

import numpy as np
import pytest

from husbandry.records.channels import Quantity, SensorPlace
from husbandry.records.series import ChannelTargets, PhaseRange
from husbandry.records.watch import SEVERITY, AlarmFinding, AlarmKind, WatchedChannel, watch

DAY_S = 86_400
NAN = float("nan")
NOW = 1_767_225_600 + 9 * DAY_S + 15 * 3600
"""15:00, nine days after the first value."""
TARGETS = ChannelTargets(PhaseRange(26, 32, 20, 38), PhaseRange(18, 24, 14, 30), ((8.0, 20.0),))


def usual(now: int = NOW, step_s: int = 300) -> tuple[np.ndarray, np.ndarray]:
    """Nine quiet days: 22 °C at night, up to 29 °C by day in an hour."""
    at_s = np.arange(now - 9 * DAY_S, now + 1, step_s, dtype=np.int64)
    hours = (at_s % DAY_S) / 3600
    warm = 22 + 7 * np.clip(hours - 8, 0, 1) - 7 * np.clip(hours - 20, 0, 1)
    noise = np.random.default_rng(5).normal(0, 0.08, len(at_s))
    return at_s, np.round(warm + noise, 1)


def look(
    at_s: np.ndarray,
    values: np.ndarray,
    *,
    now: int = NOW,
    was: frozenset[AlarmKind] = frozenset(),
    targets: ChannelTargets = TARGETS,
    **more: object,
) -> AlarmFinding | None:
    channel = WatchedChannel(
        Quantity.TEMPERATURE,
        SensorPlace.WARM,
        at_s,
        values,
        targets,
        "UTC",
        **more,  # type: ignore[arg-type]  # by name
    )
    found = watch(channel, now, was)
    assert len(found) <= 1
    return found[0] if found else None


def test_a_quiet_enclosure_has_no_alarm_at_any_hour() -> None:
    for hours in range(24):
        now = NOW + hours * 3600
        at_s, values = usual(now)
        assert look(at_s, values, now=now) is None


def test_beyond_a_limit_twice_in_a_row() -> None:
    at_s, values = usual()
    values[-1] = 39
    assert look(at_s, values) is None, "one alone may be a hand"
    values[-2:] = 39
    found = look(at_s, values)
    assert found is not None
    assert (found.kind, found.side, found.against, found.severity) == (
        AlarmKind.LIMIT,
        "high",
        38,
        "danger",
    )
    assert found.since_s == at_s[-2]


@pytest.mark.parametrize(
    ("hour", "value", "side"),
    [
        (20.25, 36, ""),
        (20.25, 39, "high"),
        (20.25, 13, "low"),
        (21.5, 60, "high"),
        (8.25, 15, ""),
        (8.25, 13, "low"),
        (8.25, 39, "high"),
        (9.5, 13, "low"),
    ],
)
def test_after_the_lamps_switch_both_phases_limits_count(
    hour: float, value: float, side: str
) -> None:
    """Cooling it may be as warm as by day, warming as cold as by night, and no more."""
    now = NOW - 15 * 3600 + int(hour * 3600)
    at_s, values = usual(now)
    values[-4:] = value
    found = look(at_s, values, now=now)
    is_limit = found is not None and found.kind is AlarmKind.LIMIT
    assert (found.side if found is not None and is_limit else "") == side


@pytest.mark.parametrize(
    ("is_lit", "own", "before", "low", "high"),
    [
        (False, (14, 30), (20, 38), 14, 38),
        (False, (14, 30), (NAN, NAN), 14, NAN),
        (False, (NAN, NAN), (20, 38), NAN, NAN),
        (True, (20, 38), (14, 30), 14, 38),
        (True, (20, 38), (NAN, NAN), NAN, 38),
        (True, (NAN, NAN), (14, 30), NAN, NAN),
    ],
)
def test_what_a_phase_leaves_open_is_open_on_the_way_to_it(
    is_lit: bool, own: tuple[float, float], before: tuple[float, float], low: float, high: float
) -> None:
    """A basking place has no limit by night: it cools below the day's, and nobody is called."""
    phases = {is_lit: PhaseRange(*own, *own), not is_lit: PhaseRange(*before, *before)}
    targets = ChannelTargets(phases[True], phases[False], ((8.0, 20.0),))
    moving = targets.in_force(is_lit=is_lit, is_settled=False)
    assert (moving.low, moving.high) == pytest.approx((low, high), nan_ok=True)
    assert (moving.limit_low, moving.limit_high) == pytest.approx((low, high), nan_ok=True)
    assert targets.in_force(is_lit=is_lit, is_settled=True) is phases[is_lit]


def test_a_limit_ends_a_little_inside_it() -> None:
    at_s, values = usual()
    values[-4:] = 37.8
    assert look(at_s, values) is None or look(at_s, values).kind is not AlarmKind.LIMIT  # type: ignore[union-attr]
    found = look(at_s, values, was=frozenset({AlarmKind.LIMIT}))
    assert found is not None and found.kind is AlarmKind.LIMIT
    values[-2:] = 37.2
    again = look(at_s, values, was=frozenset({AlarmKind.LIMIT}))
    assert again is None or again.kind is not AlarmKind.LIMIT


def test_a_heater_that_sticks_is_told_before_the_limit() -> None:
    """4 K in an hour, from 33 °C: 38 °C is an hour and more away, then less."""
    at_s, values = usual()
    values[-13:] = np.round(33 + 4 * np.arange(13) / 12, 1)
    found = look(at_s, values)
    assert found is not None and found.kind is AlarmKind.SOON and found.side == "high"
    assert found.minutes == pytest.approx((38 - 37) / 4 * 60, abs=4)


def test_a_door_that_is_opened_is_no_alarm() -> None:
    """Six kelvin at once, for a quarter of an hour, and back."""
    at_s, values = usual()
    values[-3:] -= 6
    assert look(at_s, values) is None
    later_at = np.append(at_s, at_s[-1] + 300 * np.arange(1, 7))
    later = np.append(values, 29 - 6 * np.exp(-np.arange(1, 7) / 3))
    assert look(later_at, np.round(later, 1), now=NOW + 1800) is None


def test_a_morning_that_warms_up_is_no_alarm() -> None:
    now = NOW - 15 * 3600 + 8 * 3600 + 1800
    at_s, values = usual(now)
    assert look(at_s, values, now=now) is None


def test_a_lamp_that_stays_out() -> None:
    now = NOW - 15 * 3600 + 9 * 3600 + 600
    at_s, values = usual(now)
    hours = (at_s % DAY_S) / 3600
    today = at_s >= now - 2 * 3600
    values[today & (hours >= 8)] = 22.0
    found = look(at_s, values, now=now)
    assert found is not None and found.kind is AlarmKind.LAMP
    assert found.against == pytest.approx(29, abs=0.5)


def test_warmer_than_at_this_hour_for_half_an_hour() -> None:
    now = NOW - 12 * 3600
    at_s, values = usual(now)
    values[-7:] = 27.5
    assert look(at_s, values[:], now=now) is not None
    values[-7:] = 22
    values[-4:] = 27.5
    assert look(at_s, values, now=now) is None, "a quarter of an hour is no half hour"


def test_a_keeper_who_knows_better_has_a_margin() -> None:
    now = NOW - 12 * 3600
    at_s, values = usual(now)
    values[-7:] = 27.5
    assert look(at_s, values, now=now, margin=3.0) is None


def test_two_days_out_of_range() -> None:
    at_s, values = usual()
    low = ChannelTargets(PhaseRange(31, 35), PhaseRange(25, 28), TARGETS.lit)
    found = look(at_s, values, targets=low)
    assert found is not None and (found.kind, found.side) == (AlarmKind.LONG, "low")
    assert look(at_s, values, was=frozenset({AlarmKind.LONG})) is None, "it is right again"


def test_silence_is_a_devices_alone() -> None:
    at_s, values = usual()
    late = NOW + 31 * 60
    found = look(at_s, values, now=late)
    assert found is not None and found.kind is AlarmKind.SILENT and found.since_s == at_s[-1]
    assert look(at_s, values, now=NOW + 25 * 60) is None
    assert look(at_s, values, now=late, is_live=False) is None, "a file is silent by nature"


def test_a_probe_that_does_not_move() -> None:
    at_s, values = usual()
    values[-130:] = 24.3
    found = look(at_s, values)
    assert found is not None and found.kind is AlarmKind.FLAT and found.severity == "instrument"
    values[-60] = 24.4
    again = look(at_s, values)
    assert again is None or again.kind is not AlarmKind.FLAT


def test_a_loose_wire() -> None:
    at_s, values = usual()
    for n in (-20, -14, -8, -3):
        values[n] += 12
    found = look(at_s, values)
    assert found is not None and found.kind is AlarmKind.JUMPS


def test_what_an_instrument_invents_is_no_danger() -> None:
    """It jumps beyond the limit: mend the wire, wake nobody for the heat."""
    at_s, values = usual()
    values[-18::3] += 15
    found = look(at_s, values)
    assert found is not None and found.severity == "instrument"


def test_nothing_known_is_no_alarm() -> None:
    none = np.zeros(0, dtype=np.int64)
    assert look(none, np.zeros(0)) is None
    assert look(np.array([NOW]), np.array([24.0])) is None
    plain = ChannelTargets(PhaseRange(), PhaseRange(), ())
    assert look(*usual(), targets=plain) is None


def test_dry_air_wakes_nobody() -> None:
    at_s = np.arange(NOW - DAY_S, NOW + 1, 600, dtype=np.int64)
    targets = ChannelTargets(PhaseRange(60, 80, 40, 95), PhaseRange(60, 90, 40, 98), TARGETS.lit)
    values = np.where(at_s > NOW - 3600, 31.0, 65.0) + (at_s // 600 % 3)
    channel = WatchedChannel(Quantity.HUMIDITY, SensorPlace.COOL, at_s, values, targets, "UTC")
    found = watch(channel, NOW)
    assert (found[0].kind, found[0].severity) == (AlarmKind.LIMIT, "care")


def test_every_kind_has_its_severity() -> None:
    assert set(SEVERITY) == set(AlarmKind)
