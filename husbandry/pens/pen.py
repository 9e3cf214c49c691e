"""An outdoor pen as its keeper describes it, and who goes out into it."""

import datetime as dt
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Annotated, Literal, NamedTuple

from pydantic import Field, field_validator

from husbandry.derivation import Document
from husbandry.documents.room import Place
from husbandry.enclosure.equipment import MESHES
from husbandry.forecast.outdoor_day import Weather
from husbandry.species.profile import Profile

Ground = Literal["grass", "soil", "sand", "stone"]
Walls = Literal["boards", "mesh", "glass"]


class PenSpec(Document):
    """An outdoor pen."""

    length_m: Annotated[float, Field(ge=0.3, le=30)] = 2.0
    width_m: Annotated[float, Field(ge=0.3, le=30)] = 1.0
    wall_m: Annotated[float, Field(ge=0, le=4)] = 0.4
    """Height of its walls above the ground [m]."""
    sunk_m: Annotated[float, Field(ge=0, le=1)] = 0.0
    """How deep its walls go into the ground [m]."""
    walls: Walls = "boards"
    top: str = ""
    """The mesh over it, by its slug; empty: open."""
    ground: Ground = "grass"
    shade_share: Annotated[float, Field(ge=0, le=1)] = 0.0
    """Of its floor that lies in shade all day, under a roof or a shrub [1]."""
    hides: Annotated[int, Field(ge=0, le=20)] = 0
    stone: bool = False
    """Whether a dark flat stone lies in the sun."""
    water: bool = False
    """Whether a dish of water stands in the shade."""
    branches: bool = False
    """Whether there is something to climb on, in the sun and in the shade."""

    @field_validator("top")
    @classmethod
    def _known(cls, value: str) -> str:
        if value and value not in MESHES:
            raise ValueError("no mesh that is known")
        return value

    @property
    def floor_m2(self) -> float:
        """Its floor [m²]."""
        return self.length_m * self.width_m


@dataclass(frozen=True)
class PenAnimal:
    """One that goes out."""

    name: str
    profile: Profile
    stage: str
    body_m: float
    """Its length, as its species is measured [m]."""
    sex: str = "unknown"
    approaches: Mapping[str, str] | None = None

    @property
    def chosen(self) -> Mapping[str, str]:
        """The approaches that were chosen for it."""
        return self.approaches or {}


class PenDay(NamedTuple):
    """Where, when, and in what weather; its ground and its mesh are the pen's."""

    place: Place
    on: dt.date
    weather: Weather

    def of(self, pen: PenSpec) -> Weather:
        """The weather as it is in a pen."""
        return self.weather.model_copy(update={"ground": pen.ground, "net": pen.top})
