"""The growth chart: weights as dots, where the animal is going with its band, what its species
does, and the borders of the stages.
"""

import datetime as dt
import math
from collections.abc import Sequence
from typing import Any

from husbandry.errors import ImpossibleStateError
from husbandry.growth.expected import expected
from husbandry.growth.fitting import WeightRecord
from husbandry.life_plan.future_body import FutureAnimal
from husbandry.quantity import Kind, Units, show, to_reader
from husbandry.species.stages import DAYS_PER_MONTH
from ridgeback.drawing.primitives import Circle, Drawing, Line, Path, Shape, Text, number

WIDTH, HEIGHT = 790.0, 320.0
LEFT, RIGHT, TOP, BOTTOM = 52.0, 650.0, 14.0, 284.0
POINTS = 60


def chart(
    life: FutureAnimal, weights: Sequence[WeightRecord], today: dt.date, units: Units, name: str
) -> Drawing:
    """Mass over time, from the first that is known to a while ahead."""
    first = min(
        [*(w.on for w in weights), *([life.animal.born_on] if life.animal.born_on else [])],
        default=today,
    )
    if (today - first).days > 4 * 365 and weights:  # an old animal: its weights, not its birth
        first = min(w.on for w in weights)
    past = max((today - first).days, 60)
    last = today + dt.timedelta(days=int(min(max(past, 365), 2 * 365)))
    days = [
        first + dt.timedelta(days=round((last - first).days * n / POINTS))
        for n in range(POINTS + 1)
    ]
    ahead = sorted({*(day for day in days if day > today), today, last})
    known = _projected(life, ahead)
    kind = _kind(life, days)
    parts, x, y = _chart_frame(first, kind, known, last, life, units, weights)
    if known:
        parts.append(
            Path(
                "own-line",
                "M" + "L".join(f"{number(x(d))},{number(y(usual))}" for d, _, usual, _ in known),
            )
        )
    fit = life.growth.fit
    if fit is not None and fit.origin < today:
        fitted = [day for day in days if fit.origin <= day <= today]
        if len(fitted) > 1:
            parts.append(
                Path(
                    "fitted",
                    "M" + "L".join(f"{number(x(d))},{number(y(fit.mass_g(d)))}" for d in fitted),
                )
            )
    parts += [
        Circle(
            "measured",
            x(w.on),
            y(w.mass_g),
            3.6,
            title=f"{w.on:%-d %b %Y}: {show(w.mass_g, Kind.MASS, units)}",
        )
        for w in weights
    ]
    parts.append(Line("today", (x(today), TOP), (x(today), BOTTOM)))
    parts.append(Text("words-today", x(today) + 4, TOP + 10, "today"))
    return Drawing(
        WIDTH,
        HEIGHT,
        tuple(parts),
        f"Growth of {name}",
        _said(life, weights, known, units),
        "growth",
    )


def _chart_frame(
    first: dt.date,
    kind: list[tuple[dt.date, float, float]],
    known: list[tuple[dt.date, float, float, float]],
    last: dt.date,
    life: FutureAnimal,
    units: Units,
    weights: Sequence[WeightRecord],
) -> tuple[list[Shape], Any, Any]:
    """Draw the axes and what the species does."""
    tallest = max(
        [
            *(w.mass_g for w in weights),
            *(high for *_, high in known),
            *(high for _, _, high in kind),
            1.0,
        ]
    )
    top = (
        min(
            tallest,
            max(
                [
                    1.6 * max((usual for _, _, usual, _ in known), default=tallest),
                    *(w.mass_g for w in weights),
                ]
            ),
        )
        * 1.05
    )

    return _chart_shapes(first, kind, known, last, life, top, units)


def _chart_shapes(
    first: dt.date,
    kind: list[tuple[dt.date, float, float]],
    known: list[tuple[dt.date, float, float, float]],
    last: dt.date,
    life: FutureAnimal,
    top: float,
    units: Units,
) -> tuple[list[Shape], Any, Any]:
    """Draw the axes, the stages and what the species does."""

    def x(day: dt.date) -> float:
        return LEFT + (day - first).days / (last - first).days * (RIGHT - LEFT)

    def y(grams: float) -> float:
        return BOTTOM - min(grams, top) / top * (BOTTOM - TOP)

    parts: list[Shape] = []
    if kind:
        parts.append(
            Path(
                "kind-target",
                _area(
                    [(x(d), y(low)) for d, low, _ in kind],
                    [(x(d), y(high)) for d, _, high in kind],
                ),
            )
        )
    if known:
        lows, highs = (
            [(x(d), y(low)) for d, low, _, _ in known],
            [(x(d), y(high)) for d, _, _, high in known],
        )
        parts.append(Path("own-target", _area(lows, highs)))
    parts += _axes(first, last, top, units, x, y)
    for stage in life.profile.stages[1:]:
        border = stage.mass_g.low
        if border is not None and border < 0.97 * top:
            parts.append(Line("stage-line", (LEFT, y(border)), (RIGHT, y(border))))
            parts.append(
                Text(
                    "words-soft",
                    RIGHT + 6,
                    y(border) + 4,
                    f"{stage.name} from {show(border, Kind.MASS, units)}",
                )
            )
    return parts, x, y


def _projected(
    life: FutureAnimal, days: Sequence[dt.date]
) -> list[tuple[dt.date, float, float, float]]:
    found = []
    for day in days:
        low, usual, high = (
            life.mass_g(day, "low"),
            life.mass_g(day, "usual"),
            life.mass_g(day, "high"),
        )
        if low is not None and usual is not None and high is not None:
            found.append((day, low, usual, high))
    return found


def _kind(life: FutureAnimal, days: Sequence[dt.date]) -> list[tuple[dt.date, float, float]]:
    born = life.animal.born_on
    if born is None:
        return []
    told = expected(life.profile, life.animal.sex)
    found = []
    for day in days:
        months = (day - born).days / DAYS_PER_MONTH
        if months >= 0:
            ends = sorted((told.slow.mass_g(months), told.fast.mass_g(months)))
            found.append((day, ends[0], ends[1]))
    return found


def _area(lower: Sequence[tuple[float, float]], upper: Sequence[tuple[float, float]]) -> str:
    points = [*lower, *reversed(upper)]
    return "M" + "L".join(f"{number(a)},{number(b)}" for a, b in points) + "Z"


def _axes(
    first: dt.date, last: dt.date, top: float, units: Units, x: object, y: object
) -> list[Shape]:
    if not callable(x) or not callable(y):
        raise ImpossibleStateError("missing: callable(x), callable(y)")
    parts: list[Shape] = [
        Line("axis", (LEFT, BOTTOM), (RIGHT, BOTTOM)),
        Line("axis", (LEFT, TOP), (LEFT, BOTTOM)),
    ]
    pounds = units.system == "us" and top >= 2000
    inside = 453.59237 if pounds else 1000.0 if top >= 10_000 else 1.0
    unit = "lb" if pounds else "kg" if inside == 1000.0 else to_reader(1.0, Kind.MASS, units)[1]
    step = _nice(top / inside / 5)
    mark = step

    while mark * inside < top:
        parts.append(Line("thin-axis", (LEFT - 4, y(mark * inside)), (LEFT, y(mark * inside))))
        parts.append(Text("words-soft", LEFT - 7, y(mark * inside) + 4, f"{mark:g}", "end"))
        mark += step
    parts.append(Text("words-soft", LEFT - 7, BOTTOM + 4, unit, "end"))
    months = (last - first).days / DAYS_PER_MONTH
    each = next(n for n in (1, 2, 3, 6, 12, 24, 60, 120) if months / n <= 9 or n == 120)
    year = first.year
    month = first.month

    while dt.date(year, month, 1) <= last:
        day = dt.date(year, month, 1)

        if (
            day >= first
            and (month - 1) % min(each, 12) == 0
            and (each <= 12 or year % (each // 12) == 0)
        ):
            parts.append(Line("thin-axis", (x(day), BOTTOM), (x(day), BOTTOM + 4)))
            words = f"{day:%Y}" if each >= 12 or month == 1 else f"{day:%b}"
            parts.append(Text("words-soft", x(day), BOTTOM + 18, words, "middle"))
        year, month = (year, month + 1) if month < 12 else (year + 1, 1)

    return parts


def _nice(value: float) -> float:
    power = 10.0 ** math.floor(math.log10(max(value, 1e-6)))
    return next(step * power for step in (1, 2, 5, 10) if step * power >= value)


def _said(
    life: FutureAnimal,
    weights: Sequence[WeightRecord],
    known: Sequence[tuple[dt.date, float, float, float]],
    units: Units,
) -> str:
    if not weights:
        return "Never weighed."
    latest = max(weights, key=lambda w: w.on)
    words = (
        f"{len(weights)} weights, the last {show(latest.mass_g, Kind.MASS, units)} on"
        f" {latest.on:%-d %B %Y}."
    )
    if known:
        day, low, usual, high = known[-1]
        words += (
            f" By {day:%B %Y} about {show(usual, Kind.MASS, units)}, between"
            f" {show(low, Kind.MASS, units)} and {show(high, Kind.MASS, units)}."
        )
    return words
