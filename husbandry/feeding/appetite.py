"""When a refusal is a worry: how long an animal may go without, by its species and stage, and what
makes it bear longer. Method: docs/methods/condition.md.
"""

import datetime as dt
from collections.abc import Sequence
from typing import Literal, NamedTuple

from husbandry.feeding.condition_periods import ConditionPeriod
from husbandry.feeding.supplements import pace_of
from husbandry.feeding.upcoming_meals import GivenMeal
from husbandry.species.profile import Profile

HUNGER_DAYS: dict[str, dict[str, int]] = {
    "snake": {"hatchling": 14, "juvenile": 30, "adult": 60},
    "lizard": {"hatchling": 3, "juvenile": 5, "adult": 10},
    "tortoise": {"hatchling": 3, "juvenile": 5, "adult": 10},
    "turtle": {"hatchling": 3, "juvenile": 7, "adult": 14},
    "frog": {"hatchling": 2, "juvenile": 5, "adult": 14},
    "salamander": {"hatchling": 3, "juvenile": 7, "adult": 21},
}
"""Refused for so long it goes to a veterinarian (source: feeding C6: hatchling
snake 14, grown snake 60 at a stable weight, hatchling lizard
2 to 3, froglet 1 to 2, grown lizard 7 to 10; the others common practice) [days].
"""
LEAST_REFUSED = 2
"""A single refused meal is nothing (common practice, no source)."""
WATCH_SHARE = 0.5
"""Of that time, from which it is said (design choice) [1]."""
LOSS_PCT = -5.0
"""Beyond that loss in 90 days no condition period excuses a refusal (source: feeding C6) [%]."""
EXCUSED_DAYS: dict[str, int] = {"shed": 21, "breeding": 120, "gravid": 60}
"""For how long a condition period excuses refusals (common practice) [days]."""


class RefusalWarning(NamedTuple):
    """A refusal that is worth a word."""

    severity: Literal["fact", "watch", "vet"]
    text: str


def hunger_days(profile: Profile, stage: str) -> int:
    """How long an animal of that stage may refuse before a veterinarian is asked [days]."""
    group = "frog" if profile.group == "toad" else profile.group
    return HUNGER_DAYS[group][pace_of(stage, first=stage == profile.stages[0].slug)]


def worry(
    hunger: int,
    fed: Sequence[GivenMeal],
    condition_periods: Sequence[ConditionPeriod],
    today: dt.date,
    *,
    trend: float | None = None,
    resting: bool = False,
    winter: bool = False,
) -> RefusalWarning | None:
    """What the refusals of an animal mean today; None while they mean nothing.

    Parameters
    ----------
    hunger : int
        How long its species and stage bear it [days].
    fed : sequence of GivenMeal
        Meals offered of late.
    trend : float or None
        Change of mass in 90 days [%].
    winter : bool
        It is the lean time of a grown animal's year.
    """
    if resting or not fed:
        return None
    last = max((one.on for one in fed if one.eaten), default=None)
    refused = sorted({one.on for one in fed if not one.eaten and (last is None or one.on > last)})
    if not refused:
        return None
    if any(condition_period.kind == "unwell" for condition_period in condition_periods):
        return RefusalWarning(
            "vet",
            f"Unwell, and refused food on {refused[-1]:%-d %B}: tell the veterinarian today.",
        )
    losing = trend is not None and trend <= LOSS_PCT
    why = _excuse(condition_periods, today, winter=winter)
    if why and not losing:
        text = f"Refuses since {refused[0]:%-d %B}: {why}. Go by the scale."
        return RefusalWarning("fact", text)
    days = (today - (last or refused[0])).days
    return _by_time(days, len(refused), hunger, abs(trend or 0) if losing else None)


def _excuse(condition_periods: Sequence[ConditionPeriod], today: dt.date, *, winter: bool) -> str:
    """Why a refusal is usual now; empty where nothing excuses it."""
    words = {
        "shed": "in shed, that is usual",
        "breeding": "in its breeding season, that is usual",
        "gravid": "carrying, that is usual",
    }
    for one in condition_periods:
        if one.kind in EXCUSED_DAYS and (today - one.since).days <= EXCUSED_DAYS[one.kind]:
            return words[one.kind]
    return "grown ones of its species eat little in the darkest weeks" if winter else ""


def _by_time(
    days: int, refused: int, hunger: int, lost_pct: float | None
) -> RefusalWarning | None:
    """What nothing excuses, by how long it has eaten nothing and what it has lost [%]."""
    times = f"{refused} times" if refused > 1 else "once"
    if days >= hunger and refused >= LEAST_REFUSED:
        return RefusalWarning(
            "vet",
            f"Ate nothing for {days} days, refused {times}: its species at this age bears about"
            f" {hunger}. A veterinarian.",
        )
    if lost_pct is not None:
        return RefusalWarning(
            "vet",
            f"Refused {times} and has lost {lost_pct:.0f} % in three months: a veterinarian.",
        )
    if days >= WATCH_SHARE * hunger and refused >= LEAST_REFUSED:
        return RefusalWarning(
            "watch",
            f"Ate nothing for {days} days, refused {times}. Check warmth, hides and prey size; from"
            f" {hunger} days on a veterinarian.",
        )
    return None
