"""Whole prey: how wide a limbless body is, and which animal suits it."""

import math

from husbandry.diet.feeders import FEEDERS, Feeder
from husbandry.methods import Argument, Example, method
from husbandry.worked import Source

DENSITY_G_CM3 = 1.0
WIDEST_TAKEN = 1.5
"""Prey wider than this many times the body is refused or brought up again (common practice) [1]."""


@method(
    arguments={
        "mass_g": Argument("g", 0.5, 200_000),
        "length_m": Argument("m", 0.05, 12),
        "wide_share": Argument("1", 0.3, 1),
    },
    unit="mm",
    rule="A body of density 1 g/cm³ whose mean cross-section is a share of its widest: width = 2·√(mass / (π · length · share)).",
    source=Source(kind="design choice", text="volume of a round body; the girth over π where it is measured"),
    example=Example(
        {"mass_g": 314.159265, "length_m": 1.0, "wide_share": 1.0}, 20.0, 1e-6, "a cylinder 2 cm wide and 1 m long holds 314 cm³"
    ),
)
def body_width(mass_g: float, length_m: float, wide_share: float) -> float:
    """Width of a limbless body at its widest [mm]."""
    return 20.0 * math.sqrt(mass_g / DENSITY_G_CM3 / (math.pi * length_m * 100 * wide_share))


def prey_for(grams: float, width_mm: float, school: str) -> Feeder:
    """The animal that suits: nearest to a mass, or to the body's own width; never wider than one and a half bodies, but the smallest at the least.

    Parameters
    ----------
    grams : float
        Mass of the whole meal [g].
    width_mm : float
        Of the eater at its widest [mm].
    school : str
        mass or width: the answer to the question “rodent-size”.
    """
    every = sorted((f for f in FEEDERS.values() if f.food == "prey"), key=lambda f: f.mass_g)
    fitting = [f for f in every if (f.width_mm or 0) <= (WIDEST_TAKEN if school == "mass" else 1.0) * width_mm] or every[:1]
    if school == "width":
        return fitting[-1]
    return min(fitting, key=lambda f: abs(math.log(f.mass_g / grams)))
