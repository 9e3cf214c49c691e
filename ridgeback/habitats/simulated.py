"""Simulated instruments for the demo's enclosures: what would be read there, by a truth that no plan is told."""

import datetime as dt

from django.db import transaction

from husbandry.planning.need_states import look
from husbandry.planning.plan import outcome_of
from husbandry.planning.request import ReadingSpec
from husbandry.planning.wave import turns_of
from husbandry.simulation.instruments import Kit
from husbandry.simulation.truth import Truth
from husbandry.species.needs import NeedKey
from ridgeback.habitats import flows
from ridgeback.habitats.models import Habitat
from ridgeback.keepers.models import Keeper

ROUND = (
    NeedKey.SURFACE_DAY,
    NeedKey.WARM_AIR_DAY,
    NeedKey.COOL_AIR_DAY,
    NeedKey.WATER_DAY,
    NeedKey.UVI_DAY,
    NeedKey.AIR_NIGHT,
    NeedKey.HUMIDITY_DAY,
    NeedKey.HUMIDITY_NIGHT,
)
"""What a keeper reads in one round, as far as the animal needs it."""


def instruments_read(
    habitat: Habitat, keys: list[NeedKey], now: dt.datetime, at_m: tuple[float, float, float] | None = None
) -> list[ReadingSpec]:
    """What the demo household's instruments show in this enclosure. Raises `LookupError` for an enclosure without a hidden truth."""
    if habitat.hidden_seed is None:
        raise LookupError
    request = habitat.request_at(now)
    believed = outcome_of(request)
    truth = Truth(request.model_copy(update={"now": now}), look(request).stance(request), habitat.hidden_seed)
    kit = Kit(habitat.household_id, taken=habitat.readings.count())
    without = {
        NeedKey.UVI_DAY: not believed.uv,
        NeedKey.HUMIDITY_DAY: believed.damp is None,
        NeedKey.HUMIDITY_NIGHT: believed.damp is None,
        NeedKey.WATER_DAY: believed.swum is None,
    }
    found = [kit.read(truth, key, believed, at_m) for key in keys if not without.get(key, False)]
    if NeedKey.HUMIDITY_DAY in keys and believed.damp is not None and at_m is None:
        found += [kit.turn(truth, believed, turn) for turn in turns_of(believed.damp, look(request).bands)]
    return found


@transaction.atomic
def take_readings(
    habitat: Habitat,
    keys: list[NeedKey],
    *,
    keeper: Keeper,
    now: dt.datetime,
    at_m: tuple[float, float, float] | None = None,
) -> list[ReadingSpec]:
    """Read and log. Raises as `instruments_read`."""
    found = instruments_read(habitat, keys, now, at_m)
    for one in found:
        flows.add_reading(
            habitat, need=one.need.value, value=one.value, offset=one.offset, at=one.at, instrument=one.instrument,
            lamp_on_h=one.lamp_on_h, keeper=keeper, room_c=one.room_c, at_m=one.at_m, moment=one.moment,
        )  # fmt: skip
    return found
