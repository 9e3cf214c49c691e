"""Verifying an enclosure before its animal moves in: what is to be read, where and when, what of it
is verified, and what a later change asks for again.

Method: docs/methods/commissioning.md.
"""

import datetime as dt
from collections.abc import Mapping, Sequence
from typing import Literal, NamedTuple

from husbandry.documents.enclosure import EnclosureSpec
from husbandry.documents.request import EarlierState, ReadingSpec, Request
from husbandry.documents.result import NeedState
from husbandry.documents.version_comparison import as_made, same_enclosure, same_item, same_wetting
from husbandry.items.furnishings import Branch, Dish, Hide, PlantedItem, Pool, Slab
from husbandry.items.union import Item
from husbandry.predict.daily_humidity import WAVE_KEYS, fault, is_line, turns_of
from husbandry.predict.exposure import DAY_HOUR
from husbandry.predict.moisture import DayMoisture
from husbandry.readings import corrected_reading
from husbandry.species.needs import NEEDS, NeedKey
from husbandry.targets.verdicts import SETTLED_H, TargetRange, judge, settles

State = Literal["open", "again", "wrong", "proven"]
WHEN = {
    NeedKey.SURFACE_DAY: (
        "after six hours of lamps, with an infrared thermometer held square to the surface"
    ),
    NeedKey.WARM_AIR_DAY: "after six hours of lamps, a shaded probe at the animal’s back",
    NeedKey.COOL_AIR_DAY: "after six hours of lamps, a shaded probe at the animal’s back",
    NeedKey.WATER_DAY: "after a day and a night, a thermometer where it swims",
    NeedKey.AIR_NIGHT: "in the last hour of dark, the same probe at the warm end",
    NeedKey.UVI_DAY: "with lamps that have burned an hour, the meter level at the animal’s back",
    NeedKey.HUMIDITY_DAY: (
        "at the end of the day’s heat, and half an hour after a misting at the earliest"
    ),
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
    "residual current": (
        "The residual-current device trips by its button; drip loops hang below the sockets"
    ),
    "guards": "Lamps are guarded where they can be reached, and hang by more than their cable",
    "stones": "Stones and platforms stand on supports and cannot be undermined",
    "escape": "Doors lock, lids are clipped, no gap is wider than its head",
    "smell": "Nothing smells of sealant, paint or gas after a day with the lamps on",
    "water": "Water stands where it drinks, shallow enough to climb out of",
}
"""What no instrument reads: the keeper says so (common practice)."""
COMMISSIONING_FRESH_DAYS = 30
"""No reading older than that verifies an enclosure, or than its own need allows (design choice)
[days].
"""
_WARMTH = (
    NeedKey.SURFACE_DAY,
    NeedKey.WARM_AIR_DAY,
    NeedKey.COOL_AIR_DAY,
    NeedKey.WATER_DAY,
    NeedKey.AIR_NIGHT,
)
_DAMP = (NeedKey.HUMIDITY_DAY, NeedKey.HUMIDITY_NIGHT)


class CommissioningReading(NamedTuple):
    """One reading that is asked for."""

    key: NeedKey
    when: str
    state: State
    why: str
    """Why it is asked for again, what is wrong with it, or how it was carried on."""
    value: float | None
    """As it counts for the commissioning check [the need's unit]."""
    span: tuple[float | None, float | None] = (None, None)
    """Between what it should be."""
    predicted: float | None = None
    moment: Literal["", "before misting", "after misting"] = ""
    derivation_at: str = ""
    """Where in the plan the derivation of what is predicted stands, as a JSON pointer."""

    @property
    def name(self) -> str:
        """By which a record keeps it."""
        return f"{self.key.value} {self.moment}".strip()


def affected(
    old: EarlierState, enclosure: EnclosureSpec, items: tuple[Item, ...]
) -> frozenset[NeedKey]:
    """The needs that a change from an earlier state of an enclosure to another can have moved:
    their readings are asked for again.
    """
    found: set[NeedKey] = set()
    if not same_enclosure(old.enclosure, enclosure):
        found |= {*_WARMTH, *_DAMP}
    if (as_made(old.enclosure).lid, old.enclosure.inside_m) != (
        as_made(enclosure).lid,
        enclosure.inside_m,
    ):
        found.add(NeedKey.UVI_DAY)
    if not same_wetting(old.enclosure.wetting, enclosure.wetting):
        found |= set(_DAMP)
    before, after = ({item.id: item for item in listed} for listed in (old.items, items))
    for item_id in before.keys() | after.keys():
        one = before.get(item_id)
        other = after.get(item_id)
        if one is not None and other is not None and same_item(one, other):
            if _aged(one, other):
                found.add(NeedKey.UVI_DAY)
            continue
        for item in (one, other):
            if item is not None:
                found |= _moved_by(item, hours_only=_same_but_hours(one, other))

    return frozenset(found)


def holding(request: Request) -> dict[NeedKey, frozenset[int]]:
    """For each need the earlier states whose readings still hold: nothing that it hangs on has
    changed since.
    """
    moved = {
        state.revision: affected(state, request.enclosure, request.items)
        for state in request.earlier
    }
    return {
        key: frozenset(number for number, keys in moved.items() if key not in keys)
        for key in NeedKey
    }


def _aged(one: Item, other: Item) -> bool:
    """A lamp whose ultraviolet has faded since; hours that somebody has only now written down were
    burned then as well.
    """
    return one.is_uv and one.burned_h is not None and other.burned_h != one.burned_h


def _same_but_hours(one: Item | None, other: Item | None) -> bool:
    return (
        one is not None
        and other is not None
        and one.model_copy(update={"hours_run": other.burned_h}) == other
    )


def _moved_by(item: Item, *, hours_only: bool) -> set[NeedKey]:
    """What an item has a part in."""
    if item.is_uv and hours_only:
        return {NeedKey.UVI_DAY}
    found: set[NeedKey] = set()
    if item.warms or item.is_probe or isinstance(item, Slab):
        found |= {*_WARMTH, *_DAMP}
    if item.is_uv or isinstance(item, Branch | Hide | PlantedItem | Slab):
        found.add(NeedKey.UVI_DAY)  # what gives it, and what shades it
    if isinstance(item, Dish | Hide | PlantedItem | Pool):
        found |= set(_DAMP)
    if isinstance(item, Pool):
        found.add(NeedKey.WATER_DAY)

    return found


def asks(
    request: Request,
    needs: tuple[NeedState, ...],
    targets: Mapping[NeedKey, TargetRange],
    damp: DayMoisture | None = None,
) -> tuple[CommissioningReading, ...]:
    """What is to be read in an enclosure, and what of it is verified: by readings of the present
    state, and of earlier ones that no change since has moved.

    Where it is misted (`damp`) the wave is read too: before a misting, and after it.
    """
    stands = holding(request)
    found = [
        _ask(need, targets[need.key], request, stands[need.key])._replace(
            derivation_at=f"/needs/{n}/predicted" if need.predicted else ""
        )
        for n, need in enumerate(needs)
    ]
    if damp is not None and NeedKey.HUMIDITY_DAY in targets:
        found += _wave(request, damp, targets, stands[NeedKey.HUMIDITY_DAY])

    return tuple(found)


def _mine(
    request: Request, key: NeedKey, stands: frozenset[int], moment: str = ""
) -> list[ReadingSpec]:
    """The readings of one thing that still speak for the enclosure as it is."""
    held = {request.revision, *stands}
    return [
        r
        for r in request.readings
        if r.need == key and r.at_m is None and r.moment == moment and r.revision in held
    ]


def _ask(
    need: NeedState, target: TargetRange, request: Request, stands: frozenset[int]
) -> CommissioningReading:
    span = tuple(end.value if end is not None else None for end in (target.low, target.high))
    ask = CommissioningReading(
        need.key,
        WHEN[need.key],
        "open",
        "",
        None,
        (span[0], span[1]),
        need.predicted.value if need.predicted else None,
    )
    mine = _mine(request, need.key, stands)
    early = settles(NEEDS[need.key])
    settled = [
        r for r in mine if not (early and r.lamp_on_h is not None and r.lamp_on_h < SETTLED_H)
    ]
    if need.conflict:
        return ask._replace(state="wrong", why=need.conflict)
    if not mine:
        return ask
    if not settled:
        return _of_the_morning(ask, need, target, mine[-1])
    last = max(settled, key=lambda r: r.at)
    stale = _stale(last, need.key, request.now)
    if stale:
        return ask._replace(state="again", why=stale)
    value = corrected_reading(last.value, last.offset)
    if need.measured is not None and need.measured.odd and last.revision == request.revision:
        return ask._replace(state="again", why=need.measured.odd, value=value)
    verdict = judge(target, value, NEEDS[need.key].reading_sd, speaks="measured")
    if verdict.direction != "right" or verdict.limit == "breached":
        words = {"below": "too low", "above": "too high"}.get(
            verdict.direction, "outside the safe limit"
        )
        return ask._replace(state="wrong", why=words, value=value)

    return ask._replace(state="proven", value=value)


def _stale(reading: ReadingSpec, key: NeedKey, now: dt.datetime) -> str:
    age = (now - reading.at).total_seconds() / 86400
    return (
        f"read {age:.0f} days ago"
        if age > max(NEEDS[key].fresh_days, COMMISSIONING_FRESH_DAYS)
        else ""
    )


def _of_the_morning(
    ask: CommissioningReading, need: NeedState, target: TargetRange, last: ReadingSpec
) -> CommissioningReading:
    """Read before stone and soil had settled: carried on by the share of its rise that the model
    says it had made, and verified where even that is sure.
    """
    carried = need.measured
    if carried is None or carried.after_h is None or not carried.judged:
        return ask._replace(
            state="again", why=f"read after {last.lamp_on_h:g} h: stone and soil settle in six"
        )
    verdict = judge(target, carried.value, carried.sd, speaks="measured", carried=True)
    where = {"below": "too low", "above": "too high"}.get(verdict.direction, "in range")
    if verdict.direction == "right" and verdict.sure and verdict.limit in {"none", "kept"}:
        return ask._replace(
            state="proven",
            value=carried.value,
            why=f"read after {carried.after_h:g} h, carried on to six",
        )
    if verdict.direction != "right" and verdict.sure:
        return ask._replace(
            state="wrong",
            value=carried.value,
            why=f"{where}, carried on from {carried.after_h:g} h to six",
        )

    return ask._replace(
        state="again",
        value=carried.value,
        why=f"after {carried.after_h:g} h on its way, {where}: not sure yet",
    )


def _wave(
    request: Request,
    damp: DayMoisture,
    targets: Mapping[NeedKey, TargetRange],
    stands: frozenset[int],
) -> list[CommissioningReading]:
    """Both ends of the wave."""
    key = NeedKey.HUMIDITY_DAY
    read = dict[str, float]()
    found = list[CommissioningReading]()
    for turn in turns_of(damp, targets):
        ask = CommissioningReading(
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
                state="again" if why else "wrong" if wrong else "proven",
                why=why or wrong,
                value=None if why else value,
            )
            read[turn.moment] = value
        found.append(ask)
    lead = max(request.profiles.values(), key=lambda profile: profile.moisture.rhythm == "wave")
    if (
        len(read) == 2
        and {ask.state for ask in found} == {"proven"}
        and is_line(lead, read["before misting"], read["after misting"])
    ):
        found[1] = found[1]._replace(
            state="wrong", why="hardly damper than before: a line, not a wave"
        )

    return found


def _by_day(request: Request) -> list[Item]:
    """What burns by day by a timer: heat for the night is no day."""
    return [item for item in request.items if item.warms and item.timer and item.lit_at(DAY_HOUR)]


def lit_since(request: Request, hour: float) -> str:
    """When the lamps that burn at that hour were switched on, by their timers; empty at night."""
    lit = [item.timer[0] for item in _by_day(request) if item.timer and item.lit_at(hour)]
    return min(lit) if lit else ""


def wrong_hour(request: Request, key: NeedKey, hour: float) -> str:
    """A sentence where what belongs to the night would be read by day, or the other way round;
    empty where it may be read at that hour.
    """
    if not _by_day(request):
        return ""
    lit = lit_since(request, hour)
    phase = NEEDS[key].phase
    if phase == "night" and lit:
        return (
            "Its lamps are on now: this is read in the dark. Of a reading of last night say when it"
            " was."
        )
    at_any_hour = key in _DAMP or key is NeedKey.WATER_DAY  # water follows whole days
    if phase == "day" and not lit and not at_any_hour:
        return (
            "Its lamps are off now: this is read while they burn. Of an earlier reading say when it"
            " was."
        )

    return ""


def proven(found: tuple[CommissioningReading, ...]) -> bool:
    """Whether everything that is asked for is."""
    return bool(found) and all(ask.state == "proven" for ask in found)


def targets_moved(
    signed: Mapping[str, Sequence[float | None]],
    read: Mapping[str, float | None],
    found: tuple[CommissioningReading, ...],
) -> tuple[CommissioningReading, ...]:
    """What a record does not verify any more though the enclosure stands as it did: target ranges
    that moved with the stage, and that its readings have left.

    Parameters
    ----------
    signed, read : mapping
        Both ends of each target range, and what was read, as they were when it was signed, by the
        ask's name.
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
    return (one is None) != (other is None) or (
        one is not None and other is not None and abs(one - other) > 1e-6
    )
