"""Logged days as readings: the end of the heat and of the dark, once a day for each need, so that the plan
is judged and calibrated by what loggers measured, as by what hands did.
"""

import datetime as dt
from functools import partial

import numpy as np
from django.db import transaction

from husbandry.predict.light import lit_spans
from husbandry.records.channels import JUDGED_AT, Quantity, SensorPlace
from husbandry.records.settled import STEADY, SettledValue, settled_values
from husbandry.species.needs import NeedKey
from husbandry.targets.verdicts import SETTLED_H
from ridgeback.calculation import Failed, attempt
from ridgeback.enclosures.flows import add_reading
from ridgeback.enclosures.models import Enclosure, Reading
from ridgeback.records.models import Channel, DayReading
from ridgeback.records.reading import values_of
from ridgeback.records.store import moment
from ridgeback.records.targets import request_of

BACK_DAYS = 7
"""Days that become readings: older ones no longer speak of the enclosure as it is (design choice)
[days]."""
KEPT = dt.timedelta(days=21)
"""Readings of loggers are kept so long; the samples stay (design choice)."""
INSTRUMENTS = {Quantity.TEMPERATURE: "probe", Quantity.HUMIDITY: "hygrometer", Quantity.UVI: "uv"}


def read_days(enclosure_pk: int, now: dt.datetime) -> int:
    """Turn the last logged days of an enclosure into readings; how many are new."""
    enclosure = Enclosure.objects.for_planning().filter(pk=enclosure_pk).first()
    if enclosure is None or enclosure.head is None:
        return 0
    request = request_of(enclosure, now)
    if request is None or enclosure.head.state != "built":
        return 0
    lit = lit_spans(request)
    since = max(
        now - dt.timedelta(days=BACK_DAYS), enclosure.head.made_at + dt.timedelta(hours=SETTLED_H)
    )
    channels = list(Channel.objects.filter(enclosure=enclosure).order_by("-is_live", "pk"))
    room = _room(channels, since, now)
    made = 0

    for need, judged in JUDGED_AT.items():
        own = next((one for one in channels if (one.quantity, one.place) == judged), None)
        if own is None or own.need(day="night" not in need.value) != need:
            continue
        wanted = "night" if "night" in need.value else "day"
        for value in _settled(own, since, now, lit, enclosure.room.time_zone):
            if value.phase == wanted:
                made += _keep(enclosure, own, need, value, room)

    _forget(enclosure, now)

    return made


def _settled(
    channel: Channel,
    since: dt.datetime,
    now: dt.datetime,
    lit: tuple[tuple[float, float], ...],
    zone: str,
) -> list[SettledValue]:
    """Ends of days and nights of a channel, as its instrument showed them."""
    at_s, values = values_of(channel, since, now)
    steady = STEADY * (10 if channel.quantity == Quantity.HUMIDITY else 1)
    return settled_values(at_s, values + channel.offset, lit, zone, steady=steady)


def _room(
    channels: list[Channel], since: dt.datetime, now: dt.datetime
) -> tuple[np.ndarray, np.ndarray]:
    """What a logger in the room showed; nothing where there is none."""
    own = next(
        (
            one
            for one in channels
            if (one.quantity, one.place) == (Quantity.TEMPERATURE, SensorPlace.ROOM)
        ),
        None,
    )

    if own is None:
        return np.zeros(0, dtype=np.int64), np.zeros(0)
    return values_of(own, since, now)


@transaction.atomic
def _keep(
    enclosure: Enclosure,
    channel: Channel,
    need: NeedKey,
    value: SettledValue,
    room: tuple[np.ndarray, np.ndarray],
) -> int:
    """Log one value, unless its day was logged before, or deleted by its keeper."""
    known, is_new = DayReading.objects.get_or_create(channel=channel, on=value.on, need=need.value)
    if not is_new:
        return 0
    near = np.abs(room[0] - value.at_s) <= 3600
    known.reading = add_reading(
        enclosure,
        need=need.value,
        value=round(value.value, 2),
        offset=channel.offset,
        at=moment(value.at_s),
        instrument=INSTRUMENTS[Quantity(channel.quantity)],
        lamp_on_h=value.lit_h,
        keeper=None,
        room_c=float(room[1][near].mean()) if near.any() else None,
    )

    known.save(update_fields=["reading"])

    return 1


def _forget(enclosure: Enclosure, now: dt.datetime) -> None:
    """Old readings of loggers go: their samples tell more."""
    old = DayReading.objects.filter(channel__enclosure=enclosure, reading__at__lt=now - KEPT)
    Reading.objects.filter(pk__in=list(old.values_list("reading_id", flat=True))).delete()


@transaction.atomic
def correct(channel: Channel) -> None:
    """Judge anew what a channel measured, after its known error changed."""
    keys = DayReading.objects.filter(channel=channel).values_list("reading_id", flat=True)
    Reading.objects.filter(pk__in=[key for key in keys if key]).update(offset=channel.offset)
    Enclosure.objects.filter(pk=channel.enclosure_id).update(looked_on=None)


@transaction.atomic
def withdraw(channels: list[Channel]) -> None:
    """Take back the readings of channels whose samples went."""
    rows = DayReading.objects.filter(channel__in=channels)
    keys = [key for key in rows.values_list("reading_id", flat=True) if key]
    rows.delete()
    Reading.objects.filter(pk__in=keys).delete()


def read_all(enclosures: list[int], now: dt.datetime) -> int:
    """Read the days of some enclosures; one that cannot be read keeps no other back."""
    made = 0
    for pk in enclosures:
        found = attempt(partial(read_days, pk, now), "enclosure", pk)
        made += 0 if isinstance(found, Failed) else found
    return made
