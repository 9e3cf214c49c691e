"""What stands between a lamp and a place: the share of the direct rays that bodies in the box let through. Method: docs/methods/uv.md."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]

FOLIAGE_PASSES = 0.3
"""Of direct rays through a plant of the density that keepers plant (common practice: a third of the sky is seen through it) [1]."""


@dataclass(frozen=True)
class Blocker:
    """A body as a box with sides along the axes [m]."""

    low: tuple[float, float, float]
    high: tuple[float, float, float]
    passes: float = 0.0
    """Share of the direct rays that go through it [1]."""


def seen(
    place: tuple[Array | float, Array | float, Array | float], lamp: tuple[float, float, float], blockers: Sequence[Blocker]
) -> Array:
    """Share of the rays from a point of a lamp that reach each place [1]; a place inside a body sees through that body too.

    Parameters
    ----------
    place : three arrays of one shape, or numbers
        x, y, z [m].
    """
    start = np.broadcast_arrays(*(np.asarray(p, dtype=np.float64) for p in place))
    share = np.ones(start[0].shape)
    for blocker in blockers:
        enter, leave = np.zeros(share.shape), np.ones(share.shape)
        for p, end, low, high in zip(start, lamp, blocker.low, blocker.high, strict=True):
            way = end - p
            way = np.where(np.abs(way) < 1e-12, 1e-12, way)
            one, other = (low - p) / way, (high - p) / way
            enter = np.maximum(enter, np.minimum(one, other))
            leave = np.minimum(leave, np.maximum(one, other))
        share = np.where(leave - enter > 1e-9, share * blocker.passes, share)
    return np.asarray(share)
