"""What a finished enclosure weighs, part by part, and what that means for stand and floor.

Method: docs/methods/substrate.md.
"""

import math
from typing import Literal, NamedTuple

from husbandry.derivation import Derivation, Source, named_value
from husbandry.documents.enclosure import InsideMeasures
from husbandry.documents.request import Request
from husbandry.enclosure.equipment import MATERIALS
from husbandry.enclosure.substrate_layers import SubstrateBed, SubstrateLayer, bed_of
from husbandry.enclosure.substrate_load import floor_load
from husbandry.items.furnishings import Slab
from husbandry.methods import derivation_of, find
from husbandry.predict.need_states import look

DENSITY_KG_L = {
    "stone": 2.6,
    "slate": 2.7,
    "softwood": 0.5,
    "hide": 0.35,
    "branch": 0.7,
    "plant": 0.03,
    "dish": 0.5,
    "pool": 0.08,
}
"""Of what stands in an enclosure, by its outer volume; hides are hollow (from memory, ± 30 %)
[kg/l].
"""
WATER_OF_VOLUME = {"dish": 0.6, "pool": 0.85}
"""Of the outer volume that is water (common practice) [1]."""
SUBSTRATE_KG_L = {"soil": 1.4, "sand": 1.7, "paper": 0.7, "tile": 2.0}
"""Of substrate whose layers nobody named, as it lies (from memory) [kg/l]."""
GEAR_KG = {"lamp": 0.6, "tube": 0.9}
"""Of usual lamps and tubes with their holders (common practice, no source) [kg]."""
MESH_KG_M2 = 1.2
"""Of steel mesh in its frame (from memory) [kg/m²]."""
FRAME_SHARE = 0.1
"""Of the panels' mass, for frames, runners and sealant (common practice) [1]."""
PLAIN_KG, PLAIN_KPA, HEAVY_KG, HEAVY_KPA = 150.0, 2.0, 300.0, 4.0
"""Under the first two a weight is plain, over the second two it is heavy (source: substrate B2)
[kg, kPa].
"""
TIPPING = 3.0
"""Height over depth from which a stand is anchored (common practice) [1]."""
DOMESTIC = (
    "Dwellings are designed for 1.5 to 2.0 kPa over the whole floor, and 2 to 3 kN at a point (EN"
    " 1991-1-1, category A; 1.92 kPa in ASCE 7; from memory)."
)
Care = Literal["plain", "spread", "ask"]
CARE = {
    "plain": "As heavy as a full bookcase: on a level floor.",
    "spread": "Across the joists, near a bearing wall, its feet spread on a board.",
    "ask": (
        "Ask a structural professional before it is filled: local code rules, above all in rented,"
        " old or timber-floored houses."
    ),
}


class EnclosureWeight(NamedTuple):
    """An enclosure, filled."""

    parts: tuple[tuple[str, float], ...]
    """Name and mass [kg]."""
    total: Derivation
    pressure: Derivation
    """Mean over its footprint [kPa]."""
    foot_kn: float
    """On each of four feet, if it stands level [kN]."""
    care: Care
    anchored: bool
    """It is so tall for its depth that it is to be anchored."""
    bed: SubstrateBed | None


def layers_of(request: Request) -> tuple[SubstrateLayer, ...]:
    """The layers that were named, from below."""
    return tuple(
        SubstrateLayer(layer.depth_m, layer.parts) for layer in request.enclosure.substrate.layers
    )


def buried_l(request: Request) -> float:
    """What bodies stand in the substrate below its surface [l]."""
    substrate = request.enclosure.substrate.depth_m
    found = 0.0
    for item in request.items:
        if item.is_body and item.sides_m:
            sunk = min(max(substrate - item.at_m[2], 0.0), item.sides_m[2])
            found += 1000 * item.sides_m[0] * item.sides_m[1] * sunk
    return found


def _panels(request: Request) -> float:
    enclosure = request.enclosure
    inside = request.enclosure.inside_m
    length = inside.length
    depth = inside.depth
    height = inside.height
    areas = {
        "front": length * height,
        "back": length * height,
        "left": depth * height,
        "right": depth * height,
        "bottom": length * depth,
    }
    found = 0.0
    for name, area in areas.items():
        material = MATERIALS[getattr(enclosure.panels, name)]
        found += area * material.thickness_m * material.density_kg_m3 * (1 - material.open_share)
    lid = MATERIALS[enclosure.lid.material]
    solid = length * depth * (1 - enclosure.lid.mesh_share)
    return (found + solid * lid.thickness_m * lid.density_kg_m3) * (
        1 + FRAME_SHARE
    ) + length * depth * enclosure.lid.mesh_share * MESH_KG_M2


def _standing(request: Request) -> tuple[float, float]:
    """Stones, wood, hides and plants; and water in dishes [kg]."""
    bodies = water = 0.0
    for item in request.items:
        if not (item.is_body and item.sides_m):
            continue
        volume = 1000 * math.prod(item.sides_m)
        bodies += volume * DENSITY_KG_L[item.material if isinstance(item, Slab) else item.kind]
        if item.holds_water:
            water += WATER_OF_VOLUME[item.kind] * volume
    return bodies, water


def weight_of(
    request: Request,
    *,
    stand_kg: float = 0.0,
    stand_m: float = 0.0,
    bed: SubstrateBed | None = None,
) -> EnclosureWeight:
    """An enclosure with all that is in it.

    Parameters
    ----------
    stand_kg, stand_m : float
        Mass and height of what it stands on [kg, m].
    bed : SubstrateBed, optional
        Its substrate as counted already; else it is counted here from the layers that were named.
    """
    inside = request.enclosure.inside_m
    substrate = request.enclosure.substrate
    area = inside.length * inside.depth
    if bed is None and substrate.layers:
        bed = bed_of(area, layers_of(request), buried_l=buried_l(request))
    earth = (
        bed.moist_kg
        if bed is not None
        else max(1000 * area * substrate.depth_m - buried_l(request), 0.0)
        * SUBSTRATE_KG_L[substrate.material]
    )
    bodies, water = _standing(request)
    looked = look(request)
    animals = sum(occupant.body.mass.value for occupant in looked.occupants)
    gear = sum(
        GEAR_KG["tube" if t.is_tube or t.long_m else "lamp"]
        for t in request.items
        if not t.is_body and not t.is_probe
    )
    tank = (
        request.enclosure.wetting.tank_l
        if request.enclosure.wetting and request.enclosure.wetting.tank_l
        else 0.0
    )
    named = (
        ("enclosure", _panels(request)),
        ("substrate, moist", earth),
        ("stones, wood, hides and plants", bodies),
        ("water", water + tank),
        ("lamps and gear", gear),
        ("animals", animals / 1000),
        ("stand", stand_kg),
    )
    return _weight_with(bed, inside, named, stand_m)


def _weight_with(
    bed: SubstrateBed | None,
    inside: InsideMeasures,
    named: tuple[
        tuple[str, float],
        tuple[str, float],
        tuple[str, float],
        tuple[str, float],
        tuple[str, float | Literal[0]],
        tuple[str, float],
        tuple[str, float],
    ],
    stand_m: float,
) -> EnclosureWeight:
    """Weigh the named parts and what the floor under them carries."""
    parts = tuple((name, mass) for name, mass in named if mass > 0.005)
    total = sum(mass for _, mass in parts)
    pressure = floor_load(total, inside.length, inside.depth)
    care: Care = (
        "plain"
        if total < PLAIN_KG and pressure < PLAIN_KPA
        else "spread"
        if total < HEAVY_KG and pressure < HEAVY_KPA
        else "ask"
    )
    whole = Derivation(
        value=total,
        unit="kg",
        rule=(
            "The sum of its parts: panels by area, thickness and density with a tenth for frames;"
            " substrate moist; bodies by their volume."
        ),
        inputs=tuple(named_value(name, mass, "kg") for name, mass in parts),
        sources=(
            Source(
                kind="from memory",
                text="densities of building materials and bulk densities of soils, ± 30 %",
            ),
        ),
        would_change="A scale under each corner.",
    )
    arguments: dict[str, float | str] = {
        "mass_kg": total,
        "length_m": inside.length,
        "depth_m": inside.depth,
    }
    return EnclosureWeight(
        parts,
        whole,
        derivation_of(find("floor_load"), arguments, pressure),
        total * 9.80665 / 4 / 1000,
        care,
        (inside.height + stand_m) / inside.depth > TIPPING,
        bed,
    )
