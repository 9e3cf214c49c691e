"""Heat mats between the floor panel and the substrate: how their heat finds its way up, down and
sideways.

At each place above a mat the heat meets three ways at once: up through the substrate into what lies
on it, down through the panel into the room, and sideways into the substrate around (a fin). The
mat's own node has no mass worth counting and is eliminated exactly: its heat is shared among the
three ends in proportion to their conductances, and the ends are linked with each other in its place.
"""

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from husbandry.climate.heat_model import BASE_FILM_M2K_W, HeatModel, HeatSource
from husbandry.climate.slab import CELLS, HeatedSlab

Array = NDArray[np.float64]

FREE_FACE_W_M2K = 10.5
"""Convection and radiation together from warm substrate (source: heat 2), for how far a mat's
warmth reaches sideways [W/m²K].
"""


@dataclass(frozen=True)
class WaysOut:
    """Conductances from a mat per area of it [W/m²K]."""

    up: float
    """To the node that lies on the substrate above it."""
    down: float
    """To the room: through the panel below it, and through the panel around it."""
    aside: float
    """To the face of the substrate around it."""

    @property
    def total(self) -> float:
        """All of them [W/m²K]."""
        return self.up + self.down + self.aside


def shared_m2(slab: HeatedSlab, mat: HeatSource) -> float:
    """Area that a mat shares with what lies on the substrate above it [m²]."""
    if mat.size_m is None or slab.stands_free:
        return 0.0
    long, deep = mat.size_m
    along = _shared_m(slab.x_m, slab.length_m, mat.x_m, long)
    across = _shared_m(slab.y_m, slab.depth_m, mat.y_m, deep)
    return along * across


def _shared_m(middle_m: float, side_m: float, other_middle_m: float, other_side_m: float) -> float:
    """Length that two stretches share [m]."""
    apart = abs(middle_m - other_middle_m)
    reach = (side_m + other_side_m) / 2
    shorter = min(side_m, other_side_m)
    return min(max(reach - apart, 0.0), shorter)


def down_w_m2k(heat_model: HeatModel) -> float:
    """From the underside of the substrate to the room [W/m²K]."""
    panel = heat_model.panels.bottom
    return 1 / (panel.thickness_m / panel.conductivity_w_mk + BASE_FILM_M2K_W)


def _above_w_m2k(heat_model: HeatModel) -> float:
    """From the middle of the substrate to the air above it [W/m²K]."""
    depth = heat_model.interior.substrate_depth_m
    return 1 / (1 / FREE_FACE_W_M2K + depth / heat_model.substrate.conductivity_w_mk / 2)


def reach_m(heat_model: HeatModel) -> float:
    """How far a mat's warmth reaches sideways: the length of a fin of substrate and panel [m]."""
    panel = heat_model.panels.bottom
    depth = heat_model.interior.substrate_depth_m
    substrate = heat_model.substrate.conductivity_w_mk
    sheet = substrate * depth + panel.conductivity_w_mk * panel.thickness_m
    return math.sqrt(sheet / (_above_w_m2k(heat_model) + down_w_m2k(heat_model)))


def _aside_w_m2k(heat_model: HeatModel, size_m: tuple[float, float]) -> float:
    """To the substrate around a mat, per area of it: its girth times the slope of a fin [W/m²K]."""
    panel = heat_model.panels.bottom
    depth = heat_model.interior.substrate_depth_m
    sheet = (
        heat_model.substrate.conductivity_w_mk * depth
        + panel.conductivity_w_mk * panel.thickness_m
    )
    girth = 2 * (size_m[0] + size_m[1])
    return sheet / reach_m(heat_model) * girth / (size_m[0] * size_m[1])


def ways_out(heat_model: HeatModel, slab: HeatedSlab, mat: HeatSource) -> WaysOut:
    """The ways from a mat that lies under a slab, or under a patch of bare substrate."""
    if mat.size_m is None:
        return WaysOut(0.0, 0.0, 0.0)
    between = sum(
        layer.contact_m2k_w + layer.thickness_m / layer.conductivity_w_mk
        for layer in slab.below[:-1]
    )
    down = down_w_m2k(heat_model)
    above = _above_w_m2k(heat_model)
    aside = _aside_w_m2k(heat_model, mat.size_m)
    return WaysOut(
        1 / max(between, 1e-4),
        down + aside * down / (above + down),
        aside * above / (above + down),
    )


def _spread(from_middle_m: Array, half_m: float, far_m: float) -> Array:
    """How the warmth of a strip falls towards its ends and stays nil beyond them [1]."""
    inside = np.minimum(np.abs(from_middle_m), half_m)
    fall = np.cosh(inside / far_m) / math.cosh(half_m / far_m)
    return np.asarray(1 - fall)


def peak_map(heat_model: HeatModel, slab: HeatedSlab, mat: HeatSource, film_w_m2k: float) -> Array:
    """How far the middle over a mat lies above the mean of what is over it [K/W], shape (CELLS,
    CELLS): warmth leaves by the edges, so that the middle is warmest.
    """
    found = np.zeros((CELLS, CELLS))
    if mat.size_m is None or shared_m2(slab, mat) <= 0:
        return found
    own = slab.thickness_m / slab.conductivity_w_mk
    ways = ways_out(heat_model, slab, mat)
    up = 1 / (1 / ways.up + own + 1 / film_w_m2k)
    long, deep = mat.size_m
    upward = up / (up + down_w_m2k(heat_model))
    rise = upward / film_w_m2k / (long * deep)
    far = reach_m(heat_model)
    x, y = slab.cells()
    along = _spread(x - mat.x_m, long / 2, far)
    across = _spread(y - mat.y_m, deep / 2, far)
    shape = np.maximum(along, 0)[:, None] * np.maximum(across, 0)[None, :]
    return np.asarray(rise * (shape - shape.mean()))
