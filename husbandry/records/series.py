"""What a channel's values mean for the animal: time in range by day and by night, how far outside,
how much it swings. Method: docs/methods/records.md.
"""

import datetime as dt
import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from husbandry.derivation import Derivation
from husbandry.documents.result import NeedState
from husbandry.records.channels import Quantity, SensorPlace, need_for
from husbandry.records.moments import DAY_S, local_offsets

Phase = Literal["day", "night"]
Values = NDArray[np.float64]
Seconds = NDArray[np.int64]
SETTLING_H = 2.0
"""After each switch of the lamps a place is on its way, and is not judged by the range of either
phase alone: while it warms it may be as cold as by night, while it cools as warm as by day, and no
more than that (design choice) [h]."""
MOST_DAYS = 62
"""Days that are summed up one by one, at the most (design choice) [days]."""
LONGEST_H = 2.0
"""A value stands for the time until the next, and no longer than that (design choice) [h]."""


@dataclass(frozen=True)
class PhaseRange:
    """The range that is needed in one phase, and what is never passed; nan where nothing is said."""

    low: float = math.nan
    high: float = math.nan
    limit_low: float = math.nan
    limit_high: float = math.nan


@dataclass(frozen=True)
class ChannelTargets:
    """What a place must hold by day and by night, and when it is day."""

    day: PhaseRange
    night: PhaseRange
    lit: tuple[tuple[float, float], ...]
    """From and to, in hours of the room's clock [h]."""
    derivations: tuple[tuple[str, Derivation], ...] = ()
    """Each end of the ranges by name, such as “by day at least”, with how it was calculated."""

    def is_lit(self, hours: Values) -> NDArray[np.bool_]:
        """Whether the lamps are on at some hours of the day."""
        found = np.zeros(len(hours), dtype=bool)
        for begin, end in self.lit:
            found |= (hours >= begin) & (hours < end)
        return found

    def is_settled(self, hours: Values) -> NDArray[np.bool_]:
        """Whether the last switch of the lamps is long enough ago."""
        found = np.ones(len(hours), dtype=bool)
        for edge in {edge for span in self.lit for edge in span}:
            found &= (hours - edge) % 24.0 >= SETTLING_H
        return found

    def in_force(self, *, is_lit: bool, is_settled: bool) -> PhaseRange:
        """Return what a moment is held against: the range of its phase, or on the way to it both.

        A place that cools after the lamps went off may still be as warm as by day, yet no warmer.
        An end that the phase does not name is open; one that only the phase before leaves open
        holds where the place does not come from it.
        """
        own, before = (self.day, self.night) if is_lit else (self.night, self.day)
        if is_settled:
            return own

        def lower(here: float, there: float) -> float:
            looser = float(np.minimum(here, there))
            return here if math.isnan(there) and not is_lit else looser

        def upper(here: float, there: float) -> float:
            looser = float(np.maximum(here, there))
            return here if math.isnan(there) and is_lit else looser

        return PhaseRange(
            low=lower(own.low, before.low),
            high=upper(own.high, before.high),
            limit_low=lower(own.limit_low, before.limit_low),
            limit_high=upper(own.limit_high, before.limit_high),
        )


def targets_for(
    needs: Sequence[NeedState],
    lit: Sequence[tuple[float, float]],
    quantity: Quantity,
    place: SensorPlace,
) -> ChannelTargets:
    """What a plan asks of a channel's place.

    Parameters
    ----------
    lit : sequence of (float, float)
        When the lamps are on, in hours of the room's clock [h].
    """
    known = {need.key: need for need in needs}
    ranges = []
    derivations: list[tuple[str, Derivation]] = []
    for day in (True, False):
        key = need_for(quantity, place, day=day)
        need = known.get(key) if key is not None else None
        ranges.append(_range(need))
        derivations += _derivations(need, "by day" if day else "by night")

    return ChannelTargets(ranges[0], ranges[1], tuple(lit), tuple(derivations))


def _derivations(need: NeedState | None, phase: str) -> Iterator[tuple[str, Derivation]]:
    if need is None:
        return
    ends = (need.low, need.high, need.limit_low, need.limit_high)
    for words, end in zip(END_WORDS, ends, strict=True):
        if end is not None:
            yield f"{phase} {words}", end


END_WORDS = ("at least", "at most", "never below", "never above")
"""Of the ends of a range and of its limits."""


def _range(need: NeedState | None) -> PhaseRange:
    if need is None:
        return PhaseRange()
    ends = (need.low, need.high, need.limit_low, need.limit_high)
    return PhaseRange(*(math.nan if end is None else end.value for end in ends))


@dataclass(frozen=True)
class PhaseSummary:
    """The values of one phase against its range."""

    phase: Phase
    hours: float
    """That values stand for [h]."""
    low: float
    mean: float
    high: float
    in_range: float
    """Share of the settled time within the range; nan where none is said [1]."""
    below_degree_h: float
    """How far below its range for how long [K·h, %·h]."""
    above_degree_h: float
    judged_h: float
    """Of it settled: what the range is held against [h]."""
    beyond_limit_h: float
    """Beyond a limit [h]."""


@dataclass(frozen=True)
class DaySummary:
    """One day of the room's calendar."""

    on: dt.date
    low: float
    mean: float
    high: float
    in_range: float
    """Share of the settled time within its ranges; nan where none is said [1]."""


@dataclass(frozen=True)
class SeriesSummary:
    """The values of a channel over some days."""

    phases: tuple[PhaseSummary, ...]
    days: tuple[DaySummary, ...]
    swing: float
    """Of a day between its least and its most, in the mean [unit]."""


def summarise(
    at_s: Seconds,
    values: Values,
    targets: ChannelTargets,
    zone: str,
    extremes: tuple[Values, Values] | None = None,
) -> SeriesSummary:
    """Sum up the values of a channel.

    Parameters
    ----------
    at_s : array
        Seconds since 1970, rising.
    values : array
        Corrected by the instrument's error, in the quantity's own unit.
    zone : str
        Of the room, by its IANA name.
    extremes : (array, array), optional
        Where the values are means of longer steps: the least and the most of each. Limits are held
        against them.
    """
    if not len(at_s):
        return SeriesSummary((), (), math.nan)
    ends = (values, values) if extremes is None else extremes
    local = at_s + local_offsets(at_s, zone)
    hours = (local % 86_400) / 3600.0
    spans = _spans_h(at_s)
    lit = targets.is_lit(hours)
    settled = targets.is_settled(hours)
    phases = []
    right = np.full(len(values), np.nan)
    names: tuple[tuple[Phase, PhaseRange, NDArray[np.bool_]], ...] = (
        ("day", targets.day, lit),
        ("night", targets.night, ~lit),
    )

    for name, wanted, own in names:
        if not own.any():
            continue
        moving = targets.in_force(is_lit=name == "day", is_settled=False)
        below = np.nan_to_num(np.maximum(wanted.low - values, 0.0))
        above = np.nan_to_num(np.maximum(values - wanted.high, 0.0))
        if not (math.isnan(wanted.low) and math.isnan(wanted.high)):
            right[own & settled] = ((below == 0) & (above == 0))[own & settled]
        beyond = _beyond_limits(wanted, moving, ends, settled)
        phases.append(
            _phase(name, wanted, values, ends, spans, own, own & settled, below, above, beyond)
        )

    days = local // DAY_S
    begins = np.flatnonzero(np.append(True, np.diff(days) > 0))
    is_short = len(begins) <= MOST_DAYS
    by_day = _days(days, begins, values, ends, spans, right) if is_short else ()

    return SeriesSummary(tuple(phases), by_day, _swing(begins, ends))


def _spans_h(at_s: Seconds) -> Values:
    """How long each value stands for [h]."""
    gaps = np.diff(at_s) / 3600.0
    usual = float(np.median(gaps)) if len(gaps) else 0.0
    return np.asarray(np.minimum(np.append(gaps, usual), LONGEST_H), dtype=np.float64)


def _share(right: Values, spans: Values) -> float:
    known = ~np.isnan(right)
    whole = spans[known].sum()
    return float((right[known] * spans[known]).sum() / whole) if whole > 0 else math.nan


def _beyond_limits(
    wanted: PhaseRange, moving: PhaseRange, ends: tuple[Values, Values], settled: NDArray[np.bool_]
) -> NDArray[np.bool_]:
    """Where the least or the most of a step passes the limit in force."""
    low = np.where(settled, wanted.limit_low, moving.limit_low)
    high = np.where(settled, wanted.limit_high, moving.limit_high)

    return np.asarray((ends[0] < low) | (ends[1] > high))


def _phase(
    name: Phase,
    wanted: PhaseRange,
    values: Values,
    ends: tuple[Values, Values],
    spans: Values,
    own: NDArray[np.bool_],
    judged: NDArray[np.bool_],
    below: Values,
    above: Values,
    beyond: NDArray[np.bool_],
) -> PhaseSummary:
    is_asked = not (math.isnan(wanted.low) and math.isnan(wanted.high))
    right = np.where((below == 0) & (above == 0), 1.0, 0.0)
    whole = spans[own].sum()

    return PhaseSummary(
        phase=name,
        hours=float(whole),
        low=float(ends[0][own].min()),
        mean=float((values[own] * spans[own]).sum() / whole) if whole > 0 else math.nan,
        high=float(ends[1][own].max()),
        in_range=_share(right[judged], spans[judged]) if is_asked else math.nan,
        below_degree_h=float((below[judged] * spans[judged]).sum()),
        above_degree_h=float((above[judged] * spans[judged]).sum()),
        judged_h=float(spans[judged].sum()),
        beyond_limit_h=float(spans[own & beyond].sum()),
    )


def _days(
    days: Seconds,
    begins: NDArray[np.int64],
    values: Values,
    ends: tuple[Values, Values],
    spans: Values,
    right: Values,
) -> tuple[DaySummary, ...]:
    found = []
    for own in np.split(np.arange(len(days)), begins[1:]):
        weight = spans[own]
        mean = float((values[own] * weight).sum() / weight.sum()) if weight.sum() > 0 else math.nan
        on = dt.date(1970, 1, 1) + dt.timedelta(days=int(days[own[0]]))
        share = _share(right[own], weight)
        low, high = float(ends[0][own].min()), float(ends[1][own].max())
        found.append(DaySummary(on, low, mean, high, share))
    return tuple(found)


def _swing(begins: NDArray[np.int64], ends: tuple[Values, Values]) -> float:
    """Of whole days alone: a day that began at noon has not swung yet."""
    lows = np.minimum.reduceat(ends[0], begins)
    highs = np.maximum.reduceat(ends[1], begins)
    whole = (highs - lows)[1:-1]

    return float(np.mean(whole)) if len(whole) else math.nan
