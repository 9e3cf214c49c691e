"""Proving a box before its animal moves in: what is to be read, where and when, what of it is proven, and what a later change asks for again.

Method: docs/methods/proving.md.
"""

import datetime as dt
from collections.abc import Mapping
from typing import Any, Literal, NamedTuple

from husbandry.planning.judge import SETTLED_H, Band, judge
from husbandry.planning.request import BoxSpec, Earlier, ReadingSpec, Request, Thing
from husbandry.planning.result import NeedState
from husbandry.readings import corrected_reading
from husbandry.species.needs import NEEDS, NeedKey

State = Literal["open", "again", "wrong", "proven"]
WHEN = {
    NeedKey.SURFACE_DAY: "after six hours of lamps, with an infrared thermometer held square to the surface",
    NeedKey.WARM_AIR_DAY: "after six hours of lamps, a shaded probe at the animal’s back",
    NeedKey.COOL_AIR_DAY: "after six hours of lamps, a shaded probe at the animal’s back",
    NeedKey.WATER_DAY: "after a day and a night, a thermometer where it swims",
    NeedKey.AIR_NIGHT: "in the last hour of dark, the same probe at the warm end",
    NeedKey.UVI_DAY: "with lamps that have burned an hour, the meter level at the animal’s back",
    NeedKey.HUMIDITY_DAY: "at the end of the day’s heat, and half an hour after a misting at the earliest",
    NeedKey.HUMIDITY_NIGHT: "in the last hour of dark",
}
CHECKS: dict[str, str] = {
    "second thermometer": "A second, independent thermometer agrees within a degree",
    "thermostat": "Each thermostat switches or dims when its probe is warmed in the hand",
    "cut-out": "The cut-out, or whoever stands by, turns heat off when a thermostat sticks",
    "residual current": "The residual-current device trips by its button; drip loops hang below the sockets",
    "guards": "Lamps are guarded where they can be reached, and hang by more than their cable",
    "stones": "Stones and platforms stand on supports and cannot be undermined",
    "escape": "Doors lock, lids are clipped, no gap is wider than its head",
    "smell": "Nothing smells of sealant, paint or gas after a day with the lamps on",
    "water": "Water stands where it drinks, shallow enough to climb out of",
}
"""What no instrument reads: the keeper says so (common practice)."""
FRESH_DAYS = 30
"""No reading older than that proves a box, or than its own need allows (design choice) [days]."""
_WARMTH = (NeedKey.SURFACE_DAY, NeedKey.WARM_AIR_DAY, NeedKey.COOL_AIR_DAY, NeedKey.WATER_DAY, NeedKey.AIR_NIGHT)
_DAMP = (NeedKey.HUMIDITY_DAY, NeedKey.HUMIDITY_NIGHT)


class Ask(NamedTuple):
    """One reading that is asked for."""

    key: NeedKey
    when: str
    state: State
    why: str
    """Why it is asked for again, or what is wrong with it."""
    value: float | None
    """As it speaks for the proof [the need's unit]."""


def affected(old: Earlier, box: BoxSpec, things: tuple[Thing, ...]) -> frozenset[NeedKey]:
    """The needs that a change from an earlier state of a box to another can have moved: their readings are asked for again."""
    found: set[NeedKey] = set()
    bare: dict[str, Any] = {"wetting": None, "schools": {}}
    if old.box.model_copy(update=bare) != box.model_copy(update=bare):
        found |= {*_WARMTH, *_DAMP}
    if (old.box.lid, old.box.inside_m) != (box.lid, box.inside_m):
        found.add(NeedKey.UVI_DAY)
    if old.box.wetting != box.wetting:
        found |= set(_DAMP)
    before, after = ({thing.id: thing for thing in listed} for listed in (old.things, things))
    for thing_id in before.keys() | after.keys():
        one, other = before.get(thing_id), after.get(thing_id)
        if one != other:
            for thing in (one, other):
                if thing is not None:
                    found |= _moved_by(thing, hours_only=_same_but_hours(one, other))
    return frozenset(found)


def holding(request: Request) -> dict[NeedKey, frozenset[int]]:
    """For each need the earlier states whose readings still hold: nothing that it hangs on has changed since."""
    moved = {state.revision: affected(state, request.box, request.things) for state in request.earlier}
    return {key: frozenset(number for number, keys in moved.items() if key not in keys) for key in NeedKey}


def _same_but_hours(one: Thing | None, other: Thing | None) -> bool:
    return one is not None and other is not None and one.model_copy(update={"hours_run": other.hours_run}) == other


def _moved_by(thing: Thing, *, hours_only: bool) -> set[NeedKey]:
    """What a thing has a part in."""
    if thing.is_uv and hours_only:
        return {NeedKey.UVI_DAY}
    found: set[NeedKey] = set()
    if thing.warms or thing.is_probe or thing.kind == "slab":
        found |= {*_WARMTH, *_DAMP}
    if thing.is_uv or thing.kind in {"slab", "branch", "hide", "plant"}:
        found.add(NeedKey.UVI_DAY)  # what gives it, and what shades it
    if thing.kind in {"dish", "pool", "plant", "hide"}:
        found |= set(_DAMP)
    if thing.kind == "pool":
        found.add(NeedKey.WATER_DAY)
    return found


def asks(request: Request, needs: tuple[NeedState, ...], bands: Mapping[NeedKey, Band]) -> tuple[Ask, ...]:
    """What is to be read in a box, and what of it is proven: by readings of the present state, and of earlier ones that no change since has moved."""
    stands = holding(request)
    return tuple(_ask(need, bands[need.key], request.readings, request.revision, stands[need.key], request.now) for need in needs)


def _ask(
    need: NeedState, band: Band, readings: tuple[ReadingSpec, ...], revision: int, stands: frozenset[int], now: dt.datetime
) -> Ask:
    when = WHEN[need.key]
    mine = [r for r in readings if r.need == need.key and r.at_m is None and r.revision in {revision, *stands}]
    early = NEEDS[need.key].kind.value == "temperature" and NEEDS[need.key].phase == "day"
    settled = [r for r in mine if not (early and r.lamp_on_h is not None and r.lamp_on_h < SETTLED_H)]
    if need.conflict:
        return Ask(need.key, when, "wrong", need.conflict, None)
    if not mine:
        return Ask(need.key, when, "open", "", None)
    if not settled:
        return Ask(need.key, when, "again", f"read after {mine[-1].lamp_on_h:g} h: stone and soil settle in six", None)
    last = max(settled, key=lambda r: r.at)
    age = (now - last.at).total_seconds() / 86400
    if age > max(NEEDS[need.key].fresh_days, FRESH_DAYS):
        return Ask(need.key, when, "again", f"read {age:.0f} days ago", None)
    value = corrected_reading(last.value, last.offset)
    if need.measured is not None and need.measured.odd and last.revision == revision:
        return Ask(need.key, when, "again", need.measured.odd, value)
    verdict = judge(band, value, NEEDS[need.key].reading_sd, speaks="measured")
    if verdict.direction != "right" or verdict.limit == "breached":
        words = {"below": "below its band", "above": "above its band"}.get(verdict.direction, "past its limit")
        return Ask(need.key, when, "wrong", words, value)
    return Ask(need.key, when, "proven", "", value)


def proven(found: tuple[Ask, ...]) -> bool:
    """Whether everything that is asked for is."""
    return bool(found) and all(ask.state == "proven" for ask in found)
