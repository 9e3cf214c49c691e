"""Times of the day at which something goes on and off."""

import functools
import re
from collections.abc import Iterable
from typing import Annotated

from pydantic import Field

from husbandry.memory import remembered

MINUTES_A_DAY = 1440
"""Of a day (definition) [min]."""
WINDOWS_REMEMBERED = 256
"""Days of timers that are kept (design choice: an enclosure has a dozen)."""
CLOCK = r"([01]\d|2[0-3]):[0-5]\d"
ClockTime = Annotated[str, Field(pattern=f"^{CLOCK}$")]
"""A time of the day such as 07:30."""
ClockSpan = Annotated[str, Field(pattern=f"^{CLOCK}-{CLOCK}$")]
"""From a time of the day to another such as 17:00-18:00, over midnight too."""
_TYPED = re.compile(r"(\d{1,2}):(\d\d)\s*(?:-|–|—|to)\s*(\d{1,2}):(\d\d)")


@functools.lru_cache(maxsize=MINUTES_A_DAY)
def hour_of(clock: ClockTime) -> float:
    """Convert a time of the day such as 07:30 to its hour [h]."""
    return int(clock[:2]) + int(clock[3:]) / 60


def clock_of(hour: float) -> ClockTime:
    """Convert an hour to a time of the day, to whole minutes and within one day."""
    minutes = round(hour * 60) % MINUTES_A_DAY
    return f"{minutes // 60:02d}:{minutes % 60:02d}"


def ends_of(span: ClockSpan) -> tuple[ClockTime, ClockTime]:
    """When a span begins and ends."""
    return span[:5], span[6:]


def runs_at(on: ClockTime, off: ClockTime, hour: float) -> bool:
    """Whether what goes on and off at those times is on at that hour, over midnight too."""
    begin = hour_of(on)
    end = hour_of(off)
    return begin <= hour < end if begin <= end else hour >= begin or hour < end


@remembered(WINDOWS_REMEMBERED)
def open_through(
    windows: tuple[tuple[ClockTime, ClockTime], ...], hours: tuple[float, ...]
) -> tuple[bool, ...]:
    """Whether any of several windows is open, at each of some hours of the day."""
    return tuple(any(runs_at(on, off, hour) for on, off in windows) for hour in hours)


def hours_of(windows: Iterable[tuple[ClockTime, ClockTime]]) -> float:
    """For how long of a day at least one of several windows is open [h]."""
    spans = list(windows)
    if len(spans) == 1:
        begin, end = (hour_of(one) for one in spans[0])
        return end - begin if begin <= end else end - begin + 24
    lit = sum(
        any(runs_at(on, off, minute / 60) for on, off in spans) for minute in range(MINUTES_A_DAY)
    )
    return lit / 60


def read_spans(typed: str) -> tuple[ClockSpan, ...]:
    """Read spans as people write them.

    >>> read_spans("7:30–8:00, 17:00 to 18:00")
    ('07:30-08:00', '17:00-18:00')

    Raises
    ------
    ValueError
        With a sentence, for what is no list of spans.
    """
    found = []
    for part in filter(None, (one.strip() for one in re.split(r"[,;\n]", typed))):
        match = _TYPED.fullmatch(part)
        hours = [int(one) for one in match.groups()] if match else []
        if not match or max(hours[0], hours[2]) > 23 or max(hours[1], hours[3]) > 59:
            raise ValueError(f"“{part}” is no span of a day; write it as 17:00–18:00")
        begin, end = (f"{hours[n]:02d}:{hours[n + 1]:02d}" for n in (0, 2))
        if begin == end:
            raise ValueError(f"“{part}” ends as it begins")
        found.append(f"{begin}-{end}")

    return tuple(found)
