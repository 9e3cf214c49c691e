"""Candidates that move what the animal basks on: a stone on supports, or a climber's branch, until lamp to back and UV index both come out right."""

from collections.abc import Iterator

from husbandry.planning.changes.bench import MIN_LAMP_M, Bench, Candidate, at_height, solve_falling, thing_patch
from husbandry.planning.changes.heat import basking_lamps
from husbandry.planning.changes.ultraviolet import WORN_H
from husbandry.planning.furnishing import FALL_BL, GROUND_LIVING, STEP_M
from husbandry.planning.predict import Point
from husbandry.planning.request import Thing
from husbandry.species.needs import NeedKey

WORTH_M = 0.02
"""A smaller move is not worth the sentence [m]."""


def candidates(bench: Bench) -> Iterator[Candidate]:
    """The heights of what it basks on at which the UV index is right, at which the surface is, and half way between."""
    wrong = [key for key in (NeedKey.SURFACE_DAY, NeedKey.UVI_DAY) if key in bench.bands and bench.wrong(key)]
    thing = _stood_on(bench)
    if not wrong or thing is None:
        return
    low, high = _reach(bench, thing)
    if high - low < WORTH_M:
        return
    found = {NeedKey.UVI_DAY: _for_uv(bench, low, high), NeedKey.SURFACE_DAY: _for_surface(bench, thing)}
    moves = [move for move in found.values() if move is not None]
    if len(moves) == 2:
        moves.append(sum(moves) / 2)
    told: set[float] = set()
    for move in moves:
        rise = round(min(max(move, low), high), 2)
        if abs(rise) < WORTH_M or rise in told:
            continue
        told.add(rise)
        moved = at_height(thing, round(thing.at_m[2] + rise, 3))
        assert thing.size_m is not None
        top = thing.at_m[2] + thing.size_m[2] - _ground(bench, thing)
        yield Candidate(
            "platform",
            thing,
            {"to_m": round(top + rise, 3), "from_m": round(top, 3), "what": "branch" if thing.kind == "branch" else "stone"},
            "own",
            thing_patch(bench.request, moved),
            "Where the distance to the lamp, or the UV index at its back, comes out right: by halving on both models, to whole centimetres.",
            abs(rise),
            mends=tuple(key for key, move in found.items() if move is not None),
        )


def _stood_on(bench: Bench) -> Thing | None:
    """The stone under the hottest spot, or a climber's highest branch."""
    if bench.outcome.stance.perch is not None:
        branches = [thing for thing in bench.request.things if thing.kind == "branch" and thing.size_m]
        return max(branches, key=lambda thing: thing.at_m[2]) if branches else None
    day = bench.outcome.day
    slab = day.hottest_slab()
    thing_id = day.enclosure.slabs[slab].thing_id if slab is not None else ""
    return next((thing for thing in bench.request.things if thing.id == thing_id and thing.kind == "slab"), None)


def _ground(bench: Bench, thing: Thing) -> float:
    inside = bench.request.box.inside_m
    return max(bench.request.box.ground.depth_at(thing.at_m[0] / inside.length, thing.at_m[1] / inside.depth), 0.0)


def _reach(bench: Bench, thing: Thing) -> tuple[float, float]:
    """By how much it may sink and rise: to the substrate; to where a fall hurts or a lamp comes within reach [m]."""
    assert thing.size_m is not None
    ground, basking, stance = _ground(bench, thing), bench.outcome.basking, bench.outcome.stance
    top = thing.at_m[2] + thing.size_m[2]
    lamps = [lamp.at_m[2] for lamp in bench.request.things if lamp.warms or lamp.is_uv]
    ceiling = min([bench.request.box.inside_m.height, *lamps]) - MIN_LAMP_M
    high = ceiling - max(basking.z_m, top)
    for profile in bench.request.profiles.values():
        if profile.habit in GROUND_LIVING:
            length = stance.back_m / profile.body.back_height_bl
            high = min(high, max(FALL_BL * length, STEP_M) - (top - ground))
    return min(ground - thing.at_m[2], 0.0), max(high, 0.0)


def _for_uv(bench: Bench, low: float, high: float) -> float | None:
    """The rise that brings the UV index to its aim [m]."""
    if NeedKey.UVI_DAY not in bench.bands or not bench.wrong(NeedKey.UVI_DAY) or not bench.outcome.uv:
        return None
    if any(thing.is_uv and (thing.hours_run or 0) > WORN_H for thing in bench.request.things):
        return None  # a lamp that wears out goes on falling: it is renewed, not climbed after
    at = bench.outcome.basking

    def falling(sink_m: float) -> float:
        return bench.outcome.uvi_at(Point(at.x_m, at.y_m, at.z_m - sink_m)).uvi

    sink = solve_falling(falling, bench.aim(NeedKey.UVI_DAY), -high, -low)
    return None if sink is None else -sink


def _for_surface(bench: Bench, thing: Thing) -> float | None:
    """The rise that brings the surface to its aim: as much as the lamp would sink for it [m]."""
    if NeedKey.SURFACE_DAY not in bench.bands or not bench.wrong(NeedKey.SURFACE_DAY) or thing.kind == "branch":
        return None
    lamps = basking_lamps(bench)
    if not lamps:
        return None
    lamp, base = lamps[0], bench.outcome.basking.z_m - bench.outcome.back_m
    found = bench.solve_height(lamp, NeedKey.SURFACE_DAY, (base + MIN_LAMP_M, base + 0.8))
    return None if found is None else lamp.at_m[2] - found[0]
