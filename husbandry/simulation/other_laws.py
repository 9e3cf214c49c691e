"""An enclosure that is really otherwise: a finer grid, another convection, another lobe, plumes
that stay low. What simulated devices measure in.

Numbers are design choices within what textbooks allow; the model does not know them.
"""

import math
from collections.abc import Callable

import numpy as np
from numpy.typing import NDArray

from husbandry.climate.laws import ModelConstants

Array = NDArray[np.float64]


def bell_lobe(beam_deg: float) -> Callable[[Array], Array]:
    """A bell over the angle that falls to half at half the beam angle, with a skirt of a tenth: not
    a cosine's power.
    """
    half = math.radians(beam_deg) / 2

    def shape(theta: Array) -> Array:
        return np.asarray(
            0.9 * np.exp(-math.log(2) * np.square(theta / half)) + 0.1 * np.cos(theta)
        )

    theta = np.asarray((np.arange(2000) + 0.5) * (math.pi / 2 / 2000), dtype=np.float64)
    whole = float((shape(theta) * np.sin(theta)).sum() * 2 * math.pi * (math.pi / 2 / 2000))
    return lambda cosine: np.asarray(shape(np.arccos(np.clip(cosine, -1, 1))) / whole)


def root_plate(surface_c: float, air_c: float, char_length_m: float) -> float:
    """Convection by the fourth root of the difference alone (engineering rule for warm plates, from
    memory) [W/m²K].
    """
    return float(2.4 * max(abs(surface_c - air_c), 0.1) ** 0.25)


OTHER_LAWS = ModelConstants(
    columns=24,
    rows=8,
    wall_film_w_m2k=3.2,
    ceiling_film_w_m2k=4.0,
    floor_film_w_m2k=3.0,
    mixing_lengthwise=0.013,
    mixing_upright=0.0048,
    wall_catch=0.6,
    plume_rows=4,
    plate=root_plate,
    lobe=bell_lobe,
)
"""The laws of what is really there, where simulated devices measure (design choice)."""
