"""What a channel's rhythm says is wrong: a misting that did not come, a thermostat that hunts.

Method: docs/methods/alarms.md.
"""

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from husbandry.records.moments import DAY_S, HOUR_S, local_offsets
from husbandry.records.rhythm import misting_rises, turning_points
from husbandry.records.series import Seconds, Values

SAME_DAYS = 3
"""On each of so many days before it was misted at this time: then it is waited for (design choice)
[days]."""
SAME_TIME_S = 30 * 60
"""Mistings this near to each other on two days are the same one (design choice) [s]."""
WAITED_S = 45 * 60
"""So long after its time a misting is late (design choice) [s]."""
LATE_S = 6 * HOUR_S
"""A misting that is missing for longer than that is old news (design choice) [s]."""
MISTED_SHARE = 0.3
"""Less than that share of the usual rise is no misting (design choice) [1]."""
HUNTING_S, HUNTING_CYCLES = 3 * HOUR_S, 6
"""So many cycles within so long are a thermostat that hunts (design choice) [s, 1]."""
HUNTING_K = 3.0
"""Between the top and the bottom of its cycles: a good on/off thermostat keeps within 1 to 2 K
(common practice) [K]."""
MOST_STEP_S = 600
"""Values farther apart do not show it (design choice) [s]."""


@dataclass(frozen=True)
class MissedMisting:
    """A misting that did not come at its time."""

    due_s: int
    """When it was due: seconds since 1970."""
    usual_pct: float
    """What humidity rises to on other days [%]."""


@dataclass(frozen=True)
class DueTime:
    """A time at which something came on each of the days before."""

    at_s: int
    """Seconds since 1970."""
    first_s: int
    """From when on it would be this one: seconds since 1970."""
    days: tuple[int, ...]
    """Which of the times that were given came on those days: their numbers."""


def missed_misting(
    at_s: Seconds, values: Values, zone: str, *, is_open: bool = False
) -> MissedMisting | None:
    """The latest misting that came on each of the days before and not today; None where none is missing.

    Parameters
    ----------
    at_s : array
        Seconds since 1970, rising.
    values : array
        Humidity [%].
    zone : str
        Of the room, by its IANA name: timers keep its clock.
    is_open : bool
        It was told before: it ends with the next misting or after a day.
    """
    if len(at_s) < 2:
        return None
    rises = list(misting_rises(at_s, values))
    begins = np.array([one.begin_s for one in rises], dtype=np.int64)

    for due in due_times(begins, int(at_s[-1]), zone, is_open=is_open):
        if not has_values_around(at_s, due.at_s):
            continue
        same = [rises[n] for n in due.days]
        usual_rise = float(np.median([one.rise_pct for one in same]))
        if _largest_rise(values[at_s >= due.first_s]) >= MISTED_SHARE * usual_rise:
            return None
        return MissedMisting(due.at_s, float(np.median([values[one.top] for one in same])))

    return None


def due_times(
    begins: Seconds, now_s: int, zone: str, *, is_open: bool = False
) -> Iterator[DueTime]:
    """Times of each of the last days that are late today, the latest first.

    Parameters
    ----------
    begins : array
        When it came: seconds since 1970, rising.
    is_open : bool
        It was told before: then it is late for a whole day.
    """
    longest_s = DAY_S if is_open else LATE_S
    local = begins + local_offsets(begins, zone)
    offset_s = int(local_offsets(np.array([now_s], dtype=np.int64), zone)[0])

    for own in reversed(local):
        due_local = int(own) + DAY_S
        if not WAITED_S <= now_s + offset_s - due_local <= longest_s:
            continue
        days = [np.abs(local - (own - day * DAY_S)) <= SAME_TIME_S for day in range(SAME_DAYS)]
        if not all(one.any() for one in days):
            continue
        due_s = due_local - offset_s
        numbers = tuple(int(np.argmax(one)) for one in days)
        yield DueTime(due_s, due_s - SAME_TIME_S, numbers)


def has_values_around(at_s: Seconds, due_s: int) -> bool:
    """Whether values stand from before a time on, without a gap that hides what came."""
    near = at_s[at_s >= due_s - SAME_TIME_S]
    if len(near) < 3 or near[0] > due_s:
        return False
    return int(np.diff(near).max()) <= WAITED_S


def _largest_rise(values: Values) -> float:
    """From a value up to a later one, the largest [%]."""
    return float((values - np.minimum.accumulate(values)).max())


@dataclass(frozen=True)
class Hunting:
    """A thermostat that swings too far, again and again."""

    since_s: int
    swing_k: float


def hunting(at_s: Seconds, values: Values, now_s: int) -> Hunting | None:
    """Whether temperature swings up and down over the last hours as a thermostat makes it that hunts.

    Parameters
    ----------
    at_s : array
        Seconds since 1970, rising.
    values : array
        Temperature [°C].
    """
    near = at_s >= now_s - HUNTING_S
    part_s, part = at_s[near], values[near]
    if len(part) < 4 * HUNTING_CYCLES or float(np.median(np.diff(part_s))) > MOST_STEP_S:
        return None
    turns = turning_points(part, HUNTING_K)
    if len(turns) < 2 * HUNTING_CYCLES:
        return None
    swing = float(np.median(np.abs(np.diff(part[turns]))))

    return Hunting(int(part_s[turns[0]]), swing)
