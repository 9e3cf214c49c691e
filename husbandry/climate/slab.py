"""The temperature map of a basking slab: exact steady conduction under a lamp's uneven beam.

A slab of stone (or the top of the substrate itself) takes up the beam unevenly, spreads it
sideways, gives it to the air above and to what
lies beneath. By cosine modes each pattern of the beam meets its own resistance; the uniform mode is
the network's own node, so the map's
mean equals the network's slab temperature, and what this module adds is how far each point lies
above that mean.
"""

import functools
import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from husbandry.derivation import Source
from husbandry.methods import Argument, Example, method

Array = NDArray[np.float64]
CELLS = 24
"""Cells along each side of the map. 48 moves the peak of the checks by less than 0.05 K (checked
by tests/husbandry/climate/test_beam_and_slab.py).
"""
SPOT_M = 0.05
"""Across the hottest spot that counts as "the surface" (design choice: the spot of an infrared
thermometer) [m].
"""


@dataclass(frozen=True)
class SlabLayer:
    """One layer below the slab, from above: a thickness that conducts, or a contact."""

    conductivity_w_mk: float
    thickness_m: float
    contact_m2k_w: float = 0.0
    """Resistance of the joint on top of this layer [m²K/W]."""


@dataclass(frozen=True)
class HeatedSlab:
    """A flat body under a lamp.

    `x_m`, `y_m` is its middle, `top_m` the height of its upper face in the enclosure.
    """

    x_m: float
    y_m: float
    top_m: float
    length_m: float
    depth_m: float
    thickness_m: float
    conductivity_w_mk: float
    density_kg_m3: float
    heat_capacity_j_kgk: float
    absorptivity_light: float
    emissivity: float
    below: tuple[SlabLayer, ...]
    """What it lies on, from above; empty when it stands free."""
    base_film_w_m2k: float
    """Film under the last layer [W/m²K]."""
    item_id: str = ""
    is_substrate: bool = False
    """The substrate's own surface under a lamp, where nothing lies."""
    is_perch: bool = False
    """A branch: a climber's surface, and narrow enough to shade nothing below it."""

    cover_m2k_w: float = 0.0
    """What stands over its face, such as a hide [m²K/W]."""

    def passes(self, film_w_m2k: float) -> float:
        """Share of a film that is left by what stands over its face [1]."""
        return 1 / (1 + self.cover_m2k_w * film_w_m2k)

    @property
    def stands_free(self) -> bool:
        """It has air below it."""
        return not self.below

    @property
    def area_m2(self) -> float:
        """Of the upper face [m²]."""
        return self.length_m * self.depth_m

    @property
    def char_length_m(self) -> float:
        """Area over perimeter [m]."""
        return self.area_m2 / (2 * (self.length_m + self.depth_m))

    def cells(self) -> tuple[Array, Array]:
        """Middles of the map's cells along x and y, in the enclosure's coordinates [m]."""
        unit = (np.arange(CELLS) + 0.5) / CELLS - 0.5
        return self.x_m + unit * self.length_m, self.y_m + unit * self.depth_m


def admittance(wave_1_m: Array, slab: HeatedSlab) -> Array:
    """Conductance from the slab's upper face downwards for each wave number [W/m²K].

    The chain is walked from the base film up: a layer of conductivity k and thickness t over a
    conductance U shows
    k λ (k λ tanh λt + U) / (k λ + U tanh λt), and U / (1 + t U / k) for the uniform mode.
    """
    upwards = np.full_like(wave_1_m, slab.base_film_w_m2k)
    own = SlabLayer(slab.conductivity_w_mk, slab.thickness_m)
    for layer in (*reversed(slab.below), own):
        k = layer.conductivity_w_mk
        t = layer.thickness_m
        with np.errstate(divide="ignore", invalid="ignore"):
            tanh = np.tanh(wave_1_m * t)
            waved = (
                k * wave_1_m * (k * wave_1_m * tanh + upwards) / (k * wave_1_m + upwards * tanh)
            )
        upwards = np.where(wave_1_m * t < 1e-6, upwards / (1 + t * upwards / k), waved)
        if layer.contact_m2k_w:
            upwards = upwards / (1 + layer.contact_m2k_w * upwards)

    return np.asarray(upwards)


def wave_numbers(slab: HeatedSlab) -> Array:
    """Wave number of each cosine mode of the map [1/m], shape (CELLS, CELLS)."""
    i = np.pi * np.arange(CELLS) / slab.length_m
    j = np.pi * np.arange(CELLS) / slab.depth_m
    return np.asarray(np.hypot(i[:, None], j[None, :]))


@functools.cache
def cosines(count: int) -> Array:
    """The orthonormal cosine transform of so many cells, mode by cell; its inverse is its transpose.

    Two products of matrices so small take a fifth of the time of a fast transform.
    """
    mode, cell = np.arange(count)[:, None], np.arange(count)[None, :]
    waves = math.sqrt(2 / count) * np.cos(np.pi * (cell + 0.5) * mode / count)
    waves[0] /= math.sqrt(2)

    return np.asarray(waves)


@functools.lru_cache(maxsize=256)
def _admittances(slab: HeatedSlab) -> Array:
    """Of all modes of a slab: they depend on nothing else, and a search asks for them again and
    again.
    """
    return admittance(wave_numbers(slab), slab)


def excess_map(absorbed_w_m2: Array, slab: HeatedSlab, film_w_m2k: float) -> Array:
    """How far each point of the face lies above the slab's mean [K], in the shape of the flux.

    Parameters
    ----------
    absorbed_w_m2 : array
        Absorbed flux of each cell [W/m²], shape (CELLS, CELLS); or of several lamps at once, shape
        (lamps, CELLS, CELLS).
    film_w_m2k : float
        Convection and radiation from the face, together [W/m²K].
    """
    along, across = (cosines(count) for count in absorbed_w_m2.shape[-2:])
    modes = along @ absorbed_w_m2 @ across.T
    modes /= film_w_m2k + _admittances(slab)
    modes[..., 0, 0] = 0.0  # the uniform part belongs to the network

    return np.asarray(along.T @ modes @ across)


def spot_weights(slab: HeatedSlab, field: Array, spot_m: float) -> Array:
    """Weights of the cells in the hottest round spot of that diameter, summing to 1; shape (CELLS,
    CELLS).
    """
    # Warmed evenly, as by a mat from below, it has no hottest spot: its middle stands for it.
    i, j = (
        np.unravel_index(int(field.argmax()), field.shape)
        if field.any()
        else (CELLS // 2, CELLS // 2)
    )
    x = (np.arange(CELLS) - i) * slab.length_m / CELLS
    y = (np.arange(CELLS) - j) * slab.depth_m / CELLS
    inside = (np.hypot(x[:, None], y[None, :]) <= spot_m / 2).astype(float)

    return np.asarray(inside / inside.sum())


@method(
    arguments={
        "reading_c": Argument("°C", -20, 150),
        "emissivity_set": Argument("1", 0.1, 1),
        "emissivity": Argument("1", 0.1, 1),
        "surroundings_c": Argument("°C", -20, 80),
    },
    unit="°C",
    rule=(
        "An infrared thermometer set to ε_set reads T_gun with ε_set T_gun⁴ = ε T⁴ + (ε_set − ε)"
        " T_sur⁴ (kelvin): solved for T."
    ),
    source=Source(kind="published", text="Stefan–Boltzmann law for a grey surface"),
    example=Example(
        {"reading_c": 44.13, "emissivity_set": 0.95, "emissivity": 0.90, "surroundings_c": 27},
        45.0,
        0.02 / 45,
        "grey-body arithmetic",
    ),
)
def surface_from_infrared(
    reading_c: float, emissivity_set: float, emissivity: float, surroundings_c: float
) -> float:
    """The true temperature of a surface from an infrared thermometer set to another emissivity
    [°C].
    """
    zero = 273.15
    fourth = (
        emissivity_set * (reading_c + zero) ** 4
        - (emissivity_set - emissivity) * (surroundings_c + zero) ** 4
    ) / emissivity

    return float(math.copysign(abs(fourth) ** 0.25, fourth) - zero)
