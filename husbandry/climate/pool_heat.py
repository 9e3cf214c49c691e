"""How warm the water of a pool is through its day: air above, evaporation, substrate and panes
around it, lamps on it, a heater in it.

Half-hour steps with frozen coefficients, each solved exactly, until days are alike. Method:
docs/methods/water.md.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass

from husbandry.climate.moisture import (
    LATENT_J_KG,
    RADIANT_FILM_W_M2K,
    STILL_FILM_W_M2K,
    saturation,
    vapour_transfer,
)
from husbandry.climate.vapour import GAS_VAPOUR_J_KGK
from husbandry.derivation import Source
from husbandry.methods import Argument, Example, method

WATER_J_LK = 4174.0
"""Heat of a litre of water at 25 °C (CRC Handbook of Chemistry and Physics; from memory) [J/lK]."""
WATER_FILM_M2K_W, OUTER_FILM_M2K_W = 0.01, 0.13
"""Of water at its wall, and of the room's air outside (textbooks; from memory)."""
ALIKE_K, MOST_DAYS = 0.005, 40
"""Days alike are run until the water moves by less from one to the next; so many at the most
(design choice) [K, days].
"""
_SOURCE = Source(
    kind="from memory",
    text=(
        "heat balance of open water: textbooks of heat and mass transfer, ASHRAE Handbook on pools"
    ),
)


@dataclass(frozen=True)
class PoolBody:
    """What decides how a pool takes up heat and gives it off."""

    litres: float
    surface_m2: float
    to_substrate_w_k: float
    """Through its sides and bottom into the substrate of the enclosure, which keeps the mean of the
    day's air [W/K].
    """
    to_room_w_k: float
    """Through panes that it touches, and through the floor [W/K]."""
    film_w_m2k: float = STILL_FILM_W_M2K
    heater_w: float = 0.0
    held_c: float | None = None
    """At which its thermostat holds the heater; None: it is always on [°C]."""


@dataclass(frozen=True)
class PoolSurroundings:
    """What acts on it at each step of a day; all of one length."""

    step_s: float
    air_c: Sequence[float]
    vapour_pa: Sequence[float]
    room_c: Sequence[float]
    beam_w: Sequence[float]
    """That lamps lay into the water [W]."""


@dataclass(frozen=True)
class WaterDay:
    """A day of the water among days alike."""

    water_c: tuple[float, ...]
    """At the end of each step."""
    heater_wh: float
    """That its heater gave in the day."""


def _evaporation_w_pa(temp_c: float, film_w_m2k: float) -> float:
    """Heat that evaporation takes for each pascal between saturation and the air [W/m²Pa]."""
    return vapour_transfer(film_w_m2k) * LATENT_J_KG / (GAS_VAPOUR_J_KGK * (temp_c + 273.15))


def water_day(pool: PoolBody, around: PoolSurroundings) -> WaterDay:
    """The water through its day.

    Notes
    -----
    Evaporation is made linear about the step's first temperature, so a step is one exponential. A
    heater with a thermostat gives what holds the set
    point over the step, up to its power.
    """
    substrate_c = sum(around.air_c) / len(around.air_c)
    above = (pool.film_w_m2k + RADIANT_FILM_W_M2K) * pool.surface_m2
    capacity = pool.litres * WATER_J_LK
    temp = substrate_c
    values = [0.0] * len(around.air_c)
    given = 0.0
    for _ in range(MOST_DAYS):
        first = temp
        given = 0.0
        for n, (air, vapour, room, beam) in enumerate(
            zip(around.air_c, around.vapour_pa, around.room_c, around.beam_w, strict=True)
        ):
            wet = _evaporation_w_pa(temp, pool.film_w_m2k) * pool.surface_m2
            slope = 10 * (saturation(temp + 0.05) - saturation(temp - 0.05))
            loss = above + pool.to_substrate_w_k + pool.to_room_w_k + wet * slope
            gain = (
                above * air + pool.to_substrate_w_k * substrate_c + pool.to_room_w_k * room + beam
            )
            gain += wet * (vapour - saturation(temp) + slope * temp)
            stays = math.exp(-loss * around.step_s / capacity)
            after = gain / loss + (temp - gain / loss) * stays
            if pool.heater_w:
                rise_per_w = (1 - stays) / loss
                needed = (
                    pool.heater_w if pool.held_c is None else (pool.held_c - after) / rise_per_w
                )
                power = min(max(needed, 0.0), pool.heater_w)
                after += power * rise_per_w
                given += power * around.step_s / 3600
            temp = values[n] = after
        if abs(temp - first) < ALIKE_K:
            break
    return WaterDay(tuple(values), given)


@method(
    arguments={
        "surface_m2": Argument("m²", 0.001, 100),
        "other_w_k": Argument("W/K", 0, 1000),
        "water_c": Argument("°C", 0, 40),
        "air_c": Argument("°C", -10, 50),
        "rh_pct": Argument("%", 0, 100),
        "room_c": Argument("°C", -10, 50),
    },
    unit="W",
    rule=(
        "(3 + 5 W/m²K) × surface × (water − air) + evaporation by the Lewis relation × latent heat"
        " + conductance to the room × (water − room); not below 0."
    ),
    source=_SOURCE,
    example=Example(
        {
            "surface_m2": 0.36,
            "other_w_k": 6.5,
            "water_c": 25,
            "air_c": 21,
            "rh_pct": 70,
            "room_c": 20,
        },
        69.7,
        0.01,
        "arithmetic: 11.5 + 25.7 + 32.5 W; common practice: half a watt to one for each litre of a"
        " tank at 5 K over its room",
    ),
    validity="In steady state. A cover over half of the surface halves the first two parts.",
)
def water_heater_w(
    surface_m2: float, other_w_k: float, water_c: float, air_c: float, rh_pct: float, room_c: float
) -> float:
    """Power that holds open water at a temperature, in steady state [W]."""
    vapour = rh_pct / 100 * saturation(air_c)
    above = (STILL_FILM_W_M2K + RADIANT_FILM_W_M2K) * surface_m2 * (water_c - air_c)
    wet = (
        _evaporation_w_pa(water_c, STILL_FILM_W_M2K) * surface_m2 * (saturation(water_c) - vapour)
    )
    return max(above + wet + other_w_k * (water_c - room_c), 0.0)


PANE_M2K_W = WATER_FILM_M2K_W + 0.006 / 1.0 + OUTER_FILM_M2K_W
"""Water at its wall, six millimetres of glass, the room's air outside (textbooks; from memory)
[m²K/W].
"""
UNDER_LID_PCT = 80.0
"""Over a tank with a lid (common practice) [%]."""


@method(
    arguments={
        "length_m": Argument("m", 0.1, 10),
        "depth_m": Argument("m", 0.1, 10),
        "water_m": Argument("m", 0.02, 3),
        "water_c": Argument("°C", 5, 40),
        "room_c": Argument("°C", 0, 40),
    },
    unit="W",
    rule=(
        "(2 (length + depth) × height of the water + floor) ÷ 0.146 m²K/W × (water − room), and its"
        " surface under a lid: air half way between, 80 % damp."
    ),
    source=_SOURCE,
    example=Example(
        {"length_m": 1.0, "depth_m": 0.4, "water_m": 0.3, "water_c": 25, "room_c": 20},
        69.8,
        0.01,
        "arithmetic: 42.5 W through panes and floor, 8.0 W to the air, 19.4 W of vapour",
    ),
    validity=(
        "Glass on all sides, a lid on top; buy half as much again, and two of half the power are"
        " safer than one."
    ),
)
def tank_heater_w(
    length_m: float, depth_m: float, water_m: float, water_c: float, room_c: float
) -> float:
    """Power that holds the water of a glass tank under a lid, in steady state [W]."""
    faces = 2 * (length_m + depth_m) * water_m + length_m * depth_m
    return water_heater_w(
        length_m * depth_m,
        faces / PANE_M2K_W,
        water_c,
        (water_c + room_c) / 2,
        UNDER_LID_PCT,
        room_c,
    )
