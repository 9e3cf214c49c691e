"""The reviewer's test: essentials in, is there room left to walk, turn, climb and dig?

Company needs more floor.
"""

import pytest

from husbandry.enclosure.geometry import Interior
from husbandry.enclosure.sizing import floor_for, judge_size, needed_m, rule_for
from husbandry.enclosure.substrate import substrate_m
from husbandry.enclosure.walking_room import FloorItem, essentials_m2, room_left
from husbandry.species.library import find, library


def lacking(interior, species, length_m, standing=()):
    return {
        check.slug
        for check in room_left(interior, find(species), length_m, standing)
        if not check.enough
    }


@pytest.mark.parametrize("profile", library().values(), ids=lambda profile: profile.slug)
def test_an_enclosure_by_the_approach_of_room_passes_the_reviewer(profile):
    """The rule of the roomy approach and the reviewer's questions agree for every species and
    stage, with the substrate its species digs in.
    """
    for stage in profile.stages:
        length = stage.length_mm[profile.body.length_kind].typical / 1000
        sides = needed_m(rule_for(profile, stage.slug, "room"), length)
        substrate = max(0.05, substrate_m(profile, stage.slug, {}, length))
        interior = Interior(sides[0], sides[1], sides[2] + substrate, substrate)
        found = room_left(interior, profile, length, substrate_needed_m=substrate)
        assert not [check.slug for check in found if not check.enough], stage.slug


def test_a_body_too_large_for_its_essentials_is_said():
    """Common practice, no source: when hides and water are in and no walking space is left, the
    enclosure is too small.
    """
    small, room = Interior(0.5, 0.35, 0.4, 0.05), Interior(1.5, 0.6, 0.5, 0.15)
    assert "walk" in lacking(small, "Tiliqua scincoides", 0.5)
    assert not lacking(room, "Tiliqua scincoides", 0.5)


def test_furniture_takes_floor_and_a_stone_does_not():
    interior = Interior(1.5, 0.6, 0.5, 0.15)
    assert not lacking(interior, "Tiliqua scincoides", 0.5, [FloorItem("slab", 1.0, 0.5)])
    assert lacking(interior, "Tiliqua scincoides", 0.5, [FloorItem("hide", 1.0, 0.5)]) == {"walk"}


def test_a_digger_wants_its_depth_and_a_climber_its_height():
    """Diggers at least 10 cm by common practice (no source); a climber stretches its whole length."""
    shallow = judge_size(
        Interior(1.2, 0.6, 0.5, 0.02), find("Pogona vitticeps"), "adult", 0.45, {}
    )
    assert [(check.slug, check.needed) for check in shallow.lacking if check.slug == "dig"] == [
        ("dig", 0.1)
    ]
    bare = judge_size(
        Interior(1.2, 0.6, 0.5, 0.02),
        find("Pogona vitticeps"),
        "adult",
        0.45,
        {"substrate": "hard"},
    )
    assert "dig" not in {check.slug for check in bare.lacking}
    assert lacking(Interior(0.5, 0.5, 0.3, 0.05), "Correlophus ciliatus", 0.12) == set()
    assert "climb" in lacking(Interior(0.8, 0.8, 0.3, 0.05), "Chamaeleo calyptratus", 0.45)


@pytest.mark.parametrize(
    ("height", "substrate", "enough"), [(0.6, 0.08, False), (0.9, 0.08, True), (1.3, 0.5, True)]
)
def test_an_enclosure_that_cannot_hold_its_substrate_is_not_large_enough(
    height, substrate, enough
):
    """60 cm of height with half a metre of soil in it leave 10 cm: it was “room enough”."""
    monitor = find("Varanus exanthematicus")
    found = judge_size(Interior(2.4, 1.2, height, substrate), monitor, "hatchling", 0.25, {})
    side = found.sides[2]
    assert found.substrate_needed_m == 0.5 and side.enough is enough
    if not enough:
        assert side.actual_m == pytest.approx(0.1)


def test_company_adds_floor():
    frog = find("Dendrobates tinctorius")
    one = judge_size(Interior(1, 1, 1, 0), frog, "adult", 0.04, {})
    two = judge_size(Interior(1, 1, 1, 0), frog, "adult", 0.04, {}, animals=2)
    floors = [size.sides[0].needed_m * size.sides[1].needed_m for size in (one, two)]
    assert floors[1] / floors[0] == pytest.approx(floor_for(frog, 2), rel=0.03)
    assert two.sides[2].needed_m == one.sides[2].needed_m
    assert essentials_m2(frog, 0.04, 2) > essentials_m2(frog, 0.04)


def test_what_lives_in_water_is_not_asked_to_walk():
    assert room_left(Interior(1, 0.4, 0.5, 0.03), find("Ambystoma mexicanum"), 0.25) == ()
