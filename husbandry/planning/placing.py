"""Where things stand to one another: what a drawing marks though a plan can be made of it. What no plan can be made of, `request` refuses."""

import itertools

from husbandry.box.equipment import HEATERS
from husbandry.errors import Problem
from husbandry.planning.changes import thing_name
from husbandry.planning.request import Request, Thing
from husbandry.quantity import METRIC, Kind, Units, show

TOUCH_M = 0.005
"""Bodies may overlap by so much: stones are not cut to the millimetre [m]."""
REACH_M = 0.15
"""No lamp is hung closer than this over anything that an animal can stand on; its maker may ask for more (common practice) [m]."""
STOOD_ON = frozenset({"slab", "branch", "hide"})
"""What an animal climbs onto."""


def clashes(request: Request, units: Units = METRIC) -> list[Problem]:
    """Things in one place, things past a wall, and lamps within reach, by JSON pointer; lengths in the reader's units."""
    found: list[Problem] = []
    inside, ground = request.box.inside_m, request.box.ground.depth_m
    bodies = [(n, t) for n, t in enumerate(request.things) if t.is_body and t.size_m]
    for n, body in bodies:
        assert body.size_m is not None
        for axis, side, name in ((0, inside.length, "end"), (1, inside.depth, "front or back")):
            if not body.size_m[axis] / 2 - TOUCH_M <= body.at_m[axis] <= side - body.size_m[axis] / 2 + TOUCH_M:
                found.append(Problem(f"/things/{n}/at_m/{axis}", f"the {thing_name(body)} reaches through the {name} wall"))
        if body.at_m[2] < ground - TOUCH_M:
            found.append(Problem(f"/things/{n}/at_m/2", f"the {thing_name(body)} is sunk into the ground"))
    for (_, one), (n, other) in itertools.combinations(bodies, 2):
        if _overlap(one, other) and "branch" not in {one.kind, other.kind}:
            found.append(Problem(f"/things/{n}/at_m", f"the {thing_name(other)} and the {thing_name(one)} stand in one place"))
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
