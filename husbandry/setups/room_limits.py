"""What no setup can put right, because the room itself is too warm, too damp, or too hot in summer:
said before anything is searched for or bought.
"""

from collections.abc import Iterator
from typing import Literal

from husbandry.climate.vapour import rh_elsewhere
from husbandry.derivation import Document
from husbandry.documents.room import Room
from husbandry.predict.need_states import AnimalNeeds
from husbandry.quantity import METRIC, Kind, Units, show
from husbandry.species.needs import NEEDS, NeedKey, in_sentence

WATER_NEAR_K = 0.5
"""Unheated water keeps within that of the room's mean (common practice) [K]."""
Part = Literal["day", "night", "summer", "humidity"]


class RoomLimit(Document):
    """A need that the room does not let anything meet."""

    key: NeedKey
    part: Part
    room: float
    """What the room has [°C or %]."""
    most: float
    """What it may have at the most [°C or %]."""

    def said(self, units: Units = METRIC) -> str:
        """As a sentence in the reader's units."""
        name = in_sentence(NEEDS[self.key].name)
        kind = Kind.HUMIDITY if self.part == "humidity" else Kind.TEMPERATURE
        room, most = (show(value, kind, units, digits=0) for value in (self.room, self.most))
        if self.part == "humidity":
            return f"The room’s air is too damp for its {name}: {room} there, at most {most}."
        if self.part == "summer":
            return (
                f"On a summer day of {room} the room alone passes the limit of its {name}: safe up"
                f" to {most}. Above that, cool the room."
            )
        by = "by day" if self.part == "day" else "at night"
        return (
            f"The room is too warm {by} for its {name}: {room}, and nothing in an enclosure cools."
            f" A room of at most {most} {by}, or a cooled cabinet, makes it possible."
        )


def room_limits(needs: AnimalNeeds, room: Room) -> tuple[RoomLimit, ...]:
    """Every need that this room rules out; what only a hot summer rules out comes last."""
    return (*_too_warm(needs, room), *_too_damp(needs, room), *_hot_summer(needs, room))


def _too_warm(needs: AnimalNeeds, room: Room) -> Iterator[RoomLimit]:
    for key, part, value in (
        (NeedKey.WARM_AIR_DAY, "day", room.day_c),
        (NeedKey.COOL_AIR_DAY, "day", room.day_c),
        (NeedKey.AIR_NIGHT, "night", room.night_c),
    ):
        target = needs.targets.get(key)
        if target is not None and value > target.high_value:
            yield RoomLimit(
                key=key,
                part="night" if part == "night" else "day",
                room=value,
                most=target.high_value,
            )
    water = needs.targets.get(NeedKey.WATER_DAY)
    mean = (room.day_c + room.night_c) / 2
    if water is not None and mean + WATER_NEAR_K > water.high_value:
        most = water.high_value + (room.day_c - mean) - WATER_NEAR_K
        yield RoomLimit(key=NeedKey.WATER_DAY, part="day", room=room.day_c, most=most)


def _too_damp(needs: AnimalNeeds, room: Room) -> Iterator[RoomLimit]:
    """The room's vapour at the warmest that the air may be is still too much."""
    for key, air in (
        (NeedKey.HUMIDITY_DAY, NeedKey.COOL_AIR_DAY),
        (NeedKey.HUMIDITY_NIGHT, NeedKey.AIR_NIGHT),
    ):
        target, warmth = needs.targets.get(key), needs.targets.get(air)
        if target is None or warmth is None or target.high is None or warmth.high is None:
            continue
        least = rh_elsewhere(room.rh_pct, room.day_c, warmth.high_value)
        if least > target.high_value:
            most = room.rh_pct * target.high_value / least
            yield RoomLimit(key=key, part="humidity", room=room.rh_pct, most=most)


def _hot_summer(needs: AnimalNeeds, room: Room) -> Iterator[RoomLimit]:
    for key in (NeedKey.COOL_AIR_DAY, NeedKey.WATER_DAY):
        target = needs.targets.get(key)
        limit = target.limit_high.value if target is not None and target.limit_high else None
        if limit is not None and room.summer_max_c > limit:
            yield RoomLimit(key=key, part="summer", room=room.summer_max_c, most=limit)
