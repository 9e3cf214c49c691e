"""How warm the water is that an animal swims in: its largest pool through the day, with or without
a heater. Method: docs/methods/water.md.
"""

import math
from dataclasses import dataclass, replace
from typing import TYPE_CHECKING, NamedTuple

import numpy as np

from husbandry.climate.beam import beam_of
from husbandry.climate.moisture import saturation
from husbandry.climate.pool_heat import (
    OUTER_FILM_M2K_W,
    WATER_FILM_M2K_W,
    PoolBody,
    PoolSurroundings,
    WaterDay,
    water_day,
)
from husbandry.derivation import Z90, Derivation, Source, named_value
from husbandry.documents.enclosure import MoistureControl
from husbandry.enclosure.equipment import MATERIALS, Material
from husbandry.errors import ImpossibleStateError
from husbandry.items.furnishings import Pool
from husbandry.items.union import Item
from husbandry.predict.moisture import HALF_HOURS, STEP_S, DayMoisture, Places, damp_of, over_water

if TYPE_CHECKING:
    from husbandry.predict.predict import Prediction

POOL_SHARE = 0.9
"""Of a pool's height that stands full (common practice) [1]."""
TOUCHES_M = 0.02
"""A pool so near a panel gives its heat to the room through it (design choice) [m]."""
AIR_FILM_M2K_W = 0.125
"""Of the enclosure's air at what stands over the substrate (textbooks; from memory)."""
SOIL_WAY_M = 0.05
"""From a pool's side to substrate that it does not move (design choice) [m]."""
SOAKED = 0.92
"""Of a beam that falls on water and stays in it and on its bottom (from memory: 2 % reflected, the
rest scattered back) [1].
"""
FILM_LN, SIDE_LN, VAPOUR_SHARE, BEAM_LN = math.log(1.4), math.log(1.5), 0.2, math.log(1.3)
"""One standard deviation of the film, of what surrounds it, of what the air lacks of saturation, of
the beam (design choice).
"""
PLACE_SD_K, HOLDS_SD_K = 0.4, 0.5
"""Of one place in the water; and of what a heater's thermostat holds (common practice: dials are
off by a degree) [K].
"""
ROUNDS, ALIKE_K = 6, 0.02
"""Of damp and water in turn, and by how much less the water then moves (design choice) [K]."""
HEATERS_MOST = 3
"""Water heaters that share a pool, at the most (common practice)."""
SOLD_W = (10, 25, 50, 75, 100, 150, 200, 300)
"""Powers that water heaters are commonly sold in (common practice, no source) [W]."""
_SOURCE = Source(
    kind="design choice",
    text=(
        "heat balance of a pool over a day, checked against an independent solver:"
        " docs/methods/water.md"
    ),
)


@dataclass(frozen=True)
class PoolWater:
    """The water of the largest pool through a day."""

    item: Pool
    pool: PoolBody
    around: PoolSurroundings
    day: WaterDay
    lit: tuple[bool, ...]
    air_sd_k: float

    @property
    def day_c(self) -> float:
        """Mean while lamps are lit [°C]."""
        return self._mean(self.day)

    @property
    def lowest_c(self) -> float:
        """Of the day and its night [°C]."""
        return min(self.day.water_c)

    @property
    def highest_c(self) -> float:
        """Of the day and its night [°C]."""
        return max(self.day.water_c)

    def _mean(self, day: WaterDay) -> float:
        lit = [value for value, on in zip(day.water_c, self.lit, strict=True) if on] or list(
            day.water_c
        )
        return sum(lit) / len(lit)

    @property
    def sd_k(self) -> float:
        """What is not known of the air, the film, what surrounds it, the damp and the beam, by one
        more day each [K].
        """
        pool = self.pool
        around = self.around
        drier = tuple(
            max(e - VAPOUR_SHARE * (saturation(t) - e), 0.0)
            for e, t in zip(around.vapour_pa, around.air_c, strict=True)
        )
        more = math.exp(SIDE_LN)
        tried = [
            (replace(pool, film_w_m2k=pool.film_w_m2k * math.exp(FILM_LN)), around),
            (
                replace(
                    pool,
                    to_substrate_w_k=pool.to_substrate_w_k * more,
                    to_room_w_k=pool.to_room_w_k * more,
                ),
                around,
            ),
            (pool, replace(around, air_c=tuple(t + self.air_sd_k for t in around.air_c))),
            (pool, replace(around, vapour_pa=drier)),
        ]
        if any(around.beam_w):
            tried.append(
                (pool, replace(around, beam_w=tuple(w * math.exp(BEAM_LN) for w in around.beam_w)))
            )
        base = self.day_c
        held = HOLDS_SD_K if pool.heater_w and self.day.heater_wh > 0 else 0.0
        return math.hypot(PLACE_SD_K, held, *(self._mean(water_day(*one)) - base for one in tried))

    def with_heater(self, watts: float, held_c: float | None) -> WaterDay:
        """The day with another heater in it; None holds nothing: it is stuck on, or has no
        thermostat.
        """
        return water_day(replace(self.pool, heater_w=watts, held_c=held_c), self.around)


def water_share_m(pool: Item) -> float:
    """Depth of a full pool's water [m]."""
    if pool.sides_m is None:
        raise ImpossibleStateError("missing: pool.sides_m")
    return POOL_SHARE * pool.sides_m[2]


def waters_of(prediction: "Prediction") -> tuple[DayMoisture | None, PoolWater | None]:
    """The damp of an enclosure (None where nobody said how it is kept) and the water of its largest
    pool (None without one): each works on the other.

    Notes
    -----
    The damp first as if the pool had the warmth of the air, then the pool under that damp and the
    damp over that pool in turn, until the water does not
    move any more.
    """
    told = prediction.request.enclosure.wetting
    pools = [item for item in prediction.request.items if isinstance(item, Pool)]
    if not pools:
        return damp_of(prediction), None
    item = max(pools, key=lambda one: math.prod(one.size_m))
    damp = damp_of(prediction, told or MoistureControl(substrate="dry"))
    if damp is None:
        raise ImpossibleStateError("it was said how the enclosure is kept")
    pool_day = _pool_day(prediction, damp, item)
    for _ in range(ROUNDS):
        before = pool_day.day.water_c
        damp = over_water(damp, pool_day.pool.surface_m2, before)
        pool_day = _pool_day(prediction, damp, item)
        if (
            max(abs(now - then) for now, then in zip(pool_day.day.water_c, before, strict=True))
            < ALIKE_K
        ):
            break
    return (damp if told is not None else None), pool_day


def _pool_day(prediction: "Prediction", damp: DayMoisture, item: Pool) -> PoolWater:
    air = _air_over(prediction, damp.places, item)
    vapour = tuple(min(e, saturation(t)) for e, t in zip(damp.series.vapour_pa, air, strict=True))
    around = PoolSurroundings(STEP_S, air, vapour, damp.places.room, _beam_w(prediction, item))
    pool = _pool(prediction, item)
    return PoolWater(
        item, pool, around, water_day(pool, around), damp.places.lit, prediction.cool_air_sd()
    )


def _air_over(prediction: "Prediction", places: Places, item: Pool) -> tuple[float, ...]:
    """Air above the pool, between both ends by where it lies [°C]."""
    share = (item.at_m[0] / prediction.enclosure.length_m - 1 / 6) * 1.5
    left = min(max(share, 0.0), 1.0)
    warm = 1 - left if prediction.warm_left else left
    return tuple(warm * w + (1 - warm) * c for w, c in zip(places.warm, places.cool, strict=True))


def _conductance(material: Material, area_m2: float, more_m2k_w: float = 0.0) -> float:
    """From water through a panel to the room [W/K]."""
    return area_m2 / (
        WATER_FILM_M2K_W
        + material.thickness_m / material.conductivity_w_mk
        + OUTER_FILM_M2K_W
        + more_m2k_w
    )


def _pool(prediction: "Prediction", item: Pool) -> PoolBody:
    """Its faces: what touches a panel or the floor gives to the room, what is sunk to the
    substrate, what stands free to the air of the enclosure.
    """
    if item.sides_m is None:
        raise ImpossibleStateError("missing: item.sides_m")
    request = prediction.request
    (length, depth, _) = item.sides_m
    panels, inside, substrate = (
        request.enclosure.panels,
        request.enclosure.inside_m,
        request.enclosure.substrate,
    )
    water = water_share_m(item)
    soil = MATERIALS[substrate.material]
    local = max(substrate.depth_at(item.at_m[0] / inside.length, item.at_m[1] / inside.depth), 0.0)
    sunk = min(max(local - item.at_m[2], 0.0), water)
    gaps = {
        "left": (item.at_m[0] - length / 2, depth),
        "right": (inside.length - item.at_m[0] - length / 2, depth),
        "front": (item.at_m[1] - depth / 2, length),
        "back": (inside.depth - item.at_m[1] - depth / 2, length),
    }
    to_substrate = to_air = 0.0
    to_room = _conductance(
        MATERIALS[panels.bottom], length * depth, max(item.at_m[2], 0.0) / soil.conductivity_w_mk
    )
    for side, (gap, wide) in gaps.items():
        if gap <= TOUCHES_M:
            to_room += _conductance(MATERIALS[getattr(panels, side)], wide * water)
        else:
            to_substrate += wide * sunk / (WATER_FILM_M2K_W + SOIL_WAY_M / soil.conductivity_w_mk)
            to_air += wide * (water - sunk) / (WATER_FILM_M2K_W + AIR_FILM_M2K_W)
    # What stands free gives to the air of the enclosure, whose mean the substrate has: one
    # conductance for both.
    litres = 1000 * length * depth * water
    return PoolBody(
        litres,
        length * depth,
        to_substrate + to_air,
        to_room,
        heater_w=item.heater_w or 0.0,
        held_c=item.held_c if item.heater_w else None,
    )


def _beam_w(prediction: "Prediction", item: Pool) -> tuple[float, ...]:
    """What lamps lay into the water at each half hour [W]."""
    if item.sides_m is None:
        raise ImpossibleStateError("missing: item.sides_m")
    length, depth, _ = item.sides_m
    top = item.at_m[2] + water_share_m(item)
    shares = (np.arange(5) + 0.5) / 5 - 0.5
    x, y = np.meshgrid(item.at_m[0] + shares * length, item.at_m[1] + shares * depth)
    total = [0.0] * HALF_HOURS
    seen: set[str] = set()
    for steady in (prediction.day, prediction.night):
        if steady is None:
            continue
        for lamp, duty in zip(steady.heat_model.lamps, steady.duties, strict=True):
            if (
                lamp.item_id in seen
                or not lamp.heater.beam_share
                or lamp.size_m is not None
                or lamp.z_m <= top
            ):
                continue
            seen.add(lamp.item_id)
            beam = beam_of(
                lamp.heater, mesh=lamp.mesh_open if lamp.above_lid else 1.0, beam_deg=lamp.beam_deg
            )
            radius = np.hypot(x - lamp.x_m, y - lamp.y_m)
            per_w = float(np.mean(beam.irradiance(lamp.z_m - top, radius)))
            watts = SOAKED * lamp.strength * lamp.power_w * float(duty) * per_w * length * depth
            lit = prediction.request.item(lamp.item_id)
            total = [had + watts * lit.lit_at((n + 0.5) / 2) for n, had in enumerate(total)]
    return tuple(total)


class WaterHeating(NamedTuple):
    """Heaters that hold a pool's water."""

    watts: float
    """All of them together [W]."""
    heaters: int


def heating_for(
    pool_day: PoolWater, aim_c: float, limit_c: float | None = None
) -> WaterHeating | None:
    """The fewest heaters, of the least power sold, that hold the water there all day with a quarter
    to spare, and of which none passes the limit when it sticks; where that cannot be, the fewest
    that hold it; None where none do.
    """
    enough: list[WaterHeating] = []
    for count in range(1, HEATERS_MOST + 1):
        for each in SOLD_W:
            total = float(count * each)
            if min(pool_day.with_heater(0.8 * total, aim_c).water_c) > aim_c - 0.3:
                enough.append(WaterHeating(total, count))
                break
    for found in enough:
        if limit_c is None or stuck_c(pool_day, found) <= limit_c:
            return found
    return enough[0] if enough else None


def stuck_c(pool_day: PoolWater, heating: WaterHeating) -> float:
    """The warmest that the water gets when the thermostat of one heater sticks [°C]."""
    return max(pool_day.with_heater(heating.watts / heating.heaters, None).water_c)


def water_prediction(pool_day: PoolWater) -> Derivation:
    """The need of the water with its derivation."""
    pool = pool_day.pool
    around = pool_day.around
    value = pool_day.day_c
    sd = pool_day.sd_k
    lit = [n for n, on in enumerate(pool_day.lit) if on] or list(range(HALF_HOURS))
    wet = [100 * around.vapour_pa[n] / saturation(around.air_c[n]) for n in lit]
    given = [
        named_value("water", pool.litres, "l"),
        named_value("its surface", pool.surface_m2, "m²"),
        named_value("air above it by day", sum(around.air_c[n] for n in lit) / len(lit), "°C"),
        named_value("humidity of that air", sum(wet) / len(wet), "%"),
        named_value("to the room, through panels and floor", pool.to_room_w_k, "W/K"),
        named_value("to substrate and air around it", pool.to_substrate_w_k, "W/K"),
        named_value("lamps on it, at the most", max(around.beam_w), "W"),
        named_value("lowest of the day", pool_day.lowest_c, "°C"),
        named_value("highest of the day", pool_day.highest_c, "°C"),
    ]
    if pool.heater_w:
        given.append(named_value("heater", pool.heater_w, "W"))
        given.append(named_value("heater, mean over the day", pool_day.day.heater_wh / 24, "W"))
        if pool.held_c is not None:
            given.append(named_value("its thermostat", pool.held_c, "°C"))
    return Derivation(
        value=value,
        unit="°C",
        low=value - Z90 * sd,
        high=value + Z90 * sd,
        method="heat balance of a pool",
        rule=(
            "Mean while lamps are lit, among days alike: air above, evaporation, substrate and"
            " panes around it, lamps on it and its heater."
        ),
        inputs=tuple(given),
        sources=(_SOURCE,),
        command="plan FILE.json --number /predictions/water_day/value",
        would_change=(
            "A thermometer in it, more than anything. The interval carries the film (×/÷ 1.4), what"
            " surrounds it (×/÷ 1.5), the air and its damp."
        ),
    )
