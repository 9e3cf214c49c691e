"""Enclosures through a life: until when one fits, and buying once against step by step."""

import datetime as dt
import itertools

import pytest

from husbandry.box.shapes import holds
from husbandry.path.boxes import Buying, Owned, buying, common_boxes, fits
from husbandry.path.future_body import onward
from husbandry.planning.request import Animal
from husbandry.species.library import find, library

TODAY = dt.date(2026, 6, 1)


def life_of(species, schools=None, **known):
    return onward(Animal(species=species, schools=schools or {}, **known), find(species), today=TODAY)


SKINK = {"species": "Tiliqua scincoides", "mass_g": 30, "born_on": dt.date(2026, 3, 1)}


def test_a_box_fits_until_the_day_on_which_its_rule_says_no():
    life = life_of(**SKINK)
    box = Owned("old one", (1.17, 0.57, 0.6), 0.1)
    found = fits(life, box, TODAY)
    assert found.now and found.usual is not None and found.early is not None
    assert found.early <= found.usual and (found.late is None or found.usual <= found.late)
    before, after = found.usual - dt.timedelta(days=1), found.usual
    assert holds(box.sides_m, life.box_m(before), 0.1) and not holds(box.sides_m, life.box_m(after), 0.1)


def test_a_box_too_small_already_names_its_sides():
    found = fits(life_of("Tiliqua scincoides", mass_g=500), Owned("tub", (0.8, 0.7, 0.3), 0.05), TODAY)
    assert not found.now and set(found.short) == {"length", "height above the substrate"}
    assert fits(life_of("Tiliqua scincoides", mass_g=500), Owned("hall", (3, 2, 2)), TODAY).usual is None


def test_what_is_left_above_the_ground_counts():
    life = life_of("Tiliqua scincoides", mass_g=500)
    assert fits(life, Owned("box", (1.6, 0.7, 0.7), 0.15), TODAY).now
    assert fits(life, Owned("box", (1.6, 0.7, 0.7), 0.4), TODAY).short == ("height above the substrate",)


@pytest.mark.parametrize("profile", library().values(), ids=lambda profile: profile.slug)
def test_every_way_of_buying_ends_in_a_box_for_good(profile):
    life = life_of(profile.species, born_on=TODAY)
    found = buying(life, TODAY)
    assert sum(plan.advised for plan in found.plans) == 1
    assert Buying.model_validate_json(found.model_dump_json(exclude_none=True)) == found
    for plan in found.plans:
        last = plan.boxes[-1]
        assert holds(last.sides_m, life.box_m(life.end(TODAY)), life.ground_m(life.end(TODAY)))
        assert plan.total_eur == pytest.approx(sum(box.price_eur for box in plan.boxes))
        assert all(a.on < b.on for a, b in itertools.pairwise(plan.boxes))
        if plan.slug in {"once", "steps"}:  # never a day in an enclosure too small
            assert plan.small_months == 0
            for box, following in itertools.pairwise(plan.boxes):
                day = following.on - dt.timedelta(days=1)
                assert holds(box.sides_m, life.box_m(day), life.ground_m(day))
    assert not any(plan.advised and plan.small_months for plan in found.plans)


def test_every_common_box_of_its_kinds_is_judged():
    found = {one.name: one for one in common_boxes(life_of(**SKINK), TODAY)}
    assert found["timber enclosure 240 × 120 × 120"].now and found["timber enclosure 240 × 120 × 120"].usual is None
    assert found["timber enclosure 120 × 60 × 60"].usual is not None and not found["timber enclosure 60 × 40 × 40"].now
    assert "open table 150 × 75" not in found  # not of the kinds that suit it


def test_months_in_a_box_too_small_are_counted():
    found = {plan.slug: plan for plan in buying(life_of(**SKINK), TODAY).plans}
    late, steps = found["late"], found["steps"]
    outgrown = steps.boxes[1].on
    assert late.small_from == outgrown
    assert late.small_months == pytest.approx((late.boxes[1].on - outgrown).days / 30.44, abs=0.1)


def test_paying_twice_costs_more_than_once():
    """Common practice, no source: a starter enclosure is outgrown in months and paid for twice."""
    found = {plan.slug: plan for plan in buying(life_of(**SKINK), TODAY).plans}
    assert found["once"].total_eur < found["steps"].total_eur


def test_a_box_that_is_owned_costs_nothing_while_it_fits():
    spare = Owned("spare", (1.17, 0.57, 0.57))
    steps = next(plan for plan in buying(life_of(**SKINK), TODAY, [spare]).plans if plan.slug == "steps")
    assert steps.boxes[0].owned and steps.boxes[0].name == "spare" and steps.boxes[0].price_eur == 0


@pytest.mark.parametrize(("school", "slug"), [("at-once", "once"), ("steps", "steps")])
def test_the_keepers_school_decides_which_way_is_advised(school, slug):
    found = buying(life_of(schools={"straight-to-adult": school}, **SKINK), TODAY)
    assert next(plan.slug for plan in found.plans if plan.advised) == slug


def test_what_is_open_is_not_bought_for_damp_young():
    found = buying(life_of("Centrochelys sulcata", mass_g=60, born_on=dt.date(2026, 3, 1)), TODAY)
    steps = next(plan for plan in found.plans if plan.slug == "steps")
    assert not steps.boxes[0].slug.startswith("table")
    assert steps.boxes[-1].price_eur > 2000  # a shed, or one that is made
