"""How an enclosure lies on paper: the sheet, its scale, and lines of measure."""

from dataclasses import dataclass

from husbandry.quantity import Kind, Units, show
from ridgeback.drawing.primitives import Line, Path, Place, Rect, Shape, Text, number


@dataclass(frozen=True)
class Paper:
    """How large the sheet is and what is left around the enclosure."""

    width: float
    left: float
    right: float
    top: float
    tallest: float
    """Most that the enclosure may take in height."""
    narrow: bool = False


WIDE = Paper(960, 66, 58, 66, 352)
NARROW = Paper(360, 34, 30, 44, 240, narrow=True)


@dataclass(frozen=True)
class View:
    """From metres in the enclosure to places on the paper."""

    paper: Paper
    left: float
    floor: float
    scale: float
    """Paper units a metre."""
    length_m: float
    """Of the enclosure."""

    def x(self, x_m: float) -> float:
        """Along the length."""
        return self.left + x_m * self.scale

    def y(self, z_m: float) -> float:
        """Upwards from the floor."""
        return self.floor - z_m * self.scale

    def at(self, x_m: float, z_m: float) -> Place:
        """Both."""
        return self.x(x_m), self.y(z_m)


def length_text(value_m: float, units: Units) -> str:
    return show(value_m, Kind.LENGTH, units)


def dimension_shapes(a: Place, b: Place, words: str) -> list[Shape]:
    """A dimension line with ticks and its number in a gap of its own."""
    flat = abs(a[1] - b[1]) < 0.5
    mx = (a[0] + b[0]) / 2
    my = (a[1] + b[1]) / 2
    width = 7.4 * len(words) + 6
    ticks = "".join(f"M{number(x - 4)},{number(y + 4)}l8,-8" for x, y in (a, b))
    ends = "".join(
        f"M{number(x)},{number(y - 6)}v12" if flat else f"M{number(x - 6)},{number(y)}h12"
        for x, y in (a, b)
    )
    return [
        Line("thin", a, b),
        Path("thin", ends),
        Path("tick", ticks),
        Rect("gap", mx - width / 2, my - 8, width, 16),
        Text("words", mx, my + 4.5, words, "middle"),
    ]
