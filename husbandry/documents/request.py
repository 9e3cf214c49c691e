"""The request: one or more animals, one enclosure, one room, at a moment.

Everything a plan is computed from. Format: docs/formats/plan.md. Units are in the names: m, °C, g,
W, %.
"""

import datetime as dt
import functools
import zoneinfo
from typing import Annotated, Literal

from pydantic import AfterValidator, AwareDatetime, Field, field_validator

from husbandry import bounds
from husbandry.derivation import Document
from husbandry.documents.animal import Animal
from husbandry.documents.enclosure import EnclosureSpec
from husbandry.documents.room import Place, Room, RoomC
from husbandry.feeding.adjustments import MealAdjustment, lead_of
from husbandry.items.base import Metres
from husbandry.items.drippers import Dripper
from husbandry.items.fans import Fan
from husbandry.items.foggers import Fogger
from husbandry.items.union import Item
from husbandry.readings import INSTRUMENTS
from husbandry.species.needs import NeedKey
from husbandry.species.profile import Profile
from husbandry.species.variant import Edit, profile_with

FORMAT: Literal["ridgeback-request/2"] = "ridgeback-request/2"
Moment = Annotated[AwareDatetime, AfterValidator(bounds.recorded_moment)]
Revision = Annotated[int, Field(ge=bounds.REVISION[0], le=bounds.REVISION[1])]
Items = Annotated[tuple[Item, ...], Field(max_length=60)]


class ReadingSpec(Document):
    """What an instrument showed."""

    need: NeedKey
    value: float
    """[the need's unit: °C, %, UVI]"""
    offset: Annotated[float, Field(ge=-bounds.OFFSET, le=bounds.OFFSET)] = 0.0
    at: Moment
    instrument: str = ""
    """A key of `husbandry.readings.INSTRUMENTS`; empty where nobody said."""
    lamp_on_h: Annotated[float, Field(ge=0, le=10_000)] | None = None
    revision: Revision = 1
    room_c: RoomC | None = None
    """The room when it was taken; None: as the room is said to be."""
    at_m: tuple[Metres, Metres, Metres] | None = None
    """Where it was taken, when that is not the need's own place: it then tells the model and judges
    nothing. An air need stands for any air.
    """
    moment: Literal["", "before misting", "after misting"] = ""
    """Of a humidity that was read for its daily wave: it verifies the wave, and judges no need."""

    @field_validator("instrument")
    @classmethod
    def _listed(cls, value: str) -> str:
        if value and value not in INSTRUMENTS:
            listed = ", ".join(INSTRUMENTS)
            raise ValueError(f"there is no instrument “{value[:40]}”; there are {listed}")
        return value

    @property
    def judges(self) -> bool:
        """It was taken at the need's own place and time."""
        return self.at_m is None and not self.moment


class EarlierState(Document):
    """A state of the enclosure that was measured, before the present one: what was learned there
    still holds of lamps, panels and air.
    """

    revision: Revision
    enclosure: EnclosureSpec
    items: Items = ()


class Request(Document):
    """All that a plan is made from."""

    format: Literal["ridgeback-request/2"] = FORMAT
    now: Moment
    place: Place = Place()
    room: Room
    animals: Annotated[tuple[Animal, ...], Field(min_length=1, max_length=20)]
    enclosure: EnclosureSpec
    items: Items = ()
    readings: Annotated[tuple[ReadingSpec, ...], Field(max_length=500)] = ()
    revision: Revision = 1
    earlier: Annotated[tuple[EarlierState, ...], Field(max_length=12)] = ()
    """States of the same enclosure that `readings` of lower revisions were taken in."""
    edits: dict[str, tuple[Edit, ...]] = {}
    """The keeper's own values of a profile, by species."""

    @functools.cached_property
    def profiles(self) -> dict[str, Profile]:
        """The profile of each species in the enclosure, with the keeper's own values."""
        return {
            animal.species: profile_with(animal.species, self.edits.get(animal.species, ()))
            for animal in self.animals
        }

    def approaches_of(self, n: int) -> dict[str, str]:
        """The approaches that an animal is kept by: its own and those of its enclosure."""
        return {**self.animals[n].approaches, **self.enclosure.approaches}

    def lead_of(self, n: int, stage: str) -> MealAdjustment:
        """What leads the meals of an animal away from the usual of its stage."""
        one = self.animals[n]
        return lead_of(
            self.profiles[one.species],
            stage,
            today=self.today,
            condition=one.condition,
            trend=one.trend_pct,
            condition_periods=one.condition_periods,
            arrived_on=one.arrived_on,
            lat_deg=self.place.lat,
        )

    @property
    def probes(self) -> tuple[str, ...]:
        """Ids of the thermostats' probes that were placed."""
        return tuple(item.id for item in self.items if item.is_probe)

    @property
    def foggers(self) -> tuple[Fogger, ...]:
        """Whatever fogs."""
        return tuple(item for item in self.items if isinstance(item, Fogger))

    def fanned_m3_s(self, hour: float | None) -> float:
        """Air that its fans move at that hour of the day [m³/s]; none for None, the worst for heat."""
        if hour is None:
            return 0.0
        fans = (item for item in self.items if isinstance(item, Fan))
        return sum(fan.air_m3_s for fan in fans if fan.lit_at(hour))

    def drips_l_h(self, hour: float) -> float:
        """Water that stays of what its drippers let fall, as at that hour of the day [l/h]."""
        drippers = (item for item in self.items if isinstance(item, Dripper))
        return sum(dripper.wets_l_h for dripper in drippers if dripper.lit_at(hour))

    def item(self, item_id: str) -> Item:
        """The item of that id."""
        return next(t for t in self.items if t.id == item_id)

    def index(self, item_id: str) -> int:
        """Its place in the list, for JSON pointers."""
        return next(n for n, t in enumerate(self.items) if t.id == item_id)

    @property
    def today(self) -> dt.date:
        """The date in the room's own time zone."""
        return self.now.astimezone(zoneinfo.ZoneInfo(self.place.tz)).date()
