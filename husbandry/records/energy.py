"""What a smart plug tells: energy a day, and that nothing draws power when it should.

Method: docs/methods/records.md and docs/methods/alarms.md.
"""

import math
from dataclasses import dataclass

import numpy as np

from husbandry.records.moments import DAY_S, HOUR_S
from husbandry.records.series import LONGEST_H, Seconds, Values

DRAW_S = 2 * HOUR_S
"""Its mean over so long is looked at: a thermostat pauses for less (design choice) [s]."""
DRAW_DAYS = 3
"""Days before on which it drew at this time, at the least (design choice) [days]."""
DRAWS_W, IDLE_W = 5.0, 2.0
"""It draws in the middle of those days, and on every one, at the least (design choice) [W]."""
DRAW_SHARE = 0.1
"""Of it, below which it draws nothing (design choice) [1]."""


def energy_kwh_a_day(at_s: Seconds, power_w: Values) -> float:
    """Energy of a day in the mean; nan where too little was logged [kWh].

    A value stands for the time until the next, and no longer than two hours.
    """
    if len(at_s) < 2:
        return math.nan
    stands_s = np.minimum(np.diff(at_s), LONGEST_H * HOUR_S)
    if stands_s.sum() < DAY_S / 2:
        return math.nan
    return float((power_w[:-1] * stands_s).sum() / stands_s.sum()) * 24 / 1000


@dataclass(frozen=True)
class MissingDraw:
    """Nothing draws power at a time at which something did on other days."""

    since_s: int
    usual_w: float


def missing_draw(at_s: Seconds, power_w: Values) -> MissingDraw | None:
    """Whether the last hours drew nothing, against the same hours of the days before.

    Parameters
    ----------
    at_s : array
        Seconds since 1970, rising.
    power_w : array
        At the plug [W].
    """
    if not len(at_s):
        return None
    last_s = int(at_s[-1])
    own = _mean(at_s, power_w, last_s)
    before = [_mean(at_s, power_w, last_s - day * DAY_S) for day in range(1, 8)]
    known = [one for one in before if not math.isnan(one)]
    if math.isnan(own) or len(known) < DRAW_DAYS or min(known) < IDLE_W:
        return None
    usual = float(np.median(known))
    if usual < DRAWS_W or own >= DRAW_SHARE * usual:
        return None
    drew = np.flatnonzero(power_w >= DRAW_SHARE * usual)

    return MissingDraw(int(at_s[drew[-1]]) if len(drew) else last_s - DRAW_S, usual)


def _mean(at_s: Seconds, power_w: Values, end_s: int) -> float:
    near = (at_s > end_s - DRAW_S) & (at_s <= end_s)
    return float(power_w[near].mean()) if int(near.sum()) >= 3 else math.nan
