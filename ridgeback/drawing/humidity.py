"""Humidity through a day: both ends, the moist hide, the marks, what is misted and when the lamps
burn. Each line has its own style.
"""

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


def day_chart(seen: MoistureForecast, title: str, said: str, units: Units) -> Drawing:
    """A day's lines over its hours, from midnight to midnight."""
    bottom, right = HEIGHT - FOOT, WIDTH - RIGHT
    steps = len(seen.cool_pct)

    def x(hour: float) -> float:
        return LEFT + hour / 24 * (right - LEFT)

    def y(percent: float) -> float:
        return bottom - percent / 100 * (bottom - TOP)

    parts: list[Shape] = []
    for n, lit in enumerate(seen.lit):
        if lit and (n == 0 or not seen.lit[n - 1]):
            end = next((k for k in range(n, steps) if not seen.lit[k]), steps)
            parts.append(
                Rect(
                    "lit",
                    x(24 * n / steps),
                    TOP,
                    x(24 * end / steps) - x(24 * n / steps),
                    bottom - TOP,
                )
            )
    if seen.low_pct:
        edges = [24 * n / steps for n in range(steps + 1)]
        upper = [
            place
            for n in range(steps)
            for place in (
                (x(edges[n]), y(seen.high_pct[n])),
                (x(edges[n + 1]), y(seen.high_pct[n])),
            )
        ]
        lower = [
            place
            for n in range(steps)
            for place in ((x(edges[n]), y(seen.low_pct[n])), (x(edges[n + 1]), y(seen.low_pct[n])))
        ]
        parts.append(Path("target", polyline([*upper, *lower[::-1]], closed=True)))
    parts += percent_axis(LEFT, right, y)
    for hour in range(0, 25, 3):
        parts += [
            Line("tick", (x(hour), bottom), (x(hour), bottom + 5)),
            Text("words-soft", x(hour), bottom + 19, f"{hour}", "middle"),
        ]
    labels = []
    for name, role, words in LINES:
        values = getattr(seen, name)
        if values:
            # A value is that of the end of its half hour; the first is that of midnight, the
            # last's.
            points = [
                (x(0), y(values[-1])),
                *((x(24 * (n + 1) / steps), y(v)) for n, v in enumerate(values)),
            ]
            parts.append(Path(f"humidity-{role}", polyline(points)))
            labels.append((y(values[-1]), words))
    at = -99.0
    for place, words in sorted(labels):
        at = max(place + 4, at + 14)
        parts.append(Text("words-moist", right + 6, at, words))
    for pulse in seen.pulses:
        place = x(hour_of(pulse.at))
        drop = f"M{number(place)},{number(TOP - 16)}q5,8 0,11q-5,-3 0,-11Z"
        parts += [
            Path("drop", drop),
            Line("mist-line", (place, TOP - 4), (place, bottom)),
            Text(
                "words-soft",
                place + 7,
                TOP - 8,
                show(pulse.ml / 1000, Kind.VOLUME, units, small=True),
            ),
        ]
    return Drawing(WIDTH, HEIGHT, tuple(parts), title, said, "day")
