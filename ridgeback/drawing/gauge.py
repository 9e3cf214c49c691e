"""The target range gauge: what is needed, what is predicted, what was measured.

The same form everywhere, readable without colour.

Needed: a filled bar between two end strokes. Predicted: an open diamond with whiskers over its 90 %
interval. Measured: a solid dot; hollow
and struck through when it is stale or of an earlier revision. Absolute limits: dotted strokes. Room
vapour's floor: a short foot.
"""

from dataclasses import dataclass

from husbandry.documents.result import NeedState
from husbandry.quantity import Kind, Units, show
from husbandry.species.needs import NEEDS
from ridgeback.drawing.primitives import (
    Circle,
    Drawing,
    Line,
    Path,
    Rect,
    Shape,
    Text,
    number,
    polyline,
)

WIDTH, HEIGHT = 330.0, 37.0
MIDDLE = 13.0
EDGE = 9.0


@dataclass(frozen=True)
class GaugeScale:
    """From a need's own unit to the paper."""

    low: float
    high: float
    left: float
    right: float

    def __call__(self, value: float) -> float:
        """Place of a value, kept on the paper."""
        share = (value - self.low) / (self.high - self.low)
        return self.left + min(max(share, 0.0), 1.0) * (self.right - self.left)

    def holds(self, value: float) -> bool:
        """Whether the value lies on the paper."""
        return self.low <= value <= self.high


def scale_of(need: NeedState, left: float, right: float) -> GaugeScale:
    """A scale on which the target range takes about a third and every mark of the need is seen."""
    low = need.low.value if need.low else None
    high = need.high.value if need.high else None
    ends = [end for end in (low, high) if end is not None]
    width = (ends[-1] - ends[0]) if len(ends) == 2 else max(abs(ends[0]) * 0.3, 4.0)
    values = [ends[0] - width, ends[-1] + width]

    for end in (need.limit_low, need.limit_high):
        if end is not None and ends[0] - 2 * width < end.value < ends[-1] + 2 * width:
            values.append(end.value)

    if need.predicted:
        values += [need.predicted.value]

    if need.measured:
        values.append(need.measured.value)

    if need.floor:
        values.append(need.floor.value)
    bottom = min(values)
    top = max(values)

    if NEEDS[need.key].kind in {Kind.UVI, Kind.HUMIDITY}:
        bottom = max(bottom, 0.0)
    pad = 0.04 * (top - bottom)

    return GaugeScale(bottom - pad, top + pad, left, right)


def _diamond(x: float, y: float, r: float) -> str:
    return polyline([(x, y - r), (x + r, y), (x, y + r), (x - r, y)], closed=True)


def _strokes(role: str, places: list[float], y: float, half: float) -> list[Shape]:
    """One path of upright strokes across the scale."""
    if not places:
        return []
    top, foot = number(y - half), number(y + half)
    return [Path(role, "".join(f"M{number(x)},{top}V{foot}" for x in places))]


def _marks(need: NeedState, scale: GaugeScale, y: float, size: float) -> list[Shape]:
    parts: list[Shape] = []

    limits = [
        scale(limit.value)
        for limit in (need.limit_low, need.limit_high)
        if limit is not None and scale.holds(limit.value)
    ]
    parts += _strokes("limit", limits, y, 1.6 * size)
    left = scale(need.low.value) if need.low else scale.left
    right = scale(need.high.value) if need.high else scale.right
    parts.append(Rect("target", left, y - size, right - left, 2 * size))

    ends = [at for end, at in ((need.low, left), (need.high, right)) if end is not None]
    parts += _strokes("ends", ends, y, 1.7 * size)

    if need.floor is not None:
        x = scale(need.floor.value)
        parts.append(
            Path(
                "floor",
                f"M{number(x)},{number(y - size)}V{number(y + 1.9 * size)}M{number(x - 5)},{number(y + 1.9 * size)}h10",
            )
        )

    if need.predicted is not None:
        if need.predicted.low is not None and need.predicted.high is not None:
            a = scale(need.predicted.low)
            b = scale(need.predicted.high)
            shown = [
                x
                for x, end in ((a, need.predicted.low), (b, need.predicted.high))
                if scale.holds(end)
            ]
            caps = "".join(
                f"M{number(x)},{number(y - 0.7 * size)}V{number(y + 0.7 * size)}" for x in shown
            )
            parts.append(Path("whisker", f"M{number(a)},{number(y)}H{number(b)}{caps}"))
        parts.append(Path("predicted", _diamond(scale(need.predicted.value), y, 1.25 * size)))

    if need.measured is not None:
        x = scale(need.measured.value)

        if need.measured.judged:
            wrong = need.verdict.speaks == "measured" and need.verdict.direction != "right"
            parts.append(Circle("measured-wrong" if wrong else "measured", x, y, size))
        else:
            parts.append(Circle("stale", x, y, size))
            parts.append(
                Line("stale", (x - 1.5 * size, y + 1.5 * size), (x + 1.5 * size, y - 1.5 * size))
            )

    return parts


def describe(need: NeedState, units: Units) -> str:
    """The gauge in words."""
    kind = NEEDS[need.key].kind

    def said(value: float) -> str:
        return show(value, kind, units)

    ends = (
        [f"at least {said(need.low.value)}"]
        if need.low and not need.high
        else [f"at most {said(need.high.value)}"]
        if need.high and not need.low
        else []
    )
    if need.low and need.high:
        ends = [f"{show(need.low.value, kind, units, unit=False)} to {said(need.high.value)}"]
    parts = [f"needed {ends[0]}"]
    if need.predicted:
        parts.append(f"predicted {said(need.predicted.value)}")
    if need.measured:
        parts.append(
            f"measured {said(need.measured.value)}{'' if need.measured.judged else ', not judged'}"
        )
    if need.floor:
        parts.append(f"from room air alone {said(need.floor.value)}")
    return ", ".join(parts)


def large(need: NeedState, units: Units) -> Drawing:
    """The form for a page: an axis and the target range's own numbers."""
    kind = NEEDS[need.key].kind
    scale = scale_of(need, EDGE, WIDTH - EDGE)
    parts: list[Shape] = [
        Line("axis", (0, MIDDLE), (WIDTH, MIDDLE)),
        *_marks(need, scale, MIDDLE, 6.0),
    ]
    digits = 0 if kind is Kind.TEMPERATURE else None
    low_x, high_x = (
        (scale(need.low.value) if need.low else 0.0),
        (scale(need.high.value) if need.high else WIDTH),
    )
    apart = min(max(0.0, 62 - (high_x - low_x)) / 2, 20) if need.low and need.high else 0.0
    if need.low:
        words = show(
            need.low.value,
            kind,
            units,
            digits=digits if float(need.low.value).is_integer() else 1,
            unit=need.high is None,
        )
        parts.append(Text("words-soft", low_x - apart, HEIGHT - 2, words, "middle"))
    if need.high:
        words = show(
            need.high.value,
            kind,
            units,
            digits=digits if float(need.high.value).is_integer() else 1,
        )
        parts.append(Text("words-soft", high_x + apart, HEIGHT - 2, words, "middle"))
    return Drawing(
        WIDTH, HEIGHT, tuple(parts), f"{need.name}, {need.place}", describe(need, units), "gauge"
    )


def small(need: NeedState, units: Units) -> Drawing:
    """The form for lists and the phone: one line, 130 wide."""
    scale = scale_of(need, 5, 125)
    parts: list[Shape] = [Line("axis", (0, 9), (130, 9)), *_marks(need, scale, 9, 3.6)]
    return Drawing(
        130, 18, tuple(parts), f"{need.name}, {need.place}", describe(need, units), "gauge-small"
    )
