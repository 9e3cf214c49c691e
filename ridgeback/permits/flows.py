"""Writes about papers, and those that run out."""

import datetime as dt
from typing import Any

from django.db import transaction

from ridgeback.animals.models import Animal
from ridgeback.households.models import Household, Keeper
from ridgeback.permits.models import AnimalDocument
from ridgeback.photos import flows as photos

AHEAD_DAYS = 365
"""So far ahead the forecast looks [days]."""


@transaction.atomic
def add(
    animal: Animal, *, keeper: Keeper, scan: bytes | None, today: dt.date, **facts: Any
) -> AnimalDocument:
    """Keep a paper, with its scan or without one: all of it or nothing."""
    made = AnimalDocument(animal=animal, by=keeper, **facts)

    if scan is not None:
        note = made.get_kind_display().capitalize()
        made.scan = photos.add(
            animal, scan, keeper=keeper, on=made.issued_on or today, note=note, is_scan=True
        )

    made.save()

    return made


@transaction.atomic
def delete(document: AnimalDocument) -> None:
    """Take a paper away, with its scan."""
    scan = document.scan
    document.delete()
    if scan is not None:
        scan.delete()


def ending(household: Household, today: dt.date) -> list[AnimalDocument]:
    """Papers that have run out or will within the year, the first first."""
    rows = AnimalDocument.objects.of(household).ending()
    within = rows.filter(expires_on__lte=today + dt.timedelta(days=AHEAD_DAYS))
    return list(within.select_related("animal").order_by("expires_on", "pk"))
