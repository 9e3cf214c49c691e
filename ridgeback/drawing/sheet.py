"""The front view of a box: to scale, dimensioned, with the animal at its length, isotherms and UVI lines, scale bar and title block."""

import math
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from husbandry.climate.uv import total_uvi
from husbandry.planning.predict import Outcome
from husbandry.planning.request import LAID_KINDS, LONG_KINDS, Request, Thing
from husbandry.planning.result import Glance, Plan
from husbandry.quantity import Kind, Units, convert, default_unit, show
from ridgeback.drawing.animals import extent, side_view, tallness
from ridgeback.drawing.contours import Contour, even_levels, lines, refine
from ridgeback.drawing.primitives import (
    Circle,
    Drawing,
    Group,
    Line,
    Path,
    Place,
    Rect,
    Shape,
    Text,
    length_of,
    number,
    overlaps,
    polyline,
)

Array = NDArray[np.float64]
UVI_LEVELS = [0.3, 1.0, 2.0, 3.0, 5.0, 7.0]
GRID = (61, 31)


@dataclass(frozen=True)
class Paper:
    """How large the sheet is and what is left around the box."""

    width: float
    left: float
    right: float
    top: float
    tallest: float
    """Most that the box may take in height."""
    narrow: bool = False


WIDE = Paper(960, 66, 58, 66, 352)
NARROW = Paper(360, 34, 30, 44, 240, narrow=True)


@dataclass(frozen=True)
class View:
    """From metres in the box to places on the paper."""

    paper: Paper
    left: float
    floor: float
    scale: float
    """Paper units a metre."""
    length_m: float
    """Of the box."""

    def x(self, x_m: float) -> float:
        """Along the length."""
        return self.left + x_m * self.scale

    def y(self, z_m: float) -> float:
        """Upwards from the floor."""
        return self.floor - z_m * self.scale

    def at(self, x_m: float, z_m: float) -> Place:
        """Both."""
        return self.x(x_m), self.y(z_m)


@dataclass(frozen=True)
class Labels:
    """What the title block says."""

    name: str
    moment: str
    revision: str


def fit(request: Request, paper: Paper) -> View:
    """The largest scale at which the box, and what hangs above it, fits the paper."""
    inside = request.box.inside_m
    above = max([t.at_m[2] - inside.height for t in request.things if t.above_lid] or [0.0])
    scale = min((paper.width - paper.left - paper.right) / inside.length, paper.tallest / (inside.height + above))
    left = paper.left + (paper.width - paper.left - paper.right - inside.length * scale) / 2
    head = max([_head(t, paper) - (above - (t.at_m[2] - inside.height)) * scale for t in request.things if t.above_lid] or [0.0])
    return View(paper, left, paper.top + max(head, 0.0) + (inside.height + above) * scale, scale, inside.length)


def _head(thing: Thing, paper: Paper) -> float:
    """How far a lamp's drawing reaches above its place, on the paper."""
    return 12.0 if thing.is_tube else (20.0 if paper.narrow else 32.0)


def front_view(plan: Plan | Glance, outcome: Outcome, units: Units, labels: Labels, paper: Paper = WIDE) -> Drawing:
    """Draw a planned box from the front."""
    request = outcome.request
    view = fit(request, paper)
    inside, ground = request.box.inside_m, request.box.ground
    left, right, roof, floor = view.x(0), view.x(inside.length), view.y(inside.height), view.floor
    parts: list[Shape] = [Rect("inside", left, roof, right - left, floor - roof)]
    animal, bounds = animal_shapes(plan, outcome, view, units)
    dimensions, kept_free = _dimensions(plan, outcome, view, units)
    taken: list[Rect] = [*(thing_bounds(t, view) for t in request.things), bounds, *kept_free]
    parts += beams_shapes(request, outcome, view)
    heat, uv = overlays(outcome, view, units, taken)
    parts += [Group("layer", layer="heat", parts=tuple(heat)), Group("layer", layer="uv", parts=tuple(uv))]
    if ground.depth_m > 0:
        parts.append(
            Rect(f"ground-{ground.material}", left, view.y(ground.depth_m), right - left, floor - view.y(ground.depth_m))
        )
        parts += grain_shapes(view, inside.length, ground.depth_m)
        parts.append(Line("line", view.at(0, ground.depth_m), view.at(inside.length, ground.depth_m)))
    parts.append(
        Group("layer", layer="things", parts=tuple(s for t in request.things if t.is_body for s in body_shapes(t, view)))
    )
    parts += animal
    parts.append(
        Group(
            "layer",
            layer="things",
            parts=tuple(s for t in request.things if not t.is_body for s in lamp_shapes(t, view, units, roof)),
        )
    )
    parts += lid_shapes(request, view)
    parts.append(Path("box", polyline([(left, roof), (left, floor), (right, floor), (right, roof)])))
    parts += probes_shapes(outcome, view)
    parts += dimensions
    below, height = _below(plan, outcome, view, units, labels)
    parts += below
    description = (
        f"{labels.name}, front view. Box {length_text(inside.length, units)} long, {length_text(inside.height, units)} high inside. "
        + "; ".join(
            f"{_spoken(t)} at {length_text(t.at_m[0], units)} from the left, {length_text(t.at_m[2], units)} above the floor"
            for t in request.things
        )
    )
    return Drawing(paper.width, height, tuple(parts), f"{labels.name}, front view to scale", description, "sheet")


def length_text(value_m: float, units: Units) -> str:
    return show(value_m, Kind.LENGTH, units)


def _spoken(thing: Thing) -> str:
    return {"slab": "stone"}.get(thing.kind, thing.kind.replace("_", " "))


# --- fields -------------------------------------------------------------------------------------------------------------


def air_grid(outcome: Outcome) -> tuple[Array, Array, Array]:
    """Air temperatures on a fine grid from ground to lid: x, z [m], values [°C] of shape (columns, rows)."""
    x, z, values = outcome.day.air_field()
    box = outcome.box
    return refine(x, z, values, *GRID, (0.0, box.length_m, box.ground_depth_m, box.height_m))


def uvi_grid(outcome: Outcome) -> tuple[Array, Array, Array]:
    """UV index on the same grid, in the plane of the basking place: x, z [m], values of shape (columns, rows)."""
    box = outcome.box
    x = np.linspace(0, box.length_m, GRID[0])
    z = np.linspace(box.ground_depth_m, box.height_m, GRID[1])
    xx, zz = np.meshgrid(x, z, indexing="ij")
    return x, z, total_uvi(outcome.uv, xx, outcome.basking.y_m, zz)


Grids = tuple[tuple[Array, Array, Array], tuple[Array, Array, Array]]
"""Air and UV index on the fine grid."""


def grids(outcome: Outcome) -> Grids:
    """Both fields of a drawing."""
    return air_grid(outcome), uvi_grid(outcome)


def overlays(
    outcome: Outcome, view: View, units: Units, taken: list[Rect], known: Grids | None = None
) -> tuple[list[Shape], list[Shape]]:
    """Isotherms at round numbers of the reader's degrees, and UVI lines at fixed levels."""
    (x, z, air), seen = known or grids(outcome)
    unit = default_unit(Kind.TEMPERATURE, units)
    low, high = (reader_degrees(float(v), units) for v in (air.min(), air.max()))
    levels = [convert(v, Kind.TEMPERATURE, unit) for v in even_levels(low, high, 4 if view.paper.narrow else 7)]
    heat = contour_shapes(
        lines(x, z, air, levels, shortest_m=0.15),
        view,
        "isotherm",
        "tag-heat",
        lambda v: f"{reader_degrees(v, units):g}°",
        taken,
    )
    uv: list[Shape] = []
    if outcome.uv:
        x, z, index = seen
        wanted = UVI_LEVELS[1::2] if view.paper.narrow else UVI_LEVELS
        uv = contour_shapes(
            lines(x, z, index, wanted, shortest_m=0.2),
            view,
            "uvi-line",
            "tag-uv",
            lambda v: f"UVI {v:g}",
            taken,
        )
    return heat, uv


def reader_degrees(value_c: float, units: Units) -> float:
    """A temperature as the number of its line: to a tenth of the reader's degrees."""
    return round(value_c * 9 / 5 + 32, 1) if units.temperature == "f" else round(value_c, 1)


def contour_shapes(
    contours: list[Contour], view: View, role: str, tag: str, words: Callable[[float], str], taken: list[Rect]
) -> list[Shape]:
    """Contours with one label each, put where it covers nothing."""
    drawn: list[Shape] = []
    tags: list[Shape] = []
    for contour in contours:
        points = _thinned(contour.points * (view.scale, -view.scale) + (view.left, view.floor))
        drawn.append(Path(role, polyline(points)))
        if length_of(points) < 40:
            continue
        label = words(contour.level)
        width = 7.2 * len(label) + 4
        places = [points[int(share * (len(points) - 1))] for share in (0.5, 0.35, 0.65, 0.2, 0.8, 0.1, 0.9)]
        if role == "uvi-line":  # the lines of a tube bunch at its ends: the lowest place is the clearest
            places.sort(key=lambda place: -place[1])
        for cx, cy in places:
            spot = Rect("tag", cx - width / 2, cy - 8, width, 16, 2)
            inside = view.x(0) + 2 < spot.x and spot.x + width < view.x(view.length_m) - 2
            if inside and not any(overlaps(spot, other) for other in taken):
                taken.append(spot)
                tags += [spot, Text(tag, cx, cy + 4, label, "middle")]
                break
    return drawn + tags


def _thinned(points: Array) -> list[Place]:
    """Places on the paper without those that would not be seen: about every fourth unit of the way."""
    way = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(points, axis=0).T))])
    kept = np.diff(np.floor(way / 4), prepend=-1) > 0
    kept[-1] = True
    return [(float(x), float(y)) for x, y in points[kept].tolist()]


# --- what is in the box -------------------------------------------------------------------------------------------------


def thing_bounds(thing: Thing, view: View) -> Rect:
    x, _, z = thing.at_m
    if thing.is_tube or thing.kind in LONG_KINDS:
        half = (thing.length_m or 0.5) / 2
        return Rect("", view.x(x - half), view.y(z) - 10, 2 * half * view.scale, 20)
    if thing.kind == "heat_mat" and thing.size_m:
        return Rect("", view.x(x - thing.size_m[0] / 2), view.y(z) - 7, thing.size_m[0] * view.scale, 8)
    if thing.size_m:
        return Rect(
            "",
            view.x(x - thing.size_m[0] / 2),
            view.y(z + thing.size_m[2]),
            thing.size_m[0] * view.scale,
            thing.size_m[2] * view.scale,
        )
    return Rect("", view.x(x) - 30, view.y(z) - 44, 60, 52)


def beams_shapes(request: Request, outcome: Outcome, view: View) -> list[Shape]:
    """The half-power cone of each beam lamp, down to what it meets."""
    found: list[Shape] = []
    for lamp in outcome.day.enclosure.lamps:
        angle = lamp.beam_deg or lamp.heater.beam_deg
        if not lamp.heater.beam_share or angle is None:
            continue
        meets = max(
            [s.top_m for s in outcome.day.enclosure.slabs if abs(s.x_m - lamp.x_m) <= s.length_m / 2]
            or [outcome.box.ground_depth_m]
        )
        spread = lamp.heater.radius_m + (lamp.z_m - meets) * math.tan(math.radians(angle) / 2)
        edge = [max(0.0, lamp.x_m - spread), min(outcome.box.length_m, lamp.x_m + spread)]
        r = lamp.heater.radius_m
        points = [
            view.at(lamp.x_m - r, lamp.z_m),
            view.at(lamp.x_m + r, lamp.z_m),
            view.at(edge[1], meets),
            view.at(edge[0], meets),
        ]
        found.append(Group("layer", layer="heat", parts=(Path("beam", polyline(points, closed=True)),)))
    return found


def grain_shapes(view: View, length_m: float, depth_m: float) -> list[Shape]:
    """A few specks, so that the ground reads as ground without colour. Placed by arithmetic: the same sheet is the same file."""
    found: list[Shape] = []
    rows = max(1, int(depth_m * view.scale / 11))
    columns = int(length_m * view.scale / 13)
    for n in range(columns * rows):
        i, j = n % columns, n // columns
        dx, dy = ((n * 37) % 11) / 11 * 9, ((n * 53) % 7) / 7 * 6
        found.append(Circle("grain", view.x(0) + 6 + i * 13 + dx - 4, view.y(depth_m) + 6 + j * 11 + dy - 2, 0.9))
    return [Group("specks", parts=tuple(found))]


def body_shapes(thing: Thing, view: View) -> list[Shape]:
    assert thing.size_m is not None
    x, _, z = thing.at_m
    length, _, height = thing.size_m
    left, right, top, base = view.x(x - length / 2), view.x(x + length / 2), view.y(z + height), view.y(z)
    w, h = right - left, base - top
    if thing.kind == "slab":
        hatch = "".join(
            f"M{number(left + i)},{number(base)}l{number(h * 0.7)},{number(-h)}" for i in np.arange(4, w - h * 0.7, 7)
        )
        return [Rect("stone", left, top, w, h), Path("thin", hatch or "M0,0")]
    if thing.kind == "dish":
        return [
            Path(
                "water",
                _path(
                    left, top, [("M", 0, 0.35), ("q", 0.04, 0.65, 0.25, 0.65), ("l", 0.5, 0), ("q", 0.21, 0, 0.25, -0.65)], w, h
                ),
            )
        ]
    if thing.kind == "branch":
        sag = 0.25 * h
        bark = f"M{number(left)},{number(top)}q{number(w / 2)},{number(sag)} {number(w)},0l0,{number(h)}q{number(-w / 2)},{number(sag)} {number(-w)},0Z"
        knots = "".join(
            f"M{number(left + w * s)},{number(top + 0.45 * h)}l{number(0.06 * w)},{number(0.1 * h)}" for s in (0.15, 0.45, 0.7)
        )
        return [Path("branch", bark), Path("thin", knots)]
    arch = _path(left, top, [("M", 0, 1), ("l", 0, -0.45), ("q", 0, -0.55, 0.5, -0.55), ("t", 0.5, 0.55), ("l", 0, 0.45)], w, h)
    door = _path(
        left, top, [("M", 0.33, 1), ("l", 0, -0.22), ("q", 0, -0.33, 0.17, -0.33), ("t", 0.17, 0.33), ("l", 0, 0.22)], w, h
    )
    return [Path("hide", arch), Path("void", door)]


def _path(left: float, top: float, steps: list[tuple[str | float, ...]], width: float, height: float) -> str:
    """A closed outline given in shares of a box's width and height: M places the pen, the other steps are relative."""
    out = []
    for command, *shares in steps:
        numbers = [float(s) * (width if n % 2 == 0 else height) for n, s in enumerate(shares)]
        if command == "M":
            numbers = [left + numbers[0], top + numbers[1]]
        out.append(f"{command}{' '.join(number(v) for v in numbers)}")
    return "".join(out) + "Z"


def lamp_shapes(thing: Thing, view: View, units: Units, roof: float) -> list[Shape]:
    x, y = view.at(thing.at_m[0], thing.at_m[2])
    small = view.paper.narrow
    watts = f"{thing.power_w:g} W" if thing.power_w else ""
    if thing.kind in LAID_KINDS:
        at = thing_bounds(thing, view)
        if thing.kind == "heat_mat":
            wave = "".join("q4,-6 8,0t8,0" for _ in range(max(int(at.width / 16), 1)))
            return [Rect("lamp", at.x, at.y, at.width, at.height, 2), Path("coil", f"M{number(at.x)},{number(at.y + 4)}{wave}")]
        return [
            Rect("lamp", at.x, at.y + 4, at.width, 12, 6),
            Line("coil", (at.x + 6, at.y + 10), (at.x + at.width - 6, at.y + 10)),
        ]
    if thing.is_tube:
        half = (thing.length_m or 0.5) / 2 * view.scale
        parts: list[Shape] = [Rect("tube", x - half, y - 6, 2 * half, 12, 6)]
        if thing.reflector:
            parts.insert(0, Path("line", f"M{number(x - half)},{number(y - 3)}q0,-8 8,-8h{number(2 * half - 16)}q8,0 8,8"))
        percent = {"t5_6": "T5 5–6 %", "t5_12": "T5 10–12 %", "t5_14": "T5 14 %", "t8_6": "T8 5–6 %", "t8_12": "T8 10–12 %"}[
            thing.kind
        ]
        label = percent if small else f"{percent} · {length_text(thing.length_m or 0, units)}"
        parts.append(Text("tube-words", x, y + 4, label, "middle"))
        return parts
    w, h = (9.0, 17.0) if small else (14.0, 28.0)
    if not thing.above_lid:  # close under the lid the hood is drawn flatter, not through it
        h = max(4.0, min(h, y - roof - 3))
    cord = [] if thing.above_lid else [Line("line", (x, roof), (x, y - h))]
    if thing.kind == "infrared_panel":
        shape: Shape = Rect("lamp", x - 2.2 * w, y - 8, 4.4 * w, 8)
    elif thing.kind == "ceramic_emitter":
        shape = Path("lamp", f"M{number(x - w)},{number(y)}q0,{number(-h)} {number(w)},{number(-h)}t{number(w)},{number(h)}Z")
    else:
        shape = Path(
            "lamp", polyline([(x - w * 0.55, y - h), (x + w * 0.55, y - h), (x + w * 1.25, y), (x - w * 1.25, y)], closed=True)
        )
    face = Line("face", (x - w * 1.25, y), (x + w * 1.25, y))
    words = Text("words-soft", x + w * 1.3 + 4, y - h / 2 + 2, watts)
    return [*cord, shape, face, *([] if small else [words])]


def lid_shapes(request: Request, view: View) -> list[Shape]:
    inside, lid = request.box.inside_m, request.box.lid
    roof, left, right = view.y(inside.height), view.x(0), view.x(inside.length)
    if lid.mesh is None:
        return [Line("box", (left, roof), (right, roof))]
    middle = (left + right) / 2
    half = (right - left) * lid.mesh_share / 2
    lamps = [t.at_m[0] for t in request.things if t.above_lid]
    if lamps:  # the open part lies where the lamps shine through it
        middle = min(max(view.x(sum(lamps) / len(lamps)), left + half), right - half)
    return [
        Line("box", (left, roof), (middle - half, roof)),
        Line("mesh", (middle - half, roof), (middle + half, roof)),
        Line("box", (middle + half, roof), (right, roof)),
    ]


def animal_shapes(plan: Plan | Glance, outcome: Outcome, view: View, units: Units) -> tuple[list[Shape], Rect]:
    """The largest animal at its true length, basking; and the place it takes."""
    animal = max(plan.animals, key=lambda a: a.length_m)
    profile = outcome.request.profiles[animal.species]
    length = profile.nose_to_tail_m(animal.length_m) * view.scale
    outline = profile.body.outline
    wide, tall = extent(outline) * length, tallness(outline) * length
    middle = view.x(plan.basking.x_m)
    left = min(max(middle - 0.42 * wide, view.x(0) + 4), view.x(outcome.box.length_m) - 4 - wide)
    left = max(left, view.x(0) - max(0.0, wide - outcome.box.length_m * view.scale))
    stands = view.y(plan.basking.z_m - outcome.back_m)
    title = f"{animal.name or animal.common_name}, {length_text(animal.length_m, units)}"
    drawn = tuple(Path("animal", d) for d in side_view(outline, left, stands, length))
    return [Group("animal-group", title=title, parts=drawn)], Rect("", left, stands - tall, wide, tall)


def probes_shapes(outcome: Outcome, view: View) -> list[Shape]:
    """Where end air is predicted and should be measured."""
    return [
        Circle("probe", *view.at(*place), 4.5, title=title)
        for place, title in ((outcome.warm_point, "warm-end air"), (outcome.cool_point, "cool-end air"))
    ]


# --- dimensions, scale bar, title block -----------------------------------------------------------------------------------


def dimension_shapes(a: Place, b: Place, words: str) -> list[Shape]:
    """A dimension line with ticks and its number in a gap of its own."""
    flat = abs(a[1] - b[1]) < 0.5
    mx, my = (a[0] + b[0]) / 2, (a[1] + b[1]) / 2
    width = 7.4 * len(words) + 6
    ticks = "".join(f"M{number(x - 4)},{number(y + 4)}l8,-8" for x, y in (a, b))
    ends = "".join(f"M{number(x)},{number(y - 6)}v12" if flat else f"M{number(x - 6)},{number(y)}h12" for x, y in (a, b))
    return [
        Line("thin", a, b), Path("thin", ends), Path("tick", ticks),
        Rect("gap", mx - width / 2, my - 8, width, 16), Text("words", mx, my + 4.5, words, "middle"),
    ]  # fmt: skip


def _dimensions(plan: Plan | Glance, outcome: Outcome, view: View, units: Units) -> tuple[list[Shape], list[Rect]]:
    """The dimension lines, and the places inside the box where their numbers stand."""
    free: list[Rect] = []
    inside, depth = outcome.request.box.inside_m, outcome.request.box.ground.depth_m
    roof = view.y(inside.height)
    narrow = view.paper.narrow
    over = min([roof] + [view.y(t.at_m[2]) - _head(t, view.paper) for t in outcome.request.things if t.above_lid])
    parts = dimension_shapes((view.x(0), over - 24), (view.x(inside.length), over - 24), length_text(inside.length, units))
    side = 20 if narrow else 34
    parts += dimension_shapes(
        (view.x(0) - side, roof), (view.x(0) - side, view.floor), show(inside.height, Kind.LENGTH, units, unit=False)
    )
    if depth * view.scale > 14:
        right = view.x(inside.length) + (16 if narrow else 24)
        parts += dimension_shapes((right, view.y(depth)), (right, view.floor), show(depth, Kind.LENGTH, units, unit=False))
    slab = outcome.day.hottest_slab()
    if slab is not None and not narrow and outcome.stance.perch is None:
        surface = outcome.day.enclosure.slabs[slab]
        lamps = [lamp for lamp in outcome.day.enclosure.lamps if lamp.heater.beam_share]
        if lamps:
            lamp = min(lamps, key=lambda item: abs(item.x_m - surface.x_m))
            x = view.x(min(lamp.x_m + 0.13, inside.length - 0.03))
            words = show(lamp.z_m - surface.top_m, Kind.LENGTH, units, unit=False)
            parts += dimension_shapes((x, view.y(lamp.z_m)), (x, view.y(surface.top_m)), words)
            free.append(Rect("", x - 18, (view.y(lamp.z_m) + view.y(surface.top_m)) / 2 - 12, 36, 24))
    return [Group("dimensions", parts=tuple(parts))], free


def _below(plan: Plan | Glance, outcome: Outcome, view: View, units: Units, labels: Labels) -> tuple[list[Shape], float]:
    """Scale bar and title block under the box; and the height of the whole sheet."""
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
            f"M{number(view.x(0))},{number(top + 5)}H{number(end)}M{number(view.x(0))},{number(top - 3)}v8M{number(end)},{number(top - 3)}v8",
        )
    )
    parts.append(Text("words-soft", view.x(0), top + 22, "0"))
    parts.append(Text("words-soft", end, top + 22, length_text(count * step, units), "end"))
    if paper.narrow:
        return parts, top + 30
    width, height = 330.0, 54.0
    x0 = right - width
    y0 = top - 6
    ratio = 96 / 0.0254 / view.scale  # at the size of a screen's nominal 96 dots an inch
    parts += [
        Rect("title-block", x0, y0, width, height), Line("thin", (x0, y0 + 27), (x0 + width, y0 + 27)),
        Line("thin", (x0 + 128, y0 + 27), (x0 + 128, y0 + height)), Line("thin", (x0 + 238, y0 + 27), (x0 + 238, y0 + height)),
        Text("words-strong", x0 + 10, y0 + 18, f"{_short(labels.name, 24)} · front view"), Text("words", x0 + width - 10, y0 + 18, f"1 : {ratio:.1f}", "end"),
        Text("words", x0 + 10, y0 + 45, labels.moment), Text("words", x0 + 138, y0 + 45, f"room {show(outcome.request.room.day_c, Kind.TEMPERATURE, units, digits=0)}"),
        Text("words", x0 + width - 10, y0 + 45, labels.revision, "end"),
    ]  # fmt: skip
    return parts, y0 + height + 8


def _short(words: str, most: int) -> str:
    return words if len(words) <= most else words[: most - 1] + "…"
