"""Dividers: who lives apart, what a part lacks, and a wall that parts nobody (common practice, no
source).
"""

import copy
from typing import Any

import pytest

from husbandry.documents.request import Request
from husbandry.documents.request_json import apply_patch, from_data
from husbandry.documents.result import COMPANY
from husbandry.findings.parts import are_apart, parts_of
from husbandry.plan.plan import plan


def divided(sample: dict[str, Any], *animals: dict[str, Any], **wall: Any) -> Request:
    """The sample's enclosure with a divider in its middle."""
    data = copy.deepcopy(sample)
    data["animals"] += animals
    inside = data["enclosure"]["inside_m"]
    size = [0.006, inside["depth"], inside["height"]]
    at = [inside["length"] / 2, inside["depth"] / 2, 0.0]
    one = {"id": "divider-1", "kind": "divider", "at_m": at, "size_m": size}
    data["items"].append({**one, **wall})
    return from_data(data)


def second(sample: dict[str, Any]) -> dict[str, Any]:
    return {**sample["animals"][0], "name": "Other"}


def slugs(request: Request) -> set[str]:
    return {note.slug for note in plan(request, advise=False).notes}


def test_a_divider_parts_two_that_would_fight(sample: dict[str, Any]) -> None:
    together = copy.deepcopy(sample)
    together["animals"].append(second(sample))
    assert COMPANY in slugs(from_data(together))
    apart = divided(sample, second(sample))
    assert are_apart(apart) and COMPANY not in slugs(apart)


def test_the_size_is_that_of_a_part(sample: dict[str, Any]) -> None:
    whole = plan(from_data(sample), advise=False).size
    part = plan(divided(sample, second(sample)), advise=False).size
    assert part.animals == 1
    assert part.sides[0].actual_m == pytest.approx(whole.sides[0].actual_m / 2, rel=0.05) or (
        part.sides[0].actual_m < whole.sides[0].actual_m
    )
    assert part.footprint_m2 == pytest.approx(whole.footprint_m2 / 2)


def test_a_part_without_heat_and_hide_is_named(sample: dict[str, Any]) -> None:
    found = plan(divided(sample, second(sample)), advise=False).notes
    texts = [note.text for note in found if note.slug.startswith("divider")]
    assert any("part has no" in text for text in texts)
    assert any("as if the divider were not there" in text for text in texts)


@pytest.mark.parametrize(
    ("wall", "slug"),
    [
        ({"size_m": [0.006, 0.2, 0.3]}, "divider gap"),
        ({"form": "pane"}, "divider seen through"),
        ({"form": "mesh"}, "divider mesh"),
    ],
)
def test_what_a_wall_does_not_keep_is_said(
    sample: dict[str, Any], wall: dict[str, Any], slug: str
) -> None:
    assert slug in slugs(divided(sample, second(sample), **wall))


def test_a_low_wall_or_a_curtain_parts_nobody(sample: dict[str, Any]) -> None:
    low = divided(sample, second(sample), size_m=[0.006, 0.2, 0.3])
    curtain = divided(sample, second(sample), form="curtain")
    for request in (low, curtain):
        assert len(parts_of(request)) == 1
        assert COMPANY in slugs(request)


def test_two_of_three_are_still_together(sample: dict[str, Any]) -> None:
    request = divided(sample, second(sample), {**second(sample), "name": "Third"})
    assert not are_apart(request) and COMPANY in slugs(request)


def test_one_animal_has_the_larger_part(sample: dict[str, Any]) -> None:
    data = copy.deepcopy(sample)
    inside = data["enclosure"]["inside_m"]
    at = [inside["length"] / 4, inside["depth"] / 2, 0.0]
    request = divided(sample, at_m=at)
    size = plan(request, advise=False).size
    assert size.footprint_m2 == pytest.approx(0.75 * inside["length"] * inside["depth"])


def test_the_plan_of_one_without_a_divider_is_as_it_was(sample: dict[str, Any]) -> None:
    assert not {one for one in slugs(from_data(sample)) if one.startswith("divider")}


@pytest.mark.parametrize("wall", [{"form": "pane"}, {"form": "mesh"}])
def test_what_is_advised_of_a_divider_mends_it(
    sample: dict[str, Any], wall: dict[str, Any]
) -> None:
    request = divided(sample, second(sample), **wall)
    change = next(one for one in plan(request).changes if one.kind == "divider_board")
    after = apply_patch(request, change.patch)
    assert are_apart(after)
    wrong = {"divider gap", "divider seen through", "divider mesh", COMPANY}
    assert not wrong & slugs(after)
