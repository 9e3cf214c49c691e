"""A pump that did not run or does not stop, a thermostat at full power, a scale that lies still.

Values are made by hand; for how long a misting and a morning last is common practice, no source.
"""

import numpy as np
import pytest

from husbandry.records.channels import Quantity, SensorPlace
from husbandry.records.series import ChannelTargets, PhaseRange
from husbandry.records.watch import AlarmFinding, AlarmKind, WatchedChannel, watch
from husbandry.records.watch_devices import full_heating, missed_run, pump_runs, runs_on

DAY_S = 86_400
FIRST = 1_767_225_600
"""Midnight in UTC."""
NONE = ChannelTargets(PhaseRange(), PhaseRange(), ())


def pump(
    hours: float, runs: tuple[float, ...] = (8, 20), missed: tuple[float, ...] = ()
) -> tuple[np.ndarray, np.ndarray]:
    """A plug that tells every ten minutes, and each run of 20 s as it comes and goes."""
    end_s = FIRST + int(hours * 3600)
    shown = dict.fromkeys(range(FIRST, end_s, 600), 0.0)
    for day in range(int(hours // 24) + 1):
        for run in runs:
            begin_s = FIRST + day * DAY_S + int(run * 3600) + 5
            if day * 24 + run not in missed and begin_s < end_s:
                shown[begin_s], shown[begin_s + 20] = 18.0, 0.0
    at_s = np.array(sorted(shown), dtype=np.int64)
    return at_s, np.array([shown[int(one)] for one in at_s])


def look(
    quantity: Quantity, place: SensorPlace, series: tuple[np.ndarray, np.ndarray], **more: object
) -> AlarmFinding | None:
    channel = WatchedChannel(quantity, place, *series, NONE, "UTC")
    found = watch(channel, int(series[0][-1]), **more)  # type: ignore[arg-type]  # by name
    assert len(found) <= 1
    return found[0] if found else None


def test_each_run_is_one() -> None:
    runs = pump_runs(*pump(48))
    assert [one.begin_s - FIRST for one in runs] == [
        day * DAY_S + hour * 3600 + 5 for day in (0, 1) for hour in (8, 20)
    ]
    at_s, power_w = pump(24, runs=())
    assert pump_runs(at_s, power_w) == []
    assert pump_runs(at_s, np.full(len(at_s), 18.0))[0].end_s == at_s[-1], "one that goes on"


def test_a_run_that_stays_away_is_told_three_quarters_of_an_hour_after_its_time() -> None:
    early = pump(4 * 24 + 8.6, missed=(104.0,))
    assert missed_run(*early, "UTC") is None
    late = pump(4 * 24 + 9, missed=(104.0,))
    found = missed_run(*late, "UTC")
    assert found is not None and found.at_s == FIRST + 104 * 3600 + 5
    alarm = look(Quantity.POWER, SensorPlace.PUMP, late)
    assert alarm is not None and (alarm.kind, alarm.severity) == (AlarmKind.MISTING, "care")


@pytest.mark.parametrize("hours", np.arange(73.0, 97.0, 1.0))
def test_a_pump_that_keeps_its_times_is_quiet_at_any_hour(hours: float) -> None:
    assert look(Quantity.POWER, SensorPlace.PUMP, pump(hours)) is None


def test_it_ends_with_the_next_run() -> None:
    series = pump(4 * 24 + 20.2, missed=(104.0,))
    was = frozenset({AlarmKind.MISTING})
    assert look(Quantity.POWER, SensorPlace.PUMP, series, open_kinds=was) is None
    before = pump(4 * 24 + 19.9, missed=(104.0,))
    assert look(Quantity.POWER, SensorPlace.PUMP, before, open_kinds=was) is not None


def test_a_gap_in_the_values_hides_a_run_and_tells_nothing() -> None:
    at_s, power_w = pump(4 * 24 + 9, missed=(104.0,))
    kept = (at_s < FIRST + 103 * 3600) | (at_s > FIRST + 104.5 * 3600)
    assert missed_run(at_s[kept], power_w[kept], "UTC") is None


def test_a_pump_that_does_not_stop() -> None:
    at_s, power_w = pump(50.0)
    power_w[at_s >= FIRST + 49 * 3600] = 18.0
    found = look(Quantity.POWER, SensorPlace.PUMP, (at_s, power_w))
    assert found is not None and found.kind is AlarmKind.RUNS_ON
    assert found.since_s == FIRST + 49 * 3600
    at_s, power_w = pump(50.0)
    power_w[-1] = 18.0
    assert runs_on(at_s, power_w) is None, "it has just begun"


def heating(hours: float, share: float = 0.5) -> tuple[np.ndarray, np.ndarray]:
    """A thermostat: full for the first hour of the day, then a share, nothing at night."""
    at_s = FIRST + np.arange(0, int(hours * 3600) + 1, 600, dtype=np.int64)
    clock = (at_s % DAY_S) / 3600
    shares = np.where(clock < 8, 0.0, np.where(clock < 9, 1.0, np.where(clock < 20, share, 0.0)))
    return at_s, shares


def test_full_power_for_three_hours_on_no_other_day() -> None:
    at_s, shares = heating(4 * 24 + 13)
    shares[at_s >= FIRST + 104 * 3600] = 1.0
    found = full_heating(at_s, shares)
    assert found is not None and found.since_s == FIRST + 104 * 3600
    assert found.usual == pytest.approx(0.5, abs=0.05)
    alarm = look(Quantity.HEATING, SensorPlace.THERMOSTAT, (at_s, shares))
    assert alarm is not None and alarm.kind is AlarmKind.FULL
    sooner = at_s < FIRST + 106.5 * 3600
    assert full_heating(at_s[sooner], shares[sooner]) is None, "a cold morning takes a while"


@pytest.mark.parametrize("hours", np.arange(73.0, 97.0, 1.0))
def test_a_usual_day_of_a_thermostat_is_quiet(hours: float) -> None:
    assert full_heating(*heating(hours)) is None


def test_a_heater_that_is_weak_every_day_is_no_alarm() -> None:
    """It is advice of the plan: more power, not a repair."""
    assert full_heating(*heating(4 * 24 + 15, share=1.0)) is None


def test_a_scale_may_lie_still() -> None:
    at_s = np.array([FIRST, FIRST + DAY_S], dtype=np.int64)
    channel = WatchedChannel(
        Quantity.MASS, SensorPlace.SCALE, at_s, np.array([410.0, 412.0]), NONE, "UTC"
    )
    assert watch(channel, FIRST + 30 * DAY_S) == ()
