"""The water of a hidden enclosure: another film, other panes and another damp over it than the
model believes.
"""

import math
from dataclasses import replace

import numpy as np

from husbandry.climate.pool_heat import water_day
from husbandry.predict.pool_water import FILM_LN, SIDE_LN, PoolWater
from husbandry.simulation.truth import WITHIN


def water_c(believed: PoolWater, seed: int) -> float:
    """What is true of the water by day: drawn by the seed, the same whatever heats it [°C]."""
    draw = np.random.default_rng([seed, 17])
    film, sides = (
        math.exp(ln * float(np.clip(draw.standard_normal(), -WITHIN, WITHIN)))
        for ln in (FILM_LN, SIDE_LN)
    )
    pool = replace(
        believed.pool,
        film_w_m2k=believed.pool.film_w_m2k * film,
        to_substrate_w_k=believed.pool.to_substrate_w_k * sides,
        to_room_w_k=believed.pool.to_room_w_k * sides,
    )
    return replace(believed, day=water_day(pool, believed.around)).day_c
