"""Places on a drawing as letters that are tapped."""

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from ridgeback.drawing.paper import View
from ridgeback.drawing.primitives import Circle, Group, Line, Place, Shape, Text

MARK_RADIUS = 11.0
"""Of such a mark on the paper (design choice)."""
TAP_RADIUS = 18.0
"""Within which a finger finds it (design choice)."""


@dataclass(frozen=True)
class MarkedPlace:
    """A place that can be chosen."""

    slug: str
    letter: str
    title: str
    x_m: float
    z_m: float


def place_marks(places: Sequence[MarkedPlace], view: View) -> Iterator[Shape]:
    """Each place as its letter; one that would lie on another hangs above it, with a line to its place."""
    put: list[Place] = []

    for one in places:
        at = view.at(one.x_m, one.z_m)
        x, y = at
        while any(math.dist((x, y), other) < 2 * TAP_RADIUS for other in put):
            y -= TAP_RADIUS
        put.append((x, y))
        parts = (
            *([Line("line", at, (x, y))] if (x, y) != at else []),
            Circle("tap", x, y, TAP_RADIUS),
            Circle("gap", x, y, MARK_RADIUS),
            Text("words", x, y + 4.5, one.letter, "middle"),
        )
        yield Group("place-mark", item=one.slug, title=one.title, parts=parts)
