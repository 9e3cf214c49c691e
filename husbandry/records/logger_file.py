"""The values of a logger's file: its times on the world's clock, its channels, and by line what
could not be read.

Method: docs/methods/logger-files.md.
"""

import csv
import datetime as dt
import io
import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from husbandry.errors import DocumentError, Problem
from husbandry.records.channels import POSSIBLE, QUANTITY_WORDS, Quantity
from husbandry.records.logger_layout import MISSING, LoggerLayout, number_of
from husbandry.records.moments import Clock, MomentReader, Seconds, has_skipped, to_utc

SHOWN_PROBLEMS = 40
"""Lines that could not be read and are named; the others are counted (design choice)."""
OLDEST_S = 20 * 365 * 86_400
"""What is older is a clock that was never set (design choice) [s]."""
AHEAD_S = 86_400
"""A logger's clock may be wrong by a day; what is further ahead is refused (design choice) [s]."""
TOO_WARM_C, ALIKE_K = 55.0, 8.0
"""Values above the first that, taken as °F, lie within the second of all others are °F among °C
(design choice) [°C, K]."""
MIXED_SHARE = 0.02
"""Share of a column from which on it counts as a mixture of units (design choice) [1]."""
Values = NDArray[np.float64]


@dataclass
class LoggerValues:
    """One channel of a file, in the order of its times."""

    column: int
    quantity: Quantity
    at_s: Seconds
    """Seconds since 1970, UTC."""
    values: Values
    """In the quantity's own unit."""


@dataclass
class LoggerRead:
    """All that a file says."""

    channels: list[LoggerValues] = field(default_factory=list)
    lines: int = 0
    """With values."""
    refused: int = 0
    """Lines of which something could not be read."""
    repeated: int = 0
    """Values of a time that had one already: the first stands."""
    missing: int = 0
    """Cells without a value."""
    is_sorted: bool = True
    has_skipped_hour: bool = False
    """It has times that the room's clock left out in spring: its logger keeps standard time."""
    problems: list[Problem] = field(default_factory=list)
    """The first lines that could not be read: “line 12”, and why."""

    def refuse(self, line: int, reason: str) -> None:
        """Note a line that could not be read."""
        self.refused += 1
        if len(self.problems) < SHOWN_PROBLEMS:
            self.problems.append(Problem(f"line {line}", reason))


def read_file(
    text: str, layout: LoggerLayout, *, zone: str, clock: Clock, now: dt.datetime
) -> LoggerRead:
    """Read the values of a file.

    Parameters
    ----------
    zone : str
        Of the room, by its IANA name.
    clock : str
        Whose time the logger writes.
    now : datetime
        Nothing lies more than a day after it.

    Raises
    ------
    DocumentError
        Where the order of day and month is not known, no column has a time, or a column is a
        mixture of units.
    """
    lines = _Lines(layout, now)
    for number, row in _rows(text, layout):
        lines.take(number, row)
    return lines.finish(zone, clock)


def _rows(text: str, layout: LoggerLayout) -> Iterator[tuple[int, list[str]]]:
    """Rows with values, each with the number of its line."""
    reader = csv.reader(io.StringIO(text), delimiter=layout.delimiter)
    for row in reader:
        if reader.line_num >= layout.first_line and any(row):
            yield reader.line_num, row


@dataclass(frozen=True, slots=True)
class _Source:
    """A column of values: its place, its head, and between what its values can lie."""

    n: int
    head: str
    quantity: Quantity
    is_fahrenheit: bool
    low: float
    high: float


class _Lines:
    """Takes the lines of a file one by one."""

    def __init__(self, layout: LoggerLayout, now: dt.datetime) -> None:
        self.sources = [
            _Source(n, column.head, quantity, column.unit == "F", *POSSIBLE[quantity])
            for n, column in enumerate(layout.columns)
            if (quantity := column.quantity) is not None
        ]

        places = {column.role: n for n, column in reversed(list(enumerate(layout.columns)))}
        self.moment_at = places.get("moment")
        self.day_at, self.clock_at = places.get("day"), places.get("clock")
        if layout.order is None:
            raise _unusable("say whether the day or the month comes first")
        if self.moment_at is None and (self.day_at is None or self.clock_at is None):
            raise _unusable("no column holds the time: choose the one with day and time of day")
        if not self.sources:
            raise _unusable("choose at least one column with values")
        self.reader = MomentReader(layout.order, now.date())
        self.latest_s = int(now.timestamp()) + AHEAD_S
        self.has_comma = layout.decimal == ","
        self.read = LoggerRead()
        self.local: list[int] = []
        self.numbers: list[int] = []
        self.cells: list[list[float]] = [[] for _ in self.sources]
        self.are_utc = False

    def take(self, number: int, row: list[str]) -> None:
        """Read a line, or note why not."""
        at = self._time(row)
        if at is None:
            self.read.refuse(number, f"“{self._said(row)}” is not a time such as 2026-11-25 14:30")
            return
        if at > self.latest_s:
            self.read.refuse(number, f"“{self._said(row)}” is still to come")
            return
        if at < self.latest_s - OLDEST_S:
            said = f"“{self._said(row)}” is more than 20 years ago: look at the logger’s clock"
            self.read.refuse(number, said)
            return

        problem = ""

        for own, source in zip(self.cells, self.sources, strict=True):
            value, said = self._value(row[source.n] if source.n < len(row) else "", source)
            own.append(value)
            problem = problem or said

        self.local.append(at)
        self.numbers.append(number)
        self.read.lines += 1
        if problem:
            self.read.refuse(number, problem)

    def _said(self, row: list[str]) -> str:
        places = [self.moment_at] if self.moment_at is not None else [self.day_at, self.clock_at]
        return " ".join(row[n] for n in places if n is not None and n < len(row))[:40]

    def _time(self, row: list[str]) -> int | None:
        """Seconds since 1970 of a line, local or UTC; None where it says none [s]."""
        if self.moment_at is not None:
            if self.moment_at >= len(row):
                return None
            found = self.reader.moment(row[self.moment_at].strip())
            if found is None:
                return None
            self.are_utc = self.are_utc or found[1]

            return found[0]

        if (
            self.day_at is None
            or self.clock_at is None
            or max(self.day_at, self.clock_at) >= len(row)
        ):
            return None

        return self.reader.seconds(row[self.day_at].strip(), row[self.clock_at].strip())

    def _value(self, cell: str, source: "_Source") -> tuple[float, str]:
        """A value in its quantity's own unit, nan where there is none; and what is wrong with it."""
        try:
            value = float(cell.replace(",", ".") if self.has_comma else cell)
        except ValueError:  # such as “21.5 °C”
            if cell.strip().lower() in MISSING:
                self.read.missing += 1
                return math.nan, ""
            said = number_of(cell)
            value = math.inf if said is None else said

        if source.is_fahrenheit:
            value = (value - 32.0) / 1.8
        if source.low <= value <= source.high:
            return value if source.quantity is not Quantity.HUMIDITY else min(value, 100.0), ""
        if not math.isfinite(value):
            return math.nan, f"“{cell.strip()[:20]}” is no number"
        return (
            math.nan,
            f"“{cell.strip()[:20]}” is no {QUANTITY_WORDS[source.quantity]} that can be",
        )

    def finish(self, zone: str, clock: Clock) -> LoggerRead:
        """Put the times on the world's clock and in order; each time once."""
        local = np.array(self.local, dtype=np.int64)
        order = np.arange(len(local))

        if len(local) > 1 and np.median(np.diff(local)) < 0:
            order = order[::-1]  # the newest line first
        at = np.empty_like(local)
        kept_by: Clock = "utc" if self.are_utc else clock
        at[order] = to_utc(local[order], zone, kept_by)
        self.read.has_skipped_hour = kept_by == "room" and has_skipped(local, at, zone)
        self.read.is_sorted = bool(np.all(np.diff(at) >= 0)) if len(at) > 1 else True

        for own, source in zip(self.cells, self.sources, strict=True):
            values = np.array(own, dtype=np.float64)

            if source.quantity is Quantity.TEMPERATURE and not source.is_fahrenheit:
                self._check_units(values, source)
            known = ~np.isnan(values)
            times, firsts = np.unique(at[known], return_index=True)
            self.read.repeated += int(known.sum()) - len(times)

            if len(times):
                kept = values[known][firsts]
                self.read.channels.append(LoggerValues(source.n, source.quantity, times, kept))

        return self.read

    def _check_units(self, values: Values, source: "_Source") -> None:
        """Refuse a column in which some values are °F and others °C."""
        warm = values > TOO_WARM_C
        rest = values[~warm & ~np.isnan(values)]
        share = warm.sum() / max(1, len(values))
        if not MIXED_SHARE <= share < 1 or not len(rest):
            return
        as_f = (np.median(values[warm]) - 32) / 1.8

        if abs(as_f - np.median(rest)) <= ALIKE_K:
            line = self.numbers[int(np.flatnonzero(warm)[0])]
            raise DocumentError(
                "This file cannot be used",
                [Problem(f"line {line}", f"“{source.head}” is a mixture of °C and °F")],
            )


def _unusable(reason: str) -> DocumentError:
    return DocumentError("This file cannot be used", [Problem("", reason)])


def sentences(why: DocumentError) -> Sequence[str]:
    """What is wrong with a file, a sentence each."""
    return [f"{one.pointer}: {one.reason}" if one.pointer else one.reason for one in why.problems]
