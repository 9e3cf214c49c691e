"""Rows say what `plan()` says on every day; stages come in order, early before usual before late."""

import datetime as dt
import itertools
import random

import pytest

from husbandry.documents.animal import Animal
from husbandry.documents.request_json import from_data
from husbandry.growth.expected import expected
from husbandry.growth.fitting import WeightRecord
from husbandry.life_plan.future_body import first_day, future, request_on
from husbandry.life_plan.rows import (
    SETTLED_DAYS,
    LifePlan,
    life_plan_of,
    milestones,
    stretches,
    worth_in,
)
from husbandry.plan.plan import plan
from husbandry.species.library import find, library
from husbandry.species.stages import DAYS_PER_MONTH

TODAY = dt.date(2026, 6, 1)
LIVES = [
    (
        "Tiliqua scincoides",
        {"mass_g": 60, "born_on": dt.date(2026, 1, 1), "length_mm": {"total": 240}},
        {},
    ),
    (
        "Lampropeltis californiae",
        {"mass_g": 25, "born_on": dt.date(2026, 1, 10)},
        {"feeding-pace": "eager"},
    ),
    ("Correlophus ciliatus", {"born_on": dt.date(2026, 3, 1)}, {"how-big": "minimum"}),
    (
        "Pogona vitticeps",
        {"length_mm": {"total": 200}, "born_on": dt.date(2026, 2, 1)},
        {"humidity-figure": "constant"},
    ),
    ("Testudo hermanni", {"mass_g": 30}, {}),
]


def life_of(species, known, approaches=None):
    animal = Animal.model_validate({"species": species, "approaches": approaches or {}, **known})
    return future(animal, find(species), today=TODAY)


def request_of(life):
    """One animal in an enclosure; the enclosure itself does not matter to what the animal needs."""
    lamp = {
        "id": "lamp",
        "kind": "halogen_flood",
        "at_m": [0.3, 0.3, 0.55],
        "power_w": 60,
        "beam_deg": 30,
    }
    tube = {
        "id": "tube",
        "kind": "t5_6",
        "at_m": [0.5, 0.3, 0.55],
        "length_m": 0.6,
        "reflector": True,
    }
    return from_data(
        {
            "format": "ridgeback-request/2",
            "now": "2026-06-01T10:00:00+00:00",
            "room": {"day_c": 21, "night_c": 18, "summer_max_c": 28, "rh_pct": 50},
            "animals": [life.animal.model_dump(mode="json", exclude_none=True)],
            "enclosure": {"inside_m": {"length": 1.2, "depth": 0.6, "height": 0.6}},
            "items": [lamp, tube],
        }
    )


@pytest.mark.parametrize(
    ("species", "known", "approaches"), LIVES, ids=[life[0] for life in LIVES]
)
def test_each_life_row_says_what_the_plan_says_on_ten_random_days(species, known, approaches):
    life = life_of(species, known, approaches)
    life_plan = life_plan_of(life, TODAY)
    request = request_of(life)
    chance = random.Random(species)
    days = (life_plan.last - life_plan.first).days
    for _ in range(10):
        on = life_plan.first + dt.timedelta(days=chance.randrange(days))
        made = plan(request_on(request, on, [life]), advise=False)
        told = {life_row.slug for life_row in life_plan.life_rows}
        assert {"enclosure", "warm air", "food", "supplements"} <= told
        for life_row in life_plan.life_rows:
            theirs = worth_in(made, life_row.slug)
            if theirs is not None:
                assert life_row.on(on) == theirs, (life_row.slug, on)
        condition_period = next(
            condition_period
            for condition_period in life_plan.stages
            if condition_period.since <= on < condition_period.until
        )
        assert condition_period.slug == made.animals[0].stage.slug


@pytest.mark.parametrize("profile", library().values(), ids=lambda profile: profile.slug)
def test_every_species_has_a_path_from_birth_to_grown(profile):
    life = future(Animal(species=profile.species, born_on=TODAY), profile, today=TODAY)
    life_plan = life_plan_of(life, TODAY)
    assert [condition_period.slug for condition_period in life_plan.stages] == [
        stage.slug for stage in profile.stages
    ]
    for milestone in life_plan.milestones:
        assert milestone.early is not None and milestone.early <= milestone.usual
        assert milestone.late is None or milestone.usual <= milestone.late
    assert life_plan.milestones[0].shifts
    for life_row in life_plan.life_rows:
        assert (
            life_row.steps[0].since == life_plan.first
            and life_row.steps[-1].until == life_plan.last
        )
        assert all(
            a.until == b.since and a.worth != b.worth
            for a, b in itertools.pairwise(life_row.steps)
        )
    assert life_plan.life_until is not None and life_plan.life_until[0] > TODAY
    assert LifePlan.model_validate_json(life_plan.model_dump_json(exclude_none=True)) == life_plan


@pytest.mark.parametrize("approach", ["room", "minimum"])
def test_an_enclosure_never_has_to_shrink(approach):
    """Measured at birth, so that its length is projected from day to day through every border of
    its stages.
    """
    for profile in library().values():
        first = profile.adult_of("any").first_length_mm.typical
        animal = Animal(
            species=profile.species,
            born_on=TODAY,
            length_mm={profile.body.length_kind: first},
            approaches={"how-big": approach},
        )
        life = future(animal, profile, today=TODAY)
        borders = [milestone.usual for milestone in milestones(life, TODAY)]
        grown = borders[-1] if borders else TODAY
        months = ((grown - TODAY).days + SETTLED_DAYS) // 30
        days = {TODAY + dt.timedelta(days=30 * month) for month in range(months)}
        days |= {border - dt.timedelta(days=1) for border in borders} | {*borders}
        for a, b in itertools.pairwise(life.enclosure_m(on) for on in sorted(days)):
            assert all(x <= y + 0.011 for x, y in zip(a, b, strict=True)), (profile.species, a, b)


def test_nothing_known_is_a_grown_animal_without_milestones():
    life_plan = life_plan_of(life_of("Tiliqua scincoides", {}), TODAY)
    assert (
        not life_plan.milestones
        and [condition_period.slug for condition_period in life_plan.stages] == ["adult"]
        and life_plan.life_until is None
    )


def test_weights_narrow_the_days_of_the_next_stage():
    """Weights of most of its growth narrow the wait that a single weight leaves."""
    profile = find("Tiliqua scincoides")
    curve = expected(profile).usual
    born = TODAY - dt.timedelta(days=300)
    days = range(20, 301, 20)
    weights = [
        WeightRecord(on=born + dt.timedelta(days=n), mass_g=curve.mass_g(n / DAYS_PER_MONTH))
        for n in days
    ]
    animal = Animal(species=profile.species, mass_g=weights[-1].mass_g)
    one, many = (
        life_plan_of(future(animal, profile, told, today=TODAY), TODAY).milestones[0]
        for told in ([], weights)
    )
    assert one.early is not None and many.early is not None
    assert abs(one.usual - many.usual) < dt.timedelta(days=45)
    assert many.usual - many.early <= one.usual - one.early


def test_a_length_alone_is_projected_and_no_mass_is_told():
    life = life_of("Pogona vitticeps", {"length_mm": {"total": 200}})
    later = TODAY + dt.timedelta(days=200)
    assert life.mass_g(later) is None
    assert life.lengths_mm(later)["total"] > 250


def test_stretches_find_each_change_to_the_day():
    first, last = dt.date(2026, 1, 1), dt.date(2030, 1, 1)
    changes = [
        dt.date(2026, 1, 2),
        dt.date(2026, 1, 9),
        dt.date(2028, 2, 29),
        dt.date(2029, 12, 31),
    ]
    found = stretches(lambda on: sum(on >= change for change in changes), first, last)
    assert [since for since, _, _ in found] == [first, *changes]
    assert [value for _, _, value in found] == [0, 1, 2, 3, 4]
    assert first_day(lambda on: on >= changes[2], first, last) == changes[2]
    assert first_day(lambda on: False, first, last) is None
