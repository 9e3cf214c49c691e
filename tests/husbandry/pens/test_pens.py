"""Outdoor pens: what is wrong for whom, advice followed to its end, the day and the year."""

import datetime as dt
import zoneinfo
from typing import Any

import pytest

from husbandry.documents.room import Place
from husbandry.forecast.outdoor_day import Weather, why_not
from husbandry.pens.findings import (
    LEAST_SHADE,
    MUCH_SHADE,
    floor_needed_m,
    mesh_for,
    wall_needed_m,
)
from husbandry.pens.pen import PenAnimal, PenDay, PenSpec
from husbandry.pens.plan import PenClimate, PenPlan, is_sun_low, plan_pen, put_right, year
from husbandry.species.library import find, library

SOUTH_GERMANY = Place(lat=48.0, lon=10.0, tz="Europe/Berlin")
SUMMER = PenDay(SOUTH_GERMANY, dt.date(2026, 7, 15), Weather(max_c=26, min_c=14))
GOOD = PenSpec(
    length_m=4,
    width_m=2,
    wall_m=0.5,
    sunk_m=0.3,
    top="half_inch",
    shade_share=0.5,
    hides=2,
    stone=True,
    water=True,
)
USUAL = PenClimate()
OUTDOORS = [profile.species for profile in library().values() if not why_not(profile)]


def animal(species: str = "Testudo hermanni", body_m: float = 0.16, **facts: Any) -> PenAnimal:
    profile = find(species)
    return PenAnimal(
        facts.pop("name", "Mo"), profile, facts.pop("stage", profile.grown.slug), body_m, **facts
    )


def planned(pen: PenSpec = GOOD, *animals: PenAnimal, climate: PenClimate = USUAL) -> PenPlan:
    return plan_pen(pen, animals or (animal(),), SUMMER, climate)


def slugs(made: PenPlan) -> list[str]:
    return [one.slug for one in made.findings]


def without(**facts: Any) -> PenSpec:
    return PenSpec.model_validate({**GOOD.model_dump(), **facts})


# --- one pen that keepers have, and each thing that spoils it ---------------------------------------


def test_a_common_tortoise_pen_is_right() -> None:
    """Boards half a metre high and let in, netted, half in shade, hide, slate and dish (common
    practice, no source).
    """
    made = planned(GOOD, animal(), animal(name="Fig", sex="female"))
    assert not made.findings and len(made.out) == 1
    assert made.out[0].end_h - made.out[0].begin_h > 6


@pytest.mark.parametrize(
    ("facts", "slug", "severity"),
    [
        ({"top": ""}, "open top", "danger"),
        ({"wall_m": 0.2}, "wall", "danger"),
        ({"sunk_m": 0.0}, "digs out", "danger"),
        ({"walls": "glass"}, "greenhouse", "danger"),
        ({"walls": "mesh"}, "see-through", "wrong"),
        ({"shade_share": 0.1}, "shade", "danger"),
        ({"water": False}, "water", "danger"),
        ({"hides": 0}, "hides", "wrong"),
        ({"stone": False}, "stone", "wrong"),
        ({"length_m": 1.0, "width_m": 0.5}, "floor", "wrong"),
    ],
)
def test_what_is_missing_is_said_and_one_change_puts_it_right(
    facts: dict[str, Any], slug: str, severity: str
) -> None:
    pen = without(**facts)
    (found,) = planned(pen).findings
    assert (found.slug, found.severity) == (slug, severity)
    assert not planned(put_right(pen, [found])).findings


def test_sand_burns_in_a_heat_wave_and_grass_does_not() -> None:
    """Dry sand passes 55 °C on a still day of 35 °C, even under a net (common practice, no source)."""
    hot = PenClimate(warm_max_c=27, warm_min_c=16)
    assert "ground burns" in slugs(planned(without(ground="sand"), climate=hot))
    assert "ground burns" not in slugs(planned(climate=hot))
    cool = PenClimate(warm_max_c=16, warm_min_c=9)
    assert "ground burns" not in slugs(planned(without(ground="sand"), climate=cool))


def test_walls_are_one_and_a_half_shells_high() -> None:
    """Common practice, no source: it climbs on what it can reach with its front legs."""
    assert wall_needed_m([animal(body_m=0.4)]) == pytest.approx(0.6)
    assert wall_needed_m([animal(body_m=0.1)]) == pytest.approx(0.3)


def test_a_climber_is_held_by_mesh_all_round_and_needs_height_and_branches() -> None:
    """A chameleon outdoors is in a cage of mesh under a tree (common practice, no source)."""
    chameleon = animal("Chamaeleo calyptratus", 0.2, name="Vee")
    assert "climbs out" in slugs(planned(without(top=""), chameleon))
    said = slugs(planned(without(walls="mesh"), chameleon))
    assert (
        {"height", "branches"} <= set(said) and "see-through" not in said and "stone" not in said
    )
    cage = without(walls="mesh", wall_m=1.2, branches=True, stone=False)
    assert not planned(cage, chameleon).findings


def test_a_small_lizard_slips_through_a_wide_mesh() -> None:
    """A day gecko of 8 cm has a head of about a centimetre and a half, a hatchling of 3 cm of six
    millimetres (common practice, no source): 13 mm mesh holds neither.
    """
    cage = without(walls="mesh", top="half_inch", wall_m=1.0, branches=True)
    for body_m in (0.08, 0.03):
        gecko = animal("Phelsuma grandis", body_m)
        found = [one for one in planned(cage, gecko).findings if one.slug == "slips through"]
        assert found
        assert "slips through" not in slugs(planned(put_right(cage, found), gecko))
    assert mesh_for([animal(body_m=0.2)]) == "half_inch"  # sun and air for a tortoise


def test_company_is_judged_as_in_an_enclosure() -> None:
    two_kinds = planned(GOOD, animal(), animal("Testudo graeca", name="Ida"))
    assert "company" in slugs(two_kinds)
    males = [animal(name=name, sex="male") for name in ("Mo", "Al")]
    assert any("2 males" in one.text for one in planned(GOOD, *males).findings)


def test_who_is_not_taken_out_is_a_danger_that_no_pen_cures() -> None:
    (found, *_) = planned(GOOD, animal("Eublepharis macularius", 0.13)).findings
    assert found.slug == "not outside" and found.severity == "danger" and not found.patch


def test_more_animals_need_more_floor() -> None:
    one, two = floor_needed_m([animal()]), floor_needed_m([animal(), animal(name="Fig")])
    assert two[0] * two[1] > 1.2 * one[0] * one[1]


# --- advice followed to its end ---------------------------------------------------------------------


@pytest.mark.parametrize("species", OUTDOORS)
def test_who_accepts_everything_has_a_right_pen(species: str) -> None:
    """Every species that goes out, each stage, from the emptiest pen and from a glass one."""
    profile = find(species)
    for stage in profile.stages:
        one = animal(species, 0.2, stage=stage.slug)
        for pen in (PenSpec(), PenSpec(walls="glass", ground="sand", length_m=0.5, width_m=0.8)):
            first = planned(pen, one)
            assert first.findings
            right = put_right(pen, first.findings)
            assert not planned(right, one).findings, (stage.slug, right)


def test_dangers_come_first() -> None:
    severities = [one.severity for one in planned(PenSpec()).findings]
    assert severities == sorted(severities) and set(severities) == {"danger", "wrong"}


def test_shade_is_half_of_the_floor_where_the_sun_is_strong() -> None:
    """A forest tortoise takes an index of three (its profile), midsummer at 48° has seven and more; at
    66° north it has less than a desert tortoise bears.
    """
    pen = without(shade_share=0.2)
    forest = planned(pen, animal("Chelonoidis carbonarius", 0.3))
    assert [one.needed for one in forest.findings if one.slug == "shade"] == [MUCH_SHADE]
    north = PenDay(Place(lat=66.0, lon=25.0, tz="Europe/Helsinki"), SUMMER.on, SUMMER.weather)
    mild = plan_pen(pen, [animal()], north, PenClimate())
    assert [one.needed for one in mild.findings if one.slug == "shade"] == [LEAST_SHADE]


def test_the_pen_is_judged_by_its_summer_on_whatever_day_it_is_asked() -> None:
    pen = without(shade_share=0.4, ground="sand")
    winter = PenDay(SOUTH_GERMANY, dt.date(2026, 1, 10), Weather(max_c=4, min_c=-2))
    asked = plan_pen(pen, [animal()], winter, PenClimate())
    assert slugs(asked) == slugs(planned(pen)) and not asked.out


# --- the day and the year ---------------------------------------------------------------------------


def test_all_are_out_only_when_each_can_be() -> None:
    desert, forest = animal(), animal("Chelonoidis carbonarius", 0.3, name="Red")
    alone = [sum(s.end_h - s.begin_h for s in planned(GOOD, one).out) for one in (desert, forest)]
    both = sum(s.end_h - s.begin_h for s in planned(GOOD, desert, forest).out)
    assert both <= min(alone) + 1e-9


def test_a_year_of_a_mediterranean_tortoise_in_south_germany() -> None:
    """Out by day from April to September, not in winter (common practice, no source)."""
    months = {
        one.month: one.hours for one in year(GOOD, [animal()], SOUTH_GERMANY, PenClimate(), 2026)
    }
    assert all(months[month] > 4 for month in range(5, 9))
    assert not any(months[month] for month in (11, 12, 1, 2))
    assert max(months, key=lambda month: months[month]) in {6, 7}


def test_the_southern_year_is_the_northern_one_half_a_year_later() -> None:
    south = Place(lat=-48.0, lon=10.0, tz="Africa/Johannesburg")
    found = year(GOOD, [animal()], south, PenClimate(), 2026)
    hours = {one.month: one.hours for one in found}
    assert hours[1] > 4 and hours[7] == 0


def test_a_pen_without_animals_says_what_anybody_needs() -> None:
    made = plan_pen(PenSpec(), (), SUMMER, PenClimate())
    assert made.out == () and set(slugs(made)) == {"open top", "shade"}


@pytest.mark.parametrize(
    ("hour", "low"), [(3, True), (6, True), (10, False), (14, False), (19, False), (21, True)]
)
def test_when_the_sun_is_low_they_belong_inside(hour: int, low: bool) -> None:
    """Mid-July at 48° north: up at half past five, down at nine by summer time (an almanac, from
    memory).
    """
    at = dt.datetime(2026, 7, 15, hour, tzinfo=zoneinfo.ZoneInfo("Europe/Berlin"))
    assert is_sun_low(SOUTH_GERMANY, at) == low
