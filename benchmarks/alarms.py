"""Alarms over seeded weeks of enclosures that go wrong: how many injected faults are told, how soon, and
how many alarms are false.

    .venv/bin/python -m benchmarks.alarms [--weeks N] [--step SECONDS]

The truth here shares nothing with the model: a place goes to its day's and its night's temperature by
one time constant of its own, in a room with weather. Its ranges are typical ones (invented for this
benchmark).

Targets: at least 95 % of the dangers told before the limit is passed where more than half an hour is
left; under one false alarm per enclosure and month.
"""

import argparse
import itertools
import math
import multiprocessing
import statistics
from collections import Counter, defaultdict
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from husbandry.records.channels import Quantity, SensorPlace
from husbandry.records.series import ChannelTargets, PhaseRange, summarise
from husbandry.records.watch import READ_BACK_S, AlarmKind, WatchedChannel, watch

DAY_S, WEEK_S = 86_400, 7 * 86_400
BEGIN_S = 1_767_225_600
LOOK_S = 600
"""Between two looks [s]."""
LEAST_TIME_S = 1800
"""Physics allows a warning where so much time is left [s]."""
LIT = ((8.0, 20.0),)
CASES = {
    "warm air, desert lizard": (
        SensorPlace.WARM,
        PhaseRange(28, 34, 18, 42),
        PhaseRange(18, 25, 12, 32),
    ),
    "basking surface, desert lizard": (
        SensorPlace.SURFACE,
        PhaseRange(38, 46, 28, 55),
        PhaseRange(),
    ),
    "warm air, forest gecko": (
        SensorPlace.WARM,
        PhaseRange(23, 27, 17, 30),
        PhaseRange(18, 22, 13, 27),
    ),
    "warm air, snake": (SensorPlace.WARM, PhaseRange(27, 32, 20, 36), PhaseRange(21, 27, 16, 31)),
    "cool air, frog": (SensorPlace.COOL, PhaseRange(20, 25, 15, 29), PhaseRange(17, 22, 12, 27)),
    "cool air, tortoise": (
        SensorPlace.COOL,
        PhaseRange(20, 26, 12, 34),
        PhaseRange(12, 20, 6, 28),
    ),
}
DAMP_CASES = {
    "damp, rainforest frog": (SensorPlace.COOL, PhaseRange(60, 95), PhaseRange(65, 100)),
    "damp, forest gecko": (SensorPlace.MIDDLE, PhaseRange(45, 85), PhaseRange(55, 90)),
}
FAULTS = ("heater stuck", "heater dead", "lamp out", "silent", "flat", "jumps", "hunting", "")
DAMP_FAULTS = ("mister failed", "")
DANGERS = {"heater stuck", "heater dead"}
MEANS = {
    "heater stuck": {AlarmKind.LIMIT, AlarmKind.SOON, AlarmKind.UNUSUAL, AlarmKind.LONG},
    "heater dead": {
        AlarmKind.LIMIT,
        AlarmKind.SOON,
        AlarmKind.UNUSUAL,
        AlarmKind.LONG,
        AlarmKind.LAMP,
    },
    "lamp out": {
        AlarmKind.LAMP,
        AlarmKind.UNUSUAL,
        AlarmKind.SOON,
        AlarmKind.LIMIT,
        AlarmKind.LONG,
    },
    "mister failed": {AlarmKind.MISTING, AlarmKind.UNUSUAL, AlarmKind.LONG},
    "hunting": {AlarmKind.HUNTING, AlarmKind.LONG},
    "silent": {AlarmKind.SILENT},
    "flat": {AlarmKind.FLAT},
    "jumps": {AlarmKind.JUMPS},
}
"""Alarms that tell of a fault."""


@dataclass
class Week:
    """What came of one week."""

    fault: str
    begin_s: int
    limit_s: float = math.inf
    """When the truth passes the limit; never, else [s]."""
    told_s: float = math.inf
    kind: str = ""
    false: list[AlarmKind] = field(default_factory=list)


def middle(wanted: PhaseRange, draw: np.random.Generator, fallback: float) -> float:
    """A temperature well inside a range."""
    if math.isnan(wanted.low):
        return fallback
    low, high = wanted.low, wanted.high
    return float(draw.uniform(low + 0.25 * (high - low), high - 0.25 * (high - low)))


def truth(
    case: tuple[SensorPlace, PhaseRange, PhaseRange], fault: str, seed: int, step_s: int
) -> tuple[NDArray[np.int64], NDArray[np.float64], int, int]:
    """Two weeks of a place, with a fault in the second: times, true values, its begin and its end."""
    draw = np.random.default_rng([seed, 1])
    _, by_day, by_night = case
    room = float(draw.uniform(17, 21))
    day = middle(by_day, draw, 30.0)
    night = min(middle(by_night, draw, room + 2), day - 2)
    tau_h = float(draw.uniform(0.3, 1.6))
    begin = BEGIN_S + WEEK_S + int(draw.uniform(0.1, 5.5) * DAY_S)
    if fault == "lamp out":
        begin = BEGIN_S + WEEK_S + int(draw.integers(1, 6)) * DAY_S + 6 * 3600
    end = begin + int(draw.uniform(8, 20) * 3600)
    fine = np.arange(BEGIN_S, BEGIN_S + 2 * WEEK_S, 60, dtype=np.int64)
    hours = (fine % DAY_S) / 3600
    aim = np.where((hours >= 8) & (hours < 20), day, night)
    during = (fine >= begin) & (fine < end)
    limit = by_day.limit_high if math.isnan(by_night.limit_high) else by_night.limit_high
    if fault == "heater stuck":
        aim = np.where(during, max(day, limit) + draw.uniform(3, 14), aim)
    if fault == "heater dead":
        aim = np.where(during, draw.uniform(2, 8), aim)  # a cold house in winter
    if fault == "lamp out":
        aim = np.where(during, np.minimum(aim, night), aim)
    weather = np.interp(fine, fine[::60], _weather(len(fine[::60]), draw))
    values = np.empty(len(fine))
    value, share = night, 1 - math.exp(-1 / 60 / tau_h)
    for n, one in enumerate(aim):
        value += share * (one - value)
        values[n] = value
    every = step_s // 60
    values = values + weather + _disturbed(fine, draw)
    if fault == "hunting":
        swing, period_s = draw.uniform(4, 8) / 2, draw.uniform(12, 28) * 60
        values = values + np.where(during, swing * np.sin(2 * np.pi * fine / period_s), 0)
    return fine[::every], values[::every], begin, end


def damp_truth(
    case: tuple[SensorPlace, PhaseRange, PhaseRange], fault: str, seed: int, step_s: int
) -> tuple[NDArray[np.int64], NDArray[np.float64], int, int]:
    """Two weeks of humidity that is misted by a timer; in the second its tank is empty for a while."""
    draw = np.random.default_rng([seed, 3])
    fine = np.arange(BEGIN_S, BEGIN_S + 2 * WEEK_S, 60, dtype=np.int64)
    dry = float(draw.uniform(45, 60))
    rise, tau_h = float(draw.uniform(18, 32)), float(draw.uniform(0.7, 3.0))
    times = sorted(draw.choice(np.arange(6, 22), int(draw.integers(2, 4)), replace=False))
    day = int(draw.integers(1, 6))
    begin = BEGIN_S + WEEK_S + day * DAY_S + int(times[0]) * 3600 - 600
    end = begin + DAY_S
    extra = np.zeros(len(fine))
    for n in range(14):
        for hour in times:
            at = BEGIN_S + n * DAY_S + int(hour) * 3600 + int(draw.uniform(0, 120))
            if fault == "mister failed" and begin <= at < end:
                continue
            since_h = (fine - at) / 3600
            wet = draw.uniform(0.8, 1.2) * rise
            extra += np.where(since_h >= 0, wet * np.exp(-np.maximum(since_h, 0) / tau_h), 0)
    weather = 1.5 * np.interp(fine, fine[::60], _weather(len(fine[::60]), draw))
    every = step_s // 60
    values = np.minimum(dry + extra + weather + 1.5 * _disturbed(fine, draw), 99.0)
    return fine[::every], values[::every], begin, end


def _disturbed(fine: NDArray[np.int64], draw: np.random.Generator) -> NDArray[np.float64]:
    """What is no fault: a season that drifts, a warm or a cold day, doors opened to feed and clean."""
    days = len(fine) // 1440
    drift = np.cumsum(draw.normal(0, 0.35, days))
    found = np.interp(fine, fine[::1440], np.clip(drift, -2, 2))
    for day in range(days):
        for _ in range(int(draw.integers(0, 3))):
            at = day * 1440 + int(draw.uniform(7, 22) * 60)
            opened = np.arange(0, min(90, len(fine) - at))
            depth, minutes = draw.uniform(1, 5), draw.uniform(5, 20)
            fallen = np.where(opened < minutes, 1.0, np.exp(-(opened - minutes) / 15))
            found[at : at + len(opened)] -= depth * fallen
    return found


def _weather(count: int, draw: np.random.Generator) -> NDArray[np.float64]:
    """Slow changes of the room [K]."""
    value, found = 0.0, np.empty(count)
    for n in range(count):
        value = 0.9 * value + 0.25 * float(draw.standard_normal())
        found[n] = value
    return found


def measured(
    at_s: NDArray[np.int64],
    values: NDArray[np.float64],
    fault: str,
    begin: int,
    end: int,
    seed: int,
) -> tuple[NDArray[np.int64], NDArray[np.float64]]:
    """What the logger writes of it."""
    draw = np.random.default_rng([seed, 2])
    shown = values + draw.normal(0, 0.2) + draw.normal(0, 0.1, len(values))
    during = (at_s >= begin) & (at_s < end)
    kept = draw.random(len(values)) > 0.005  # a lost packet now and then
    if fault == "silent":
        kept &= ~during
    if fault == "flat":
        shown[during] = shown[int(np.argmax(during))]
    if fault == "jumps":
        thrown = draw.random(len(values)) < 0.3
        shown = np.where(during & thrown, shown + draw.choice([-14, 14], len(values)), shown)
    return at_s[kept], np.round(shown, 1)[kept]


def passes(
    at_s: NDArray[np.int64],
    values: NDArray[np.float64],
    targets: ChannelTargets,
    begin: int,
    end: int,
) -> float:
    """When the truth passes a limit during a fault [s]."""
    hours = (at_s % DAY_S) / 3600
    lit = targets.is_lit(hours)
    settled = targets.is_settled(hours)
    high = np.where(
        lit, targets.day.limit_high, np.where(settled, targets.night.limit_high, np.nan)
    )
    low = np.where(~lit, targets.night.limit_low, np.where(settled, targets.day.limit_low, np.nan))
    over = ((values > high) | (values < low)) & (at_s >= begin) & (at_s < end)
    return float(at_s[int(np.argmax(over))]) if over.any() else math.inf


def is_true(
    kind: AlarmKind,
    now: int,
    at_s: NDArray[np.int64],
    values: NDArray[np.float64],
    targets: ChannelTargets,
) -> bool:
    """Whether an alarm without an injected fault was right all the same: a season that drifts out."""
    if kind is AlarmKind.LIMIT:
        return passes(at_s, values, targets, now - 3600, now + 1) < math.inf
    if kind is AlarmKind.SOON:
        return passes(at_s, values, targets, now - 600, now + 5400) < math.inf
    if kind is not AlarmKind.LONG:
        return False
    own = (at_s > now - 2 * DAY_S) & (at_s <= now)
    summary = summarise(at_s[own], values[own], targets, "UTC")
    known = [one for one in summary.phases if not math.isnan(one.in_range)]
    whole = sum(one.judged_h for one in known)
    return sum(one.in_range * one.judged_h for one in known) / whole < 0.6


def run_week(name: str, fault: str, seed: int, step_s: int) -> Week:
    """Watch one week, ten minutes at a time."""
    is_damp = name in DAMP_CASES
    case = (DAMP_CASES if is_damp else CASES)[name]
    quantity = Quantity.HUMIDITY if is_damp else Quantity.TEMPERATURE
    targets = ChannelTargets(case[1], case[2], LIT)
    at_s, values, begin, end = (damp_truth if is_damp else truth)(case, fault, seed, step_s)
    week = Week(fault, begin)
    if fault in DANGERS:
        week.limit_s = passes(at_s, values, targets, begin, end)
    times, shown = measured(at_s, values, fault, begin, end, seed)
    was: frozenset[AlarmKind] = frozenset()
    for now in range(BEGIN_S + WEEK_S, BEGIN_S + 2 * WEEK_S, LOOK_S):
        last = int(np.searchsorted(times, now, side="right"))
        first = int(np.searchsorted(times, now - READ_BACK_S))
        channel = WatchedChannel(
            quantity, case[0], times[first:last], shown[first:last], targets, "UTC"
        )
        kinds = frozenset(one.kind for one in watch(channel, now, was))
        for kind in kinds - was:
            due = begin <= now < end + 6 * 3600
            if fault and due and kind in MEANS[fault]:
                if now < week.told_s:
                    week.told_s, week.kind = now, kind.value
            elif not due and not is_true(kind, now, at_s, values, targets):
                week.false.append(kind)
        was = kinds
    return week


def main() -> int:
    """Print what was told; 1 where a target is missed."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--weeks", type=int, default=200)
    parser.add_argument("--step", type=int, default=300)
    given = parser.parse_args()
    pairs = list(itertools.product(CASES, FAULTS)) + list(
        itertools.product(DAMP_CASES, DAMP_FAULTS * 2)
    )
    jobs = [(*pairs[n % len(pairs)], n, given.step) for n in range(given.weeks)]
    with multiprocessing.Pool() as pool:
        weeks = pool.starmap(run_week, jobs)
    by_fault: dict[str, list[Week]] = defaultdict(list)
    for week in weeks:
        by_fault[week.fault].append(week)
    print(f"{'fault':14} {'weeks':>5} {'told':>5} {'median min':>10}  first told as")
    for fault, own in by_fault.items():
        if fault:
            told = [one for one in own if one.told_s < math.inf]
            minutes = [(one.told_s - one.begin_s) / 60 for one in told]
            kinds = ", ".join(
                f"{k} {n}" for k, n in Counter(one.kind for one in told).most_common()
            )
            after = f"{statistics.median(minutes):10.0f}" if minutes else " " * 10
            print(f"{fault:14} {len(own):5} {len(told):5} {after}  {kinds}")
    dangers = [one for one in weeks if one.limit_s < math.inf]
    fair = [one for one in dangers if one.limit_s - one.begin_s > LEAST_TIME_S]
    timely = sum(one.told_s <= one.limit_s for one in fair)
    share = timely / max(1, len(fair))
    false = [kind for one in weeks for kind in one.false]
    a_month = len(false) / (len(weeks) / (365.25 / 12 / 7))
    print(f"dangers that pass a limit: {len(dangers)}; with half an hour left: {len(fair)}")
    print(f"told before the limit: {timely} of {len(fair)}, {share:.0%} (target 95 %)")
    print(
        f"false alarms: {len(false)}, {a_month:.2f} a month (target under 1): {dict(Counter(false))}"
    )
    missed = [
        (one.fault, n) for n, one in enumerate(weeks) if one in fair and one.told_s > one.limit_s
    ]
    print(f"late: {missed}")
    return int(share < 0.95 or a_month >= 1)


if __name__ == "__main__":
    raise SystemExit(main())
