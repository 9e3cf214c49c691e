"""What the devices of an enclosure tell of themselves: a misting pump that did not run or does not stop,
a thermostat that heats at full power for hours.

Method: docs/methods/alarms.md.
"""

from dataclasses import dataclass

import numpy as np

from husbandry.records.moments import HOUR_S
from husbandry.records.series import Seconds, Values
from husbandry.records.watch_rhythm import DueTime, due_times, has_values_around

RUNS_W = 1.0
"""A pump that draws more runs: at rest its plug shows less (common practice) [W]."""
RUNS_ON_S = 10 * 60
"""A misting takes seconds to a few minutes: after so long the enclosure floods, and a pump whose tank is
empty runs hot (common practice) [s]."""
FULL_SHARE = 0.95
"""From this share of full heating on a thermostat gives all that it has (design choice) [1]."""
FULL_S = 3 * HOUR_S
"""So long at the least: warming up in the morning takes less (design choice) [s]."""
USUAL_FULL = 0.8
"""Where it gives more than that on other days, too, the heater is weak and not broken (design choice)
[1]."""
FULL_DAYS = 3
"""Days before that are needed to know what is usual (design choice) [days]."""


@dataclass(frozen=True)
class PumpRun:
    """One run of a pump."""

    begin_s: int
    end_s: int
    """The last value at which it drew power."""


def pump_runs(at_s: Seconds, power_w: Values) -> list[PumpRun]:
    """Runs of a pump, in order of time.

    Parameters
    ----------
    at_s : array
        Seconds since 1970, rising.
    power_w : array
        At its plug [W].
    """
    on_s = at_s[power_w > RUNS_W]
    if not len(on_s):
        return []
    off_s = at_s[power_w <= RUNS_W]
    # a run ends where the plug shows that nothing is drawn, or where its values stop
    between = np.searchsorted(off_s, on_s[1:]) > np.searchsorted(off_s, on_s[:-1])
    breaks = np.flatnonzero(between | (np.diff(on_s) > RUNS_ON_S))
    firsts = np.concatenate(([0], breaks + 1))
    lasts = np.concatenate((breaks, [len(on_s) - 1]))

    return [
        PumpRun(int(on_s[first]), int(on_s[last]))
        for first, last in zip(firsts, lasts, strict=True)
    ]


def missed_run(
    at_s: Seconds, power_w: Values, zone: str, *, is_open: bool = False
) -> DueTime | None:
    """The latest run that came on each of the days before and not today; None where none is missing.

    Parameters
    ----------
    at_s : array
        Seconds since 1970, rising.
    power_w : array
        At the pump's plug [W].
    zone : str
        Of the room, by its IANA name: timers keep its clock.
    is_open : bool
        It was told before: it ends with the next run or after a day.
    """
    if len(at_s) < 2:
        return None
    begins = np.array([one.begin_s for one in pump_runs(at_s, power_w)], dtype=np.int64)

    for due in due_times(begins, int(at_s[-1]), zone, is_open=is_open):
        if not has_values_around(at_s, due.at_s):
            continue
        return None if len(begins) and begins[-1] >= due.first_s else due

    return None


def runs_on(at_s: Seconds, power_w: Values) -> PumpRun | None:
    """A run that goes on for longer than any misting; None where the pump rests."""
    runs = pump_runs(at_s, power_w)
    if not runs or runs[-1].end_s != int(at_s[-1]):
        return None
    last = runs[-1]

    return last if last.end_s - last.begin_s >= RUNS_ON_S else None


@dataclass(frozen=True)
class FullHeating:
    """A thermostat that gives all that it has, and did not on the days before."""

    since_s: int
    usual: float
    """Share of full heating at these hours on other days [1]."""


def full_heating(at_s: Seconds, shares: Values) -> FullHeating | None:
    """Whether a thermostat heats at full power for hours as it does on no other day.

    Parameters
    ----------
    at_s : array
        Seconds since 1970, rising.
    shares : array
        Of full heating [1].
    """
    if len(at_s) < 2:
        return None
    last_s = int(at_s[-1])
    own = _window(at_s, shares, last_s)
    if len(own) < 3 or float(own.min()) < FULL_SHARE:
        return None
    before = [_window(at_s, shares, last_s - day * 24 * HOUR_S) for day in range(1, 8)]
    known = [float(one.mean()) for one in before if len(one) >= 3]
    if len(known) < FULL_DAYS or max(known) > USUAL_FULL:
        return None
    less = np.flatnonzero(shares < FULL_SHARE)

    return FullHeating(int(at_s[less[-1] + 1]) if len(less) else last_s, float(np.median(known)))


def _window(at_s: Seconds, values: Values, end_s: int) -> Values:
    """Values of the hours before a moment; none where they do not fill them."""
    near = (at_s > end_s - FULL_S - 60) & (at_s <= end_s)
    own_s = at_s[near]
    is_whole = len(own_s) and own_s[0] <= end_s - FULL_S + 900 and np.diff(own_s).max() <= 1800

    return values[near] if is_whole else values[:0]
