"""Candidates for the water that it swims in: a heater, another one, or its thermostat."""

from collections.abc import Iterator

from husbandry.planning.changes.bench import Bench, Candidate, thing_patch
from husbandry.planning.pool_water import heater_for
from husbandry.species.needs import NeedKey

STEP_C = 0.5
"""To which a water heater's thermostat is set (common practice) [°C]."""


def candidates(bench: Bench) -> Iterator[Candidate]:
    """What could put the water right, where there is a pool."""
    wrong, swum = bench.wrong(NeedKey.WATER_DAY), bench.outcome.swum
    if not wrong or swum is None:
        return
    aim = round(bench.aim(NeedKey.WATER_DAY) / STEP_C) * STEP_C
    pool = swum.thing
    watts = heater_for(swum, aim)
    if pool.heater_w and pool.held_c is not None:
        strong = watts is not None and watts <= pool.heater_w
        if (wrong > 0 and aim < pool.held_c) or (wrong < 0 and strong):
            changed = pool.model_copy(update={"held_c": aim})
            yield Candidate(
                "water_set",
                pool,
                {"set_c": aim, "from_c": pool.held_c},
                "move",
                thing_patch(bench.request, changed),
                "The heater's thermostat at the middle of the band, in half degrees.",
                abs(aim - pool.held_c) / 10,
            )
    if wrong < 0 and watts is not None and watts > (pool.heater_w or 0.0):
        changed = pool.model_copy(update={"heater_w": watts, "held_c": aim})
        yield Candidate(
            "water_heater",
            pool,
            {"to_w": watts, "set_c": aim},
            "buy",
            thing_patch(bench.request, changed),
            "The least power of those that heaters are sold in whose four fifths hold the water at the middle of the band all day, on the pool's heat balance.",
            watts / 100,
        )
