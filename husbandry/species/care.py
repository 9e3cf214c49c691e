"""The parts of a profile that tell how the animal is kept: company, enclosure, substrate, moisture,
water, food, seasons, handling, young.
"""

from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from husbandry.species.values import (
    CelsiusSpan,
    MetreSpan,
    Share,
    SourcedRange,
    SourcedText,
    SourcedValue,
    StageChoice,
    Text,
    ValueRange,
)

Texts = Annotated[tuple[Text, ...], Field(min_length=1)]


class Company(SourcedValue):
    """Whether it shares its enclosure, with how many and of what kind."""

    manner: Literal["alone", "alone or in a pair", "group"]
    most: Annotated[int, Field(ge=1, le=30)]
    """Grown animals in one enclosure of the right size."""
    males_most: Annotated[int, Field(ge=0, le=30)]
    females_per_male: float | None = None
    size_ratio_most: Annotated[float, Field(ge=1, le=5)] = 1.3
    """Largest length over smallest: beyond, the larger hurts, starves or eats the smaller [1]."""
    eats_young: bool
    floor_per_more: Share = 0.5
    """Floor for each further animal over that of the first [1]."""


class EnclosureNeeds(SourcedValue):
    """The enclosure itself beside its size."""

    kinds: Annotated[
        tuple[
            Literal[
                "glass", "board", "timber", "mesh", "tub", "open table", "pen", "tank of water"
            ],
            ...,
        ],
        Field(min_length=1),
    ]
    ventilation: Literal["little", "moderate", "strong"]
    security: Text
    """How it escapes, and what stops it."""
    opaque_sides: Annotated[int, Field(ge=0, le=4)]
    """Sides that it should not see through."""
    water_share: tuple[Share, Share] = (0.0, 0.0)
    """Share of the floor that is water deep enough to swim or sit in [1]."""
    water_depth_m: MetreSpan | None = None
    """Of that water."""


class SubstrateSpec(StageChoice):
    """What it walks and digs in."""

    depth_m: MetreSpan
    kinds: Texts
    avoid: Texts


class Moisture(SourcedValue):
    """The course of humidity through the day, and where it finds more."""

    rhythm: Literal["wave", "dry by day, damp by night", "even and dry", "even and damp", "water"]
    """even: without a wave, by nature of the place, not by a humidistat"""
    mistings_per_day: SourcedRange
    retreat: Text


class Hides(SourcedValue):
    """The retreats it needs at the same time, so that hiding never costs it its warmth or its
    moisture; and what else it uses.
    """

    places: Annotated[tuple[Literal["warm", "cool", "moist"], ...], Field(min_length=1)]
    furniture: Texts


class Water(SourcedValue):
    """What it bathes in and drinks."""

    treated: bool
    """Free of chlorine and chloramine: always for amphibians, which take water in through the skin."""
    soak: bool
    """It lies in its water, so the dish must hold all of it."""
    dish: Text
    drops: bool = False
    """It drinks nothing but drops: neither dish nor cup is seen as water."""


class Soak(StageChoice):
    """Bathing by the keeper's hand."""

    per_week: ValueRange
    minutes: ValueRange


class FoodRules(StageChoice):
    """What it may and may not eat."""

    live: bool
    """It takes live food only, or nearly."""
    never: Texts
    prey: tuple[Literal["mouse", "rat", "rabbit"], ...] = ()
    """Whole mammals that it is fed, where any are."""
    grass_share: Share | None = None
    """Of grass and hay in the food of a grazer [1]."""
    fruit_share_most: Share = 0.0


class Season(SourcedValue):
    """The year: rest, heat and breeding."""

    dormancy: Literal["none", "possible", "usual", "obligate"]
    """Of the winter."""
    dormancy_weeks: ValueRange | None = None
    dormancy_c: CelsiusSpan | None = None
    last_meal_days: ValueRange | None = None
    """Before the day is shortened."""
    aestivates: bool = False
    breeding: Text


class Handling(SourcedText):
    """How it takes the hand."""

    how_often: Literal["daily", "weekly", "seldom", "never"]
    enrichment: Text


class Reproduction(SourcedValue):
    """Eggs, or young born alive."""

    bears: Literal["eggs", "live young", "eggs in water", "larvae"]
    clutch: ValueRange
    incubation_c: CelsiusSpan | None = None
    """Of eggs in an incubator, or of the water."""
    days: ValueRange
    """To hatching, or from mating to birth."""
    lay_in: Literal["substrate", "laying_box"] | None = None
    """Of eggs on land that are buried: in the substrate itself, or in an enclosure of damp moss or
    soil. None: they are glued, floated or born.
    """
    lay_depth_m: MetreSpan | None = None
    """Of damp substrate that holds a tunnel, or of what fills the enclosure."""

    @model_validator(mode="after")
    def _laid(self) -> Self:
        if (self.lay_in is None) != (self.lay_depth_m is None):
            raise ValueError("lay_in and lay_depth_m go together")
        return self


class Signs(SourcedValue):
    """What sends a keeper to a veterinarian, beside what does for every animal."""

    texts: Texts


class Costs(SourcedValue):
    """What it takes to set up and run for a grown animal, in euros of 2026; the page turns it into
    the reader's money.
    """

    setup_eur: ValueRange
    animal_eur: ValueRange
    power_w: ValueRange
    """Connected load of the grown animal's enclosure [W]."""


class KeeperExperience(SourcedValue):
    """For whom it is."""

    level: Literal["first animal", "some experience", "long experience"]


class Explained(SourcedValue):
    """Where the profile differs from what the trade says, in its own words and with a source."""

    quantity: str
    stage: str = "all"
    text: Text
