"""Candidates for the night and for the size of the enclosure."""

import math
from collections.abc import Iterator
from typing import Any

from husbandry.planning.changes.bench import HEADROOM_M, Bench, Candidate, added_patch
from husbandry.planning.changes.gentle import first_that_reaches, gentle, heater_stem
from husbandry.planning.predict import predict_night
from husbandry.species.needs import NeedKey

STEP_M = 0.05
"""Enclosures are named to the next 5 cm [m]."""


def candidates(bench: Bench) -> Iterator[Candidate]:
    """Dark heat for a cold night, and a larger enclosure."""
    yield from _larger_box(bench)
    yield from _dark_heat(bench)


def _dark_heat(bench: Bench) -> Iterator[Candidate]:
    """Dark heat on a thermostat for a room that is too cold at night: the weakest safe heater that reaches the band."""
    if bench.wrong(NeedKey.AIR_NIGHT) >= 0:
        return
    aim = float(round(bench.aim(NeedKey.AIR_NIGHT)))
    box, point = bench.request.box.inside_m, bench.outcome.basking
    z = min(max(point.z_m + 0.25, box.height - 0.12), box.height - HEADROOM_M)
    x = min(point.x_m + 0.2, box.length - 0.1) if point.x_m < box.length / 2 else max(point.x_m - 0.2, 0.1)
    stem = heater_stem(
        bench,
        "night-heat",
        (x, point.y_m, z),
        on="20:00",
        off="08:00",
        thermostat={"set_c": aim, "probe": "warm_air"},
    )
    heater = first_that_reaches(
        bench.outcome,
        gentle(bench, stem),
        lambda request: predict_night(bench.outcome, request).temp_c,
        bench.bands[NeedKey.AIR_NIGHT].low_value,
    )
    if heater is None:
        return
    yield Candidate(
        "night_heat",
        heater,
        {"to_w": heater.power_w or 0.0, "set_c": aim},
        "buy",
        added_patch(heater),
        "The weakest heater that is safe there and whose full power reaches the band at the room's "
        "night temperature, held by a thermostat.",
        (heater.power_w or 0.0) / 100,
    )


def _larger_box(bench: Bench) -> Iterator[Candidate]:
    """The enclosure that the size rule asks for; what stood above the lid rises with it."""
    request, inside = bench.request, bench.request.box.inside_m
    if bench.size.enough or not request.things:
        return
    needed = {side.name: side.needed_m for side in bench.size.sides}
    ground_m = max(request.box.ground.depth_m, bench.size.substrate_needed_m)
    wanted = (
        max(needed["length"], inside.length, inside.depth),
        max(needed["depth"], min(inside.length, inside.depth)),
        max(needed["height above the substrate"] + ground_m, inside.height),
    )
    length, depth, height = (round(math.ceil(round(side / STEP_M, 6)) * STEP_M, 3) for side in wanted)
    operations: list[dict[str, Any]] = [
        {"op": "add", "path": "/box/inside_m", "value": {"length": length, "depth": depth, "height": height}}
    ]
    for n, thing in enumerate(request.things):
        if thing.above_lid and height > inside.height:
            operations.append(
                {"op": "replace", "path": f"/things/{n}/at_m/2", "value": round(thing.at_m[2] + height - inside.height, 3)}
            )
    yield Candidate(
        "larger_box",
        request.things[0],
        {"length_m": length, "depth_m": depth, "height_m": height},
        "buy",
        tuple(operations),
        f"{bench.size.needed.rule} Sides to the next 5 cm.",
        3.0,
    )
