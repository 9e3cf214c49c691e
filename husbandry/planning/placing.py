"""Where things stand to one another: what a drawing marks though a plan can be made of it. What no plan can be made of, `request` refuses."""

import itertools
import math

from husbandry.box.equipment import HEATERS
from husbandry.climate.heat import LIES_M
from husbandry.errors import Problem
from husbandry.planning.changes import thing_name
from husbandry.planning.request import Request, Thing
from husbandry.quantity import METRIC, Kind, Units, show

TOUCH_M = 0.005
"""Bodies may overlap by so much: stones are not cut to the millimetre [m]."""
REACH_M = 0.15
"""No lamp is hung closer than this over anything that an animal can stand on; its maker may ask for more (common practice) [m]."""
LEAF_M = 0.2
"""No leaf closer than this to a lamp that heats (common practice) [m]."""
PLASTIC_M = 0.1
"""No hot lamp closer than this to a side or lid of plastic: it softens, smells and may burn (common practice; the lamp's maker may ask for more) [m]."""
PLASTIC = {"acrylic": "acrylic", "polycarbonate_twin": "twin-wall plastic", "pvc_board": "plastic board"}
STOOD_ON = frozenset({"slab", "branch", "hide"})
"""What an animal climbs onto."""


def clashes(request: Request, units: Units = METRIC) -> list[Problem]:
    """Things in one place, things past a wall, and lamps within reach, by JSON pointer; lengths in the reader's units."""
    found: list[Problem] = []
    inside = request.box.inside_m
    bodies = [(n, t) for n, t in enumerate(request.things) if t.is_body and t.size_m]
    for n, body in bodies:
        assert body.size_m is not None
        for axis, side, name in ((0, inside.length, "end"), (1, inside.depth, "front or back")):
            if not body.size_m[axis] / 2 - TOUCH_M <= body.at_m[axis] <= side - body.size_m[axis] / 2 + TOUCH_M:
                found.append(Problem(f"/things/{n}/at_m/{axis}", f"the {thing_name(body)} reaches through the {name} wall"))
        if body.kind != "pool" and body.at_m[2] < lowest_under(request, body) - TOUCH_M:
            found.append(Problem(f"/things/{n}/at_m/2", f"the {thing_name(body)} is sunk into the ground"))
    for (_, one), (n, other) in itertools.combinations(bodies, 2):
        if _overlap(one, other) and not _may_share(one, other):
            found.append(Problem(f"/things/{n}/at_m", f"the {thing_name(other)} and the {thing_name(one)} stand in one place"))
    found += _leaves_near_lamps(request, units)
    found += _plastic_near_lamps(request, units)
    found += _probes_in_beams(request)
    for n, lamp in enumerate(request.things):
        if lamp.above_lid or not (lamp.is_heater or lamp.is_uv) or (lamp.kind in HEATERS and lamp.kind == "infrared_panel"):
            continue
        for _, body in bodies:
            gap = _gap_over(lamp, body)
            if body.kind in STOOD_ON and gap is not None and 0 < gap < REACH_M:
                found.append(
                    Problem(
                        f"/things/{n}/at_m/2",
                        f"only {show(gap, Kind.LENGTH, units)} from the {thing_name(body)}: within reach of what stands there. Guard it, or hang it higher",
                    )
                )
    return found


def _may_share(one: Thing, other: Thing) -> bool:
    """Branches lie across things and leaves hang over them; a stone in a pool is its way out, and what swims hides in it."""
    kinds = {one.kind, other.kind}
    return bool(kinds & {"branch", "plant"}) or kinds in ({"pool", "slab"}, {"pool", "hide"})


def lowest_under(request: Request, body: Thing) -> float:
    """The lowest ground under a body: what is sunk lies deeper than that [m]."""
    ground, inside = request.box.ground, request.box.inside_m
    if ground.slope is None or body.size_m is None:
        return ground.depth_m
    places = [(body.at_m[0] + k * body.size_m[0] / 2, body.at_m[1] + k * body.size_m[1] / 2) for k in (-1, 1)]
    return min(ground.depth_at(x / inside.length, y / inside.depth) for x, y in places)


def _leaves_near_lamps(request: Request, units: Units) -> list[Problem]:
    """A leaf dries, and a dry leaf burns."""
    found = []
    hot = [t for t in request.things if t.is_heater and t.kind not in {"heat_mat", "infrared_panel"}]
    for n, plant in enumerate(request.things):
        if plant.kind != "plant" or plant.size_m is None:
            continue
        half = [side / 2 for side in plant.size_m[:2]]
        for lamp in hot:
            beside = [max(abs(lamp.at_m[axis] - plant.at_m[axis]) - half[axis], 0.0) for axis in (0, 1)]
            over = lamp.at_m[2] - plant.at_m[2] - plant.size_m[2]
            gap = math.hypot(*beside, max(over, 0.0))
            if gap < LEAF_M:
                close, least = show(gap, Kind.LENGTH, units), show(LEAF_M, Kind.LENGTH, units)
                text = f"the plant comes within {close} of the {thing_name(lamp)}: leaves dry and can catch fire. Keep {least}"
                found.append(Problem(f"/things/{n}/at_m", text))
    return found


def _plastic_near_lamps(request: Request, units: Units) -> list[Problem]:
    """Sides and a lid of plastic that a hot lamp comes too close to."""
    found = []
    inside, panels = request.box.inside_m, request.box.panels
    for n, lamp in enumerate(request.things):
        hot = (
            lamp.kind in HEATERS
            and HEATERS[lamp.kind].beam_share
            and lamp.kind not in {"infrared_panel", "heat_mat"}
            and not lamp.size_m
        )
        if not hot or lamp.above_lid:
            continue
        x, y, z = lamp.at_m
        gaps = {
            "left": (x, panels.left), "right": (inside.length - x, panels.right), "front": (y, panels.front), "back": (inside.depth - y, panels.back),
            "lid": (inside.height - z, request.box.lid.material),
        }  # fmt: skip
        for side, (gap, material) in gaps.items():
            meshed = side == "lid" and request.box.lid.mesh is not None
            if material in PLASTIC and gap < PLASTIC_M and not meshed:
                close, least = show(gap, Kind.LENGTH, units), show(PLASTIC_M, Kind.LENGTH, units)
                where = "lid" if side == "lid" else f"{side} side"
                told = f"the {thing_name(lamp)} is {close} from the {where} of {PLASTIC[material]}: it softens and can catch fire"
                text = f"{told}. Keep {least}, or a heat shield and what its maker says"
                found.append(Problem(f"/things/{n}/at_m", text))
    return found


def _probes_in_beams(request: Request) -> list[Problem]:
    """A probe that hangs in a beam feels the lamp as well as the air, and its thermostat holds the wrong thing."""
    found = []
    lamps = [t for t in request.things if t.kind in HEATERS and HEATERS[t.kind].beam_deg and HEATERS[t.kind].beam_share]
    slabs = [t for t in request.things if t.kind == "slab" and t.size_m]
    for n, probe in enumerate(request.things):
        if not probe.is_probe:
            continue
        x, y, z = probe.at_m
        tops = [
            s.at_m[2] + s.size_m[2]
            for s in slabs
            if s.size_m and all(abs(probe.at_m[a] - s.at_m[a]) <= s.size_m[a] / 2 for a in (0, 1))
        ]
        if abs(z - max(tops, default=request.box.ground.depth_m)) <= LIES_M:
            continue  # one that lies on what it is to hold is where it belongs
        for lamp in lamps:
            drop, wide = lamp.at_m[2] - z, HEATERS[lamp.kind]
            reach = wide.radius_m + drop * math.tan(math.radians((lamp.beam_deg or wide.beam_deg or 60) / 2))
            if drop > 0 and math.hypot(x - lamp.at_m[0], y - lamp.at_m[1]) < reach:
                text = f"the probe hangs in the beam of the {thing_name(lamp)} and feels more than the air: shade it, or let it lie on the surface that it is to hold"
                found.append(Problem(f"/things/{n}/at_m", text))
    return found


def _overlap(one: Thing, other: Thing) -> bool:
    assert one.size_m is not None and other.size_m is not None
    flat = all(abs(one.at_m[n] - other.at_m[n]) < (one.size_m[n] + other.size_m[n]) / 2 - TOUCH_M for n in (0, 1))
    upright = one.at_m[2] < other.at_m[2] + other.size_m[2] - TOUCH_M and other.at_m[2] < one.at_m[2] + one.size_m[2] - TOUCH_M
    return flat and upright


def _gap_over(lamp: Thing, body: Thing) -> float | None:
    """Height of a lamp above a body that it hangs over [m]; None when it does not."""
    assert body.size_m is not None
    half = (lamp.length_m or 0.0) / 2
    over = abs(lamp.at_m[0] - body.at_m[0]) < body.size_m[0] / 2 + half and abs(lamp.at_m[1] - body.at_m[1]) < body.size_m[1] / 2
    return lamp.at_m[2] - body.at_m[2] - body.size_m[2] if over else None
