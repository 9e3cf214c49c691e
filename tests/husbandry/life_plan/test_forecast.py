"""The next twelve months: stages, enclosures outgrown, brumations, weighings."""

import datetime as dt

import pytest

from husbandry.documents.animal import Animal
from husbandry.enclosure.equipment import UV_LAMPS
from husbandry.growth.fitting import WeightRecord
from husbandry.items.union import read_item
from husbandry.life_plan.enclosure_purchases import OwnedEnclosure, fits
from husbandry.life_plan.forecast import SAMPLE_DAYS, AnimalForecast, ahead_of, events, lamp_events
from husbandry.life_plan.future_body import future
from husbandry.species.library import find

TODAY = dt.date(2026, 6, 10)
MONTH = TODAY.replace(day=1)


def told(species, enclosure=None, weights=(), south=False, **known):
    profile = find(species)
    animal = Animal(species=species, **known)
    ahead = ahead_of(future(animal, profile, weights, today=TODAY), weights, MONTH)
    assert AnimalForecast.model_validate_json(ahead.model_dump_json(exclude_none=True)) == ahead
    return events(ahead, profile, enclosure, TODAY, south=south)


def test_a_growing_one_changes_its_stage_and_outgrows_its_enclosure():
    weights = [WeightRecord(on=dt.date(2026, 6, 1), mass_g=60)]
    enclosure = OwnedEnclosure("first enclosure", (1.17, 0.57, 0.57), 0.08)
    found = told("Tiliqua scincoides", enclosure, weights, born_on=dt.date(2026, 1, 1), mass_g=60)
    stage = next(event for event in found if event.kind == "stage")
    assert stage.what == "sub-adult" and stage.milestone is not None and stage.milestone.shifts
    small = next(event for event in found if event.kind == "enclosure")
    life = future(
        Animal(species="Tiliqua scincoides", born_on=dt.date(2026, 1, 1), mass_g=60),
        find("Tiliqua scincoides"),
        weights,
    )
    exact = fits(life, enclosure, TODAY).usual
    assert exact is not None and dt.timedelta(0) <= small.on - exact <= dt.timedelta(
        days=SAMPLE_DAYS
    )


def test_an_enclosure_too_small_today_is_said_as_a_danger():
    found = told(
        "Tiliqua scincoides",
        OwnedEnclosure("tub", (0.5, 0.3, 0.3)),
        [WeightRecord(on=MONTH, mass_g=500)],
        mass_g=500,
    )
    small = next(event for event in found if event.kind == "enclosure")
    assert small.on == TODAY and small.severity == "danger"


@pytest.mark.parametrize(("south", "month"), [(False, 11), (True, 5)])
def test_a_grown_tortoise_rests_in_its_own_winter_after_a_look_by_a_veterinarian(south, month):
    found = told("Testudo hermanni", south=south, born_on=dt.date(2010, 8, 1))
    rest = next(event for event in found if event.kind == "rest")
    check = next(event for event in found if event.kind == "check")
    assert rest.on.month == month and check.on < rest.on


def test_a_young_one_and_one_by_the_approach_of_none_do_not_rest():
    assert not [
        e
        for e in told("Lampropeltis californiae", born_on=dt.date(2026, 4, 1))
        if e.kind == "rest"
    ]
    assert not [
        e
        for e in told(
            "Testudo hermanni", born_on=dt.date(2010, 8, 1), approaches={"brumation": "none"}
        )
        if e.kind == "rest"
    ]


def test_weighing_is_asked_for():
    never = told("Tiliqua scincoides", born_on=dt.date(2020, 1, 1))
    assert next(event for event in never if event.kind == "weigh").on == TODAY
    due = told(
        "Tiliqua scincoides", weights=[WeightRecord(on=dt.date(2026, 6, 1), mass_g=60)], mass_g=60
    )
    assert next(event for event in due if event.kind == "weigh").on == dt.date(2026, 7, 1)


def test_what_the_weights_say_comes_first():
    weights = [
        WeightRecord(on=dt.date(2026, 5, 1) + dt.timedelta(days=7 * n), mass_g=m)
        for n, m in enumerate((500, 505, 498, 500, 430))
    ]
    found = told("Tiliqua scincoides", weights=weights, mass_g=430)
    assert found[0].kind in {"weigh", "weights"} and any(
        event.severity == "danger" for event in found if event.kind == "weights"
    )


def tube(hours_run, **more):
    spec = {
        "id": "tube",
        "kind": "t5_12",
        "at_m": [0.5, 0.3, 0.5],
        "length_m": 0.85,
        "hours_run": hours_run,
        "on": "08:00",
        "off": "18:00",
    }
    return read_item({**spec, **more})


def test_a_tube_is_due_when_its_hours_are_run_by_its_timer():
    """Common practice, no source: T5 tubes about yearly; ten hours a day from new are a year and
    more to seven tenths.
    """
    due = UV_LAMPS["t5_12"].t70_h
    since = TODAY - dt.timedelta(days=30)
    event = lamp_events([tube(due - 1300)], since, TODAY)[0]
    assert event.kind == "lamp" and event.on == since + dt.timedelta(days=130)
    assert lamp_events([tube(due + 500)], since, TODAY)[0].on == TODAY
    assert lamp_events([tube(0)], TODAY, TODAY) == () or due / 10 < 366
    assert lamp_events([tube(None)], since, TODAY) == ()
    assert lamp_events([tube(due, on="08:00", off="08:00")], since, TODAY) == ()
