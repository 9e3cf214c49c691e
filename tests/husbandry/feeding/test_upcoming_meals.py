"""Meals and supplements laid around what was given: skipped, moved, late, twice (check values:
decisions 9; two days in seven, weekly, fortnightly).
"""

import datetime as dt
import itertools
import random

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from husbandry.feeding.calendar import four_weeks
from husbandry.feeding.supplements import SupplementRule, default_rules
from husbandry.feeding.upcoming_meals import (
    GivenMeal,
    MealPace,
    UpcomingMeal,
    coming,
    meal_days,
    relaid,
)
from husbandry.species.library import find

DAY = dt.date(2026, 3, 2)
FORTNIGHT = default_rules("adult", uvb=True, approaches={})
HATCHLING = default_rules("hatchling", uvb=True, approaches={})


def after(days: int) -> dt.date:
    return DAY + dt.timedelta(days=days)


def live(
    every: float,
    rules: tuple[SupplementRule, ...],
    days: int,
    eats: "random.Random | None" = None,
    chance: float = 1.0,
) -> list[GivenMeal]:
    """Day by day: what is due today is given, or skipped by chance, and logged; the next day is
    planned from the log.
    """
    paces, log = (MealPace("insects", every, True),), []
    for n in range(days):
        for one in coming(paces, rules, DAY, log, after(n), 28)[0]:
            if one.day == after(n) and (eats is None or eats.random() < chance):
                log.append(GivenMeal(one.day, one.slug, one.products))
    return log


def days_of(log: list[GivenMeal], product: str) -> list[int]:
    return [(one.on - DAY).days for one in log if product in one.products]


def test_hatchlings_get_vitamins_on_two_days_in_seven_and_calcium_on_the_others() -> None:
    log = live(1, HATCHLING, 56)
    vitamins = days_of(log, "multivitamin")
    assert len(log) == 56 and vitamins[:4] == [0, 3, 7, 10] and len(vitamins) == 16
    assert len(days_of(log, "calcium")) == 40


def test_adults_get_vitamins_every_fortnight_whatever_the_rhythm_of_meals() -> None:
    """A fortnight on a three day calendar: the nearest meals are 0, 15, 27, 42, 57, 69, 84
    (source: feeding C5).
    """
    assert days_of(live(3, FORTNIGHT, 90), "multivitamin") == [0, 15, 27, 42, 57, 69, 84]
    assert days_of(live(1, FORTNIGHT, 60), "multivitamin") == [0, 14, 28, 42, 56]


def test_a_skipped_meal_neither_loses_nor_doubles_a_dose() -> None:
    """The meal with the vitamin is skipped: it comes with the next, and the one after keeps its own
    day.
    """
    paces = (MealPace("insects", 2, True),)
    log = [GivenMeal(after(n), "insects", ("calcium",)) for n in range(0, 14, 2)]
    log[0] = GivenMeal(after(0), "insects", ("multivitamin",))
    plan = coming(paces, FORTNIGHT, DAY, log, after(15), 28)[0]  # the fourteenth was missed
    assert plan[0] == UpcomingMeal(
        after(15), "insects", after(14), ("multivitamin",), plan[0].reasons
    )
    doses = [one.day for one in plan if "multivitamin" in one.products]
    assert doses == [after(15), after(28), after(42)]


def test_a_refused_meal_carries_no_dose() -> None:
    """It was offered, so the interval counts from it, but what was not eaten was not given."""
    paces = (MealPace("insects", 2, True),)
    log = [GivenMeal(after(0), "insects")]
    plan = coming(paces, FORTNIGHT, DAY, log, after(1), 10)[0]
    assert plan[0].day == after(2) and plan[0].products == ("multivitamin",)


def test_a_dose_given_out_of_turn_answers_the_one_that_is_due() -> None:
    paces = (MealPace("insects", 1, True),)
    log = [
        GivenMeal(after(0), "insects", ("multivitamin",)),
        GivenMeal(after(11), "insects", ("multivitamin",)),
    ]
    plan = coming(paces, FORTNIGHT, DAY, log, after(12), 30)[0]
    assert [one.day for one in plan if "multivitamin" in one.products] == [after(28)]


def test_a_late_meal_is_due_today_once_and_the_grid_stays() -> None:
    found = [
        ((day - DAY).days, (due - DAY).days)
        for day, due in meal_days(2, DAY, after(4), after(9), 8)
    ]
    assert found == [(9, 6), (10, 10), (12, 12), (14, 14), (16, 16)]


def test_long_intervals_count_from_the_last_meal() -> None:
    """A constrictor fed five days late waits its fortnight from then."""
    assert meal_days(14, DAY, after(19), after(20), 30) == [
        (after(33), after(33)),
        (after(47), after(47)),
    ]
    assert meal_days(14, DAY, after(0), after(20), 20)[0] == (after(20), after(14))


def test_half_days_alternate() -> None:
    assert [(day - DAY).days for day, _ in meal_days(3.5, DAY, after(0), after(1), 20)] == [
        3,
        7,
        10,
        14,
        17,
    ]


def test_nothing_logged_is_the_plain_calendar() -> None:
    assert [day for day, _ in meal_days(2, DAY, None, after(1), 6)] == [
        after(2),
        after(4),
        after(6),
    ]


def test_two_meals_with_two_supplements_that_exclude_each_other() -> None:
    """Vitamin A between the vitamins, never in one meal, for amphibians (decisions 9)."""
    rules = default_rules("adult", uvb=True, approaches={}, plan="amphibian")
    log = live(3, rules, 120)
    assert not set(days_of(log, "multivitamin")) & set(days_of(log, "vitamin A"))
    assert len(days_of(log, "vitamin A")) >= 8


@given(
    st.integers(0, 10_000),
    st.sampled_from([1, 1.5, 2, 3, 3.5, 7]),
    st.sampled_from([0.5, 0.7, 0.9]),
)
@settings(max_examples=40, deadline=None)
def test_however_often_meals_are_skipped(seed: int, every: float, chance: float) -> None:
    """No dose follows another within half its interval, none waits longer than two intervals and a
    gap between meals, and looking twice changes nothing.
    """
    log = live(every, FORTNIGHT, 120, random.Random(seed), chance)
    doses, fed = days_of(log, "multivitamin"), sorted((one.on - DAY).days for one in log)
    assert all(b - a >= 7 for a, b in itertools.pairwise(doses))
    gap = max((b - a for a, b in itertools.pairwise(fed)), default=0)
    assert all(b - a <= 28 + gap for a, b in itertools.pairwise(doses))
    paces = (MealPace("insects", every, True),)
    assert coming(paces, FORTNIGHT, DAY, log, after(120), 28) == coming(
        paces, FORTNIGHT, DAY, list(reversed(log)), after(120), 28
    )


def test_a_winter_without_meals_doubles_nothing() -> None:
    """Ninety days without food: the doses before and after are one each (source: feeding C5)."""
    before = live(3, FORTNIGHT, 60)
    plan = coming((MealPace("insects", 3, True),), FORTNIGHT, DAY, before, after(150), 40)[0]
    doses = [(one.day - DAY).days for one in plan if "multivitamin" in one.products]
    assert doses[0] >= 150 and all(b - a >= 7 for a, b in itertools.pairwise(doses))
    assert plan[0].day == after(150)


@pytest.mark.parametrize("every", [1.0, 2.0, 3.5, 14.0])
def test_what_was_given_today_is_not_due_again_today(every: float) -> None:
    fed = [GivenMeal(after(10), "insects", ("calcium",))]
    assert all(
        one.day > after(10)
        for one in coming((MealPace("insects", every, True),), FORTNIGHT, DAY, fed, after(10), 28)[
            0
        ]
    )


def test_a_meal_is_not_due_before_it_may_be_given() -> None:
    """A pause after a meal that came up again: the days go on from its end."""
    free = MealPace("prey", 7.0, False)
    paused = free._replace(not_before=after(20))
    usual = [one.day for one in coming((free,), (), DAY, [], DAY, 42)[0]]
    later = [one.day for one in coming((paused,), (), DAY, [], DAY, 42)[0]]
    assert usual[0] < after(8) and later and min(later) >= after(20)
    assert max(later) <= after(42) and len(later) >= 2


def test_a_meal_that_is_due_today_is_not_late() -> None:
    """Given exactly its days ago it is due today, by its own day; a day later it is late by one."""
    given = [GivenMeal(after(0), "prey", ())]
    pace = (MealPace("prey", 7.0, False),)
    today = coming(pace, (), DAY, given, after(7), 21)[0]
    assert [one.day for one in today] == [after(7), after(14), after(21), after(28)][: len(today)]
    assert today[0].due == after(7)
    late = coming(pace, (), DAY, given, after(8), 21)[0]
    assert late[0].day == after(8) and late[0].due == after(7)
    assert late[1].day - late[0].day >= dt.timedelta(days=4)


def test_days_that_were_missed_before_today_are_not_told_again() -> None:
    pace = (MealPace("insects", 1.0, True),)
    _, lapses = coming(pace, FORTNIGHT, DAY, [], after(40), 14)
    assert all(lapse.due >= after(40) for lapse in lapses)


def test_a_month_that_was_fed_is_laid_anew_for_as_many_weeks() -> None:
    """Four weeks from today, whatever was given."""
    diet = four_weeks(
        find("Pogona vitticeps"),
        "adult",
        mass_g=420,
        body_length_m=0.48,
        today=DAY,
        anchor=DAY,
        uvb=True,
        body_c=30,
        approaches={},
    )
    fed = [GivenMeal(DAY, "salad", ())]
    laid = relaid(diet, {"insects"}, DAY, fed, after(1))
    last = max(meal.day for meal in laid.meals)
    assert after(1) + dt.timedelta(days=7 * diet.weeks - 3) <= last
    assert last < after(1) + dt.timedelta(days=7 * diet.weeks)


def test_a_dose_that_will_lapse_is_told_before_its_day() -> None:
    """Vitamins were given on day ten instead: those that are due on day fourteen follow too closely,
    and the keeper hears of it beforehand.
    """
    amphibian = default_rules("adult", uvb=True, approaches={}, plan="amphibian")
    pace = (MealPace("insects", 3.0, True),)
    given = [GivenMeal(after(10), "insects", ("multivitamin",))]
    _, lapses = coming(pace, amphibian, DAY, given, after(11), 28)
    assert (lapses[0].product, lapses[0].due) == ("multivitamin", after(14))
    assert all(lapse.due >= after(11) for lapse in lapses)


def test_a_meal_on_the_last_day_belongs_to_the_next_weeks() -> None:
    pace = (MealPace("prey", 14.0, False),)
    given = [GivenMeal(after(0), "prey", ())]
    days = [one.day for one in coming(pace, (), DAY, given, after(0), 28)[0]]
    assert days == [after(14)]
    monthly = (MealPace("prey", 28.0, False),)
    assert coming(monthly, (), DAY, given, after(0), 28)[0] == []
