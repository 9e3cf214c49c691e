"""Rules at their edges: what a changed comparison, sign or factor would let through.

Each is of common practice, no source, unless its line says otherwise (docs/sources).
"""

import datetime as dt

import pytest

from husbandry.feeding.appetite import worry
from husbandry.feeding.condition import TREND_FACTOR, TREND_STEPS, pace_by_condition
from husbandry.feeding.condition_periods import ConditionPeriod
from husbandry.feeding.upcoming_meals import GivenMeal, meal_days
from husbandry.findings.quarantine import _substrate
from husbandry.growth.findings import findings
from husbandry.growth.fitting import WeightRecord
from husbandry.species.library import find

DAY = dt.date(2026, 7, 15)


def days(n: float) -> dt.timedelta:
    """A span of days."""
    return dt.timedelta(days=n)


def meals(eaten: int, *refused: int) -> list[GivenMeal]:
    """A meal that was eaten so many days ago, and refusals after it."""
    offered = [GivenMeal(DAY - days(ago), "prey", eaten=False) for ago in refused]
    return [GivenMeal(DAY - days(eaten), "prey"), *offered]


@pytest.mark.parametrize(
    ("eaten", "severity"),
    [(29, None), (30, "watch"), (31, "watch"), (59, "watch"), (60, "vet"), (61, "vet")],
)
def test_a_refusal_is_watched_from_half_the_time_and_a_vets_from_all_of_it(
    eaten: int, severity: str | None
) -> None:
    """Source: feeding C6: sixty days for a grown snake."""
    told = worry(60, meals(eaten, 20, 5), (), DAY)

    assert (told and told.severity) == severity


def test_one_refusal_is_not_enough() -> None:
    assert worry(60, meals(70, 5), (), DAY) is None


def test_what_was_refused_before_the_last_meal_eaten_is_over() -> None:
    assert worry(10, meals(3, 30, 25, 20), (), DAY) is None
    same_day = worry(10, [*meals(20, 20), *meals(20, 8, 6)], (), DAY)
    assert same_day is not None and "refused 2 times" in same_day.text


@pytest.mark.parametrize(
    ("kind", "since", "excused"),
    [
        ("shed", 10, True),
        ("shed", 60, False),
        ("breeding", 50, True),
        ("breeding", 200, False),
        ("gravid", 40, True),
        ("gravid", 90, False),
        ("brought up", 5, False),
    ],
)
def test_a_condition_period_excuses_for_its_own_time_alone(
    kind: str, since: int, excused: bool
) -> None:
    period = ConditionPeriod(kind=kind, since=DAY - days(since))  # type: ignore[arg-type]
    told = worry(60, meals(64, 40, 20, 5), (period,), DAY)

    assert told is not None and (told.severity == "fact") == excused


@pytest.mark.parametrize(
    ("trend", "steps", "word"),
    [
        (-100.0, -TREND_STEPS, "lost"),
        (-7.0, -1, "lost"),
        (-3.0, 0, ""),
        (3.0, 0, ""),
        (7.0, 1, "gained"),
        (100.0, TREND_STEPS, "gained"),
    ],
)
def test_the_trend_of_the_scale_moves_the_interval_by_steps(
    trend: float, steps: int, word: str
) -> None:
    effect = pace_by_condition(None, trend, grown=True, today=DAY)

    assert effect.interval == pytest.approx(TREND_FACTOR**steps)
    assert (word in " ".join(effect.because)) if word else effect.because == ()
    often = {-1: "more often", 0: "", 1: "less often"}[(steps > 0) - (steps < 0)]
    assert often in " ".join(effect.because)


@pytest.mark.parametrize(("every", "apart"), [(2, 1), (3, 2), (5, 3), (4, 2)])
def test_a_frequent_meal_keeps_half_an_interval_from_the_last(every: int, apart: int) -> None:
    """Half an interval, rounded up, after one that was given off its grid."""
    found = meal_days(every, DAY, DAY, DAY + days(1), 20)

    assert found[0][0] - DAY >= days(apart)


def test_quarantine_of_damp_skin_is_on_damp_paper() -> None:
    """Source: substrate B4."""
    assert "damp paper" in _substrate(find("Ranoidea caerulea"))
    assert "damp paper" not in _substrate(find("Pogona vitticeps"))


@pytest.mark.parametrize(("gained", "nothing"), [(0.0, True), (0.004, True), (0.02, False)])
def test_a_young_one_that_gains_nothing_is_named(gained: float, nothing: bool) -> None:
    """Source: feeding C6: four to six weeks without gain."""
    profile = find("Pogona vitticeps")
    born, first = DAY - days(150), 60.0
    weights = [
        WeightRecord(on=DAY - days(40), mass_g=first),
        WeightRecord(on=DAY, mass_g=first * (1 + gained)),
    ]
    told = findings(profile, "any", weights, born_on=born, today=DAY)

    assert any("gained nothing" in one.text for one in told) == nothing
