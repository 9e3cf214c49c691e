"""The inside of an enclosure in numbers: floor, height left above the substrate, volume, trade
sizes.
"""

from dataclasses import dataclass

from husbandry.derivation import Source
from husbandry.methods import Argument, Example, method

LITRES_PER_US_GALLON = 3.785411784
"""231 cubic inches, exactly (NIST Handbook 44, appendix C)."""


@method(
    arguments={
        "length_in": Argument("in", 1, 400),
        "depth_in": Argument("in", 1, 400),
        "height_in": Argument("in", 1, 400),
    },
    unit="US gal",
    rule="Length × depth × height in inches / 231.",
    source=Source(
        kind="published", text="NIST Handbook 44, appendix C: one US gallon is 231 cubic inches"
    ),
    example=Example(
        {"length_in": 36, "depth_in": 18, "height_in": 16},
        44.88,
        1e-3,
        "arithmetic; the trade calls this tank a “40”",
    ),
)
def tank_volume(length_in: float, depth_in: float, height_in: float) -> float:
    """Volume of a tank from its inside measures [US gal].

    Trade names are nominal: compare by footprint.
    """
    return length_in * depth_in * height_in / 231.0


@dataclass(frozen=True)
class Interior:
    """Inside measures and what the substrate takes of them.

    Origin at the floor's left front corner; x length, y depth, z up.
    """

    length_m: float
    depth_m: float
    height_m: float
    substrate_depth_m: float

    @property
    def air_height_m(self) -> float:
        """From the substrate's surface to the lid [m]."""
        return self.height_m - self.substrate_depth_m

    @property
    def footprint_m2(self) -> float:
        """Inside floor [m²]."""
        return self.length_m * self.depth_m

    @property
    def volume_l(self) -> float:
        """Inside volume [l]."""
        return self.footprint_m2 * self.height_m * 1000

    @property
    def volume_us_gal(self) -> float:
        """Inside volume [US gal]."""
        return self.volume_l / LITRES_PER_US_GALLON
