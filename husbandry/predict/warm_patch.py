"""Is the heated patch as long as the body that lies on it?

One fierce lamp burns the back and leaves the belly cold. Method: docs/methods/heat.md.
"""

import math
from typing import NamedTuple

import numpy as np

from husbandry.climate.slab import CELLS
from husbandry.predict.predict import Prediction
from husbandry.species.profile import Profile

PATCH_NEAR_K = 3.0
"""Where the spot itself is colder than the target range, the patch is what lies within so much of
it (design choice) [K].
"""
ENOUGH = 0.9
"""Of the body's length that must be warmed (design choice) [1]."""
COILED = 0.25
"""A resting snake's extent over its length (common practice) [1]."""


class WarmPatch(NamedTuple):
    """A warm patch on a surface."""

    length_m: float
    depth_m: float
    slab_m: float
    """The longer side of what it lies on [m]."""

    @property
    def longest_m(self) -> float:
        """The way an animal would lie [m]."""
        return max(self.length_m, self.depth_m)


def trunk_m(profile: Profile, length_m: float) -> float:
    """The part of a body that has to be warmed: without its tail, and a snake as it rests [m]."""
    if profile.group == "snake":
        return COILED * length_m
    own = profile.grown.length_mm[profile.body.length_kind]
    trunk = profile.grown.length_mm.get("snout_vent")
    return length_m if trunk is None else length_m * trunk.typical / own.typical


def patch_of(prediction: Prediction, low_c: float) -> WarmPatch | None:
    """The patch around the hottest spot that is at least that warm; None where nothing is warmed,
    or for a climber on its branch.
    """
    number = prediction.basking_slab
    if number is None or prediction.position.perch is not None:
        return None
    slab = prediction.day.heat_model.slabs[number]
    temps = prediction.day.surface_map(number)
    spot = prediction.day.value(prediction.day.surface(number))
    warm = temps >= (low_c if spot >= low_c else spot - PATCH_NEAR_K)
    i, k = np.unravel_index(int(np.argmax(temps)), temps.shape)
    along = _run(warm[:, k], int(i))
    across = _run(warm[i, :], int(k))
    return WarmPatch(
        along * slab.length_m / CELLS,
        across * slab.depth_m / CELLS,
        max(slab.length_m, slab.depth_m),
    )


def _run(warm: "np.ndarray[tuple[int, ...], np.dtype[np.bool_]]", at: int) -> int:
    """Cells in a row that are warm, around one."""
    if not warm[at]:
        return 0
    low = high = at
    while low > 0 and warm[low - 1]:
        low -= 1
    while high < len(warm) - 1 and warm[high + 1]:
        high += 1
    return high - low + 1


def lamps_in_a_row(patch: WarmPatch, body_m: float) -> int:
    """How many such patches side by side are as long as the body."""
    return max(math.ceil(ENOUGH * body_m / max(patch.longest_m, 0.02)), 1)
