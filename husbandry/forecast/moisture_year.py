"""The humidity of an enclosure through the months: the room's own seasons, the same enclosure and
mistings, and what the driest and the dampest month would take.

Method: docs/methods/moisture.md.
"""

import math
from typing import NamedTuple

from husbandry.calibration.fitting import learn
from husbandry.climate.misting import MistingTimetable, wave_of
from husbandry.documents.request import Request
from husbandry.documents.room import Room
from husbandry.errors import ImpossibleStateError
from husbandry.predict.humidity import marks_for
from husbandry.predict.moisture import best_timetable
from husbandry.predict.need_states import look
from husbandry.predict.predict import predict

WINTER_LESS_PCT, SUMMER_MORE_PCT = 15.0, 8.0
"""A heated room in winter is so much drier than it usually is, and in summer so much damper, where
nobody said otherwise (common practice) [%].
"""
DRIEST_PCT, DAMPEST_PCT = 25.0, 70.0
"""Room air is taken to be no drier and no damper (design choice) [%]."""


class MonthSeen(NamedTuple):
    """A day like its others, in the middle of a month."""

    month: int
    room_c: float
    room_pct: float
    low_pct: float
    """Lowest and highest at the cool end through the day [%]."""
    high_pct: float
    below_h: float
    above_h: float
    water_ml: float
    """By mist, fog and dishes, a day."""


class MoistureYear(NamedTuple):
    """The months, the marks, and the mistings that would keep them where it is hardest."""

    months: tuple[MonthSeen, ...]
    day_low_pct: float
    day_high_pct: float
    driest: int
    """Month [1 to 12]."""
    dampest: int
    driest_timetable: MistingTimetable | None
    dampest_timetable: MistingTimetable | None


def summerness(month: int, lat_deg: float) -> float:
    """-1 in the middle of winter, 1 in the middle of summer; a month north of the equator is half a
    year of one south of it.
    """
    north = -math.cos(2 * math.pi * (month - 1) / 12)
    return north if lat_deg >= 0 else -north


def room_in(room: Room, month: int, lat_deg: float) -> Room:
    """The room in a month: from its winter over its usual day to half way up to its hottest."""
    share = summerness(month, lat_deg)
    winter_c = room.winter_day_c if room.winter_day_c is not None else room.day_c
    winter_pct = (
        room.winter_rh_pct
        if room.winter_rh_pct is not None
        else max(room.rh_pct - WINTER_LESS_PCT, min(DRIEST_PCT, room.rh_pct))
    )
    summer_pct = (
        room.summer_rh_pct
        if room.summer_rh_pct is not None
        else min(room.rh_pct + SUMMER_MORE_PCT, max(DAMPEST_PCT, room.rh_pct))
    )
    warmer = (room.summer_max_c - room.day_c) / 2 if share >= 0 else room.day_c - winter_c
    wetter = summer_pct - room.rh_pct if share >= 0 else room.rh_pct - winter_pct
    return room.model_copy(
        update={
            "day_c": room.day_c + share * warmer,
            "night_c": room.night_c + share * warmer,
            "rh_pct": min(max(room.rh_pct + share * wetter, 0.0), 100.0),
        }
    )


def moist_year(request: Request) -> MoistureYear | None:
    """Twelve days, one of each month, with the enclosure as it is; None where nobody said how it is
    kept damp, or its species has no marks.
    """
    looked = look(request)
    if request.enclosure.wetting is None:
        return None
    lesson = learn(request, looked)
    nights = looked.profile.moisture.rhythm == "dry by day, damp by night"
    most = min(round(looked.profile.moisture.mistings_per_day.high or 0.0) + 1, 6)
    months = []
    damps = []
    for month in range(1, 13):
        then = request.model_copy(update={"room": room_in(request.room, month, request.place.lat)})
        damp = predict(then, looked.position(then), lesson.learned).damp
        if damp is None:
            raise ImpossibleStateError("its wetting is said")
        marks = marks_for(damp, looked.targets)
        if marks is None:
            return None
        wave = wave_of(list(damp.cool_pct), marks)
        months.append(
            MonthSeen(
                month,
                then.room.day_c,
                then.room.rh_pct,
                min(damp.cool_pct),
                max(damp.cool_pct),
                wave.below_h,
                wave.above_h,
                1000 * damp.day_kg,
            )
        )
        damps.append((damp, marks))
    driest = min(range(12), key=lambda n: months[n].low_pct)
    dampest = max(range(12), key=lambda n: months[n].high_pct)
    solved = [
        best_timetable(*damps[n], damp_nights=nights, most=most) if most > 1 else None
        for n in (driest, dampest)
    ]
    first = damps[0][1]
    lit = damps[0][0].day_n
    return MoistureYear(
        tuple(months), first.low[lit], first.high[lit], driest + 1, dampest + 1, *solved
    )
