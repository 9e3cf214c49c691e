"""The demo household's loggers: a month of what they wrote, by a truth that no plan is told."""

import datetime as dt

import numpy as np
from django.db import connection

from husbandry.simulation.loggers import Fault, SimulatedLoggers
from ridgeback.enclosures.models import Enclosure
from ridgeback.households.models import Household
from ridgeback.records.flows import channel_for
from ridgeback.records.models import Channel
from ridgeback.records.store import ensure_months, write_samples

DAYS = 30
LOGGED = {"Pip’s enclosure": 5, "Bramble’s enclosure": 8, "Sable’s enclosure": 184}
"""Enclosures with a logger, and the seed of what is hidden."""
COLD = (9, 8.0, 7.0)
"""A lamp that failed in Pip's enclosure: days ago, and from which hour of UTC for how long [h]."""
INSTRUMENTS = {"plug": "plug", "pump": "misting pump", "thermostat": "thermostat"}
"""By the place of a channel, what measures it."""
DAY_S = 86_400


def tell_loggers(household: Household, now: dt.datetime) -> None:
    """Log the last month, up to now."""
    end_s = int(now.timestamp())
    today_s = end_s // DAY_S * DAY_S
    begin_s = today_s - DAYS * DAY_S
    cold_s = today_s - COLD[0] * DAY_S + int(COLD[1] * 3600)
    fault = Fault("lamp failed", cold_s, cold_s + int(COLD[2] * 3600))
    enclosures = Enclosure.objects.of(household).for_planning().filter(name__in=LOGGED)

    for enclosure in enclosures:
        seed = LOGGED[enclosure.name]
        loggers = SimulatedLoggers(enclosure.request_at(now), seed, enclosure.room.time_zone)
        faults = (fault,) if enclosure.name.startswith("Pip") else ()
        for one in loggers.log(begin_s, end_s, faults=faults):
            name = INSTRUMENTS.get(one.place, "shelf logger")
            if one.quantity == "uvi" or one.place == "scale" or not len(one.at_s):
                continue  # this keeper reads it by hand, now and then
            channel = channel_for(enclosure, one.quantity, one.place, name)
            ensure_months(one.at_s)
            write_samples(channel, one.at_s, one.values, None)


def move_samples(household: Household, days: dt.timedelta) -> None:
    """Move what was logged along with the demo's dates."""
    shift_s = int(days.total_seconds())
    for channel in Channel.objects.of(household):
        rows = channel.samples.order_by("at").values_list("at", "value")
        table = np.array([(at.timestamp(), value) for at, value in rows]).reshape(-1, 2)
        if not len(table):
            continue
        channel.samples.all().delete()
        channel.hours.all().delete()
        at_s = table[:, 0].astype(np.int64) + shift_s
        ensure_months(at_s)
        write_samples(channel, at_s, table[:, 1], None)


def copy_samples(channels: dict[int, int]) -> None:
    """Give the channels of a visitor's household the samples of the template's.

    Parameters
    ----------
    channels : dict
        The key of each copy by that of its template.
    """
    with connection.cursor() as cursor:
        for old, new in channels.items():
            cursor.execute(
                "INSERT INTO records_sample (channel_id, at, value, file)"
                " SELECT %s, at, value, NULL FROM records_sample WHERE channel_id = %s",
                [new, old],
            )
            cursor.execute(
                "INSERT INTO records_hour (channel_id, hour, count, mean, low, high)"
                " SELECT %s, hour, count, mean, low, high FROM records_hour WHERE channel_id = %s",
                [new, old],
            )
