"""Days as people write them: “2021-05-03”, “3.5.2021”, “05/03/21”, “May 2021”, “2021”.

Method: docs/methods/intake.md.
"""

import datetime as dt
import re
from collections.abc import Iterable
from typing import Literal

from husbandry.errors import EntryError

Order = Literal["day first", "month first"]
MONTH_DAY, YEAR_MONTH_DAY = 15, (7, 1)
"""Where only a month or a year is known, its middle is taken (design choice) [day, (month, day)]."""
_ISO = re.compile(r"(\d{4})[-./](\d{1,2})[-./](\d{1,2})(?:[T ].*)?")
_NUMBERS = re.compile(r"(\d{1,2})([./-])(\d{1,2})\2(\d{4}|\d{2})(?: .*)?")
_MONTH_YEAR = re.compile(r"(\d{1,2})[./-](\d{4})")
_YEAR_MONTH = re.compile(r"(\d{4})[./-](\d{1,2})")
_YEAR = re.compile(r"(?:c\.?|ca\.?|about|around)?\s*(\d{4})")
_MONTHS = (
    "january",
    "february",
    "march",
    "april",
    "may",
    "june",
    "july",
    "august",
    "september",
    "october",
    "november",
    "december",
)
_DAY_NAMED = re.compile(r"(\d{1,2})(?:st|nd|rd|th)?[ .-]+([a-z]+)\.?[ ,.-]+(\d{4}|\d{2})")
_NAMED_DAY = re.compile(r"([a-z]+)\.?[ -]+(\d{1,2})(?:st|nd|rd|th)?[ ,.-]+(\d{4}|\d{2})")
_NAMED_MONTH = re.compile(r"([a-z]+)\.?[ ,.-]+(\d{4}|\d{2})")


def order_of(texts: Iterable[str]) -> Order | None:
    """In which order a column of days is written; None where no day tells, or some contradict."""
    firsts = False
    seconds = False
    for text in texts:
        match = _NUMBERS.fullmatch(text.strip())
        if match is None or match[2] == ".":
            continue
        firsts = firsts or int(match[1]) > 12
        seconds = seconds or int(match[3]) > 12
    if firsts == seconds:
        return None
    return "day first" if firsts else "month first"


def is_ambiguous(text: str) -> bool:
    """Whether two orders give two days."""
    match = _NUMBERS.fullmatch(text.strip())
    if match is None or match[2] == ".":
        return False
    first = int(match[1])
    second = int(match[3])
    return first != second and first <= 12 and second <= 12


def read_day(text: str, today: dt.date, order: Order = "day first") -> dt.date:
    """Read a day; of a month or a year alone its middle.

    Parameters
    ----------
    today : date
        Years of two digits lie in the hundred years before it.
    order : str
        Of days written with slashes or dashes; with points the day comes first.

    Raises
    ------
    EntryError
        With a sentence that says how to write it.
    """
    said = " ".join(text.strip().lower().split())
    parts = _parts(said, today, order)
    if parts is None:
        raise EntryError(f"“{text.strip()}” cannot be read as a day: write 2021-05-03.")
    try:
        return dt.date(*parts)
    except ValueError:
        raise EntryError(f"There is no day “{text.strip()}”.") from None


def _parts(said: str, today: dt.date, order: Order) -> tuple[int, int, int] | None:
    if match := _ISO.fullmatch(said):
        return int(match[1]), int(match[2]), int(match[3])
    if match := _NUMBERS.fullmatch(said):
        first = int(match[1])
        second = int(match[3])
        is_day_first = match[2] == "." or order == "day first"
        day, month = (first, second) if is_day_first else (second, first)
        return _year(match[4], today), month, day
    if match := _MONTH_YEAR.fullmatch(said):
        return int(match[2]), int(match[1]), MONTH_DAY
    if match := _YEAR_MONTH.fullmatch(said):
        return int(match[1]), int(match[2]), MONTH_DAY
    if match := _YEAR.fullmatch(said):
        return (int(match[1]), *YEAR_MONTH_DAY)
    return _named(said, today)


def _named(said: str, today: dt.date) -> tuple[int, int, int] | None:
    """A day whose month is a word."""
    if match := _DAY_NAMED.fullmatch(said):
        day = int(match[1])
        word = match[2]
        year = match[3]
    elif match := _NAMED_DAY.fullmatch(said):
        day = int(match[2])
        word = match[1]
        year = match[3]
    elif match := _NAMED_MONTH.fullmatch(said):
        day = MONTH_DAY
        word = match[1]
        year = match[2]
    else:
        return None
    months = [n for n, name in enumerate(_MONTHS, 1) if len(word) > 2 and name.startswith(word)]
    return (_year(year, today), months[0], day) if months else None


def _year(text: str, today: dt.date) -> int:
    """Of two digits: the last such year that is not to come."""
    if len(text) == 4:
        return int(text)
    century = today.year // 100 * 100
    year = century + int(text)
    return year if year <= today.year else year - 100
