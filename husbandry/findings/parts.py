"""Parts of an enclosure that dividers make: where each begins and ends, and what it lacks.

Heat, light and moisture are predicted as if there were no divider. Common practice, no source.
"""

import itertools
from collections.abc import Iterator, Sequence
from typing import NamedTuple

from husbandry.documents.request import Request
from husbandry.documents.result import Note
from husbandry.items.base import BaseItem
from husbandry.items.dividers import REACHES_M, Divider
from husbandry.items.furnishings import Hide

SAME_M = 0.05
"""Parts narrower than that are none: a doubled divider (design choice) [m]."""


class EnclosurePart(NamedTuple):
    """A part of an enclosure, from left to right [m]."""

    left_m: float
    right_m: float

    @property
    def length_m(self) -> float:
        """How long it is [m]."""
        return self.right_m - self.left_m

    def holds(self, item: BaseItem) -> bool:
        """Whether an item is in it."""
        return self.left_m <= item.at_m[0] <= self.right_m


def parts_of(request: Request) -> tuple[EnclosurePart, ...]:
    """The parts that closed dividers make; one, the whole, without any."""
    inside = request.enclosure.inside_m
    cuts = sorted(one.at_m[0] for one in _dividers(request) if _parts(one, request))
    ends = [0.0, *cuts, inside.length]
    pairs = itertools.pairwise(ends)
    return tuple(EnclosurePart(left, right) for left, right in pairs if right - left > SAME_M)


def are_apart(request: Request) -> bool:
    """Whether each animal has a part of its own: who lives in which is not asked."""
    return 1 < len(request.animals) <= len(parts_of(request))


def judged_part(request: Request) -> EnclosurePart:
    """The part by which the size is judged: the smallest where animals live apart, else the largest."""
    parts = parts_of(request)
    pick = min if are_apart(request) else max
    return pick(parts, key=lambda part: part.length_m)


def divider_notes(request: Request) -> Iterator[Note]:
    """What a divider leaves open, shows, or keeps from its animals."""
    several = len(request.animals) > 1

    for one in _dividers(request):
        gap = _gap_m(one, request)
        if several and not one.is_passable and gap > REACHES_M:
            text = (
                f"The {one.name} leaves a gap that animals pass. It must reach from front to back and"
                " from the floor to the lid."
            )
            yield Note(slug="divider gap", severity="danger", text=text)
        if several and one.is_seen_through and gap <= REACHES_M:
            text = (
                f"Through the {one.name} they see each other all day and stay stressed. Cover it."
            )
            yield Note(slug="divider seen through", severity="care", text=text)
        if several and one.form == "mesh":
            text = "Animals bite toes and tails through mesh. Use two layers a hand apart, or a board."
            yield Note(slug="divider mesh", severity="care", text=text)

    parts = parts_of(request)
    if len(parts) > 1:
        yield from _lacking(request, parts)


def _lacking(request: Request, parts: Sequence[EnclosurePart]) -> Iterator[Note]:
    """What a part has to have of its own."""
    wanted: dict[str, Sequence[BaseItem]] = {
        "a hide": [item for item in request.items if isinstance(item, Hide)],
        "water": [item for item in request.items if item.holds_water],
        "heat": [item for item in request.items if item.is_heater],
        "UVB": [item for item in request.items if item.is_uv],
    }
    here = parts if are_apart(request) else [max(parts, key=lambda part: part.length_m)]
    called = {parts[0]: "left", parts[-1]: "right"}

    for part in here:
        lacks = [
            what
            for what, items in wanted.items()
            if items and not any(part.holds(item) for item in items)
        ]
        if lacks:
            name = called.get(part, "middle")
            text = f"The {name} part has no {' and no '.join(lacks)} of its own."
            yield Note(slug=f"divider {name} part", severity="care", text=text)

    text = (
        "Heat, light and moisture are predicted as if the divider were not there: measure in each"
        " part, or plan each as an enclosure of its own."
    )
    yield Note(slug="divider climate", severity="fact", text=text)


def _dividers(request: Request) -> Iterator[Divider]:
    return (item for item in request.items if isinstance(item, Divider))


def _gap_m(one: Divider, request: Request) -> float:
    inside = request.enclosure.inside_m
    return one.gap_m(inside.depth, inside.height, request.enclosure.substrate.depth_m)


def _parts(one: Divider, request: Request) -> bool:
    return not one.is_passable and _gap_m(one, request) <= REACHES_M
