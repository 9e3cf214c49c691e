"""Labelled contour lines of a field over a grid, in real lengths."""

import math
from dataclasses import dataclass, field

import numpy as np
from contourpy import contour_generator
from numpy.typing import NDArray

Array = NDArray[np.float64]


@dataclass(frozen=True)
class Contour:
    """One line of equal value: points (x, z) in metres, shape (n, 2)."""

    level: float
    points: Array = field(compare=False)


def refine(
    x: Array,
    z: Array,
    values: Array,
    columns: int,
    rows: int,
    enclosure: tuple[float, float, float, float],
) -> tuple[Array, Array, Array]:
    """Bilinear values on a finer grid that reaches the walls.

    `heat_model` is x0, x1, z0, z1 [m]; `values` has shape (len(x), len(z)).
    """
    fine_x = np.linspace(enclosure[0], enclosure[1], columns)
    fine_z = np.linspace(enclosure[2], enclosure[3], rows)
    along = np.array([np.interp(fine_x, x, values[:, k]) for k in range(len(z))])
    return fine_x, fine_z, np.array([np.interp(fine_z, z, along[:, i]) for i in range(columns)])


def lines(
    x: Array, z: Array, values: Array, levels: list[float], *, shortest_m: float = 0.08
) -> list[Contour]:
    """Contour lines at the levels, leaving out scraps."""
    generator = contour_generator(x, z, values.T)
    found = []
    for level in levels:
        for part in generator.lines(level):
            points = np.asarray(part, dtype=np.float64)
            if len(points) > 1 and float(np.hypot(*np.diff(points, axis=0).T).sum()) >= shortest_m:
                found.append(Contour(level, points))
    return found


def even_levels(low: float, high: float, most: int = 7) -> list[float]:
    """Round levels inside a range: every 1, 2, 5, 10 ... whichever gives no more than `most`."""
    for step in (0.5, 1.0, 2.0, 5.0, 10.0, 20.0):
        first = math.floor(low / step) + 1
        levels = [
            round(n * step, 6)
            for n in range(first, math.ceil(high / step))
            if low < n * step < high
        ]
        if len(levels) <= most:
            return levels
    return []
