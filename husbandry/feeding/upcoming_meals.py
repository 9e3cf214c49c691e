"""Meals to come, from the meals that were given: what was logged is a fact, and the calendar is
laid around it. Method: docs/methods/feeding.md.
"""

import datetime as dt
import math
from collections.abc import Iterable, Mapping, Sequence
from typing import NamedTuple

from husbandry.feeding.adjustments import held
from husbandry.feeding.calendar import Diet, Meal, grid
from husbandry.feeding.supplements import SkippedDose, SupplementRule, schedule

FROM_LAST_DAYS = 5.0
"""From this interval on a meal is counted from the last one; more frequent meals keep the days of
their grid (design choice) [days].
"""


class GivenMeal(NamedTuple):
    """A meal that was offered."""

    on: dt.date
    slug: str
    """Of its kind of meal."""
    products: tuple[str, ...] = ()
    """Supplements that were on what was eaten."""
    eaten: bool = True
    """False where it was refused."""


class UpcomingMeal(NamedTuple):
    """A meal to come."""

    day: dt.date
    slug: str
    due: dt.date
    """On which it would have been; before `day` when it is overdue."""
    products: tuple[str, ...] = ()
    reasons: tuple[str, ...] = ()


class MealPace(NamedTuple):
    """A kind of meal by what the calendar needs of it."""

    slug: str
    every_days: float
    carries: bool
    """Supplement goes on it."""
    not_before: dt.date | None = None
    """It is held back until then."""


def meal_days(
    every_days: float, anchor: dt.date, last: dt.date | None, today: dt.date, days: int
) -> list[tuple[dt.date, dt.date]]:
    """Days of a kind of meal from today on, each with the day on which it was due.

    Parameters
    ----------
    anchor : date
        On which the grid of frequent meals stands.
    last : date or None
        On which it was last offered. A meal that was missed since is due today, once; the next keep
        their days.

    Notes
    -----
    Up to five days apart a meal keeps the days of its grid, and one that came late moves no other,
    but for those closer than half an interval.
    Further apart the interval counts from the last one.
    """
    end = today + dt.timedelta(days=days)
    if last is None:
        return [(day, day) for day in grid(every_days, anchor, today, days)]
    least = dt.timedelta(days=max(1, math.ceil(every_days / 2)))
    if every_days >= FROM_LAST_DAYS:
        step = dt.timedelta(days=max(1, round(every_days)))
        due = last + step
        first = max(due, today)
        later = [first + n * step for n in range(math.ceil((end - first) / step))]
        return [(day, due if day == first else day) for day in later]
    after = last + least
    due_lists = grid(every_days, anchor, after, max((end - after).days, 0))
    late = [day for day in due_lists if day < today]
    found = [(today, late[0])] if late else []
    for day in due_lists:
        if day >= today and (not late or day - today >= least):
            found.append((day, day))
    return found


def coming(
    paces: Sequence[MealPace],
    rules: tuple[SupplementRule, ...],
    anchor: dt.date,
    fed: Iterable[GivenMeal],
    today: dt.date,
    days: int,
) -> tuple[list[UpcomingMeal], list[SkippedDose]]:
    """Meals of an animal from today on, with the supplement on each: laid deterministically around
    what was given.

    The same facts give the same calendar on every day that nothing happens; a meal that was skipped
    or moved neither doubles a dose nor loses it.
    """
    fed = list(fed)
    known = {pace.slug for pace in paces}
    last = {slug: max((one.on for one in fed if one.slug == slug), default=None) for slug in known}
    planned = [
        (day, due, pace)
        for pace in paces
        for day, due in _held(pace, anchor, last[pace.slug], today, days)
    ]
    given = _facts(fed)
    dusted = sorted({day for day, _, pace in planned if pace.carries and day not in given})
    doses, lapses = schedule(rules, dusted, anchor, given)
    on_day: dict[dt.date, list[tuple[str, str]]] = {}
    for dose in doses:
        on_day.setdefault(dose.day, []).append((dose.product, dose.reason))
    found = []
    for day, due, pace in planned:
        here = on_day.get(day, []) if pace.carries else []
        found.append(
            UpcomingMeal(
                day,
                pace.slug,
                due,
                tuple(product for product, _ in here),
                tuple(reason for _, reason in here),
            )
        )
    order = {pace.slug: n for n, pace in enumerate(paces)}
    return sorted(found, key=lambda one: (one.day, order[one.slug])), [
        lapse for lapse in lapses if lapse.due >= today
    ]


def _held(
    pace: MealPace, anchor: dt.date, last: dt.date | None, today: dt.date, days: int
) -> list[tuple[dt.date, dt.date]]:
    """Days and due days of a kind of meal, none of them before it may be given."""
    found = meal_days(pace.every_days, anchor, last, today, days)
    if pace.not_before is None:
        return found
    due_lists = dict(found)
    kept = held(
        [day for day, _ in found],
        pace.every_days,
        pace.not_before,
        today + dt.timedelta(days=days),
    )
    return [(day, due_lists.get(day, day)) for day in kept]


def relaid(
    diet: Diet, carries: Iterable[str], anchor: dt.date, fed: Iterable[GivenMeal], today: dt.date
) -> Diet:
    """A planned diet with its days laid around what was given; as it was where nothing was logged.

    Parameters
    ----------
    carries : iterable of str
        Kinds of meal that supplement goes on.
    """
    fed = list(fed)
    carries = set(carries)
    if not fed:
        return diet
    paces = [
        MealPace(plan.slug, plan.every_days.value, plan.slug in carries, plan.not_before)
        for plan in diet.plans
    ]
    names = {plan.slug: plan.name for plan in diet.plans}
    meals, lapses = coming(paces, diet.rules, anchor, fed, today, 7 * diet.weeks)
    laid = tuple(
        Meal(
            day=one.day,
            slug=one.slug,
            name=names[one.slug],
            dusted_with=one.products,
            reason="; ".join(one.reasons),
        )
        for one in meals
    )
    return diet.model_copy(update={"meals": laid, "lapses": tuple(lapses)})


def _facts(fed: Sequence[GivenMeal]) -> Mapping[dt.date, tuple[str, ...]]:
    """What went on the food of each day."""
    found: dict[dt.date, tuple[str, ...]] = {}
    for one in fed:
        found[one.on] = (*found.get(one.on, ()), *one.products)
    return found
