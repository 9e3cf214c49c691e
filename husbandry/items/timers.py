"""Times of the day at which something goes on and off."""

from typing import Annotated

from pydantic import Field

ClockTime = Annotated[str, Field(pattern=r"^([01]\d|2[0-3]):[0-5]\d$")]
"""A time of the day such as 07:30."""


def hour_of(clock: ClockTime) -> float:
    """Convert a time of the day such as 07:30 to its hour [h]."""
    return int(clock[:2]) + int(clock[3:]) / 60


def runs_at(on: ClockTime, off: ClockTime, hour: float) -> bool:
    """Whether what goes on and off at those times is on at that hour, over midnight too."""
    begin = hour_of(on)
    end = hour_of(off)
    return begin <= hour < end if begin <= end else hour >= begin or hour < end
