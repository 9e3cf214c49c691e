"""Front and top view for the bench, one above the other at one scale, with every thing in a group of its own that a hand can take."""

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from husbandry.climate.uv import total_uvi
from husbandry.planning.naming import thing_name
from husbandry.planning.predict import Outcome
from husbandry.planning.request import LONG_KINDS, Request, Thing
from husbandry.planning.result import Glance, Plan
from husbandry.quantity import Kind, Units, convert, default_unit, show
from ridgeback.drawing.animals import top_view
from ridgeback.drawing.contours import even_levels, lines
from ridgeback.drawing.fields import UVI_LEVELS, Grids, contour_shapes, humidity_shapes, light_shapes, overlays, reader_degrees
from ridgeback.drawing.paper import Paper, View, dimension_shapes, length_text
from ridgeback.drawing.primitives import Circle, Group, Line, Path, Rect, Shape, Text, polyline
from ridgeback.drawing.things import (
    animal_shapes,
    beams_shapes,
    bodies_in_order,
    body_shapes,
    ground_shapes,
    hung_shapes,
    lid_shapes,
    probes_shapes,
    thing_bounds,
)

Array = NDArray[np.float64]
BENCH = Paper(820, 60, 46, 54, 262)
GAP = 40.0
GRIP = 5.0
PLAN_GRID = (61, 25)


@dataclass(frozen=True)
class Bench:
    """Where both views lie on the paper."""

    front: View
    top: View
    height: float
    """Of the whole paper."""
    roof_y: float
    back_y: float
    """Of the top view's upper edge, the back wall."""


def layout(request: Request) -> Bench:
    """Both views at one scale: the enclosure fills the width, or the height that is left for it."""
    inside = request.box.inside_m
    above = max([t.at_m[2] - inside.height for t in request.things if t.above_lid] or [0.0])
    most = BENCH.width - BENCH.left - BENCH.right
    scale = min(most / inside.length, BENCH.tallest / (inside.height + max(above, 0.05)), 600.0)
    left = BENCH.left + (most - inside.length * scale) / 2
    floor = BENCH.top + 20 + (inside.height + above) * scale
    back = floor + GAP
    front = View(BENCH, left, floor, scale, inside.length)
    top = View(BENCH, left, back + inside.depth * scale, scale, inside.length)  # y of depth 0 (the front glass) is the lower edge
    return Bench(front, top, back + inside.depth * scale + 48, front.y(inside.height), back)


def paper_data(request: Request) -> dict[str, float]:
    """What the hand needs to know: paper units a metre, and where the enclosure begins."""
    bench = layout(request)
    return {"scale": bench.front.scale, "left": bench.front.left, "floor": bench.front.floor, "front": bench.top.floor}


def shapes(
    seen: Glance | Plan,
    outcome: Outcome,
    units: Units,
    marked: set[str],
    chosen: str,
    known: Grids,
    *,
    light: bool = False,
    vapour_pa: float | None = None,
) -> list[Shape]:
    """Everything on the paper: fields first, things over them, dimensions last."""
    request = outcome.request
    bench = layout(request)
    return [
        *_front(seen, outcome, units, bench, marked, chosen, known, light, vapour_pa),
        *_top(seen, outcome, units, bench, marked, chosen),
        *_scale_bar(bench, units),
    ]


def _roles(thing: Thing, marked: set[str], chosen: str) -> str:
    return "thing" + (" marked" if thing.id in marked else "") + (" chosen" if thing.id == chosen else "")


def _grips(thing: Thing, left: float, top: float, right: float, base: float) -> list[Shape]:
    """Handles by which a chosen body is made larger."""
    middle = ((left + right) / 2, (top + base) / 2)
    return [
        Rect("outline", left - 3, top - 3, right - left + 6, base - top + 6),
        *(
            [Group("grip grip-x", parts=(Circle("grip-dot", right + 3, middle[1], GRIP),)), Group("grip grip-up", parts=(Circle("grip-dot", middle[0], top - 3, GRIP),))]
            if thing.is_body
            else [Group("grip grip-x", parts=(Circle("grip-dot", right + 3, middle[1], GRIP),))]
            if thing.kind == "heat_mat"
            else []
        ),
    ]  # fmt: skip


def _front(
    seen: Glance | Plan,
    outcome: Outcome,
    units: Units,
    bench: Bench,
    marked: set[str],
    chosen: str,
    known: Grids,
    light: bool,
    vapour_pa: float | None,
) -> list[Shape]:
    request, view = outcome.request, bench.front
    inside = request.box.inside_m
    left, right, roof, floor = view.x(0), view.x(inside.length), bench.roof_y, view.floor
    animal, bounds = animal_shapes(seen, outcome, view, units)
    taken = [*(thing_bounds(t, view) for t in request.things), bounds]
    heat, uv = overlays(outcome, view, units, taken, known)
    parts: list[Shape] = [
        Rect("inside", left, roof, right - left, floor - roof),
        *beams_shapes(request, outcome, view),
        Group("layer", layer="heat", parts=tuple(heat)),
        Group("layer", layer="uv", parts=tuple(uv)),
        *([Group("layer", layer="light", parts=tuple(light_shapes(outcome, view, taken)))] if light else []),
        *([Group("layer", layer="damp", parts=tuple(humidity_shapes(known, vapour_pa, view, taken)))] if vapour_pa else []),
    ]
    parts += ground_shapes(request, view)
    bodies = bodies_in_order(request.things)
    for thing in bodies:
        at = thing_bounds(thing, view)
        own: list[Shape] = body_shapes(thing, view)
        if thing.id == chosen:
            own += _grips(thing, at.x, at.y, at.x + at.width, at.y + at.height)
        parts.append(Group(_roles(thing, marked, chosen), thing=thing.id, title=_title(thing, units), parts=tuple(own)))
    parts += animal
    for thing in request.things:
        if not thing.is_body:
            own = hung_shapes(thing, outcome, view, units)
            if thing.id == chosen:
                at = thing_bounds(thing, view)
                own += _grips(thing, at.x, at.y, at.x + at.width, at.y + at.height)
            parts.append(Group(_roles(thing, marked, chosen), thing=thing.id, title=_title(thing, units), parts=tuple(own)))
    parts += lid_shapes(request, view)
    parts.append(Path("box", polyline([(left, roof), (left, floor), (right, floor), (right, roof)])))
    parts += probes_shapes(outcome, view)
    over = min([roof, *(thing_bounds(t, view).y for t in request.things if t.above_lid)])
    dimensions = dimension_shapes((left, over - 22), (right, over - 22), length_text(inside.length, units))
    dimensions += dimension_shapes((left - 34, roof), (left - 34, floor), show(inside.height, Kind.LENGTH, units, unit=False))
    parts.append(Group("dimensions", parts=tuple(dimensions)))
    parts.append(Text("words-soft", right, floor + 16, "from the front", "end"))
    return parts


def _title(thing: Thing, units: Units) -> str:
    x, y, z = (length_text(v, units) for v in thing.at_m)
    return f"{thing_name(thing)}: {x} from the left, {y} from the front, {z} up"


def _top(seen: Glance | Plan, outcome: Outcome, units: Units, bench: Bench, marked: set[str], chosen: str) -> list[Shape]:
    """From above: the lid taken off, the front glass below."""
    request, view = outcome.request, bench.top
    inside = request.box.inside_m
    left, right, back, front = view.x(0), view.x(inside.length), bench.back_y, view.floor
    parts: list[Shape] = [Rect(f"inside ground-{request.box.ground.material} plan", left, back, right - left, front - back)]
    taken = [_plan_bounds(t, view) for t in request.things]
    heat, uv = _plan_fields(outcome, view, units, taken)
    parts.append(uv)
    lamps: list[Shape] = []
    for thing in sorted(request.things, key=lambda t: (t.kind != "heat_mat", not t.is_body, t.at_m[2])):  # mats lie under all
        at = _plan_bounds(thing, view)
        own = _plan_body(thing, at) if thing.is_body else _plan_lamp(thing, at, view)
        if thing.id == chosen:
            own.append(Rect("outline", at.x - 3, at.y - 3, at.width + 6, at.height + 6))
            if thing.is_body or thing.kind == "heat_mat":
                own.append(Group("grip grip-x", parts=(Circle("grip-dot", at.x + at.width + 3, at.y + at.height / 2, GRIP),)))
                own.append(Group("grip grip-y", parts=(Circle("grip-dot", at.x + at.width / 2, at.y - 3, GRIP),)))
        drawn = Group(_roles(thing, marked, chosen), thing=thing.id, title=_title(thing, units), parts=tuple(own))
        (parts if thing.is_body or thing.kind == "heat_mat" else lamps).append(drawn)
    parts += [heat, *_plan_animal(seen, outcome, view), *lamps]  # the isotherms of a stone lie on it, and the lamps hang over all
    parts.append(Rect("box", left, back, right - left, front - back))
    parts.append(
        Group(
            "dimensions",
            parts=tuple(
                dimension_shapes((left - 34, back), (left - 34, front), show(inside.depth, Kind.LENGTH, units, unit=False))
            ),
        )
    )
    parts.append(Text("words-soft", right, front + 16, "from above", "end"))
    return parts


def _plan_bounds(thing: Thing, view: View) -> Rect:
    x, y, _ = thing.at_m
    if thing.is_tube or thing.kind in LONG_KINDS:
        half = (thing.length_m or 0.5) / 2 * view.scale
        return Rect("", view.x(x) - half, view.y(y) - 5, 2 * half, 10)
    if thing.size_m:
        w, h = thing.size_m[0] * view.scale, thing.size_m[1] * view.scale
        return Rect("", view.x(x) - w / 2, view.y(y) - h / 2, w, h)
    return Rect("", view.x(x) - 14, view.y(y) - 14, 28, 28)


def _plan_body(thing: Thing, at: Rect) -> list[Shape]:
    role = {"slab": "stone", "dish": "water", "pool": "water", "branch": "branch", "hide": "hide", "plant": "plant"}.get(
        thing.kind, "stone"
    )
    radius = {
        "dish": min(at.width, at.height) / 2,
        "pool": min(at.width, at.height) / 5,
        "hide": min(at.width, at.height) / 3,
        "plant": min(at.width, at.height) / 2,
        "branch": min(at.width, at.height) / 2,
    }.get(thing.kind, 3.0)
    found: list[Shape] = [Rect(role, at.x, at.y, at.width, at.height, radius)]
    if thing.kind == "plant":
        cx, cy = at.x + at.width / 2, at.y + at.height / 2
        ribs = "".join(
            f"M{cx:.1f},{cy:.1f}l{0.42 * at.width * math.cos(n * 1.05):.1f},{0.42 * at.height * math.sin(n * 1.05):.1f}"
            for n in range(6)
        )
        found.append(Path("thin", ribs))
    if thing.kind == "hide":
        found.append(Rect("void", at.x + at.width * 0.33, at.y + at.height - 6, at.width * 0.34, 6))
    return found


def _plan_lamp(thing: Thing, at: Rect, view: View) -> list[Shape]:
    if thing.is_probe:
        x, y = view.x(thing.at_m[0]), view.y(thing.at_m[1])
        return [Circle("felt", x, y, 5)]
    if thing.kind == "heat_mat":
        rows = "".join(
            f"M{at.x + 4:.1f},{at.y + 6 + 9 * n:.1f}h{max(at.width - 8, 1):.1f}" for n in range(max(int(at.height / 9), 1))
        )
        return [Rect("mat", at.x, at.y, at.width, at.height, 3), Path("coil", rows)]
    if thing.kind in LONG_KINDS:
        return [Rect("lamp", at.x, at.y, at.width, at.height, 5)]
    if thing.is_tube:
        return [Rect("tube", at.x, at.y, at.width, at.height, 5)]
    if thing.kind == "infrared_panel":
        return [Rect("lamp", at.x, at.y + 5, at.width, at.height - 10)]
    x, y = view.x(thing.at_m[0]), view.y(thing.at_m[1])
    return [Circle("lamp", x, y, 11), Circle("face-ring", x, y, 6)]


def _plan_animal(seen: Glance | Plan, outcome: Outcome, view: View) -> list[Shape]:
    """The largest animal at its length, where it basks, seen from above."""
    animal = max(seen.animals, key=lambda one: one.length_m)
    profile = outcome.request.profiles[animal.species]
    length = profile.nose_to_tail_m(animal.length_m) * view.scale
    x, y = view.x(outcome.basking.x_m), view.y(outcome.basking.y_m)
    left = min(max(x - 0.42 * length, view.x(0) + 4), max(view.x(outcome.box.length_m) - 4 - length, view.x(0) + 4))
    return [
        Group(
            "animal-group",
            title=animal.name or animal.common_name,
            parts=tuple(Path("animal", d) for d in top_view(profile.body.outline, left, y, length)),
        )
    ]


def _plan_fields(outcome: Outcome, view: View, units: Units, taken: list[Rect]) -> tuple[Group, Group]:
    """Isotherms of the mapped faces, and UVI lines at the height of the animal's back."""
    unit = default_unit(Kind.TEMPERATURE, units)
    heat: list[Shape] = []
    for n, slab in enumerate(outcome.day.enclosure.slabs):
        face = outcome.day.surface_map(n)
        x, y = slab.cells()
        ends = [float(face.min()), float(face.max())]
        low, high = (v * 9 / 5 + 32 if units.temperature == "f" else v for v in ends)
        levels = [convert(v, Kind.TEMPERATURE, unit) for v in even_levels(low, high, 4)]
        if ends[1] - ends[0] > 0.5:
            heat += contour_shapes(
                lines(x, y, face, levels, shortest_m=0.1),
                view,
                "isotherm",
                "tag-heat",
                lambda v: f"{reader_degrees(v, units):g}°",
                taken,
            )
    uv: list[Shape] = []
    if outcome.uv:
        box = outcome.box
        gx, gy = np.linspace(0, box.length_m, PLAN_GRID[0]), np.linspace(0, box.depth_m, PLAN_GRID[1])
        xx, yy = np.meshgrid(gx, gy, indexing="ij")
        index = total_uvi(outcome.uv, xx, yy, np.full(xx.shape, outcome.living_m), outcome.blockers)
        uv = contour_shapes(
            lines(gx, gy, index, UVI_LEVELS, shortest_m=0.2), view, "uvi-line", "tag-uv", lambda v: f"UVI {v:g}", taken
        )
    return Group("layer", layer="heat", parts=tuple(heat)), Group("layer", layer="uv", parts=tuple(uv))


def _scale_bar(bench: Bench, units: Units) -> list[Shape]:
    step = 0.1 if units.system == "metric" else 0.1524  # 10 cm, 6 in
    top, view = bench.top.floor + 22, bench.top
    parts: list[Shape] = [Rect("scale-bar", view.x(0) + n * step * view.scale, top, step * view.scale, 5) for n in (0, 2)]
    end = view.x(0) + 4 * step * view.scale
    parts.append(Line("thin", (view.x(0), top + 5), (end, top + 5)))
    parts += [
        Text("words-soft", view.x(0), top + 20, "0"),
        Text("words-soft", end, top + 20, length_text(4 * step, units), "end"),
    ]
    return parts
