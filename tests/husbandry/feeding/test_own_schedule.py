"""The schedule that is planned is never warned against by the page that shows it."""

import datetime as dt
import json
from itertools import product
from typing import Any

import pytest

from husbandry.documents.request_json import from_data
from husbandry.feeding.calendar import Diet
from husbandry.feeding.composition import balance, doses
from husbandry.feeding.supplements import (
    CARRIERS,
    HOLD_A,
    HOLD_D3,
    MOST_30_DAYS,
    WITH_DISH,
    default_rules,
    explained,
)
from husbandry.plan.plan import plan
from husbandry.species.library import library
from husbandry.tasks.due import due_today
from husbandry.tasks.routines import routines
from tests.husbandry.tasks.test_due import TODAY, done

CHOICES = [
    {"calcium": calcium, "multivitamin-pace": pace, "calcium-dish": dish}
    for calcium, pace, dish in product(
        ("plain", "some-d3"), ("stage", "fortnightly", "monthly"), ("no", "yes")
    )
]


@pytest.mark.parametrize("by_plan", sorted(CARRIERS))
@pytest.mark.parametrize("stage", ["hatchling", "froglet", "juvenile", "subadult", "adult"])
def test_no_choice_gives_more_vitamins_than_are_warned_of(by_plan: str, stage: str) -> None:
    """“11 D3 days” were planned by two days in seven and a fortnightly one, and warned of beside
    it.
    """
    for choice, uvb in product(CHOICES, (True, False)):
        rules = default_rules(stage, uvb=uvb, approaches=choice, plan=by_plan)
        for holding in (HOLD_D3, HOLD_A):
            if holding == HOLD_D3 and not uvb:
                continue  # without ultraviolet all of it comes from supplement
            total = sum(30 / r.interval_days for r in rules if r.doses and r.product in holding)
            assert total <= MOST_30_DAYS, (choice, [r.product for r in rules])


def planned(sample: dict[str, Any], species: str, months: int, choice: dict[str, str]) -> Diet:
    data = json.loads(json.dumps(sample))
    data["readings"] = []
    born = dt.date(2026, 6, 14) - dt.timedelta(days=30 * months)
    data["animals"] = [
        {"name": "", "species": species, "born_on": born.isoformat(), "approaches": choice}
    ]
    return plan(from_data(data)).animals[0].diet


@pytest.mark.parametrize(
    "species", ["Pogona vitticeps", "Dendrobates tinctorius", "Eublepharis macularius"]
)
@pytest.mark.parametrize("months", [1, 8, 40])
def test_a_whole_plan_does_not_warn_of_itself(
    sample: dict[str, Any], species: str, months: int
) -> None:
    for choice in ({}, {"calcium": "some-d3"}):
        diet = planned(sample, species, months, choice)
        said = doses(library()[species], diet, uvb=True).warnings
        assert not [text for text in said if "times in thirty days" in text], choice


@pytest.mark.parametrize("stage", ["hatchling", "juvenile", "adult"])
def test_a_dish_of_calcium_changes_the_dusting(stage: str) -> None:
    """The switch changed nothing."""
    without, with_dish = (
        default_rules(stage, uvb=True, approaches={"calcium-dish": answer})
        for answer in ("no", "yes")
    )
    assert without[-1].product == with_dish[-1].product == "calcium"
    assert without[-1].doses == 0 and with_dish[-1].doses == WITH_DISH[stage]
    others = explained(
        stage, uvb=True, approaches={}, plan="insect eater", first=False, sources=()
    )
    assert any(o.question == "calcium-dish" for derivation in others for o in derivation.others)


def test_a_dish_of_calcium_is_looked_at_every_week(sample: dict[str, Any]) -> None:
    data = json.loads(json.dumps(sample))
    without = routines(from_data(data))
    data["animals"][0]["approaches"] = {"calcium-dish": "yes"}
    with_dish = routines(from_data(data))
    assert not without.calcium_dish and with_dish.calcium_dish
    stems = [{task.stem for task in due_today(one, done(), TODAY)} for one in (without, with_dish)]
    assert "calcium dish" not in stems[0] and "calcium dish" in stems[1]


def test_a_meal_that_is_dusted_some_days_is_judged_as_it_is_dusted(sample: dict[str, Any]) -> None:
    diet = planned(sample, "Eublepharis macularius", 40, {"calcium-dish": "yes"})
    assert all(balance(meal).verdict in {"right", "whole", "unknown"} for meal in diet.plans)
