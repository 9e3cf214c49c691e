"""What the plan still says of a first setup is answered, and nothing that was right is lost by it."""

import pytest

from husbandry.documents.request import Request
from husbandry.plan.plan import plan
from husbandry.predict.warm_patch import ENOUGH, trunk_m
from husbandry.setups.closure import RoomCase, data_of
from husbandry.setups.refinement import Judged, judge
from husbandry.setups.starter import start
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
    for stage in profile.stages[:2]:
        request = suggested(species, stage.slug).request
        lid = request.enclosure.lid
        assert lid.mesh is None or lid.mesh_share <= 1
        best = start(data_of(profile, stage.slug, USUAL)).best
        assert best is not None and "open table" not in best.site.choice.name


def test_what_is_accepted_is_judged_by_the_plan() -> None:
    judged = suggested("Testudo graeca", "juvenile")
    again = judge(judged.request)
    assert (again.wrong, again.dangers, again.findings) == ({}, (), ())
