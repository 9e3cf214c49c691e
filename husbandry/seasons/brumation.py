"""A brumation, planned backwards from the day on which it begins: check, last meal, shorter days,
cooling, weighings, limits of loss, and the way back.

Method: docs/methods/seasons.md. Planning help; whether an animal is fit to brumate is a veterinarian's
word.
"""

import datetime as dt
from typing import Literal, NamedTuple

from husbandry.derivation import Derivation, Source, named_value
from husbandry.errors import ImpossibleStateError
from husbandry.species.care import Season
from husbandry.species.needs import NeedKey
from husbandry.species.profile import Profile

Kind = Literal[
    "check", "last meal", "day", "retreat", "rest", "weigh", "wake", "water", "first meal"
]
STEP_DAYS, WAKE_STEP_DAYS = 7, 4
"""Each step of a shorter day lasts a week, each of a longer one half that (common practice) [days]."""
DARK_STEPS_H = (8.0, 6.0, 4.0)
"""Day lengths on the way into rest (common practice: 12 to 8 to 6 to 4 h by midwinter) [h]."""
RESTING_WEIGH_DAYS = 14
"""In rest (common practice: every fortnight, without waking it further) [days]."""
FIRST_MEAL_DAYS = 5
"""After the days are long and the enclosure is warm again (common practice: three to seven) [days]."""
IN_CARE_DAYS = 180
"""Who came later than that before the last meal does not rest this winter (common practice: half a
year, a season of feeding) [days].
"""
LOST_SHARE, SICK_DAYS = 0.05, 90
"""Who has lost so much since its best weight, or was not well so lately, does not rest (common
practice) [1, days].
"""
BEST_DAYS = 183
"""Its best weight is that of so many days back, half a year (common practice) [days]."""
LOOK, STOP = 0.05, 0.10
"""Loss at which a resting animal is looked at, and at which its rest ends (source: feeding C6)
[1].
"""
TORTOISE_LOOK, TORTOISE_STOP = 0.04, 0.08
"""Shares of its weight at the beginning of rest: looked at, ended (source: feeding C6: watch 1 % a
month, stop well before 8 to 10 %) [1].
"""
CHECK_DAYS = 42
"""A veterinarian looks at it so long before (common practice: some six weeks, time for droppings
and treatment) [days].
"""


class BrumationStep(NamedTuple):
    """Something to do on a day."""

    on: dt.date
    kind: Kind
    hours: float | None = None
    """Of light from then on [h]."""
    temp_c: float | None = None
    """Of its air from then on [°C]."""


class Limits(NamedTuple):
    """Weights at which a rest is looked at and ended [g]."""

    look_g: float
    stop_g: float


class Dormancy(NamedTuple):
    """A planned brumation or aestivation."""

    steps: tuple[BrumationStep, ...]
    last_meal: dt.date
    begins: dt.date
    """First day of full rest."""
    ends: dt.date
    """First day of waking."""
    first_meal: dt.date
    temp_c: tuple[float, float]
    weigh_days: int


class BrumationFitness(NamedTuple):
    """What is known of an animal that might rest."""

    stage: str
    mass_known: bool
    lost_share: float | None
    """Of its best weight of the last half year [1]."""
    in_care_days: int | None
    not_well: bool
    """Something was noted within three months."""


def why_not(profile: Profile, fit: BrumationFitness) -> tuple[str, ...]:
    """Every reason against dormancy, in sentences; empty where nothing known speaks against it."""
    season = profile.season
    if season.dormancy == "none" or season.dormancy_weeks is None or season.dormancy_c is None:
        return (
            (
                f"The {profile.name} does not rest in winter: where it comes from no winter makes"
                " it. A rest would harm it."
            ),
        )
    return _unfit(profile, fit)


def _unfit(profile: Profile, fit: BrumationFitness) -> tuple[str, ...]:
    """What speaks against any rest."""
    season = profile.season
    found = []
    grown = {stage.slug for stage in profile.stages[-2:]}
    if fit.stage not in grown and season.dormancy != "obligate":
        found.append("It is still growing: its first winters it stays awake and fed.")
    if fit.stage == profile.stages[0].slug and season.dormancy == "obligate":
        found.append(
            "It is in its first months: at the most a short rest, and only by a veterinarian’s"
            " word."
        )
    if not fit.mass_known:
        found.append("Nobody has weighed it: without a weight no loss can be seen.")
    if fit.lost_share is not None and fit.lost_share >= LOST_SHARE:
        found.append(
            f"It has lost {fit.lost_share:.0%} of its best weight: first it is looked at, and"
            " feeds up."
        )
    if fit.in_care_days is not None and fit.in_care_days < IN_CARE_DAYS:
        found.append(
            f"It has been here for {fit.in_care_days} days only: half a year of feeding comes"
            " first."
        )
    if fit.not_well:
        found.append("It was not well of late: a sick animal dies in its rest.")
    return tuple(found)


def usual_begin(lat_deg: float, year: int) -> dt.date:
    """The first day of full rest as it is usual: early December north of the equator, early June
    south of it (common practice).
    """
    return dt.date(year, 12, 6) if lat_deg >= 0 else dt.date(year, 6, 6)


def plan_dormancy(profile: Profile, begins: dt.date, weeks: float) -> Dormancy:
    """A rest of so many weeks whose full cold begins on a day.

    Raises
    ------
    ValueError
        For a species that does not brumate, or weeks that are not its own.
    """
    season = profile.season
    if season.dormancy_weeks is None or season.dormancy_c is None:
        raise ValueError(f"the {profile.name} does not rest")
    low, high = season.dormancy_weeks.ends
    if not low <= weeks <= high:
        raise ValueError(f"its species rests {low:g} to {high:g} weeks")
    fast = round((season.last_meal_days.ends[1] if season.last_meal_days else 14) or 14)
    shortens = begins - dt.timedelta(days=STEP_DAYS * len(DARK_STEPS_H))
    last_meal = shortens - dt.timedelta(days=max(fast, 1))
    ends = begins + dt.timedelta(days=round(7 * weeks))
    usual_c = _cool_c(profile)
    cold_c = season.dormancy_c.middle
    usual_h = profile.photoperiod_h.span.ends[0]
    dark = [hours for hours in DARK_STEPS_H if hours < usual_h]
    steps = [
        BrumationStep(last_meal - dt.timedelta(days=CHECK_DAYS), "check"),
        BrumationStep(last_meal, "last meal"),
        BrumationStep(last_meal, "weigh"),
    ]
    for n, hours in enumerate(dark):
        share = (n + 1) / (len(dark) + 1)
        steps.append(
            BrumationStep(
                shortens + dt.timedelta(days=STEP_DAYS * n),
                "day",
                hours,
                round(usual_c + share * (cold_c - usual_c), 1),
            )
        )
    steps.append(BrumationStep(begins, "rest", 0.0, cold_c))
    weigh_days = 30 if profile.group == "tortoise" else RESTING_WEIGH_DAYS
    day = begins
    while day < ends:
        steps.append(BrumationStep(day, "weigh"))
        day += dt.timedelta(days=weigh_days)
    for n, hours in enumerate([*reversed(dark), usual_h]):
        share = n / len(dark) if dark else 1.0
        temp = round(cold_c + share * (usual_c - cold_c), 1)
        steps.append(
            BrumationStep(
                ends + dt.timedelta(days=WAKE_STEP_DAYS * n),
                "wake" if n == 0 else "day",
                hours,
                temp,
            )
        )
    return _woken(begins, dark, ends, last_meal, season, steps, weigh_days)


def _woken(
    begins: dt.date,
    dark: list[float],
    ends: dt.date,
    last_meal: dt.date,
    season: Season,
    steps: list[BrumationStep],
    weigh_days: int,
) -> Dormancy:
    """Plan the weeks in which it wakes, and give the whole."""
    if season.dormancy_c is None:
        raise ImpossibleStateError("a season that is rested through has its temperature")
    warm = ends + dt.timedelta(days=WAKE_STEP_DAYS * len(dark))
    steps += [
        BrumationStep(ends, "weigh"),
        BrumationStep(ends, "water"),
        BrumationStep(warm + dt.timedelta(days=FIRST_MEAL_DAYS), "first meal"),
    ]
    order: tuple[Kind, ...] = (
        "check",
        "last meal",
        "day",
        "rest",
        "wake",
        "water",
        "weigh",
        "first meal",
    )
    ordered = sorted(steps, key=lambda step: (step.on, order.index(step.kind)))
    return Dormancy(
        tuple(ordered),
        last_meal,
        begins,
        ends,
        warm + dt.timedelta(days=FIRST_MEAL_DAYS),
        season.dormancy_c.ends,
        weigh_days,
    )


SUMMER_WEEKS = (2.0, 10.0)
"""An aestivation, by kinds that know one (common practice; seldom more under a roof) [weeks]."""
SUMMER_WEIGH_DAYS, SUMMER_FAST_DAYS = 7, 3
"""In heat water goes faster than fat: weighed weekly; a lighter gut is enough (common practice)
[days].
"""


def why_not_summer(profile: Profile, fit: BrumationFitness) -> tuple[str, ...]:
    """Every reason against an aestivation."""
    if not profile.season.aestivates:
        return (
            (
                f"The {profile.name} does not rest in summer: in a heat wave it needs a cooler room"
                " and its water, not a fast."
            ),
        )
    return tuple(reason for reason in _unfit(profile, fit) if reason)


def usual_summer(lat_deg: float, year: int) -> dt.date:
    """The first day of an aestivation as it is usual: early July north of the equator, early January
    south of it (common practice).
    """
    return dt.date(year, 7, 6) if lat_deg >= 0 else dt.date(year, 1, 6)


def plan_summer(profile: Profile, begins: dt.date, weeks: float) -> Dormancy:
    """An aestivation: no cold and no dark, a cool damp retreat, water always, and nothing forced.

    Raises ValueError as `plan_dormancy`.
    """
    if not profile.season.aestivates:
        raise ValueError(f"the {profile.name} does not rest in summer")
    if not SUMMER_WEEKS[0] <= weeks <= SUMMER_WEEKS[1]:
        raise ValueError(f"an aestivation takes {SUMMER_WEEKS[0]:g} to {SUMMER_WEEKS[1]:g} weeks")
    last_meal, ends = (
        begins - dt.timedelta(days=SUMMER_FAST_DAYS),
        begins + dt.timedelta(days=round(7 * weeks)),
    )
    cool = _cool_target(profile)
    steps = [
        BrumationStep(last_meal - dt.timedelta(days=CHECK_DAYS), "check"),
        BrumationStep(last_meal, "last meal"),
        BrumationStep(begins, "retreat", temp_c=cool[0]),
    ]
    day = begins
    while day < ends:
        steps.append(BrumationStep(day, "weigh"))
        day += dt.timedelta(days=SUMMER_WEIGH_DAYS)
    first_meal = ends + dt.timedelta(days=1)
    steps += [
        BrumationStep(ends, "weigh"),
        BrumationStep(ends, "water"),
        BrumationStep(first_meal, "first meal"),
    ]
    order: tuple[Kind, ...] = ("check", "last meal", "retreat", "water", "weigh", "first meal")
    return Dormancy(
        tuple(sorted(steps, key=lambda step: (step.on, order.index(step.kind)))),
        last_meal,
        begins,
        ends,
        first_meal,
        cool,
        SUMMER_WEIGH_DAYS,
    )


def _cool_target(profile: Profile) -> tuple[float, float]:
    """The cool end by day, both ends [°C]."""
    cool = next(
        (need for need in profile.needs if need.need in {NeedKey.COOL_AIR_DAY, NeedKey.WATER_DAY}),
        None,
    )
    if cool is None or cool.low is None or cool.high is None:
        return 20.0, 26.0
    return cool.low, cool.high


def _cool_c(profile: Profile) -> float:
    """The cool end by day as its species needs it when it is awake [°C]."""
    cool = next(
        (need for need in profile.needs if need.need in {NeedKey.COOL_AIR_DAY, NeedKey.WATER_DAY}),
        None,
    )
    ends = [end for end in (cool.low, cool.high) if end is not None] if cool is not None else []
    return sum(ends) / len(ends) if ends else 22.0


def limits(profile: Profile, mass_g: float) -> Limits:
    """Weights at which a rest that began at a mass is looked at, and ended [g]."""
    look, stop = (TORTOISE_LOOK, TORTOISE_STOP) if profile.group == "tortoise" else (LOOK, STOP)
    return Limits(mass_g * (1 - look), mass_g * (1 - stop))


def limits_derivation(profile: Profile, mass_g: float) -> tuple[Derivation, Derivation]:
    """The same two with their derivation [g]."""
    found = limits(profile, mass_g)
    inputs = (named_value("weight now", mass_g, "g"),)
    kind = "tortoises lose little" if profile.group == "tortoise" else "lizards and snakes"
    source = Source(kind="common practice", text="docs/sources/feeding.md, C6")
    look, stop = (
        Derivation(
            value=grams,
            unit="g",
            rule=f"{1 - grams / mass_g:.0%} less than at the beginning of rest ({kind}): {words}.",
            inputs=inputs,
            sources=(source,),
        )
        for grams, words in (
            (found.look_g, "looked at, with its water"),
            (found.stop_g, "the rest is ended, and a veterinarian called"),
        )
    )
    return look, stop


def is_dormant(dormancy: Dormancy, day: dt.date) -> bool:
    """Whether it gets no food on that day."""
    return dormancy.last_meal < day < dormancy.first_meal
