"""Front and top view for the layout editor, one above the other at one scale, with every item in a
group of its own that a hand can take.
"""

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from husbandry.climate.uv import total_uvi
from husbandry.documents.enclosure import InsideMeasures
from husbandry.documents.request import Request
from husbandry.documents.result import Plan, PlanSummary
from husbandry.items.base import Long
from husbandry.items.dividers import Divider
from husbandry.items.drippers import Dripper
from husbandry.items.fans import Fan
from husbandry.items.foggers import Fogger
from husbandry.items.furnishings import Hide, PlantedItem
from husbandry.items.heaters import HeatMat, LedBar, TubeHeater
from husbandry.items.instruments import Thermometer
from husbandry.items.screens import GuardScreen
from husbandry.items.union import Item
from husbandry.predict.predict import Prediction
from husbandry.quantity import Kind, Units, convert, default_unit, show
from ridgeback.drawing.animals import top_view
from ridgeback.drawing.contours import even_levels, lines
from ridgeback.drawing.fields import (
    UVI_LEVELS,
    Grids,
    contour_shapes,
    humidity_shapes,
    light_shapes,
    overlays,
    reader_degrees,
)
from ridgeback.drawing.items import (
    animal_shapes,
    beams_shapes,
    bodies_in_order,
    body_shapes,
    hung_shapes,
    item_bounds,
    lid_shapes,
    probes_shapes,
    substrate_shapes,
)
from ridgeback.drawing.paper import Paper, View, dimension_shapes, length_text
from ridgeback.drawing.primitives import Circle, Group, Line, Path, Rect, Shape, Text, polyline

Array = NDArray[np.float64]
LAYOUT = Paper(820, 60, 46, 54, 262)
GAP = 40.0
GRIP = 5.0
PLAN_GRID = (61, 25)


@dataclass(frozen=True)
class ViewArrangement:
    """Where both views lie on the paper."""

    front: View
    top: View
    height: float
    """Of the whole paper."""
    roof_y: float
    back_y: float
    """Of the top view's upper edge, the back wall."""


def layout(request: Request) -> ViewArrangement:
    """Both views at one scale: the enclosure fills the width, or the height that is left for it."""
    inside = request.enclosure.inside_m
    above = max([t.at_m[2] - inside.height for t in request.items if t.hangs_above_lid] or [0.0])
    most = LAYOUT.width - LAYOUT.left - LAYOUT.right
    scale = min(most / inside.length, LAYOUT.tallest / (inside.height + max(above, 0.05)), 600.0)
    left = LAYOUT.left + (most - inside.length * scale) / 2
    floor = LAYOUT.top + 20 + (inside.height + above) * scale
    back = floor + GAP
    front = View(LAYOUT, left, floor, scale, inside.length)
    top = View(
        LAYOUT, left, back + inside.depth * scale, scale, inside.length
    )  # y of depth 0 (the front glass) is the lower edge
    return ViewArrangement(
        front, top, back + inside.depth * scale + 48, front.y(inside.height), back
    )


def paper_data(request: Request) -> dict[str, float]:
    """What the hand needs to know: paper units a metre, and where the enclosure begins."""
    views = layout(request)
    return {
        "scale": views.front.scale,
        "left": views.front.left,
        "floor": views.front.floor,
        "front": views.top.floor,
    }


def shapes(
    seen: PlanSummary | Plan,
    prediction: Prediction,
    units: Units,
    marked: set[str],
    chosen: str,
    known: Grids,
    *,
    light: bool = False,
    vapour_pa: float | None = None,
) -> list[Shape]:
    """Everything on the paper: fields first, items over them, dimensions last."""
    request = prediction.request
    views = layout(request)
    return [
        *_front(seen, prediction, units, views, marked, chosen, known, light, vapour_pa),
        *_top(seen, prediction, units, views, marked, chosen),
        *_scale_bar(views, units),
    ]


def _roles(item: Item, marked: set[str], chosen: str) -> str:
    return (
        "item"
        + (" marked" if item.id in marked else "")
        + (" chosen" if item.id == chosen else "")
    )


def _grips(item: Item, left: float, top: float, right: float, base: float) -> list[Shape]:
    """Handles by which a chosen body is made larger."""
    middle = ((left + right) / 2, (top + base) / 2)
    return [
        Rect("outline", left - 3, top - 3, right - left + 6, base - top + 6),
        *(
            [
                Group("grip grip-x", parts=(Circle("grip-dot", right + 3, middle[1], GRIP),)),
                Group("grip grip-up", parts=(Circle("grip-dot", middle[0], top - 3, GRIP),)),
            ]
            if item.is_body
            else (
                [Group("grip grip-x", parts=(Circle("grip-dot", right + 3, middle[1], GRIP),))]
                if isinstance(item, HeatMat)
                else []
            )
        ),
    ]


def _front(
    seen: PlanSummary | Plan,
    prediction: Prediction,
    units: Units,
    views: ViewArrangement,
    marked: set[str],
    chosen: str,
    known: Grids,
    light: bool,
    vapour_pa: float | None,
) -> list[Shape]:
    request, view = prediction.request, views.front
    inside = request.enclosure.inside_m
    left, right, roof, floor = view.x(0), view.x(inside.length), views.roof_y, view.floor
    animal, bounds = animal_shapes(seen, prediction, view, units)
    taken = [*(item_bounds(t, view) for t in request.items), bounds]
    heat, uv = overlays(prediction, view, units, taken, known)
    parts: list[Shape] = [
        Rect("inside", left, roof, right - left, floor - roof),
        *beams_shapes(request, prediction, view),
        Group("layer", layer="heat", parts=tuple(heat)),
        Group("layer", layer="uv", parts=tuple(uv)),
        *(
            [Group("layer", layer="light", parts=tuple(light_shapes(prediction, view, taken)))]
            if light
            else []
        ),
        *(
            [
                Group(
                    "layer",
                    layer="damp",
                    parts=tuple(humidity_shapes(known, vapour_pa, view, taken)),
                )
            ]
            if vapour_pa
            else []
        ),
    ]
    parts = _front_parts(animal, chosen, marked, parts, prediction, request, units, view)
    parts.append(
        Path("enclosure", polyline([(left, roof), (left, floor), (right, floor), (right, roof)]))
    )
    parts += probes_shapes(prediction, view)
    over = min([roof, *(item_bounds(t, view).y for t in request.items if t.hangs_above_lid)])
    dimensions = dimension_shapes(
        (left, over - 22), (right, over - 22), length_text(inside.length, units)
    )
    dimensions += dimension_shapes(
        (left - 34, roof), (left - 34, floor), show(inside.height, Kind.LENGTH, units, unit=False)
    )
    parts.append(Group("dimensions", parts=tuple(dimensions)))
    parts.append(Text("words-soft", right, floor + 16, "from the front", "end"))
    return parts


def _front_parts(
    animal: list[Shape],
    chosen: str,
    marked: set[str],
    parts: list[Shape],
    prediction: Prediction,
    request: Request,
    units: Units,
    view: View,
) -> list[Shape]:
    """Draw the front view: what stands, and what hangs."""
    parts += substrate_shapes(request, view)
    bodies = bodies_in_order(request.items)
    for item in bodies:
        at = item_bounds(item, view)
        own: list[Shape] = body_shapes(item, view)
        if item.id == chosen:
            own += _grips(item, at.x, at.y, at.x + at.width, at.y + at.height)
        parts.append(
            Group(
                _roles(item, marked, chosen),
                item=item.id,
                title=_title(item, units),
                parts=tuple(own),
            )
        )
    parts += animal
    for item in request.items:
        if not item.is_body:
            own = hung_shapes(item, prediction, view, units)
            if item.id == chosen:
                at = item_bounds(item, view)
                own += _grips(item, at.x, at.y, at.x + at.width, at.y + at.height)
            parts.append(
                Group(
                    _roles(item, marked, chosen),
                    item=item.id,
                    title=_title(item, units),
                    parts=tuple(own),
                )
            )
    parts += lid_shapes(request, view)
    return parts


def _title(item: Item, units: Units) -> str:
    x, y, z = (length_text(v, units) for v in item.at_m)
    return f"{item.name}: {x} from the left, {y} from the front, {z} up"


def _top(
    seen: PlanSummary | Plan,
    prediction: Prediction,
    units: Units,
    views: ViewArrangement,
    marked: set[str],
    chosen: str,
) -> list[Shape]:
    """From above: the lid taken off, the front glass below."""
    request, view = prediction.request, views.top
    inside = request.enclosure.inside_m
    left, right, back, front = view.x(0), view.x(inside.length), views.back_y, view.floor
    parts: list[Shape] = [
        Rect(
            f"inside substrate-{request.enclosure.substrate.material} plan",
            left,
            back,
            right - left,
            front - back,
        )
    ]
    taken = [_plan_bounds(t, view) for t in request.items]
    heat, uv = _plan_fields(prediction, view, units, taken)
    parts.append(uv)
    lamps: list[Shape] = []
    for item in sorted(
        request.items, key=lambda t: (not isinstance(t, HeatMat), not t.is_body, t.at_m[2])
    ):  # mats lie under all
        at = _plan_bounds(item, view)
        own = _plan_body(item, at) if item.is_body else _plan_lamp(item, at, view)
        if item.id == chosen:
            own.append(Rect("outline", at.x - 3, at.y - 3, at.width + 6, at.height + 6))
            if item.is_body or isinstance(item, HeatMat):
                own.append(
                    Group(
                        "grip grip-x",
                        parts=(
                            Circle("grip-dot", at.x + at.width + 3, at.y + at.height / 2, GRIP),
                        ),
                    )
                )
                own.append(
                    Group(
                        "grip grip-y",
                        parts=(Circle("grip-dot", at.x + at.width / 2, at.y - 3, GRIP),),
                    )
                )
        drawn = Group(
            _roles(item, marked, chosen), item=item.id, title=_title(item, units), parts=tuple(own)
        )
        (parts if item.is_body or isinstance(item, HeatMat) else lamps).append(drawn)
    parts += [
        heat,
        *_plan_animal(seen, prediction, view),
        *lamps,
    ]  # the isotherms of a stone lie on it, and the lamps hang over all
    return _plan_frame(back, front, inside, left, parts, right, units)


def _plan_frame(
    back: float,
    front: float,
    inside: InsideMeasures,
    left: float,
    parts: list[Shape],
    right: float,
    units: Units,
) -> list[Shape]:
    """Close the plan with its outline and its dimensions."""
    parts.append(Rect("enclosure", left, back, right - left, front - back))
    parts.append(
        Group(
            "dimensions",
            parts=tuple(
                dimension_shapes(
                    (left - 34, back),
                    (left - 34, front),
                    show(inside.depth, Kind.LENGTH, units, unit=False),
                )
            ),
        )
    )
    parts.append(Text("words-soft", right, front + 16, "from above", "end"))
    return parts


def _plan_bounds(item: Item, view: View) -> Rect:
    x, y = view.x(item.at_m[0]), view.y(item.at_m[1])

    if isinstance(item, Long):
        wide, high = (item.length_m or 0.5) * view.scale, 10.0
    elif item.sides_m:
        wide, high = item.sides_m[0] * view.scale, item.sides_m[1] * view.scale
    else:
        wide, high = 28.0, 28.0

    return Rect("", x - wide / 2, y - high / 2, wide, high)


def _plan_body(item: Item, at: Rect) -> list[Shape]:
    role = {
        "slab": "stone",
        "dish": "water",
        "pool": "water",
        "branch": "branch",
        "hide": "hide",
        "plant": "plant",
        "dig_box": "hide",
    }.get(item.kind, "stone")
    radius = {
        "dish": min(at.width, at.height) / 2,
        "pool": min(at.width, at.height) / 5,
        "hide": min(at.width, at.height) / 3,
        "plant": min(at.width, at.height) / 2,
        "branch": min(at.width, at.height) / 2,
    }.get(item.kind, 3.0)
    found: list[Shape] = [Rect(role, at.x, at.y, at.width, at.height, radius)]
    if isinstance(item, PlantedItem):
        cx, cy = at.x + at.width / 2, at.y + at.height / 2
        ribs = "".join(
            f"M{cx:.1f},{cy:.1f}l{0.42 * at.width * math.cos(n * 1.05):.1f},{0.42 * at.height * math.sin(n * 1.05):.1f}"
            for n in range(6)
        )
        found.append(Path("thin", ribs))
    if isinstance(item, Hide):
        found.append(
            Rect("void", at.x + at.width * 0.33, at.y + at.height - 6, at.width * 0.34, 6)
        )
    return found


def _plan_lamp(item: Item, at: Rect, view: View) -> list[Shape]:
    if item.is_probe:
        x, y = view.x(item.at_m[0]), view.y(item.at_m[1])

        return [Circle("felt", x, y, 5)]

    if isinstance(item, HeatMat):
        rows = "".join(
            f"M{at.x + 4:.1f},{at.y + 6 + 9 * n:.1f}h{max(at.width - 8, 1):.1f}"
            for n in range(max(int(at.height / 9), 1))
        )

        return [Rect("mat", at.x, at.y, at.width, at.height, 3), Path("coil", rows)]

    if isinstance(item, Thermometer):
        return [Circle("felt", view.x(item.at_m[0]), view.y(item.at_m[1]), 4)]

    if isinstance(item, GuardScreen):
        x, y = view.x(item.at_m[0]), view.y(item.at_m[1])
        wires = (f"M{x - 12:.1f},{y + beside:.1f}h24" for beside in (-6, 0, 6))
        across = (f"M{x + beside:.1f},{y - 9:.1f}v18" for beside in (-8, 0, 8))

        return [Path("coil", "".join((*wires, *across)))]

    if isinstance(item, Divider):
        return [Rect("hide", at.x, at.y, max(at.width, 4.0), at.height)]

    if isinstance(item, Dripper | Fan | Fogger):
        left = view.x(item.at_m[0]) - 9
        top = view.y(item.at_m[1]) - 9

        return [Rect("lamp", left, top, 18, 18, 3)]

    if isinstance(item, LedBar | TubeHeater):
        return [Rect("lamp", at.x, at.y, at.width, at.height, 5)]

    if item.is_tube:
        return [Rect("tube", at.x, at.y, at.width, at.height, 5)]

    if item.kind == "infrared_panel":
        return [Rect("lamp", at.x, at.y + 5, at.width, at.height - 10)]
    x, y = view.x(item.at_m[0]), view.y(item.at_m[1])

    return [Circle("lamp", x, y, 11), Circle("face-ring", x, y, 6)]


def _plan_animal(seen: PlanSummary | Plan, prediction: Prediction, view: View) -> list[Shape]:
    """The largest animal at its length, where it basks, seen from above."""
    animal = max(seen.animals, key=lambda one: one.length_m)
    profile = prediction.request.profiles[animal.species]
    length = profile.nose_to_tail_m(animal.length_m) * view.scale
    x, y = view.x(prediction.basking.x_m), view.y(prediction.basking.y_m)
    left = min(
        max(x - 0.42 * length, view.x(0) + 4),
        max(view.x(prediction.enclosure.length_m) - 4 - length, view.x(0) + 4),
    )
    return [
        Group(
            "animal-group",
            title=animal.name or animal.common_name,
            parts=tuple(
                Path("animal", d) for d in top_view(profile.body.outline, left, y, length)
            ),
        )
    ]


def _plan_fields(
    prediction: Prediction, view: View, units: Units, taken: list[Rect]
) -> tuple[Group, Group]:
    """Isotherms of the mapped faces, and UVI lines at the height of the animal's back."""
    unit = default_unit(Kind.TEMPERATURE, units)
    heat: list[Shape] = []
    for n, slab in enumerate(prediction.day.heat_model.slabs):
        face = prediction.day.surface_map(n)
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
    if prediction.uv:
        enclosure = prediction.enclosure
        gx, gy = (
            np.linspace(0, enclosure.length_m, PLAN_GRID[0]),
            np.linspace(0, enclosure.depth_m, PLAN_GRID[1]),
        )
        xx, yy = np.meshgrid(gx, gy, indexing="ij")
        index = total_uvi(
            prediction.uv, xx, yy, np.full(xx.shape, prediction.living_m), prediction.blockers
        )
        uv = contour_shapes(
            lines(gx, gy, index, UVI_LEVELS, shortest_m=0.2),
            view,
            "uvi-line",
            "tag-uv",
            lambda v: f"UVI {v:g}",
            taken,
        )
    return Group("layer", layer="heat", parts=tuple(heat)), Group(
        "layer", layer="uv", parts=tuple(uv)
    )


def _scale_bar(views: ViewArrangement, units: Units) -> list[Shape]:
    step = 0.1 if units.system == "metric" else 0.1524  # 10 cm, 6 in
    top, view = views.top.floor + 22, views.top
    parts: list[Shape] = [
        Rect("scale-bar", view.x(0) + n * step * view.scale, top, step * view.scale, 5)
        for n in (0, 2)
    ]
    end = view.x(0) + 4 * step * view.scale
    parts.append(Line("thin", (view.x(0), top + 5), (end, top + 5)))
    parts += [
        Text("words-soft", view.x(0), top + 20, "0"),
        Text("words-soft", end, top + 20, length_text(4 * step, units), "end"),
    ]
    return parts
