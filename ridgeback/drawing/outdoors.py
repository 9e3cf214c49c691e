"""A day outdoors on paper: the shade, a stone in the sun and the air, over the hours in which the
animal can be out.
"""

from collections.abc import Iterator, Sequence

from husbandry.forecast.outdoor_day import OutdoorDay
from husbandry.quantity import Kind, Units, to_reader
from ridgeback.drawing.primitives import Drawing, Line, Path, Rect, Shape, Text, polyline

WIDTH, HEIGHT = 720.0, 250.0
LEFT, RIGHT, TOP, FOOT = 44.0, 112.0, 26.0, 26.0
BOTTOM, EDGE = HEIGHT - FOOT, WIDTH - RIGHT
STEP = 10.0
"""Of the scale [°C or °F]."""
LINES = (("sunny_c", "surface", "stone in the sun"), ("shade_c", "cool-air", "in the shade"))


def chart(found: OutdoorDay, units: Units) -> Drawing:
    """Lines over the clock's day, with the hours that are fit behind them."""
    values = [*found.sunny_c, *found.shade_c]
    shown = [to_reader(value, Kind.TEMPERATURE, units)[0] for value in (min(values), max(values))]
    low = STEP * (shown[0] // STEP)
    high = STEP * (shown[1] // STEP + 1)

    def x(hour: float) -> float:
        return LEFT + hour / 24 * (EDGE - LEFT)

    def y(value: float) -> float:
        number = to_reader(value, Kind.TEMPERATURE, units)[0]
        return BOTTOM - (number - low) / (high - low) * (BOTTOM - TOP)

    parts: list[Shape] = [
        Rect("outdoor-fit", x(one.begin_h), TOP, x(one.end_h) - x(one.begin_h), BOTTOM - TOP)
        for one in found.out
    ]
    parts += _scale(low, high, units)
    for hour in range(0, 25, 3):
        parts.append(Line("tick", (x(hour), BOTTOM), (x(hour), BOTTOM + 5)))
        parts.append(Text("words-soft", x(hour), BOTTOM + 19, f"{hour}", "middle"))
    if found.hot_above_c is not None and BOTTOM > y(found.hot_above_c) > TOP:
        limit = y(found.hot_above_c)
        parts.append(Line("limit", (LEFT, limit), (EDGE, limit)))
        parts.append(Text("words-limit", LEFT + 6, limit - 5, "limit in the shade"))
    last = -99.0
    for name, role, words in LINES:
        course: Sequence[float] = getattr(found, name)
        points = [(x(24 * (n + 0.5) / len(course)), y(value)) for n, value in enumerate(course)]
        parts.append(Path(f"treatment-{role}", polyline(points)))
        at = y(course[-1]) + 4
        at = at if abs(at - last) > 14 else last + 14
        parts.append(Text(f"words-{role}", EDGE + 6, at, words))
        last = at
    said = "; ".join(f"out from {one.begin_h:.1f} to {one.end_h:.1f} h" for one in found.out)

    return Drawing(
        WIDTH, HEIGHT, tuple(parts), "The day in the pen", said or "not out at all", "day"
    )


def _scale(low: float, high: float, units: Units) -> Iterator[Shape]:
    """Lines and figures at whole tens."""
    unit = to_reader(0.0, Kind.TEMPERATURE, units)[1]
    steps = round((high - low) / STEP)
    for n in range(steps + 1):
        at = BOTTOM - n / steps * (BOTTOM - TOP)
        figure = f"{low + n * STEP:.0f}"
        words = f"{figure} {unit}" if n == steps else figure
        yield Line("axis" if n == 0 else "grid-line", (LEFT, at), (EDGE, at))
        yield Text("words-soft", LEFT - 6, at + 4, words, "end")
