"""When ultraviolet falls on an animal: all day with the other lamps, or in sessions; for how long it
lies in range, and how much of it there is in a day.

Method: docs/methods/uv.md.
"""

from collections.abc import Callable, Sequence
from typing import NamedTuple

from husbandry.documents.request import Request
from husbandry.items.union import Item

DAY_HOUR, NIGHT_HOUR = 13.0, 3.0
"""Hours that stand for day and night when timers are asked: lamps have long been on, and long been
off (design choice).
"""
USUAL_DAY = ("08:00", "20:00")
"""Where no lamp says (common practice)."""
STEP_MIN = 5
"""Sessions are told apart to so many minutes (design choice) [min]."""
STEPS_AN_HOUR = 60 // STEP_MIN
HOURS = tuple((n + 0.5) / STEPS_AN_HOUR for n in range(24 * STEPS_AN_HOUR))
"""The middles of the steps of a day [h]."""


class UvDay(NamedTuple):
    """What a day of ultraviolet comes to for an animal that lies in the basking place throughout."""

    lit_h: float
    """In which any lamp gives ultraviolet [h]."""
    in_range_h: float
    """In which the index there is in its range [h]."""
    dose_uvi_h: float
    """The index over the hours [UV index · h]; one is 90 J/m² of erythemal dose."""


def lit_at(lamps: Sequence[Item], hour: float) -> list[Item]:
    """Those of several items whose timers have them on at an hour."""
    return [item for item in lamps if item.lit_at(hour)]


def day_times(request: Request) -> tuple[str, str]:
    """When the lamps of its day go on and off, those for ultraviolet alone asked last; else twelve hours."""
    lamps = [item for item in request.items if item.timer and item.lit_at(DAY_HOUR)]
    lamp = next((item for item in lamps if not item.is_uv), lamps[0] if lamps else None)
    return (lamp.timer if lamp is not None else None) or USUAL_DAY


def exposure_hour(request: Request) -> float:
    """The hour at which ultraviolet is judged [h].

    Midday where as many lamps for it burn then as ever; else the first hour at which the most do: in
    the session of a lamp that burns by sessions.
    """
    lamps = [item for item in request.items if item.is_uv]
    most = len(lit_at(lamps, DAY_HOUR))
    if most == len(lamps):
        return DAY_HOUR

    found = DAY_HOUR
    through = zip(*(item.lit_through(HOURS) for item in lamps), strict=True)
    for hour, on in zip(HOURS, through, strict=True):
        if sum(on) > most:
            most, found = sum(on), hour

    return found


def uv_lit(request: Request) -> list[Item]:
    """The lamps that give ultraviolet when it is judged."""
    lamps = [item for item in request.items if item.is_uv]
    return lit_at(lamps, exposure_hour(request))


def uv_day(
    request: Request, index_of: Callable[[frozenset[str]], float], low: float, high: float
) -> UvDay:
    """Add up a day of ultraviolet.

    Parameters
    ----------
    index_of : callable
        The index in the basking place with the lamps of these ids on [UV index].
    low, high : float
        The range wanted there [UV index].
    """
    lamps = [item for item in request.items if item.is_uv]
    known: dict[frozenset[str], float] = {}
    lit = within = dose = 0.0

    for burning in zip(*(item.lit_through(HOURS) for item in lamps), strict=True):
        on = frozenset(item.id for item, is_on in zip(lamps, burning, strict=True) if is_on)
        if not on:
            continue
        if on not in known:
            known[on] = index_of(on)
        lit += 1 / STEPS_AN_HOUR
        within += (low <= known[on] <= high) / STEPS_AN_HOUR
        dose += known[on] / STEPS_AN_HOUR

    return UvDay(round(lit, 6), round(within, 6), dose)
