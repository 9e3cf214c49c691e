"""Stock, forecast and orders (common practice, no source, unless said otherwise)."""

import datetime as dt
import json
import math
from typing import Any

import pytest

from husbandry.documents.request_json import from_data
from husbandry.errors import NoSolutionError
from husbandry.feeding.upcoming_meals import GivenMeal
from husbandry.tasks.colony import colony_harvest
from husbandry.tasks.due import ahead, due_today
from husbandry.tasks.growing_animals import grown
from husbandry.tasks.routines import routines
from husbandry.tasks.supplies import (
    Need,
    counted,
    good_until,
    needs_of,
    stock_forecast,
    supplements_of,
    taken,
    to_buy,
)
from tests.husbandry.tasks.test_due import done

TODAY = dt.date(2026, 6, 14)


def day(n: int) -> dt.date:
    return TODAY + dt.timedelta(days=n)


def test_twenty_crickets_a_day_for_a_week() -> None:
    """A hundred and fifty-four, when three in a hundred die each night (source: feeding C8)."""
    assert to_buy(20, 7, 0.03) == pytest.approx(154, abs=1)
    assert to_buy(20, 7, 0) == 140


def test_what_is_bought_lasts_to_the_last_meal() -> None:
    """Day by day, the other way round: the last meal takes the last of them."""
    left = to_buy(20, 7, 0.03)
    for n in range(7):
        assert left >= 20 - 1e-9
        left -= 20
        if n < 6:
            left *= 0.97
    assert left == pytest.approx(0, abs=1e-9)


def test_the_forecast_follows_the_meals(sample: dict[str, Any]) -> None:
    known = routines(from_data(json.loads(json.dumps(sample))))
    coming = ahead(known, done(), TODAY, 28)
    needs = needs_of([(day(n), tasks) for n, tasks in enumerate(coming)])
    meals = sum(task.kind == "feed" for tasks in coming for task in tasks)
    helpings = known.animals[0].meals[0].helpings
    for part in helpings:
        mine = [need for need in needs if need.name == part.name]
        assert len(mine) == meals
        assert all(
            need.amount == (part.count if part.count is not None else pytest.approx(part.grams))
            for need in mine
        )


def test_half_a_meal_takes_half(sample: dict[str, Any]) -> None:
    known = routines(from_data(json.loads(json.dumps(sample))))
    feed = next(
        task
        for task in due_today(known, done(fed={0: [GivenMeal(day(-9), "bowl")]}), TODAY)
        if task.kind == "feed"
    )
    assert feed.meal is not None
    whole, half = taken(feed), taken(feed, feed.meal.grams / 2)
    greens = next(name for name in whole if not counted(name))
    assert half[greens] == pytest.approx(whole[greens] / 2)


def test_it_runs_short_on_the_first_meal_that_cannot_be_had() -> None:
    needs = [Need(day(n), "small mouse", 1) for n in (0, 7, 14, 21)]
    found = stock_forecast("small mouse", 2, needs, TODAY, 7)
    assert found.short_on == day(14) and found.order_by == day(4) and found.buy == 2
    assert (
        found.derivation is not None
        and found.derivation.value == found.buy
        and found.derivation.sources
    )
    assert stock_forecast("small mouse", 4, needs, TODAY, 7).short_on is None
    assert stock_forecast("small mouse", 0, needs, TODAY, 7).short_on == TODAY


def test_what_dies_by_night_runs_short_earlier() -> None:
    needs = [Need(day(n), "adult cricket", 10) for n in range(14)]
    assert stock_forecast("adult cricket", 140, needs, TODAY, 3).short_on is not None
    lasting = [Need(day(n), "small mouse", 10) for n in range(14)]
    assert stock_forecast("small mouse", 140, lasting, TODAY, 3).short_on is None


def test_dates() -> None:
    """Frozen prey keeps six to twelve months (source: feeding C8); a label's own
    date wins.
    """
    mouse = next(name for name in ("adult mouse", "small mouse", "large mouse") if counted(name))
    frozen = good_until(mouse, TODAY, None, None)
    assert frozen is not None and day(180) <= frozen <= day(365)
    assert good_until(mouse, TODAY, None, day(20)) == day(20)
    assert (
        good_until("calcium supplement", day(-3000), None, None) is None
    )  # closed, and nobody wrote its label down


def test_a_supplement_ages_from_the_day_it_was_opened() -> None:
    """Vitamins half a year after opening (common practice, no source); a label's earlier date still
    wins.
    """
    assert good_until("multivitamin supplement", day(-400), day(-200), day(100)) == day(-20)
    assert good_until("multivitamin supplement", day(-400), day(-20), day(10)) == day(10)
    assert supplements_of(["calcium", "vitamin A"]) == {
        "calcium supplement",
        "vitamin A supplement",
    }


def test_a_colony_that_doubles_in_a_month_gives_half_its_growth() -> None:
    """Source: feeding C8: r K / 4 at K / 2; refused where nothing is known
    (common practice).
    """
    assert colony_harvest(200, 300, 100, 28) == pytest.approx(math.log(2) / 28 * 150 * 7)
    with pytest.raises(NoSolutionError, match="does not grow"):
        colony_harvest(200, 150, 20, 28)
    with pytest.raises(NoSolutionError):
        colony_harvest(200, 0, 0, 28)


def test_a_harvested_colony_keeps_its_number() -> None:
    """Day by day with the growth of the worked example: what is taken is what half of it grows, so
    the rest only gains.
    """
    size, growth = 300.0, math.log(2) / 28
    weekly = colony_harvest(200, 300, 100, 28)
    for day_ in range(280):
        size *= math.exp(growth) if size < 600 else 1.0  # its enclosure holds so many
        if day_ % 7 == 6:
            size -= weekly
    assert size >= 300


def test_animals_grow_into_larger_food_within_the_forecast(sample: dict[str, Any]) -> None:
    """A hatchling on the steep part of its curve eats more in a month; a grown one eats what it
    ate.
    """
    young = json.loads(json.dumps(sample))
    young["animals"][0].update(mass_g=40.0, length_mm={}, born_on="2026-03-14")
    young["now"] = "2026-06-14T12:00:00+00:00"
    request = from_data(young)
    later = grown(request, 28)
    assert later.today == day(28) and (later.animals[0].mass_g or 0) > 44
    assert routines(later).animals[0].mass_g == pytest.approx(later.animals[0].mass_g)
    old = request.model_copy(
        update={"animals": (request.animals[0].model_copy(update={"mass_g": 5000.0}),)}
    )
    assert grown(old, 28).animals[0].mass_g == 5000.0
