"""What is asked of a reading before it counts: whether its hour, its place and the readings before it
allow it.

Nothing is refused: a keeper may know better, and says so. Method: docs/methods/judging.md.
"""

import datetime as dt
import math
import zoneinfo
from collections.abc import Iterator
from dataclasses import dataclass

from husbandry.commissioning.readings import wrong_hour
from husbandry.documents.request import ReadingSpec, Request
from husbandry.documents.result import BaskingPlace
from husbandry.enclosure.equipment import UV_LAMPS
from husbandry.items.union import Item
from husbandry.quantity import METRIC, Kind, Units, show
from husbandry.readings import corrected_reading
from husbandry.species.needs import NEEDS, NeedKey
from husbandry.targets.verdicts import SETTLED_H, settles

LEAST_UVI = 0.05
"""What a meter can tell from nothing (common practice) [UVI]."""
SAME_MOMENT_MIN = 30.0
"""Two readings within so many minutes are of one state (design choice) [min]."""
EXCLUDES = 3.0
"""Standard deviations of both from which two readings exclude each other (design choice) [1]."""
GROWS = 2.0
"""The same for an index that is stronger further away (design choice) [1]."""
SAME_PLACE_M = 0.03
"""Nearer than that, two places are one (design choice) [m]."""
BELOW_SHARE = 0.5
"""Aside of a lamp by no more of the way down, a place counts as below it (design choice) [1]."""
CLEARLY_NEARER = 1.15
"""Times that one place is nearer to the lamp than another (design choice) [1]."""

Place = tuple[float, float, float]


@dataclass(frozen=True)
class _UvReading:
    """An index with its distance to the lamp that gives it."""

    value: float
    distance_m: float


def reading_doubts(
    reading: ReadingSpec,
    request: Request,
    *,
    basking: BaskingPlace,
    built_at: dt.datetime | None = None,
    hour: bool = True,
    units: Units = METRIC,
) -> tuple[str, ...]:
    """Why a reading may not be what it seems, each as a sentence.

    Parameters
    ----------
    reading : ReadingSpec
        The one that is about to be logged.
    request : Request
        The enclosure as it stands, with its other readings.
    basking : BaskingPlace
        Where readings are taken that have no place of their own.
    built_at : datetime, optional
        When it was built as it stands.
    hour : bool
        Whether its hour is asked about.
    """
    return (
        *(_of_the_hour(reading, request) if hour else ()),
        *_unsettled(reading, built_at),
        *_excluding(reading, request, units),
        *_growing(reading, request, basking, units),
    )


def _of_the_hour(reading: ReadingSpec, request: Request) -> Iterator[str]:
    """Lamps that are off by their own timers, or on in what should be the night."""
    if reading.lamp_on_h is not None:  # whoever says since when it burns knows that it burns
        return
    local = reading.at.astimezone(zoneinfo.ZoneInfo(request.place.tz))
    if wrong_hour(request, reading.need, local.hour + local.minute / 60):
        night = NEEDS[reading.need].phase == "night"
        at = f"{local:%H:%M}"
        yield (
            f"At {at} its lamps are on by their timers, and this belongs to the dark."
            if night
            else f"At {at} its lamps are off by their own timers, and this is read while they burn."
        )


def _unsettled(reading: ReadingSpec, built_at: dt.datetime | None) -> Iterator[str]:
    """Read so soon after it was built that nothing can have settled."""
    if built_at is None or reading.lamp_on_h is not None or not settles(NEEDS[reading.need]):
        return
    minutes = (reading.at - built_at).total_seconds() / 60
    if 0 <= minutes < 60 * SETTLED_H:
        yield (
            f"It was built {_span(minutes)} before: stone and soil need about"
            f" {SETTLED_H:.0f} hours of lamps. Say since when the lamp has been on, or read again"
            " later."
        )


def _excluding(reading: ReadingSpec, request: Request, units: Units) -> Iterator[str]:
    """Another reading of the same place that cannot be true beside this one."""
    kind = NEEDS[reading.need]
    value = corrected_reading(reading.value, reading.offset)
    for other in request.readings:
        same = (other.need, other.revision, other.moment) == (
            reading.need,
            reading.revision,
            reading.moment,
        )
        minutes = abs((reading.at - other.at).total_seconds()) / 60
        if not same or minutes > SAME_MOMENT_MIN or not _one_place(reading.at_m, other.at_m):
            continue
        if _warming(reading) or _warming(other):  # a surface rises by kelvins in minutes
            continue
        there = corrected_reading(other.value, other.offset)
        if abs(_sds_over(value, there, reading.need)) > EXCLUDES:
            shown = show(there, kind.kind, units)
            yield (
                f"{_span(minutes).capitalize()} apart it read {shown} in the same place: one of the"
                " two is wrong. Read it again with both instruments side by side."
            )
            return


def _growing(
    reading: ReadingSpec, request: Request, basking: BaskingPlace, units: Units
) -> Iterator[str]:
    """An ultraviolet index that would grow with the distance from its lamp."""
    if reading.need is not NeedKey.UVI_DAY:
        return
    lamps = [item for item in request.items if item.kind in UV_LAMPS]
    taken = [
        other
        for other in request.readings
        if other.need is NeedKey.UVI_DAY and other.revision == reading.revision
    ]
    if len(lamps) != 1:  # of several each place may have its own
        return
    own = (basking.x_m, basking.y_m, basking.z_m)
    this = _placed(reading, own, lamps[0])
    for other in taken:
        that = _placed(other, own, lamps[0])
        if this is None or that is None:
            continue
        near, far = sorted((this, that), key=lambda one: one.distance_m)
        apart = far.distance_m > CLEARLY_NEARER * near.distance_m
        if apart and _sds_over(far.value, near.value, NeedKey.UVI_DAY) > GROWS:
            yield (
                f"It would be stronger at {show(far.distance_m, Kind.LENGTH, units)} from the lamp"
                f" ({far.value:.1f}) than at {show(near.distance_m, Kind.LENGTH, units)}"
                f" ({near.value:.1f}), and ultraviolet falls with the distance: look at both places"
                " and hold the meter level."
            )
            return


def _placed(reading: ReadingSpec, own: Place, lamp: Item) -> _UvReading | None:
    """A reading with its distance to a lamp; None where it was not taken below it: aside, an index
    may well be less though it is nearer.
    """
    x, y, z = reading.at_m or own
    lamp_x, lamp_y, lamp_z = lamp.at_m
    half = (lamp.long_m or 0.0) / 2
    aside = math.hypot(max(abs(x - lamp_x) - half, 0.0), y - lamp_y)
    below = lamp_z - z
    if below <= 0 or aside > BELOW_SHARE * below:
        return None
    return _UvReading(corrected_reading(reading.value, reading.offset), math.hypot(aside, below))


def _warming(reading: ReadingSpec) -> bool:
    """Whether it was taken while its place still warmed up."""
    early = reading.lamp_on_h is not None and reading.lamp_on_h < SETTLED_H
    return early and settles(NEEDS[reading.need])


def _sds_over(one: float, other: float, need: NeedKey) -> float:
    """How far one reading lies over another, in standard deviations of both [1]."""
    kind = NEEDS[need]
    if kind.kind is Kind.UVI:  # its error is a share
        rise = math.log(max(one, LEAST_UVI) / max(other, LEAST_UVI))
    else:
        rise = one - other
    return rise / (math.sqrt(2) * kind.reading_sd)


def _one_place(one: Place | None, other: Place | None) -> bool:
    if one is None or other is None:
        return one is other
    return math.dist(one, other) < SAME_PLACE_M


def _span(minutes: float) -> str:
    if minutes < 1.5:
        return "a minute"
    return f"{minutes:.0f} minutes" if minutes < 90 else f"{minutes / 60:.0f} hours"
