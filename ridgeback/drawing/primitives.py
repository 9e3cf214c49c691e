"""What a drawing is made of once lengths have become places on paper: plain values, tested as
numbers.
"""

import itertools
import math
from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass, field

Place = tuple[float, float]


@dataclass(frozen=True)
class Shape:
    """Something drawn in a role.

    The role decides the look; `title` is read aloud and shown on rest.
    """

    role: str
    title: str = field(default="", kw_only=True)


@dataclass(frozen=True)
class Line(Shape):
    """From one place to another."""

    start: Place
    end: Place


@dataclass(frozen=True)
class Rect(Shape):
    """An enclosure with its upper left corner."""

    x: float
    y: float
    width: float
    height: float
    radius: float = 0.0


@dataclass(frozen=True)
class Circle(Shape):
    """A round mark."""

    x: float
    y: float
    radius: float


@dataclass(frozen=True)
class Path(Shape):
    """A line or a filled outline, as path data."""

    d: str


@dataclass(frozen=True)
class Text(Shape):
    """Words at a place; `anchor` is start, middle or end."""

    x: float
    y: float
    words: str
    anchor: str = "start"


@dataclass(frozen=True)
class Group(Shape):
    """Shapes that belong together, such as one overlay."""

    parts: tuple["Shape", ...] = ()
    layer: str = ""
    item: str = ""
    """The id of what it shows, for a hand that moves it."""


@dataclass(frozen=True)
class Drawing:
    """A finished sheet."""

    width: float
    height: float
    parts: tuple[Shape, ...]
    title: str
    description: str = ""
    kind: str = "sheet"


def polyline(points: Iterable[Place], *, closed: bool = False) -> str:
    """Path data through points, straight."""
    body = "L".join(f"{number(x)},{number(y)}" for x, y in points)
    return f"M{body}{'Z' if closed else ''}"


def stepped(points: Iterable[Place]) -> str:
    """Path data through whole places, straight, each told from the one before: a third shorter."""
    whole = [(round(x), round(y)) for x, y in points]
    steps = [
        f"{x2 - x1},{y2 - y1}"
        for (x1, y1), (x2, y2) in itertools.pairwise(whole)
        if (x1, y1) != (x2, y2)
    ]
    first = f"M{whole[0][0]},{whole[0][1]}"
    return f"{first}l{' '.join(steps)}".replace(" -", "-").replace(",-", "-") if steps else first


def _towards(
    at: tuple[float, float], before: tuple[float, float], after: tuple[float, float], share: float
) -> tuple[float, float]:
    """A point moved by a share of the way between its neighbours."""
    across = after[0] - before[0]
    down = after[1] - before[1]
    return at[0] + share * across, at[1] + share * down


def smooth(points: Sequence[Place], *, closed: bool = False) -> str:
    """Path data through points with rounded corners (Catmull–Rom)."""
    n = len(points)
    out = [f"M{number(points[0][0])},{number(points[0][1])}"]

    for i in range(n if closed else n - 1):
        p0 = points[(i - 1) % n] if closed or i > 0 else points[i]
        p1 = points[i % n]
        p2 = points[(i + 1) % n]
        p3 = points[(i + 2) % n] if closed or i + 2 < n else p2
        c1 = _towards(p1, p0, p2, 1 / 6)
        c2 = _towards(p2, p1, p3, -1 / 6)
        out.append("C" + " ".join(f"{number(x)},{number(y)}" for x, y in (c1, c2, p2)))

    return "".join(out) + ("Z" if closed else "")


def number(value: float) -> str:
    """A coordinate with one decimal, without what would only make the file larger."""
    text = f"{value:.1f}".rstrip("0").rstrip(".")
    return "0" if text in {"-0", ""} else text


def overlaps(a: Rect, b: Rect, margin: float = 2.0) -> bool:
    """Whether two enclosures touch."""
    return (
        a.x < b.x + b.width + margin
        and b.x < a.x + a.width + margin
        and a.y < b.y + b.height + margin
        and b.y < a.y + a.height + margin
    )


def length_of(points: Sequence[Place]) -> float:
    """Of a polyline."""
    return sum(math.dist(p, q) for p, q in itertools.pairwise(points))


def percent_axis(left: float, right: float, y: Callable[[float], float]) -> list[Shape]:
    """Lines and figures at every quarter, from nothing to all; `y` places a percentage."""
    parts: list[Shape] = []
    for percent in (0, 25, 50, 75, 100):
        parts.append(
            Line("axis" if percent == 0 else "grid-line", (left, y(percent)), (right, y(percent)))
        )
        parts.append(
            Text(
                "words-soft",
                left - 6,
                y(percent) + 4,
                f"{percent} %" if percent == 100 else f"{percent}",
                "end",
            )
        )
    return parts
