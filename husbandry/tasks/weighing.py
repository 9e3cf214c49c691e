"""What a scale says of an animal: with a tub, or a person with and without it; how far that may be
off, and which change it can show.
"""

import math
from typing import NamedTuple

from husbandry.derivation import Source
from husbandry.methods import Argument, Example, method

FIT = 0.01
"""A step of the scale over the animal's mass beyond which it is too coarse (source: feeding C7)
[1].
"""


@method(
    arguments={"gross_g": Argument("g", 0, 500_000), "tare_g": Argument("g", 0, 500_000)},
    unit="g",
    rule="What the scale shows with the animal, less what it shows without.",
    source=Source(kind="published", text="arithmetic"),
    example=Example({"gross_g": 74_300, "tare_g": 71_800}, 2500, 1e-9, "arithmetic"),
    validity="Tare the tub again when it is wet. Weigh before food, and after it is emptied.",
)
def weighed(gross_g: float, tare_g: float) -> float:
    """Mass of an animal from two readings of a scale [g]; 0 or less when they were exchanged."""
    return gross_g - tare_g


@method(
    arguments={"step_g": Argument("g", 0.001, 1000)},
    unit="g",
    rule=(
        "1.96 d/√6: each reading is rounded to a step d, a difference of two has a standard"
        " deviation of d/√6."
    ),
    source=Source(
        kind="published", text="rounding error of a digital reading, uniform within a step"
    ),
    example=Example({"step_g": 100}, 80.0, 0.001, "source: feeding C7: 0.80 d"),
)
def least_change(step_g: float) -> float:
    """The least change between two weighings that a scale can show nineteen times of twenty [g]."""
    return 1.96 * step_g / math.sqrt(6)


class WeighingResult(NamedTuple):
    """A weighing."""

    mass_g: float
    off_by_g: float
    """At the worst [g]."""
    shows_g: float
    """The least change it can show [g]."""
    coarse: bool


def weigh(gross_g: float, tare_g: float = 0.0, step_g: float | None = None) -> WeighingResult:
    """A weighing with what the scale's step does to it.

    Parameters
    ----------
    step_g : float, optional
        Of the scale; without it nothing is said of its error.
    """
    mass = weighed(gross_g, tare_g)
    if step_g is None:
        return WeighingResult(mass, 0.0, 0.0, coarse=False)
    return WeighingResult(
        mass, step_g if tare_g else step_g / 2, least_change(step_g), coarse=step_g > FIT * mass
    )
