"""A pen from above, to scale, and its year."""

from collections.abc import Iterator, Sequence
from typing import NamedTuple

from husbandry.pens.pen import PenSpec
from husbandry.pens.plan import PenMonth
from husbandry.quantity import Kind, Units, show
from ridgeback.drawing.primitives import Circle, Drawing, Line, Path, Rect, Shape, Text, polyline

WIDTH, MARGIN = 560.0, 44.0
TALLEST, LEAST = 330.0, 120.0
YEAR_WIDTH, YEAR_HEIGHT = 560.0, 190.0
MONTHS = "JFMAMJJASOND"
NET = 26.0
"""Between the lines that stand for a net."""
WALL = {"boards": "enclosure", "mesh": "mesh", "glass": "thin"}
GROUND = {
    "grass": "pen-grass",
    "soil": "substrate-soil",
    "sand": "substrate-sand",
    "stone": "substrate-tile",
}


class _DrawnPen(NamedTuple):
    """The pen on paper, in points."""

    left: float
    top: float
    long: float
    deep: float
    shaded: float
    """How much of its length lies in shade."""

    @property
    def right(self) -> float:
        """Its right edge."""
        return self.left + self.long

    @property
    def bottom(self) -> float:
        """Its lower edge."""
        return self.top + self.deep

    @property
    def item_size(self) -> float:
        """How large an item in it is drawn."""
        return min(34.0, self.deep / 3)


def _to_scale(pen: PenSpec) -> _DrawnPen:
    scale_along = (WIDTH - 2 * MARGIN) / pen.length_m
    scale_across = (TALLEST - 2 * MARGIN) / pen.width_m
    scale = min(scale_along, scale_across)
    long = max(pen.length_m * scale, LEAST)
    deep = max(pen.width_m * scale, LEAST / 2)
    left = (WIDTH - long) / 2

    return _DrawnPen(left, MARGIN, long, deep, long * pen.shade_share)


def from_above(pen: PenSpec, units: Units, animals: int) -> Drawing:
    """The pen from above: shade, what stands in it, its walls and its sizes.

    The shade is drawn as one roof at an end, the stone in the sun, hides and water under the roof.
    """
    drawn = _to_scale(pen)
    length = show(pen.length_m, Kind.LENGTH, units)
    width = show(pen.width_m, Kind.LENGTH, units)
    walls = _walls(pen, units)
    parts: list[Shape] = [
        Rect(GROUND[pen.ground], drawn.left, drawn.top, drawn.long, drawn.deep),
        *_shade(drawn),
        *_furniture(pen, drawn),
    ]
    if pen.top:
        parts += _net(drawn)
    parts += [
        Rect(WALL[pen.walls], drawn.left, drawn.top, drawn.long, drawn.deep),
        Text("words", WIDTH / 2, drawn.bottom + 20, length, "middle"),
        Text("words", drawn.right + 6, drawn.top + drawn.deep / 2 + 4, width),
        Text("words-soft", drawn.left, drawn.top - 10, walls),
    ]
    described = (
        f"{length} by {width}, {walls}, {100 * pen.shade_share:.0f} % in shade,"
        f" {pen.hides} hides, for {animals} animals"
    )

    return Drawing(
        WIDTH, drawn.bottom + MARGIN, tuple(parts), "The pen from above", described, "pen"
    )


def _walls(pen: PenSpec, units: Units) -> str:
    """Walls and cover in words."""
    words = [f"walls {show(pen.wall_m, Kind.LENGTH, units)}"]
    if pen.sunk_m:
        words.append(f"{show(pen.sunk_m, Kind.LENGTH, units)} into the ground")
    words.append("covered" if pen.top else "open above")
    return ", ".join(words)


def _shade(drawn: _DrawnPen) -> Iterator[Shape]:
    """The roof at the right end."""
    if not drawn.shaded:
        return
    begin = drawn.right - drawn.shaded
    yield Rect("pen-shade", begin, drawn.top, drawn.shaded, drawn.deep)
    yield Text("words", begin + drawn.shaded / 2, drawn.top + 18, "shade", "middle")


def _net(drawn: _DrawnPen) -> Iterator[Shape]:
    """A few lines that say that there is a net."""
    count = int((drawn.long + drawn.deep) / NET)
    for n in range(1, count):
        along = n * NET
        begin_x = drawn.left + min(along, drawn.long)
        begin_y = drawn.top + max(along - drawn.long, 0.0)
        end_x = drawn.left + max(along - drawn.deep, 0.0)
        end_y = drawn.top + min(along, drawn.deep)
        yield Line("pen-net", (begin_x, begin_y), (end_x, end_y))


def _furniture(pen: PenSpec, drawn: _DrawnPen) -> Iterator[Shape]:
    """Stone, hides, water and branches."""
    size = drawn.item_size
    level = drawn.top + 0.6 * drawn.deep
    if pen.stone:
        x = drawn.left + max((drawn.long - drawn.shaded) / 2, size)
        yield Rect("stone", x - size, level - size / 2, 2 * size, size, 6)
        yield _label(x, level + size / 2, "stone")
    room = max(drawn.shaded, drawn.long / 4)
    places = pen.hides + pen.water
    for n in range(pen.hides):
        x = drawn.right - room + (n + 0.5) * room / places
        yield _hide(x, level, size)
        yield _label(x, level + size / 3, "hide")
    if pen.water:
        x = drawn.right - 0.5 * room / places
        yield Circle("water", x, level, size / 2.4)
        yield _label(x, level + size / 2.4, "water")
    if pen.branches:
        yield from _branches(drawn)


def _label(x: float, under: float, words: str) -> Text:
    """The name of what stands above it."""
    return Text("words", x, under + 14, words, "middle")


def _hide(x: float, y: float, size: float) -> Path:
    """A roof."""
    left = (x - size / 2, y + size / 3)
    ridge = (x, y - size / 2)
    right = (x + size / 2, y + size / 3)
    return Path("hide", polyline([left, ridge, right], closed=True))


def _branches(drawn: _DrawnPen) -> Iterator[Shape]:
    """One from the sun into the shade."""
    begin_x = drawn.left + 0.15 * drawn.long
    begin_y = drawn.top + 0.3 * drawn.deep
    middle_x = drawn.left + 0.5 * drawn.long
    middle_y = drawn.top + 0.24 * drawn.deep
    end_x = drawn.right - 0.2 * drawn.long
    end_y = drawn.top + 0.38 * drawn.deep
    bough = [(begin_x, begin_y), (middle_x, middle_y), (end_x, end_y)]
    yield Path("line", polyline(bough))
    yield Text("words", begin_x, begin_y - 8, "branches")


def through_the_year(months: Sequence[PenMonth]) -> Drawing:
    """Hours outside on a usual clear day of each month."""
    most = max(max((one.hours for one in months), default=0.0), 4.0)
    foot, top = YEAR_HEIGHT - 26.0, 24.0
    step = (YEAR_WIDTH - 2 * MARGIN) / 12
    parts: list[Shape] = [Line("axis", (MARGIN, foot), (YEAR_WIDTH - MARGIN, foot))]

    for one in months:
        x = MARGIN + (one.month - 1) * step
        tall = one.hours / most * (foot - top)
        middle = x + step / 2
        if tall:
            parts.append(Rect("pen-hours", x + 4, foot - tall, step - 8, tall))
            words = f"{one.hours:.0f} h"
            parts.append(Text("words-soft", middle, foot - tall - 6, words, "middle"))
        parts.append(Text("words-soft", middle, foot + 18, MONTHS[one.month - 1], "middle"))
    told = ", ".join(f"{MONTHS[one.month - 1]} {one.hours:.1f}" for one in months)

    return Drawing(
        YEAR_WIDTH,
        YEAR_HEIGHT,
        tuple(parts),
        "Hours outside through the year",
        f"Hours a day, January to December: {told}",
        "pen-year",
    )
