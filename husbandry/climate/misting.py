"""The daily wave of humidity, and the fewest mistings that keep it.

Method: docs/methods/moisture.md.
"""

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from typing import Literal

from husbandry.climate.moisture import Forcing, MoistureModel, MoistureSeries, saturation, settle

MOST_PULSES = 6
"""Mistings a day at the most (source: humidity A5)."""
APART_H = 1.5
"""Least time between two mistings that are planned (source: humidity A5) [h]."""
MOST_KG = 0.5
"""Most that one misting is planned with, and never more than clings to what it wets: the rest runs
into the substrate (source: humidity A5) [kg].
"""
DRY_KG_M2 = 0.005
"""A face with less than that is dry to the touch (source: humidity A6: 5 g/m²) [kg/m²]."""
VOLUME_HALVINGS = 7
"""Halvings by which a volume is found (design choice)."""
SLACK_PCT = 1.5
"""Half of what a usual hygrometer is off by (source: humidity A8) [%]."""
LEAST_WAVE_PCT = 5.0
"""Less than that between a day's highest and lowest is a line, not a wave (design choice) [%]."""
CLOSE_PCT = 0.15
"""The upper mark is met when the day's highest humidity is so near it (design choice) [%]."""
Verdict = Literal["too wet", "not needed", "holds", "out of reach"]


@dataclass(frozen=True)
class DailyHumidity:
    """A day's humidity at one place."""

    lowest_pct: float
    highest_pct: float
    in_range_h: float
    below_h: float
    above_h: float
    falls: bool
    """It comes down below the middle of the target range at least once: a wave, not a line."""


@dataclass(frozen=True)
class MistingTimetable:
    """When to mist, and with how much."""

    verdict: Verdict
    hours: tuple[float, ...]
    """Of the day [h]."""
    each_kg: float
    wave: DailyHumidity
    series: MoistureSeries


def humidity(series: MoistureSeries, place_c: Sequence[float]) -> list[float]:
    """Relative humidity where it has those temperatures [%]."""
    return [
        min(100.0, 100 * vapour / saturation(temp))
        for vapour, temp in zip(series.vapour_pa, place_c, strict=True)
    ]


@dataclass(frozen=True)
class HumidityBounds:
    """Between which a day's humidity is to stay, step by step [%]."""

    low: tuple[float, ...]
    high: tuple[float, ...]

    @property
    def middle(self) -> tuple[float, ...]:
        """What is aimed at [%]."""
        return tuple((low + high) / 2 for low, high in zip(self.low, self.high, strict=True))

    def over(self, values_pct: Sequence[float]) -> float:
        """How far the day comes over its upper marks; negative where it stays under [%]."""
        return max(value - high for value, high in zip(values_pct, self.high, strict=True))

    def under(self, values_pct: Sequence[float]) -> list[int]:
        """The steps at which it is below its lower marks by more than a hygrometer tells."""
        return [
            n
            for n, (value, low) in enumerate(zip(values_pct, self.low, strict=True))
            if value < low - SLACK_PCT
        ]


def even_marks(low_pct: float, high_pct: float, steps: int) -> HumidityBounds:
    """The same all day."""
    return HumidityBounds((low_pct,) * steps, (high_pct,) * steps)


def wave_of(values_pct: Sequence[float], marks: HumidityBounds) -> DailyHumidity:
    """What a day's humidity is like against its marks."""
    hours = 24 / len(values_pct)
    below = hours * sum(value < low for value, low in zip(values_pct, marks.low, strict=True))
    above = hours * sum(value > high for value, high in zip(values_pct, marks.high, strict=True))
    middles = [(low + high) / 2 for low, high in zip(marks.low, marks.high, strict=True)]
    falls = (
        any(v < m for v, m in zip(values_pct, middles, strict=True))
        and max(values_pct) - min(values_pct) > LEAST_WAVE_PCT
    )
    return DailyHumidity(min(values_pct), max(values_pct), 24 - below - above, below, above, falls)


def dry_hours(interior: MoistureModel, series: MoistureSeries) -> float:
    """In which what was misted is dry again [h]."""
    dry = sum(film < DRY_KG_M2 * interior.film_m2 for film in series.film_kg)
    return 24 * dry / len(series.film_kg)


def misted(forcing: Forcing, hours: Sequence[float], each_kg: float) -> Forcing:
    """The same day with mistings at those hours, of one amount."""
    steps = len(forcing.mist_kg)
    mist = [0.0] * steps
    for hour in hours:
        mist[round(hour * 3600 / forcing.step_s) % steps] += each_kg
    return replace(forcing, mist_kg=tuple(mist))


def timetable(
    interior: MoistureModel,
    forcing: Forcing,
    place_c: Sequence[float],
    marks: HumidityBounds,
    allowed: tuple[float, float],
    *,
    most: int = MOST_PULSES,
) -> MistingTimetable:
    """The fewest mistings whose wave touches the upper mark and never falls under the lower.

    Parameters
    ----------
    place_c : sequence
        Temperature at the place that the marks are of, step by step [°C].
    marks : HumidityBounds
        Between which it is to stay there.
    allowed : pair
        First and last hour at which it may be misted [h].

    Notes
    -----
    With n pulses the amount is halved in on the upper mark (a day's highest value grows with it);
    where the wave then first falls under the lower
    mark a pulse is added, an hour and a half or more from the others.
    """

    series = settle(interior, forcing, 4)
    values = humidity(series, place_c)

    def tried(hours: Sequence[float], each_kg: float) -> tuple[MoistureSeries, list[float]]:
        nonlocal series
        series = settle(interior, misted(forcing, hours, each_kg), 2, series.end)
        return series, humidity(series, place_c)

    if marks.over(values) >= 0 or not marks.under(values):
        verdict: Verdict = "too wet" if marks.over(values) >= 0 else "not needed"
        return MistingTimetable(verdict, (), 0.0, wave_of(values, marks), series)
    slots = [allowed[0] + n / 2 for n in range(max(int(2 * (allowed[1] - allowed[0])), 0) + 1)]
    hours = [slots[0]]
    most_kg = min(MOST_KG, interior.most_film_kg)
    while True:
        series, values = tried(hours, most_kg)
        each = most_kg
        if marks.over(values) >= 0:
            each, values = _met(tried, hours, marks, most_kg)
        if not marks.under(values):
            return MistingTimetable("holds", tuple(hours), each, wave_of(values, marks), series)
        more = _next(marks.under(values), len(values), hours, slots) if len(hours) < most else None
        if more is None:
            return MistingTimetable(
                "out of reach", tuple(hours), each, wave_of(values, marks), series
            )
        hours = sorted([*hours, more])


def _met(
    tried: Callable[[Sequence[float], float], tuple[MoistureSeries, list[float]]],
    hours: Sequence[float],
    marks: HumidityBounds,
    most_kg: float,
) -> tuple[float, list[float]]:
    """The amount whose wave touches the upper mark: regula falsi in its root, for the highest value
    grows slower and slower with the amount.
    """
    (low, at_low) = (0.0, -1.0)
    (high, at_high) = (most_kg, 1.0)
    each = most_kg
    values = list(marks.high)
    for n in range(VOLUME_HALVINGS):
        each = (low + high) / 2 if n < 2 else low + (high - low) * at_low / (at_low - at_high)
        values = tried(hours, each)[1]
        over = marks.over(values)
        if abs(over) < CLOSE_PCT:
            break
        if over > 0:
            high = each
            at_high = over
        else:
            low = each
            at_low = over
    return each, values


def _next(
    under: Sequence[int], steps: int, hours: Sequence[float], slots: Sequence[float]
) -> float | None:
    """The last half hour at which a pulse could be added before the wave falls under the mark; in
    the order of time after the first pulse.
    """
    start = round(hours[0] * steps / 24)
    for n in sorted(under, key=lambda n: (n - start) % steps):
        hour = 24 * n / steps
        free = [
            slot
            for slot in slots
            if slot <= hour + 1e-9
            and hour - slot <= 6
            and min(abs(slot - other) for other in hours) >= APART_H
        ]
        if free:
            return free[-1]
    return None


def changes_carried(
    interior: MoistureModel,
    saturated_pa: float,
    room_pa: float,
    low_pct: float,
    evaporates_kg_s_pa: float,
    per_pa: float,
) -> float | None:
    """Air changes that substrate and water alone can keep at the lower mark [1/h]; None where the
    room is as damp as that.

    Parameters
    ----------
    evaporates_kg_s_pa : float
        Of substrate and open water together [kg/(s Pa)].
    per_pa : float
        Vapour that a cubic metre of air holds for each pascal [kg/(m³ Pa)].
    """
    low_pa = low_pct / 100 * saturated_pa
    if low_pa <= room_pa:
        return None
    return (
        evaporates_kg_s_pa
        * (saturated_pa - low_pa)
        / ((low_pa - room_pa) * interior.volume_m3 * per_pa)
        * 3600
    )


def half_life_h(changes_per_h: float, buffer: float) -> float:
    """In which the vapour above the room's is halved, once nothing evaporates: ln 2 × buffer / air
    changes [h].
    """
    return math.log(2) * buffer / changes_per_h
