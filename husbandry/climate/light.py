"""Visible light in an enclosure: lux where an animal basks and where it rests, and what plants get.

Method: docs/methods/light.md.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from husbandry.climate.beam import Beam
from husbandry.climate.shadow import ShadowBody, seen
from husbandry.climate.tube import line_factor
from husbandry.climate.uv import SHADOW_PARTS
from husbandry.derivation import Source
from husbandry.enclosure.geometry import Interior
from husbandry.methods import Argument, Example, method

Array = NDArray[np.float64]
REFLECTANCE = 0.35
"""Mean of the inside: timber, soil and board for visible light (design choice) [1]."""
LUX_PER_UMOL = {"filament": 50.0, "tube": 76.0, "diode": 70.0}
"""Illuminance for each micromole a second and square metre of photosynthetic light (science note
10: CIE illuminants) [lx/(µmol/m²s)].
"""


@dataclass(frozen=True)
class LightSource:
    """One lamp that gives visible light. A tube or bar lies along x."""

    kind: str
    """filament, tube or diode."""
    lumens: float
    x_m: float
    y_m: float
    z_m: float
    length_m: float = 0.0
    beam_deg: float | None = None
    radius_m: float = 0.0
    aimed: float = 1.0
    """Share of the flux that leaves in the beam [1]."""
    gain: float = 1.0
    """Of a reflector, below the tube [1]."""


def _bare_lux(source: LightSource, x_m: Array, y_m: float, z_m: Array | float) -> Array:
    drop = source.z_m - np.asarray(z_m)
    h = np.where(drop > 1e-3, drop, 1.0)
    return np.where(drop > 1e-3, _below_lux(source, x_m, y_m, h), 0.0)


def direct_lux(
    source: LightSource,
    x_m: Array,
    y_m: float,
    z_m: Array | float,
    blockers: Sequence[ShadowBody] = (),
) -> Array:
    """Illuminance of horizontal patches by one lamp alone, behind what stands in the way [lx]; 0 at
    and above it.
    """
    if not blockers:
        return _bare_lux(source, x_m, y_m, z_m)
    if source.length_m == 0:
        return _bare_lux(source, x_m, y_m, z_m) * seen(
            (x_m, y_m, z_m), (source.x_m, source.y_m, source.z_m), blockers
        )
    part_m = source.length_m / SHADOW_PARTS
    total = np.zeros_like(x_m)
    for n in range(SHADOW_PARTS):
        x = source.x_m + (n + 0.5 - SHADOW_PARTS / 2) * part_m
        part = replace(source, x_m=x, length_m=part_m, lumens=source.lumens / SHADOW_PARTS)
        total = total + _bare_lux(part, x_m, y_m, z_m) * seen(
            (x_m, y_m, z_m), (x, source.y_m, source.z_m), blockers
        )

    return total


def _below_lux(source: LightSource, x_m: Array, y_m: float, h: Array) -> Array:
    if source.length_m > 0:
        half = source.length_m / 2
        sideways = source.y_m - y_m
        factor = line_factor(source.x_m - half - x_m, source.x_m + half - x_m, h, sideways)
        if source.kind == "diode":  # a flat strip that looks down: π times a bare tube below it
            return np.asarray(
                source.lumens / (math.pi * source.length_m) * factor * h / np.hypot(h, sideways)
            )
        return np.asarray(source.lumens / (math.pi**2 * source.length_m) * factor * source.gain)
    beam = Beam(source.aimed, source.beam_deg or 120.0, source.radius_m)

    return np.asarray(
        source.lumens * beam.irradiance(h, np.hypot(x_m - source.x_m, y_m - source.y_m))
    )


def ambient_lux(sources: tuple[LightSource, ...], interior: Interior) -> float:
    """What the inside throws back everywhere: flux × R / (A (1 − R)) [lx]."""
    height = interior.air_height_m
    area = 2 * (interior.footprint_m2 + (interior.length_m + interior.depth_m) * height)
    return sum(source.lumens for source in sources) * REFLECTANCE / (area * (1 - REFLECTANCE))


def total_lux(
    sources: tuple[LightSource, ...],
    interior: Interior,
    x_m: Array,
    y_m: float,
    z_m: Array | float,
    blockers: Sequence[ShadowBody] = (),
) -> Array:
    """Illuminance of horizontal patches by all lamps and by what the inside throws back [lx]."""
    total = np.full_like(x_m, ambient_lux(sources, interior))
    for source in sources:
        total = total + direct_lux(source, x_m, y_m, z_m, blockers)

    return total


def photon_flux(
    sources: tuple[LightSource, ...],
    interior: Interior,
    x_m: float,
    y_m: float,
    z_m: float,
    blockers: Sequence[ShadowBody] = (),
) -> float:
    """Photosynthetic photon flux density on a horizontal leaf [µmol/m²s]."""
    place = np.array([x_m])
    shares = [
        (float(direct_lux(s, place, y_m, z_m, blockers)[0]), LUX_PER_UMOL[s.kind]) for s in sources
    ]
    lumens = sum(s.lumens for s in sources)
    mean = sum(s.lumens * LUX_PER_UMOL[s.kind] for s in sources) / lumens if lumens else 1.0

    return sum(lux / per for lux, per in shares) + ambient_lux(sources, interior) / mean


@method(
    arguments={
        "lux": Argument("lx", 0, 200_000),
        "lamp": Argument("", choices=tuple(LUX_PER_UMOL)),
    },
    unit="µmol/m²s",
    rule="Illuminance ÷ lux for each micromole: filament 50, tube 76, diode 70.",
    source=Source(kind="from memory", text="CIE standard illuminants over 400 to 700 nm"),
    example=Example({"lux": 7600, "lamp": "tube"}, 100.0, 1e-9, "by hand: 7600 / 76"),
    validity="White light; coloured plant lamps differ widely.",
)
def photon_flux_from_lux(lux: float, lamp: str) -> float:
    """Photosynthetic photon flux density from a reading of a lux meter [µmol/m²s]."""
    return lux / LUX_PER_UMOL[lamp]


@method(
    arguments={
        "photon_flux_umol_m2s": Argument("µmol/m²s", 0, 3000),
        "hours": Argument("h", 0, 24),
    },
    unit="mol/m² d",
    rule="What a leaf gets in a day: photons a second × hours × 0.0036.",
    source=Source(kind="published", text="definition of the daily light integral"),
    example=Example({"photon_flux_umol_m2s": 100, "hours": 12}, 4.32, 1e-9, "closed form"),
)
def daily_light(photon_flux_umol_m2s: float, hours: float) -> float:
    """Daily light integral on a leaf [mol/m² a day]."""
    return photon_flux_umol_m2s * hours * 0.0036
