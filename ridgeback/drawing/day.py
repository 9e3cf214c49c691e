"""Temperatures over time: a day with its light, or a fault with the animal's limits.

Each line has its own style, so that no colour is needed.
"""

from collections.abc import Sequence
from dataclasses import dataclass

from husbandry.errors import ImpossibleStateError
from husbandry.forecast.day_forecast import TemperatureSeries
from husbandry.quantity import Kind, Units, show, to_reader
from ridgeback.drawing.primitives import Circle, Drawing, Line, Path, Rect, Shape, Text, number

LEFT, RIGHT, TOP, FOOT = 44.0, 118.0, 12.0, 26.0
LINES = (
    ("surface", "surface"),
    ("warm_air", "warm air"),
    ("cool_air", "cool air"),
    ("room", "room"),
)
NICE = (1.0, 2.0, 5.0, 10.0, 20.0)


@dataclass(frozen=True)
class Mark:
    """A limit of the animal, as a line across."""

    temp_c: float
    words: str


def chart(
    series: TemperatureSeries,
    units: Units,
    title: str,
    said: str,
    *,
    lit: Sequence[tuple[float, float]] = (),
    limits: Sequence[Mark] = (),
    crossed_h: float | None = None,
    width: float = 720.0,
    height: float = 250.0,
    start_h: float = 0.0,
) -> Drawing:
    """The lines of a course over its hours; `start_h` is the hour of the day at its beginning."""
    values = [*series.surface, *series.warm_air, *series.cool_air, *series.room]
    low = min(values) - 1
    high = max(values) + 1.5
    limits = [limit for limit in limits if low - 6 < limit.temp_c < high + 6]
    low, high = (
        min([low, *(limit.temp_c - 0.5 for limit in limits)]),
        max([high, *(limit.temp_c + 0.5 for limit in limits)]),
    )
    last = series.hours[-1]
    bottom = height - FOOT

    def x(hours: float) -> float:
        return LEFT + hours / last * (width - LEFT - RIGHT)

    def y(temp_c: float) -> float:
        return bottom - (temp_c - low) / (high - low) * (bottom - TOP)

    parts: list[Shape] = [
        Rect("lit", x(a), TOP, x(min(b, last)) - x(a), bottom - TOP) for a, b in lit if a < last
    ]
    parts += _grid(low, high, last, units, x, y, width, bottom, start_h)
    labels = [(y(limit.temp_c), "words-limit", limit.words) for limit in limits]
    parts += [
        Line("limit", (LEFT, y(limit.temp_c)), (width - RIGHT, y(limit.temp_c)))
        for limit in limits
    ]

    for name, words in LINES:
        line = getattr(series, name)
        points = "L".join(
            f"{number(x(h))},{number(y(v))}" for h, v in zip(series.hours, line, strict=True)
        )
        parts.append(Path(f"treatment-{name.replace('_', '-')}", f"M{points}"))
        labels.append((y(line[-1]), f"words-{name.replace('_', '-')}", words))
    at = -99.0

    for place, role, words in sorted(labels, key=lambda label: label[0]):
        at = max(place + 4, at + 14)
        parts.append(Text(role, width - RIGHT + 5, at, words))

    if crossed_h is not None:
        parts.append(Line("today", (x(crossed_h), TOP), (x(crossed_h), bottom)))
        parts.append(Circle("measured-wrong", x(crossed_h), bottom, 4))
    return Drawing(width, height, tuple(parts), title, said, "day")


def _grid(
    low: float,
    high: float,
    last: float,
    units: Units,
    x: object,
    y: object,
    width: float,
    bottom: float,
    start_h: float,
) -> list[Shape]:
    if not callable(x) or not callable(y):
        raise ImpossibleStateError("missing: callable(x), callable(y)")
    parts: list[Shape] = [Line("axis", (LEFT, bottom), (width - RIGHT, bottom))]
    fahrenheit = units.temperature == "f"
    first, top = (
        to_reader(low, Kind.TEMPERATURE, units)[0],
        to_reader(high, Kind.TEMPERATURE, units)[0],
    )
    step = next((step for step in NICE if (top - first) / step <= 6), (top - first) / 6)
    mark = -(-first // step) * step

    while mark < top:
        celsius = (mark - 32) / 1.8 if fahrenheit else mark
        parts.append(Line("grid-line", (LEFT, y(celsius)), (width - RIGHT, y(celsius))))
        parts.append(Text("words-soft", LEFT - 6, y(celsius) + 4, f"{mark:g}", "end"))
        mark += step
    each = next(hours for hours in (1, 2, 3, 6, 12, 24) if last / hours <= 9)
    hour = 0.0

    while hour <= last + 1e-6:
        clock = (start_h + hour) % 24
        words = (
            f"{clock:.0f}"
            if last <= 30
            else f"day {hour / 24 + 1:.0f}"
            if each == 24 or hour % 24 == 0
            else f"{clock:.0f}"
        )
        parts.append(Line("tick", (x(hour), bottom), (x(hour), bottom + 5)))
        parts.append(Text("words-soft", x(hour), bottom + 19, words, "middle"))
        hour += each

    return parts


def spoken(series: TemperatureSeries, units: Units) -> str:
    """The lines in words."""
    ends = [
        f"{words} {show(min(getattr(series, name)), Kind.TEMPERATURE, units)} to"
        f" {show(max(getattr(series, name)), Kind.TEMPERATURE, units)}"
        for name, words in LINES
    ]
    return ", ".join(ends)
