"""Tanks of the US trade by the gallons in their names: nominal, so compared by footprint and never
by exact volume.
"""

from dataclasses import dataclass
from types import MappingProxyType

from husbandry.derivation import Source
from husbandry.enclosure.geometry import tank_volume
from husbandry.tables import rows

INCH_M = 0.0254
"""One inch (definition of 1959, exact) [m]."""


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
