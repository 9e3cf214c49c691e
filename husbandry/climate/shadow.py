"""What stands between a lamp and a place: the share of the direct rays that bodies in the enclosure
let through. Method: docs/methods/uv.md.
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]

FOLIAGE_PASSES = 0.3
"""Of direct rays through a plant of the density that keepers plant (common practice: a third of the
sky is seen through it) [1].
"""


@dataclass(frozen=True)
class ShadowBody:
    """A body as an enclosure with sides along the axes [m]."""

    low: tuple[float, float, float]
    high: tuple[float, float, float]
    passes: float = 0.0
    """Share of the direct rays that go through it [1]."""


def could_be_shaded(
    z_m: Array, lamp_z_m: float, blockers: Sequence[ShadowBody]
) -> NDArray[np.bool_]:
    """Where anything can stand between: not above all bodies, when the lamp hangs above them too."""
    highest = max(blocker.high[2] for blocker in blockers)
    return np.asarray(z_m < highest) if lamp_z_m >= highest else np.ones(np.shape(z_m), dtype=bool)


def seen(
    place: tuple[Array | float, Array | float, Array | float],
    lamp: tuple[Array | float, float, float],
    blockers: Sequence[ShadowBody],
) -> Array:
    """Share of the rays from a point of a lamp that reach each place [1]; a place inside a body
    sees through that body too.

    Parameters
    ----------
    place : three arrays of one shape, or numbers
        x, y, z [m].
    lamp : tuple
        x, y, z [m]; x may be a column of several points, for a row of shares each.
    """
    shape = np.broadcast_shapes(*(np.shape(p) for p in place), np.shape(lamp[0]))
    share = np.ones(shape)
    ways = []

    for p, end in zip(place, lamp, strict=True):
        way = np.asarray(end - np.asarray(p, dtype=np.float64))
        ways.append((p, np.where(np.abs(way) < 1e-12, 1e-12, way)))

    for blocker in blockers:
        enter: Array | float = 0.0
        leave: Array | float = 1.0

        for (p, way), low, high in zip(ways, blocker.low, blocker.high, strict=True):
            one = (low - p) / way
            other = (high - p) / way
            enter = np.maximum(enter, np.minimum(one, other))
            leave = np.minimum(leave, np.maximum(one, other))
        share *= np.where(leave - enter > 1e-9, blocker.passes, 1.0)

    return share
