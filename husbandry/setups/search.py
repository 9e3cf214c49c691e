"""Three to five setups that differ in kind, each strictly the best at something, each predicted in
full; and why the simplest do not do.
"""

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import Any, Literal

from husbandry.advise.ranking import NOT_SURFACE_C, safety
from husbandry.derivation import Document
from husbandry.documents.request import Request
from husbandry.documents.request_json import from_data, to_data
from husbandry.documents.result import NeedState, Safety, target_width
from husbandry.enclosure.equipment import HEATERS, UV_LAMPS
from husbandry.errors import DocumentError
from husbandry.forecast.power import power_of
from husbandry.plan.plan import summary_with_prediction
from husbandry.predict.predict import failed_on
from husbandry.setups.fitting_out import BareEnclosure, bare_enclosure_of
from husbandry.setups.screening import Progress, ScreenedSetup, ScreeningResult, screen
from husbandry.species.needs import NEEDS, NeedKey
from husbandry.species.stages import DAYS_PER_MONTH

Axis = Literal[
    "cheapest to run",
    "simplest",
    "most headroom",
    "uses what you own",
    "coolest when a thermostat sticks",
]
AXES: tuple[Axis, ...] = (
    "cheapest to run",
    "simplest",
    "most headroom",
    "uses what you own",
    "coolest when a thermostat sticks",
)
TRIED_MOST = 14
"""Setups of one axis that are predicted in full before it is given up (design choice)."""


class SetupOffer(Document):
    """A setup that works."""

    axis: Axis
    request: Request
    month_kwh: float
    devices: int
    to_buy: tuple[str, ...]
    headroom: float
    """Nearest any need or limit comes to its end, in target range widths [1]."""
    safety: Safety
    values: dict[NeedKey, float]


class Rejected(Document):
    """The nearest setup with fewer devices, and the need that rules it out."""

    words: str
    devices: int
    need: str
    key: NeedKey | None = None
    value: float | None = None
    direction: str


class UnmetNeed(Document):
    """A need that no setup of this enclosure and room meets."""

    key: NeedKey
    short: float
    """By which the best misses it [the need's unit]."""
    high: bool


class Setups(Document):
    """What a search found."""

    offers: tuple[SetupOffer, ...]
    rejected: Rejected | None = None
    impossible: tuple[UnmetNeed, ...]
    screened: int
    predicted: int
    stopped: bool


@dataclass(frozen=True)
class _Full:
    """A setup predicted in full."""

    row: ScreenedSetup
    request: Request
    needs: tuple[NeedState, ...]
    safety: Safety
    month_kwh: float
    headroom: float
    to_buy: tuple[str, ...]

    def value(self, axis: Axis) -> float:
        """What an axis ranks by: less is better."""
        match axis:
            case "cheapest to run":
                return round(self.month_kwh, 1)
            case "simplest":
                return self.row.devices + 0.1 * (self.row.control != "none")
            case "most headroom":
                return round(-self.headroom, 2)
            case "uses what you own":
                return len(self.to_buy)
        return round(self.safety.surface_c, 1)


def items_of(bare: BareEnclosure, row: ScreenedSetup) -> list[dict[str, Any]]:
    """The lamps of a setup."""
    lamps = bare.lamps(row.kind, row.lamps, row.z_m, above_lid=row.above_lid, power_w=row.power_w)
    items = [item.model_dump(mode="json", exclude_none=True) for item in lamps]
    if row.control != "none":
        probe = "surface" if NeedKey.SURFACE_DAY in bare.targets else "warm_air"
        for item in items:
            item["thermostat"] = {"set_c": row.set_c, "probe": probe, "control": row.control}
    tube = row.tube
    if tube is not None:
        items.append(
            {
                "id": "tube-1",
                "kind": tube.kind,
                "length_m": tube.length_m,
                "power_w": tube.power_w,
                "hours_run": 100,
                "reflector": tube.reflector,
                "above_lid": tube.above_lid,
                "at_m": [tube.x_m, tube.y_m, tube.z_m],
                **bare.times,
            }
        )
    if row.night.power_w:
        high = bare.request.enclosure.inside_m
        x = bare.place[0] + 0.2 if bare.place[0] < high.length / 2 else bare.place[0] - 0.2
        items.append(
            {
                "id": "night-heat-1",
                "kind": "ceramic_emitter",
                "power_w": row.night.power_w,
                "at_m": [
                    round(min(max(x, 0.1), high.length - 0.1), 3),
                    round(bare.place[1], 3),
                    round(high.height - 0.12, 3),
                ],
                "on": bare.times["off"],
                "off": bare.times["on"],
                "thermostat": {"set_c": row.night.set_c, "probe": "warm_air"},
            }
        )
    return items


def _owned(request: Request) -> list[tuple[str, float]]:
    return [
        (t.kind, t.long_m or t.watts or 0.0)
        for t in request.items
        if not t.is_body and not t.is_probe
    ]


def _to_buy(request: Request, items: list[dict[str, Any]]) -> tuple[str, ...]:
    """What a setup needs that the enclosure does not have now, in words."""
    left = _owned(request)
    held = [t.held for t in request.items if t.held]
    wanted: list[str] = []
    for item in items:
        mine = (item["kind"], item.get("length_m") or item.get("power_w") or 0.0)
        if mine in left:
            left.remove(mine)
        else:
            name = (
                UV_LAMPS[item["kind"]].name
                if item["kind"] in UV_LAMPS
                else HEATERS[item["kind"]].name
            )
            wanted.append(f"{name}, {item['power_w']:g} W")
    stats = {item["id"][:4] for item in items if item.get("thermostat")}
    wanted += ["thermostat"] * max(len(stats) - len(held), 0)
    return tuple(wanted)


def _full(bare: BareEnclosure, owner: Request, row: ScreenedSetup) -> _Full | None:
    """A setup predicted in full; None when it is not sound."""
    items = items_of(bare, row)
    try:
        request = from_data(
            {**to_data(bare.request), "items": [*to_data(bare.request)["items"], *items]}
        )
    except DocumentError:
        return None
    seen, prediction = summary_with_prediction(request)
    stuck = failed_on(prediction)
    margins = [_left(need) for need in seen.needs if need.verdict.speaks == "predicted"]
    return _Full(
        row,
        request,
        seen.needs,
        safety(stuck, stuck, bare.targets),
        power_of(request).mean_w * 24 * DAYS_PER_MONTH / 1000,
        min(margins, default=0.0),
        _to_buy(owner, items),
    )


def _left(need: NeedState) -> float:
    """How far inside its target range a prediction lies, in widths [1]; negative outside."""
    value = need.predicted.value if need.predicted else 0.0
    ends = [value - need.low.value] if need.low else []
    ends += [need.high.value - value] if need.high else []
    return min(ends, default=0.0) / target_width(need)


def _works(full: _Full) -> bool:
    right = all(
        need.verdict.direction != "below" and need.verdict.direction != "above"
        for need in full.needs
        if need.verdict.speaks == "predicted"
    )
    hot = next(
        (
            need.predicted.value
            for need in full.needs
            if need.key is NeedKey.SURFACE_DAY and need.predicted
        ),
        0.0,
    )
    return (
        right
        and full.safety.safe
        and hot <= NOT_SURFACE_C
        and full.safety.surface_c <= max(NOT_SURFACE_C, full.safety.limit_surface_c or 0)
    )


def _ranked(
    bare: BareEnclosure, owner: Request, rows: tuple[ScreenedSetup, ...], axis: Axis
) -> Iterator[ScreenedSetup]:
    """The best of each nature by what was screened."""

    def key(row: ScreenedSetup) -> tuple[float, float]:
        match axis:
            case "cheapest to run":
                return row.month_kwh, -row.headroom
            case "simplest":
                return row.devices + 0.1 * (row.control != "none"), -row.headroom
            case "most headroom":
                return -row.headroom, row.month_kwh
            case "uses what you own":
                return float(len(_to_buy(owner, items_of(bare, row)))), -row.headroom
        return row.stuck[0], -row.headroom

    best: dict[tuple[str, str, str], tuple[tuple[float, float], ScreenedSetup]] = {}
    pool = rows if axis != "uses what you own" else _distinct(rows)
    for row in pool:
        rank = key(row)
        if row.nature not in best or rank < best[row.nature][0]:
            best[row.nature] = (rank, row)
    for _, row in sorted(best.values(), key=lambda pair: pair[0]):
        yield row


def _distinct(rows: tuple[ScreenedSetup, ...]) -> list[ScreenedSetup]:
    """One row of each equipment, the one with most headroom: what is owned does not depend on where
    it hangs.
    """
    best: dict[tuple[Any, ...], ScreenedSetup] = {}
    for row in rows:
        same = (*row.nature, row.lamps, row.power_w, row.tube.length_m if row.tube else 0)
        if same not in best or row.headroom > best[same].headroom:
            best[same] = row
    return list(best.values())


def find_setups(request: Request, progress: Progress = lambda share, said: True) -> Setups:
    """Search an enclosure of a request for setups.

    Parameters
    ----------
    request : Request
        Enclosure, room and animals; its lamps are what the keeper owns.
    progress : callable
        Told how far the search is; answers whether to go on.
    """
    bare = bare_enclosure_of(request)
    seen = screen(bare, lambda share, said: progress(0.8 * share, said))
    return _planned_offers(bare, progress, request, seen)


def _planned_offers(
    bare: BareEnclosure, progress: Any, request: Request, seen: ScreeningResult
) -> Setups:
    """Plan the best screened setups in full and offer those that hold."""
    predicted = 0
    chosen: list[tuple[Axis, _Full]] = []
    known: dict[ScreenedSetup, _Full | None] = {}

    def full(row: ScreenedSetup) -> _Full | None:
        nonlocal predicted
        if row not in known:
            predicted += 1
            known[row] = _full(bare, request, row)
        return known[row]

    for n, axis in enumerate(AXES):
        if not progress(0.8 + 0.2 * n / len(AXES), axis):
            break
        for tried, row in enumerate(_ranked(bare, request, seen.rows, axis)):
            if tried >= TRIED_MOST:
                break
            if any(row.nature == other.row.nature for _, other in chosen):
                continue
            found = full(row)
            if found is None or not _works(found):
                continue
            if all(found.value(axis) < other.value(axis) for _, other in chosen) and all(
                other.value(theirs) < found.value(theirs) for theirs, other in chosen
            ):
                chosen.append((axis, found))
                break
    offers = tuple(
        SetupOffer(
            axis=axis,
            request=found.request,
            month_kwh=found.month_kwh,
            devices=found.row.devices,
            to_buy=found.to_buy,
            headroom=found.headroom,
            safety=found.safety,
            values={
                need.key: need.predicted.value
                for need in found.needs
                if need.predicted is not None and need.verdict.speaks == "predicted"
            },
        )
        for axis, found in chosen
    )
    return Setups(
        offers=offers,
        rejected=_rejected(seen, full, min((offer.devices for offer in offers), default=99)),
        impossible=() if offers else tuple(_impossible(bare, seen)),
        screened=seen.screened,
        predicted=predicted,
        stopped=seen.stopped,
    )


def _rejected(
    seen: ScreeningResult, full: Callable[[ScreenedSetup], _Full | None], fewest: int
) -> Rejected | None:
    """The nearest setup that is simpler than the simplest offered one, and what rules it out."""
    simpler = sorted(
        (row for row in seen.misses if row.devices < fewest),
        key=lambda row: (row.devices, row.shortfall),
    )
    for row in simpler:
        found = full(row)
        if found is None:
            continue
        wrong = [
            need
            for need in found.needs
            if need.verdict.direction in {"below", "above"} and need.predicted is not None
        ]
        words = (
            f"{row.lamps} × {HEATERS[row.kind].name} of {row.power_w:g}"
            f" W{'' if row.control != 'none' else ' without a thermostat'}"
        )
        if wrong:
            worst = max(wrong, key=lambda need: need.verdict.by / target_width(need))
            return Rejected(
                words=words,
                devices=row.devices,
                need=worst.name,
                key=worst.key,
                value=worst.predicted.value if worst.predicted else None,
                direction=worst.verdict.direction,
            )
        if not found.safety.safe:
            return Rejected(
                words=words,
                devices=row.devices,
                need="",
                key=None,
                value=found.safety.surface_c,
                direction="above",
            )
    return None


def _impossible(bare: BareEnclosure, seen: ScreeningResult) -> Iterator[UnmetNeed]:
    """Needs that the best setup for them alone misses; where each can be met alone, those that the
    nearest setup of all misses.
    """
    alone = {key: short for key, short in seen.nearest.items() if short > 0.05}
    if alone:
        for key, short in alone.items():
            yield UnmetNeed(key=key, short=short, high=_too_high(bare, key))
        return
    if not seen.misses:
        return
    nearest = min(seen.misses, key=lambda row: row.shortfall)
    for key, value in zip(
        (NeedKey.SURFACE_DAY, NeedKey.WARM_AIR_DAY, NeedKey.COOL_AIR_DAY),
        nearest.values,
        strict=True,
    ):
        target = bare.targets.get(key)
        if target is not None and target.shortfall(value) > 0:
            yield UnmetNeed(
                key=key,
                short=target.shortfall(value) * target.width,
                high=value > target.high_value,
            )


def _too_high(bare: BareEnclosure, key: NeedKey) -> bool:
    """Whether the room alone is already above a need."""
    target, room = bare.targets[key], bare.request.room
    base = room.night_c if NEEDS[key].phase == "night" else room.day_c
    return key is not NeedKey.UVI_DAY and base > target.high_value
