import datetime as dt

import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import ValidationError

from husbandry.errors import NoSolutionError
from husbandry.feeding.calcium import calcium_supplement
from husbandry.feeding.calendar import four_weeks, grid
from husbandry.feeding.energy import field_metabolic_rate, resting_metabolic_rate
from husbandry.feeding.feeders import FEEDERS, widest_insect
from husbandry.feeding.supplements import SupplementRule, default_rules, due_days, schedule
from husbandry.species.library import find
from husbandry.species.parts import MealSpec

DAY = dt.date(2026, 1, 5)


def days(*numbers: int) -> list[dt.date]:
    return [DAY + dt.timedelta(days=n) for n in numbers]


def test_two_in_seven_falls_on_days_0_3_7_10() -> None:  # source: feeding C5
    assert due_days(
        SupplementRule(product="multivitamin", doses=2, period_days=7),
        DAY,
        DAY,
        DAY + dt.timedelta(days=17),
    ) == days(0, 3, 7, 10, 14, 17)


def test_a_fortnightly_dose_on_a_three_day_calendar() -> None:  # C5: 0, 15, 27, 42, 57, 69, 84
    doses, lapses = schedule(
        (SupplementRule(product="multivitamin", period_days=14),),
        [DAY + dt.timedelta(days=3 * n) for n in range(30)],
        DAY,
    )
    assert [d.day for d in doses] == days(0, 15, 27, 42, 57, 69, 84) and not lapses


@pytest.mark.parametrize("every", [1, 2, 3])
def test_two_of_seven_makes_104_doses_in_52_weeks(every: int) -> None:  # C5
    feedings = [DAY + dt.timedelta(days=n) for n in range(0, 364, every)]
    doses, _ = schedule(
        (SupplementRule(product="multivitamin", doses=2, period_days=7),), feedings, DAY
    )
    assert len(doses) == 104


@given(
    gaps=st.lists(st.integers(1, 9), min_size=3, max_size=60),
    stage=st.sampled_from(["hatchling", "juvenile", "adult"]),
    approach=st.sampled_from(["plain", "some-d3"]),
    uvb=st.booleans(),
)
def test_no_two_excluded_products_share_a_meal_and_nothing_is_doubled(
    gaps: list[int], stage: str, approach: str, uvb: bool
) -> None:
    feedings, day = [], DAY
    for gap in gaps:
        feedings.append(day)
        day += dt.timedelta(days=gap)
    doses, _ = schedule(
        default_rules(stage, uvb=uvb, approaches={"calcium": approach}), feedings, DAY
    )
    for meal in feedings:
        products = [d.product for d in doses if d.day == meal]
        assert products and len(products) == len(set(products))
        assert not {"multivitamin", "calcium + D3"} <= set(products)


@given(start=st.integers(0, 27))
def test_looking_tomorrow_does_not_move_todays_doses(start: int) -> None:
    skink = find("Tiliqua scincoides")

    def plan_on(today: dt.date) -> dict[dt.date, tuple[str, ...]]:
        diet = four_weeks(
            skink,
            "juvenile",
            mass_g=90,
            body_length_m=0.27,
            today=today,
            anchor=DAY,
            uvb=True,
            body_c=28,
            approaches={},
        )
        return {meal.day: meal.dusted_with for meal in diet.meals}

    first, later = plan_on(DAY), plan_on(DAY + dt.timedelta(days=start))
    for day in first.keys() & later.keys():
        assert first[day] == later[day]


def test_defaults_by_stage() -> None:
    """Two of seven, weekly, fortnightly; plain calcium with UVB, D3 without (docs/decisions.md, 9;
    common practice, no source).
    """
    pace = {
        s: (
            next(
                r for r in default_rules(s, uvb=True, approaches={}) if r.product == "multivitamin"
            ).interval_days
        )
        for s in ("newborn", "juvenile", "subadult", "adult")
    }
    assert pace == {"newborn": 3.5, "juvenile": 7, "subadult": 14, "adult": 14}
    assert default_rules("adult", uvb=True, approaches={})[-1].product == "calcium"
    assert default_rules("adult", uvb=False, approaches={})[-1].product == "calcium + D3"
    for name, days in (("fortnightly", 14), ("monthly", 28)):
        for stage in ("newborn", "juvenile", "adult"):
            rules = default_rules(stage, uvb=True, approaches={"multivitamin-pace": name})
            assert rules[0].interval_days == days


def test_nothing_to_dust_nothing_given() -> None:
    assert schedule(default_rules("adult", uvb=True, approaches={}), [], DAY) == ([], [])


def test_a_dose_without_a_meal_near_lapses() -> None:
    _, lapses = schedule(
        (SupplementRule(product="multivitamin", period_days=7),), days(0, 40), DAY
    )
    assert len(lapses) >= 3


@pytest.mark.parametrize(
    ("every", "expected"),
    [(3.5, (0, 3, 7, 10, 14)), (1, (0, 1, 2, 3)), (2, (0, 2, 4)), (1.5, (0, 1, 3, 4, 6))],
)
def test_a_grid_counts_from_its_anchor(every: float, expected: tuple[int, ...]) -> None:
    assert grid(every, DAY, DAY, expected[-1] + 1) == days(*expected)


# Arithmetic of the published equations, coefficients from memory; source: feeding C1.
@pytest.mark.parametrize(
    ("mass", "resting", "field"), [(50, 2.73, 6.35), (400, 14.4, 40.3), (500, 17.2, 49.2)]
)
def test_metabolic_rates(mass: float, resting: float, field: float) -> None:
    assert resting_metabolic_rate(mass, 30) == pytest.approx(resting, rel=0.01)
    assert field_metabolic_rate(mass) == pytest.approx(field, rel=0.01)


def test_warmth_doubles_the_rate_every_eight_degrees_or_so() -> (
    None
):  # Q10 2.4 by the exponent 0.038
    assert resting_metabolic_rate(100, 35) / resting_metabolic_rate(100, 25) == pytest.approx(
        10**0.38
    )


def test_a_rotation_without_days_and_a_meal_without_days_are_refused() -> None:
    """Neither may come round after no time at all: a calendar of it would never end."""
    for wrong in ({"period_days": 0}, {"doses": -1}):
        with pytest.raises(ValidationError):
            SupplementRule.model_validate({"product": "calcium", **wrong})
    spec = find("Pogona vitticeps").meals[0].model_dump(mode="json")
    with pytest.raises(ValidationError, match="after days"):
        MealSpec.model_validate({**spec, "every_days": [0, 2]})


def test_calcium_for_ten_crickets() -> None:  # mass balance by hand, note C3
    assert calcium_supplement(4.5, 41, 295) == pytest.approx(61.8, abs=0.1)
    assert calcium_supplement(4.5, 41, 295, 1.5) == pytest.approx(45.2, abs=0.1)
    assert calcium_supplement(4.5, 41, 295, retention=0.5) == pytest.approx(123.5, abs=0.3)
    assert calcium_supplement(5, 934, 356) == 0  # black soldier fly larvae reach it by themselves
    with pytest.raises(NoSolutionError):
        calcium_supplement(
            4.5, 41, 295, supplement_calcium_share=0.295, supplement_phosphorus_share=0.228
        )  # dicalcium phosphate never does


def test_most_feeders_hold_far_more_phosphorus_than_calcium() -> None:
    """0.1 to 0.3 : 1 (common practice, no source); mealworms and superworms still less (Finke 2002,
    from memory).
    """
    for feeder in FEEDERS.values():
        if (
            feeder.food == "insects"
            and feeder.calcium_mg_100g
            and feeder.phosphorus_mg_100g
            and "soldier" not in feeder.kind
        ):
            assert 0.05 <= feeder.calcium_mg_100g / feeder.phosphorus_mg_100g <= 0.3


def test_prey_is_no_wider_than_the_gap_between_the_eyes() -> None:
    for gap in (1.0, 2.5, 6, 9, 14):
        width = widest_insect(gap).width_mm
        assert width is not None and (width <= gap or gap < 2)


def test_an_adult_dragon_gets_four_or_five_large_roaches_twice_a_week() -> None:
    """Common practice, no source."""
    diet = four_weeks(
        find("Pogona vitticeps"),
        "adult",
        mass_g=420,
        body_length_m=0.5,
        today=DAY,
        anchor=DAY,
        uvb=True,
        body_c=28,
        approaches={},
    )
    insects = next(p for p in diet.plans if p.slug == "insects")
    assert insects.portions[0].name == "large roach" and insects.portions[0].count in (4, 5, 6)
    assert len([m for m in diet.meals if m.slug == "insects"]) == 8
    assert len([m for m in diet.meals if m.slug == "salad"]) == 28


@pytest.mark.parametrize(
    ("species", "stage", "mass", "length"),
    [
        ("Tiliqua scincoides", s, m, n)
        for s, m, n in (
            ("newborn", 20, 0.17),
            ("juvenile", 90, 0.27),
            ("subadult", 240, 0.39),
            ("adult", 450, 0.52),
        )
    ]
    + [
        ("Pogona vitticeps", s, m, n)
        for s, m, n in (
            ("hatchling", 6, 0.11),
            ("juvenile", 80, 0.28),
            ("subadult", 240, 0.40),
            ("adult", 420, 0.5),
        )
    ],
)
def test_planned_meals_hold_plausible_energy(
    species: str, stage: str, mass: float, length: float
) -> None:
    diet = four_weeks(
        find(species),
        stage,
        mass_g=mass,
        body_length_m=length,
        today=DAY,
        anchor=DAY,
        uvb=True,
        body_c=28,
        approaches={},
    )
    assert diet.energy_verdict == "inside", diet.energy_kj_day


def test_the_eager_approach_feeds_more_and_more_often() -> None:
    skink = find("Tiliqua scincoides")
    lean, eager = (
        four_weeks(
            skink,
            "newborn",
            mass_g=20,
            body_length_m=0.17,
            today=DAY,
            anchor=DAY,
            uvb=True,
            body_c=28,
            approaches=s,
        )
        for s in ({}, {"feeding-pace": "eager"})
    )
    assert (
        len(eager.meals) > len(lean.meals)
        and eager.plans[0].grams.value > lean.plans[0].grams.value
    )
    assert eager.plans[0].grams.approach != lean.plans[0].grams.approach
