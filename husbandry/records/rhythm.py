"""What a logger tells of a place's rhythm: how long it takes to warm up, how its thermostat cycles,
how fast it dries after a misting. Method: docs/methods/records.md.
"""

import itertools
import math
from collections.abc import Iterator
from dataclasses import dataclass
from typing import NamedTuple

import numpy as np

from husbandry.records.channels import Quantity
from husbandry.records.moments import DAY_S, HOUR_S, local_offsets
from husbandry.records.series import ChannelTargets, Seconds, Values

WARMED = 0.9
"""Of the way from the night to the settled day, at which a place counts as warm (design choice) [1]."""
LEAST_RISE_K = 3.0
"""A smaller rise is no warming up (design choice) [K]."""
SETTLED_AFTER_H = 6.0
"""After the lamps came on a place has settled (common practice) [h]."""
CYCLE_K, LEAST_CYCLES = 0.6, 4
"""Turns smaller than that are the sensor's own, and fewer cycles are no rhythm (design choice) [K, 1].
"""
CYCLES_SHOWN_S = 600
"""Values farther apart do not show how a thermostat cycles (design choice) [s]."""
MISTED_PCT, MISTED_H = 8.0, 1.0
"""A rise of so much within so long is a misting (design choice) [%, h]."""
TURN_PCT = 4.0
"""By which humidity turns back before a turn counts (design choice) [%]."""


@dataclass(frozen=True)
class Rhythm:
    """How a place moves over the day; nan where the values do not tell."""

    warm_up_h: float = math.nan
    """From the lamps' switching on to nine tenths of the way up, in the median of the days [h]."""
    cycles_per_h: float = math.nan
    """Of a thermostat, while the lamps are on and the place has settled [1/h]."""
    cycle_k: float = math.nan
    """From the top of a cycle to its bottom, in the median [K]."""
    drying_h: float = math.nan
    """Until half of what a misting brought is gone, in the median [h]."""
    mistings: int = 0
    """Rises that were taken for one."""


def rhythm_of(
    at_s: Seconds, values: Values, targets: ChannelTargets, zone: str, quantity: Quantity
) -> Rhythm:
    """The rhythm of a channel's values.

    Parameters
    ----------
    at_s : array
        Seconds since 1970, rising.
    values : array
        Corrected by the instrument's error [°C or %].
    zone : str
        Of the room, by its IANA name.
    """
    if len(at_s) < 3:
        return Rhythm()

    if quantity is Quantity.HUMIDITY:
        times = list(_drying_hours(at_s, values))
        return Rhythm(drying_h=_median(times), mistings=len(times))

    if quantity is not Quantity.TEMPERATURE:
        return Rhythm()
    local_s = at_s + local_offsets(at_s, zone)
    cycles_per_h, cycle_k = _cycling(local_s, values, targets)

    return Rhythm(
        warm_up_h=_median(list(_warm_up_hours(local_s, values, targets))),
        cycles_per_h=cycles_per_h,
        cycle_k=cycle_k,
    )


def _median(values: list[float]) -> float:
    return float(np.median(values)) if values else math.nan


def _warm_up_hours(local_s: Seconds, values: Values, targets: ChannelTargets) -> Iterator[float]:
    """Of each day on which the lamps came on and the place rose."""
    days = np.unique(local_s // DAY_S)

    for day in days:
        for begin, end in targets.lit:
            on_s = day * DAY_S + begin * HOUR_S
            settled_s = on_s + min(SETTLED_AFTER_H, end - begin - 1) * HOUR_S
            before = values[(local_s >= on_s - HOUR_S) & (local_s < on_s)]
            settled = values[(local_s >= settled_s) & (local_s < settled_s + HOUR_S)]
            if not len(before) or not len(settled):
                continue
            rise = float(settled.mean() - before.mean())
            if rise < LEAST_RISE_K:
                continue
            warm = float(before.mean()) + WARMED * rise
            reached = local_s[(local_s >= on_s) & (local_s < settled_s) & (values >= warm)]
            if len(reached):
                yield (float(reached[0]) - on_s) / HOUR_S


def _cycling(local_s: Seconds, values: Values, targets: ChannelTargets) -> tuple[float, float]:
    """How often a settled place goes up and down in an hour, and by how much."""
    hours = (local_s % DAY_S) / HOUR_S
    kept = targets.is_lit(hours) & targets.is_settled(hours)
    turns: list[float] = []
    spent_h = 0.0

    for first, last in _runs(kept):
        part_s, part = local_s[first:last], values[first:last]
        if len(part) < 3 or float(np.median(np.diff(part_s))) > CYCLES_SHOWN_S:
            continue
        spent_h += float(part_s[-1] - part_s[0]) / HOUR_S
        found = part[turning_points(part, CYCLE_K)]
        turns += [abs(float(step)) for step in np.diff(found)]

    if len(turns) < 2 * LEAST_CYCLES or not spent_h:
        return math.nan, math.nan

    return len(turns) / 2 / spent_h, float(np.median(turns))


def _runs(kept: np.ndarray) -> Iterator[tuple[int, int]]:
    """Where a mask holds without a gap: first, and one past the last."""
    edges = np.flatnonzero(np.diff(np.concatenate(([False], kept, [False])).astype(int)))

    for first, last in zip(edges[::2], edges[1::2], strict=True):
        yield int(first), int(last)


def turning_points(values: Values, least: float) -> list[int]:
    """Where values turn, tops and bottoms in turn; smaller moves than `least` are passed over."""
    found: list[int] = []
    low = high = 0
    rising: bool | None = None

    for n in range(1, len(values)):
        if rising is not False and values[n] > values[high]:
            high = n
        if rising is not True and values[n] < values[low]:
            low = n
        if rising is not False and values[high] - values[n] >= least:
            found.append(high)
            rising, low = False, n
        elif rising is not True and values[n] - values[low] >= least:
            found.append(low)
            rising, high = True, n

    return found


class MistingRise(NamedTuple):
    """A quick rise of humidity."""

    begin_s: int
    """Seconds since 1970."""
    top: int
    """Its highest value's place in the series."""
    rise_pct: float


def misting_rises(at_s: Seconds, values: Values) -> Iterator[MistingRise]:
    """The rises that are taken for a misting.

    Parameters
    ----------
    at_s : array
        Seconds since 1970, rising.
    values : array
        Humidity [%].
    """
    turns = turning_points(values, TURN_PCT)

    for bottom, top in itertools.pairwise(turns):
        rise = float(values[top] - values[bottom])
        if rise < MISTED_PCT:
            continue
        begin_s = _last_near(at_s, values, bottom, top)
        if at_s[top] - begin_s <= MISTED_H * HOUR_S:
            yield MistingRise(begin_s, top, rise)


def _drying_hours(at_s: Seconds, values: Values) -> Iterator[float]:
    """After each misting, until half of its rise is gone."""
    for one in misting_rises(at_s, values):
        after = np.flatnonzero(values[one.top :] <= values[one.top] - one.rise_pct / 2)
        if len(after):
            yield float(at_s[one.top + after[0]] - at_s[one.top]) / HOUR_S


def _last_near(at_s: Seconds, values: Values, bottom: int, top: int) -> int:
    """When the rise to a top began in earnest: the last moment near its bottom [s]."""
    near = np.flatnonzero(values[bottom:top] <= values[bottom] + TURN_PCT / 2)
    return int(at_s[bottom + near[-1]])
