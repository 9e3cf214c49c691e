"""A day in an outdoor pen: when the animal can be out, from when it is too cold, too hot, and what the
pen must have.

Method: docs/methods/outdoors.md.
"""

import datetime as dt
import functools
import math
import zoneinfo
from collections.abc import Mapping, Sequence
from typing import Annotated, Literal, NamedTuple

import numpy as np
from numpy.typing import NDArray
from pydantic import Field

from husbandry.climate.mesh import mesh_transmission
from husbandry.climate.outdoor_ground import GROUNDS, STEPS, OutdoorForcing, ground_course, sky_c
from husbandry.climate.sun import (
    OKTAS,
    clear_sky_irradiance,
    clear_sky_uvi,
    cloud_share,
    solar_elevation,
    solar_hour,
)
from husbandry.derivation import Document
from husbandry.documents.room import Place
from husbandry.enclosure.equipment import MESHES
from husbandry.species.needs import NeedKey
from husbandry.species.parts import NeedSpec
from husbandry.species.profile import Profile
from husbandry.species.selection import need_of

Array = NDArray[np.float64]
WARMEST_SOLAR_H = 15.0
"""When the air is warmest, by the sun (common practice of meteorology) [h]."""
CLOUD_OKTAS = {"clear": 1.0, "half": 4.0, "overcast": 8.0}
"""Eighths of the sky that each word stands for (design choice) [1]."""
CLOUD_UV = {"clear": 1.0, "half": 0.85, "overcast": 0.35}
"""Share of the UV index that clouds leave (from memory: cloud factors of the WHO's guide to the UV
index) [1].
"""
WIND_M_S = {"still": 0.5, "breeze": 1.5, "windy": 3.0}
"""At the ground, behind the pen's walls (design choice) [m/s]."""
SUNS_DEG = 8.0
"""Lower than that the sun is behind houses and trees (design choice) [°]."""
LEAST_OUT_H = 1.5
"""Less is not worth the carrying (design choice) [h]."""
WALL_LENGTHS, SUNK_M = 1.5, 0.3
"""Height of the wall in lengths of the shell or body, and how deep it goes for what digs (common
practice, no source) [1, m].
"""
STRONG_UVI = 8.0
"""From there on no animal should be without deep shade (from memory: “very high” of the WHO's UV
index) [UV index].
"""
OutdoorAir = Annotated[float, Field(ge=-20, le=50)]
"""Of the air outdoors [°C]."""
PenState = Literal["night", "cold", "fit", "hot"]
PenNeed = Literal["shade", "walls", "net", "stone", "hide", "water", "ground", "watch", "night"]


class Weather(Document):
    """The weather of a day, as a forecast has it, and what the pen is of."""

    max_c: OutdoorAir
    min_c: OutdoorAir
    clouds: Literal["clear", "half", "overcast"] = "clear"
    wind: Literal["still", "breeze", "windy"] = "breeze"
    ground: Literal["grass", "soil", "sand", "stone"] = "grass"
    net: str = ""
    """The mesh over it, by its slug; empty: none."""


class PenNumbers(NamedTuple):
    """The course of a day in steps of ten minutes, by the clock; arrays."""

    air_c: Array
    shade_c: Array
    """What an animal feels in the shade: the mean of air and shaded ground [°C]."""
    sunny_c: Array
    """A dark flat stone in the sun [°C]."""
    ground_c: Array
    """The bare ground in the sun [°C]."""
    uvi: Array


class PenSpan(Document):
    """A part of the day that is alike."""

    state: PenState
    begin_h: float
    end_h: float

    def holds(self, step: int) -> bool:
        """Whether a step of the day lies in it."""
        return self.begin_h <= 24 * (step + 0.5) / STEPS < self.end_h


class OutdoorDay(Document):
    """What a day outdoors is for an animal."""

    ruled_out: str = ""
    """Why animals of its species are not taken out; empty for those that are."""
    spans: tuple[PenSpan, ...] = ()
    out: tuple[PenSpan, ...] = ()
    """When it may be out: the spans that are fit and long enough."""
    air_c: tuple[float, ...] = ()
    shade_c: tuple[float, ...] = ()
    sunny_c: tuple[float, ...] = ()
    uvi: tuple[float, ...] = ()
    """Each in steps of ten minutes, from midnight by the clock."""
    hottest_ground_c: float = 0.0
    """The hottest that the ground gets in the sun [°C]."""
    basks_from_c: float | None = None
    air_from_c: float | None = None
    cold_below_c: float | None = None
    hot_above_c: float | None = None
    uvi_limit: float | None = None
    """Ends of its needs that decide."""
    pen: tuple[PenNeed, ...] = ()
    """What the pen must have, in order of harm."""
    wall_m: float = 0.0
    strong_uv: bool = False

    @property
    def warmest_shade_c(self) -> float:
        """The warmest that the shade gets [°C]."""
        return max(self.shade_c, default=math.nan)

    @property
    def hottest_c(self) -> float:
        """The hottest that a dark stone gets in the sun [°C]."""
        return max(self.sunny_c, default=math.nan)

    @property
    def most_uvi(self) -> float:
        """The highest UV index of the day."""
        return max(self.uvi, default=0.0)


class _Limits(NamedTuple):
    """Ends of needs that decide whether an hour is fit [°C]; infinite where there is none."""

    basks_from_c: float
    air_from_c: float
    cold_below_c: float
    hot_above_c: float


def outdoor_day(
    profile: Profile,
    stage: str,
    approaches: Mapping[str, str],
    body_m: float,
    place: Place,
    day: dt.date,
    weather: Weather,
) -> OutdoorDay:
    """Judge a day in an outdoor pen.

    An hour is fit when the animal can warm itself, on a dark stone in the sun or in the air, and can
    cool itself in the shade. The stone has to reach the lower limit of its basking place: it follows the
    sun by itself, and is not held at a lamp's temperature. The limits of its cool end are those of the
    shade and of the air.

    Parameters
    ----------
    body_m : float
        Its length, as its species is measured [m].
    place : Place
        Where on Earth; its clock is the day's.
    """
    if why := why_not(profile):
        return OutdoorDay(ruled_out=why)
    numbers = pen_numbers(place, day, weather)
    needs = {key: need_of(profile.needs, key, stage, approaches) for key in NeedKey}
    limits = _limits(needs)
    spans = _spans(_states(numbers, limits, _sun_up(place, day)))
    uv = needs[NeedKey.UVI_DAY]
    uvi_limit = uv.limit_high if uv is not None else None
    most_uvi = float(numbers.uvi.max())

    return OutdoorDay(
        spans=spans,
        out=tuple(
            one for one in spans if one.state == "fit" and one.end_h - one.begin_h >= LEAST_OUT_H
        ),
        air_c=_rounded(numbers.air_c),
        shade_c=_rounded(numbers.shade_c),
        sunny_c=_rounded(numbers.sunny_c),
        uvi=_rounded(numbers.uvi),
        hottest_ground_c=round(float(numbers.ground_c.max()), 1),
        basks_from_c=_known(limits.basks_from_c),
        air_from_c=_known(limits.air_from_c),
        cold_below_c=_known(limits.cold_below_c),
        hot_above_c=_known(limits.hot_above_c),
        uvi_limit=uvi_limit,
        pen=_pen(profile, weather),
        wall_m=round(max(WALL_LENGTHS * body_m, 0.3), 2),
        strong_uv=most_uvi > min(uvi_limit or STRONG_UVI, STRONG_UVI),
    )


def why_not(profile: Profile) -> str:
    """Why animals of a species are not taken out into the sun; empty for those that are."""
    if profile.amphibian:
        return "An amphibian dries out and overheats within minutes in the sun."
    if profile.habit == "aquatic":
        return "It lives in water: a pond is another thing than a pen."
    if profile.activity != "diurnal":
        return "It is an animal of dusk and night: a day in the sun gives it nothing but stress."
    return ""


@functools.lru_cache(maxsize=128)
def pen_numbers(place: Place, day: dt.date, weather: Weather) -> PenNumbers:
    """Air, shade, sunny ground and UV index through a day, by the clock of the place.

    Remembered: every animal of a pen asks for the same day.
    """
    hours = _solar_hours(place, day)
    up = np.array([solar_elevation(place.lat, day.isoformat(), float(one)) for one in hours])
    passes = 1.0
    if weather.net:
        mesh = MESHES[weather.net]
        passes = mesh_transmission(mesh.wire_mm, mesh.pitch_mm)
    oktas = CLOUD_OKTAS[weather.clouds]
    sun = np.array([clear_sky_irradiance(float(one)) for one in up])
    air = air_course(weather, hours, up)
    forcing = OutdoorForcing(
        air, sky_c(air, oktas / OKTAS), sun * cloud_share(oktas) * passes, WIND_M_S[weather.wind]
    )
    ground = GROUNDS[weather.ground]
    shaded = ground_course(ground, forcing, shaded=True)
    uvi = np.array([clear_sky_uvi(float(one)) for one in up]) * CLOUD_UV[weather.clouds] * passes

    return PenNumbers(
        air,
        (air + shaded) / 2,
        ground_course(ground, forcing, slab=True),
        ground_course(ground, forcing),
        uvi,
    )


def air_course(weather: Weather, solar_hours: Array, elevation_deg: Array) -> Array:
    """The air of a day: coldest at sunrise, warmest at three by the sun, by half waves between [°C]."""
    up = solar_hours[elevation_deg > 0]
    rises = float(up.min()) if len(up) and len(up) < STEPS else 6.0
    rising = WARMEST_SOLAR_H - rises
    since = (solar_hours - rises) % 24
    wave = np.where(
        since <= rising,
        -np.cos(np.pi * since / rising),
        np.cos(np.pi * (since - rising) / (24 - rising)),
    )
    mean, half = (weather.max_c + weather.min_c) / 2, (weather.max_c - weather.min_c) / 2

    return np.asarray(mean + half * wave)


def _solar_hours(place: Place, day: dt.date) -> Array:
    """Hours by the sun, for each step of the clock's day."""
    zone = zoneinfo.ZoneInfo(place.tz)
    begin = dt.datetime(day.year, day.month, day.day, tzinfo=zone)
    first = solar_hour((place.lat, place.lon), begin)
    return np.asarray((first + (np.arange(STEPS) + 0.5) * 24 / STEPS) % 24)


def _sun_up(place: Place, day: dt.date) -> NDArray[np.bool_]:
    """Whether the sun stands high enough in each step; of yes and no."""
    hours = _solar_hours(place, day)
    up = [solar_elevation(place.lat, day.isoformat(), float(one)) for one in hours]
    return np.asarray(np.array(up) > SUNS_DEG)


def _limits(needs: Mapping[NeedKey, NeedSpec | None]) -> _Limits:
    surface = needs[NeedKey.SURFACE_DAY]
    warm = needs[NeedKey.WARM_AIR_DAY]
    cool = needs[NeedKey.COOL_AIR_DAY]

    def end(need: NeedSpec | None, name: str, without: float) -> float:
        value = None if need is None else getattr(need, name)
        return without if value is None else float(value)

    return _Limits(
        end(surface, "limit_low", end(surface, "low", math.inf)),
        end(warm, "low", end(cool, "low", math.inf)),
        end(cool, "limit_low", -math.inf),
        end(cool, "limit_high", end(cool, "high", math.inf)),
    )


def _states(numbers: PenNumbers, limits: _Limits, up: NDArray[np.bool_]) -> list[PenState]:
    """What each step of the day is for the animal."""
    found: list[PenState] = []
    for n in range(STEPS):
        warms = numbers.sunny_c[n] >= limits.basks_from_c or numbers.air_c[n] >= limits.air_from_c
        if not up[n]:
            found.append("night")
        elif numbers.shade_c[n] > limits.hot_above_c:
            found.append("hot")
        elif not warms or numbers.air_c[n] < limits.cold_below_c:
            found.append("cold")
        else:
            found.append("fit")

    return found


def _spans(states: Sequence[PenState]) -> tuple[PenSpan, ...]:
    """Steps that are alike, together."""
    found: list[PenSpan] = []
    for n, state in enumerate(states):
        end = 24 * (n + 1) / STEPS
        if found and found[-1].state == state:
            found[-1] = found[-1].model_copy(update={"end_h": end})
        else:
            found.append(PenSpan(state=state, begin_h=24 * n / STEPS, end_h=end))
    return tuple(found)


def _pen(profile: Profile, weather: Weather) -> tuple[PenNeed, ...]:
    """What the pen must have."""
    net: tuple[PenNeed, ...] = () if weather.net else ("net",)
    return ("shade", "walls", *net, "stone", "hide", "water", "ground", "watch", "night")


def _rounded(values: Array) -> tuple[float, ...]:
    return tuple(round(float(one), 2) for one in values)


def _known(value: float) -> float | None:
    return value if math.isfinite(value) else None
