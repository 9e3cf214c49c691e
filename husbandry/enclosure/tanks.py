"""Tanks of the US trade by the gallons in their names: nominal, so compared by footprint and never
by exact volume.
"""

from dataclasses import dataclass
from types import MappingProxyType

from husbandry.derivation import Source
from husbandry.enclosure.geometry import tank_volume
from husbandry.methods import Argument, Example, method
from husbandry.tables import rows

INCH_M = 0.0254
"""One inch (definition of 1959, exact) [m]."""
GLASS_KG_M3 = 2500.0
"""Density of float glass (source: EN 572-1, from memory) [kg/m³]."""


@dataclass(frozen=True)
class Tank:
    """A tank by its trade name, outside measures."""

    name: str
    length_in: float
    depth_in: float
    height_in: float
    source: Source

    @property
    def footprint_m(self) -> tuple[float, float]:
        """Outside length and depth [m]."""
        return self.length_in * INCH_M, self.depth_in * INCH_M

    @property
    def sides_m(self) -> tuple[float, float, float]:
        """Outside length, depth and height [m]."""
        return (*self.footprint_m, self.height_in * INCH_M)

    @property
    def brim_us_gal(self) -> float:
        """What its outside measures would hold [US gal]: more than its name says."""
        return tank_volume(self.length_in, self.depth_in, self.height_in)


def _tank(row: dict[str, str]) -> Tank:
    length_in, depth_in, height_in = (
        float(row[f"{side}_in"]) for side in ("length", "depth", "height")
    )
    return Tank(
        row["name"],
        length_in,
        depth_in,
        height_in,
        Source(kind="common practice", text=row["source"]),
    )


TRADE_TANKS = MappingProxyType(
    {row["name"]: _tank(row) for row in rows("husbandry.enclosure", "tanks.csv")}
)


@method(
    arguments={
        "length_m": Argument("m", 0.05, 5),
        "depth_m": Argument("m", 0.05, 3),
        "height_m": Argument("m", 0.05, 3),
        "thickness_mm": Argument("mm", 1, 40),
    },
    unit="kg",
    rule="Bottom and four sides by their outside measures × thickness × 2500 kg/m³.",
    source=Source(kind="from memory", text="EN 572-1: density of float glass"),
    example=Example(
        {"length_m": 1.2, "depth_m": 0.5, "height_m": 0.5, "thickness_mm": 10},
        57.5,
        1e-9,
        "by hand: (0.6 + 1.2 + 0.5) m² × 0.01 m × 2500",
    ),
    validity="Without lid, braces and frame; the corners are counted twice.",
)
def glass_mass(length_m: float, depth_m: float, height_m: float, thickness_mm: float) -> float:
    """Mass of an empty glass tank [kg]."""
    bottom_m2 = length_m * depth_m
    round_m = 2 * (length_m + depth_m)
    panes_m2 = bottom_m2 + round_m * height_m
    thickness_m = thickness_mm / 1000
    return panes_m2 * thickness_m * GLASS_KG_M3
