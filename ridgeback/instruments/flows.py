"""Writes about instruments: an error goes to the channels that it measures, once."""

import datetime as dt

from django.db import transaction

from ridgeback.households.models import Household
from ridgeback.instruments.forms import InstrumentForm
from ridgeback.instruments.models import Instrument
from ridgeback.records.day_readings import correct
from ridgeback.records.models import Channel


@transaction.atomic
def save(form: InstrumentForm) -> Instrument:
    """Keep an instrument; what its channels measured is judged anew by its error."""
    form.instance.household = form.household
    made: Instrument = form.save()
    for channel in made.channels.all():
        if channel.offset != made.offset:
            channel.offset = made.offset
            Channel.objects.filter(pk=channel.pk).update(offset=made.offset)
            correct(channel)
    return made


def due(household: Household, today: dt.date) -> list[Instrument]:
    """Instruments that were checked and are to be checked again within the year."""
    rows = Instrument.objects.of(household).filter(checked_on__isnull=False)
    return [one for one in rows if one.due_on and (one.due_on - today).days <= 365]
