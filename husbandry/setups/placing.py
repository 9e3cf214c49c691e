"""Where items stand to one another: what a drawing marks though a plan can be made of it.

What no plan can be made of, `request` refuses.
"""

import itertools
import math

from husbandry.climate.heat import LIES_M
from husbandry.documents.naming import names
from husbandry.documents.request import Request
from husbandry.enclosure.equipment import HEATERS
from husbandry.errors import ImpossibleStateError, Problem
from husbandry.findings.hazards import Hazard, hazards
from husbandry.items.furnishings import Pool, Slab
from husbandry.items.union import Item
from husbandry.quantity import METRIC, Kind, Units, show

TOUCH_M = 0.005
"""Bodies may overlap by so much: stones are not cut to the millimetre (design choice) [m]."""


def clashes(request: Request, units: Units = METRIC) -> list[Problem]:
    """Items in one place, items past a wall, and lamps within reach, by JSON pointer; lengths in
    the reader's units.
    """
    found: list[Problem] = []
    inside = request.enclosure.inside_m
    bodies = [(n, t) for n, t in enumerate(request.items) if t.is_body and t.sides_m]
    for n, body in bodies:
        if body.sides_m is None:
            raise ImpossibleStateError("missing: body.sides_m")
        for axis, side, name in ((0, inside.length, "end"), (1, inside.depth, "front or back")):
            if (
                not body.sides_m[axis] / 2 - TOUCH_M
                <= body.at_m[axis]
                <= side - body.sides_m[axis] / 2 + TOUCH_M
            ):
                found.append(
                    Problem(
                        f"/items/{n}/at_m/{axis}",
                        f"the {body.name} reaches through the {name} wall",
                    )
                )
        if not isinstance(body, Pool) and body.at_m[2] < lowest_under(request, body) - TOUCH_M:
            found.append(
                Problem(f"/items/{n}/at_m/2", f"the {body.name} is sunk into the substrate")
            )
    for (_, one), (n, other) in itertools.combinations(bodies, 2):
        if _overlap(one, other) and not _may_share(one, other):
            found.append(
                Problem(
                    f"/items/{n}/at_m", f"the {other.name} and the {one.name} stand in one place"
                )
            )
    called = names(request)
    found += [_problem(hazard, called[hazard.item.id], units) for hazard in hazards(request)]
    found += _probes_in_beams(request)
    return found


def _problem(hazard: Hazard, name: str, units: Units) -> Problem:
    close, least = (show(metres, Kind.LENGTH, units) for metres in (hazard.gap_m, hazard.least_m))
    said = hazard.said(name, f"only {close} from")
    return Problem(hazard.pointer, f"{said}. Keep {least}, or {hazard.advice}")


def _may_share(one: Item, other: Item) -> bool:
    """Branches lie across items and leaves hang over them; a stone in a pool is its way out, and
    what swims hides in it.
    """
    kinds = {one.kind, other.kind}
    return bool(kinds & {"branch", "plant"}) or kinds in ({"pool", "slab"}, {"pool", "hide"})


def lowest_under(request: Request, body: Item) -> float:
    """The lowest substrate under a body: what is sunk lies deeper than that [m]."""
    substrate = request.enclosure.substrate
    inside = request.enclosure.inside_m
    if substrate.slope is None or body.sides_m is None:
        return substrate.depth_m
    places = [
        (body.at_m[0] + k * body.sides_m[0] / 2, body.at_m[1] + k * body.sides_m[1] / 2)
        for k in (-1, 1)
    ]
    return min(substrate.depth_at(x / inside.length, y / inside.depth) for x, y in places)


def _probes_in_beams(request: Request) -> list[Problem]:
    """A probe that hangs in a beam feels the lamp as well as the air, and its thermostat holds the
    wrong thing.
    """
    found = []
    lamps = [
        t
        for t in request.items
        if t.kind in HEATERS and HEATERS[t.kind].beam_deg and HEATERS[t.kind].beam_share
    ]
    slabs = [t for t in request.items if isinstance(t, Slab)]
    for n, probe in enumerate(request.items):
        if not probe.is_probe:
            continue
        x, y, z = probe.at_m
        tops = [
            s.at_m[2] + s.size_m[2]
            for s in slabs
            if s.size_m and all(abs(probe.at_m[a] - s.at_m[a]) <= s.size_m[a] / 2 for a in (0, 1))
        ]
        if abs(z - max(tops, default=request.enclosure.substrate.depth_m)) <= LIES_M:
            continue  # one that lies on what it is to hold is where it belongs
        for lamp in lamps:
            drop = lamp.at_m[2] - z
            wide = HEATERS[lamp.kind]
            reach = wide.radius_m + drop * math.tan(
                math.radians((lamp.cone_deg or wide.beam_deg or 60) / 2)
            )
            if drop > 0 and math.hypot(x - lamp.at_m[0], y - lamp.at_m[1]) < reach:
                text = (
                    f"the probe hangs in the beam of the {lamp.name} and feels more than the"
                    " air: shade it, or let it lie on the surface that it is to hold"
                )
                found.append(Problem(f"/items/{n}/at_m", text))
    return found


def _overlap(one: Item, other: Item) -> bool:
    if one.sides_m is None or other.sides_m is None:
        raise ImpossibleStateError("missing: one.sides_m, other.sides_m")
    flat = all(
        abs(one.at_m[n] - other.at_m[n]) < (one.sides_m[n] + other.sides_m[n]) / 2 - TOUCH_M
        for n in (0, 1)
    )
    upright = (
        one.at_m[2] < other.at_m[2] + other.sides_m[2] - TOUCH_M
        and other.at_m[2] < one.at_m[2] + one.sides_m[2] - TOUCH_M
    )
    return flat and upright
