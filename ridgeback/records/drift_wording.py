"""What a channel's place does over weeks, in a sentence with what to look at."""

import datetime as dt
from functools import partial

from husbandry.documents.request import Request
from husbandry.predict.light import lit_spans
from husbandry.quantity import Kind, Units, show
from husbandry.records.channels import KINDS, Quantity, SensorPlace
from husbandry.records.drifts import (
    DRIFT_ADVICE,
    DRIFT_BACK_DAYS,
    Drift,
    DriftKind,
    drift_of,
    logged_days,
)
from ridgeback import clock
from ridgeback.calculation import Failed, attempt
from ridgeback.enclosures.models import Enclosure
from ridgeback.log.models import LogEntry
from ridgeback.records.models import Channel
from ridgeback.records.reading import hours_of


def drift_sentence(
    channel: Channel, request: Request | None, enclosure: Enclosure, now: dt.datetime, units: Units
) -> str:
    """What its last weeks show, and what to look at; empty where they show nothing."""
    if request is None:
        return ""
    found = attempt(partial(_drift, channel, request, enclosure, now), "channel", channel.pk)
    if found is None or isinstance(found, Failed):
        return ""
    return said(found, Quantity(channel.quantity), units)


def _drift(
    channel: Channel, request: Request, enclosure: Enclosure, now: dt.datetime
) -> Drift | None:
    zone = enclosure.room.time_zone
    first = now - dt.timedelta(days=DRIFT_BACK_DAYS)
    hours = hours_of(channel, first, now)
    days = logged_days(hours.at_s, hours.mean, lit_spans(request), zone)
    changed = [
        clock.day_in(zone, one)
        for one in enclosure.revisions.filter(made_at__gte=first).values_list("made_at", flat=True)
    ]
    lamps = LogEntry.objects.standing().filter(
        enclosure=enclosure, stem__startswith="lamp", at__gte=first, outcome=LogEntry.Outcome.DONE
    )
    changed += lamps.values_list("on", flat=True)

    return drift_of(days, Quantity(channel.quantity), SensorPlace(channel.place), changed)


def said(drift: Drift, quantity: Quantity, units: Units) -> str:
    """A drift in words."""
    kind = KINDS[quantity]
    amount = show(
        abs(drift.amount), Kind.TEMPERATURE_DIFFERENCE if kind is Kind.TEMPERATURE else kind, units
    )
    since = f"{drift.since:%-d %B}"
    way = "less" if drift.amount < 0 else "more"

    seen = {
        DriftKind.LAMP: (
            f"What the lamps add to the night’s warmth has fallen by {amount} in {drift.days} days."
        ),
        DriftKind.SLIPPED: (
            f"Since {since} the lamps add {amount} {way} to the night’s warmth, and nothing was"
            " changed that day."
        ),
        DriftKind.INSTRUMENT: f"Since {since} it reads {amount} {way} by day and by night alike.",
        DriftKind.DRYING: (
            f"At the end of the night humidity has fallen by {amount} in {drift.days} days."
        ),
    }[drift.kind]

    return f"{seen} {DRIFT_ADVICE[drift.kind]}"
