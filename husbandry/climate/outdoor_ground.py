"""How warm the ground outdoors gets through a day, in the sun and in the shade.

Method: docs/methods/outdoors.md.
"""

from dataclasses import dataclass
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray
from scipy.linalg import solve_banded

from husbandry.climate.air import STEFAN_BOLTZMANN_W_M2K4, ZERO_C_K

Array = NDArray[np.float64]
STEP_S, STEPS = 600.0, 144
"""A step, and how many a day has (design choice) [s, 1]."""
ALIKE_DAYS = 6
"""Days alike before the one that is told: by then the ground repeats itself to 0.1 K (checked by
tests/husbandry/forecast/test_outdoor_day.py) [1].
"""
FIRST_LAYER_M, GROWS, LAYERS = 0.005, 1.35, 16
"""Thickness of the uppermost layer, each below so much thicker, and how many: 1.7 m, which no day
reaches (design choice) [m, 1, 1].
"""
GROUND_EMISSIVITY = 0.95
"""Of soil, grass and stone (from memory: textbook tables) [1]."""
SHADE_PASSES = 0.12
"""Of sun and sky that still falls into the shade of a roof or a shrub (design choice) [1]."""


@dataclass(frozen=True)
class Ground:
    """What the pen's ground is of."""

    slug: str
    label: str
    absorptivity: float
    """For sunlight [1]."""
    conductivity_w_mk: float
    heat_j_m3k: float
    """Heat that a cubic metre takes up [J/m³K]."""
    evaporates: float
    """Share of the net radiation that leaves as vapour [1]."""


GROUNDS = {
    one.slug: one
    for one in (
        Ground("grass", "grass", 0.77, 0.6, 1.8e6, 0.6),
        Ground("soil", "bare soil, a little moist", 0.80, 0.8, 1.8e6, 0.3),
        Ground("sand", "dry sand", 0.65, 0.3, 1.25e6, 0.0),
        Ground("stone", "stone slabs", 0.75, 2.2, 2.2e6, 0.0),
    )
}
"""Absorptivity of grass: albedo 0.23 of FAO-56's reference grass (from memory); what evaporates: Bowen
ratios of 0.4 to 0.6 over watered grass, two over drying soil (from memory, textbooks of
micrometeorology); the others as in the tables of materials.
"""


SLAB = Ground("slab", "a dark flat stone to bask on", 0.88, 2.0, 2.16e6, 0.0)
SLAB_M = 0.04
"""Slate of that thickness on the pen's ground (design choice) [m]."""


class OutdoorForcing(NamedTuple):
    """What acts on the ground in each step of a day; arrays of `STEPS`."""

    air_c: Array
    sky_c: Array
    """Temperature at which the sky radiates [°C]."""
    sun_w_m2: Array
    """Sun and sky on level ground [W/m²]."""
    wind_m_s: float


def film_w_m2k(wind_m_s: float) -> float:
    """Heat to the air per kelvin, by wind at the ground [W/m²K].

    McAdams: 5.7 + 3.8 v up to 5 m/s (from memory).
    """
    return 5.7 + 3.8 * wind_m_s


def sky_c(air_c: Array, cloud: float) -> Array:
    """Temperature at which the sky radiates [°C].

    Clear: 0.0552 T^1.5 in kelvins (Swinbank 1963, from memory); a closed cover radiates nearly as the
    air near the ground does.

    Parameters
    ----------
    cloud : float
        Share of the sky that is covered [1].
    """
    clear = 0.0552 * (air_c + ZERO_C_K) ** 1.5 - ZERO_C_K
    return np.asarray(clear + 0.85 * cloud * (air_c - clear))


def ground_course(
    ground: Ground, forcing: OutdoorForcing, *, shaded: bool = False, slab: bool = False
) -> Array:
    """Temperatures of the ground's face through a day among days alike [°C], shape (STEPS,).

    One dimension, implicit in time; the face's balance holds sun, sky, wind and vapour.

    Parameters
    ----------
    shaded : bool
        Under a roof or a shrub, which is as warm as the air.
    slab : bool
        Under a dark flat stone: the face is the stone's.
    """
    top = SLAB if slab else ground
    thick = FIRST_LAYER_M * GROWS ** np.arange(LAYERS)
    in_slab = slab & (np.cumsum(thick) <= SLAB_M + thick)
    conducts = np.where(in_slab, SLAB.conductivity_w_mk, ground.conductivity_w_mk)
    between = 2 / (thick[:-1] / conducts[:-1] + thick[1:] / conducts[1:])
    holds = np.where(in_slab, SLAB.heat_j_m3k, ground.heat_j_m3k) * thick / STEP_S
    film = film_w_m2k(forcing.wind_m_s)
    sun = forcing.sun_w_m2 * top.absorptivity * (SHADE_PASSES if shaded else 1.0)
    around = forcing.air_c if shaded else forcing.sky_c
    band = np.zeros((3, LAYERS))
    band[0, 1:] = -between
    band[2, :-1] = -between
    band[1] = holds
    band[1, :-1] += between
    band[1, 1:] += between
    band[1, 0] += film
    # From one step to the next only what the face radiates is another: one element of the matrix.
    inverse = solve_banded((1, 1), band, np.eye(LAYERS))
    temps = np.full(LAYERS, float(forcing.air_c.mean()))
    face = np.zeros(STEPS)

    for _ in range(ALIKE_DAYS):
        for n in range(STEPS):
            mean_k = (temps[0] + around[n]) / 2 + ZERO_C_K
            radiates = 4 * GROUND_EMISSIVITY * STEFAN_BOLTZMANN_W_M2K4 * mean_k**3
            net = sun[n] + radiates * (around[n] - temps[0])
            vapour = top.evaporates * max(net, 0.0)

            right = holds * temps
            right[0] += sun[n] - vapour + film * forcing.air_c[n] + radiates * around[n]
            temps = inverse @ right
            temps -= inverse[:, 0] * (radiates * temps[0] / (1 + radiates * inverse[0, 0]))
            face[n] = temps[0]

    return face
