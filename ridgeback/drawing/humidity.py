"""Humidity through a day: both ends, the moist hide, the marks, what is misted and when the lamps
burn. Each line has its own style.
"""

from collections.abc import Iterator, Sequence

from husbandry.documents.result import MoistureForecast
from husbandry.items.timers import hour_of
from husbandry.quantity import Kind, Units, show
from ridgeback.drawing.primitives import (
    Drawing,
    Line,
    Path,
    Rect,
    Shape,
    Text,
    number,
    percent_axis,
    polyline,
)

WIDTH, HEIGHT = 720.0, 230.0
LEFT, RIGHT, TOP, FOOT = 44.0, 92.0, 26.0, 26.0
LINES = (
    ("cool_pct", "cool-end", "cool end"),
    ("warm_pct", "warm-end", "warm end"),
    ("hide_pct", "moist-hide", "moist hide"),
)


BOTTOM, EDGE = HEIGHT - FOOT, WIDTH - RIGHT


def _x(hour: float) -> float:
    return LEFT + hour / 24 * (EDGE - LEFT)


def _y(percent: float) -> float:
    return BOTTOM - percent / 100 * (BOTTOM - TOP)


def day_chart(seen: MoistureForecast, title: str, said: str, units: Units) -> Drawing:
    """A day's lines over its hours, from midnight to midnight."""
    parts: list[Shape] = [*_lit_hours(seen), *_target(seen), *percent_axis(LEFT, EDGE, _y)]
    for hour in range(0, 25, 3):
        parts += [
            Line("tick", (_x(hour), BOTTOM), (_x(hour), BOTTOM + 5)),
            Text("words-soft", _x(hour), BOTTOM + 19, f"{hour}", "middle"),
        ]
    parts += [*_lines(seen), *_mistings(seen, units)]
    return Drawing(WIDTH, HEIGHT, tuple(parts), title, said, "day")


def _lit_hours(seen: MoistureForecast) -> Iterator[Shape]:
    """The hours of light, pale behind the lines."""
    steps = len(seen.lit)
    for n, lit in enumerate(seen.lit):
        if lit and (n == 0 or not seen.lit[n - 1]):
            end = next((k for k in range(n, steps) if not seen.lit[k]), steps)
            left = _x(24 * n / steps)
            right = _x(24 * end / steps)
            yield Rect("lit", left, TOP, right - left, BOTTOM - TOP)


def _target(seen: MoistureForecast) -> Iterator[Shape]:
    """The target range, in steps; nothing where there is none."""
    if not seen.low_pct:
        return
    steps = len(seen.cool_pct)

    def edge(values: Sequence[float]) -> list[tuple[float, float]]:
        return [
            (_x(24 * (n + side) / steps), _y(values[n])) for n in range(steps) for side in (0, 1)
        ]

    ends = [*edge(seen.high_pct), *edge(seen.low_pct)[::-1]]
    yield Path("target", polyline(ends, closed=True))


def _lines(seen: MoistureForecast) -> Iterator[Shape]:
    """Each place's humidity, with its name at the end; names that would touch stand apart."""
    steps = len(seen.cool_pct)
    labels = []
    for name, role, words in LINES:
        values = getattr(seen, name)
        if values:
            # A value is that of the end of its half hour; the first is that of midnight, the
            # last's.
            over = ((_x(24 * (n + 1) / steps), _y(value)) for n, value in enumerate(values))
            yield Path(f"humidity-{role}", polyline([(_x(0), _y(values[-1])), *over]))
            labels.append((_y(values[-1]), words))
    at = -99.0
    for place, words in sorted(labels):
        at = max(place + 4, at + 14)
        yield Text("words-moist", EDGE + 6, at, words)


def _mistings(seen: MoistureForecast, units: Units) -> Iterator[Shape]:
    """A drop with its millilitres at each misting."""
    for pulse in seen.pulses:
        place = _x(hour_of(pulse.at))
        drop = f"M{number(place)},{number(TOP - 16)}q5,8 0,11q-5,-3 0,-11Z"
        amount = show(pulse.ml / 1000, Kind.VOLUME, units, small=True)
        yield Path("drop", drop)
        yield Line("mist-line", (place, TOP - 4), (place, BOTTOM))
        yield Text("words-soft", place + 7, TOP - 8, amount)
