"""The front view of an enclosure: to scale, dimensioned, with the animal at its length, isotherms
and UVI lines, scale bar and title block.
"""

from dataclasses import dataclass

from husbandry.documents.enclosure import InsideMeasures
from husbandry.documents.request import Request
from husbandry.documents.result import Plan, PlanSummary
from husbandry.items.union import Item
from husbandry.predict.predict import Prediction
from husbandry.quantity import Kind, Units, show
from ridgeback.drawing.fields import light_shapes, overlays
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
from ridgeback.drawing.paper import NARROW, WIDE, Paper, View, dimension_shapes, length_text
from ridgeback.drawing.primitives import (
    Drawing,
    Group,
    Line,
    Path,
    Place,
    Rect,
    Shape,
    Text,
    number,
    polyline,
)

__all__ = ["NARROW", "WIDE", "Labels", "Paper", "View", "fit", "front_view"]


@dataclass(frozen=True)
class Labels:
    """What the title block says."""

    name: str
    moment: str
    revision: str


def fit(request: Request, paper: Paper) -> View:
    """The largest scale at which the enclosure, and what hangs above it, fits the paper."""
    inside = request.enclosure.inside_m
    above = max([t.at_m[2] - inside.height for t in request.items if t.hangs_above_lid] or [0.0])
    scale = min(
        (paper.width - paper.left - paper.right) / inside.length,
        paper.tallest / (inside.height + above),
    )
    left = paper.left + (paper.width - paper.left - paper.right - inside.length * scale) / 2
    head = max(
        [
            _head(t, paper) - (above - (t.at_m[2] - inside.height)) * scale
            for t in request.items
            if t.hangs_above_lid
        ]
        or [0.0]
    )
    return View(
        paper,
        left,
        paper.top + max(head, 0.0) + (inside.height + above) * scale,
        scale,
        inside.length,
    )


def _head(item: Item, paper: Paper) -> float:
    """How far a lamp's drawing reaches above its place, on the paper."""
    return 12.0 if item.is_tube else (20.0 if paper.narrow else 32.0)


def front_view(
    plan: Plan | PlanSummary,
    prediction: Prediction,
    units: Units,
    labels: Labels,
    paper: Paper = WIDE,
    *,
    light: bool = False,
    fields: bool = True,
) -> Drawing:
    """Draw a planned enclosure from the front; with lines of brightness, to be shown on demand, for
    `light`; without anything that is predicted where `fields` is False.
    """
    request = prediction.request
    view = fit(request, paper)
    inside = request.enclosure.inside_m
    parts = _view_parts(inside, light, plan, prediction, request, units, view, fields=fields)
    below, height = _below(plan, prediction, view, units, labels)
    parts += below
    description = (
        f"{labels.name}, front view. Enclosure {length_text(inside.length, units)} long,"
        f" {length_text(inside.height, units)} high inside. "
        + "; ".join(
            f"{_spoken(t)} at {length_text(t.at_m[0], units)} from the left,"
            f" {length_text(t.at_m[2], units)} above the floor"
            for t in request.items
        )
    )
    return Drawing(
        paper.width,
        height,
        tuple(parts),
        f"{labels.name}, front view to scale",
        description,
        "sheet",
    )


def _view_parts(
    inside: InsideMeasures,
    light: bool,
    plan: Plan | PlanSummary,
    prediction: Prediction,
    request: Request,
    units: Units,
    view: View,
    *,
    fields: bool,
) -> list[Shape]:
    """Draw what stands in the view, from the back to the front."""
    left = view.x(0)
    right = view.x(inside.length)
    roof = view.y(inside.height)
    floor = view.floor
    parts: list[Shape] = [Rect("inside", left, roof, right - left, floor - roof)]
    animal, bounds = animal_shapes(plan, prediction, view, units)
    dimensions, kept_free = _dimensions(plan, prediction, view, units)
    taken: list[Rect] = [*(item_bounds(t, view) for t in request.items), bounds, *kept_free]
    if fields:
        parts += beams_shapes(request, prediction, view)
        heat, uv = overlays(prediction, view, units, taken)
        parts += [
            Group("layer", layer="heat", parts=tuple(heat)),
            Group("layer", layer="uv", parts=tuple(uv)),
        ]
    if light:
        parts.append(
            Group("layer", layer="light", parts=tuple(light_shapes(prediction, view, taken)))
        )
    parts += substrate_shapes(request, view)
    parts.append(
        Group(
            "layer",
            layer="items",
            parts=tuple(s for t in bodies_in_order(request.items) for s in body_shapes(t, view)),
        )
    )
    parts += animal
    parts.append(
        Group(
            "layer",
            layer="items",
            parts=tuple(
                s
                for t in request.items
                if not t.is_body
                for s in hung_shapes(t, prediction, view, units)
            ),
        )
    )
    parts += lid_shapes(request, view)
    parts.append(
        Path("enclosure", polyline([(left, roof), (left, floor), (right, floor), (right, roof)]))
    )
    parts += probes_shapes(prediction, view)
    parts += dimensions
    return parts


def _spoken(item: Item) -> str:
    return {"slab": "stone"}.get(item.kind, item.kind.replace("_", " "))


# --- dimensions, scale bar, title block -----------------------------------------------------------


def _dimensions(
    plan: Plan | PlanSummary, prediction: Prediction, view: View, units: Units
) -> tuple[list[Shape], list[Rect]]:
    """The dimension lines, and the places inside the enclosure where their numbers stand."""
    free: list[Rect] = []
    inside, depth = (
        prediction.request.enclosure.inside_m,
        prediction.request.enclosure.substrate.depth_m,
    )
    roof = view.y(inside.height)
    narrow = view.paper.narrow
    over = min(
        [roof]
        + [
            view.y(t.at_m[2]) - _head(t, view.paper)
            for t in prediction.request.items
            if t.hangs_above_lid
        ]
    )
    parts = dimension_shapes(
        (view.x(0), over - 24),
        (view.x(inside.length), over - 24),
        length_text(inside.length, units),
    )
    side = 20 if narrow else 34
    parts += dimension_shapes(
        (view.x(0) - side, roof),
        (view.x(0) - side, view.floor),
        show(inside.height, Kind.LENGTH, units, unit=False),
    )
    if depth * view.scale > 14:
        right = view.x(inside.length) + (16 if narrow else 24)
        parts += dimension_shapes(
            (right, view.y(depth)),
            (right, view.floor),
            show(depth, Kind.LENGTH, units, unit=False),
        )
    slab = prediction.basking_slab
    if slab is not None and not narrow and prediction.position.perch is None:
        surface = prediction.day.heat_model.slabs[slab]
        lamps = [lamp for lamp in prediction.day.heat_model.lamps if lamp.heater.beam_share]
        if lamps:
            lamp = min(lamps, key=lambda element: abs(element.x_m - surface.x_m))
            x = view.x(min(lamp.x_m + 0.13, inside.length - 0.03))
            words = show(lamp.z_m - surface.top_m, Kind.LENGTH, units, unit=False)
            parts += dimension_shapes((x, view.y(lamp.z_m)), (x, view.y(surface.top_m)), words)
            free.append(
                Rect("", x - 18, (view.y(lamp.z_m) + view.y(surface.top_m)) / 2 - 12, 36, 24)
            )
    return [Group("dimensions", parts=tuple(parts))], free


def _below(
    plan: Plan | PlanSummary, prediction: Prediction, view: View, units: Units, labels: Labels
) -> tuple[list[Shape], float]:
    """Scale bar and title block under the enclosure; and the height of the whole sheet."""
    paper = view.paper
    top = view.floor + (24 if paper.narrow else 30)
    right = paper.width - paper.right
    step = 0.1 if units.system == "metric" else 0.1524  # 10 cm, 6 in
    parts: list[Shape] = []
    count = 4 if 4 * step * view.scale < 300 else 2
    for n in range(count):
        x = view.x(0) + n * step * view.scale
        if n % 2 == 0:
            parts.append(Rect("scale-bar", x, top, step * view.scale, 5))
    end = view.x(0) + count * step * view.scale
    parts.append(
        Path(
            "thin",
            f"M{number(view.x(0))},{number(top + 5)}H{number(end)}"
            f"M{number(view.x(0))},{number(top - 3)}v8M{number(end)},{number(top - 3)}v8",
        )
    )
    parts.append(Text("words-soft", view.x(0), top + 22, "0"))
    parts.append(Text("words-soft", end, top + 22, length_text(count * step, units), "end"))
    if paper.narrow:
        return parts, top + 30
    y0 = top - 6
    return [
        *parts,
        *title_block(prediction.request, view, units, labels, (right, y0), "front view"),
    ], y0 + BLOCK[1] + 8


def _short(words: str, most: int) -> str:
    return words if len(words) <= most else words[: most - 1] + "…"


BLOCK = (330.0, 54.0)
"""Width and height of a title block, on the paper."""


def title_block(
    request: Request, view: View, units: Units, labels: Labels, corner: Place, what: str
) -> list[Shape]:
    """Name, scale, moment, room and revision, with its upper right corner at a place."""
    width, height = BLOCK
    x0 = corner[0] - width
    y0 = corner[1]
    ratio = 96 / 0.0254 / view.scale  # at the size of a screen's nominal 96 dots an inch
    return [
        Rect("title-block", x0, y0, width, height),
        Line("thin", (x0, y0 + 27), (x0 + width, y0 + 27)),
        Line("thin", (x0 + 128, y0 + 27), (x0 + 128, y0 + height)),
        Line("thin", (x0 + 238, y0 + 27), (x0 + 238, y0 + height)),
        Text("words-strong", x0 + 10, y0 + 18, f"{_short(labels.name, 24)} · {what}"),
        Text("words", x0 + width - 10, y0 + 18, f"1 : {ratio:.1f}", "end"),
        Text("words", x0 + 10, y0 + 45, labels.moment),
        Text(
            "words",
            x0 + 138,
            y0 + 45,
            f"room {show(request.room.day_c, Kind.TEMPERATURE, units, digits=0)}",
        ),
        Text("words", x0 + width - 10, y0 + 45, labels.revision, "end"),
    ]
