"""Brumation and the length of days (common practice, no source, unless said otherwise)."""

import datetime as dt
import itertools

import pytest

from husbandry.feeding.adjustments import lead_of
from husbandry.seasons.brumation import (
    FIRST_MEAL_DAYS,
    BrumationFitness,
    is_dormant,
    limits,
    plan_dormancy,
    plan_summer,
    usual_begin,
    usual_summer,
    why_not,
    why_not_summer,
)
from husbandry.seasons.photoperiod import clock_changes, lit_hours, timers
from husbandry.seasons.summer_and_winter import (
    LEAN_FACTOR,
    lean,
    solstice,
    summer_share,
    warmth_by_month,
)
from husbandry.species.library import find, library

FIT = BrumationFitness(
    stage="adult", mass_known=True, lost_share=0.0, in_care_days=800, not_well=False
)
BEGINS = dt.date(2026, 12, 6)


def test_a_fortnight_without_food_before_the_days_shorten() -> None:
    """Check value: two weeks' fast before the days shorten, for every kind that rests and says so."""
    for profile in library().values():
        season = profile.season
        if season.dormancy_weeks is None or season.last_meal_days is None:
            continue
        rest = plan_dormancy(profile, BEGINS, season.dormancy_weeks.ends[0])
        shortens = next(step.on for step in rest.steps if step.kind == "day")
        fast = (shortens - rest.last_meal).days
        assert fast >= max(round(season.last_meal_days.ends[1]), 1), profile.species
        if season.last_meal_days.ends[0] >= 14:
            assert fast >= 14, profile.species


def test_days_go_down_to_four_hours_and_back() -> None:
    """Check value: 12 to 8 to 6 to 4 h by midwinter, and reversed in spring."""
    rest = plan_dormancy(find("Pogona vitticeps"), BEGINS, 8)
    hours = [step.hours for step in rest.steps if step.hours is not None]
    assert hours == [8, 6, 4, 0, 4, 6, 8, find("Pogona vitticeps").photoperiod_h.span.ends[0]]
    temps = [step.temp_c for step in rest.steps if step.temp_c is not None]
    coldest = temps.index(min(temps))
    assert temps[: coldest + 1] == sorted(temps[: coldest + 1], reverse=True) and temps[
        coldest:
    ] == sorted(temps[coldest:])


@pytest.mark.parametrize(
    ("species", "low", "high"),
    [("Testudo hermanni", 4, 8), ("Pantherophis guttatus", 10, 14), ("Pogona vitticeps", 12, 18)],
)
def test_resting_temperatures_are_those_of_its_kind(species: str, low: float, high: float) -> None:
    """Check value: land tortoises 4 to 8 °C, temperate snakes 10 to 14, inland agamas 12 to 18."""
    profile = find(species)
    assert profile.season.dormancy_weeks is not None
    rest = plan_dormancy(profile, BEGINS, profile.season.dormancy_weeks.ends[0])
    assert rest.temp_c == (low, high)
    assert (
        low
        <= next(
            step.temp_c for step in rest.steps if step.kind == "rest" and step.temp_c is not None
        )
        <= high
    )


def test_a_check_comes_in_time_to_treat_and_weighings_go_through() -> None:
    rest = plan_dormancy(find("Lampropeltis californiae"), BEGINS, 10)
    check = next(step.on for step in rest.steps if step.kind == "check")
    assert (rest.last_meal - check).days == 42
    weighings = [step.on for step in rest.steps if step.kind == "weigh"]
    assert weighings[0] == rest.last_meal and weighings[-1] == rest.ends
    assert all((b - a).days <= 42 for a, b in itertools.pairwise(weighings))
    assert [step.on for step in rest.steps] == sorted(step.on for step in rest.steps)


def test_food_ends_before_and_begins_after() -> None:
    rest = plan_dormancy(find("Lampropeltis californiae"), BEGINS, 10)
    assert (
        not is_dormant(rest, rest.last_meal)
        and is_dormant(rest, BEGINS)
        and not is_dormant(rest, rest.first_meal)
    )
    assert rest.first_meal > rest.ends


def test_who_does_not_rest_is_told_why() -> None:
    snake, tortoise = find("Lampropeltis californiae"), find("Testudo hermanni")
    assert why_not(snake, FIT) == ()
    assert "does not rest in winter" in why_not(find("Python regius"), FIT)[0]
    assert any("still growing" in text for text in why_not(snake, FIT._replace(stage="hatchling")))
    assert any("lost 7%" in text for text in why_not(snake, FIT._replace(lost_share=0.07)))
    assert any("half a year" in text for text in why_not(snake, FIT._replace(in_care_days=40)))
    assert any("not well" in text for text in why_not(snake, FIT._replace(not_well=True)))
    assert any("weighed" in text for text in why_not(snake, FIT._replace(mass_known=False)))
    assert any(
        "veterinarian’s word" in text
        for text in why_not(tortoise, FIT._replace(stage="hatchling"))
    )


def test_weeks_that_are_not_its_own_are_refused() -> None:
    with pytest.raises(ValueError, match="8 to 12 weeks"):
        plan_dormancy(find("Lampropeltis californiae"), BEGINS, 30)
    with pytest.raises(ValueError, match="does not rest"):
        plan_dormancy(find("Python regius"), BEGINS, 8)


def test_losses_that_end_a_rest() -> None:
    """Ten in a hundred; of tortoises eight (source: feeding C6)."""
    assert limits(find("Lampropeltis californiae"), 1000) == pytest.approx((950, 900))
    assert limits(find("Testudo hermanni"), 1000) == pytest.approx((960, 920))


def test_winter_lies_in_june_south_of_the_equator() -> None:
    assert usual_begin(52, 2026) == BEGINS and usual_begin(-34, 2026).month == 6
    profile = find("Tiliqua scincoides")
    low, high = profile.photoperiod_h.span.ends
    for lat, short, long in ((52.0, (12, 21), (6, 21)), (-34.0, (6, 21), (12, 21))):
        assert lit_hours(profile, "own", dt.date(2026, *short), lat) == pytest.approx(
            low, abs=0.01
        )
        assert lit_hours(profile, "own", dt.date(2026, *long), lat) == pytest.approx(
            high, abs=0.01
        )


def test_the_places_own_day_stays_within_its_kinds() -> None:
    """At 60° north midsummer has 18.9 h of sun (handbook of the nautical almanac, from memory): its
    species’ longest day is the end.
    """
    profile = find("Tiliqua scincoides")
    assert (
        lit_hours(profile, "place", dt.date(2026, 6, 21), 60) == profile.photoperiod_h.span.ends[1]
    )
    assert lit_hours(profile, "place", dt.date(2026, 3, 20), 45) == pytest.approx(12.2, abs=0.15)
    assert lit_hours(profile, "same", dt.date(2026, 6, 21), 60) == 12


def test_timers_lie_about_the_middle_of_a_waking_day() -> None:
    found = timers(12)
    assert found.light == ("07:00", "19:00") and found.heat == ("07:30", "18:30")
    assert timers(13.37).light == ("06:20", "19:40")
    assert timers(0.5).heat == ("13:00", "13:00")


def test_clocks_are_moved_on_the_last_sundays_of_march_and_october() -> None:
    """European summer time; a zone without any; the southern year; a leap year."""
    assert clock_changes("Europe/Lisbon", 2026) == (
        (dt.date(2026, 3, 29), 1.0),
        (dt.date(2026, 10, 25), -1.0),
    )
    assert clock_changes("Africa/Nairobi", 2026) == ()
    assert clock_changes("Australia/Sydney", 2026) == (
        (dt.date(2026, 4, 5), -1.0),
        (dt.date(2026, 10, 4), 1.0),
    )
    assert len(clock_changes("Europe/Berlin", 2028)) == 2


def test_a_leap_day_is_a_day() -> None:
    profile = find("Tiliqua scincoides")
    assert lit_hours(profile, "own", dt.date(2028, 2, 29), 50) == pytest.approx(
        lit_hours(profile, "own", dt.date(2027, 3, 1), 50), abs=0.05
    )


# --- summer rest, warmth, the lean weeks ----------------------------------------------------------


def test_a_summer_rest_is_refused_where_no_summer_makes_it() -> None:
    fit = BrumationFitness("adult", True, 0.0, 900, False)
    assert "does not rest in summer" in why_not_summer(find("Lampropeltis californiae"), fit)[0]
    assert why_not_summer(find("Testudo hermanni"), fit) == ()
    assert any(
        "lost" in text
        for text in why_not_summer(find("Testudo hermanni"), fit._replace(lost_share=0.08))
    )


def test_a_summer_rest_has_no_cold_and_no_dark_and_water_at_its_end() -> None:
    tortoise = find("Testudo hermanni")
    made = plan_summer(tortoise, dt.date(2026, 7, 6), 4)
    assert {step.kind for step in made.steps} == {
        "check",
        "last meal",
        "retreat",
        "weigh",
        "water",
        "first meal",
    }
    assert made.ends == dt.date(2026, 8, 3) and made.first_meal == dt.date(2026, 8, 4)
    assert sum(step.kind == "weigh" for step in made.steps) == 5  # weekly, and on the last day
    assert made.temp_c[0] > 15
    with pytest.raises(ValueError, match="weeks"):
        plan_summer(tortoise, dt.date(2026, 7, 6), 20)
    with pytest.raises(ValueError, match="does not rest"):
        plan_summer(find("Boa imperator"), dt.date(2026, 7, 6), 4)
    assert usual_summer(-30, 2026).month == 1


@pytest.mark.parametrize("species", ["Pogona vitticeps", "Testudo hermanni", "Salvator merianae"])
def test_the_first_meal_waits_until_light_and_warmth_are_back(species: str) -> None:
    """Every step of waking comes first, and the last of them is the usual day."""
    profile = find(species)
    weeks = profile.season.dormancy_weeks
    assert weeks is not None
    made = plan_dormancy(profile, BEGINS, weeks.ends[0])
    lit = [step for step in made.steps if step.kind in {"wake", "day"} and step.on >= made.ends]
    assert len(lit) == len([s for s in made.steps if s.kind == "day" and s.on < BEGINS]) + 1
    assert lit[-1].hours == profile.photoperiod_h.span.ends[0]
    assert made.first_meal - lit[-1].on == dt.timedelta(days=FIRST_MEAL_DAYS)


def test_the_cool_comes_in_even_steps_with_the_shorter_days() -> None:
    """From the usual cool end to the cold of the rest, as many steps as the light has, evenly."""
    profile = find("Pogona vitticeps")
    made = plan_dormancy(profile, BEGINS, 8)
    steps = [step for step in made.steps if step.kind == "day" and step.on < BEGINS]
    temps = [step.temp_c for step in steps if step.temp_c is not None]
    cool = next(need for need in profile.needs if need.need.value == "cool_air_day")
    assert cool.low is not None and cool.high is not None and profile.season.dormancy_c is not None
    usual, cold = (cool.low + cool.high) / 2, profile.season.dormancy_c.middle
    even = [usual + (n + 1) / (len(temps) + 1) * (cold - usual) for n in range(len(temps))]
    assert len(temps) >= 2 and temps == pytest.approx(even, abs=0.06)


def test_only_the_youngest_of_what_must_rest_needs_a_veterinarians_word() -> None:
    tortoise = find("Testudo hermanni")
    for stage, asked in (("hatchling", True), ("juvenile", False), ("adult", False)):
        found = why_not(tortoise, FIT._replace(stage=stage))
        assert any("first months" in text for text in found) == asked, stage


def test_solstices_of_both_hemispheres() -> None:
    """Astronomical almanacs: about 21 June and 21 December."""
    assert solstice(dt.date(2026, 1, 3), 50) == dt.date(2025, 12, 21)
    assert solstice(dt.date(2026, 11, 3), 50) == dt.date(2026, 12, 21)
    assert solstice(dt.date(2026, 8, 3), -30) == dt.date(2026, 6, 21)
    assert (
        summer_share(dt.date(2026, 6, 21), 50)
        == pytest.approx(1, abs=0.001)
        == pytest.approx(1 - summer_share(dt.date(2026, 6, 21), -30), abs=0.001)
    )


def test_grown_ones_that_know_a_winter_are_fed_less_often_in_the_dark() -> None:
    """Appetite falls in winter (common practice, no source)."""
    snake = find("Lampropeltis californiae")
    assert lean(snake, "adult", dt.date(2026, 12, 1), 50) and not lean(
        snake, "adult", dt.date(2026, 4, 1), 50
    )
    assert lean(snake, "adult", dt.date(2026, 6, 10), -35)
    assert not lean(snake, "juvenile", dt.date(2026, 12, 21), 50)  # it grows
    assert not lean(
        find("Boa imperator"), "adult", dt.date(2026, 12, 21), 50
    )  # no winter where it comes from
    dark = lead_of(snake, "adult", today=dt.date(2026, 12, 10), lat_deg=50)
    assert dark.factor == LEAN_FACTOR and "darkest weeks" in dark.because[0]
    assert lead_of(snake, "adult", today=dt.date(2026, 12, 10)).factor == 1.0  # nobody said where


@pytest.mark.parametrize("species", sorted(library()))
@pytest.mark.parametrize("lat", [52.0, -35.0])
def test_warmth_by_month_stays_inside_the_targets(species: str, lat: float) -> None:
    profile = find(species)
    for one in warmth_by_month(profile, "adult", 2026, lat, {}):
        targets = [
            (need.low, need.high)
            for need in profile.needs
            if need.need == one.need and need.low is not None and need.high is not None
        ]
        assert all(
            min(low for low, _ in targets) <= value <= max(high for _, high in targets)
            for value in one.months
        )
        warm, cold = (one.months[6], one.months[0]) if lat > 0 else (one.months[0], one.months[6])
        assert warm > cold if profile.season.dormancy != "none" else warm == cold


def test_only_what_must_rest_hears_of_a_short_first_rest() -> None:
    for species in ("Pogona vitticeps", "Eublepharis macularius", "Anolis carolinensis"):
        profile = find(species)
        found = why_not(profile, FIT._replace(stage=profile.stages[0].slug))
        assert found and not any("first months" in text for text in found), species


def test_a_summer_rest_is_as_cool_as_the_cool_end_of_its_species() -> None:
    lizard = find("Uromastyx ornata")
    cool = next(need for need in lizard.needs if need.need.value == "cool_air_day")
    assert plan_summer(lizard, dt.date(2026, 7, 6), 4).temp_c == (cool.low, cool.high)
