"""A life as rows: one row a thing, time from left to right, each stage as wide as the root of its
days, so that the young are seen.

Two drawings with the same rows: the names at the left, which stay while the other is moved under
the thumb.
"""

import datetime as dt
import itertools
import textwrap
from collections.abc import Callable
from dataclasses import dataclass

from husbandry.life_plan.rows import LifePlan as Life
from husbandry.life_plan.rows import LifeRow, LifeRowValue
from ridgeback.drawing.primitives import Drawing, Line, Path, Rect, Shape, Text, number, polyline

HUES = {
    "surface": "heat",
    "warm air": "heat",
    "cool air": "heat",
    "night": "heat",
    "UV": "uv",
    "humidity by day": "moist",
    "humidity by night": "moist",
    "water": "moist",
    "food": "food",
    "supplements": "food",
    "enclosure": "enclosure",
    "substrate": "enclosure",
}
LEFT = 104.0
HEAD = 62.0
LINE, DIGEST = 14.5, 6.15
LEAST_LETTERS = 9
LEAST = 104.0
"""No stage is narrower, so that its words have room [px]."""


@dataclass(frozen=True)
class LifeRowBand:
    """A row's place."""

    life_row: LifeRow
    y: float
    height: float
    spans: tuple["WordSpan", ...]


@dataclass(frozen=True)
class WordSpan:
    """A stretch of days with its wrapped words."""

    since: dt.date
    until: dt.date
    lines: tuple[str, ...]


@dataclass(frozen=True)
class Layout:
    """Where days and rows lie."""

    marks: tuple[tuple[dt.date, float], ...]
    rows: tuple[LifeRowBand, ...]
    width: float
    height: float

    def x(self, day: dt.date) -> float:
        """Place of a day."""
        for (a, xa), (b, xb) in itertools.pairwise(self.marks):
            if day <= b:
                return xa + max((day - a).days, 0) / max((b - a).days, 1) * (xb - xa)
        return self.marks[-1][1]


def lay_out(life: Life, width: float, words: Callable[[LifeRowValue], tuple[str, ...]]) -> Layout:
    """Share the width among the stages and the height among the rows."""
    days = [
        max((condition_period.until - condition_period.since).days, 1)
        for condition_period in life.stages
    ]
    least = min(LEAST, width / len(days))
    roots = [day**0.5 for day in days]
    free = width - least * len(days)
    marks = [(life.stages[0].since, 0.0)]
    for condition_period, root in zip(life.stages, roots, strict=True):
        marks.append((condition_period.until, marks[-1][1] + least + free * root / sum(roots)))
    bare = Layout(tuple(marks), (), width, 0)
    y = HEAD
    rows = []
    for life_row in life.life_rows:
        spans = tuple(
            _by_stage(life_row, life, words)
            if life_row.slug == "enclosure"
            else ((s.since, s.until, words(s.worth)) for s in life_row.steps)
        )
        told = tuple(
            WordSpan(since, until, _wrapped(lines, bare.x(until) - bare.x(since)))
            for since, until, lines in spans
        )
        tall = max(len(part.lines) for part in told)
        height = LINE * max(tall, 1) + (
            20 if life_row.slug == "enclosure" else 13 if _threaded(life_row) else 9
        )
        rows.append(LifeRowBand(life_row, y, height, told))
        y += height + 5
    return Layout(tuple(marks), tuple(rows), width, y + 26)


def _by_stage(
    life_row: LifeRow, life: Life, words: Callable[[LifeRowValue], tuple[str, ...]]
) -> list[tuple[dt.date, dt.date, tuple[str, ...]]]:
    """What grows from day to day is told by its ends in each stage."""
    found = []
    for condition_period in life.stages:
        first, last = (
            life_row.on(condition_period.since),
            life_row.on(condition_period.until - dt.timedelta(days=1)),
        )
        if first is None or last is None:
            continue
        lines = words(first) if first == last else (f"{words(first)[0]}, growing to", *words(last))
        found.append((condition_period.since, condition_period.until, lines))
    return found


def _numeric(life_row: LifeRow) -> bool:
    return (
        all(step.worth.low is not None or step.worth.high is not None for step in life_row.steps)
        and life_row.slug != "substrate"
    )


def _threaded(life_row: LifeRow) -> bool:
    """Whether a thread shows where its target range lies: only where the target range moves in a
    life.
    """
    return life_row.slug == "enclosure" or (_numeric(life_row) and len(life_row.steps) > 1)


def _wrapped(lines: tuple[str, ...], width: float) -> tuple[str, ...]:
    """Words that fit a stretch; none in one too short for any: its title tells it."""
    room = int((width - 12) / DIGEST)
    if room < LEAST_LETTERS:
        return ()
    found: list[str] = []
    for text in lines:
        found += textwrap.wrap(text, room) or [""]
    return tuple(found[:5])


def names(layout: Layout, called: dict[str, str]) -> Drawing:
    """The names of the rows."""
    parts: list[Shape] = [Text("words-soft", 0, 24, "Stage")]
    for row in layout.rows:
        parts.append(Text("words-strong", 0, row.y + 17, called[row.life_row.slug]))
    return Drawing(LEFT, layout.height, tuple(parts), "Names of the rows", kind="life-row-names")


def timeline(life: Life, layout: Layout, title: str, said: str) -> Drawing:
    """The rows themselves, with today, the stages and how sure their days are."""
    parts: list[Shape] = []
    bottom = layout.height - 24
    for milestone in life.milestones:
        left = layout.x(milestone.early or milestone.usual)
        right = layout.x(milestone.late or life.last)
        parts.append(
            Rect(
                "unsure",
                left,
                34,
                right - left,
                bottom - 34,
                title=f"{milestone.name}: between these days",
            )
        )
    for n, condition_period in enumerate(life.stages):
        a = layout.x(condition_period.since)
        b = layout.x(condition_period.until)
        parts.append(Rect("stage-odd" if n % 2 else "stage-even", a, 4, b - a, 28))
        parts.append(Text("words-strong", a + 7, 23, _clipped(condition_period.name, b - a)))
    for row in layout.rows:
        parts += _row(row, layout)
    for milestone in life.milestones:
        x = layout.x(milestone.usual)
        parts.append(Line("border", (x, 4), (x, bottom)))
        parts.append(
            Text("words-soft", min(x + 4, layout.width - 58), 50, f"{milestone.usual:%b %Y}")
        )
    x = layout.x(life.today)
    parts.append(Line("today", (x, 0), (x, bottom + 6)))
    late = x > layout.width - 60
    parts.append(
        Text(
            "words-today",
            x - 4 if late else x + 4,
            bottom + 4,
            "today",
            "end" if late else "start",
        )
    )
    parts += _years(life, layout, bottom)
    return Drawing(layout.width, layout.height, tuple(parts), title, said, "life_rows")


def _clipped(words: str, width: float) -> str:
    room = int((width - 10) / 7)
    return words if len(words) <= room else words[: max(room - 1, 1)] + "…"


def _row(row: LifeRowBand, layout: Layout) -> list[Shape]:
    hue = HUES[row.life_row.slug]
    parts: list[Shape] = []
    for span in row.spans:
        a = layout.x(span.since)
        b = layout.x(span.until)
        parts.append(
            Rect(
                f"life-row-{hue}",
                a + 0.5,
                row.y,
                b - a - 1,
                row.height,
                title="; ".join(span.lines),
            )
        )
        for n, line in enumerate(span.lines):
            parts.append(Text("words", a + 7, row.y + 15 + LINE * n, line))
        parts += _again(row, span, layout)
    if row.life_row.slug == "enclosure":
        parts.append(_growing(row, layout))
    elif _threaded(row.life_row):
        parts += _threads(row, layout, hue)
    return parts


def _again(row: LifeRowBand, span: WordSpan, layout: Layout) -> list[Shape]:
    """What lasts over several stages is said again where each begins: the start may be out of
    sight.
    """
    parts: list[Shape] = []
    wide = max((len(line) for line in span.lines), default=0) * DIGEST + 14
    last = layout.x(span.since)
    for (day, x), (_, following) in itertools.pairwise(layout.marks):
        if span.since < day < span.until and x - last > wide and following - x > wide:
            parts += [
                Text("words-soft", x + 7, row.y + 15 + LINE * n, line)
                for n, line in enumerate(span.lines)
            ]
    return parts


def _growing(row: LifeRowBand, layout: Layout) -> Shape:
    """The length that the enclosure needs, as a line that climbs along the row's lower edge."""
    lengths = [
        (step, step.worth.sides_m[0])
        for step in row.life_row.steps
        if step.worth.sides_m is not None
    ]
    most = max(length for _, length in lengths)
    bottom = row.y + row.height - 2
    tall = min(9.0, row.height / 4)
    points = []
    for step, length in lengths:
        y = bottom - tall * length / most
        points += [(layout.x(step.since), y), (layout.x(step.until), y)]
    return Path("thread-enclosure", polyline(points))


def _threads(row: LifeRowBand, layout: Layout, hue: str) -> list[Shape]:
    """Where the target range lies among all that the life asks for: a thin bar along the row's
    lower edge.
    """
    ends = [
        end
        for step in row.life_row.steps
        for end in (step.worth.low, step.worth.high)
        if end is not None
    ]
    bottom = min(ends)
    top = max(ends)
    parts: list[Shape] = []
    for step in row.life_row.steps:
        a = layout.x(step.since) + 6
        b = layout.x(step.until) - 6
        low = (step.worth.low if step.worth.low is not None else bottom) - bottom
        high = (step.worth.high if step.worth.high is not None else top) - bottom
        left, right = (
            a + max(end, 0.0) / max(top - bottom, 1e-9) * (b - a) for end in (low, high)
        )
        y = row.y + row.height - 5
        parts.append(
            Path(f"thread-{hue}", f"M{number(left)},{number(y)}H{number(max(right, left + 3))}")
        )
    return parts


def _years(life: Life, layout: Layout, bottom: float) -> list[Shape]:
    parts: list[Shape] = [Line("axis", (0, bottom + 8), (layout.width, bottom + 8))]
    years = list(range(life.first.year + 1, life.last.year + 1))
    step = 1 if len(years) <= 12 else 2 if len(years) <= 24 else 5
    last = -60.0
    for year in years[::step]:
        x = layout.x(dt.date(year, 1, 1))
        if x - last < 42 or abs(x - layout.x(life.today)) < 40:
            continue
        parts.append(Path("tick", polyline([(x, bottom + 4), (x, bottom + 12)])))
        parts.append(
            Text("words-soft", min(x, layout.width - 16), bottom + 24, str(year), "middle")
        )
        last = x
    return parts
