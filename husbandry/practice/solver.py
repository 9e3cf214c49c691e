"""Somebody who measures everything with care and knows nothing that a trainee does not: cases are
fair where this finds what is wrong; and somebody who guesses.
"""

import random

from husbandry.practice.cases import PracticeCase
from husbandry.practice.faults import NOTHING, causes
from husbandry.practice.measuring import Measurement, Moment, PlaceName, measure
from husbandry.practice.telling import told
from husbandry.quantity import Kind
from husbandry.species.needs import NeedKey

WRONG_K, WRONG_PCT = 2.0, 9.0
"""From there on two instruments do not agree (common practice) [K, %]."""
SLACK_K, SLACK_PCT, SLACK_UV = 0.9, 4.0, 0.12
"""What an instrument may be off without anything being wrong (common practice) [K, %, 1]."""
ROUND: tuple[tuple[str, PlaceName, Moment], ...] = (
    ("infrared", "basking", "six_hours"),
    ("probe", "warm", "six_hours"),
    ("probe", "cool", "six_hours"),
    ("probe", "warm", "night"),
    ("uv", "basking", "six_hours"),
    ("hygrometer", "cool", "six_hours"),
    ("hygrometer", "cool", "night"),
    ("probe", "room", "six_hours"),
    ("probe", "room", "night"),
    ("keeper_thermometer", "warm", "six_hours"),
    ("keeper_hygrometer", "cool", "six_hours"),
)
"""Every place once."""
SHOWS: dict[tuple[str, str, str], NeedKey] = {
    ("infrared", "basking", "six_hours"): NeedKey.SURFACE_DAY,
    ("probe", "warm", "six_hours"): NeedKey.WARM_AIR_DAY,
    ("probe", "cool", "six_hours"): NeedKey.COOL_AIR_DAY,
    ("probe", "warm", "night"): NeedKey.AIR_NIGHT,
    ("uv", "basking", "six_hours"): NeedKey.UVI_DAY,
    ("hygrometer", "cool", "six_hours"): NeedKey.HUMIDITY_DAY,
    ("hygrometer", "cool", "night"): NeedKey.HUMIDITY_NIGHT,
}


def solved(case: PracticeCase) -> tuple[tuple[Measurement, ...], tuple[str, ...], str]:
    """Measure every place once and say what is wrong: what was measured, the causes, the remedy."""
    done: tuple[Measurement, ...] = ()

    for instrument, place, moment in ROUND:
        if instrument == "keeper_hygrometer" and not _has_hygrometer(case):
            continue
        done = (*done, measure(case, done, instrument, place, moment))

    found = _believed(case, done)
    remedy = found[0] if found else NOTHING

    return done, found or (NOTHING,), remedy


def guessed(case: PracticeCase, seed: int) -> tuple[tuple[str, ...], str]:
    """A cause at random."""
    slug = random.Random(f"{seed} {case.key}").choice(list(causes()))
    return (slug,), slug


def _has_hygrometer(case: PracticeCase) -> bool:
    return any(one.kind is Kind.HUMIDITY for one in told(case).readings)


def _sides(case: PracticeCase, done: tuple[Measurement, ...]) -> dict[NeedKey, int]:
    """What was read out of range, below −1 and above 1, beyond what an instrument may be off."""
    found = {}

    for one in done:
        key = SHOWS.get((one.instrument, one.place, one.moment))
        target = case.true.needs.targets.get(key) if key is not None else None
        if key is None or target is None:
            continue
        slack = SLACK_K if one.kind is Kind.TEMPERATURE else SLACK_PCT
        if one.kind is Kind.UVI:
            slack = SLACK_UV * one.value
        if one.value < target.low_value - slack:
            found[key] = -1
        elif one.value > target.high_value + slack:
            found[key] = 1

    return found


def _rooms(case: PracticeCase, done: tuple[Measurement, ...]) -> tuple[bool, bool]:
    """Whether the room is warmer by day, or colder by night, than was said."""
    warmer = cooler = False

    for one in done:
        if one.place == "room" and one.instrument == "probe":
            said = case.shown.room
            warmer = warmer or (one.moment != "night" and one.value > said.day_c + WRONG_K)
            cooler = cooler or (one.moment == "night" and one.value < said.night_c - WRONG_K)

    return warmer, cooler


def _believed(case: PracticeCase, done: tuple[Measurement, ...]) -> tuple[str, ...]:
    """From what was read to causes, the plainest first."""
    side = _sides(case, done)
    day = [side.get(key, 0) for key in (NeedKey.SURFACE_DAY, NeedKey.WARM_AIR_DAY)]
    night = side.get(NeedKey.AIR_NIGHT, 0)
    found = []
    warmer, cooler = _rooms(case, done)

    if warmer:
        found.append("room_hot")
    elif max(day) > 0:
        found.append("heat_high")

    if cooler and night < 0:
        found.append("night_cold")
    elif min(day) < 0:
        found.append("heat_low")
    elif night < 0:
        found.append("night_cold")

    if side.get(NeedKey.UVI_DAY):
        found.append("uv_old" if side[NeedKey.UVI_DAY] < 0 else "uv_near")
    damp = min(side.get(NeedKey.HUMIDITY_DAY, 0), side.get(NeedKey.HUMIDITY_NIGHT, 0))

    if damp < 0 and not found:
        found.append("air_dry")

    for one in done:
        if one.instrument == "keeper_thermometer" and abs(one.value) > WRONG_K:
            found.append("thermometer_wrong")
        if one.instrument == "keeper_hygrometer" and abs(one.value) > WRONG_PCT:
            found.append("hygrometer_wrong")

    return tuple(found)
