"""Where the beam of a lamp falls: lobes of reflector lamps, discs of emitters and panels."""

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from husbandry.climate.laws import Lobe, cosine_lobe, lobe_exponent_of
from husbandry.derivation import Source
from husbandry.enclosure.equipment import HEATERS, Heater
from husbandry.methods import Argument, Example, method

Array = NDArray[np.float64]


@method(
    arguments={"beam_deg": Argument("°", 5, 175)},
    unit="1",
    rule=(
        "Exponent m of the lobe I(θ) ∝ cosᵐθ that falls to half at half the beam angle: m = ln ½ /"
        " ln cos(beam/2)."
    ),
    source=Source(
        kind="published",
        text="Definition of the full beam angle at half maximum (CIE 17-26-120, beam angle)",
    ),
    example=Example({"beam_deg": 60}, 4.818842, 1e-6, "closed form"),
)
def lobe_exponent(beam_deg: float) -> float:
    """Exponent of the cosine lobe of a lamp with that full beam angle at half maximum [1]."""
    return lobe_exponent_of(beam_deg)


@dataclass(frozen=True)
class Beam:
    """The radiating part of one heater: what leaves it per watt, and in what shape."""

    share: float
    """Share of the electrical power that leaves as the beam, after any mesh [1]."""
    beam_deg: float | None
    """Full angle at half maximum [°]; None for a flat or round diffuse emitter."""
    radius_m: float
    """Of the opening, or of the disc of equal area [m]."""
    lobe: Lobe = cosine_lobe

    def irradiance(self, distance_m: Array | float, radius_m: Array) -> Array:
        """Irradiance of horizontal patches per electrical watt [1/m²].

        Parameters
        ----------
        distance_m : float or array
            Height of the lamp's face above the patches [m].
        radius_m : array
            Horizontal distance of each patch from the lamp's axis [m].
        """
        d = np.maximum(distance_m, 1e-3)
        r2 = np.square(radius_m)
        if self.share == 0:
            return np.zeros_like(r2)
        if self.beam_deg is None:
            # Element to parallel coaxial disc, generalised to an offset: view-factor catalogues;
            # checked by quadrature.
            big = d * d + r2 + self.radius_m**2
            factor = 0.5 * (
                1 - (big - 2 * self.radius_m**2) / np.sqrt(big**2 - 4 * self.radius_m**2 * r2)
            )
            return np.asarray(self.share / (math.pi * self.radius_m**2) * factor)
        depth = d + self.radius_m / math.tan(
            math.radians(self.beam_deg) / 2
        )  # from the virtual apex behind the face
        slant2 = depth * depth + r2
        cosine = depth / np.sqrt(slant2)
        return np.asarray(self.share * self.lobe(self.beam_deg)(cosine) * cosine / slant2)


def beam_of(
    heater: Heater, *, mesh: float = 1.0, beam_deg: float | None = None, lobe: Lobe = cosine_lobe
) -> Beam:
    """The beam of a heater of that class through a mesh that passes `mesh` of it."""
    return Beam(heater.beam_share * mesh, beam_deg or heater.beam_deg, heater.radius_m, lobe)


@method(
    arguments={
        "power_w": Argument("W", 0, 2000),
        "kind": Argument("", choices=tuple(HEATERS)),
        "distance_m": Argument("m", 0.05, 5),
        "radius_m": Argument("m", 0, 5),
    },
    unit="W/m²",
    rule=(
        "E = Φ (m+1)/(2π) cosᵐ⁺¹θ / s², Φ the beam's share of the power, measured from a virtual"
        " apex behind the face; flat emitters as a disc by their view factor."
    ),
    source=Source(
        kind="design choice",
        text="cosine-lobe lamp, integrates to its power; shares of power: docs/methods/heat.md",
    ),
    example=Example(
        {"power_w": 100, "kind": "halogen_flood", "distance_m": 0.28, "radius_m": 0.0},
        378.991,
        1e-4,
        "scipy quadrature of the lobe",
    ),
)
def flood_irradiance(power_w: float, kind: str, distance_m: float, radius_m: float) -> float:
    """Irradiance of a horizontal patch under a lamp that points down [W/m²].

    Parameters
    ----------
    power_w : float
        Electrical power [W].
    kind : str
        Class of heater.
    distance_m : float
        From the lamp's face down to the patch [m].
    radius_m : float
        Sideways from the lamp's axis [m].
    """
    return float(power_w * beam_of(HEATERS[kind]).irradiance(distance_m, np.array([radius_m]))[0])
