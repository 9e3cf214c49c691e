"""Boxes by the names the trade calls them: inside measures, usual materials. A name is nominal; the measures count."""

from dataclasses import dataclass
from types import MappingProxyType
from typing import Any

from husbandry.tables import rows
from husbandry.worked import Source


@dataclass(frozen=True)
class Shape:
    """A common box."""

    slug: str
    name: str
    length_m: float
    depth_m: float
    height_m: float
    front: str
    walls: str
    lid: str
    mesh: str
    mesh_share: float
    source: Source


def _shape(row: dict[str, str]) -> Shape:
    numbers = {key: float(row[key]) for key in ("length_m", "depth_m", "height_m", "mesh_share")}
    words = {key: row[key] for key in ("slug", "name", "front", "walls", "lid", "mesh")}
    parts: dict[str, Any] = {**numbers, **words}
    return Shape(**parts, source=Source(kind="common practice", text=row["source"]))


SHAPES = MappingProxyType({row["slug"]: _shape(row) for row in rows("husbandry.box", "shapes.csv")})


def smallest_for(length_m: float, depth_m: float, air_m: float, ground_m: float) -> Shape | None:
    """The smallest common box in which the sides needed fit, the ground counted in; None when none is large enough."""
    slack = 0.97  # as the judgement of size allows
    fitting = [
        shape
        for shape in SHAPES.values()
        if shape.length_m >= slack * length_m and shape.depth_m >= slack * depth_m and shape.height_m - ground_m >= slack * air_m
    ]
    # An open top costs heat, vapour and a share of the ultraviolet: a closed box half as large again is taken before it (design choice).
    return min(
        fitting, key=lambda shape: shape.length_m * shape.depth_m * shape.height_m * (1 + 0.5 * shape.mesh_share), default=None
    )
