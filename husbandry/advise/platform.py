"""Candidates that move what the animal basks on: a stone on supports, or a climber's branch, until
lamp to back and UV index both come out right.
"""

from collections.abc import Iterator

from husbandry.advise.context import (
    MIN_LAMP_M,
    Candidate,
    ChangeContext,
    at_height,
    item_patch,
    solve_falling,
)
from husbandry.advise.heat import basking_lamps
from husbandry.advise.ultraviolet import WORN_H
from husbandry.errors import ImpossibleStateError
from husbandry.findings.furnishing import BRANCH_STEP_M, FALL_BL, GROUND_LIVING
from husbandry.items.furnishings import Branch, Slab
from husbandry.items.union import Item
from husbandry.predict.predict import EnclosurePoint
from husbandry.species.needs import NeedKey

WORTH_M = 0.02
"""A smaller move is not worth the sentence (design choice) [m]."""


def candidates(context: ChangeContext) -> Iterator[Candidate]:
    """The heights of what it basks on at which the UV index is right, at which the surface is, and
    half way between.
    """
    wrong = [
        key
        for key in (NeedKey.SURFACE_DAY, NeedKey.UVI_DAY)
        if key in context.targets and context.wrong(key)
    ]
    item = _stood_on(context)
    if not wrong or item is None:
        return
    low, high = _reach(context, item)
    if high - low < WORTH_M:
        return
    found = {
        NeedKey.UVI_DAY: _for_uv(context, low, high),
        NeedKey.SURFACE_DAY: _for_surface(context, item),
    }
    moves = [move for move in found.values() if move is not None]
    if len(moves) == 2:
        moves.append(sum(moves) / 2)
    told: set[float] = set()
    for move in moves:
        rise = round(min(max(move, low), high), 2)
        if abs(rise) < WORTH_M or rise in told:
            continue
        told.add(rise)
        moved = at_height(item, round(item.at_m[2] + rise, 3))
        if item.sides_m is None:
            raise ImpossibleStateError("missing: item.sides_m")
        top = item.at_m[2] + item.sides_m[2] - _substrate(context, item)
        yield Candidate(
            "platform",
            item,
            {
                "to_m": round(top + rise, 3),
                "from_m": round(top, 3),
                "what": "branch" if isinstance(item, Branch) else "stone",
            },
            "own",
            item_patch(context.request, moved),
            "Where the distance to the lamp, or the UV index at its back, comes out right: by"
            " halving on both models, to whole centimetres.",
            abs(rise),
            mends=tuple(key for key, move in found.items() if move is not None),
        )


def _stood_on(context: ChangeContext) -> Item | None:
    """The stone under the hottest spot, or a climber's warmest branch."""
    slab = context.prediction.basking_slab
    slabs = context.prediction.day.heat_model.slabs
    item_id = slabs[slab].item_id if slab is not None else ""
    return next(
        (
            item
            for item in context.request.items
            if item.id == item_id and isinstance(item, Slab | Branch)
        ),
        None,
    )


def _substrate(context: ChangeContext, item: Item) -> float:
    inside = context.request.enclosure.inside_m
    return max(
        context.request.enclosure.substrate.depth_at(
            item.at_m[0] / inside.length, item.at_m[1] / inside.depth
        ),
        0.0,
    )


def _reach(context: ChangeContext, item: Item) -> tuple[float, float]:
    """By how much it may sink and rise: to the substrate; to where a fall hurts or a lamp comes
    within reach [m].
    """
    if item.sides_m is None:
        raise ImpossibleStateError("missing: item.sides_m")
    substrate, basking, position = (
        _substrate(context, item),
        context.prediction.basking,
        context.prediction.position,
    )
    top = item.at_m[2] + item.sides_m[2]
    lamps = [lamp.at_m[2] for lamp in context.request.items if lamp.warms or lamp.is_uv]
    ceiling = min([context.request.enclosure.inside_m.height, *lamps]) - MIN_LAMP_M
    high = ceiling - max(basking.z_m, top)
    for profile in context.request.profiles.values():
        if profile.habit in GROUND_LIVING:
            length = position.back_m / profile.body.back_height_bl
            high = min(high, max(FALL_BL * length, BRANCH_STEP_M) - (top - substrate))
    return min(substrate - item.at_m[2], 0.0), max(high, 0.0)


def _for_uv(context: ChangeContext, low: float, high: float) -> float | None:
    """The rise that brings the UV index to its aim [m]."""
    if (
        NeedKey.UVI_DAY not in context.targets
        or not context.wrong(NeedKey.UVI_DAY)
        or not context.prediction.uv
    ):
        return None
    if any(item.is_uv and (item.burned_h or 0) > WORN_H for item in context.request.items):
        return None  # a lamp that wears out goes on falling: it is renewed, not climbed after
    at = context.prediction.basking

    def falling(sink_m: float) -> float:
        return context.prediction.uvi_at(EnclosurePoint(at.x_m, at.y_m, at.z_m - sink_m)).uvi

    sink = solve_falling(falling, context.aim(NeedKey.UVI_DAY), -high, -low)
    return None if sink is None else -sink


def _for_surface(context: ChangeContext, item: Item) -> float | None:
    """The rise that brings the surface to its aim: as much as the lamp would sink for it [m]."""
    if (
        NeedKey.SURFACE_DAY not in context.targets
        or not context.wrong(NeedKey.SURFACE_DAY)
        or isinstance(item, Branch)
    ):
        return None
    lamps = basking_lamps(context)
    if not lamps:
        return None
    lamp = lamps[0]
    base = context.prediction.basking.z_m - context.prediction.back_m
    found = context.solve_height(lamp, NeedKey.SURFACE_DAY, (base + MIN_LAMP_M, base + 0.8))
    return None if found is None else lamp.at_m[2] - found[0]
