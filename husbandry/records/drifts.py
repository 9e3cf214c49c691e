"""What a logged place does over weeks, named: a lamp that grows weaker, a probe that slipped, an
instrument that went off, a substrate that dries. Method: docs/methods/records.md.

What the lamps bring is the end of the day less the night before it: a room that cools in autumn cools
both.
"""

import datetime as dt
import math
from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum

import numpy as np
from numpy.typing import NDArray

from husbandry.records.channels import Quantity, SensorPlace
from husbandry.records.moments import DAY_S, HOUR_S, local_offsets
from husbandry.records.series import Seconds, Values

Lit = Sequence[tuple[float, float]]
END_H = 2.0
"""The last hours of a phase stand for it (design choice) [h]."""
DRIFT_BACK_DAYS = 120
"""Days that are looked at (design choice) [days]."""
LEAST_DAYS = 21
"""A trend is told from so many days (design choice) [days]."""
TREND_SURE = 0.99
"""That a trend is none by chance (design choice) [1]."""
LIFT_LOST_K, LIFT_LOST_SHARE = 1.5, 0.08
"""A lamp is weaker when it brings so much less, and such a share less (design choice) [K, 1]."""
STEP_DAYS = 3
"""Days on each side of a step (design choice) [days]."""
STEP_K, STEP_SPREADS = 2.0, 4.0
"""A step that is told: so large, and so many times as the days around it differ (design choice) [K, 1].
"""
DRIER_PCT, DRIER_DAYS = 10.0, 10
"""A fall of humidity that is told, and the days that it takes at the least (design choice) [%, days].
"""
LAMP_PLACES = (SensorPlace.SURFACE, SensorPlace.WARM, SensorPlace.MIDDLE)
SUBSTRATE_PLACES = (SensorPlace.COOL, SensorPlace.MIDDLE, SensorPlace.WARM, SensorPlace.HIDE)


class DriftKind(StrEnum):
    """What a place does over weeks."""

    LAMP = "lamp weaker"
    SLIPPED = "probe moved"
    INSTRUMENT = "all values moved"
    DRYING = "drying out"


DRIFT_ADVICE: dict[DriftKind, str] = {
    DriftKind.LAMP: (
        "The bulb grows weak, or it hangs higher. Measure its distance, then replace the bulb."
    ),
    DriftKind.SLIPPED: "The probe has slipped, or the lamp has moved. Look where both are.",
    DriftKind.INSTRUMENT: (
        "The room has changed, or the instrument is off. Read the place with another thermometer."
    ),
    DriftKind.DRYING: "The substrate dries out. Water it, and look at vents and mister.",
}
"""What it comes from, and what to look at (common practice, no source)."""


@dataclass(frozen=True)
class Drift:
    """A drift with its name."""

    kind: DriftKind
    since: dt.date
    days: int
    """Over which it went on; 0 for a step [days]."""
    amount: float
    """Of the change, signed [K or %]."""


@dataclass(frozen=True)
class LoggedDays:
    """The ends of a channel's days and nights, one row a day; nan where it was not logged.

    Parameters
    ----------
    on : array of int
        Days since 1970.
    day, night : array
        Mean of the last hours of the heat, and of the dark before it [°C or %].
    """

    on: NDArray[np.int64]
    day: Values
    night: Values

    @property
    def lift(self) -> Values:
        """What the lamps bring [K]."""
        return self.day - self.night


def logged_days(at_s: Seconds, values: Values, lit: Lit, zone: str) -> LoggedDays:
    """The ends of each day and of the night before it.

    Parameters
    ----------
    at_s : array
        Seconds since 1970, rising; hours do.
    values : array
        Corrected by the instrument's error [°C or %].
    lit : sequence of (float, float)
        When the lamps are on, in hours of the room's clock [h].
    """
    if not len(at_s) or not lit:
        empty = np.zeros(0)
        return LoggedDays(np.zeros(0, dtype=np.int64), empty, empty)
    on_h, off_h = min(one[0] for one in lit), max(one[1] for one in lit)
    local = at_s + local_offsets(at_s, zone)
    days = np.unique(local // DAY_S)

    return LoggedDays(days, _ends(local, values, days, off_h), _ends(local, values, days, on_h))


def _ends(local: Seconds, values: Values, days: NDArray[np.int64], end_h: float) -> Values:
    found = np.full(len(days), np.nan)
    for n, day in enumerate(days):
        end_s = day * DAY_S + end_h * HOUR_S
        first, last = np.searchsorted(local, [end_s - END_H * HOUR_S, end_s])
        if last > first:
            found[n] = values[first:last].mean()
    return found


def drift_of(
    days: LoggedDays, quantity: Quantity, place: SensorPlace, changed: Sequence[dt.date] = ()
) -> Drift | None:
    """Name what a place does over weeks; None where nothing is told.

    Parameters
    ----------
    changed : sequence of date
        Days on which the enclosure was changed, or a lamp: what lies before the last of them no longer
        speaks of it.
    """
    first = max((one.toordinal() - _EPOCH for one in changed), default=-math.inf)
    own = days.on > first
    kept = LoggedDays(days.on[own], days.day[own], days.night[own])

    if quantity is Quantity.HUMIDITY:
        return _drying(kept) if place in SUBSTRATE_PLACES else None
    if quantity is not Quantity.TEMPERATURE:
        return None
    step = _moved(kept)
    if step is not None:
        return step
    return _weaker(kept) if place in LAMP_PLACES else None


_EPOCH = dt.date(1970, 1, 1).toordinal()


def _date(day: int) -> dt.date:
    return dt.date.fromordinal(_EPOCH + int(day))


def _moved(days: LoggedDays) -> Drift | None:
    """A step from one day to the next that stays: in what the lamps bring, or in all values alike."""
    lift = _largest_step(days.on, days.lift)
    if lift is not None:
        return Drift(DriftKind.SLIPPED, _date(lift[0]), 0, lift[1])
    by_day, by_night = (_largest_step(days.on, one) for one in (days.day, days.night))
    if by_day is None or by_night is None or abs(by_day[0] - by_night[0]) > 1:
        return None
    if by_day[1] * by_night[1] < 0:
        return None

    return Drift(DriftKind.INSTRUMENT, _date(by_day[0]), 0, (by_day[1] + by_night[1]) / 2)


def _largest_step(on: NDArray[np.int64], values: Values) -> tuple[int, float] | None:
    """The first day after a step, and the step; None where none stands out."""
    known = ~np.isnan(values)
    on, values = on[known], values[known]
    best: tuple[int, float] | None = None

    for n in range(STEP_DAYS, len(values) - STEP_DAYS + 1):
        before, after = values[max(0, n - 7) : n], values[n : n + 7]
        step = float(np.median(after) - np.median(before))
        apart = np.concatenate([before - np.median(before), after - np.median(after)])
        spread = 1.4826 * float(np.median(np.abs(apart)))
        near = float(np.median(values[n : n + STEP_DAYS]) - np.median(values[n - STEP_DAYS : n]))
        whole = float(values[n] - values[n - 1])
        sudden = min(near / step, whole / step) >= 0.6 if step else False

        if abs(step) < max(STEP_K, STEP_SPREADS * spread) or not sudden:
            continue

        if best is None or abs(step) > abs(best[1]):
            best = (int(on[n]), step)

    return best


def _trend(on: NDArray[np.int64], values: Values) -> tuple[int, float, float] | None:
    """Days, fall over them and middle of values that fall surely; None where they do not."""
    known = ~np.isnan(values)
    if known.sum() < 2:
        return None
    on, values = on[known], values[known]
    span = int(on[-1] - on[0])
    if not span:
        return None
    from scipy.stats import theilslopes  # a second to import, and only records of weeks need it

    found = theilslopes(values, on, TREND_SURE)
    if found.high_slope >= 0:
        return None
    return span, float(found.slope) * span, float(np.median(values))


def _weaker(days: LoggedDays) -> Drift | None:
    """What the lamps bring falls over weeks."""
    found = _trend(days.on, days.lift)
    if found is None:
        return None
    span, fall, middle = found
    known = int((~np.isnan(days.lift)).sum())
    least = max(LIFT_LOST_K, LIFT_LOST_SHARE * middle)
    if span < LEAST_DAYS or known < LEAST_DAYS / 2 or -fall < least:
        return None
    return Drift(DriftKind.LAMP, _date(days.on[-1] - span), span, fall)


def _drying(days: LoggedDays) -> Drift | None:
    """Humidity at the end of the night falls day by day, over the last fortnight or longer."""
    recent = days.on > days.on[-1] - 2 * DRIER_DAYS if len(days.on) else days.on > 0
    found = _trend(days.on[recent], days.night[recent])
    if found is None:
        return None
    span, fall, _ = found
    if span < DRIER_DAYS or int(recent.sum()) < DRIER_DAYS / 2 or -fall < DRIER_PCT:
        return None
    return Drift(DriftKind.DRYING, _date(days.on[-1] - span), span, fall)
