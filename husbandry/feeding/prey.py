"""Whole prey: how wide a limbless body is, and which animal suits it."""

import math
from collections.abc import Collection
from typing import NamedTuple

from husbandry.derivation import Source
from husbandry.feeding.feeders import FEEDERS, Feeder
from husbandry.methods import Argument, Example, method

DENSITY_G_CM3 = 1.0
"""Of a body, as of water (design choice) [g/cm³]."""
WIDEST_TAKEN = 1.5
"""Prey wider than this many times the body is refused or brought up again (common practice) [1]."""


@method(
    arguments={
        "mass_g": Argument("g", 0.5, 200_000),
        "length_m": Argument("m", 0.05, 12),
        "wide_share": Argument("1", 0.3, 1),
    },
    unit="mm",
    rule=(
        "A body of density 1 g/cm³ whose mean cross-section is a share of its widest: width ="
        " 2·√(mass / (π · length · share))."
    ),
    source=Source(
        kind="design choice", text="volume of a round body; the girth over π where it is measured"
    ),
    example=Example(
        {"mass_g": 314.159265, "length_m": 1.0, "wide_share": 1.0},
        20.0,
        1e-6,
        "a cylinder 2 cm wide and 1 m long holds 314 cm³",
    ),
)
def body_width(mass_g: float, length_m: float, wide_share: float) -> float:
    """Width of a limbless body at its widest [mm]."""
    return 20.0 * math.sqrt(mass_g / DENSITY_G_CM3 / (math.pi * length_m * 100 * wide_share))


@method(
    arguments={"girth_mm": Argument("mm", 3, 2000), "of_width": Argument("1", 0.3, WIDEST_TAKEN)},
    unit="mm",
    rule="Width of the body = girth / π; prey as wide as a share of it.",
    source=Source(
        kind="common practice", text="prey as wide as the widest part of the snake, to 1.25 times"
    ),
    example=Example({"girth_mm": 126}, 40.107, 1e-4, "by hand: 126 / π"),
    validity="Never compare prey with the girth itself: it is three times the width.",
)
def prey_width(girth_mm: float, of_width: float = 1.0) -> float:
    """Width of prey for a snake whose girth was taken with a tape at its widest [mm]."""
    return girth_mm / math.pi * of_width


class PreyServing(NamedTuple):
    """Whole animals of one kind and size."""

    feeder: Feeder
    pieces: int

    @property
    def grams(self) -> float:
        """Of all together [g]."""
        return self.pieces * self.feeder.mass_g


class MealRange(NamedTuple):
    """The mass of a meal: what is aimed at, between the ends of the profile's share [g]."""

    low_g: float
    aim_g: float
    high_g: float

    def miss(self, grams: float) -> float:
        """How far a mass lies outside, as a logarithm; 0 inside [1]."""
        inside = min(max(grams, self.low_g), self.high_g)
        return abs(math.log(grams / inside))


MOST_PIECES = 4
"""So many of a small size are served at a time before a larger size is taken (design choice)."""


EACH_MORE = 0.15
"""What each further piece weighs against a mass that is off, as its logarithm (design choice)."""


def prey_for(
    meal: MealRange, width_mm: float, approach: str, kinds: Collection[str]
) -> PreyServing:
    """Choose the animals that suit an eater.

    By mass: those whose mass together is nearest to the meal's aim, rather one than several, and
    none wider than one and a half bodies. By width: the heaviest no wider than the body. Either way
    together they stay inside the meal's range of mass; where even the smallest animal is heavier,
    or wider, it is taken all the same, for nothing smaller is sold.

    Parameters
    ----------
    meal : MealRange
        Of the whole meal [g].
    width_mm : float
        Of the eater at its widest [mm].
    approach : str
        mass or width: the answer to the question “rodent-size”.
    kinds : collection of str
        Animals that the species eats: mouse, rat, rabbit.
    """
    every = sorted(
        (f for f in FEEDERS.values() if f.food == "prey" and f.kind.split("_")[0] in kinds),
        key=lambda f: f.mass_g,
    )
    widest = (WIDEST_TAKEN if approach == "mass" else 1.0) * width_mm
    fitting = [f for f in every if (f.width_mm or 0) <= widest] or every[:1]
    light = [f for f in fitting if f.mass_g <= meal.high_g] or fitting[:1]
    servings = [
        PreyServing(feeder, count) for feeder in light for count in _counts(meal, feeder.mass_g)
    ]

    def order(one: PreyServing) -> tuple[float, ...]:
        off = abs(math.log(one.grams / meal.aim_g)) + EACH_MORE * (one.pieces - 1)
        miss = round(meal.miss(one.grams), 6)
        return (miss, -one.feeder.mass_g, off) if approach == "width" else (miss, off)

    return min(servings, key=order)


def _counts(meal: MealRange, mass_g: float) -> tuple[int, ...]:
    """One of a size, and as many as come nearest to the aim without passing the range."""
    near = min(max(1, round(meal.aim_g / mass_g)), MOST_PIECES)
    within = min(max(1, int(meal.high_g / mass_g)), near)
    return tuple(sorted({1, within}))
