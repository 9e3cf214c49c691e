"""What the plan still says of a first setup is answered, and nothing that was right is lost by it."""

import pytest

from husbandry.documents.request import Request
from husbandry.plan.plan import plan
from husbandry.predict.warm_patch import ENOUGH, trunk_m
from husbandry.setups.closure import RoomCase, data_of
from husbandry.setups.judged import Judged, judge
from husbandry.setups.starter import choices_for, start
from husbandry.species.library import find

USUAL = RoomCase(21.0, 18.0, 28.0, 50.0)


def suggested(species: str, stage: str) -> Judged:
    best = start(data_of(find(species), stage, USUAL)).best
    assert best is not None
    return best.judged


def kinds(request: Request) -> list[str]:
    return [item.kind for item in request.items]


@pytest.mark.parametrize(
    ("species", "stage"),
    [
        ("Testudo graeca", "juvenile"),  # cover on the way between its ends
        ("Varanus acanthurus", "adult"),  # a warm patch as long as its trunk
        ("Uromastyx ornata", "juvenile"),  # bright where it basks
        ("Dasypeltis scabra", "adult"),  # no gap that holds its body
        ("Dasypeltis scabra", "hatchling"),  # no dish under a lamp
        ("Varanus exanthematicus", "hatchling"),  # substrate as deep as it digs
        ("Epicrates cenchria", "juvenile"),  # damp that dries between mistings
        ("Rhacodactylus auriculatus", "juvenile"),  # no strong ultraviolet where it climbs
        ("Anolis carolinensis", "hatchling"),  # a twig that its foot closes on
    ],
)
def test_nothing_is_left_to_say_of_a_first_setup(species: str, stage: str) -> None:
    judged = suggested(species, stage)
    assert judged.closed and judged.findings == ()


def test_a_long_body_is_warmed_over_its_whole_trunk() -> None:
    """One strong lamp burns the back and leaves the belly cold (common practice, no source)."""
    profile = find("Salvator merianae")
    judged = suggested(profile.species, "adult")
    made = plan(judged.request, advise=False)
    trunk = trunk_m(profile, made.animals[0].length_m)
    assert made.predictions["warm_patch"].value >= ENOUGH * trunk
    assert kinds(judged.request).count("halogen_spot") > 1


@pytest.mark.parametrize("species", ["Malayopython reticulatus", "Ranoidea aurea"])
def test_what_climbs_or_jumps_is_in_no_open_table(species: str) -> None:
    profile = find(species)
    for stage in profile.stages:
        names = [one.name for one in choices_for(data_of(profile, stage.slug, USUAL))]
        assert names and not any("open table" in name for name in names)


def test_what_is_accepted_is_judged_by_the_plan() -> None:
    judged = suggested("Testudo graeca", "juvenile")
    again = judge(judged.request)
    assert (again.wrong, again.dangers, again.findings) == ({}, (), ())


def test_ultraviolet_follows_an_animal_that_goes_with_the_warmth() -> None:
    """It has no basking place: in a cold room its heater, and so the animal, is not where it was."""
    profile = find("Rhacodactylus auriculatus")
    best = start(data_of(profile, "subadult", RoomCase(18.0, 15.0, 28.0, 35.0))).best
    assert best is not None and best.judged.closed
    lamp = next(item for item in best.judged.request.items if item.is_uv)
    warm = next(item for item in best.judged.request.items if item.is_heater)
    assert abs(lamp.at_m[0] - warm.at_m[0]) < 0.2 and lamp.is_tube
