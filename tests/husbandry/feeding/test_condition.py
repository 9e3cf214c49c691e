"""Feeding to condition, condition periods, and when a refusal is a worry."""

import datetime as dt
import math

import pytest

from husbandry.audit.consistency import body_temperature
from husbandry.feeding.adjustments import MealAdjustment, held, lead_of
from husbandry.feeding.appetite import WATCH_SHARE, hunger_days, worry
from husbandry.feeding.calendar import Diet, four_weeks
from husbandry.feeding.condition import (
    FORMS,
    LEAN_STRETCH,
    Condition,
    applied,
    form_of,
    pace_by_condition,
    trend_pct,
)
from husbandry.feeding.condition_periods import ConditionPeriod, eased
from husbandry.feeding.upcoming_meals import GivenMeal, relaid
from husbandry.species.library import find, library

DAY = dt.date(2026, 5, 4)


def days(n: float) -> dt.timedelta:
    return dt.timedelta(days=n)


def diet(species: str, stage: str, lead: MealAdjustment, mass_g: float, length_m: float) -> Diet:
    return four_weeks(
        find(species),
        stage,
        mass_g=mass_g,
        body_length_m=length_m,
        today=DAY,
        anchor=DAY,
        uvb=True,
        body_c=27,
        approaches={},
        lead=lead,
    )


@pytest.mark.parametrize("species", sorted(library()))
def test_every_species_has_a_form_with_five_scores(species: str) -> None:
    scale = FORMS[form_of(find(species))]
    assert len(set(scale.scores)) == 5 and scale.where


def test_substrate_geckos_are_scored_by_their_tail() -> None:
    """Common practice, no source."""
    assert form_of(find("Hemitheconyx caudicinctus")) == "tail"
    assert (
        form_of(find("Correlophus ciliatus")) == "lizard"
    )  # a climber: it drops its tail and keeps no fat there


def test_fat_stretches_the_interval_and_thin_shortens_it() -> None:
    """Source: feeding C4: from 4 on the interval × 1.25; from 2 down a tenth to
    a fifth more, after the vet (common practice).
    """
    assert pace_by_condition(
        Condition(score=4, on=DAY), None, grown=True, today=DAY
    ).interval == pytest.approx(1.25)
    assert (
        1.10
        <= 1 / pace_by_condition(Condition(score=2, on=DAY), None, grown=True, today=DAY).interval
        <= 1.20
    )
    starved = pace_by_condition(Condition(score=1, on=DAY), -20, grown=True, today=DAY)
    assert starved.interval == 1.0 and "veterinarian today" in starved.because[0]


def test_an_old_score_says_nothing() -> None:
    old = Condition(score=5, on=DAY - days(90))
    assert pace_by_condition(old, None, grown=True, today=DAY) == (1.0, ())


def test_the_scale_moves_grown_bodies_only_and_not_against_what_is_seen() -> None:
    assert pace_by_condition(None, 12, grown=True, today=DAY).interval == pytest.approx(1.21)
    assert pace_by_condition(None, 60, grown=False, today=DAY).interval == 1.0
    for trend in (-6.0, 12.0):  # fat is fat, losing or gaining: the same fat is not counted twice
        assert pace_by_condition(
            Condition(score=5, on=DAY), trend, grown=True, today=DAY
        ).interval == pytest.approx(1.5)


def test_the_interval_stays_inside_its_approaches_limits() -> None:
    spec = find("Lampropeltis californiae").meals[-1]
    for factor in (0.3, 0.9, 1.3, 9.0):
        _, every = applied(factor, 0.06, 12, spec)
        assert spec.every_days[0] <= every <= LEAN_STRETCH * spec.every_days[1]


def test_what_the_interval_may_not_do_the_portion_does() -> None:
    spec = find("Lampropeltis californiae").meals[-1]
    share, every = applied(1.5, 0.06, spec.every_days[1], spec)
    assert every == LEAN_STRETCH * spec.every_days[1] and share == pytest.approx(
        0.06 * LEAN_STRETCH / 1.5
    )
    assert applied(9.0, 0.06, 12, spec)[0] == pytest.approx(0.06 * 0.8)  # and never less


def test_what_eats_daily_keeps_its_days_and_gets_less() -> None:
    spec = next(meal for meal in find("Testudo hermanni").meals if meal.every_days[1] <= 2)
    share, every = applied(1.25, 0.04, 1, spec)
    assert every == 1 and share == pytest.approx(0.04 * 0.8)


@pytest.mark.parametrize("species", sorted(library()))
def test_feeding_to_condition_stays_plausible(species: str) -> None:
    """Stout, in the darkest weeks, of every kind: its energy stays in the published band (Nagy et
    al. 1999, Andrews & Pough 1985, from memory).
    """
    profile = find(species)
    grown = profile.grown
    lead = lead_of(
        profile,
        grown.slug,
        today=dt.date(2026, 12, 20),
        condition=Condition(score=4, on=dt.date(2026, 12, 1)),
        trend=12,
        lat_deg=50,
    )
    mass, length = grown.mass_g.typical, grown.length_mm[profile.body.length_kind].typical / 1000
    made = four_weeks(
        profile,
        grown.slug,
        mass_g=mass,
        body_length_m=length,
        today=DAY,
        anchor=DAY,
        uvb=True,
        body_c=body_temperature(profile, grown.slug),
        approaches={},
        lead=lead,
    )
    assert made.energy_verdict != "above"
    ends = {item.name: item.value for item in made.energy_kj_day.inputs}
    low = ends["plausible from"]
    assert low is not None and made.energy_kj_day.value > 0.75 * low  # whole animals round


def test_a_trend_needs_a_month_of_weights() -> None:
    assert trend_pct([(DAY, 100)], DAY) is None and trend_pct([], DAY) is None
    assert trend_pct([(DAY - days(20), 90), (DAY, 100)], DAY) is None
    told = [(DAY - days(400), 10), (DAY - days(60), 80), (DAY, 100)]
    assert trend_pct(told, DAY) == pytest.approx(25)
    assert trend_pct(told, DAY + days(100)) is None  # nobody weighed it since


def test_a_fat_snake_eats_on_fewer_days_and_its_plan_says_why() -> None:
    snake = find("Lampropeltis californiae")
    usual = diet("Lampropeltis californiae", "adult", MealAdjustment(), 390, 1.02)
    fat = diet(
        "Lampropeltis californiae",
        "adult",
        lead_of(snake, "adult", today=DAY, condition=Condition(score=5, on=DAY)),
        390,
        1.02,
    )
    assert fat.plans[0].every_days.value == pytest.approx(1.25 * snake.meals[-1].every_days[1])
    assert fat.meals[1].day > usual.meals[1].day and "fat" in fat.plans[0].because[0]
    assert any("led by" in item.name for item in fat.plans[0].every_days.inputs)


def test_a_snake_in_shed_waits_and_a_lizard_does_not() -> None:
    """Common practice, no source: snakes refuse in shed, one to two weeks."""
    shed = (ConditionPeriod(kind="shed", since=DAY - days(3)),)
    snake, gecko = find("Lampropeltis californiae"), find("Hemitheconyx caudicinctus")
    assert eased(snake, shed, None, DAY).not_before == DAY + days(11)
    assert eased(gecko, shed, None, DAY).not_before is None
    made = diet(
        "Lampropeltis californiae",
        "adult",
        lead_of(snake, "adult", today=DAY, condition_periods=shed),
        390,
        1.02,
    )
    assert min(meal.day for meal in made.meals) == DAY + days(11)


def test_after_food_came_up_two_weeks_without_then_half() -> None:
    """Source: feeding C4: wait 10 to 14 days, half a meal; the second time a
    veterinarian (common practice).
    """
    snake = find("Lampropeltis californiae")
    up = (ConditionPeriod(kind="brought up", since=DAY),)
    made = eased(snake, up, None, DAY)
    assert (
        made.not_before == DAY + days(14)
        and made.portion == 0.5
        and "veterinarian" in made.because[0]
    )
    assert eased(snake, up, None, DAY + days(20)).not_before is None
    assert eased(snake, up, None, DAY + days(30)).portion == 1.0


def test_an_arrival_of_whole_prey_waits_a_week_and_the_others_eat_at_once() -> None:
    """The same note: snakes not for seven days after arrival; froglets, hatchling lizards,
    herbivores within two days (common practice).
    """
    assert eased(find("Lampropeltis californiae"), (), DAY, DAY).not_before == DAY + days(7)
    assert eased(find("Dryophytes cinereus"), (), DAY, DAY).not_before is None


def test_held_back_meals_come_once_and_keep_their_distance() -> None:
    week = [DAY + days(7 * n) for n in range(4)]
    kept = held(week, 7, DAY + days(11), DAY + days(28))
    assert kept == [DAY + days(11), DAY + days(21)]  # the one of day 14 would follow too closely
    assert held(week, 7, DAY + days(40), DAY + days(28)) == []


def test_a_carrying_female_has_calcium_at_every_meal() -> None:
    tortoise = find("Testudo hermanni")
    carrying = lead_of(
        tortoise,
        "adult",
        today=DAY,
        condition_periods=(ConditionPeriod(kind="gravid", since=DAY),),
        trend=15,
    )
    made = diet("Testudo hermanni", "adult", carrying, 900, 0.17)
    assert [rule.doses for rule in made.rules if rule.product == "calcium"] == [0]
    assert carrying.factor == 1.0  # what she carries weighs: the scale is left alone


def test_held_meals_follow_what_was_logged_too() -> None:
    snake = find("Lampropeltis californiae")
    shed = lead_of(
        snake, "adult", today=DAY, condition_periods=(ConditionPeriod(kind="shed", since=DAY),)
    )
    made = relaid(
        diet("Lampropeltis californiae", "adult", shed, 390, 1.02),
        (),
        DAY,
        [GivenMeal(DAY - days(16), "prey")],
        DAY,
    )
    assert made.meals[0].day == DAY + days(14)


# --- refusals -------------------------------------------------------------------------------------


def refused(*ago: int) -> list[GivenMeal]:
    return [GivenMeal(DAY - days(n), "prey", (), False) for n in ago]


def test_hunger_by_kind_and_stage() -> None:
    """Source: feeding C6 (common practice)."""
    snake = find("Lampropeltis californiae")
    assert (hunger_days(snake, "hatchling"), hunger_days(snake, "adult")) == (14, 60)
    assert 2 <= hunger_days(find("Hemitheconyx caudicinctus"), "hatchling") <= 3
    assert 7 <= hunger_days(find("Hemitheconyx caudicinctus"), "adult") <= 10
    assert hunger_days(find("Dryophytes cinereus"), "froglet") <= 2
    assert hunger_days(find("Bombina orientalis"), "adult") == 14


def test_one_refusal_is_nothing_and_many_are_a_veterinarians() -> None:
    ate = [GivenMeal(DAY - days(64), "prey")]
    assert worry(60, [*ate, *refused(10)], (), DAY) is None
    watch = worry(60, [GivenMeal(DAY - days(40), "prey"), *refused(26, 12)], (), DAY)
    assert watch is not None and watch.severity == "watch"
    vet = worry(60, [*ate, *refused(50, 36, 22, 8)], (), DAY)
    assert vet is not None and vet.severity == "vet" and "4 times" in vet.text


def test_a_meal_that_was_eaten_ends_it() -> None:
    assert worry(14, [*refused(30, 25, 20), GivenMeal(DAY - days(2), "prey")], (), DAY) is None


def test_a_condition_period_excuses_a_refusal_but_never_a_loss_and_never_illness() -> None:
    fed = [GivenMeal(DAY - days(64), "prey"), *refused(40, 20, 5)]
    breeding = (ConditionPeriod(kind="breeding", since=DAY - days(50)),)
    told = worry(60, fed, breeding, DAY)
    assert told is not None and told.severity == "fact"
    thinner = worry(60, fed, breeding, DAY, trend=-3)
    assert thinner is not None and thinner.severity == "fact"
    losing = worry(60, fed, breeding, DAY, trend=-8)
    assert losing is not None and losing.severity == "vet"
    ill = worry(60, refused(1), (ConditionPeriod(kind="unwell", since=DAY),), DAY)
    assert ill is not None and ill.severity == "vet"
    assert worry(60, fed, (), DAY, resting=True) is None


def test_refusals_before_the_last_meal_are_over_even_for_one_that_is_unwell() -> None:
    unwell = (ConditionPeriod(kind="unwell", since=DAY - days(3)),)
    fed = [*refused(30, 25, 20), GivenMeal(DAY - days(2), "prey")]
    assert worry(14, fed, unwell, DAY) is None
    assert worry(14, [*fed, *refused(1)], unwell, DAY) is not None


def test_a_condition_that_is_long_past_excuses_nothing() -> None:
    fed = [GivenMeal(DAY - days(20), "prey"), *refused(15, 10, 5)]
    recent = (ConditionPeriod(kind="shed", since=DAY - days(5)),)
    told = worry(14, fed, recent, DAY)
    assert told is not None and told.severity == "fact" and "shed" in told.text
    past = (ConditionPeriod(kind="shed", since=DAY - days(90)),)
    left = worry(14, fed, past, DAY)
    assert left is not None and left.severity != "fact"


def test_the_reason_says_whether_it_gained_or_lost() -> None:
    gained = pace_by_condition(None, 12, grown=True, today=DAY)
    lost = pace_by_condition(None, -12, grown=True, today=DAY)
    assert "gained 12 %" in gained.because[-1] and "less often" in gained.because[-1]
    assert "lost 12 %" in lost.because[-1] and "more often" in lost.because[-1]
    assert lost.interval < 1 < gained.interval


def test_a_refusal_is_watched_from_its_share_of_the_hunger_on() -> None:
    """Seven tenths of what its species bears, with two refusals; on the day before nothing."""
    first = math.ceil(WATCH_SHARE * 60)
    for ago, said in ((first, True), (first - 1, False)):
        fed = [GivenMeal(DAY - days(ago), "prey"), *refused(9, 4)]
        found = worry(60, fed, (), DAY)
        assert (found is not None and found.severity == "watch") == said
