"""How a logger's file is laid out, told from its first lines: delimiter, decimal mark, head, columns.

What cannot be told is asked. Method: docs/methods/logger-files.md.
"""

import codecs
import csv
import hashlib
import itertools
import re
from collections import Counter
from collections.abc import Sequence
from statistics import median
from typing import Literal

from husbandry.derivation import Document
from husbandry.errors import DocumentError, Problem
from husbandry.intake.dates import Order, is_ambiguous, order_of
from husbandry.records.channels import Quantity
from husbandry.records.moments import UNIX, clock_seconds, split_moment

Role = Literal["moment", "day", "clock", "temperature", "humidity", "uvi", "power", "left out"]
Unit = Literal["", "C", "F"]
DELIMITERS = ("\t", ";", "|", ",")
"""In the order in which they are believed: a comma may be a decimal one (design choice)."""
LOOKED_AT = 400
"""Lines from which a layout is told (design choice)."""
MOST_COLUMNS = 40
"""Of a file; more is no logger's (design choice)."""
MOSTLY = 0.7
"""Share of the cells of a column that must be of a sort (design choice) [1]."""
COUNTED_FROM = 9
"""So many values that rise by one each are a running number (design choice)."""
WARM_F = 45.0
"""A column whose middle value is above this is in °F: a home is no warmer (common practice)."""
DAY_LIKE = re.compile(
    r"\d{1,4}[-./]\d{1,2}[-./]\d{1,4}|[A-Za-z]{3,9}\.?[ .-]+\d{1,2}(?:st|nd|rd|th)?[ ,.-]+\d{2,4}"
    r"|\d{1,2}(?:st|nd|rd|th)?[ .-]+[A-Za-z]{3,9}\.?[ ,.-]+\d{2,4}"
)
NUMBER = re.compile(r"[-+]?\d+(?:[.,]\d+)?\s*(?:°|º)?\s*(?:c|f|%|%\s*rh|rh)?", re.IGNORECASE)
MISSING = frozenset(
    {"", "-", "--", "---", "nan", "n/a", "na", "null", "none", "err", "error", "#"}
)
"""What loggers write where they have no value (common practice)."""
_NOT_MEASURED = (
    "batt",
    "volt",
    "vpd",
    "dew",
    "abs",
    "heat index",
    "rssi",
    "signal",
    "press",
    "lux",
)
_COUNTED = frozenset(
    {"no", "no.", "nr", "nr.", "#", "id", "index", "record", "count", "row", "sample"}
)
_HUMIDITY = ("hum", "rh", "r.h", "feucht", "%")
_TEMPERATURE = (
    "temp",
    "°c",
    "°f",
    "ºc",
    "ºf",
    "(c)",
    "(f)",
    "celsius",
    "fahrenheit",
    "probe",
    "ch",
)
_UVI = ("uvi", "uv index", "uv-index", "uv")
_POWER = ("power", "watt", "(w)", "[w]", "leistung")
_FAHRENHEIT = ("°f", "ºf", "(f)", "[f]", "fahrenheit", "_f", " f")
_CELSIUS = ("°c", "ºc", "(c)", "[c]", "celsius", "_c", " c")


class LoggerColumn(Document):
    """A column as it is understood."""

    head: str
    role: Role
    unit: Unit = ""
    examples: tuple[str, ...] = ()

    @property
    def quantity(self) -> Quantity | None:
        """What it measures; None for a time or what is left out."""
        return Quantity(self.role) if self.role in set(Quantity) else None


class LoggerLayout(Document):
    """How the lines of a file are read."""

    delimiter: str
    decimal: Literal[".", ","]
    first_line: int
    """Of the values, counted from 1."""
    columns: tuple[LoggerColumn, ...]
    order: Order | None = None
    """Of days with slashes or dashes; None where it is asked."""

    @property
    def signature(self) -> str:
        """The same for files of the same shape: by it a layout is remembered."""
        heads = "\x1f".join([self.delimiter, *(column.head for column in self.columns)])
        return hashlib.sha256(heads.encode()).hexdigest()


def decode(body: bytes) -> str:
    """Text of a file: UTF-8, UTF-16 by its mark, else as Windows writes Western text.

    Raises
    ------
    DocumentError
        For a file that is no text, such as a photo.
    """
    if body.startswith((codecs.BOM_UTF16_LE, codecs.BOM_UTF16_BE)):
        return body.decode("utf-16", errors="replace")
    if b"\x00" in body[:4096] or body.startswith(
        (b"\xff\xd8\xff", b"\x89PNG", b"PK\x03\x04", b"%PDF")
    ):
        reason = "it is no text: export it from the logger as CSV"
        raise DocumentError("This file cannot be read", [Problem("", reason)])

    try:
        return body.decode("utf-8-sig")
    except UnicodeDecodeError:
        return body.decode("cp1252", errors="replace")


def number_of(text: str) -> float | None:
    """A cell as a number, with either decimal mark and with its unit; None when it is none."""
    if NUMBER.fullmatch(text.strip()) is None:
        return None
    return float(re.sub(r"[^\d.,+-]", "", text).replace(",", "."))


def is_moment(text: str) -> bool:
    """Whether a cell holds a day and a time of day."""
    text = text.strip()
    if UNIX.fullmatch(text):
        return True
    day, clock, _ = split_moment(text)

    return bool(DAY_LIKE.fullmatch(day)) and clock_seconds(clock) is not None


def layout_of(text: str) -> LoggerLayout:
    """Tell how a file is laid out from its first lines.

    Raises
    ------
    DocumentError
        Where no line holds a time and a value.
    """
    lines = text.splitlines()[:LOOKED_AT]

    for delimiter in DELIMITERS:
        rows = list(csv.reader(lines, delimiter=delimiter))
        found = _layout(rows, delimiter)
        if found is not None:
            return found

    reason = "no line has a time such as 2026-11-25 14:30 and a value beside it"
    raise DocumentError("This file cannot be read", [Problem("", reason)])


def _layout(rows: Sequence[Sequence[str]], delimiter: str) -> LoggerLayout | None:
    """The layout under one delimiter; None where it makes no table."""
    dated = [n for n, row in enumerate(rows) if _has_time(row)]
    if not dated:
        return None
    width = Counter(len(rows[n]) for n in dated).most_common(1)[0][0]
    if not 2 <= width <= MOST_COLUMNS:
        return None
    first = next(n for n in dated if len(rows[n]) == width)
    values = [rows[n] for n in dated if len(rows[n]) == width]
    heads = _heads(rows[:first], width)
    cells = [[row[n].strip() for row in values] for n in range(width)]
    columns = tuple(_column(head, cell) for head, cell in zip(heads, cells, strict=True))
    columns = _one_time(columns)
    if not any(column.quantity for column in columns):
        return None
    numbers = [
        cell for column, own in zip(columns, cells, strict=True) if column.quantity for cell in own
    ]
    decimal: Literal[".", ","] = (
        "," if sum("," in one for one in numbers) > len(numbers) / 10 else "."
    )

    return LoggerLayout(
        delimiter=delimiter,
        decimal=decimal,
        first_line=first + 1,
        columns=columns,
        order=_order(columns, cells),
    )


def _has_time(row: Sequence[str]) -> bool:
    """Whether a row has a moment, or a day and a time of day, and a number beside it."""
    cells = [cell.strip() for cell in row]
    timed = any(is_moment(cell) for cell in cells)
    apart = any(DAY_LIKE.fullmatch(cell) for cell in cells) and any(
        clock_seconds(cell) is not None and ":" in cell for cell in cells
    )

    return (timed or apart) and any(number_of(cell) is not None for cell in cells)


def _heads(above: Sequence[Sequence[str]], width: int) -> list[str]:
    """Names of the columns: of the last line above the values that is as wide; numbered without."""
    named = next((row for row in reversed(above) if len(row) == width and any(row)), None)
    heads = [cell.strip()[:60] for cell in named] if named else [""] * width
    seen: Counter[str] = Counter()
    found = []
    for n, head in enumerate(heads, 1):
        seen[head] += 1
        found.append(head if head and seen[head] == 1 else f"{head} column {n}".strip())

    return found


def _column(head: str, cells: Sequence[str]) -> LoggerColumn:
    """One column, by what its cells are and what its head says."""
    known = [cell for cell in cells if cell.lower() not in MISSING]
    examples = tuple(cell[:30] for cell in known[:3])

    def share(test: object) -> float:
        if not callable(test) or not known:
            return 0.0
        return sum(bool(test(cell)) for cell in known) / len(known)

    if share(is_moment) >= MOSTLY and not _is_small_integer(known):
        return LoggerColumn(head=head, role="moment", examples=examples)
    if share(DAY_LIKE.fullmatch) >= MOSTLY:
        return LoggerColumn(head=head, role="day", examples=examples)
    if share(lambda cell: ":" in cell and clock_seconds(cell) is not None) >= MOSTLY:
        return LoggerColumn(head=head, role="clock", examples=examples)
    if share(lambda cell: number_of(cell) is not None) < MOSTLY:
        return LoggerColumn(head=head, role="left out", examples=examples)
    values = [value for cell in known if (value := number_of(cell)) is not None]
    role = _measured(head, known, values)
    unit = _unit(head, known, values) if role == "temperature" else ""

    return LoggerColumn(head=head, role=role, unit=unit, examples=examples)


def _is_small_integer(cells: Sequence[str]) -> bool:
    """A running number is no moment."""
    return all(cell.isdigit() and len(cell) < 10 for cell in cells)


def _measured(head: str, cells: Sequence[str], values: Sequence[float]) -> Role:
    """What a column of numbers measures."""
    said = f"{head} {cells[0]}".lower()
    steps = {b - a for a, b in itertools.pairwise(values)}
    is_count = head.lower() in _COUNTED or (len(values) > COUNTED_FROM and steps == {1.0})
    if is_count or any(word in said for word in _NOT_MEASURED):
        return "left out"
    if any(word in said for word in _UVI):
        return "uvi"
    if any(word in said for word in _HUMIDITY):
        return "humidity"
    if any(word in said for word in _POWER):
        return "power"
    if any(word in said for word in _TEMPERATURE) or -10 <= median(values) <= 110:
        return "temperature"
    return "left out"


def _unit(head: str, cells: Sequence[str], values: Sequence[float]) -> Unit:
    """Of a temperature: as it is said, else by how warm it would be."""
    said = f"{head} ".lower().replace("temperature", "").strip()
    cell = cells[0].lower()
    if any(word in said for word in _FAHRENHEIT) or cell.endswith("f"):
        return "F"
    if any(word in said for word in _CELSIUS) or cell.endswith("c"):
        return "C"
    return "F" if median(values) > WARM_F else "C"


def _one_time(columns: tuple[LoggerColumn, ...]) -> tuple[LoggerColumn, ...]:
    """Keep the first time of each row: loggers write when they sent a line, too."""
    seen: set[Role] = set()
    found = []

    for column in columns:
        is_time = column.role in {"moment", "day", "clock"}
        spare = column.role in seen or (column.role != "moment" and "moment" in seen)
        if is_time and spare:
            column = column.model_copy(update={"role": "left out"})
        if is_time:
            seen.add(column.role)
        found.append(column)

    return tuple(found)


def _order(columns: Sequence[LoggerColumn], cells: Sequence[Sequence[str]]) -> Order | None:
    """In which order day and month stand; None where both could be."""
    n = next((n for n, one in enumerate(columns) if one.role in {"moment", "day"}), None)
    if n is None:
        return "day first"
    days = list(
        dict.fromkeys(split_moment(cell)[0] for cell in cells[n] if not UNIX.fullmatch(cell))
    )
    if not any(is_ambiguous(day) for day in days):
        return order_of(days) or "day first"
    return order_of(days) or _by_steps(days)


def _by_steps(days: Sequence[str]) -> Order | None:
    """Under which order the days follow one another: 1/2, 2/2, 3/2 are three days or three months."""
    parts = [re.split(r"[./-]", day)[:2] for day in days]
    firsts = {one[0] for one in parts}
    seconds = {one[1] for one in parts}
    if len(parts) >= 3 and len(firsts) >= 3 and len(seconds) == 1:
        return "day first"
    if len(parts) >= 3 and len(seconds) >= 3 and len(firsts) == 1:
        return "month first"
    return None
