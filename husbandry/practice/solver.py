"""Somebody who measures everything with care and knows nothing that a trainee does not: cases are
fair where this finds what is wrong; and somebody who guesses.
"""

import random

from husbandry.practice.care_truth import feeding_words, length_needed_m, supplements_of
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
THROUGH = 1.6
"""From there on of what is read with the mesh taken away a mesh takes too much (common practice:
a clean one takes a third at most) [1].
"""
LENGTH_SHARE = 0.9
"""Of the length that it needs, under which an enclosure is too small (design choice) [1]."""
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

    done = _looked(case, done)
    found = (*_believed(case, done), *_cared(case, done))
    remedy = found[0] if found else NOTHING

    return done, found or (NOTHING,), remedy


def _looked(case: PracticeCase, done: tuple[Measurement, ...]) -> tuple[Measurement, ...]:
    """What is looked at besides: at the boxes where that is asked, at mesh and thermostat where a
    number asks for it.
    """
    side = _sides(case, done)
    asked: list[tuple[str, PlaceName]] = []

    if side.get(NeedKey.UVI_DAY, 0) < 0:
        asked.append(("uv", "lifted"))

    if side.get(NeedKey.AIR_NIGHT, 0) > 0:
        asked.append(("thermostat", "warm"))

    if case.level == 6:
        asked += [(slug, "room") for slug in ("tape", "watch", "feeding_book", "supplement_boxes")]

    for instrument, place in asked:
        done = (*done, measure(case, done, instrument, place, "six_hours"))

    return done


def _cared(case: PracticeCase, done: tuple[Measurement, ...]) -> tuple[str, ...]:
    """What a look at company, room, food and boxes tells, beside what the guide asks for."""
    seen = {one.instrument: one for one in done}
    book, boxes, tape = (seen.get(slug) for slug in ("feeding_book", "supplement_boxes", "tape"))
    right = feeding_words(case.base).lower()
    found = []

    if "watch" in seen and "two come out" in seen["watch"].words.lower():
        found.append("company")

    if tape is not None and tape.value < LENGTH_SHARE * length_needed_m(case.base):
        found.append("too_small")

    if book is not None and book.words.lower().rstrip(".") != right:
        same = book.words.lower().split(" every")[0] == right.split(" every")[0]
        more = same or "several times" in book.words
        found.append("fed_too_much" if more else "wrong_food")

    if boxes is not None and boxes.words != supplements_of(case.base):
        found.append("no_calcium")

    return tuple(found)


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

    stuck = any(one.words and "all the same" in one.words for one in done)

    if stuck:
        found.append("stuck_on")
    elif warmer:
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
        found.append(_uv_cause(side[NeedKey.UVI_DAY], done))
    damp = min(side.get(NeedKey.HUMIDITY_DAY, 0), side.get(NeedKey.HUMIDITY_NIGHT, 0))

    if damp < 0 and not found:
        found.append("air_dry")

    for one in done:
        if one.instrument == "keeper_thermometer" and abs(one.value) > WRONG_K:
            found.append("thermometer_wrong")
        if one.instrument == "keeper_hygrometer" and abs(one.value) > WRONG_PCT:
            found.append("hygrometer_wrong")

    return tuple(found)


def _uv_cause(side: int, done: tuple[Measurement, ...]) -> str:
    """Too much: it hangs too near. Too little: the mesh where much more comes without it, else age."""
    if side > 0:
        return "uv_near"
    read = {one.place: one.value for one in done if one.instrument == "uv"}
    lifted = read.get("lifted", 0.0)

    return "uv_mesh" if lifted > THROUGH * read.get("basking", lifted) else "uv_old"
