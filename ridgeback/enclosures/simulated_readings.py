"""Simulated instruments for the demo's enclosures: what would be read there, by a truth that no
plan is told.
"""

import datetime as dt

from django.db import transaction

from husbandry.documents.request import ReadingSpec
from husbandry.plan.plan import prediction_of
from husbandry.predict.daily_humidity import turns_of
from husbandry.predict.need_states import look
from husbandry.simulation.instruments import InstrumentSet
from husbandry.simulation.truth import TrueEnclosure
from husbandry.species.needs import NeedKey
from ridgeback.enclosures import flows
from ridgeback.enclosures.models import Enclosure
from ridgeback.households.models import Keeper

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
    enclosure: Enclosure,
    keys: list[NeedKey],
    now: dt.datetime,
    at_m: tuple[float, float, float] | None = None,
) -> list[ReadingSpec]:
    """What the demo household's instruments show in this enclosure.

    Raises `LookupError` for an enclosure without a hidden truth.
    """
    if enclosure.hidden_seed is None:
        raise LookupError
    request = enclosure.request_at(now)
    believed = prediction_of(request)
    truth = TrueEnclosure(
        request.model_copy(update={"now": now}),
        look(request).position(request),
        enclosure.hidden_seed,
    )
    kit = InstrumentSet(enclosure.household_id, taken=enclosure.readings.count())
    without = {
        NeedKey.UVI_DAY: not believed.uv,
        NeedKey.HUMIDITY_DAY: believed.damp is None,
        NeedKey.HUMIDITY_NIGHT: believed.damp is None,
        NeedKey.WATER_DAY: believed.pool_day is None,
    }
    found = [kit.read(truth, key, believed, at_m) for key in keys if not without.get(key, False)]
    if NeedKey.HUMIDITY_DAY in keys and believed.damp is not None and at_m is None:
        found += [
            kit.turn(truth, believed, turn)
            for turn in turns_of(believed.damp, look(request).targets)
        ]
    return found


@transaction.atomic
def take_readings(
    enclosure: Enclosure,
    keys: list[NeedKey],
    *,
    keeper: Keeper,
    now: dt.datetime,
    at_m: tuple[float, float, float] | None = None,
) -> list[ReadingSpec]:
    """Read and log. Raises as `instruments_read`."""
    found = instruments_read(enclosure, keys, now, at_m)
    for one in found:
        flows.add_reading(
            enclosure,
            need=one.need.value,
            value=one.value,
            offset=one.offset,
            at=one.at,
            instrument=one.instrument,
            lamp_on_h=one.lamp_on_h,
            keeper=keeper,
            room_c=one.room_c,
            at_m=one.at_m,
            moment=one.moment,
        )
    return found
