"""The year in warmth and appetite: what of its target ranges a month asks for, and the dark weeks
in which a grown animal of the temperate zone eats less.

Method: docs/methods/seasons.md.
"""

import datetime as dt
import math
from typing import NamedTuple

from husbandry.species.needs import NeedKey
from husbandry.species.profile import Profile
from husbandry.species.selection import speaking

LEAN_DAYS = 35
"""Before and after the winter solstice a grown animal whose kind knows a winter is fed less often
(common practice: appetite falls in winter) [days].
"""
LEAN_FACTOR = 1.25
"""Its interval then, over the usual (design choice, as one step of condition) [1]."""
NEEDS_SHOWN = (NeedKey.SURFACE_DAY, NeedKey.WARM_AIR_DAY, NeedKey.WATER_DAY, NeedKey.AIR_NIGHT)
INNER = (0.2, 0.8)
"""Of a target range: winter and summer keep off its ends, where instruments err (design choice)
[1].
"""


def solstice(day: dt.date, lat_deg: float) -> dt.date:
    """The winter solstice nearest to a day, of the hemisphere of a latitude; to a day or two."""
    month = 12 if lat_deg >= 0 else 6
    return min(
        (dt.date(year, month, 21) for year in (day.year - 1, day.year, day.year + 1)),
        key=lambda turn: abs((turn - day).days),
    )


def summer_share(day: dt.date, lat_deg: float) -> float:
    """0 at the winter solstice, 1 at the summer's, as a cosine [1]."""
    since = (day - solstice(day, lat_deg)).days / 365.2425
    return (1 - math.cos(2 * math.pi * since)) / 2


def lean(profile: Profile, stage: str, day: dt.date, lat_deg: float) -> bool:
    """Whether it is a grown animal's lean time of the year: of kinds that may rest in winter,
    whether or not this one does.
    """
    if profile.season.dormancy == "none" or stage != profile.grown.slug:
        return False
    return abs((day - solstice(day, lat_deg)).days) <= LEAN_DAYS


class MonthlyNeed(NamedTuple):
    """What a month asks for, of one need."""

    need: NeedKey
    months: tuple[float, ...]
    """January to December [°C]."""


def warmth_by_month(
    profile: Profile, stage: str, year: int, lat_deg: float, approaches: dict[str, str]
) -> tuple[MonthlyNeed, ...]:
    """Day and night through the year inside the target ranges of a stage: cooler in winter for
    kinds that know one, the middle always for the others.
    """
    found = []
    needs = {need.need: need for need in speaking(profile.needs, stage, approaches)}
    for key in NEEDS_SHOWN:
        need = needs.get(key)
        if need is None or need.low is None or need.high is None:
            continue
        months = []
        for month in range(1, 13):
            share = (
                summer_share(dt.date(year, month, 15), lat_deg)
                if profile.season.dormancy != "none"
                else 0.5
            )
            months.append(
                need.low + (INNER[0] + share * (INNER[1] - INNER[0])) * (need.high - need.low)
            )
        found.append(MonthlyNeed(key, tuple(months)))
    return tuple(found)
