"""What somebody said of an enclosure, as facts. None, everywhere: it was not said.

Format: docs/formats/review.md. Units are in the names: m, °C, g, W, %.
"""

import functools
from typing import Annotated, Literal

from pydantic import Field, field_validator

from husbandry.derivation import Document
from husbandry.species.library import library
from husbandry.tables import rows

FORMAT: Literal["ridgeback-description/1"] = "ridgeback-description/1"
TEXT_MOST = 8000
"""Longer texts are no description of one enclosure (design choice) [characters]."""

EnclosureKind = Literal["glass", "timber", "board", "mesh", "tub", "open table", "tank of water"]
LidKind = Literal["mesh", "solid", "open"]
HeatKind = Literal[
    "lamp",
    "halogen_flood",
    "halogen_spot",
    "incandescent_reflector",
    "infrared_projector",
    "ceramic_emitter",
    "infrared_panel",
    "heat_mat",
    "tube_heater",
    "hot_rock",
    "coloured_lamp",
    "water_heater",
]
UvKind = Literal["uv", "t5", "t8", "compact", "uv_flood"]
Instrument = Literal["none", "dial", "digital", "infrared", "uv meter"]
Product = Literal["calcium", "calcium + D3", "multivitamin", "vitamin A"]
TemperaturePlace = Literal[
    "basking", "warm", "cool", "night", "water", "room", "room night", "air"
]
PREY_SIZES = ("pink", "fuzzy", "hopper", "weaned", "small", "medium", "large", "jumbo", "adult")
"""What sizes of mice and rats are called."""
FactName = Literal[
    "animal",
    "enclosure",
    "lid",
    "heat",
    "uv",
    "thermostat",
    "instruments",
    "temperatures",
    "humidity",
    "moisture",
    "substrate",
    "hides",
    "climbing",
    "plants",
    "water",
    "food",
    "supplements",
    "light",
    "danger",
]
"""Groups of facts, in the order in which they are shown."""


class SaidRange(Document):
    """A number, or the two ends of a range, as it was said."""

    low: float
    high: float

    @property
    def middle(self) -> float:
        """Between its ends."""
        return (self.low + self.high) / 2


class SaidHeat(Document):
    """A heater, or several alike."""

    kind: HeatKind
    power_w: Annotated[float, Field(gt=0, le=2000)] | None = None
    count: Annotated[int, Field(ge=1, le=8)] = 1
    distance_m: Annotated[float, Field(gt=0, le=3)] | None = None
    """From its face to what the animal sits on [m]."""
    at_night: bool = False


class SaidUv(Document):
    """A lamp that gives ultraviolet."""

    kind: UvKind
    percent: float | None = None
    """Its class by the share of UVB on its box [%]."""
    length_m: float | None = None
    power_w: float | None = None
    distance_m: float | None = None
    age_months: float | None = None


class SaidFood(Document):
    """A food, and how often it is given."""

    name: str
    size: str = ""
    """As the trade calls it, of whole prey (`PREY_SIZES`) and of insects; empty: not said."""
    every_days: SaidRange | None = None


class SaidSupplement(Document):
    """A supplement, and how often it goes onto food."""

    product: Product
    every_days: SaidRange | None = None
    every_meal: bool = False


class SaidTemperature(Document):
    """A temperature that the keeper names [°C]."""

    place: TemperaturePlace
    value_c: SaidRange


class SaidAnimal(Document):
    """Who lives there."""

    species: str | None = None
    """Scientific name, of the guide."""
    words: str = ""
    """As it was called, where the guide does not know it."""
    count: Annotated[int, Field(ge=1, le=20)] | None = None
    males: int | None = None
    females: int | None = None
    stage: str | None = None
    age_months: float | None = None
    mass_g: float | None = None
    length_mm: float | None = None
    others: tuple[str, ...] = ()
    """Further species that share the enclosure, by scientific name."""

    @field_validator("species", "others")
    @classmethod
    def _of_the_guide(cls, value: str | tuple[str, ...] | None) -> str | tuple[str, ...] | None:
        for species in (value,) if isinstance(value, str) else value or ():
            if species not in library():
                raise ValueError(f"the guide has no species “{species[:60]}”")
        return value


class Understood(Document):
    """A piece of the text, and what it was taken for."""

    start: int
    end: int
    fact: FactName


class Contradiction(Document):
    """Two things that cannot both be, or one that cannot be at all."""

    fact: FactName
    text: str


@functools.cache
def _column(table: str, column: str) -> frozenset[str]:
    return frozenset(row[column] for row in rows("husbandry.review", table))


def _listed(names: tuple[str, ...] | None, table: str, column: str) -> tuple[str, ...] | None:
    """The same names. Raises `ValueError` for one that a table of this package does not have."""
    known = _column(table, column)

    for name in names or ():
        if name not in known:
            raise ValueError(f"“{name[:60]}” is not in {table}")

    return names


class Description(Document):
    """Everything that was said of an enclosure."""

    format: Literal["ridgeback-description/1"] = FORMAT
    text: Annotated[str, Field(max_length=TEXT_MOST)] = ""
    animal: SaidAnimal = SaidAnimal()
    enclosure: EnclosureKind | None = None
    sides_m: tuple[float, float | None, float | None] | None = None
    """Length, and depth and height where they were said [m]."""
    volume_l: float | None = None
    lid: LidKind | None = None
    heat: tuple[SaidHeat, ...] | None = None
    """Empty: there is none."""
    uv: tuple[SaidUv, ...] | None = None
    """Empty: there is none."""
    thermostat: bool | None = None
    set_c: float | None = None
    """At which the thermostat holds [°C]."""
    guarded: bool | None = None
    """Whether a guard keeps it from its heaters."""
    instruments: tuple[Instrument, ...] | None = None
    """Empty: nothing is measured."""
    temperatures: tuple[SaidTemperature, ...] = ()
    humidity_pct: SaidRange | None = None
    mistings_per_day: float | None = None
    """0: never."""
    fogger: bool | None = None
    substrate: tuple[str, ...] | None = None
    """Names of `husbandry.review.vocabulary`; empty: bare."""
    substrate_m: SaidRange | None = None
    hides: Annotated[int, Field(ge=0, le=12)] | None = None
    moist_hide: bool | None = None
    climbing: bool | None = None
    basking_place: bool | None = None
    """A stone or ledge under the lamp."""
    plants: Literal["live", "artificial", "none"] | None = None
    water: Literal["dish", "pool", "none"] | None = None
    food: tuple[SaidFood, ...] | None = None
    feeding_days: SaidRange | None = None
    """Between two meals, whatever is in them [days]."""
    supplements: tuple[SaidSupplement, ...] | None = None
    """Empty: none."""
    light_hours: float | None = None
    dangers: tuple[str, ...] = ()
    """Slugs of `dangers.csv`."""
    understood: tuple[Understood, ...] = ()
    not_understood: tuple[str, ...] = ()
    set_aside: tuple[str, ...] = ()
    """What is planned, asked or uncertain: it says nothing of what is there."""
    contradictions: tuple[Contradiction, ...] = ()

    @field_validator("substrate")
    @classmethod
    def _substrate_known(cls, value: tuple[str, ...] | None) -> tuple[str, ...] | None:
        return _listed(value, "vocabulary.csv", "value")

    @field_validator("dangers")
    @classmethod
    def _danger_known(cls, value: tuple[str, ...]) -> tuple[str, ...] | None:
        return _listed(value, "dangers.csv", "slug")

    @field_validator("food")
    @classmethod
    def _food_known(cls, value: tuple[SaidFood, ...] | None) -> tuple[SaidFood, ...] | None:
        _listed(tuple(one.name for one in value or ()), "foods.csv", "name")
        return value

    def temperature(self, *places: TemperaturePlace) -> SaidRange | None:
        """The temperature that was said of the first of these places [°C]."""
        for place in places:
            for one in self.temperatures:
                if one.place == place:
                    return one.value_c
        return None
