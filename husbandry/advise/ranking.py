"""Plan the best candidates again in full, refuse what is not safe, and put the rest in order
(docs/decisions.md, 11).
"""

import itertools
from collections.abc import Iterable
from typing import Any

from husbandry.advise import heat, moisture, platform, room_and_size, ultraviolet, water
from husbandry.advise.context import Candidate, ChangeContext, Score
from husbandry.derivation import Derivation, Source, named_text, named_value
from husbandry.documents.naming import names
from husbandry.documents.request import Request
from husbandry.documents.result import Change, Effect, Safety
from husbandry.findings.hazards import new_hazards
from husbandry.items.union import Item
from husbandry.predict.predict import FailedOn, failed_on, predict, restanced
from husbandry.species.needs import NEEDS, NeedKey
from husbandry.targets.verdicts import TargetRange

MOST = 5
"""Changes that are shown at the most (decisions, 11)."""
PLANNED_MOST = 10
"""Candidates that are planned in full; the rest rank below them near the known state (design
choice).
"""
NOT_SURFACE_C = 60.0
"""Never advised (source: heat 6) [°C]."""
WORSE_K = 0.05
"""A need may lose so much to a change before it counts as worse (design choice) [K]."""
_EFFORT = {"move": 0, "own": 1, "buy": 2}
"""The order of what costs a keeper least (decisions, 11)."""
_UNITS = {
    "to_m": "m",
    "to_w": "W",
    "set_c": "°C",
    "from_c": "°C",
    "to_share": "1",
    "length_m": "m",
    "hours": "h",
    "to_length_m": "m",
    "each_ml": "ml",
    "to_share_of_vents": "1",
    "wetness": "1",
    "thick_m": "m",
    "x_m": "m",
    "to_x_m": "m",
    "l_per_h": "l/h",
    "filled_m": "m",
    "count": "1",
}
Rank = tuple[bool, int, float, int, float]


def find_changes(context: ChangeContext) -> tuple[Change, ...]:
    """The ranked changes, at most five, no two of one kind on one item."""
    before = context.score(context.before)
    proposed = itertools.chain(
        room_and_size.candidates(context),
        heat.candidates(context),
        ultraviolet.candidates(context),
        platform.candidates(context),
        moisture.candidates(context),
        water.candidates(context),
    )
    chosen: dict[tuple[str, str], tuple[Rank, Change]] = {}
    left = PLANNED_MOST
    for candidate in _in_order(proposed, before):
        key = (candidate.kind, candidate.item.id)
        if left == 0 or (len(chosen) >= MOST and candidate.near is not None):
            break
        if key in chosen and candidate.near is not None:
            continue  # a better one of its kind is there already
        left -= 1
        found = _planned(context, candidate, before)
        if found is not None and (key not in chosen or found[0] < chosen[key][0]):
            chosen[key] = found
    ranked = sorted(chosen.values(), key=lambda pair: pair[0])

    return tuple(change for _, change in ranked)[:MOST]


def _rank(candidate: Candidate, before: Score, after: Score, grown: bool = False) -> Rank:
    """Clears a limit; needs put right less broken; what is still short; effort; size of the move."""
    return (
        after.beyond_limits >= before.beyond_limits,
        -(before.wrong - after.wrong + grown),
        round(after.shortfall, 1),
        _EFFORT[candidate.effort],
        candidate.size_of_move,
    )


def _in_order(proposed: Iterable[Candidate], before: Score) -> list[Candidate]:
    """What was not searched for near the known state first (it cannot be ranked yet), then what
    helps there, by its rank.
    """
    given = list(proposed)
    searched = [
        (_rank(c, before, c.near), n, c)
        for n, c in enumerate(given)
        if c.near is not None and c.near.wrong <= before.wrong
    ]

    return [c for c in given if c.near is None] + [
        c for *_, c in sorted(searched, key=lambda row: row[:2])
    ]


def _planned(
    context: ChangeContext, candidate: Candidate, before: Score
) -> tuple[Rank, Change] | None:
    request = context.possible(candidate.patch)
    if request is None:
        return None
    prediction = predict(
        request, restanced(request, context.prediction.position), context.prediction.learned
    )
    after = {key: prediction.centre(key) for key in context.targets}
    if any(
        (value := after[key]) is not None
        and context.targets[key].shortfall(context.believed(key, value)) > 0
        for key in candidate.mends
    ):
        return None
    score = context.score(after)
    grown = candidate.kind == "larger_enclosure"
    puts_right = before.wrong - score.wrong + grown
    clears = before.beyond_limits > score.beyond_limits
    if not grown and (puts_right < 0 or score.beyond_limits > before.beyond_limits):
        return None
    if not grown and not clears and puts_right == 0 and before.shortfall - score.shortfall < 0.1:
        return None
    risk = safety(failed_on(prediction), context.now_failed_on, context.targets)
    hot = after.get(NeedKey.SURFACE_DAY)
    if (
        risk.worse
        or (hot is not None and hot > NOT_SURFACE_C)
        or new_hazards(context.prediction, prediction)
    ):
        return None
    change = change_of(context, candidate, request, after, risk).model_copy(
        update={"puts_right": puts_right, "clears_limit": clears}
    )

    return _rank(candidate, before, score, grown), change


def change_of(
    context: ChangeContext,
    candidate: Candidate,
    request: Request,
    after: dict[NeedKey, float | None],
    risk: Safety,
) -> Change:
    """A candidate that was planned again as a change; `request` is the enclosure with it."""
    return Change.model_validate(
        {
            "kind": candidate.kind,
            "item_id": candidate.item.id,
            "item_name": (names(context.request) | names(request))[candidate.item.id],
            "one_of_several": _one_of_several(context, candidate.item),
            "values": candidate.values,
            "effort": candidate.effort,
            "patch": candidate.patch,
            "effects": _effects(context, after),
            "puts_right": 0,
            "clears_limit": False,
            "safety": risk,
            "derivation": _derivation(candidate),
        }
    )


def _one_of_several(context: ChangeContext, item: Item) -> bool:
    """Whether a title that only says what to do could be of another lamp as well."""
    alike = [
        one
        for one in context.request.items
        if (one.is_heater if item.is_heater else one.is_uv) and not one.is_body
    ]
    return len(alike) > 1 and any(one.id == item.id for one in alike)


def _effects(context: ChangeContext, after: dict[NeedKey, float | None]) -> list[Effect]:
    found: list[Effect] = []
    for key, value in after.items():
        was = context.before[key]
        if value is None or (was is not None and abs(value - was) < 0.05):
            continue
        target = context.targets[key]
        direction: Any = (
            "below"
            if value < target.low_value
            else "above"
            if value > target.high_value
            else "right"
        )
        found.append(
            Effect(need=key, unit=NEEDS[key].unit, before=was, after=value, direction=direction)
        )

    return found


def safety(stuck: FailedOn, now: FailedOn, targets: dict[NeedKey, TargetRange]) -> Safety:
    """A stuck thermostat on the hottest day against the animal's limits."""

    def limit(key: NeedKey) -> float | None:
        target = targets.get(key)
        return target.limit_high.value if target and target.limit_high else None

    surface = limit(NeedKey.SURFACE_DAY)
    cool = limit(NeedKey.COOL_AIR_DAY)
    over = [(surface, stuck.surface_c, now.surface_c), (cool, stuck.cool_air_c, now.cool_air_c)]

    return Safety(
        surface_c=stuck.surface_c,
        cool_air_c=stuck.cool_air_c,
        limit_surface_c=surface,
        limit_cool_air_c=cool,
        safe=not any(top is not None and value > top for top, value, _ in over),
        worse=any(top is not None and value > max(top, was + WORSE_K) for top, value, was in over),
    )


def _derivation(candidate: Candidate) -> Derivation:
    """The number a change hangs on: a height, a power, a set point, a share."""
    name = next(name for name in _UNITS if name in candidate.values)
    inputs = tuple(
        (
            named_text(key, value)
            if isinstance(value, str)
            else named_value(key, value, _UNITS.get(key, "W" if key.endswith("_w") else "m"))
        )
        for key, value in candidate.values.items()
    )

    return Derivation(
        value=float(candidate.values[name]),
        unit=_UNITS[name],
        rule=candidate.rule,
        inputs=inputs,
        sources=(
            Source(
                kind="design choice", text="search on the model; ranking: docs/decisions.md, 11"
            ),
        ),
        would_change=(
            "A reading of the present enclosure, the lamp's own beam angle, or the room's"
            " temperature."
        ),
    )
