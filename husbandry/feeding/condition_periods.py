"""Condition periods in a life that change what is fed and what a refusal means: a shed, eggs, the
breeding season, illness, food brought up, arrival.

Method: docs/methods/condition.md.
"""

import datetime as dt
from collections.abc import Sequence
from typing import Literal, NamedTuple

from husbandry.derivation import Document
from husbandry.species.profile import Profile

Kind = Literal["shed", "gravid", "breeding", "unwell", "brought up"]
QUIET_DAYS = 7
"""After moving in: food and water, no handling (common practice) [days]."""
SHED_DAYS = 14
"""A snake in shed is not offered food for so long at most (common practice: one to two weeks)
[days].
"""
WAIT_DAYS, HALF_DAYS = 14, 28
"""After food was brought up: no meal, and half a meal (source: feeding C4: 10 to 14
days, then half) [days].
"""
GRAVID_SHARE = 0.75
"""Smaller meals, more often by as much (common practice) [1]."""


class ConditionPeriod(Document):
    """One that goes on, or of which the end still matters."""

    kind: Kind
    since: dt.date


class ConditionAllowance(NamedTuple):
    """What the condition periods make of the meals."""

    not_before: dt.date | None = None
    portion: float = 1.0
    interval: float = 1.0
    calcium_always: bool = False
    because: tuple[str, ...] = ()


def offered_to(profile: Profile, sex: str) -> tuple[Kind, ...]:
    """The condition periods that can be noted of an animal."""
    female = ("gravid",) if sex != "male" else ()
    return ("shed", *female, "breeding", "unwell", "brought up")


def eased(
    profile: Profile,
    condition_periods: Sequence[ConditionPeriod],
    arrived_on: dt.date | None,
    today: dt.date,
) -> ConditionAllowance:
    """What the condition periods of an animal change in its meals, with the reasons.

    Notes
    -----
    Whole prey needs a gut at rest: it waits through a shed, after food that was brought up, and for
    a week after arrival. What eats insects or plants
    is offered its food all the time. Illness changes nothing by itself: a veterinarian does.
    """
    whole = profile.supplements.plan == "whole prey"
    waits: list[dt.date] = []
    because: list[str] = []
    portion, interval, calcium = 1.0, 1.0, False
    if (
        arrived_on is not None
        and whole
        and today < (until := arrived_on + dt.timedelta(days=QUIET_DAYS))
    ):
        waits.append(until)
        because.append(f"it arrived on {arrived_on:%-d %B}: a week of quiet before its first meal")
    for condition_period in condition_periods:
        days = (today - condition_period.since).days
        match condition_period.kind:
            case "shed" if whole and days < SHED_DAYS:
                waits.append(condition_period.since + dt.timedelta(days=SHED_DAYS))
                because.append("in shed: it is offered food when the skin is off")
            case "shed":
                because.append("in shed: it may refuse, and that means nothing")
            case "brought up" if whole:
                if days < WAIT_DAYS:
                    waits.append(condition_period.since + dt.timedelta(days=WAIT_DAYS))
                if days < HALF_DAYS:
                    portion = 0.5
                    because.append(
                        f"it brought food up on {condition_period.since:%-d %B}: two weeks without,"
                        " then half a meal; a second time is for the veterinarian"
                    )
            case "brought up":
                because.append(
                    f"it brought food up on {condition_period.since:%-d %B}: a veterinarian is"
                    " asked"
                )
            case "gravid":
                portion, interval, calcium = portion * GRAVID_SHARE, GRAVID_SHARE, True
                because.append(
                    "with eggs or young: smaller meals more often, with calcium; near the end it"
                    " may stop"
                )
            case "breeding":
                because.append("breeding season: it may refuse for weeks; the scale decides")
            case "unwell":
                because.append("unwell: fed as the veterinarian says")
    return ConditionAllowance(max(waits, default=None), portion, interval, calcium, tuple(because))
