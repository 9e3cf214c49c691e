"""A channel over time: its line with its least and most, what is needed by day and by night behind
it, what was predicted over it, and what happened below.
"""

import datetime as dt
import itertools
import math
import textwrap
from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from husbandry.quantity import Kind, Units, to_reader
from husbandry.records.series import ChannelTargets, PhaseRange
from ridgeback.drawing.primitives import Drawing, Line, Path, Rect, Shape, Text, polyline

WIDTH, HEIGHT = 860.0, 300.0
LEFT, RIGHT, TOP, FOOT = 46.0, 92.0, 14.0, 40.0
BOTTOM, EDGE = HEIGHT - FOOT, WIDTH - RIGHT
DAY_S = 86_400
BY_PHASE_DAYS = 10
"""Up to so many days the ranges change with the lamps; on longer charts they are two bands across
(design choice) [days]."""
GAP_STEPS = 4
"""A line breaks where so many steps hold nothing (design choice)."""
NICE = (0.5, 1.0, 2.0, 5.0, 10.0, 20.0, 50.0)
LEAST_SPAN: dict[Kind, float] = {
    Kind.TEMPERATURE: 6.0,
    Kind.HUMIDITY: 20.0,
    Kind.UVI: 2.0,
    Kind.POWER: 20.0,
    Kind.SHARE: 0.5,
    Kind.MASS: 10.0,
}
"""A quiet line is not blown up to fill the paper (design choice) [unit]."""
NAME_LETTERS = 13
"""Of a line of a name that fit beside the chart (design choice)."""
Values = NDArray[np.float64]


@dataclass(frozen=True)
class ChartLine:
    """One channel as it is drawn; times in seconds of the room's clock."""

    words: str
    at_s: NDArray[np.int64]
    mean: Values
    low: Values
    high: Values
    step_s: int
    role: str = "treatment-surface"


@dataclass(frozen=True)
class ChartEvent:
    """Something that happened, at a second of the room's clock."""

    at_s: int
    words: str


@dataclass(frozen=True)
class Axes:
    """Where times and values are on the paper."""

    first_s: int
    last_s: int
    low: float
    high: float

    def x(self, at_s: float) -> float:
        """Of a second of the room's clock."""
        return LEFT + (at_s - self.first_s) / (self.last_s - self.first_s) * (EDGE - LEFT)

    def y(self, value: float) -> float:
        """Of a value."""
        return BOTTOM - (value - self.low) / (self.high - self.low) * (BOTTOM - TOP)


def axes_of(
    lines: Sequence[ChartLine],
    targets: ChannelTargets,
    span_s: tuple[int, int],
    kind: Kind,
    predicted: Sequence[tuple[float, float]] = (),
) -> Axes:
    """Room for the lines, for what is predicted, and for the ranges near them.

    Parameters
    ----------
    span_s : (int, int)
        The first and the last second, by the room's clock.
    """
    first_s, last_s = span_s
    values = [float(v) for line in lines for part in (line.low, line.high) for v in part]
    ends = [
        end
        for wanted in (targets.day, targets.night)
        for end in (wanted.low, wanted.high)
        if not math.isnan(end)
    ]

    if values and last_s - first_s <= BY_PHASE_DAYS * DAY_S:
        values += [value for _, value in predicted]
    values = values or ends or [0.0]
    low, high = min(values), max(values)
    reach = max(high - low, LEAST_SPAN[kind])
    near = [end for end in ends if low - reach <= end <= high + reach]
    low, high = min([low, *near]), max([high, *near])
    middle, half = (low + high) / 2, max(high - low, LEAST_SPAN[kind]) / 2

    return Axes(first_s, last_s, middle - half * 1.08, middle + half * 1.08)


def chart(
    lines: Sequence[ChartLine],
    targets: ChannelTargets,
    axes: Axes,
    kind: Kind,
    units: Units,
    title: str,
    said: str,
    *,
    predicted: Sequence[tuple[float, float]] = (),
    events: Sequence[ChartEvent] = (),
) -> Drawing:
    """Draw one or two channels.

    Parameters
    ----------
    predicted : sequence of (float, float)
        Hours of the day and what is predicted then, for one day like the others.
    """
    parts: list[Shape] = [*_ranges(targets, axes), *_scale(axes, kind, units), *_times(axes)]
    parts += _limits(targets, axes)
    for line in lines:
        parts += _line(line, axes)
    if predicted and axes.last_s - axes.first_s <= BY_PHASE_DAYS * DAY_S:
        parts += _predicted(predicted, axes)
    parts += _events(events, axes)
    parts += _names(lines, axes, predicted)

    return Drawing(WIDTH, HEIGHT, tuple(parts), title, said, "record")


def _spans(targets: ChannelTargets, axes: Axes) -> Iterator[tuple[int, int, PhaseRange]]:
    """Parts of the time with the range of each."""
    days = (axes.last_s - axes.first_s) / DAY_S

    if days > BY_PHASE_DAYS or not targets.lit:
        yield axes.first_s, axes.last_s, targets.night
        yield axes.first_s, axes.last_s, targets.day
        return

    edges = sorted({0.0, 24.0, *(edge for span in targets.lit for edge in span)})
    day = axes.first_s // DAY_S * DAY_S

    while day < axes.last_s:
        for begin, end in itertools.pairwise(edges):
            lit = bool(targets.is_lit(np.array([(begin + end) / 2]))[0])
            yield (
                max(axes.first_s, int(day + begin * 3600)),
                min(axes.last_s, int(day + end * 3600)),
                targets.day if lit else targets.night,
            )

        day += DAY_S


def _ranges(targets: ChannelTargets, axes: Axes) -> Iterator[Shape]:
    for begin, end, wanted in _spans(targets, axes):
        if end <= begin or (math.isnan(wanted.low) and math.isnan(wanted.high)):
            continue
        low = axes.low if math.isnan(wanted.low) else max(wanted.low, axes.low)
        high = axes.high if math.isnan(wanted.high) else min(wanted.high, axes.high)
        if high > low:
            top, height = axes.y(high), axes.y(low) - axes.y(high)
            yield Rect("wanted", axes.x(begin), top, axes.x(end) - axes.x(begin), height)


def _limits(targets: ChannelTargets, axes: Axes) -> Iterator[Shape]:
    """Limits of each phase, over its own hours."""
    named = set()

    for begin, end, wanted in _spans(targets, axes):
        for limit in (wanted.limit_low, wanted.limit_high):
            if end <= begin or math.isnan(limit) or not axes.low < limit < axes.high:
                continue

            y = axes.y(limit)
            yield Line("limit", (axes.x(begin), y), (axes.x(end), y))
            if limit not in named:
                named.add(limit)
                yield Text("words-limit", EDGE + 5, y + 4, "limit")


def _scale(axes: Axes, kind: Kind, units: Units) -> Iterator[Shape]:
    bottom, top = (to_reader(end, kind, units)[0] for end in (axes.low, axes.high))
    step = next((one for one in NICE if (top - bottom) / one <= 6), (top - bottom) / 6)
    mark = math.ceil(bottom / step) * step

    while mark < top:
        y = BOTTOM - (mark - bottom) / (top - bottom) * (BOTTOM - TOP)
        yield Line("grid-line", (LEFT, y), (EDGE, y))
        yield Text("words-soft", LEFT - 6, y + 4, f"{mark:g}", "end")
        mark = round(mark + step, 6)


def _times(axes: Axes) -> Iterator[Shape]:
    """Hours under a short chart, days under a longer one, months under a year."""
    yield Line("axis", (LEFT, BOTTOM), (EDGE, BOTTOM))
    hours = (axes.last_s - axes.first_s) / 3600
    each, form = next(
        (
            (step, form)
            for most, step, form in (
                (30, 3 * 3600, "%-H:%M"),
                (80, 12 * 3600, "%-d %b %-H:%M"),
                (24 * 11, DAY_S, "%-d %b"),
                (24 * 45, 5 * DAY_S, "%-d %b"),
                (24 * 200, 30 * DAY_S, "%-d %b"),
            )
            if hours <= most
        ),
        (max(1, round(hours / 24 / 8)) * DAY_S, "%b %Y"),
    )

    at = -(-axes.first_s // each) * each

    while at <= axes.last_s:
        yield Line("tick", (axes.x(at), BOTTOM), (axes.x(at), BOTTOM + 5))
        if at < axes.last_s:
            yield Text("words-soft", axes.x(at), BOTTOM + 18, _clock_words(at, form), "middle")
        at += each


def _clock_words(at_s: int, form: str) -> str:
    """A second of the room's clock, written."""
    return dt.datetime.fromtimestamp(at_s, dt.UTC).strftime(form)


def _runs(line: ChartLine) -> Iterator[slice]:
    """Parts of a line without a gap."""
    if not len(line.at_s):
        return
    breaks = np.flatnonzero(np.diff(line.at_s) > GAP_STEPS * line.step_s) + 1
    begin = 0
    for end in [*breaks.tolist(), len(line.at_s)]:
        yield slice(begin, end)
        begin = end


def _line(line: ChartLine, axes: Axes) -> Iterator[Shape]:
    middle = line.at_s + line.step_s / 2

    for run in _runs(line):
        xs = [axes.x(float(one)) for one in middle[run]]

        if float(np.max(line.high[run] - line.low[run])) > 0:
            above = list(zip(xs, (axes.y(float(v)) for v in line.high[run]), strict=True))
            below = list(zip(xs, (axes.y(float(v)) for v in line.low[run]), strict=True))
            yield Path(f"spread spread-{line.role}", polyline([*above, *below[::-1]], closed=True))
        points = list(zip(xs, (axes.y(float(v)) for v in line.mean[run]), strict=True))

        if len(points) == 1:  # alone between two gaps: a dot
            points.append((points[0][0] + 1, points[0][1]))
        yield Path(line.role, polyline(points))


def _predicted(predicted: Sequence[tuple[float, float]], axes: Axes) -> Iterator[Shape]:
    points = []
    day = axes.first_s // DAY_S * DAY_S

    while day <= axes.last_s:
        for hour, value in predicted:
            at = day + hour * 3600
            if hour < 24 and axes.first_s <= at <= axes.last_s:
                inside = min(max(value, axes.low), axes.high)
                points.append((axes.x(at), axes.y(inside)))

        day += DAY_S

    if len(points) > 1:
        yield Path("foreseen", polyline(points))


def _events(events: Sequence[ChartEvent], axes: Axes) -> Iterator[Shape]:
    for one in events:
        x = axes.x(one.at_s)
        yield Path("event", f"M{x:.1f},{BOTTOM - 2:.1f}l4,8h-8z", title=one.words)


def _names(
    lines: Sequence[ChartLine], axes: Axes, predicted: Sequence[tuple[float, float]]
) -> Iterator[Shape]:
    """Each line named at its end, apart from one another."""
    ends = [
        (axes.y(float(line.mean[-1])), f"words-{line.role.removeprefix('treatment-')}", line.words)
        for line in lines
        if len(line.mean) and line.words
    ]

    if predicted and axes.last_s - axes.first_s <= BY_PHASE_DAYS * DAY_S:
        inside = min(max(predicted[-1][1], axes.low), axes.high)
        ends.append((axes.y(inside), "words-soft", "- - predicted"))
    at = -99.0
    for y, role, words in sorted(ends):
        at = max(y + 4, at + 14)
        for n, part in enumerate(textwrap.wrap(words, NAME_LETTERS, max_lines=3)):
            at += 14 * (n > 0)
            yield Text(role, EDGE + 5, at, part)
