"""Writes about papers, and those that run out."""

import datetime as dt
import io
from typing import Any

from django.db import transaction

from ridgeback.animals.models import Animal
from ridgeback.background import deadline, defer
from ridgeback.households.models import Household, Keeper
from ridgeback.permits.models import AnimalDocument
from ridgeback.permits.pdf_scans import NoPdfError, is_pdf, rewrite
from ridgeback.photos import flows as photos

TASK = "rewrite_scan"
READ_S = 60.0
"""A PDF that takes longer ends its worker and is not opened again (design choice) [s]."""
TOO_HARD = "This PDF could not be read in time: send it as a photo."
AHEAD_DAYS = 365
"""So far ahead the forecast looks [days]."""


@transaction.atomic
def add(
    animal: Animal, *, keeper: Keeper, scan: bytes | None, today: dt.date, **facts: Any
) -> AnimalDocument:
    """Keep a paper, with its scan or without one: all of it or nothing."""
    made = AnimalDocument(animal=animal, by=keeper, **facts)

    if scan is not None and is_pdf(io.BytesIO(scan)):
        made.pdf_original = scan
    elif scan is not None:
        note = made.get_kind_display().capitalize()
        made.scan = photos.add(
            animal, scan, keeper=keeper, on=made.issued_on or today, note=note, is_scan=True
        )

    made.save()
    if made.pdf_original is not None:
        defer(TASK, document=made.pk)

    return made


def rewrite_scan(pk: int) -> None:
    """Write a PDF anew; one that cannot be read is marked so.

    Done once, however often it runs: one that killed its worker is not opened again.
    """
    waiting = AnimalDocument.objects.filter(pk=pk, pdf_original__isnull=False)
    known = waiting.first()
    if known is None or known.pdf_original is None:
        return
    if known.pdf_problem:
        waiting.update(pdf_original=None)
        return
    waiting.update(pdf_problem=TOO_HARD)
    with deadline(READ_S, "scan", pk):
        try:
            found: dict[str, Any] = {"pdf": rewrite(bytes(known.pdf_original)), "pdf_problem": ""}
        except NoPdfError as why:
            found = {"pdf_problem": str(why)[:200]}
    waiting.update(**found, pdf_original=None)


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
