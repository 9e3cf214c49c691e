"""Small pictures of what an enclosure is made of, as it is drawn on its sheet: to be tapped."""

import functools
from collections.abc import Callable

from django.utils.safestring import SafeString, mark_safe

from husbandry.items.union import read_item
from ridgeback.drawing.items import body_shapes, grain_shapes
from ridgeback.drawing.paper import Paper, View
from ridgeback.drawing.primitives import Drawing, Line, Path, Rect, Shape, polyline
from ridgeback.drawing.svg import write

WIDTH, HEIGHT = 72.0, 48.0
FLOOR, SCALE = 42.0, 170.0
_VIEW = View(Paper(WIDTH, 0, 0, 0, HEIGHT, narrow=True), 0.0, FLOOR, SCALE, WIDTH / SCALE)
_MIDDLE_M = WIDTH / 2 / SCALE
_ROOF, _LEFT, _RIGHT = 5.0, 6.0, 66.0
_BODIES: dict[str, dict[str, object]] = {
    "hide": {"size_m": [0.26, 0.2, 0.13]},
    "branch": {"size_m": [0.36, 0.05, 0.05], "z_m": 0.09},
    "plant": {"size_m": [0.24, 0.2, 0.21]},
    "dish": {"size_m": [0.24, 0.2, 0.06]},
    "pool": {"size_m": [0.34, 0.2, 0.15]},
    "slab": {"size_m": [0.28, 0.2, 0.06], "material": "stone"},
}
"""Furniture at a size that fits a tile."""
_GROUND = {
    "sand": "sand",
    "calcium sand": "sand",
    "soil": "soil",
    "coir": "soil",
    "bark": "soil",
    "aspen": "soil",
    "paper": "paper",
    "carpet": "paper",
    "tile": "tile",
    "gravel": "sand",
    "moss": "soil",
}
"""How each substrate is drawn."""


@functools.cache
def tile(name: str) -> SafeString:
    """The picture of that name; empty where there is none: words say enough."""
    parts = _parts(name)
    if not parts:
        return SafeString("")
    return mark_safe(write(Drawing(WIDTH, HEIGHT, tuple(parts), name, "", "tile")))


def _parts(name: str) -> list[Shape]:
    if name in _BODIES:
        return _body(name)

    if name in _GROUND:
        return _ground(name)

    return _LAMPS[name]() if name in _LAMPS else _BOXES[name]() if name in _BOXES else []


def _body(name: str) -> list[Shape]:
    spec = dict(_BODIES[name])
    z_m = spec.pop("z_m", 0.0)
    item = read_item({"kind": name, "id": "tile", "at_m": [_MIDDLE_M, 0.1, z_m], **spec})
    return [*body_shapes(item, _VIEW), Line("thin", (2, FLOOR), (WIDTH - 2, FLOOR))]


def _ground(name: str) -> list[Shape]:
    top = FLOOR - 18
    material = _GROUND[name]
    shapes: list[Shape] = [Rect(f"substrate-{material}", 2, top, WIDTH - 4, 18)]
    if name in _PIECES:
        shapes += [Path(*_PIECES[name])]
    elif material in {"sand", "soil"}:
        shapes += grain_shapes(_VIEW, WIDTH / SCALE, 18 / SCALE)
    return [*shapes, Line("line", (2, top), (WIDTH - 2, top))]


def _rows(role: str, step: str) -> tuple[str, str]:
    """A piece of a substrate in three rows."""
    places = ((6 + 15 * n + 5 * (row % 2), 29 + 5 * row) for row in range(3) for n in range(4))
    return role, "".join(f"M{x},{y}{step}" for x, y in places)


_PIECES = {
    "bark": _rows("branch", "l5,-3l5,2l-5,3Z"),
    "aspen": _rows("thin", "q4,-4 8,0q-2,3 -4,0"),
    "moss": _rows("plant", "q2,-7 4,0q2,-7 4,0Z"),
    "gravel": _rows("stone", "q0,-4 4,-4t4,4t-4,3t-4,-3Z"),
    "coir": _rows("thin", "l6,-2m-2,4l5,1"),
    "calcium sand": _rows("face", "h2m4,-2h2"),
    "carpet": _rows("thin", "v-4m4,4v-4m4,4v-4"),
}
"""What tells one substrate from another of its colour."""


def _two_hides() -> list[Shape]:
    found: list[Shape] = [Line("thin", (2, FLOOR), (WIDTH - 2, FLOOR))]
    for x_m in (0.105, 0.32):
        spec = {"kind": "hide", "id": "tile", "at_m": [x_m, 0.1, 0], "size_m": [0.18, 0.2, 0.11]}
        found += body_shapes(read_item(spec), _VIEW)
    return found


def _moist_hide() -> list[Shape]:
    drop = "M56,12q-7,11 0,13q7,-2 0,-13Z"
    return [*_body("hide"), Path("water", drop)]


def _no_hide() -> list[Shape]:
    return [
        Line("thin", (2, FLOOR), (WIDTH - 2, FLOOR)),
        Path("thin", "M24,18l24,20M48,18l-24,20"),
    ]


def _cord() -> Line:
    return Line("line", (WIDTH / 2, 0), (WIDTH / 2, 12))


def _reflector(wide: float = 18.0) -> list[Shape]:
    """A lamp on its cord."""
    x, y = WIDTH / 2, 36.0
    hood = polyline([(x - 8, 12), (x + 8, 12), (x + wide, y), (x - wide, y)], closed=True)
    return [_cord(), Path("lamp", hood), Line("face", (x - wide, y), (x + wide, y))]


def _coloured() -> list[Shape]:
    """A coloured bulb: its light drawn as the limit is."""
    return [*_reflector(13), Line("above", (WIDTH / 2 - 9, 41), (WIDTH / 2 + 9, 41))]


def _emitter() -> list[Shape]:
    dome = "M22,36q0,-24 14,-24t14,24Z"
    return [_cord(), Path("lamp", dome), Path("coil", "M24,41q4,-6 8,0t8,0t8,0")]


def _panel() -> list[Shape]:
    return [
        Line("line", (2, 8), (WIDTH - 2, 8)),
        Rect("lamp", 8, 8, WIDTH - 16, 9),
        Path("coil", "M14,24q4,6 8,0t8,0t8,0t8,0"),
    ]


def _mat() -> list[Shape]:
    return [
        Rect("lamp", 8, FLOOR - 8, WIDTH - 16, 7, 2),
        Path("coil", f"M12,{FLOOR - 4:g}q4,-6 8,0t8,0t8,0t8,0t8,0"),
        Line("thin", (2, FLOOR), (WIDTH - 2, FLOOR)),
    ]


def _bar() -> list[Shape]:
    return [Rect("lamp", 6, 18, WIDTH - 12, 11, 5), Line("coil", (12, 23.5), (WIDTH - 12, 23.5))]


def _tube() -> list[Shape]:
    return [Path("line", "M4,17q0,-7 8,-7h48q8,0 8,7"), Rect("tube", 4, 18, WIDTH - 8, 11, 5)]


def _compact() -> list[Shape]:
    return [_cord(), Rect("line", 29, 12, 14, 8), Rect("tube", 26, 20, 20, 18, 7)]


def _hot_rock() -> list[Shape]:
    stone = "M8,42q2,-18 18,-20t30,2q8,6 8,18Z"
    return [Path("stone", stone), Path("coil", "M16,34q4,-6 8,0t8,0t8,0t8,0")]


_LAMPS: dict[str, Callable[[], list[Shape]]] = {
    "halogen_flood": _reflector,
    "ceramic_emitter": _emitter,
    "infrared_panel": _panel,
    "heat_mat": _mat,
    "tube_heater": _bar,
    "coloured_lamp": _coloured,
    "hot_rock": _hot_rock,
    "t5_6": _tube,
    "t5_12": _tube,
    "t8_6": _tube,
    "compact_5": _compact,
    "uv_flood": _reflector,
    "two hides": _two_hides,
    "moist hide": _moist_hide,
    "no hide": _no_hide,
}


def _box(
    wall: str = "enclosure", roof: str = "enclosure", *, open_top: bool = False
) -> list[Shape]:
    sides = polyline([(_LEFT, _ROOF), (_LEFT, FLOOR), (_RIGHT, FLOOR), (_RIGHT, _ROOF)])
    top = [] if open_top else [Line(roof, (_LEFT, _ROOF), (_RIGHT, _ROOF))]
    return [Path(wall, sides), *top]


def _timber() -> list[Shape]:
    grain = "M12,12h30M20,18h40M12,24h22M30,30h30M14,36h36"
    return [Rect("hide", _LEFT, _ROOF, _RIGHT - _LEFT, FLOOR - _ROOF), Path("thin", grain)]


def _glass() -> list[Shape]:
    return [
        Rect("inside", _LEFT, _ROOF, _RIGHT - _LEFT, FLOOR - _ROOF),
        Path("thin", "M14,30l14,-16M20,34l18,-21"),
        *_box(),
    ]


def _water_tank() -> list[Shape]:
    return [Rect("water", _LEFT, 14, _RIGHT - _LEFT, FLOOR - 14), *_box(open_top=True)]


def _tub() -> list[Shape]:
    walls = polyline([(6, 14), (12, FLOOR), (60, FLOOR), (66, 14)])
    return [Path("enclosure", walls), Rect("stone", 3, 9, 66, 5, 2)]


def _table() -> list[Shape]:
    return [
        Path("enclosure", polyline([(4, 18), (4, 32), (68, 32), (68, 18)])),
        Path("line", "M12,32v12M60,32v12"),
    ]


def _panes() -> list[Shape]:
    return [Rect("stone", _LEFT, _ROOF, _RIGHT - _LEFT, FLOOR - _ROOF), *_box()]


_BOXES: dict[str, Callable[[], list[Shape]]] = {
    "glass": _glass,
    "timber": _timber,
    "board": _panes,
    "mesh": lambda: _box("mesh", "mesh"),
    "tub": _tub,
    "open table": _table,
    "tank of water": _water_tank,
    "lid mesh": lambda: _box(roof="mesh"),
    "lid solid": lambda: _box(),
    "lid open": lambda: _box(open_top=True),
}


def size_tile(length_m: float, height_m: float) -> SafeString:
    """An enclosure's front to the scale that all sizes of a choice share."""
    return _size_tile(round(length_m, 2), round(height_m, 2))


@functools.cache
def _size_tile(length_m: float, height_m: float) -> SafeString:
    scale = 36.0  # the longest, 1.8 m, and the highest, 1.2 m, fit
    wide, high = length_m * scale, height_m * scale
    box = Rect("inside", (WIDTH - wide) / 2, FLOOR - high, wide, high)
    frame = Path(
        "enclosure",
        polyline(
            [(box.x, box.y), (box.x, FLOOR), (box.x + wide, FLOOR), (box.x + wide, box.y)],
            closed=True,
        ),
    )
    return mark_safe(write(Drawing(WIDTH, HEIGHT, (box, frame), "size", "", "tile")))
