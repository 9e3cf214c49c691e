"""Times as loggers write them: text to a local second, and local seconds to the world's clock.

A million lines are read in seconds because each day and each time of day is understood once.
"""

import datetime as dt
import re
from typing import Literal
from zoneinfo import ZoneInfo

import numpy as np
from numpy.typing import NDArray

from husbandry.errors import EntryError
from husbandry.intake.dates import Order, read_day

Clock = Literal["room", "standard", "utc"]
"""Whose time a logger writes: the room's, with its changes in spring and autumn; the room's standard
time all year; or UTC."""
EPOCH = dt.date(1970, 1, 1).toordinal()
DAY_S = 86_400
"""Of a day (definition) [s]."""
HOUR_S = 3_600
"""Of an hour (definition) [s]."""
UNIX = re.compile(r"1\d{9}(?:\d{3})?(?:\.\d+)?")
"""Seconds or milliseconds since 1970, from 2001 to 2033."""
_CLOCK = re.compile(
    r"(\d{1,2})[:.](\d{2})(?:[:.](\d{2})(?:[.,]\d+)?)?\s*([ap])?\.?m?\.?", re.IGNORECASE
)
_ZONED = re.compile(r"(.*?)\s*(z|utc|gmt|[+-]\d{2}:?\d{2})", re.IGNORECASE)
_SPLIT = re.compile(r"(?<=[\d.,])[T,\s]\s*(?=\d{1,2}[:.]\d{2})")
SLOW_S = 1800
"""A logger that writes a line so seldom writes the repeated hour's time twice (design choice) [s]."""
PLAIN_LENGTHS = (16, 19)
"""Letters of “2026-11-25 14:30” and “2026-11-25 14:30:00” (definition)."""
Seconds = NDArray[np.int64]


def clock_seconds(text: str) -> int | None:
    """Seconds of a time of day such as “14:05”, “2:05:30 PM”; None when it is none [s]."""
    match = _CLOCK.fullmatch(text.strip())
    if match is None:
        return None
    hour, minute, second = int(match[1]), int(match[2]), int(match[3] or 0)

    if match[4]:
        if not 1 <= hour <= 12:
            return None
        hour = hour % 12 + (12 if match[4].lower() == "p" else 0)

    if hour > 23 or minute > 59 or second > 59:
        return None
    return hour * 3600 + minute * 60 + second


def split_moment(text: str) -> tuple[str, str, str]:
    """Cut a moment into day, time of day and zone; empty parts where it has none."""
    zone = ""
    if match := _ZONED.fullmatch(text.strip()):
        text, zone = match[1], match[2]
    parts = _SPLIT.split(text.strip(), maxsplit=1)

    return (parts[0], parts[1], zone) if len(parts) == 2 else (text.strip(), "", zone)


def zone_seconds(zone: str) -> int:
    """Seconds that a written zone such as “+02:00” lies before UTC's clock [s]."""
    digits = zone.replace(":", "")
    if not digits or digits[0] not in "+-":
        return 0
    seconds = int(digits[1:3]) * 3600 + int(digits[3:5]) * 60

    return seconds if digits[0] == "+" else -seconds


class MomentReader:
    """Reads the moments of one file.

    Parameters
    ----------
    order : str
        Of days written with slashes or dashes.
    today : date
        Years of two digits lie in the hundred years before it.
    """

    def __init__(self, order: Order, today: dt.date) -> None:
        self.order = order
        self.today = today
        self._days: dict[str, int | None] = {}
        self._clocks: dict[str, int | None] = {}

    def day(self, text: str) -> int | None:
        """Days since 1970; None when it is no day."""
        if text not in self._days:
            try:
                on = read_day(text, self.today, self.order)
                self._days[text] = on.toordinal() - EPOCH if re.search(r"\d", text) else None
            except EntryError:
                self._days[text] = None
        return self._days[text]

    def clock(self, text: str) -> int | None:
        """Seconds of a time of day; None when it is none [s]."""
        if text not in self._clocks:
            self._clocks[text] = clock_seconds(text)
        return self._clocks[text]

    def seconds(self, day: str, clock: str) -> int | None:
        """Local seconds since 1970 of a day and a time of day; None when either is none [s]."""
        whole = self.day(day)
        within = self.clock(clock)
        return None if whole is None or within is None else whole * DAY_S + within

    def moment(self, text: str) -> tuple[int, bool] | None:
        """Seconds of a moment in one cell, and whether they are UTC already; None when it is none."""
        if len(text) in PLAIN_LENGTHS and text[10] in " T":  # as most loggers write: the fast way
            plain = self.seconds(text[:10], text[11:])
            if plain is not None:
                return plain, False

        if UNIX.fullmatch(text):
            value = float(text)
            return int(value / 1000 if value > 1e11 else value), True
        day, clock, zone = split_moment(text)
        local = self.seconds(day, clock)
        if local is None:
            return None
        return (local - zone_seconds(zone), True) if zone else (local, False)


def to_utc(local: Seconds, zone: str, clock: Clock) -> Seconds:
    """Seconds since 1970 in UTC of local seconds, in the order in which they were written.

    In autumn an hour comes twice: its second run is known by the clock going back. A logger whose
    file has that hour once is taken to have written its first run.

    Parameters
    ----------
    zone : str
        Of the room, by its IANA name.
    """

    if clock == "utc" or not len(local):
        return local
    name = ZoneInfo(zone)
    quarters, place = np.unique(local // 900, return_inverse=True)
    first = np.array([_offset(int(q) * 900, name, 0, clock) for q in quarters], dtype=np.int64)
    second = np.array([_offset(int(q) * 900, name, 1, clock) for q in quarters], dtype=np.int64)
    early, late = local - first[place], local - second[place]

    if clock == "standard" or np.array_equal(first, second):
        return early

    return np.where(_second_run(local, (first != second)[place] & (late > early)), late, early)


def has_skipped(local: Seconds, at: Seconds, zone: str) -> bool:
    """Whether some local seconds were left out by the room's clock in spring.

    Parameters
    ----------
    at : array
        The same in UTC, by `to_utc`.
    """
    return not np.array_equal(at + local_offsets(at, zone), local)


def local_offsets(at_s: Seconds, zone: str) -> Seconds:
    """How far the room's clock is before UTC at some seconds since 1970 [s]."""
    name = ZoneInfo(zone)
    days, place = np.unique(at_s // 86_400, return_inverse=True)
    begins = [_offset_s(int(day) * 86_400, name) for day in days]
    ends = [_offset_s(int(day) * 86_400 + 86_399, name) for day in days]
    found = np.array(begins, dtype=np.int64)[place] if len(at_s) else np.zeros(0, dtype=np.int64)
    for n in np.flatnonzero(np.array(begins) != np.array(ends)):  # the clock changes on this day
        own = np.flatnonzero(place == n)
        found[own] = [_offset_s(int(second), name) for second in at_s[own]]

    return found


def _offset_s(second: int, name: ZoneInfo) -> int:
    offset = dt.datetime.fromtimestamp(second, name).utcoffset()
    return 0 if offset is None else int(offset.total_seconds())


def _offset(local_s: int, zone: ZoneInfo, fold: int, clock: Clock) -> int:
    """How far the room's clock is before UTC at a local second [s]."""
    naive = dt.datetime.fromtimestamp(local_s, dt.UTC).replace(tzinfo=None)
    at = naive.replace(tzinfo=zone, fold=fold)
    offset, saved = at.utcoffset(), at.dst()
    if offset is None:
        return 0
    if clock == "standard" and saved is not None:
        offset -= saved
    return int(offset.total_seconds())


def _second_run(local: Seconds, twice: NDArray[np.bool_]) -> NDArray[np.bool_]:
    """Which lines of an hour that comes twice are of its second run: those from the line on at which
    the clock went back within it, until it is left.
    """
    step = float(np.median(np.abs(np.diff(local)))) if len(local) > 1 else 0.0
    least = 0 if step >= SLOW_S else 1  # a line an hour repeats the hour's time, and goes not back
    found = np.zeros(len(local), dtype=bool)
    late = False

    for n in np.flatnonzero(twice):
        if n == 0 or not twice[n - 1]:
            late = bool(n) and 0 < local[n - 1] - local[n] <= 7200
        elif local[n - 1] - local[n] >= least:
            late = True

        found[n] = late

    return found
