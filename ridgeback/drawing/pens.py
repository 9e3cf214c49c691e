"""A pen from above, to scale, and its year."""

from collections.abc import Iterator, Sequence

from husbandry.pens.pen import PenSpec
from husbandry.pens.plan import PenMonth
from husbandry.quantity import Kind, Units, show
from ridgeback.drawing.primitives import (
    Circle,
    Drawing,
    Group,
    Line,
    Path,
    Rect,
    Shape,
    Text,
    polyline,
)

WIDTH, MARGIN = 560.0, 44.0
TALLEST, LEAST = 330.0, 120.0
YEAR_WIDTH, YEAR_HEIGHT = 560.0, 190.0
MONTHS = "JFMAMJJASOND"
GROUND = {
    "grass": "pen-grass",
    "soil": "substrate-soil",
    "sand": "substrate-sand",
    "stone": "substrate-tile",
}


def from_above(pen: PenSpec, units: Units, animals: int) -> Drawing:
    """The pen from above: shade, what stands in it, its walls and its sizes.

    The shade is drawn as one roof at an end, the stone in the sun, hides and water under the roof.
    """
    wide = WIDTH - 2 * MARGIN
    scale = min(wide / pen.length_m, (TALLEST - 2 * MARGIN) / pen.width_m)
    long, deep = max(pen.length_m * scale, LEAST), max(pen.width_m * scale, LEAST / 2)
    left, top = (WIDTH - long) / 2, MARGIN
    shaded = long * pen.shade_share
    right = left + long
    parts: list[Shape] = [Rect(GROUND[pen.ground], left, top, long, deep)]
    if pen.shade_share:
        roof = Rect("pen-shade", right - shaded, top, shaded, deep)
        words = Text("words", right - shaded / 2, top + 18, "shade", "middle")
        parts.append(Group("shade", parts=(roof, words)))
    parts += _things(pen, (left, top), (long, deep), shaded)
    if pen.top:
        parts += _net(left, top, long, deep)
    wall = {"boards": "enclosure", "mesh": "mesh", "glass": "thin"}[pen.walls]
    parts.append(Rect(wall, left, top, long, deep))
    parts.append(
        Text("words", WIDTH / 2, top + deep + 20, show(pen.length_m, Kind.LENGTH, units), "middle")
    )
    parts.append(
        Text("words", right + 6, top + deep / 2 + 4, show(pen.width_m, Kind.LENGTH, units))
    )
    walls = f"walls {show(pen.wall_m, Kind.LENGTH, units)}"
    if pen.sunk_m:
        walls += f", {show(pen.sunk_m, Kind.LENGTH, units)} into the ground"
    covered = "covered" if pen.top else "open above"
    parts.append(Text("words-soft", left, top - 10, f"{walls}, {covered}"))
    described = (
        f"{show(pen.length_m, Kind.LENGTH, units)} by {show(pen.width_m, Kind.LENGTH, units)},"
        f" {walls}, {covered}, {100 * pen.shade_share:.0f} % in shade, {pen.hides} hides,"
        f" for {animals} animals"
    )

    return Drawing(
        WIDTH, top + deep + MARGIN, tuple(parts), "The pen from above", described, "pen"
    )


def _net(left: float, top: float, long: float, deep: float) -> Iterator[Shape]:
    """A few lines that say that there is a net."""
    for n in range(1, int((long + deep) / 26)):
        at = n * 26.0
        begin = (left + min(at, long), top + max(at - long, 0.0))
        end = (left + max(at - deep, 0.0), top + min(at, deep))
        yield Line("pen-net", begin, end)


def _things(
    pen: PenSpec, corner: tuple[float, float], size: tuple[float, float], shaded: float
) -> Iterator[Shape]:
    """Stone, hides, water and branches."""
    left, top = corner
    long, deep = size
    right, side = left + long, min(34.0, deep / 3)
    sunny = long - shaded
    if pen.stone:
        x = left + max(sunny / 2, side)
        yield Rect("stone", x - side, top + 0.55 * deep - side / 2, 2 * side, side, 6)
        yield Text("words", x, top + 0.55 * deep + side / 2 + 14, "stone", "middle")
    room = max(shaded, long / 4)
    for n in range(pen.hides):
        x = right - room + (n + 0.5) * room / (pen.hides + (1 if pen.water else 0))
        y = top + 0.6 * deep
        edge = [(x - side / 2, y + side / 3), (x, y - side / 2), (x + side / 2, y + side / 3)]
        yield Path("hide", polyline(edge, closed=True))
        yield Text("words", x, y + side / 3 + 14, "hide", "middle")
    if pen.water:
        x = right - 0.5 * room / (pen.hides + 1)
        yield Circle("water", x, top + 0.58 * deep, side / 2.4)
        yield Text("words", x, top + 0.6 * deep + side / 3 + 14, "water", "middle")
    if pen.branches:
        begin, end = (
            (left + 0.15 * long, top + 0.3 * deep),
            (right - 0.2 * long, top + 0.38 * deep),
        )
        yield Path("line", polyline([begin, ((begin[0] + end[0]) / 2, top + 0.24 * deep), end]))
        yield Text("words", begin[0], begin[1] - 8, "branches")


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
