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
class _DueMisting:
    """A misting that comes each day."""

    at_s: int
    rise_pct: float
    top_pct: float


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
    longest_s = DAY_S if is_open else LATE_S

    for due in _due(at_s, values, zone, longest_s):
        near = at_s >= due.at_s - SAME_TIME_S
        if not _is_whole(at_s[near], due.at_s):
            continue
        if _largest_rise(values[near]) >= MISTED_SHARE * due.rise_pct:
            return None
        return MissedMisting(due.at_s, due.top_pct)

    return None


def _due(at_s: Seconds, values: Values, zone: str, longest_s: int) -> Iterator[_DueMisting]:
    """Mistings of each of the last days that are late today, the latest first."""
    rises = list(misting_rises(at_s, values))
    begins = np.array([one.begin_s for one in rises], dtype=np.int64)
    local = begins + local_offsets(begins, zone)
    offset_s = int(local_offsets(at_s[-1:], zone)[0])
    now_local = int(at_s[-1]) + offset_s

    for own in reversed(local):
        due_local = int(own) + DAY_S
        if not WAITED_S <= now_local - due_local <= longest_s:
            continue
        days = [np.abs(local - (own - day * DAY_S)) <= SAME_TIME_S for day in range(SAME_DAYS)]
        if not all(one.any() for one in days):
            continue
        same = [rises[int(np.argmax(one))] for one in days]
        yield _DueMisting(
            due_local - offset_s,
            float(np.median([one.rise_pct for one in same])),
            float(np.median([values[one.top] for one in same])),
        )


def _is_whole(at_s: Seconds, due_s: int) -> bool:
    """Whether values stand from before it was due on, without a gap that hides it."""
    if len(at_s) < 3 or at_s[0] > due_s:
        return False
    return int(np.diff(at_s).max()) <= WAITED_S


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
