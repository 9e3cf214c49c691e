"""A pen's plan: when its animals can be out on a day and through the year, and what is wrong with it.

Method: docs/methods/outdoors.md.
"""

import datetime as dt
import math
import zoneinfo
from collections.abc import Iterable, Sequence

from husbandry.climate.outdoor_ground import STEPS
from husbandry.climate.sun import solar_elevation, solar_hour
from husbandry.derivation import Document
from husbandry.documents.room import Place
from husbandry.forecast.outdoor_day import (
    LEAST_OUT_H,
    SUNS_DEG,
    OutdoorAir,
    OutdoorDay,
    PenSpan,
    Weather,
    outdoor_day,
)
from husbandry.pens.findings import PenFinding, findings
from husbandry.pens.pen import PenAnimal, PenDay, PenSpec

HEAT_WAVE_K, HOTTEST_C = 8.0, 50.0
"""A heat wave over the usual day of the warmest month (common practice, no source), and the hottest that is
judged [K, °C]."""
MIDSUMMER = {"north": (6, 21), "south": (12, 21)}
"""Month and day on which the sun is highest (by definition the solstices)."""
MONTH_DAY = 15
"""The day that stands for its month (design choice)."""


class PenClimate(Document):
    """What is usual at a place: of its warmest and its coldest month, each day's and night's."""

    warm_max_c: OutdoorAir = 25.0
    warm_min_c: OutdoorAir = 14.0
    cold_max_c: OutdoorAir = 3.0
    cold_min_c: OutdoorAir = -2.0

    def weather(self, month: int, south: bool) -> Weather:
        """A usual clear day of a month: between both by a cosine through the year."""
        warmest = 1 if south else 7
        share = (1 + math.cos(math.tau * (month - warmest) / 12)) / 2
        warm = self.cold_max_c + share * (self.warm_max_c - self.cold_max_c)
        cold = self.cold_min_c + share * (self.warm_min_c - self.cold_min_c)
        return Weather(max_c=round(warm, 1), min_c=round(cold, 1))

    def hottest(self) -> Weather:
        """A still, clear day of a heat wave in its warmest month."""
        return Weather(
            max_c=min(self.warm_max_c + HEAT_WAVE_K, HOTTEST_C),
            min_c=min(self.warm_min_c + HEAT_WAVE_K, HOTTEST_C),
            wind="still",
        )


class PenMonth(Document):
    """A usual day of a month in a pen."""

    month: int
    out: tuple[PenSpan, ...]
    """When all of its animals can be out."""

    @property
    def hours(self) -> float:
        """How long they can be out [h]."""
        return sum(one.end_h - one.begin_h for one in self.out)


class PenPlan(Document):
    """A pen on a day."""

    days: tuple[OutdoorDay, ...]
    """For each animal, in order."""
    out: tuple[PenSpan, ...]
    """When all of its animals can be out at once."""
    findings: tuple[PenFinding, ...]


def plan_pen(
    pen: PenSpec, animals: Sequence[PenAnimal], day: PenDay, climate: PenClimate
) -> PenPlan:
    """Judge a day in a pen, and the pen itself by the hottest day of its year: it stands there then."""
    days = _days(pen, animals, day)
    half = "south" if day.place.lat < 0 else "north"
    month, of_month = MIDSUMMER[half]
    midsummer = dt.date(day.on.year, month, of_month)
    summer = PenDay(day.place, midsummer, climate.hottest())
    hottest = _days(pen, animals, summer)

    return PenPlan(days=days, out=_together(days), findings=findings(pen, animals, hottest))


def year(
    pen: PenSpec, animals: Sequence[PenAnimal], place: Place, climate: PenClimate, of_year: int
) -> tuple[PenMonth, ...]:
    """How long all of its animals can be out on a usual clear day of each month."""
    found = []
    for month in range(1, 13):
        on = dt.date(of_year, month, MONTH_DAY)
        weather = climate.weather(month, place.lat < 0)
        days = _days(pen, animals, PenDay(place, on, weather))
        found.append(PenMonth(month=month, out=_together(days)))

    return tuple(found)


def is_sun_low(place: Place, at: dt.datetime) -> bool:
    """Whether the sun stands so low at a moment, or is down, that animals belong inside."""
    on = at.astimezone(zoneinfo.ZoneInfo(place.tz)).date()
    hour = solar_hour((place.lat, place.lon), at)
    return solar_elevation(place.lat, on.isoformat(), hour) <= SUNS_DEG


def put_right(pen: PenSpec, wrong: Iterable[PenFinding]) -> PenSpec:
    """The pen with the changes of these findings made."""
    for one in wrong:
        pen = PenSpec.model_validate({**pen.model_dump(), **one.patch})
    return pen


def _days(pen: PenSpec, animals: Sequence[PenAnimal], day: PenDay) -> tuple[OutdoorDay, ...]:
    """The day in this pen for each of the animals."""
    weather = day.of(pen)
    return tuple(
        outdoor_day(one.profile, one.stage, one.chosen, one.body_m, day.place, day.on, weather)
        for one in animals
    )


def _together(days: Sequence[OutdoorDay]) -> tuple[PenSpan, ...]:
    """When all can be out at once, and long enough."""
    found: list[PenSpan] = []
    for step in range(STEPS):
        if not days or not all(_is_out(day, step) for day in days):
            continue
        begin_h = 24 * step / STEPS
        end_h = 24 * (step + 1) / STEPS
        if found and found[-1].end_h == begin_h:
            found[-1] = found[-1].model_copy(update={"end_h": end_h})
        else:
            found.append(PenSpan(state="fit", begin_h=begin_h, end_h=end_h))

    return tuple(one for one in found if one.end_h - one.begin_h >= LEAST_OUT_H - 1e-9)


def _is_out(day: OutdoorDay, step: int) -> bool:
    """Whether one can be out in a step of the day."""
    return any(span.holds(step) for span in day.out)
