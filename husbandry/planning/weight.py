"""What a finished enclosure weighs, part by part, and what that means for stand and floor. Method: docs/methods/ground.md."""

import math
from typing import Literal, NamedTuple

from husbandry.box.equipment import MATERIALS
from husbandry.box.ground import floor_load
from husbandry.box.substrate_layers import Bed, Layer, bed_of
from husbandry.methods import find, working
from husbandry.planning.need_states import look
from husbandry.planning.request import Request
from husbandry.worked import Given, Source, Worked

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
"""Of what stands in an enclosure, by its outer volume; hides are hollow (from memory, ± 30 %) [kg/l]."""
HOLDS = {"dish": 0.6, "pool": 0.85}
"""Of the outer volume that is water (common practice) [1]."""
GROUND_KG_L = {"soil": 1.4, "sand": 1.7, "paper": 0.7, "tile": 2.0}
"""Of substrate whose layers nobody named, as it lies (from memory) [kg/l]."""
GEAR_KG = {"lamp": 0.6, "tube": 0.9}
MESH_KG_M2 = 1.2
FRAME_SHARE = 0.1
"""Of the panels' mass, for frames, runners and sealant (common practice) [1]."""
PLAIN_KG, PLAIN_KPA, HEAVY_KG, HEAVY_KPA = 150.0, 2.0, 300.0, 4.0
TIPPING = 3.0
"""Height over depth from which a stand is anchored (common practice) [1]."""
DOMESTIC = "Dwellings are designed for 1.5 to 2.0 kPa over the whole floor, and 2 to 3 kN at a point (EN 1991-1-1, category A; 1.92 kPa in ASCE 7; from memory)."
Care = Literal["plain", "spread", "ask"]
CARE = {
    "plain": "As heavy as a full bookcase: on a level floor.",
    "spread": "Across the joists, near a bearing wall, its feet spread on a board.",
    "ask": "Ask a structural professional before it is filled: local code rules, above all in rented, old or timber-floored houses.",
}


class Weight(NamedTuple):
    """An enclosure, filled."""

    parts: tuple[tuple[str, float], ...]
    """Name and mass [kg]."""
    total: Worked
    pressure: Worked
    """Mean over its footprint [kPa]."""
    foot_kn: float
    """On each of four feet, if it stands level [kN]."""
    care: Care
    anchored: bool
    """It is so tall for its depth that it is to be anchored."""
    bed: Bed | None


def layers_of(request: Request) -> tuple[Layer, ...]:
    """The layers that were named, from below."""
    return tuple(Layer(layer.depth_m, layer.parts) for layer in request.box.ground.layers)


def buried_l(request: Request) -> float:
    """What bodies stand in the substrate below its surface [l]."""
    ground, found = request.box.ground.depth_m, 0.0
    for thing in request.things:
        if thing.is_body and thing.size_m:
            sunk = min(max(ground - thing.at_m[2], 0.0), thing.size_m[2])
            found += 1000 * thing.size_m[0] * thing.size_m[1] * sunk
    return found


def _panels(request: Request) -> float:
    box, inside = request.box, request.box.inside_m
    length, depth, height = inside.length, inside.depth, inside.height
    areas = {
        "front": length * height,
        "back": length * height,
        "left": depth * height,
        "right": depth * height,
        "bottom": length * depth,
    }
    found = 0.0
    for name, area in areas.items():
        material = MATERIALS[getattr(box.panels, name)]
        found += area * material.thickness_m * material.density_kg_m3
    lid = MATERIALS[box.lid.material]
    solid = length * depth * (1 - box.lid.mesh_share)
    return (found + solid * lid.thickness_m * lid.density_kg_m3) * (
        1 + FRAME_SHARE
    ) + length * depth * box.lid.mesh_share * MESH_KG_M2


def _standing(request: Request) -> tuple[float, float]:
    """Stones, wood, hides and plants; and water in dishes [kg]."""
    bodies = water = 0.0
    for thing in request.things:
        if not (thing.is_body and thing.size_m):
            continue
        volume = 1000 * math.prod(thing.size_m)
        bodies += volume * DENSITY_KG_L[thing.material if thing.kind == "slab" else thing.kind]
        if thing.holds_water:
            water += HOLDS[thing.kind] * volume
    return bodies, water


def weight_of(request: Request, *, stand_kg: float = 0.0, stand_m: float = 0.0, bed: Bed | None = None) -> Weight:
    """An enclosure with all that is in it.

    Parameters
    ----------
    stand_kg, stand_m : float
        Mass and height of what it stands on [kg, m].
    bed : Bed, optional
        Its substrate as counted already; else it is counted here from the layers that were named.
    """
    inside, ground = request.box.inside_m, request.box.ground
    area = inside.length * inside.depth
    if bed is None and ground.layers:
        bed = bed_of(area, layers_of(request), buried_l=buried_l(request))
    earth = (
        bed.moist_kg
        if bed is not None
        else max(1000 * area * ground.depth_m - buried_l(request), 0.0) * GROUND_KG_L[ground.material]
    )
    bodies, water = _standing(request)
    looked = look(request)
    animals = sum(occupant.body.mass.value for occupant in looked.occupants)
    gear = sum(GEAR_KG["tube" if t.is_tube or t.length_m else "lamp"] for t in request.things if not t.is_body and not t.is_probe)
    tank = request.box.wetting.tank_l if request.box.wetting and request.box.wetting.tank_l else 0.0
    named = (
        ("box", _panels(request)), ("substrate, moist", earth), ("stones, wood, hides and plants", bodies), ("water", water + tank),
        ("lamps and gear", gear), ("animals", animals / 1000), ("stand", stand_kg),
    )  # fmt: skip
    parts = tuple((name, mass) for name, mass in named if mass > 0.005)
    total = sum(mass for _, mass in parts)
    pressure = floor_load(total, inside.length, inside.depth)
    care: Care = (
        "plain" if total < PLAIN_KG and pressure < PLAIN_KPA else "spread" if total < HEAVY_KG and pressure < HEAVY_KPA else "ask"
    )
    whole = Worked(
        value=total, unit="kg", rule="The sum of its parts: panels by area, thickness and density with a tenth for frames; substrate moist; bodies by their volume.",
        inputs=tuple(Given(name=name, value=mass, unit="kg") for name, mass in parts),
        sources=(Source(kind="from memory", text="densities of building materials and bulk densities of soils, ± 30 %"),),
        would_change="A scale under each corner.",
    )  # fmt: skip
    arguments: dict[str, float | str] = {"mass_kg": total, "length_m": inside.length, "depth_m": inside.depth}
    return Weight(
        parts, whole, working(find("floor_load"), arguments, pressure), total * 9.80665 / 4 / 1000, care,
        (inside.height + stand_m) / inside.depth > TIPPING, bed,
    )  # fmt: skip
