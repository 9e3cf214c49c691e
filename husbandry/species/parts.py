"""The parts of a profile that plans are computed from: body, stages, needs, size, light and meals."""

from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from husbandry.derivation import Document
from husbandry.quantity import Kind
from husbandry.species.needs import NEEDS, NeedKey
from husbandry.species.values import (
    GramSpan,
    Metres,
    MillimetreSpan,
    Share,
    SourcedValue,
    StageChoice,
    ValueRange,
    celsius,
)

LengthKind = Literal["total", "snout_vent", "shell"]
Sex = Literal["female", "male", "any"]
Food = Literal[
    "insects", "ants", "worms", "greens", "grass", "fruit", "paste", "pellets", "eggs", "prey"
]
"""prey: whole small mammals; grass: with hay; paste: prepared supplement mixed with water; worms:
for what eats under water or in damp substrate
"""
Outline = Literal[
    "skink",
    "agama",
    "gecko",
    "frog",
    "snake",
    "monitor",
    "chameleon",
    "horned",
    "tortoise",
    "turtle",
    "salamander",
]


class BodyFacts(SourcedValue):
    """Proportions that the drawings and the models use."""

    length_kind: LengthKind
    back_height_bl: float
    """Height of the back above the substrate over body length [1]."""
    eye_gap_bl: float
    """Between the eyes over body length: the widest insect [1]."""
    outline: Outline
    perch_share: Share = 0.0
    """For climbers: height at which it lives over the height of air, where no branch says better; 0
    for life on the ground [1].
    """
    wide_share: Annotated[float, Field(gt=0, le=1)] | None = None
    """For limbless bodies: mean cross-section over the widest one, from which mass and length give
    the widest width [1].
    """
    grip_bl: Annotated[float, Field(gt=0, le=1)] | None = None
    """For climbers: thickness of a branch round which its foot or pads close well, over body length
    [1].
    """
    dig_bl: float = 0.0
    """Depth of substrate that a burrower wants over its body length; 0 for those that do not dig
    [1].
    """


class AdultSize(SourcedValue):
    """What it grows to and what it begins with, of one sex or of any."""

    sex: Sex
    mass_g: GramSpan
    length_mm: MillimetreSpan
    """Of the kind that the body is counted in."""
    first_mass_g: GramSpan
    """At hatching, birth or metamorphosis."""
    first_length_mm: MillimetreSpan


class StageSpec(SourcedValue):
    """A life stage by its three signs. Neighbours may overlap."""

    slug: str
    name: str
    age_months: ValueRange
    mass_g: GramSpan
    length_mm: dict[LengthKind, MillimetreSpan]


class NeedSpec(StageChoice):
    """What an animal needs of one quantity, at some stages, in one approach."""

    need: NeedKey
    low: float | None = None
    high: float | None = None
    limit_low: float | None = None
    limit_high: float | None = None
    limit_origin: tuple[str, ...] = ()

    @model_validator(mode="after")
    def _sound(self) -> Self:
        ends = [
            end
            for end in (self.limit_low, self.low, self.high, self.limit_high)
            if end is not None
        ]
        if self.low is None and self.high is None:
            raise ValueError("a need has at least one end of its target range")
        if (self.limit_low is not None or self.limit_high is not None) and len(
            set(self.limit_origin)
        ) < 2:
            raise ValueError("an absolute limit needs two independent origins in limit_origin")
        kind = NEEDS[self.need].kind
        for end in ends:
            if kind is Kind.TEMPERATURE:
                celsius(end)
            elif not 0 <= end <= (100 if kind is Kind.HUMIDITY else 15):
                raise ValueError(f"{end:g} is not possible for {NEEDS[self.need].name.lower()}")
        if ends != sorted(ends):  # asked last: a slip of unit is the better explanation
            raise ValueError("limit_low, low, high and limit_high must rise in this order")
        return self


class SizeRule(StageChoice):
    """How large an enclosure must be, in multiples of the body and at the least.

    Its question is always how big.
    """

    length_bl: float
    depth_bl: float
    height_bl: float
    min_m: tuple[Metres, Metres, Metres]


class MealPart(Document):
    """A share of a meal by mass."""

    food: Food
    share: Annotated[float, Field(gt=0, le=1)]


LEAST_INTERVAL_DAYS = 0.5
"""Twice a day: nothing is planned more often (design choice) [days]."""


class MealSpec(StageChoice):
    """A kind of meal at some stages: how often, how much."""

    slug: str
    name: str
    stages: Annotated[tuple[str, ...], Field(min_length=1)]
    every_days: tuple[float, float]
    """From the eager to the lean pace [days]."""
    share_of_mass: tuple[Share, Share]
    """Fresh food over body mass, from lean to eager [1]."""
    parts: tuple[MealPart, ...]

    @model_validator(mode="after")
    def _whole(self) -> Self:
        if abs(sum(part.share for part in self.parts) - 1) > 1e-9:
            raise ValueError("the parts of a meal must add up to 1")
        if (
            self.every_days[0] > self.every_days[1]
            or self.share_of_mass[0] > self.share_of_mass[1]
        ):
            raise ValueError("every_days and share_of_mass go from small to large")
        if self.every_days[0] < LEAST_INTERVAL_DAYS:
            raise ValueError(
                f"every_days: a meal comes round after days, at the least after {LEAST_INTERVAL_DAYS:g}"
                " of one"
            )
        return self

    @property
    def foods(self) -> frozenset[str]:
        """What it is made of."""
        return frozenset(part.food for part in self.parts)


class UvSpec(SourcedValue):
    """How much sun the species takes."""

    zone: Literal[1, 2, 3, 4]
    coverage: tuple[Share, Share]
    """Share of the length to lie in the target range [1]."""
    pattern: Literal[
        "open sun by day",
        "sun at the edges of the day",
        "through leaves",
        "at dusk and dawn",
        "none needed",
    ]
    """When and how it meets the sun."""


class SupplementSpec(SourcedValue):
    """Which supplements go on its food, by a named plan of docs/methods/feeding.md."""

    plan: Literal["insect eater", "amphibian", "plant eater", "complete diet", "whole prey"]
