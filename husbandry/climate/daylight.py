"""The length of the day."""

import datetime as dt
import math
from typing import NamedTuple

from husbandry.derivation import Source
from husbandry.methods import Argument, Example, method

_J2000 = dt.date(2000, 1, 1)


class SunOfDay(NamedTuple):
    """Where the sun stands among the stars on a day."""

    declination_rad: float
    """North of the equator."""
    ahead_h: float
    """By how much a sundial is ahead of a clock that keeps the mean sun (equation of time) [h]."""


def sun_of(day: dt.date) -> SunOfDay:
    """Find the sun's place by the Almanac's low-precision formula."""
    days = (day - _J2000).days
    mean_longitude = math.radians((280.460 + 0.9856474 * days) % 360)
    anomaly = math.radians((357.528 + 0.9856003 * days) % 360)
    longitude = mean_longitude + math.radians(
        1.915 * math.sin(anomaly) + 0.020 * math.sin(2 * anomaly)
    )
    obliquity = math.radians(23.439 - 4e-7 * days)
    ascension = math.atan2(math.cos(obliquity) * math.sin(longitude), math.cos(longitude))
    ahead = (mean_longitude - ascension + math.pi) % (2 * math.pi) - math.pi

    return SunOfDay(math.asin(math.sin(obliquity) * math.sin(longitude)), ahead * 12 / math.pi)


@method(
    arguments={"lat_deg": Argument("°", -90, 90), "date": Argument("date YYYY-MM-DD")},
    unit="h",
    rule=(
        "Sun's declination by the Almanac's low-precision formula; sunrise and sunset at 0.833°"
        " below the horizon."
    ),
    source=Source(
        kind="from memory",
        text=(
            "Astronomical Almanac, low-precision solar coordinates; within 0.4 min of the pvlib SPA"
        ),
    ),
    example=Example(
        {"lat_deg": 45, "date": "2026-08-15"},
        845.0 / 60,
        1.0 / 845,
        "pvlib, solar position algorithm",
    ),
)
def day_length(lat_deg: float, date: str) -> float:
    """Hours from sunrise to sunset at a latitude on a date [h]; 0 in polar night, 24 in polar day."""
    declination = sun_of(dt.date.fromisoformat(date)).declination_rad
    latitude = math.radians(lat_deg)
    below_horizon = math.sin(math.radians(0.8333))
    cos_hour = (-below_horizon - math.sin(latitude) * math.sin(declination)) / max(
        math.cos(latitude) * math.cos(declination), 1e-12
    )
    return 24 / math.pi * math.acos(min(1.0, max(-1.0, cos_hour)))
