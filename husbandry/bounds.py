"""What a recorded value can be at all: one definition for forms, imports and the database.

What lies outside is refused everywhere. What is possible and unlikely is asked about instead
(`quantity.question`, `growth.questioning`). The ranges of readings and rooms stand with the
questions about them, in `quantity.PLAUSIBLE`.
"""

import datetime as dt

MASS_G = (0.01, 500_000.0)
"""An animal: from less than the lightest newborn of any profile (common practice) [g]."""
LENGTH_MM = (3.0, 15_000.0)
"""A body's length: beyond both ends of any reptile or amphibian (common practice) [mm]."""
OLDEST_YEARS = 200
"""No kept animal was born longer ago (from memory: Guinness World Records, giant tortoise, ~190)."""
FIRST_DAY = dt.date(1990, 1, 1)
"""Nothing was recorded before this day (design choice)."""
LAST_YEAR = 2100
"""No moment of a request lies beyond it: calendars and time zones still work (design choice)."""
CLOCK_SLACK = dt.timedelta(days=1)
"""By which a day may be ahead of "today": other time zones are (from memory: UTC+14 to UTC-12)."""
ITEM_SIDE_M = (0.001, 5.0)
"""A side of what stands in an enclosure: thinner is a film, not an item (design choice) [m]."""
OFFSET = 20.0
"""An instrument that is off by more should not be used (common practice) [the reading's unit]."""
REVISION = (1, 1_000_000)
"""Numbers of revisions (design choice)."""


def item_side(value: float) -> float:
    """Refuse a side that no item has [m].

    Raises
    ------
    ValueError
        With the range, in units that a person can picture.
    """
    low, high = ITEM_SIDE_M
    if not low <= value <= high:
        raise ValueError(f"it must be from {low * 1000:g} mm to {high:g} m")
    return value


def recorded_moment(value: dt.datetime) -> dt.datetime:
    """Refuse a moment that no record or plan can have.

    Raises
    ------
    ValueError
        With the range of years that is accepted.
    """
    if not FIRST_DAY.year <= value.year < LAST_YEAR:
        raise ValueError(f"the year must lie from {FIRST_DAY.year} to {LAST_YEAR - 1}")
    return value


def day_problem(day: dt.date, today: dt.date, *, first: dt.date = FIRST_DAY) -> str:
    """Say why a recorded day cannot be; nothing when it can.

    Parameters
    ----------
    today : date
        In the room of the animal, or of the request.
    first : date
        The earliest day that is possible.
    """
    if day > today + CLOCK_SLACK:
        return f"{day.isoformat()} is still to come"
    if day < first:
        return f"{day.isoformat()} is too long ago: the earliest day is {first.isoformat()}"
    return ""


def birth_problem(born_on: dt.date, today: dt.date) -> str:
    """Say why an animal cannot have been born on a day; nothing when it can."""
    return day_problem(born_on, today, first=earliest_birth(today))


def earliest_birth(today: dt.date) -> dt.date:
    """The earliest day on which a living animal can have been born."""
    return today - dt.timedelta(days=round(365.25 * OLDEST_YEARS))
