"""Candidates for the water that it swims in: a heater, another one, or its thermostat."""

from collections.abc import Iterator

from husbandry.advise.context import Candidate, ChangeContext, item_patch
from husbandry.predict.pool_water import heating_for
from husbandry.species.needs import NeedKey

STEP_C = 0.5
"""To which a water heater's thermostat is set (common practice) [°C]."""


def candidates(context: ChangeContext) -> Iterator[Candidate]:
    """What could put the water right, where there is a pool."""
    wrong = context.wrong(NeedKey.WATER_DAY)
    pool_day = context.prediction.pool_day
    if not wrong or pool_day is None:
        return
    aim = round(context.aim(NeedKey.WATER_DAY) / STEP_C) * STEP_C
    pool = pool_day.item
    limit = context.targets[NeedKey.WATER_DAY].limit_high
    heating = heating_for(pool_day, aim, limit.value if limit is not None else None)
    if pool.heater_w and pool.held_c is not None:
        strong = heating is not None and heating.watts <= pool.heater_w
        if (wrong > 0 and aim < pool.held_c) or (wrong < 0 and strong):
            changed = pool.model_copy(update={"held_c": aim})
            yield Candidate(
                "water_set",
                pool,
                {"set_c": aim, "from_c": pool.held_c},
                "move",
                item_patch(context.request, changed),
                "The heater's thermostat at the middle of the target range, in half degrees.",
                abs(aim - pool.held_c) / 10,
            )
    if wrong < 0 and heating is not None and heating.watts > (pool.heater_w or 0.0):
        several = heating.heaters if heating.heaters > 1 else None
        changed = pool.model_copy(
            update={"heater_w": heating.watts, "heaters": several, "held_c": aim}
        )
        yield Candidate(
            "water_heater",
            pool,
            {"to_w": heating.watts, "set_c": aim, "count": float(heating.heaters)},
            "buy",
            item_patch(context.request, changed),
            "The least power of those that heaters are sold in whose four fifths hold the water at"
            " the middle of the target range all day, on the pool's heat balance.",
            heating.watts / 100,
        )
