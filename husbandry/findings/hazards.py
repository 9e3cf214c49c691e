"""What in an enclosure burns, melts or catches fire as it hangs: heaters too close to something.

One place decides it: the findings of a plan, the marks on the drawing, and the changes that are
offered, none of which may bring a hazard that was not there (`new_hazards`).
"""

import math
from dataclasses import dataclass
from typing import Literal

from husbandry.documents.request import Request
from husbandry.enclosure.equipment import HEATERS
from husbandry.items.furnishings import PlantedItem
from husbandry.items.heaters import HeatMat
from husbandry.items.union import Item
from husbandry.predict.predict import EnclosurePoint, Prediction

REACH_M = 0.15
"""No lamp hangs closer than this over what an animal stands on (common practice) [m]."""
LEAF_M = 0.2
"""No leaf closer than this to a lamp that heats (common practice) [m]."""
PLASTIC_M = 0.1
"""No hot lamp closer than this to plastic: it softens, smells and may burn (common practice) [m]."""
PLASTIC = {
    "acrylic": "acrylic",
    "polycarbonate_twin": "twin-wall plastic",
    "pvc_board": "plastic board",
}
STOOD_ON = frozenset({"slab", "branch", "hide", "dig_box"})
"""What an animal climbs onto."""
SLIP_M = 0.005
"""A hazard that comes closer by less is the same one (design choice) [m]."""
GUARD = "guard it"
Slug = Literal["back", "reach", "leaf", "plastic"]


@dataclass(frozen=True)
class Hazard:
    """A heater or lamp that is too close to something."""

    slug: Slug
    item: Item
    """What to move: the lamp, or the plant."""
    pointer: str
    """To the measure that is wrong, in its request (RFC 6901)."""
    gap_m: float
    least_m: float
    near: str
    """What it is too close to."""
    comes: str
    """What comes of it."""
    advice: str
    """What may be done other than keeping the distance."""
    heats: bool = True
    """Whether it is a heater that comes close: it burns; else it is a lamp for ultraviolet."""

    @property
    def key(self) -> tuple[str, str, str]:
        """What tells it from others, wherever items are in their list."""
        return self.slug, self.item.id, self.near

    def said(self, name: str, distance: str) -> str:
        """Say it as a clause, such as “the halogen flood is 5 cm from the lid of acrylic: …”."""
        return f"the {name} is {distance} {self.near}: {self.comes}"


def hazards(request: Request) -> tuple[Hazard, ...]:
    """Find what hangs too close to what is stood on, to leaves and to plastic."""
    return (*_over_bodies(request), *_near_leaves(request), *_near_plastic(request))


def seen_hazards(prediction: Prediction) -> tuple[Hazard, ...]:
    """Find every hazard of a planned enclosure: as `hazards`, and what comes near its basking
    animal.
    """
    found = hazards(prediction.request)
    told = {hazard.item.id for hazard in found if hazard.slug == "reach"}
    backs = (
        hazard
        for n, item in enumerate(prediction.request.items)
        if item.id not in told and (hazard := _near_back(n, item, prediction)) is not None
    )
    return (*found, *backs)


def new_hazards(before: Prediction, after: Prediction) -> tuple[Hazard, ...]:
    """Find the hazards that one state has and another had not, or had further away."""
    had = {hazard.key: hazard.gap_m for hazard in seen_hazards(before)}
    return tuple(
        hazard
        for hazard in seen_hazards(after)
        if hazard.gap_m < had.get(hazard.key, math.inf) - SLIP_M
    )


def within_reach(item: Item, back: EnclosurePoint) -> bool:
    """Whether a lamp in the enclosure hangs within reach of an animal's back at a place."""
    if item.hangs_above_lid or isinstance(item, HeatMat) or not (item.is_heater or item.is_uv):
        return False
    return abs(item.at_m[0] - back.x_m) < 2 * REACH_M and item.at_m[2] - back.z_m < REACH_M


def hot_lamp(item: Item) -> bool:
    """Whether it is a lamp or emitter with a beam: hot enough to melt plastic and to light leaves."""
    if item.kind not in HEATERS or item.kind in {"infrared_panel", "heat_mat"}:
        return False
    return HEATERS[item.kind].beam_share > 0 and not item.sides_m


def _near_back(n: int, item: Item, prediction: Prediction) -> Hazard | None:
    """A lamp within reach of the animal's back where it basks."""
    if not within_reach(item, prediction.basking):
        return None
    gap = item.at_m[2] - prediction.basking.z_m
    near = "the animal's back where it basks"
    comes = "it burns before it moves away"
    pointer = f"/items/{n}/at_m/2"
    return Hazard(
        "back", item, pointer, max(gap, 0.0), REACH_M, near, comes, GUARD, item.is_heater
    )


def _over_bodies(request: Request) -> list[Hazard]:
    """Lamps within reach of what stands on a stone, a branch or a hide."""
    found = []
    bodies = [t for t in request.items if t.kind in STOOD_ON and t.sides_m]
    for n, lamp in enumerate(request.items):
        lit = lamp.is_heater or lamp.is_uv
        if lamp.hangs_above_lid or not lit or lamp.kind in {"infrared_panel", "heat_mat"}:
            continue
        for body in bodies:
            gap = _gap_over(lamp, body)
            if gap is None or not 0 < gap < REACH_M:
                continue
            near = f"the {body.name}"
            comes = "within reach of what stands there"
            pointer = f"/items/{n}/at_m/2"
            hazard = Hazard(
                "reach", lamp, pointer, gap, REACH_M, near, comes, GUARD, lamp.is_heater
            )
            found.append(hazard)
    return found


def _gap_over(lamp: Item, body: Item) -> float | None:
    """Height of a lamp above a body that it hangs over [m]; None when it does not."""
    if body.sides_m is None:
        return None
    half = (lamp.long_m or 0.0) / 2
    reach_m = (body.sides_m[0] / 2 + half, body.sides_m[1] / 2)
    if any(abs(lamp.at_m[axis] - body.at_m[axis]) >= reach_m[axis] for axis in (0, 1)):
        return None
    return lamp.at_m[2] - body.at_m[2] - body.sides_m[2]


def _near_leaves(request: Request) -> list[Hazard]:
    """A leaf dries, and a dry leaf burns."""
    found = []
    hot = [
        t for t in request.items if t.is_heater and t.kind not in {"heat_mat", "infrared_panel"}
    ]
    for n, plant in enumerate(request.items):
        if not isinstance(plant, PlantedItem) or plant.size_m is None:
            continue
        half = [side / 2 for side in plant.size_m[:2]]
        for lamp in hot:
            beside = [
                max(abs(lamp.at_m[axis] - plant.at_m[axis]) - half[axis], 0.0) for axis in (0, 1)
            ]
            over = lamp.at_m[2] - plant.at_m[2] - plant.size_m[2]
            gap = math.hypot(*beside, max(over, 0.0))
            if gap < LEAF_M:
                near = f"the {lamp.name}"
                comes = "leaves dry and can catch fire"
                pointer = f"/items/{n}/at_m"
                found.append(
                    Hazard("leaf", plant, pointer, gap, LEAF_M, near, comes, "cut it back")
                )
    return found


def _near_plastic(request: Request) -> list[Hazard]:
    """Sides and a lid of plastic that a hot lamp comes too close to."""
    found = []
    inside = request.enclosure.inside_m
    panels = request.enclosure.panels
    for n, lamp in enumerate(request.items):
        if not hot_lamp(lamp):
            continue
        x, y, _ = lamp.at_m
        gaps = {
            "left side": (x, panels.left),
            "right side": (inside.length - x, panels.right),
            "front side": (y, panels.front),
            "back side": (inside.depth - y, panels.back),
        }
        if lamp.hangs_above_lid:
            gaps = {}
        gaps["lid"] = (_lid_gap(request, lamp), request.enclosure.lid.material)
        for side, (gap, material) in gaps.items():
            if material not in PLASTIC or gap >= PLASTIC_M:
                continue
            near = f"the {side} of {PLASTIC[material]}"
            comes = "it softens and can catch fire"
            advice = "fit a heat shield as the lamp's maker says"
            pointer = f"/items/{n}/at_m"
            found.append(Hazard("plastic", lamp, pointer, gap, PLASTIC_M, near, comes, advice))
    return found


def _lid_gap(request: Request, lamp: Item) -> float:
    """From a lamp to the nearest solid part of the lid [m].

    Where the mesh is cut is not said: its opening is taken around the lamp, in the proportions of
    the lid, which is the best that its keeper can have done.
    """
    inside = request.enclosure.inside_m
    lid = request.enclosure.lid
    up = abs(inside.height - lamp.at_m[2])
    if lid.mesh is None:
        return up
    if lid.mesh_share >= 1.0:
        return math.inf
    opening = math.sqrt(lid.mesh_share)
    beside = opening * min(inside.length, inside.depth) / 2
    return math.hypot(up, beside)
