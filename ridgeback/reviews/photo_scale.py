"""A photo with a known length in it: how many of its pixels are a metre, and where the drawing
lies on it.

Points are shares of the photo's width and height, from its upper left corner [1].
"""

import io
import math
import re
from dataclasses import dataclass
from typing import Any, Literal

from django.utils.safestring import SafeString, mark_safe
from PIL import Image

from ridgeback.drawing.paper import View

Point = tuple[float, float]
ScaleKind = Literal["corners", "thing"]
NEAREST = 0.03
"""Two points nearer than this share of the photo's width tell no scale (design choice) [1]."""


@dataclass(frozen=True)
class PhotoScale:
    """Two points of a photo, the length between them, and where the enclosure's front begins."""

    kind: ScaleKind
    """Whether the points are the front's lower corners, or the ends of anything else."""
    ends: tuple[Point, Point]
    length_m: float
    corner: Point | None = None
    """The front's lower left corner, where the points are not its corners."""

    def data(self) -> dict[str, Any]:
        """As it is kept."""
        return {
            "kind": self.kind,
            "ends": [list(end) for end in self.ends],
            "length_m": self.length_m,
            "corner": list(self.corner) if self.corner is not None else None,
        }

    @classmethod
    def read(cls, data: dict[str, Any]) -> "PhotoScale":
        """From what was kept."""
        first, second = ((float(x), float(y)) for x, y in data["ends"])
        corner = data["corner"]
        return cls(
            data["kind"],
            (first, second),
            float(data["length_m"]),
            (float(corner[0]), float(corner[1])) if corner else None,
        )

    def pixels_per_metre(self, size: tuple[int, int]) -> float:
        """Of a photo of that size [px/m]."""
        (ax, ay), (bx, by) = (_pixels(end, size) for end in self.ends)
        return math.hypot(bx - ax, by - ay) / self.length_m

    def begins(self) -> Point:
        """Where the front's lower left corner lies [1]."""
        if self.corner is not None:
            return self.corner
        return min(self.ends)

    def turned_deg(self, size: tuple[int, int]) -> float:
        """By how much the front's lower edge falls to the right [°]; 0 where only a length is known."""
        if self.kind != "corners":
            return 0.0
        (ax, ay), (bx, by) = (_pixels(end, size) for end in sorted(self.ends))
        return math.degrees(math.atan2(by - ay, bx - ax))


def _pixels(point: Point, size: tuple[int, int]) -> Point:
    return point[0] * size[0], point[1] * size[1]


def size_of(photo: bytes) -> tuple[int, int]:
    """Width and height of a photo that a worker made small [px]."""
    with Image.open(io.BytesIO(photo)) as read:
        return read.size


def laid_over(
    drawing: SafeString, view: View, scale: PhotoScale, size: tuple[int, int]
) -> SafeString:
    """A drawing as it lies on its photo, for the inside of an SVG that counts in pixels.

    Parameters
    ----------
    drawing : SafeString
        As its own writer wrote it.
    view : View
        In which it was drawn.
    size : tuple of int
        Of the photo [px].
    """
    grown = scale.pixels_per_metre(size) / view.scale
    x, y = _pixels(scale.begins(), size)
    box = re.search(r'viewBox="0 0 ([\d.]+) ([\d.]+)"', drawing)
    wide, high = (float(side) * grown for side in box.groups()) if box else (0.0, 0.0)
    placed = (
        f'<svg x="{x - view.left * grown:.1f}" y="{y - view.floor * grown:.1f}"'
        f' width="{wide:.1f}" height="{high:.1f}"'
    )
    inner = drawing.replace("<svg", placed, 1)
    turn = f"rotate({scale.turned_deg(size):.2f} {x:.1f} {y:.1f})"

    return mark_safe(f'<g transform="{turn}">{inner}</g>')  # numbers around a drawing of ours
