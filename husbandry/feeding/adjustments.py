"""What leads the meals of one animal away from the usual of its stage: its condition, the scale,
and the condition periods it is in.
"""

import datetime as dt
from collections.abc import Sequence
from typing import NamedTuple

from husbandry.feeding.condition import DAILY_DAYS, Condition, applied, pace_by_condition
from husbandry.feeding.condition_periods import ConditionPeriod, eased
from husbandry.seasons.summer_and_winter import LEAN_FACTOR, lean
from husbandry.species.parts import MealSpec
from husbandry.species.profile import Profile


class MealAdjustment(NamedTuple):
    """How its meals differ from the usual, and why."""

    factor: float = 1.0
    """Interval by condition over the usual [1]."""
    portion: float = 1.0
    interval: float = 1.0
    """By condition periods, over that [1]."""
    not_before: dt.date | None = None
    calcium_always: bool = False
    because: tuple[str, ...] = ()

    def meal(self, share: float, every_days: float, spec: MealSpec) -> tuple[float, float]:
        """Share of mass and interval [days] of a meal."""
        share, every_days = applied(self.factor, share, every_days, spec)
        if every_days > DAILY_DAYS:
            every_days *= self.interval
            return share * self.portion, every_days
        return share * (self.portion if self.interval == 1.0 else 1.0), every_days


NO_ADJUSTMENT = MealAdjustment()
MOST_FACTOR = 1.5
"""However much comes together, no interval grows by more than half (design choice: energy stays
plausible) [1].
"""


def lead_of(
    profile: Profile,
    stage: str,
    *,
    today: dt.date,
    condition: Condition | None = None,
    trend: float | None = None,
    condition_periods: Sequence[ConditionPeriod] = (),
    arrived_on: dt.date | None = None,
    lat_deg: float = 0.0,
) -> MealAdjustment:
    """What leads the meals of an animal.

    The trend of the scale is left alone while eggs or illness move it.

    Parameters
    ----------
    lat_deg : float
        Of its room: when its winter is. On the equator there is none.
    """
    carried = any(
        condition_period.kind in {"gravid", "unwell"} for condition_period in condition_periods
    )
    grown = stage == profile.grown.slug
    moved = pace_by_condition(condition, None if carried else trend, grown=grown, today=today)
    spared = eased(profile, condition_periods, arrived_on, today)
    winter = lat_deg != 0 and not carried and lean(profile, stage, today, lat_deg)
    dark = ("the darkest weeks: grown, it is fed less often",) if winter else ()
    return MealAdjustment(
        min(moved.interval * (LEAN_FACTOR if winter else 1.0), MOST_FACTOR),
        spared.portion,
        spared.interval,
        spared.not_before,
        spared.calcium_always,
        (*spared.because, *moved.because, *dark),
    )


def held(
    days: Sequence[dt.date], every_days: float, not_before: dt.date | None, end: dt.date
) -> list[dt.date]:
    """Days of a kind of meal, of which none lies before a day: the first that was held back is
    given on it, and the next follow at their distance.
    """
    if not_before is None or not days or days[0] >= not_before:
        return list(days)
    later = [day for day in days if day >= not_before]
    if not_before >= end:
        return []
    least = dt.timedelta(days=max(1, round(every_days / 2)))
    return [not_before, *(day for day in later if day - not_before >= least)]
