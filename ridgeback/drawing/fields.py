"""What an enclosure will be like, drawn over it: isotherms, UVI lines and lines of brightness, each
labelled.
"""

import math
from collections.abc import Callable

import numpy as np
from numpy.typing import NDArray

from husbandry.climate.light import total_lux
from husbandry.climate.uv import total_uvi
from husbandry.climate.vapour import humidity_field
from husbandry.predict.light import light_sources
from husbandry.predict.predict import Prediction
from husbandry.quantity import Kind, Units, convert, default_unit
from ridgeback.drawing.contours import Contour, even_levels, lines, refine
from ridgeback.drawing.paper import View
from ridgeback.drawing.primitives import (
    Path,
    Place,
    Rect,
    Shape,
    Text,
    length_of,
    overlaps,
    stepped,
)

Array = NDArray[np.float64]
UVI_LEVELS = [0.3, 1.0, 2.0, 3.0, 5.0, 7.0]
LUX_LEVELS = [300.0, 1000.0, 3000.0, 10_000.0, 30_000.0]
GRID = (61, 31)


def air_grid(prediction: Prediction) -> tuple[Array, Array, Array]:
    """Air temperatures on a fine grid from substrate to lid: x, z [m], values [°C] of shape
    (columns, rows).
    """
    x, z, values = prediction.day.air_field()
    enclosure = prediction.enclosure
    return refine(
        x,
        z,
        values,
        *GRID,
        (0.0, enclosure.length_m, enclosure.substrate_depth_m, enclosure.height_m),
    )


def uvi_grid(prediction: Prediction) -> tuple[Array, Array, Array]:
    """UV index on the same grid, in the plane of the basking place: x, z [m], values of shape
    (columns, rows).
    """
    enclosure = prediction.enclosure
    x = np.linspace(0, enclosure.length_m, GRID[0])
    z = np.linspace(enclosure.substrate_depth_m, enclosure.height_m, GRID[1])
    xx, zz = np.meshgrid(x, z, indexing="ij")
    return x, z, total_uvi(prediction.uv, xx, prediction.basking.y_m, zz, prediction.blockers)


def lux_grid(prediction: Prediction) -> tuple[Array, Array, Array]:
    """Brightness on the same grid, in the same plane: x, z [m], values [lx] of shape (columns,
    rows).
    """
    enclosure = prediction.enclosure
    x = np.linspace(0, enclosure.length_m, GRID[0])
    z = np.linspace(enclosure.substrate_depth_m, enclosure.height_m, GRID[1])
    xx, zz = np.meshgrid(x, z, indexing="ij")
    return (
        x,
        z,
        total_lux(
            light_sources(prediction.request),
            enclosure,
            xx,
            prediction.basking.y_m,
            zz,
            prediction.blockers,
        ),
    )


Grids = tuple[tuple[Array, Array, Array], tuple[Array, Array, Array]]
"""Air and UV index on the fine grid."""


def grids(prediction: Prediction) -> Grids:
    """Both fields of a drawing."""
    return air_grid(prediction), uvi_grid(prediction)


def humidity_grid(known: Grids, vapour_pa: float) -> tuple[Array, Array, Array]:
    """Relative humidity of one vapour in air of those temperatures: x, z [m], values [%]."""
    x, z, air = known[0]
    return x, z, humidity_field(vapour_pa, air)


def humidity_shapes(known: Grids, vapour_pa: float, view: View, taken: list[Rect]) -> list[Shape]:
    """Lines of equal humidity, every few per cent."""
    x, z, values = humidity_grid(known, vapour_pa)
    levels = even_levels(float(values.min()), float(values.max()), 6)
    return contour_shapes(
        lines(x, z, values, levels, shortest_m=0.15),
        view,
        "damp-line",
        "tag-damp",
        lambda v: f"{v:g} %",
        taken,
    )


SEEN = 1.2
"""A line may leave its way by so much before anybody sees it: under a pixel where the sheet of 960 is
shown 640 wide [units of the paper].
"""


def readable(
    prediction: Prediction,
    known: Grids,
    units: Units,
    every: tuple[int, int] = (5, 4),
    *,
    lux: bool = True,
    vapour_pa: float | None = None,
) -> dict[str, object]:
    """Coarse grids for the read-out at the pointer, in the reader's units, and how far they reach
    [m].
    """
    (x, z, air), (_, _, uvi) = known
    thin = np.s_[:: every[0], :: every[1]]
    fahrenheit = units.temperature == "f"
    shown = (air * 9 / 5 + 32 if fahrenheit else air)[thin]
    bright = lux_grid(prediction)[2][thin] if lux else np.zeros((0, 0))
    return {
        "air": [[round(float(v), 1) for v in row] for row in shown],
        "uvi": [[round(float(v), 2 if v < 1 else 1) for v in row] for row in uvi[thin]],
        "lux": [[100 * round(float(v) / 100) for v in row] for row in bright],
        "damp": (
            [[round(float(v)) for v in row] for row in humidity_grid(known, vapour_pa)[2][thin]]
            if vapour_pa
            else []
        ),
        "unit": "°F" if fahrenheit else "°C",
        "substrate": float(z[0]),
        "length": float(x[-1]),
        "height": float(z[-1]),
        "depth": prediction.enclosure.depth_m,
    }


def overlays(
    prediction: Prediction, view: View, units: Units, taken: list[Rect], known: Grids | None = None
) -> tuple[list[Shape], list[Shape]]:
    """Isotherms at round numbers of the reader's degrees, and UVI lines at fixed levels."""
    (x, z, air), seen = known or grids(prediction)
    unit = default_unit(Kind.TEMPERATURE, units)
    low, high = (reader_degrees(float(v), units) for v in (air.min(), air.max()))
    levels = [
        convert(v, Kind.TEMPERATURE, unit)
        for v in even_levels(low, high, 4 if view.paper.narrow else 7)
    ]
    heat = contour_shapes(
        lines(x, z, air, levels, shortest_m=0.15),
        view,
        "isotherm",
        "tag-heat",
        lambda v: f"{reader_degrees(v, units):g}°",
        taken,
    )
    uv: list[Shape] = []
    if prediction.uv:
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


def light_shapes(prediction: Prediction, view: View, taken: list[Rect]) -> list[Shape]:
    """Lines of brightness at midday, threefold from one to the next."""
    if not light_sources(prediction.request):
        return []
    x, z, lux = lux_grid(prediction)
    found = lines(
        x,
        z,
        np.log(np.maximum(lux, 1.0)),
        [math.log(level) for level in LUX_LEVELS],
        shortest_m=0.15,
    )
    return contour_shapes(
        found,
        view,
        "lux-line",
        "tag-lux",
        lambda v: f"{math.exp(v):,.0f} lx".replace(",", "\u202f"),
        taken,
    )


def reader_degrees(value_c: float, units: Units) -> float:
    """A temperature as the number of its line: to a tenth of the reader's degrees."""
    return round(value_c * 9 / 5 + 32, 1) if units.temperature == "f" else round(value_c, 1)


def contour_shapes(
    contours: list[Contour],
    view: View,
    role: str,
    tag: str,
    words: Callable[[float], str],
    taken: list[Rect],
) -> list[Shape]:
    """Contours with one label each, put where it covers nothing."""
    drawn: list[Shape] = []
    tags: list[Shape] = []
    for contour in contours:
        points = _thinned(contour.points * (view.scale, -view.scale) + (view.left, view.floor))
        drawn.append(Path(role, stepped(points)))
        if length_of(points) < 40:
            continue
        label = words(contour.level)
        width = 7.2 * len(label) + 4
        places = [
            points[int(share * (len(points) - 1))]
            for share in (0.5, 0.35, 0.65, 0.2, 0.8, 0.1, 0.9)
        ]
        if (
            role == "uvi-line"
        ):  # the lines of a tube bunch at its ends: the lowest place is the clearest
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
    return _straightened([(float(x), float(y)) for x, y in points[kept].tolist()])


def _straightened(points: list[Place]) -> list[Place]:
    """Without places that lie on the way of their neighbours, to what is seen (Douglas and Peucker
    1973).
    """
    if len(points) < 3:
        return points
    x1, y1 = points[0]
    along, up = points[-1][0] - x1, points[-1][1] - y1
    long = math.hypot(along, up)

    if long < SEEN:  # a closed line: how far from where it begins
        off = [math.hypot(x - x1, y - y1) for x, y in points[1:-1]]
    else:
        off = [abs(along * (y - y1) - (x - x1) * up) / long for x, y in points[1:-1]]

    furthest = max(off)
    if furthest < SEEN:
        return [points[0], points[-1]]
    far = off.index(furthest) + 1

    return [*_straightened(points[: far + 1])[:-1], *_straightened(points[far:])]
