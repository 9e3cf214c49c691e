"""The ultraviolet index under a straight tube: a Lambertian line source over a horizontal receiver."""

import math
from statistics import NormalDist

import numpy as np
from numpy.typing import NDArray

from husbandry.derivation import Source
from husbandry.errors import NoSolutionError
from husbandry.methods import Argument, Example, method

Array = NDArray[np.float64]
_GAUSS_X, _GAUSS_W = np.polynomial.legendre.leggauss(10)
MAX_REFLECTOR_GAIN = 2.2
"""A flat strip of the same flux gives π times the bare tube at most; times a fixture's efficiency
of 0.7 (source: uv 2) [1].
"""

_LINE = Source(
    kind="published",
    text=(
        "Lambert's law integrated along a line (worked out in docs/methods/uv.md; equals adaptive"
        " quadrature to 1e-12)"
    ),
)


def line_factor(
    x1_m: Array | float,
    x2_m: Array | float,
    height_m: Array | float,
    sideways_m: Array | float = 0.0,
) -> Array:
    """Geometry factor of a tube along x over a horizontal patch [1/m].

    Parameters
    ----------
    x1_m, x2_m : float or array
        Ends of the lit part, relative to the patch [m].
    height_m : float or array
        Tube axis above the patch [m].
    sideways_m : float or array
        Tube axis beside the patch [m].
    """
    rho2 = np.square(height_m) + np.square(sideways_m)
    rho = np.sqrt(rho2)

    def part(x: Array | float) -> Array:
        return np.asarray(rho * x / (rho2 + np.square(x)) + np.arctan(x / rho))

    return np.asarray(height_m / (2 * rho2) * (part(x2_m) - part(x1_m)))


def line_factor_mesh(
    x1_m: Array, x2_m: Array, height_m: Array, sideways_m: Array | float, wire_share: float
) -> Array:
    """As `line_factor`, seen through a woven mesh: each part of the tube is dimmed by its own angle
    [1/m].

    Gauss–Legendre with 10 points in the angle along the tube; within 0.3 % of adaptive quadrature
    for wire shares up to 0.2.
    """
    h2 = np.square(height_m)
    rho2 = h2 + np.square(sideways_m)
    rho = np.sqrt(rho2)
    start = np.arctan(x1_m / rho)
    end = np.arctan(x2_m / rho)
    middle = (start + end) / 2
    half = (end - start) / 2
    angle = middle[..., None] + half[..., None] * _GAUSS_X
    cos2 = np.square(np.cos(angle))
    tan_along2 = (1 - cos2) / cos2 * (rho2 / h2)[..., None]
    along = np.clip(1 - wire_share * np.sqrt(1 + tan_along2), 0, 1)
    across = np.clip(1 - wire_share * np.sqrt(1 + np.square(sideways_m) / h2), 0, 1)

    return np.asarray(height_m / rho2 * across * ((cos2 * along) @ _GAUSS_W) * half)


@method(
    arguments={
        "length_m": Argument("m", 0.05, 3),
        "height_m": Argument("m", 0.01, 5),
        "offset_x_m": Argument("m", -5, 5),
        "offset_y_m": Argument("m", -5, 5),
    },
    unit="1/m",
    rule="G = h/(2ρ²) [ρx/(ρ²+x²) + atan(x/ρ)] between the tube's ends, ρ² = h² + y²: UVI = K G.",
    source=_LINE,
    example=Example(
        {"length_m": 1.1, "height_m": 0.3, "offset_x_m": 0, "offset_y_m": 0},
        4.97277,
        1e-4,
        "scipy quadrature",
    ),
)
def tube_geometry(
    length_m: float, height_m: float, offset_x_m: float = 0.0, offset_y_m: float = 0.0
) -> float:
    """Geometry factor of a tube over a patch displaced from below its middle [1/m]."""
    half = length_m / 2
    return float(line_factor(-half - offset_x_m, half - offset_x_m, height_m, offset_y_m))


@method(
    arguments={
        "uvi_ref": Argument("UVI", 0, 30),
        "ref_distance_m": Argument("m", 0.05, 2),
        "length_m": Argument("m", 0.05, 3),
        "distance_m": Argument("m", 0.05, 3),
    },
    unit="UVI",
    rule=(
        "UVI below the middle of a tube from one known reading: UVI_ref · G(distance) / G(reference"
        " distance)."
    ),
    source=_LINE,
    example=Example(
        {"uvi_ref": 2.7, "ref_distance_m": 0.3, "length_m": 1.1, "distance_m": 0.3102},
        2.6,
        1e-3,
        "docs/methods/uv.md, inverse of tube_distance",
    ),
)
def tube_uvi(uvi_ref: float, ref_distance_m: float, length_m: float, distance_m: float) -> float:
    """UV index below the middle of a bare tube, horizontal receiver [UVI]."""
    return uvi_ref * tube_geometry(length_m, distance_m) / tube_geometry(length_m, ref_distance_m)


@method(
    arguments={
        "uvi_ref": Argument("UVI", 0.01, 30),
        "ref_distance_m": Argument("m", 0.05, 2),
        "length_m": Argument("m", 0.05, 3),
        "target_uvi": Argument("UVI", 0.01, 30),
    },
    unit="m",
    rule=(
        "The distance at which tube_uvi gives the target, by halving (UVI falls steadily with"
        " distance)."
    ),
    source=_LINE,
    example=Example(
        {"uvi_ref": 2.7, "ref_distance_m": 0.3, "length_m": 1.1, "target_uvi": 2.6},
        0.3102,
        1e-3,
        "scipy brentq over quadrature",
    ),
)
def tube_distance(
    uvi_ref: float, ref_distance_m: float, length_m: float, target_uvi: float
) -> float:
    """Distance from the tube's axis straight down to the target UV index [m].

    Raises
    ------
    NoSolutionError
        The target is not met between 2 cm and 3 m.
    """
    low = 0.02
    high = 3.0
    if (
        not tube_uvi(uvi_ref, ref_distance_m, length_m, high)
        <= target_uvi
        <= tube_uvi(uvi_ref, ref_distance_m, length_m, low)
    ):
        raise NoSolutionError(
            f"No distance from 2 cm to 3 m gives UVI {target_uvi:g} under this tube."
        )
    for _ in range(60):
        middle = math.sqrt(low * high)
        low, high = (
            (middle, high)
            if tube_uvi(uvi_ref, ref_distance_m, length_m, middle) > target_uvi
            else (low, middle)
        )
    return math.sqrt(low * high)


@method(
    arguments={
        "uvi_ref": Argument("UVI", 0.01, 30),
        "ref_distance_m": Argument("m", 0.05, 2),
        "length_m": Argument("m", 0.05, 3),
        "target_uvi": Argument("UVI", 0.01, 30),
        "ln_sd": Argument("1", 0, 1.5),
        "quantile": Argument("1", 0.01, 0.99),
    },
    unit="m",
    rule=(
        "The distance for a tube whose strength lies at that quantile: the reference reading ×"
        " exp(z · ln sd), then as tube_distance. 0.05 and 0.95 give the ends of nine in ten."
    ),
    source=_LINE,
    example=Example(
        {
            "uvi_ref": 2.7,
            "ref_distance_m": 0.3,
            "length_m": 1.1,
            "target_uvi": 2.6,
            "ln_sd": 0.3,
            "quantile": 0.5,
        },
        0.3102,
        1e-3,
        "the middle is that of tube_distance",
    ),
)
def tube_distance_quantile(
    uvi_ref: float,
    ref_distance_m: float,
    length_m: float,
    target_uvi: float,
    ln_sd: float,
    quantile: float,
) -> float:
    """Distance to a UV index for a weak or a strong tube of its class [m]. Raises as `tube_distance`."""
    strength = math.exp(NormalDist().inv_cdf(quantile) * ln_sd)
    return tube_distance(uvi_ref * strength, ref_distance_m, length_m, target_uvi)
