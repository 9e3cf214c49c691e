"""What stands, lies and hangs in an enclosure, from the front, to scale."""

import math
from collections.abc import Sequence

import numpy as np

from husbandry.documents.request import Request
from husbandry.documents.result import Plan, PlanSummary
from husbandry.errors import ImpossibleStateError
from husbandry.items.base import Long
from husbandry.items.containers import DigBox, FoodDish
from husbandry.items.dividers import Divider
from husbandry.items.drippers import Dripper
from husbandry.items.furnishings import Branch, Dish, Hide, PlantedItem, Pool, Slab
from husbandry.items.heaters import HeatMat, LedBar, TubeHeater
from husbandry.items.instruments import Thermometer
from husbandry.items.screens import GuardScreen
from husbandry.items.union import Item
from husbandry.predict.predict import Prediction
from husbandry.quantity import Kind, Units, show
from ridgeback.drawing.animals import extent, side_view, tallness
from ridgeback.drawing.paper import View, length_text
from ridgeback.drawing.primitives import (
    Circle,
    Group,
    Line,
    Path,
    Rect,
    Shape,
    Text,
    number,
    polyline,
)

PANEL_HALF = 2.2
"""Half of a panel's width as it is drawn, over a lamp's (design choice) [1]."""


def item_bounds(item: Item, view: View) -> Rect:
    x, _, z = item.at_m
    if isinstance(item, Long):
        half = (item.length_m or 0.5) / 2
        return Rect("", view.x(x - half), view.y(z) - 10, 2 * half * view.scale, 20)
    if isinstance(item, HeatMat):
        return Rect(
            "", view.x(x - item.size_m[0] / 2), view.y(z) - 7, item.size_m[0] * view.scale, 8
        )
    if item.is_probe or isinstance(item, Thermometer):
        return Rect("", view.x(x) - 8, view.y(z) - 16, 56, 24)
    if item.sides_m:
        return Rect(
            "",
            view.x(x - item.sides_m[0] / 2),
            view.y(z + item.sides_m[2]),
            item.sides_m[0] * view.scale,
            item.sides_m[2] * view.scale,
        )
    return Rect("", view.x(x) - 30, view.y(z) - 44, 60, 52)


def beams_shapes(request: Request, prediction: Prediction, view: View) -> list[Shape]:
    """The half-power cone of each beam lamp, down to what it meets."""
    found: list[Shape] = []
    for lamp in prediction.day.heat_model.lamps:
        angle = lamp.beam_deg or lamp.heater.beam_deg
        if not lamp.heater.beam_share or angle is None:
            continue
        meets = max(
            [
                s.top_m
                for s in prediction.day.heat_model.slabs
                if abs(s.x_m - lamp.x_m) <= s.length_m / 2
            ]
            or [prediction.enclosure.substrate_depth_m]
        )
        spread = lamp.heater.radius_m + (lamp.z_m - meets) * math.tan(math.radians(angle) / 2)
        edge = [max(0.0, lamp.x_m - spread), min(prediction.enclosure.length_m, lamp.x_m + spread)]
        r = lamp.heater.radius_m
        points = [
            view.at(lamp.x_m - r, lamp.z_m),
            view.at(lamp.x_m + r, lamp.z_m),
            view.at(edge[1], meets),
            view.at(edge[0], meets),
        ]
        found.append(
            Group("layer", layer="heat", parts=(Path("beam", polyline(points, closed=True)),))
        )
    return found


def grain_shapes(view: View, length_m: float, depth_m: float) -> list[Shape]:
    """A few specks, so that it reads as substrate without colour.

    Placed by arithmetic: the same sheet is the same file.
    """
    dots: list[str] = []
    rows = max(1, int(depth_m * view.scale / 14))
    columns = int(length_m * view.scale / 19)
    left = view.x(0) + 2
    top = view.y(depth_m) + 4
    for n in range(columns * rows):
        row, column = divmod(n, columns)
        aside = ((n * 37) % 11) / 11 * 9
        down = ((n * 53) % 7) / 7 * 6
        x = left + column * 19 + aside
        y = top + row * 14 + down
        dots.append(f"M{x:.0f},{y:.0f}h0")
    return [Path("grain", "".join(dots))]


def substrate_shapes(request: Request, view: View) -> list[Shape]:
    """The substrate, level or sloping; where it rises to the back, its front edge as well."""
    substrate = request.enclosure.substrate
    length = request.enclosure.inside_m.length
    if substrate.depth_m <= 0:
        return []
    role = f"substrate-{substrate.material}"
    floor = view.floor
    if substrate.slope is not None and substrate.slope.deep_at == "back":
        left, high, low = (
            substrate.depth_at(0.5, 1),
            substrate.depth_at(0.5, 1),
            substrate.depth_at(0.5, 0),
        )
    else:
        left = substrate.depth_at(0, 0.5)
        high = substrate.depth_at(1, 0.5)
        low = 0.0
    top = [view.at(0, left), view.at(length, high)]
    found: list[Shape] = [
        Path(role, polyline([(view.x(0), floor), *top, (view.x(length), floor)], closed=True))
    ]
    found += grain_shapes(view, length, min(left, high) or substrate.depth_m)
    if low:
        found.append(Line("thin", view.at(0, low), view.at(length, low)))
    return [*found, Line("line", *top)]


def bodies_in_order(items: Sequence[Item]) -> list[Item]:
    """As they are drawn from the front: water first, for hides and stones stand in it; then what is
    at the back.
    """
    return sorted(
        (item for item in items if item.is_body),
        key=lambda item: (not isinstance(item, Pool), -item.at_m[1]),
    )


def body_shapes(item: Item, view: View) -> list[Shape]:
    if item.sides_m is None:
        raise ImpossibleStateError("missing: item.sides_m")
    x, _, z = item.at_m
    length, _, height = item.sides_m
    left, right, top, base = (
        view.x(x - length / 2),
        view.x(x + length / 2),
        view.y(z + height),
        view.y(z),
    )
    w = right - left
    h = base - top
    if isinstance(item, Slab):
        hatch = "".join(
            f"M{number(left + i)},{number(base)}l{number(h * 0.7)},{number(-h)}"
            for i in np.arange(4, w - h * 0.7, 7)
        )
        return [Rect("stone", left, top, w, h), Path("thin", hatch or "M0,0")]
    if isinstance(item, Dish | Pool):
        return _water_shapes(item, left, top, w, h)
    if isinstance(item, PlantedItem):
        return plant_shapes(left, top, w, h)
    if isinstance(item, DigBox):
        full = top + h * (1 - min(item.filled_m / height, 1.0))
        return [
            Rect("hide", left, top, w, h, 2),
            Line("line", (left + 3, full), (right - 3, full)),
            Path("thin", _clods(left, full, w, base)),
        ]
    if isinstance(item, FoodDish):
        return [Rect("stone", left, top, w, max(h, 4.0), 3)]
    if isinstance(item, Branch):
        sag = 0.25 * h
        bark = (
            f"M{number(left)},{number(top)}q{number(w / 2)},{number(sag)}"
            f" {number(w)},0l0,{number(h)}q{number(-w / 2)},{number(sag)} {number(-w)},0Z"
        )
        knots = "".join(
            f"M{number(left + w * s)},{number(top + 0.45 * h)}l{number(0.06 * w)},{number(0.1 * h)}"
            for s in (0.15, 0.45, 0.7)
        )
        return [Path("branch", bark), Path("thin", knots)]
    arch = _path(
        left,
        top,
        [
            ("M", 0, 1),
            ("l", 0, -0.45),
            ("q", 0, -0.55, 0.5, -0.55),
            ("t", 0.5, 0.55),
            ("l", 0, 0.45),
        ],
        w,
        h,
    )
    door = [Path("void", _door(item, left, top, w, h))] if isinstance(item, Hide) else []
    return [Path("hide", arch), *door]


def _clods(left: float, top: float, width: float, base: float) -> str:
    """Crumbs of substrate between its surface and its base."""
    rows = range(max(int((base - top - 4) / 9), 1))
    marks = (
        f"M{number(left + (0.14 + 0.22 * n + 0.08 * (row % 2)) * width)},{number(top + 7 + 9 * row)}h3"
        for row in rows
        for n in range(4)
    )
    return "".join(marks)


def _water_shapes(item: Dish | Pool, left: float, top: float, w: float, h: float) -> list[Shape]:
    """Draw water from the front: the bowl of a dish, or a basin with its surface."""
    if isinstance(item, Dish):
        return [
            Path(
                "water",
                _path(
                    left,
                    top,
                    [
                        ("M", 0, 0.35),
                        ("q", 0.04, 0.65, 0.25, 0.65),
                        ("l", 0.5, 0),
                        ("q", 0.21, 0, 0.25, -0.65),
                    ],
                    w,
                    h,
                ),
            )
        ]
    base = top + h
    level = top + 0.12 * h
    basin = (
        f"M{number(left)},{number(top)}l{number(0.06 * w)},{number(h)}"
        f"h{number(0.88 * w)}l{number(0.06 * w)},{number(-h)}"
    )
    surface = (
        f"M{number(left + 0.01 * w)},{number(level)}h{number(0.98 * w)}"
        f"l{number(-0.05 * w)},{number(base - level)}h{number(-0.88 * w)}Z"
    )
    return [Path("water", surface), Path("basin", basin)]


def _door(item: Hide, left: float, top: float, w: float, h: float) -> str:
    """What of a hide stands open, seen from the front: a hole, a whole side, or both ends."""
    if item.entrance == "open ends":
        ends = (
            _path(left, top, [("M", at, 1), ("l", 0, -0.42), ("l", 0.07, 0), ("l", 0, 0.42)], w, h)
            for at in (0.02, 0.91)
        )
        return "".join(ends)
    start, wide = (0.1, 0.8) if item.entrance == "open side" else (0.33, 0.34)
    curve = [("q", 0, -0.33, wide / 2, -0.33), ("t", wide / 2, 0.33)]
    return _path(left, top, [("M", start, 1), ("l", 0, -0.22), *curve, ("l", 0, 0.22)], w, h)


def plant_shapes(left: float, top: float, width: float, height: float) -> list[Shape]:
    """Leaves that spread from one foot to the plant's width and height."""
    foot = left + width / 2
    base = top + height
    leaves = []
    for lean, tall in ((-0.5, 0.62), (0.5, 0.58), (-0.3, 0.9), (0.32, 0.86), (0.02, 1.0)):
        tip_x = foot + lean * width
        tip_y = base - tall * height
        broad = 0.13 * width
        bend_x = foot + 0.2 * lean * width
        bend_y = base - 0.75 * tall * height
        leaves.append(
            f"M{number(foot)},{number(base)}Q{number(bend_x - broad)},{number(bend_y)}"
            f" {number(tip_x)},{number(tip_y)}Q{number(bend_x + broad)},{number(bend_y)}"
            f" {number(foot)},{number(base)}Z"
        )
    return [Path("plant", "".join(leaves))]


def felt_shapes(item: Item, prediction: Prediction, view: View, units: Units) -> list[Shape]:
    """A thermostat's probe with its lead, and what it feels."""
    x, y = view.at(item.at_m[0], item.at_m[2])
    felt = show(prediction.felt_by(item).temp_c, Kind.TEMPERATURE, units)
    lead = f"M{number(x)},{number(y - 4)}q1,-7 7,-9"
    return [
        Rect("felt", x - 3, y - 5, 6, 10, 3),
        Path("thin", lead),
        *(
            []
            if view.paper.narrow
            else [
                Rect("tag", x + 8, y - 20, 7.2 * len(felt), 16, 2),
                Text("words-soft", x + 10, y - 8, felt),
            ]
        ),
    ]


def _path(
    left: float, top: float, steps: list[tuple[str | float, ...]], width: float, height: float
) -> str:
    """A closed outline given in shares of an enclosure's width and height: M places the pen, the
    other steps are relative.
    """
    out = []
    for command, *shares in steps:
        numbers = [float(s) * (width if n % 2 == 0 else height) for n, s in enumerate(shares)]
        if command == "M":
            numbers = [left + numbers[0], top + numbers[1]]
        out.append(f"{command}{' '.join(number(v) for v in numbers)}")
    return "".join(out) + "Z"


def lamp_shapes(item: Item, view: View, units: Units, roof: float) -> list[Shape]:
    x, y = view.at(item.at_m[0], item.at_m[2])
    small = view.paper.narrow
    watts = f"{item.watts:g} W" if item.watts else ""
    if isinstance(item, HeatMat | TubeHeater | LedBar):
        at = item_bounds(item, view)
        if isinstance(item, HeatMat):
            wave = "".join("q4,-6 8,0t8,0" for _ in range(max(int(at.width / 16), 1)))
            return [
                Rect("lamp", at.x, at.y, at.width, at.height, 2),
                Path("coil", f"M{number(at.x)},{number(at.y + 4)}{wave}"),
            ]
        return [
            Rect("lamp", at.x, at.y + 4, at.width, 12, 6),
            Line("coil", (at.x + 6, at.y + 10), (at.x + at.width - 6, at.y + 10)),
        ]
    if item.is_tube:
        half = (item.long_m or 0.5) / 2 * view.scale
        parts: list[Shape] = [Rect("tube", x - half, y - 6, 2 * half, 12, 6)]
        if item.has_reflector:
            parts.insert(
                0,
                Path(
                    "line",
                    f"M{number(x - half)},{number(y - 3)}q0,-8"
                    f" 8,-8h{number(2 * half - 16)}q8,0 8,8",
                ),
            )
        percent = {
            "t5_6": "T5 5–6 %",
            "t5_12": "T5 10–12 %",
            "t5_14": "T5 14 %",
            "t8_6": "T8 5–6 %",
            "t8_12": "T8 10–12 %",
        }[item.kind]
        label = percent if small else f"{percent} · {length_text(item.long_m or 0, units)}"
        parts.append(Text("tube-words", x, y + 4, label, "middle"))
        return parts
    return _hung_lamp(item, roof, small, watts, x, y)


def _hung_lamp(
    item: Item, roof: float, small: bool, watts: str, x: float, y: float
) -> list[Shape]:
    """Draw a lamp on its cord, with its power."""
    w, h = (9.0, 17.0) if small else (14.0, 28.0)
    if not item.hangs_above_lid:  # close under the lid the hood is drawn flatter, not through it
        h = max(4.0, min(h, y - roof - 3))
    cord = [] if item.hangs_above_lid else [Line("line", (x, roof), (x, y - h))]
    if item.kind == "infrared_panel":
        shape: Shape = Rect("lamp", x - PANEL_HALF * w, y - 8, 2 * PANEL_HALF * w, 8)
    elif item.kind == "ceramic_emitter":
        shape = Path(
            "lamp",
            f"M{number(x - w)},{number(y)}q0,{number(-h)}"
            f" {number(w)},{number(-h)}t{number(w)},{number(h)}Z",
        )
    else:
        shape = Path(
            "lamp",
            polyline(
                [
                    (x - w * 0.55, y - h),
                    (x + w * 0.55, y - h),
                    (x + w * 1.25, y),
                    (x - w * 1.25, y),
                ],
                closed=True,
            ),
        )
    face = Line("face", (x - w * 1.25, y), (x + w * 1.25, y))
    beside = y - h / 2 + 2
    if not item.hangs_above_lid:  # clear of the line of the lid
        beside = max(beside, roof + 15)
    words = Text("words-soft", x + w * 1.3 + 4, beside, watts)
    if item.kind == "infrared_panel":  # at its right hangs the dimension line
        words = Text("words-soft", x - PANEL_HALF * w - 4, beside, watts, "end")
    return [*cord, shape, face, *([] if small else [words])]


def fogger_shapes(x: float, y: float) -> list[Shape]:
    """A fogger where it stands, with its fog."""
    fog = "".join(f"M{number(x - 9)},{number(y - rise)}q4,-5 9,0t9,0" for rise in (18, 24, 30))
    return [Rect("lamp", x - 9, y - 14, 18, 14, 3), Path("thin", fog)]


def dripper_shapes(x: float, y: float) -> list[Shape]:
    """A dripper where it hangs, with three drops below it."""
    drops = "".join(f"M{number(x)},{number(y + fall)}q-3,5 0,7q3,-2 0,-7Z" for fall in (4, 16, 28))
    return [Rect("lamp", x - 7, y - 12, 14, 12, 5), Path("water", drops)]


def line_shapes(x: float, y: float) -> list[Shape]:
    """A watering line in the substrate, from its end: a pipe, and what seeps from it."""
    seeps = "".join(f"M{number(x + beside)},{number(y + 6)}v7" for beside in (-8, 0, 8))
    return [Circle("lamp", x, y, 4), Path("water", seeps)]


def fan_shapes(x: float, y: float) -> list[Shape]:
    """A fan where it is fixed: its ring and its blades."""
    blades = "".join(
        f"M{number(x)},{number(y)}q{number(7 * math.cos(turn))},{number(7 * math.sin(turn))}"
        f" {number(9 * math.cos(turn + 0.7))},{number(9 * math.sin(turn + 0.7))}"
        for turn in (0.0, 2.09, 4.19)
    )
    return [Circle("lamp", x, y, 11), Path("coil", blades)]


def divider_shapes(item: Divider, view: View) -> list[Shape]:
    """A divider from the front, seen from its end: a wall, a pane, dots of mesh, strips."""
    x, _, z = item.at_m
    top = view.y(item.top_m)
    high = view.y(z) - top
    at = view.x(x)
    wide = max(item.size_m[0] * view.scale, 4.0)
    left = at - wide / 2

    if item.form == "board":
        return [Rect("hide", left, top, wide, high)]

    if item.form == "pane":
        return [Rect("void", left, top, wide, high)]

    step, dash = (6.0, 2.0) if item.form == "mesh" else (14.0, 11.0)
    rows = range(max(int(high / step), 1))
    marks = "".join(f"M{number(at)},{number(top + step * n)}v{number(dash)}" for n in rows)
    return [Path("coil", marks)]


def screen_shapes(view: View, roof_m: float) -> list[Shape]:
    """A guard screen from the front: its wire over the whole top, and the ends of its wires."""
    left, right, y = view.x(0), view.x(view.length_m), view.y(roof_m) - 7
    count = max(int((right - left) / 12), 2)
    step = (right - left) / count
    ends = "".join(f"M{number(left + step * n)},{number(y)}v5" for n in range(count + 1))
    return [Path("coil", f"M{number(left)},{number(y)}H{number(right)}{ends}")]


def thermometer_shapes(item: Thermometer, view: View) -> list[Shape]:
    """A thermometer's probe where it hangs: a bulb and a stem, and a drop where it reads damp."""
    x, y = view.at(item.at_m[0], item.at_m[2])
    shapes: list[Shape] = [Line("line", (x, y - 18), (x, y)), Circle("felt", x, y, 4)]
    if item.measures != "temperature":
        drop = f"M{number(x + 9)},{number(y - 14)}q-4,7 0,9q4,-2 0,-9Z"
        shapes.append(Path("water", drop))
    return shapes


def hung_shapes(item: Item, prediction: Prediction, view: View, units: Units) -> list[Shape]:
    """What does not stand on the ground: lamps, tubes, mats, and probes with what they feel."""
    if item.is_probe:
        return felt_shapes(item, prediction, view, units)
    if isinstance(item, Thermometer):
        return thermometer_shapes(item, view)
    if isinstance(item, Divider):
        return divider_shapes(item, view)
    if isinstance(item, GuardScreen):
        return screen_shapes(view, prediction.request.enclosure.inside_m.height)
    if isinstance(item, Dripper) and item.buried:
        return line_shapes(*view.at(item.at_m[0], item.at_m[2]))
    drawn = {"fogger": fogger_shapes, "dripper": dripper_shapes, "fan": fan_shapes}.get(item.kind)
    if drawn is not None:
        return drawn(*view.at(item.at_m[0], item.at_m[2]))
    return lamp_shapes(item, view, units, view.y(prediction.request.enclosure.inside_m.height))


def lid_shapes(request: Request, view: View) -> list[Shape]:
    inside = request.enclosure.inside_m
    lid = request.enclosure.lid
    roof = view.y(inside.height)
    left = view.x(0)
    right = view.x(inside.length)
    if lid.mesh is None:
        return [Line("enclosure", (left, roof), (right, roof))]
    middle = (left + right) / 2
    half = (right - left) * lid.mesh_share / 2
    lamps = [t.at_m[0] for t in request.items if t.hangs_above_lid]
    if lamps:  # the open part lies where the lamps shine through it
        middle = min(max(view.x(sum(lamps) / len(lamps)), left + half), right - half)
    return [
        Line("enclosure", (left, roof), (middle - half, roof)),
        Line("mesh", (middle - half, roof), (middle + half, roof)),
        Line("enclosure", (middle + half, roof), (right, roof)),
    ]


def animal_shapes(
    plan: Plan | PlanSummary, prediction: Prediction, view: View, units: Units
) -> tuple[list[Shape], Rect]:
    """The largest animal at its true length, basking; and the place it takes."""
    animal = max(plan.animals, key=lambda a: a.length_m)
    profile = prediction.request.profiles[animal.species]
    length = profile.nose_to_tail_m(animal.length_m) * view.scale
    outline = profile.body.outline
    wide = extent(outline) * length
    tall = tallness(outline) * length
    middle = view.x(plan.basking.x_m)
    left = min(
        max(middle - 0.42 * wide, view.x(0) + 4), view.x(prediction.enclosure.length_m) - 4 - wide
    )
    left = max(left, view.x(0) - max(0.0, wide - prediction.enclosure.length_m * view.scale))
    stands = view.y(plan.basking.z_m - prediction.back_m)
    title = f"{animal.name or animal.common_name}, {length_text(animal.length_m, units)}"
    drawn = tuple(Path("animal", d) for d in side_view(outline, left, stands, length))

    return [Group("animal-group", title=title, parts=drawn)], Rect(
        "", left, stands - tall, wide, tall
    )


def probes_shapes(prediction: Prediction, view: View) -> list[Shape]:
    """Where end air is predicted and should be measured."""
    return [
        Circle("probe", *view.at(*place), 4.5, title=title)
        for place, title in (
            (prediction.warm_point, "warm-end air"),
            (prediction.cool_point, "cool-end air"),
        )
    ]
