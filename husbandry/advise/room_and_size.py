"""Candidates for the night and for the size of the enclosure."""

import math
from collections.abc import Iterator
from typing import Any

from husbandry.advise.context import HEADROOM_M, Candidate, ChangeContext, added_patch
from husbandry.advise.panels_and_mats import first_that_reaches, gentle, heater_stem
from husbandry.enclosure.trade_size import HEIGHT_HOLDS
from husbandry.predict.predict import predict_night
from husbandry.species.needs import NeedKey

SIZE_STEP_M = 0.05
"""Enclosures are named to the next 5 cm (design choice) [m]."""


def candidates(context: ChangeContext) -> Iterator[Candidate]:
    """Dark heat for a cold night, and a larger enclosure."""
    yield from _larger_enclosure(context)
    yield from _dark_heat(context)


def _dark_heat(context: ChangeContext) -> Iterator[Candidate]:
    """Dark heat on a thermostat for a room that is too cold at night: the weakest safe heater that
    reaches the target range.
    """
    if context.wrong(NeedKey.AIR_NIGHT) >= 0:
        return
    aim = float(round(context.aim(NeedKey.AIR_NIGHT)))
    enclosure = context.request.enclosure.inside_m
    point = context.prediction.basking
    z = min(max(point.z_m + 0.25, enclosure.height - 0.12), enclosure.height - HEADROOM_M)
    x = (
        min(point.x_m + 0.2, enclosure.length - 0.1)
        if point.x_m < enclosure.length / 2
        else max(point.x_m - 0.2, 0.1)
    )
    stem = heater_stem(
        context,
        "night-heat",
        (x, point.y_m, z),
        on="20:00",
        off="08:00",
        thermostat={"set_c": aim, "probe": "warm_air"},
    )
    heater = first_that_reaches(
        context.prediction,
        gentle(context, stem),
        lambda request: predict_night(context.prediction, request).temp_c,
        context.targets[NeedKey.AIR_NIGHT].low_value,
    )
    if heater is None:
        return
    yield Candidate(
        "night_heat",
        heater,
        {"to_w": heater.watts or 0.0, "set_c": aim},
        "buy",
        added_patch(heater),
        "The weakest heater that is safe there and whose full power reaches the target range at the room's "
        "night temperature, held by a thermostat.",
        (heater.watts or 0.0) / 100,
    )


def _larger_enclosure(context: ChangeContext) -> Iterator[Candidate]:
    """The enclosure that the size rule asks for; what stood above the lid rises with it."""
    request = context.request
    inside = context.request.enclosure.inside_m
    if context.size.enough or not request.items:
        return
    needed = {side.name: side.needed_m for side in context.size.sides}
    substrate_m = max(request.enclosure.substrate.depth_m, context.size.substrate_needed_m)
    wanted = (
        max(needed["length"], inside.length, inside.depth),
        max(needed["depth"], min(inside.length, inside.depth)),
        max(needed["height"], HEIGHT_HOLDS * needed["height"] + substrate_m, inside.height),
    )
    length, depth, height = (
        round(math.ceil(round(side / SIZE_STEP_M, 6)) * SIZE_STEP_M, 3) for side in wanted
    )
    operations: list[dict[str, Any]] = [
        {
            "op": "add",
            "path": "/enclosure/inside_m",
            "value": {"length": length, "depth": depth, "height": height},
        }
    ]
    for n, item in enumerate(request.items):
        if item.hangs_above_lid and height > inside.height:
            operations.append(
                {
                    "op": "replace",
                    "path": f"/items/{n}/at_m/2",
                    "value": round(item.at_m[2] + height - inside.height, 3),
                }
            )
    yield Candidate(
        "larger_enclosure",
        request.items[0],
        {"length_m": length, "depth_m": depth, "height_m": height},
        "buy",
        tuple(operations),
        f"{context.size.needed.rule} Sides to the next 5 cm.",
        3.0,
    )
