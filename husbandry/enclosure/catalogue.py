"""Enclosures by the names the trade calls them: inside measures, usual materials, a guide to the
price. A name is nominal; the measures count.
"""

from dataclasses import dataclass
from types import MappingProxyType
from typing import Any

from husbandry.derivation import Source
from husbandry.enclosure.trade_size import Sides, fits_size, outside
from husbandry.tables import rows

OPEN_SHARE = 0.99
"""From this share of mesh on, a lid adds nothing to the height (design choice) [1]."""


CAGE_FLOOR = "pvc_board"
"""What stands under sides of mesh (common practice)."""


def panels_of(front: str, walls: str) -> dict[str, str]:
    """Material of each side and of the floor; a cage of mesh has a solid floor."""
    sides = dict.fromkeys(("back", "left", "right"), walls)
    return {"front": front, **sides, "bottom": CAGE_FLOOR if walls == "mesh" else walls}


@dataclass(frozen=True)
class CatalogueEnclosure:
    """A common enclosure."""

    slug: str
    name: str
    kind: str
    """tub, tank, cube, tall enclosure, glass enclosure, board or timber enclosure, cage, open
    table, tank of water, shed
    """
    length_m: float
    depth_m: float
    height_m: float
    front: str
    walls: str
    lid: str
    mesh: str
    mesh_share: float
    price_eur: float
    """A guide for a new one, 2026."""
    source: Source

    @property
    def sides_m(self) -> tuple[float, float, float]:
        """Inside length, depth and height [m]."""
        return self.length_m, self.depth_m, self.height_m

    @property
    def outside_m(self) -> Sides:
        """Length, depth and height as it is sold, walls counted in [m]."""
        lid = None if self.mesh_share >= OPEN_SHARE else self.lid
        return outside(self.sides_m, panels_of(self.front, self.walls), lid)

    @property
    def planned(self) -> bool:
        """Whether it can be chosen for a first setup: not what holds water or is a room of its own."""
        return self.kind not in {"tank of water", "shed"}


def _shape(row: dict[str, str]) -> CatalogueEnclosure:
    numbers = {
        key: float(row[key])
        for key in ("length_m", "depth_m", "height_m", "mesh_share", "price_eur")
    }
    words = {key: row[key] for key in ("slug", "name", "kind", "front", "walls", "lid", "mesh")}
    parts: dict[str, Any] = {**numbers, **words}
    return CatalogueEnclosure(**parts, source=Source(kind="common practice", text=row["source"]))


CATALOGUE = MappingProxyType(
    {row["slug"]: _shape(row) for row in rows("husbandry.enclosure", "catalogue.csv")}
)
PLANNED = MappingProxyType({slug: shape for slug, shape in CATALOGUE.items() if shape.planned})
"""Those whose climate can be predicted."""
KINDS_OF: dict[str, frozenset[str]] = {
    "glass": frozenset({"tank", "cube", "tall enclosure", "glass enclosure"}),
    "board": frozenset({"board or timber enclosure"}),
    "timber": frozenset({"board or timber enclosure"}),
    "mesh": frozenset({"cage"}),
    "tub": frozenset({"tub"}),
    "open table": frozenset({"open table"}),
    "pen": frozenset({"shed", "open table"}),
    "tank of water": frozenset({"tank of water"}),
}
"""Shapes that a profile's kinds of enclosure stand for."""


def smallest_for(
    length_m: float, depth_m: float, height_m: float, substrate_m: float
) -> CatalogueEnclosure | None:
    """The smallest common enclosure of predictable climate in which the sides needed fit, the
    substrate counted in; None when none is large enough.
    """
    fitting = [
        shape
        for shape in PLANNED.values()
        if shape.kind not in {"tub", "open table"}
        and fits_size(shape.outside_m, shape.height_m - substrate_m, (length_m, depth_m, height_m))
    ]
    # An open top costs heat, vapour and a share of the ultraviolet: a closed enclosure half as
    # large again is taken before it (design choice).
    return min(
        fitting,
        key=lambda shape: (
            shape.length_m * shape.depth_m * shape.height_m * (1 + 0.5 * shape.mesh_share)
        ),
        default=None,
    )
