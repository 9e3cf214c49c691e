"""One animal, as a request says it."""

import datetime as dt
from typing import Annotated, Literal

from pydantic import Field, field_validator

from husbandry import bounds
from husbandry.derivation import Document
from husbandry.feeding.condition import Condition
from husbandry.feeding.condition_periods import ConditionPeriod
from husbandry.growth.body import Body, body_of
from husbandry.species.approaches import problem_with
from husbandry.species.library import library
from husbandry.species.parts import LengthKind
from husbandry.species.profile import Profile

MassG = Annotated[float, Field(ge=bounds.MASS_G[0], le=bounds.MASS_G[1])]
LengthMm = Annotated[float, Field(ge=bounds.LENGTH_MM[0], le=bounds.LENGTH_MM[1])]


class Animal(Document):
    """One animal."""

    name: Annotated[str, Field(max_length=80)] = ""
    species: str
    born_on: dt.date | None = None
    sex: Literal["female", "male", "unknown"] = "unknown"
    mass_g: MassG | None = None
    length_mm: dict[LengthKind, LengthMm] = {}
    approaches: dict[str, str] = {}
    fed_on: dt.date | None = None
    """A day on which it was fed: intervals count from there."""
    condition: Condition | None = None
    """As its body was scored last."""
    trend_pct: Annotated[float, Field(ge=-100, le=100_000)] | None = None
    """Change of mass over the last 90 days [%]."""
    condition_periods: tuple[ConditionPeriod, ...] = ()
    """Those that go on, and those of which food still takes note."""
    arrived_on: dt.date | None = None
    """Where it moved in lately."""
    came_on: dt.date | None = None
    """When it came to its keeper; None: long ago, bred here, or nobody said."""

    def body(self, profile: Profile, stage: str) -> Body:
        """Its mass and length: as measured, else from each other, else typical of its stage."""
        return body_of(profile, stage, mass_g=self.mass_g, length_mm=self.length_mm, sex=self.sex)

    @property
    def recorded_days(self) -> dict[str, dt.date]:
        """Every day that was noted of it but its birth, by its JSON pointer in the animal."""
        days = {
            "fed_on": self.fed_on,
            "arrived_on": self.arrived_on,
            "came_on": self.came_on,
            "condition/on": self.condition.on if self.condition else None,
            **{
                f"condition_periods/{n}/since": condition_period.since
                for n, condition_period in enumerate(self.condition_periods)
            },
        }
        return {name: day for name, day in days.items() if day is not None}

    @field_validator("species")
    @classmethod
    def _profiled(cls, value: str) -> str:
        if value not in library():
            raise ValueError(f"there is no profile of “{value}”; there are {', '.join(library())}")
        return value

    @field_validator("approaches")
    @classmethod
    def _approach_known(cls, value: dict[str, str]) -> dict[str, str]:
        wrong = problem_with(value, "animal")
        if wrong:
            raise ValueError(wrong)
        return value
