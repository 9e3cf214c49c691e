"""What no setup can put right, because the room itself is too warm, too damp, or too hot in summer:
said before anything is searched for or bought.
"""

from collections.abc import Iterator, Mapping
from dataclasses import replace
from typing import Literal

import numpy as np

from husbandry.climate.vapour import rh_elsewhere
from husbandry.derivation import Document
from husbandry.documents.room import Room
from husbandry.predict.need_states import AnimalNeeds
from husbandry.quantity import METRIC, Kind, Units, show
from husbandry.species.needs import NEEDS, NeedKey, in_sentence
from husbandry.targets.verdicts import TargetRange

COOL_END_RISE_K = 0.5
"""A cool end is warmer than the room by so much at the least, where anything heats the warm one:
the smallest heaters that are sold, in the largest common enclosures (design choice, from the heat
model) [K].
"""
WATER_NEAR_K = 0.5
"""Unheated water keeps within that of the room's mean (common practice) [K]."""
DRIED_BY = (
    (NeedKey.HUMIDITY_DAY, NeedKey.COOL_AIR_DAY),
    (NeedKey.HUMIDITY_NIGHT, NeedKey.AIR_NIGHT),
)
"""Each humidity with the air it is read in."""
DRY_PCT, LEFT_K = 1.0, 0.4
"""What the substrate and the animal add to the room's own vapour, and what is left of a range to
aim at (design choice) [% relative humidity, K].
"""
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
        room, most = (
            show(value, kind, units, digits=0 if value == round(value) else 1)
            for value in (self.room, self.most)
        )
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
    warmed = COOL_END_RISE_K if _is_heated(needs, room) else 0.0
    parts: tuple[tuple[NeedKey, Part, float, float], ...] = (
        (NeedKey.WARM_AIR_DAY, "day", room.day_c, 0.0),
        (NeedKey.COOL_AIR_DAY, "day", room.day_c, warmed),
        (NeedKey.AIR_NIGHT, "night", room.night_c, 0.0),
    )
    for key, part, value, rise in parts:
        target = needs.targets.get(key)
        if target is not None and value + rise > target.high_value:
            yield RoomLimit(key=key, part=part, room=value, most=target.high_value - rise)
    water = needs.targets.get(NeedKey.WATER_DAY)
    mean = (room.day_c + room.night_c) / 2
    if water is not None and mean + WATER_NEAR_K > water.high_value:
        most = water.high_value + (room.day_c - mean) - WATER_NEAR_K
        yield RoomLimit(key=NeedKey.WATER_DAY, part="day", room=room.day_c, most=most)


def _is_heated(needs: AnimalNeeds, room: Room) -> bool:
    """Whether it has to be warmer somewhere by day than the room."""
    ends = (needs.targets.get(key) for key in (NeedKey.SURFACE_DAY, NeedKey.WARM_AIR_DAY))
    return any(target is not None and target.low_value > room.day_c + 1 for target in ends)


def _too_damp(needs: AnimalNeeds, room: Room) -> Iterator[RoomLimit]:
    """The room's vapour is still too much in air as warm as it may be, with what is left to aim at."""
    for key, air in DRIED_BY:
        target = needs.targets.get(key)
        warmth = needs.targets.get(air)
        if target is None or warmth is None or target.high is None or warmth.high is None:
            continue
        least = rh_elsewhere(room.rh_pct, room.day_c, warmth.high_value - LEFT_K)
        dry = target.high_value - DRY_PCT
        if least > dry:
            most = room.rh_pct * dry / least
            yield RoomLimit(key=key, part="humidity", room=room.rh_pct, most=most)


def warm_enough_to_dry(
    targets: Mapping[NeedKey, TargetRange], room: Room
) -> dict[NeedKey, TargetRange]:
    """The targets, with air that is warm enough for the room's own vapour not to be too damp.

    A lower end is raised as far as its humidity asks, where that leaves a range to aim at.
    """
    found = dict(targets)
    for key, air in DRIED_BY:
        target = targets.get(key)
        warmth = targets.get(air)
        if target is None or warmth is None or target.high is None or warmth.high is None:
            continue
        vapour = rh_elsewhere(room.rh_pct, room.day_c, warmth.high_value - LEFT_K)
        if vapour > target.high_value - DRY_PCT:
            continue
        steps = np.arange(warmth.low_value, warmth.high_value, 0.1)
        dry = (
            temp_c
            for temp_c in steps
            if rh_elsewhere(room.rh_pct, room.day_c, float(temp_c)) <= target.high_value - DRY_PCT
        )
        least = float(next(dry, warmth.high_value - LEFT_K))
        if least > max(warmth.low_value, room.night_c):
            low = (warmth.low or warmth.high).model_copy(update={"value": least})
            found[air] = replace(warmth, low=low)
    return found


def _hot_summer(needs: AnimalNeeds, room: Room) -> Iterator[RoomLimit]:
    for key in (NeedKey.COOL_AIR_DAY, NeedKey.WATER_DAY):
        target = needs.targets.get(key)
        limit = target.limit_high.value if target is not None and target.limit_high else None
        if limit is not None and room.summer_max_c > limit:
            yield RoomLimit(key=key, part="summer", room=room.summer_max_c, most=limit)
