"""How long its light is through the year: by its own rhythm, by the place it lives in, or the same
always; and when its timers go on and off.

Method: docs/methods/seasons.md.
"""

import datetime as dt
import zoneinfo
from typing import Literal, NamedTuple

from husbandry.climate.daylight import day_length
from husbandry.enclosure.equipment import UV_LAMPS
from husbandry.seasons.summer_and_winter import summer_share
from husbandry.species.profile import Profile

Way = Literal["own", "place", "same"]
SAME_H = 12.0
"""A day as long as its night, for keepers who keep one length all year (source: uv 9) [h]."""
NOON_H = 13.0
"""The middle of the lit day on the wall clock (design choice: people are up) [h]."""
HEAT_LATER_H = 0.5
"""Heat comes on so long after the light and goes so long before it (common practice: dawn and dusk
are cool) [h].
"""


class Timer(NamedTuple):
    """A lamp's times."""

    on: str
    off: str


class Timers(NamedTuple):
    """Of a day."""

    hours: float
    light: Timer
    heat: Timer


BY_LIGHT = frozenset({*(kind for kind in UV_LAMPS if kind != "uv_flood"), "led_bar"})
BY_HEAT = frozenset({"halogen_flood", "halogen_spot", "incandescent_reflector"})
"""Kinds of lamp by the timer they go by; heat without light is a thermostat's, day and night
(common practice).
"""


def lit_hours(profile: Profile, way: Way, day: dt.date, lat_deg: float) -> float:
    """Hours of light on a day [h].

    own: from the shortest to the longest day of its species, on the solstices of the hemisphere it
    lives in. place: from sunrise to sunset there, within
    its species’ days. same: twelve hours, within its species’ days.
    """
    low, high = profile.photoperiod_h.span.ends
    if way == "same":
        return min(max(SAME_H, low), high)
    if way == "place":
        return min(max(day_length(lat_deg, day.isoformat()), low), high)
    share = summer_share(day, lat_deg)
    return low + share * (high - low)


def _clock(hour: float) -> str:
    minutes = round(60 * hour) % 1440
    minutes = 5 * round(minutes / 5) % 1440
    return f"{minutes // 60:02d}:{minutes % 60:02d}"


def timers(hours: float) -> Timers:
    """When light and heat go on and off for a day of so many hours, about the middle of a waking
    day, to five minutes.
    """
    half = hours / 2
    light = Timer(_clock(NOON_H - half), _clock(NOON_H + half))
    heat = max(half - HEAT_LATER_H, 0.0)
    return Timers(hours, light, Timer(_clock(NOON_H - heat), _clock(NOON_H + heat)))


def clock_changes(zone: str, year: int) -> tuple[tuple[dt.date, float], ...]:
    """Days on which a zone's clocks are moved, and by how many hours: timers that do not know it
    are set by hand.
    """
    known = zoneinfo.ZoneInfo(zone)
    found = []
    day = dt.datetime(year, 1, 1, 12, tzinfo=known)
    before = day.utcoffset()
    for n in range(1, 366 + (year % 4 == 0)):
        offset = (day + dt.timedelta(days=n)).utcoffset()
        if offset is not None and before is not None and offset != before:
            found.append(
                ((day + dt.timedelta(days=n)).date(), (offset - before).total_seconds() / 3600)
            )
        before = offset
    return tuple(found)
