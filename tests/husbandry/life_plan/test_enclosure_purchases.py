"""Enclosures through a life: until when one fits, and buying once against step by step."""

import datetime as dt
import itertools

import pytest

from husbandry.documents.animal import Animal
from husbandry.enclosure.catalogue import CATALOGUE
from husbandry.enclosure.trade_size import fits_size
from husbandry.life_plan.enclosure_purchases import (
    OwnedEnclosure,
    PurchasePlan,
    buying,
    common_enclosures,
    fits,
)
from husbandry.life_plan.future_body import future
from husbandry.species.library import find, library

TODAY = dt.date(2026, 6, 1)


def life_of(species, approaches=None, **known):
    return future(
        Animal(species=species, approaches=approaches or {}, **known), find(species), today=TODAY
    )


SKINK = {"species": "Tiliqua scincoides", "mass_g": 30, "born_on": dt.date(2026, 3, 1)}


def holds(bought, life, day):
    outside = CATALOGUE[bought.slug].outside_m if bought.slug else bought.sides_m
    return fits_size(outside, bought.sides_m[2] - life.substrate_m(day), life.enclosure_m(day))


def test_an_enclosure_fits_until_the_day_on_which_its_rule_says_no():
    life = life_of(**SKINK)
    enclosure = OwnedEnclosure("old one", (1.17, 0.57, 0.6), 0.1)
    found = fits(life, enclosure, TODAY)
    assert found.now and found.usual is not None and found.early is not None
    assert found.early <= found.usual and (found.late is None or found.usual <= found.late)
    before, after = found.usual - dt.timedelta(days=1), found.usual
    assert fits_size(enclosure.sides_m, 0.5, life.enclosure_m(before))
    assert not fits_size(enclosure.sides_m, 0.5, life.enclosure_m(after))


def test_an_enclosure_too_small_already_names_its_sides():
    found = fits(
        life_of("Tiliqua scincoides", mass_g=500),
        OwnedEnclosure("tub", (0.8, 0.7, 0.3), 0.05),
        TODAY,
    )
    assert not found.now and set(found.short) == {"length", "height"}
    assert (
        fits(
            life_of("Tiliqua scincoides", mass_g=500), OwnedEnclosure("hall", (3, 2, 2)), TODAY
        ).usual
        is None
    )


def test_what_is_left_above_the_substrate_counts():
    life = life_of("Tiliqua scincoides", mass_g=500)
    assert fits(life, OwnedEnclosure("enclosure", (1.6, 0.7, 0.7), 0.15), TODAY).now
    assert fits(life, OwnedEnclosure("enclosure", (1.6, 0.7, 0.7), 0.5), TODAY).short == (
        "height",
    )


@pytest.mark.parametrize("profile", library().values(), ids=lambda profile: profile.slug)
def test_every_way_of_buying_ends_in_an_enclosure_for_good(profile):
    life = life_of(profile.species, born_on=TODAY)
    found = buying(life, TODAY)
    assert sum(plan.advised for plan in found.plans) == 1
    assert PurchasePlan.model_validate_json(found.model_dump_json(exclude_none=True)) == found
    for plan in found.plans:
        last = plan.enclosures[-1]
        assert holds(last, life, life.end(TODAY))
        assert plan.total_eur == pytest.approx(
            sum(enclosure.price_eur for enclosure in plan.enclosures)
        )
        assert all(a.on < b.on for a, b in itertools.pairwise(plan.enclosures))
        if plan.slug in {"once", "steps"}:  # never a day in an enclosure too small
            assert plan.small_months == 0
            for enclosure, following in itertools.pairwise(plan.enclosures):
                day = following.on - dt.timedelta(days=1)
                assert holds(enclosure, life, day)
    assert not any(plan.advised and plan.small_months for plan in found.plans)


def test_every_common_enclosure_of_its_kinds_is_judged():
    found = {one.name: one for one in common_enclosures(life_of(**SKINK), TODAY)}
    assert (
        found["timber enclosure 240 × 120 × 120"].now
        and found["timber enclosure 240 × 120 × 120"].usual is None
    )
    assert (
        found["timber enclosure 120 × 60 × 60"].usual is not None
        and not found["timber enclosure 60 × 40 × 40"].now
    )
    assert "open table 150 × 75" not in found  # not of the kinds that suit it


def test_months_in_an_enclosure_too_small_are_counted():
    found = {plan.slug: plan for plan in buying(life_of(**SKINK), TODAY).plans}
    late, steps = found["late"], found["steps"]
    outgrown = steps.enclosures[1].on
    assert late.small_from == outgrown
    assert late.small_months == pytest.approx(
        (late.enclosures[1].on - outgrown).days / 30.44, abs=0.1
    )


def test_paying_twice_costs_more_than_once():
    """Common practice, no source: a starter enclosure is outgrown in months and paid for twice."""
    found = {plan.slug: plan for plan in buying(life_of(**SKINK), TODAY).plans}
    assert found["once"].total_eur < found["steps"].total_eur


def test_an_enclosure_that_is_owned_costs_nothing_while_it_fits():
    spare = OwnedEnclosure("spare", (1.17, 0.57, 0.57))
    steps = next(
        plan for plan in buying(life_of(**SKINK), TODAY, [spare]).plans if plan.slug == "steps"
    )
    assert (
        steps.enclosures[0].owned
        and steps.enclosures[0].name == "spare"
        and steps.enclosures[0].price_eur == 0
    )


@pytest.mark.parametrize(("approach", "slug"), [("at-once", "once"), ("steps", "steps")])
def test_the_keepers_approach_decides_which_way_is_advised(approach, slug):
    found = buying(life_of(approaches={"straight-to-adult": approach}, **SKINK), TODAY)
    assert next(plan.slug for plan in found.plans if plan.advised) == slug


def test_what_is_open_is_not_bought_for_damp_young():
    found = buying(life_of("Centrochelys sulcata", mass_g=60, born_on=dt.date(2026, 3, 1)), TODAY)
    steps = next(plan for plan in found.plans if plan.slug == "steps")
    assert not steps.enclosures[0].slug.startswith("table")
    assert steps.enclosures[-1].price_eur > 2000  # a shed, or one that is made
