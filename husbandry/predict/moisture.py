"""The humidity of a planned enclosure through its day: at both ends and in a moist hide, with the
mistings that would keep its wave. Method: docs/methods/moisture.md.
"""

import functools
import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from typing import TYPE_CHECKING

from husbandry.climate.heat_model import HeatModel
from husbandry.climate.misting import (
    HumidityBounds,
    MistingTimetable,
    dry_hours,
    humidity,
    misted,
    timetable,
)
from husbandry.climate.moisture import (
    Forcing,
    MoistureModel,
    MoistureSeries,
    run,
    saturation,
    settle,
)
from husbandry.climate.pool_heat import OUTER_FILM_M2K_W
from husbandry.climate.room import room_at
from husbandry.derivation import Z90
from husbandry.documents.enclosure import MoistureControl
from husbandry.documents.request import Request
from husbandry.enclosure.equipment import MATERIALS
from husbandry.items.foggers import Fogger
from husbandry.items.furnishings import PlantedItem
from husbandry.items.timers import hour_of

if TYPE_CHECKING:
    from husbandry.predict.predict import Prediction

HALF_HOURS = 48
"""Half hours of a day (definition)."""
STEP_S = 1800.0
"""Half an hour (definition) [s]."""
AIR_LAG_H = 1.0
"""In which the air of an enclosure follows its lamps (compared with the day in time: a test) [h]."""
LEAST_EXCESS_K = 0.3
"""Damp air is lighter than dry: so much excess is always there to move it (design choice) [K]."""
WETNESS = {"dry": 0.02, "dry top": 0.08, "damp": 0.25, "wet": 0.7}
"""Of the substrate's top as evaporating surface (source: humidity A2: dry top 0.05, damp 0.15 to
0.3, wet moss 0.7 to 1) [1].
"""
WATER_KG_M3 = {"dry": 20.0, "dry top": 150.0, "damp": 250.0, "wet": 400.0}
"""Water that substrate so kept holds (from memory: bulk densities dry and moist) [kg/m³]."""
HOLDS_WATER = frozenset({"soil", "sand"})
TIMBER_BUFFER = 3.0
"""Vapour that bare timber all round takes up besides, over what the air holds (source: humidity A8:
3.0 in its example) [1].
"""
DEW_DROP = 0.45
"""Panes that stand further than that towards the room's temperature are those that fog (source:
humidity A2) [1].
"""
INNER_FILM_W_M2K = 6.0
"""Inside a pane (source: humidity A2) [W/m²K]."""
OPEN_SHARE = {"dish": math.pi / 4, "pool": 1.0}
"""Of its outline that is open water: dishes are round (definition) [1]."""
LEAF_SHARE = 0.3
"""Of its footprint that a plant breathes out as open water would (design choice: three layers of
leaf, a tenth of open water each) [1].
"""
TURN_H = 3.0
"""In which an enclosure goes from its day's humidity to its night's and back: either's mark does
(design choice) [h].
"""
LN_SD_CHANGES = math.log(2) / Z90
"""Air changes are known to a factor of two, nine times in ten (source: humidity A4) [ln]."""
LN_SD_WETNESS, LN_SD_TRANSFER, ROOM_SD_PCT, PLACE_SD_PCT = 0.5, 0.35, 5.0, 3.0
"""Air exchange is known to a factor of two, a substrate's wetness and the transfer less; the room
to 5 points, one place to 3 (source: humidity A4, A8).
"""
LOGGED_SHARE = 0.3
"""Of what is not known of the transfer, once a log has told how its substrate and its mistings dry
(design choice) [1].
"""
MIST_AFTER_LIGHT_H = 2.0
"""No misting in the last hours of light: leaves are to be dry at night, unless the species' nights
are damp (source: humidity A5) [h].
"""


@dataclass(frozen=True)
class Places:
    """Temperatures at every half hour of a day [°C]."""

    warm: tuple[float, ...]
    cool: tuple[float, ...]
    middle: tuple[float, ...]
    room: tuple[float, ...]
    lit: tuple[bool, ...]


DEW_SEEN_KG = 1e-4
"""On all panes, from which they look wet (design choice) [kg]."""


@dataclass(frozen=True)
class DayMoisture:
    """An enclosure with its day's water."""

    request: Request
    places: Places
    enclosure: MoistureModel
    forcing: Forcing
    series: MoistureSeries
    wetting: MoistureControl

    @functools.cached_property
    def cool_pct(self) -> tuple[float, ...]:
        """Relative humidity at the cool end, at the end of each half hour [%]."""
        return tuple(humidity(self.series, self.places.cool))

    @functools.cached_property
    def warm_pct(self) -> tuple[float, ...]:
        """At the warm end [%]."""
        return tuple(humidity(self.series, self.places.warm))

    @property
    def day_n(self) -> int:
        """The half hour that ends the heat of the day: where a need of the day is judged."""
        lit = [
            n
            for n in range(HALF_HOURS)
            if self.places.lit[n] and not self.places.lit[(n + 1) % HALF_HOURS]
        ]
        return lit[-1] if lit else 36

    @property
    def night_n(self) -> int:
        """The last half hour of dark."""
        dark = [
            n
            for n in range(HALF_HOURS)
            if not self.places.lit[n] and self.places.lit[(n + 1) % HALF_HOURS]
        ]
        return dark[0] if dark else 12

    @property
    def day_kg(self) -> float:
        """Water that it is given in a day by mist and fog, and that dishes lose."""
        ledger = self.series.ledger
        return (
            ledger.misted + ledger.fogged + max(ledger.from_dishes, 0.0)
        )  # a pool colder than the dew point gains

    @property
    def dry_h(self) -> float:
        """In which misted faces are dry [h]."""
        return dry_hours(self.enclosure, self.series)

    @property
    def dew_h(self) -> float:
        """In which dew stands on a pane [h]."""
        return 24 * sum(dew > DEW_SEEN_KG for dew in self.series.dew_kg) / HALF_HOURS

    def dew_past_need_h(self, needed_pct: Sequence[float]) -> float:
        """In which dew stands on a pane that would be dry with its air as it is needed: in the other
        hours the room is so much colder than its air that its panes must be wet [h].

        Parameters
        ----------
        needed_pct : sequence of float
            The humidity that is aimed at at the cool end at every half hour [%].
        """
        drop = self.enclosure.pane_drop
        count = 0
        for n, dew in enumerate(self.series.dew_kg):
            air_c = self.forcing.air_c[n]
            pane_c = air_c - drop * (air_c - self.forcing.room_c[n])
            needed_pa = needed_pct[n] / 100 * saturation(self.places.cool[n])
            count += dew > DEW_SEEN_KG and needed_pa < saturation(pane_c)
        return 24 * count / HALF_HOURS


def places_of(prediction: "Prediction") -> Places:
    """Temperatures through a day, from its steady day and night: what heats lifts them over the
    room, an hour behind its timer.
    """
    request = prediction.request
    room = prediction.request.room
    spots = {
        "warm": prediction.warm_point,
        "cool": prediction.cool_point,
        "middle": (prediction.enclosure.length_m / 2, prediction.warm_point[1]),
    }
    day = {
        name: prediction.day.value(prediction.day.air(*at)) - room.day_c
        for name, at in spots.items()
    }
    night = {
        name: (
            prediction.night.value(prediction.night.air(*at)) - room.night_c
            if prediction.night is not None
            else 0.0
        )
        for name, at in spots.items()
    }
    warming = [item for item in request.items if item.warms and item.timer]
    by_day = [item for item in warming if item.lit_at(13.0)] or [
        item for item in request.items if item.warms
    ]
    hours = [(n + 0.5) / 2 for n in range(HALF_HOURS)]
    lit = [any(item.lit_at(hour) for item in by_day) for hour in hours]
    rooms = [room_at(hour, room.day_c, room.night_c) for hour in hours]
    follow = 1 - math.exp(-0.5 / AIR_LAG_H)
    found: dict[str, list[float]] = {}
    for name in spots:
        excess = night[name]
        values = [0.0] * HALF_HOURS
        for n in range(2 * HALF_HOURS):
            excess += follow * ((day if lit[n % HALF_HOURS] else night)[name] - excess)
            values[n % HALF_HOURS] = rooms[n % HALF_HOURS] + excess
        found[name] = values
    return Places(
        tuple(found["warm"]),
        tuple(found["cool"]),
        tuple(found["middle"]),
        tuple(rooms),
        tuple(lit),
    )


def moisture_model(prediction: "Prediction", wetting: MoistureControl) -> MoistureModel:
    """What decides how this enclosure takes up water."""
    request = prediction.request
    enclosure = prediction.enclosure
    panels = request.enclosure.panels
    substrate = request.enclosure.substrate
    height = enclosure.air_height_m
    floor = enclosure.footprint_m2
    sides = {
        "front": enclosure.length_m * height,
        "back": enclosure.length_m * height,
        "left": enclosure.depth_m * height,
        "right": enclosure.depth_m * height,
    }
    made = {name: MATERIALS[getattr(panels, name)] for name in sides}
    drops = {
        name: (
            (1 / INNER_FILM_W_M2K)
            / (1 / INNER_FILM_W_M2K + m.thickness_m / m.conductivity_w_mk + OUTER_FILM_M2K_W)
        )
        for name, m in made.items()
    }
    cold = [name for name in sides if drops[name] >= DEW_DROP and not made[name].open_share]
    pane = sum(sides[name] for name in cold)
    walls = sum(sides.values())
    timber = sum(area for name, area in sides.items() if made[name].name == "wood") / walls
    told = wetting.logged
    holds = substrate.material in HOLDS_WATER and substrate.depth_m > 0.005
    open_m2 = sum(
        t.sides_m[0] * t.sides_m[1] * OPEN_SHARE[t.kind]
        for t in request.items
        if t.holds_water and t.sides_m
    )
    leaves = sum(
        t.size_m[0] * t.size_m[1] * LEAF_SHARE for t in request.items if isinstance(t, PlantedItem)
    )
    return MoistureModel(
        volume_m3=floor * height,
        film_m2=floor + 0.5 * walls,
        pane_m2=max(pane, 1e-3),
        pane_drop=(
            sum(drops[name] * sides[name] for name in cold) / pane if pane else min(drops.values())
        ),
        substrate_m2=floor if holds else 0.0,
        wetness=(
            min(WETNESS[wetting.substrate] * (told.substrate if told else 1.0), 1.0)
            if holds
            else 0.0
        ),
        substrate_kg=floor * substrate.depth_m * WATER_KG_M3[wetting.substrate] if holds else 0.0,
        water_m2=max(open_m2 + leaves, 1e-4),
        buffer=told.buffer if told else 1.0 + TIMBER_BUFFER * timber,
    )


def forcing_of(prediction: "Prediction", places: Places, wetting: MoistureControl) -> Forcing:
    """What acts on it: its own warmth, the room's vapour, mistings and fog."""
    request = prediction.request
    room = request.room
    room_pa = room.rh_pct / 100 * saturation(room.day_c)
    excess = [
        max(air - around, LEAST_EXCESS_K)
        for air, around in zip(places.middle, places.room, strict=True)
    ]
    mist = [0.0] * HALF_HOURS
    for one in wetting.mistings:
        # seldom misted: a day among days alike has its share of the water
        mist[round(2 * hour_of(one.at)) % HALF_HOURS] += one.ml / 1000 / wetting.mist_days
    fog = _fog_kg_s(request.foggers, held=False)
    held = _fog_kg_s(request.foggers, held=True)
    stops = [one.humidistat_pct for one in request.foggers if one.humidistat_pct is not None]
    held_pa = tuple(min(stops) / 100 * saturation(at) for at in places.cool) if stops else ()
    vapours = tuple(min(room_pa, saturation(around)) for around in places.room)
    more = wetting.logged.air if wetting.logged else 1.0
    for n in range(HALF_HOURS):
        mist[n] += request.drips_l_h((n + 0.5) / 2) / 2
    changes = tuple(
        more * _at_hour(prediction, (n + 0.5) / 2).changes_per_h(kelvin)
        for n, kelvin in enumerate(excess)
    )
    return Forcing(
        STEP_S,
        places.middle,
        places.room,
        vapours,
        changes,
        tuple(mist),
        fog,
        held_kg_s=held if stops else (),
        held_pa=held_pa,
    )


def _fog_kg_s(foggers: Iterable[Fogger], *, held: bool) -> tuple[float, ...]:
    """What foggers with a humidistat, or those without one, give at each half hour [kg/s]."""
    ours = [one for one in foggers if (one.humidistat_pct is not None) == held]
    return tuple(
        sum(one.l_per_h / 3600 for one in ours if one.lit_at((n + 0.5) / 2))
        for n in range(HALF_HOURS)
    )


def _at_hour(prediction: "Prediction", hour: float) -> HeatModel:
    """The day's heat model, with the fans that run at that hour."""
    heat_model = prediction.day.heat_model
    fan_m3_s = prediction.request.fanned_m3_s(hour)
    if fan_m3_s == heat_model.vents.fan_m3_s:
        return heat_model
    return replace(heat_model, vents=replace(heat_model.vents, fan_m3_s=fan_m3_s))


def damp_of(
    prediction: "Prediction", wetting: MoistureControl | None = None
) -> DayMoisture | None:
    """The water of an enclosure through its day; None where nobody said how it is kept damp."""
    wetting = wetting or prediction.request.enclosure.wetting
    if wetting is None:
        return None
    places = places_of(prediction)
    enclosure, forcing = (
        moisture_model(prediction, wetting),
        forcing_of(prediction, places, wetting),
    )
    return DayMoisture(
        prediction.request, places, enclosure, forcing, settle(enclosure, forcing, 2), wetting
    )


def over_water(damp: DayMoisture, surface_m2: float, water_c: tuple[float, ...]) -> DayMoisture:
    """The same over a pool of known warmth, that was open water like any other [m², °C]."""
    enclosure = replace(
        damp.enclosure,
        water_m2=max(damp.enclosure.water_m2 - surface_m2, 1e-4),
        pool_m2=surface_m2,
    )
    forcing = replace(damp.forcing, pool_c=water_c)
    return replace(
        damp,
        enclosure=enclosure,
        forcing=forcing,
        series=settle(enclosure, forcing, 2, damp.series.end),
    )


@dataclass(frozen=True)
class ExpectedHumidity:
    """Humidity at the cool end with its standard deviation [%]."""

    day_pct: float
    day_sd: float
    night_pct: float
    night_sd: float


def expected(damp: DayMoisture) -> ExpectedHumidity:
    """What is judged: the end of the day's heat and the end of the dark, each with what is not
    known of air exchange, wetness, transfer and the room.
    """
    day = damp.day_n
    night = damp.night_n

    def ends(enclosure: MoistureModel, forcing: Forcing) -> tuple[float, float]:
        begin = replace(damp.series.end, substrate_kg=enclosure.substrate_kg)
        values = humidity(run(enclosure, forcing, begin, fine_s=STEP_S), damp.places.cool)
        return values[day], values[night]

    told = damp.wetting.logged
    air_sd, substrate_sd = (
        (told.air_ln_sd, told.substrate_ln_sd) if told else (LN_SD_CHANGES, LN_SD_WETNESS)
    )
    transfer_sd = LN_SD_TRANSFER * (LOGGED_SHARE if told else 1.0)
    base = ends(damp.enclosure, damp.forcing)
    more = replace(
        damp.forcing, changes_per_h=tuple(v * math.exp(air_sd) for v in damp.forcing.changes_per_h)
    )
    wetter = replace(damp.enclosure, wetness=damp.enclosure.wetness * math.exp(substrate_sd))
    faster = replace(damp.enclosure, film_w_m2k=damp.enclosure.film_w_m2k * math.exp(transfer_sd))
    room = damp.request.room.rh_pct
    around = replace(
        damp.forcing,
        room_pa=tuple(pa * (room + ROOM_SD_PCT) / max(room, 1.0) for pa in damp.forcing.room_pa),
    )
    moved = (
        ends(damp.enclosure, more),
        ends(wetter, damp.forcing),
        ends(faster, damp.forcing),
        ends(damp.enclosure, around),
    )
    sds = [math.hypot(PLACE_SD_PCT, *(one[n] - base[n] for one in moved)) for n in (0, 1)]
    return ExpectedHumidity(damp.cool_pct[day], sds[0], damp.cool_pct[night], sds[1])


def allowed_hours(damp: DayMoisture, *, damp_nights: bool) -> tuple[float, float]:
    """First and last hour at which it may be misted: from light until two hours before dark, or
    until dark for those whose nights are damp.
    """
    lit = [n / 2 for n in range(HALF_HOURS) if damp.places.lit[n]]
    if not lit:
        return 8.0, 20.0
    return lit[0], lit[-1] + 0.5 - (0.0 if damp_nights else MIST_AFTER_LIGHT_H)


def marks_of(
    damp: DayMoisture, day: tuple[float, float], night: tuple[float, float]
) -> HumidityBounds:
    """The day's marks while its lamps burn, the night's in the dark, and from the one to the other
    the wider of both [%].
    """
    lit = damp.places.lit
    turn = round(TURN_H * HALF_HOURS / 24)
    both = min(day[0], night[0]), max(day[1], night[1])
    ends = [
        (
            both
            if any(lit[(n - k) % HALF_HOURS] != lit[n] for k in range(1, turn + 1))
            else day
            if lit[n]
            else night
        )
        for n in range(HALF_HOURS)
    ]
    return HumidityBounds(tuple(low for low, _ in ends), tuple(high for _, high in ends))


def best_timetable(
    damp: DayMoisture, marks: HumidityBounds, *, damp_nights: bool, most: int
) -> MistingTimetable:
    """The fewest mistings that keep a wave between the marks at the cool end, with the substrate as
    it is kept.
    """
    unmisted = misted(replace(damp.forcing, mist_kg=tuple([0.0] * HALF_HOURS)), (), 0.0)
    return timetable(
        damp.enclosure,
        unmisted,
        damp.places.cool,
        marks,
        allowed_hours(damp, damp_nights=damp_nights),
        most=most,
    )
