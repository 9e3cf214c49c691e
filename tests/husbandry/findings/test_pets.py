"""Cats and dogs in the room: what they reach, and the screen that keeps them out (common practice, no
source).
"""

import copy
from typing import Any

import pytest

from husbandry.build_plan.shopping import PRICES_EUR
from husbandry.documents.request import Request
from husbandry.documents.request_json import apply_patch, from_data
from husbandry.findings.pets import MESH_SIDES, MESH_TOP, OPEN_TOP
from husbandry.plan.plan import plan
from husbandry.setups.finishing import with_screen

PETS = {OPEN_TOP, MESH_TOP, MESH_SIDES}


def kept(sample: dict[str, Any], mesh: str | None, share: float = 1.0, **room: Any) -> Request:
    data = copy.deepcopy(sample)
    data["enclosure"]["lid"] |= {"mesh": mesh, "mesh_share": share if mesh else 0.0}
    data["room"] |= room
    return from_data(data)


def found(request: Request) -> dict[str, str]:
    notes = plan(request, advise=False).notes
    return {note.slug: note.severity for note in notes if note.slug in PETS}


@pytest.mark.parametrize(
    ("mesh", "room", "expected"),
    [
        ("half_inch", {}, {}),
        ("half_inch", {"has_dogs": True}, {OPEN_TOP: "danger"}),
        ("half_inch", {"has_cats": True}, {OPEN_TOP: "danger"}),
        ("fly_screen", {"has_cats": True}, {MESH_TOP: "care"}),
        ("fly_screen", {"has_dogs": True}, {}),
        (None, {"has_cats": True, "has_dogs": True}, {}),
    ],
)
def test_what_a_cat_and_a_dog_reach(
    sample: dict[str, Any], mesh: str | None, room: dict[str, Any], expected: dict[str, str]
) -> None:
    assert found(kept(sample, mesh, **room)) == expected


def test_a_vent_of_mesh_is_no_way_in(sample: dict[str, Any]) -> None:
    assert found(kept(sample, "fly_screen", 0.1, has_cats=True)) == {}
    assert found(kept(sample, "half_inch", 0.5, has_cats=True)) == {}, "a part of wire holds"


@pytest.mark.parametrize(("mesh", "slug"), [("half_inch", OPEN_TOP), ("fly_screen", MESH_TOP)])
def test_the_screen_that_is_advised_ends_it(sample: dict[str, Any], mesh: str, slug: str) -> None:
    request = kept(sample, mesh, has_cats=True)
    change = next(one for one in plan(request).changes if one.kind == "screen_add")
    assert slug in change.clears and change.price_eur == PRICES_EUR["screen"]
    screened = apply_patch(request, change.patch)
    assert found(screened) == {}
    assert not any(one.kind == "screen_add" for one in plan(screened).changes)


def test_it_changes_nothing_that_is_predicted(sample: dict[str, Any]) -> None:
    """Its wires are far apart and lie above the lamps."""
    request = kept(sample, "half_inch", has_dogs=True)
    bare, screened = (plan(one, advise=False) for one in (request, with_screen(request)))
    for before, after in zip(bare.needs, screened.needs, strict=True):
        assert before.predicted == after.predicted, before.key


def test_mesh_sides_are_named_and_no_screen_mends_them(sample: dict[str, Any]) -> None:
    data = copy.deepcopy(sample)
    data["enclosure"]["panels"] = dict.fromkeys(("front", "back", "left", "right"), "mesh")
    data["enclosure"]["lid"] |= {"mesh": "fly_screen", "mesh_share": 1.0}
    data["room"]["has_cats"] = True
    request = from_data(data)
    assert set(found(request)) == {MESH_TOP, MESH_SIDES}
    assert set(found(with_screen(request))) == {MESH_SIDES}


def test_a_first_setup_has_its_screen(sample: dict[str, Any]) -> None:
    assert with_screen(kept(sample, "half_inch")) == kept(sample, "half_inch")
    assert not found(with_screen(kept(sample, "half_inch", has_dogs=True)))
