"""The air around an enclosure, and where on Earth it is."""

import zoneinfo
from typing import Annotated

from pydantic import Field, field_validator

from husbandry.derivation import Document
from husbandry.quantity import PLAUSIBLE

ROOM = PLAUSIBLE["room"]
RoomC = Annotated[float, Field(ge=ROOM.possible[0], le=ROOM.possible[1])]
Percent = Annotated[float, Field(ge=0, le=100)]


class Place(Document):
    """Where on Earth the room is."""

    lat: Annotated[float, Field(ge=-90, le=90)] = 0.0
    lon: Annotated[float, Field(ge=-180, le=180)] = 0.0
    tz: str = "UTC"

    @field_validator("tz")
    @classmethod
    def _known(cls, value: str) -> str:
        try:
            zoneinfo.ZoneInfo(value)
        except (zoneinfo.ZoneInfoNotFoundError, ValueError, OSError):
            raise ValueError(f"“{value}” is not a time zone such as Europe/Lisbon") from None
        return value


class Room(Document):
    """The air around the enclosure."""

    day_c: RoomC
    night_c: RoomC
    summer_max_c: RoomC
    rh_pct: Percent
    winter_day_c: RoomC | None = None
    """By day in the middle of winter; None: as always, for it is heated."""
    winter_rh_pct: Percent | None = None
    summer_rh_pct: Percent | None = None
    has_cats: bool = False
    """A cat comes into it."""
    has_dogs: bool = False
    """A dog comes into it."""
