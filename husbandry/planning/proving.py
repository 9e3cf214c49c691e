"""Proving an enclosure before its animal moves in: what is to be read, where and when, what of it is proven, and what a later change asks for again.

Method: docs/methods/proving.md.
"""

import datetime as dt
from collections.abc import Mapping, Sequence
from typing import Literal, NamedTuple

from husbandry.planning.judge import SETTLED_H, Band, judge, settles
from husbandry.planning.moisture import Damp
from husbandry.planning.predict import DAY_HOUR
from husbandry.planning.request import BoxSpec, Earlier, ReadingSpec, Request, Thing
from husbandry.planning.result import NeedState
from husbandry.planning.version_comparison import as_made, same_box, same_thing, same_wetting
from husbandry.planning.wave import WAVE_KEYS, fault, is_line, turns_of
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
WAVE_WHEN = {
    "before misting": "within the half hour before the misting at {at}",
    "after misting": "half an hour to an hour after the misting at {at}, the sensor wiped dry",
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
"""No reading older than that proves an enclosure, or than its own need allows (design choice) [days]."""
_WARMTH = (NeedKey.SURFACE_DAY, NeedKey.WARM_AIR_DAY, NeedKey.COOL_AIR_DAY, NeedKey.WATER_DAY, NeedKey.AIR_NIGHT)
_DAMP = (NeedKey.HUMIDITY_DAY, NeedKey.HUMIDITY_NIGHT)


class Ask(NamedTuple):
    """One reading that is asked for."""

    key: NeedKey
    when: str
    state: State
    why: str
    """Why it is asked for again, what is wrong with it, or how it was carried on."""
    value: float | None
    """As it speaks for the proof [the need's unit]."""
    span: tuple[float | None, float | None] = (None, None)
    """Between what it should be."""
    predicted: float | None = None
    moment: Literal["", "before misting", "after misting"] = ""
    worked_at: str = ""
    """Where in the plan the working of what is predicted stands, as a JSON pointer."""

    @property
    def name(self) -> str:
        """By which a record keeps it."""
        return f"{self.key.value} {self.moment}".strip()


def affected(old: Earlier, box: BoxSpec, things: tuple[Thing, ...]) -> frozenset[NeedKey]:
    """The needs that a change from an earlier state of an enclosure to another can have moved: their readings are asked for again."""
    found: set[NeedKey] = set()
    if not same_box(old.box, box):
        found |= {*_WARMTH, *_DAMP}
    if (as_made(old.box).lid, old.box.inside_m) != (as_made(box).lid, box.inside_m):
        found.add(NeedKey.UVI_DAY)
    if not same_wetting(old.box.wetting, box.wetting):
        found |= set(_DAMP)
    before, after = ({thing.id: thing for thing in listed} for listed in (old.things, things))
    for thing_id in before.keys() | after.keys():
        one, other = before.get(thing_id), after.get(thing_id)
        if one is not None and other is not None and same_thing(one, other):
            if _aged(one, other):
                found.add(NeedKey.UVI_DAY)
            continue
        for thing in (one, other):
            if thing is not None:
                found |= _moved_by(thing, hours_only=_same_but_hours(one, other))
    return frozenset(found)


def holding(request: Request) -> dict[NeedKey, frozenset[int]]:
    """For each need the earlier states whose readings still hold: nothing that it hangs on has changed since."""
    moved = {state.revision: affected(state, request.box, request.things) for state in request.earlier}
    return {key: frozenset(number for number, keys in moved.items() if key not in keys) for key in NeedKey}


def _aged(one: Thing, other: Thing) -> bool:
    """A lamp whose ultraviolet has faded since; hours that somebody has only now written down were burned then as well."""
    return one.is_uv and one.hours_run is not None and other.hours_run != one.hours_run


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


def asks(
    request: Request, needs: tuple[NeedState, ...], bands: Mapping[NeedKey, Band], damp: Damp | None = None
) -> tuple[Ask, ...]:
    """What is to be read in an enclosure, and what of it is proven: by readings of the present state, and of earlier ones that no change since has moved.

    Where it is misted (`damp`) the wave is read too: before a misting, and after it.
    """
    stands = holding(request)
    found = [
        _ask(need, bands[need.key], request, stands[need.key])._replace(
            worked_at=f"/needs/{n}/predicted" if need.predicted else ""
        )
        for n, need in enumerate(needs)
    ]
    if damp is not None and NeedKey.HUMIDITY_DAY in bands:
        found += _wave(request, damp, bands, stands[NeedKey.HUMIDITY_DAY])
    return tuple(found)


def _mine(request: Request, key: NeedKey, stands: frozenset[int], moment: str = "") -> list[ReadingSpec]:
    """The readings of one thing that still speak for the enclosure as it is."""
    held = {request.revision, *stands}
    return [r for r in request.readings if r.need == key and r.at_m is None and r.moment == moment and r.revision in held]


def _ask(need: NeedState, band: Band, request: Request, stands: frozenset[int]) -> Ask:
    span = tuple(end.value if end is not None else None for end in (band.low, band.high))
    ask = Ask(need.key, WHEN[need.key], "open", "", None, (span[0], span[1]), need.predicted.value if need.predicted else None)
    mine = _mine(request, need.key, stands)
    early = settles(NEEDS[need.key])
    settled = [r for r in mine if not (early and r.lamp_on_h is not None and r.lamp_on_h < SETTLED_H)]
    if need.conflict:
        return ask._replace(state="wrong", why=need.conflict)
    if not mine:
        return ask
    if not settled:
        return _of_the_morning(ask, need, band, mine[-1])
    last = max(settled, key=lambda r: r.at)
    stale = _stale(last, need.key, request.now)
    if stale:
        return ask._replace(state="again", why=stale)
    value = corrected_reading(last.value, last.offset)
    if need.measured is not None and need.measured.odd and last.revision == request.revision:
        return ask._replace(state="again", why=need.measured.odd, value=value)
    verdict = judge(band, value, NEEDS[need.key].reading_sd, speaks="measured")
    if verdict.direction != "right" or verdict.limit == "breached":
        words = {"below": "too low", "above": "too high"}.get(verdict.direction, "outside the safe limit")
        return ask._replace(state="wrong", why=words, value=value)
    return ask._replace(state="proven", value=value)


def _stale(reading: ReadingSpec, key: NeedKey, now: dt.datetime) -> str:
    age = (now - reading.at).total_seconds() / 86400
    return f"read {age:.0f} days ago" if age > max(NEEDS[key].fresh_days, FRESH_DAYS) else ""


def _of_the_morning(ask: Ask, need: NeedState, band: Band, last: ReadingSpec) -> Ask:
    """Read before stone and soil had settled: carried on by the share of its rise that the model says it had made, and proven where even that is sure."""
    carried = need.measured
    if carried is None or carried.after_h is None or not carried.judged:
        return ask._replace(state="again", why=f"read after {last.lamp_on_h:g} h: stone and soil settle in six")
    verdict = judge(band, carried.value, carried.sd, speaks="measured", carried=True)
    where = {"below": "too low", "above": "too high"}.get(verdict.direction, "in range")
    if verdict.direction == "right" and verdict.sure and verdict.limit in {"none", "kept"}:
        return ask._replace(state="proven", value=carried.value, why=f"read after {carried.after_h:g} h, carried on to six")
    if verdict.direction != "right" and verdict.sure:
        return ask._replace(state="wrong", value=carried.value, why=f"{where}, carried on from {carried.after_h:g} h to six")
    return ask._replace(state="again", value=carried.value, why=f"after {carried.after_h:g} h on its way, {where}: not sure yet")


def _wave(request: Request, damp: Damp, bands: Mapping[NeedKey, Band], stands: frozenset[int]) -> list[Ask]:
    """Both ends of the wave."""
    key, read, found = NeedKey.HUMIDITY_DAY, dict[str, float](), list[Ask]()
    for turn in turns_of(damp, bands):
        ask = Ask(
            key,
            WAVE_WHEN[turn.moment].format(at=turn.at),
            "open",
            "",
            None,
            (turn.low_pct, turn.high_pct),
            turn.predicted_pct,
            turn.moment,
            f"/predictions/{WAVE_KEYS[turn.moment]}",
        )
        mine = _mine(request, key, stands, turn.moment)
        if mine:
            last = max(mine, key=lambda r: r.at)
            value = corrected_reading(last.value, last.offset)
            why = _stale(last, key, request.now)
            wrong = fault(turn, value)
            ask = ask._replace(
                state="again" if why else "wrong" if wrong else "proven", why=why or wrong, value=None if why else value
            )
            read[turn.moment] = value
        found.append(ask)
    lead = max(request.profiles.values(), key=lambda profile: profile.moisture.rhythm == "wave")
    if (
        len(read) == 2
        and {ask.state for ask in found} == {"proven"}
        and is_line(lead, read["before misting"], read["after misting"])
    ):
        found[1] = found[1]._replace(state="wrong", why="hardly damper than before: a line, not a wave")
    return found


def _by_day(request: Request) -> list[Thing]:
    """What burns by day by a timer: heat for the night is no day."""
    return [thing for thing in request.things if thing.warms and thing.on and thing.off and thing.lit_at(DAY_HOUR)]


def lit_since(request: Request, hour: float) -> str:
    """When the lamps that burn at that hour were switched on, by their timers; empty at night."""
    lit = [thing.on for thing in _by_day(request) if thing.on and thing.lit_at(hour)]
    return min(lit) if lit else ""


def wrong_hour(request: Request, key: NeedKey, hour: float) -> str:
    """A sentence where what belongs to the night would be read by day, or the other way round; empty where it may be read at that hour."""
    if not _by_day(request):
        return ""
    lit, phase = lit_since(request, hour), NEEDS[key].phase
    if phase == "night" and lit:
        return "Its lamps are on now: this is read in the dark. Of a reading of last night say when it was."
    if phase == "day" and not lit and key not in _DAMP:
        return "Its lamps are off now: this is read while they burn. Of an earlier reading say when it was."
    return ""


def proven(found: tuple[Ask, ...]) -> bool:
    """Whether everything that is asked for is."""
    return bool(found) and all(ask.state == "proven" for ask in found)


def bands_moved(
    signed: Mapping[str, Sequence[float | None]], read: Mapping[str, float | None], found: tuple[Ask, ...]
) -> tuple[Ask, ...]:
    """What a record does not prove any more though the enclosure stands as it did: bands that moved with the stage, and that its readings have left.

    Parameters
    ----------
    signed, read : mapping
        Both ends of each band, and what was read, as they were when it was signed, by the ask's name.
    """
    return tuple(
        ask
        for ask in found
        if ask.name not in signed
        or (
            any(_apart(a, b) for a, b in zip(signed[ask.name], ask.span, strict=True))
            and not _within(read.get(ask.name), ask.span)
        )
    )


def _within(value: float | None, span: tuple[float | None, float | None]) -> bool:
    low, high = span
    return value is not None and (low is None or value >= low) and (high is None or value <= high)


def _apart(one: float | None, other: float | None) -> bool:
    return (one is None) != (other is None) or (one is not None and other is not None and abs(one - other) > 1e-6)
