"""Taming in steps, when not, and ideas in turn (common practice, no source)."""

import datetime as dt

import pytest
from hypothesis import given
from hypothesis import strategies as st

from husbandry.documents.request_json import from_data
from husbandry.feeding.condition_periods import ConditionPeriod
from husbandry.feeding.upcoming_meals import GivenMeal
from husbandry.handling.enriching import idea_of, ideas
from husbandry.handling.taming import (
    TAMING_STEPS,
    HandlingSession,
    How,
    every_days,
    not_today,
    standing,
    steps_for,
)
from husbandry.species.library import find, library
from husbandry.tasks.due import due_today
from husbandry.tasks.routines import routines
from husbandry.tasks.task import NOTHING

DAY = dt.date(2026, 6, 14)
FREE = {"whole_prey": True, "quiet": False, "resting": False}


def days(n: int) -> dt.timedelta:
    return dt.timedelta(days=n)


def sessions(*how: How) -> list[HandlingSession]:
    return [HandlingSession(DAY + days(n), one) for n, one in enumerate(how)]


def test_three_calm_sessions_lead_on_and_two_hidden_ones_back() -> None:
    assert standing([]).step == 0
    assert standing(sessions("calm", "calm")) == (0, 2, "It begins here.")
    assert standing(sessions("calm", "calm", "calm")).step == 1
    assert standing(sessions("calm", "calm", "hid", "calm", "calm")).step == 0  # in a row
    assert standing(sessions(*["calm"] * 6, "hid", "hid")).step == 1
    bitten = standing(sessions(*["calm"] * 6, "bit"))
    assert bitten.step == 1 and "defended itself" in bitten.because
    assert standing(sessions("bit")).step == 0


def test_what_strikes_at_food_is_offered_none_near_the_hand() -> None:
    """Tongs for animals that strike at food, and a signal that it is no feeding time (common
    practice, no source).
    """
    snake, gecko = steps_for(whole_prey=True), steps_for(whole_prey=False)
    assert (
        len(snake) == len(gecko)
        and "no feeding time" in snake[2].does
        and not any("Offer food" in step.does for step in snake)
    )
    assert "Tongs, not fingers" in gecko[2].does


@given(st.lists(st.sampled_from(["calm", "hid", "bit"]), max_size=80))
def test_a_step_never_leaves_the_way_and_follows_from_the_facts_alone(how: list[How]) -> None:
    told = sessions(*how)
    assert 0 <= standing(told).step < len(TAMING_STEPS)
    assert standing(told) == standing(list(reversed(told)))


@pytest.mark.parametrize("kind", ["unwell", "shed", "gravid", "brought up"])
def test_no_hand_in_a_condition_period(kind: str) -> None:
    assert not_today(
        [ConditionPeriod.model_validate({"kind": kind, "since": DAY - days(2)})], None, DAY, **FREE
    )


def test_other_conditions_and_old_ones_leave_the_hand_alone() -> None:
    """Its breeding season is none, nor food that came up a month ago (common practice)."""
    breeding = ConditionPeriod.model_validate({"kind": "breeding", "since": DAY - days(2)})
    long_ago = ConditionPeriod.model_validate({"kind": "brought up", "since": DAY - days(30)})
    assert not not_today([breeding, long_ago], None, DAY, **FREE)


def test_no_hand_after_a_meal_in_the_first_week_or_in_a_rest() -> None:
    """Whole prey: 48 hours (common practice)."""
    assert not_today((), DAY - days(1), DAY, **FREE) and not not_today(
        (), DAY - days(2), DAY, **FREE
    )
    insects = {**FREE, "whole_prey": False}
    assert not_today((), DAY, DAY, **insects) and not not_today((), DAY - days(1), DAY, **insects)
    assert not_today((), None, DAY, **{**FREE, "quiet": True}) and not_today(
        (), None, DAY, **{**FREE, "resting": True}
    )


def test_frogs_and_thin_skins_are_looked_at() -> None:
    for species in (
        "Dendrobates tinctorius",
        "Phelsuma grandis",
        "Stenodactylus sthenodactylus",
        "Salamandra salamandra",
    ):
        assert every_days(find(species).handling.how_often) is None
    assert every_days(find("Pogona vitticeps").handling.how_often) == 1


@pytest.mark.parametrize("species", sorted(library()))
def test_every_species_has_ideas_that_take_turns(species: str) -> None:
    found = ideas(find(species))
    assert len(found) >= 4
    weeks = [idea_of(found, DAY + days(7 * n)) for n in range(len(found))]
    assert sorted(weeks) == sorted(found)
    monday = DAY - days(DAY.weekday())
    assert len({idea_of(found, monday + days(n)) for n in range(7)}) == 1


def test_a_session_comes_round_only_where_taming_goes_on(sample: dict[str, object]) -> None:
    of = routines(from_data(sample))
    fed = {0: [GivenMeal(DAY - days(2), of.animals[0].meals[0].slug)]}

    def kinds(**more: object) -> set[str]:
        return {
            one.kind
            for one in due_today(of, NOTHING._replace(since=DAY - days(90), fed=fed, **more), DAY)
        }

    assert "tame" not in kinds() and "enrich" in kinds()
    assert "tame" in kinds(tamed={0: []})
    assert "tame" not in kinds(tamed={0: []}, moved_in={0: DAY - days(3)})
