"""A year of an animal on one strip: the length of its light, its rest, the months."""

import datetime as dt
from collections.abc import Callable, Sequence

from husbandry.seasons.brumation import Dormancy
from ridgeback.drawing.primitives import Drawing, Line, Path, Rect, Shape, Text, polyline

WIDTH, HEIGHT = 860.0, 118.0
LEFT, RIGHT, TOP, FOOT = 34.0, 46.0, 10.0, 24.0
MOST_H = 16.0


def strip(
    year: int,
    hours: Sequence[tuple[dt.date, float]],
    dormancy: Dormancy | None,
    today: dt.date,
    names: Sequence[str],
    title: str,
    said: str,
) -> Drawing:
    """Hours of light through a calendar year, with the rest that falls into it."""
    first = dt.date(year, 1, 1)
    last = dt.date(year + 1, 1, 1)
    bottom = HEIGHT - FOOT
    right = WIDTH - RIGHT

    def x(day: dt.date) -> float:
        day = min(max(day, first), last)

        return LEFT + (day - first).days / (last - first).days * (right - LEFT)

    def y(value: float) -> float:
        return bottom - value / MOST_H * (bottom - TOP)

    parts: list[Shape] = []

    for value in (0, 8, 16):
        parts.append(
            Line("axis" if value == 0 else "grid-line", (LEFT, y(value)), (right, y(value)))
        )
        parts.append(Text("words-soft", LEFT - 6, y(value) + 4, f"{value}", "end"))

    if dormancy is not None and dormancy.first_meal > first and dormancy.last_meal < last:
        parts += _resting(dormancy, x, bottom)  # over the rules, under the line
    parts.append(Text("words-soft", right + 6, y(8) + 4, "hours"))

    for month in range(1, 13):
        begin = x(dt.date(year, month, 1))
        parts.append(Line("tick", (begin, bottom), (begin, bottom + 5)))
        parts.append(
            Text(
                "words-soft", begin + (right - LEFT) / 24, bottom + 18, names[month - 1], "middle"
            )
        )
    parts.append(Path("daylight", polyline([(x(day), y(value)) for day, value in hours])))

    if first <= today < last:
        parts.append(Line("today", (x(today), TOP - 4), (x(today), bottom)))

    return Drawing(WIDTH, HEIGHT, tuple(parts), title, said, "day")


def _resting(dormancy: Dormancy, x: Callable[[dt.date], float], bottom: float) -> list[Shape]:
    """The fast and the rest as bands, named where there is room."""
    begin = x(dormancy.begins)
    end = x(dormancy.ends)
    fast = x(dormancy.last_meal)
    fed = x(dormancy.first_meal)
    parts: list[Shape] = [
        Rect("fast", fast, TOP, fed - fast, bottom - TOP),
        Rect("rest", begin, TOP, end - begin, bottom - TOP),
    ]
    if end - begin > 40:
        middle = (TOP + bottom) / 2 + 4
        parts.append(Text("words-on-dark", (begin + end) / 2, middle, "rest", "middle"))
    return parts
