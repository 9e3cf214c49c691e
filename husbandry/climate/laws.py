"""The model's own choices: its grid, its films, its mixing, its lobe.

What an enclosure is made of is in `heat_model`.
"""

import math
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from husbandry.climate.air import plate_convection

Array = NDArray[np.float64]
Lobe = Callable[[float], Callable[[Array], Array]]
"""From a full beam angle at half maximum [°] to the intensity by the cosine of the angle to the
axis [1/sr]: one watt into the half-space.
"""


def lobe_exponent_of(beam_deg: float) -> float:
    """Exponent of the cosine lobe of that full beam angle at half maximum [1]."""
    return math.log(0.5) / math.log(math.cos(math.radians(beam_deg) / 2))


def cosine_lobe(beam_deg: float) -> Callable[[Array], Array]:
    """I(θ) = (m + 1)/(2π) cosᵐθ."""
    m = lobe_exponent_of(beam_deg)
    return lambda cosine: np.asarray((m + 1) / (2 * math.pi) * cosine**m)


@dataclass(frozen=True)
class ModelConstants:
    """Numbers and shapes of the heat model that are nobody's measurement: docs/methods/heat.md says
    where each is from.

    Tests solve enclosures by other laws than these, to see what readings can mend.
    """

    columns: int = 12
    """Air cells along the length."""
    rows: int = 4
    """Air cells in the height."""
    wall_film_w_m2k: float = 2.5
    ceiling_film_w_m2k: float = 5.0
    floor_film_w_m2k: float = 2.5
    mixing_lengthwise: float = 0.015
    mixing_upright: float = 0.004
    """Empirical shares of buoyant mixing, tuned to common practice; wide prior (x/÷ 1.8)."""
    wall_catch: float = 0.4
    """Share of beam that misses floor and slabs and is absorbed by a wall at first strike [1]."""
    plume_rows: int | None = None
    """How many of the lowest rows a warm face feeds; None: the whole column, as a plume does.

    The bottom cell alone comes out too hot.
    """
    plate: Callable[[float, float, float], float] = plate_convection
    """Convection of a warm face that looks up: its temperature, the air's [°C], its characteristic
    length [m] → [W/m²K].
    """
    lobe: Lobe = cosine_lobe


LAWS = ModelConstants()
