"""Writing into the log: a log request, and its undoing.

Sent twice it is one; done by two it is the first's.
"""

import datetime as dt
import uuid
from collections.abc import Callable
from dataclasses import dataclass, field
from typing import NamedTuple

from django.db import IntegrityError, transaction

from ridgeback.animals.models import Animal, Weighing
from ridgeback.enclosures.models import Enclosure, Occupancy
from ridgeback.households.models import Keeper
from ridgeback.log.models import LastDone, LogEntry

BODY = "body"
"""The stem of a look at a body; its amount is the score."""
UNDO_FOR = dt.timedelta(days=2)
"""So long an entry can be undone; later ones are history, corrected by another entry."""


@dataclass(frozen=True)
class LogRequest:
    """What somebody tapped."""

    log_request: uuid.UUID
    task: str
    stem: str
    outcome: str
    on: dt.date
    at: dt.datetime
    amount: float | None = None
    products: tuple[str, ...] = field(default=())
    note: str = ""
    how: str = ""


class EntrySubject(NamedTuple):
    """Household, enclosure and animal of an entry, by their keys."""

    household: int
    enclosure: int
    animal: int | None


def write(
    enclosure: Enclosure,
    animal: Animal | None,
    log_request: LogRequest,
    *,
    keeper: Keeper | None,
    now: dt.datetime,
    also: Callable[[LogEntry], None] | None = None,
    by_name: str = "",
) -> tuple[LogEntry, bool]:
    """Write a log request, as `write_at`; the entry knows its enclosure and its animal."""
    where = EntrySubject(
        enclosure.household_id, enclosure.pk, animal.pk if animal is not None else None
    )
    entry, mine = write_at(where, log_request, keeper=keeper, now=now, also=also, by_name=by_name)
    if mine:
        entry.enclosure = enclosure
        entry.animal = animal
    return entry, mine


def _entry(where: EntrySubject, log_request: LogRequest) -> LogEntry:
    """The entry of a log request, not yet written."""
    return LogEntry(
        household_id=where.household,
        enclosure_id=where.enclosure,
        animal_id=where.animal,
        stem=log_request.stem,
        task=log_request.task,
        log_request=log_request.log_request,
        outcome=log_request.outcome,
        on=log_request.on,
        at=log_request.at,
        amount=log_request.amount,
        products=list(log_request.products),
        how=log_request.how,
        note=log_request.note,
    )


def write_at(
    where: EntrySubject,
    log_request: LogRequest,
    *,
    keeper: Keeper | None,
    now: dt.datetime,
    also: Callable[[LogEntry], None] | None = None,
    by_name: str = "",
) -> tuple[LogEntry, bool]:
    """Write a log request into the log, and with it, or not at all, what `also` writes.

    Returns
    -------
    tuple of Entry and bool
        The entry that stands, and whether this log request made it. False when the same log request
        came before, or when somebody did the task already.
    """
    try:
        with transaction.atomic():
            entry = _entry(where, log_request)
            entry.by, entry.by_name, entry.touched_at = keeper, by_name, now
            entry.save(force_insert=True)
            if log_request.outcome != LogEntry.Outcome.SKIPPED:
                _note_last(entry)
            if (
                log_request.stem == "weigh"
                and log_request.amount
                and where.animal is not None
                and log_request.outcome == LogEntry.Outcome.DONE
            ):
                Weighing.objects.create(
                    animal_id=where.animal, on=log_request.on, mass_g=log_request.amount
                )
            if log_request.stem == BODY and where.animal is not None:
                _condition_of(where.animal)
            if also is not None:
                also(entry)
    except IntegrityError:
        own = LogEntry.objects.select_related("by").filter(household=where.household)
        stands = (
            own.filter(log_request=log_request.log_request).first()
            or own.standing().filter(task=log_request.task).first()
        )
        if stands is None:  # undone between the two: whoever taps again writes it
            raise
        return stands, False
    return entry, True


def _condition_of(animal: int) -> None:
    """The last score that stands is its condition."""
    scored = LogEntry.objects.standing().filter(
        animal=animal, stem=BODY, outcome=LogEntry.Outcome.DONE, amount__isnull=False
    )
    last = scored.order_by("-on", "-pk").first()
    score, on = (round(last.amount or 0), last.on) if last is not None else (None, None)
    Animal.objects.filter(pk=animal).update(condition=score, condition_on=on)
    Occupancy.objects.filter(animal=animal).present().look_again()


def _note_last(entry: LogEntry) -> None:
    """Note the latest day of its task. A log entry of an earlier day never moves it back."""
    mine = LastDone(
        enclosure_id=entry.enclosure_id, animal_id=entry.animal_id, stem=entry.stem, on=entry.on
    )
    LastDone.objects.bulk_create([mine], ignore_conflicts=True)
    same = LastDone.objects.filter(
        enclosure=mine.enclosure_id, animal=mine.animal_id, stem=mine.stem
    )
    same.filter(on__lt=entry.on).update(on=entry.on)


@transaction.atomic
def undo(
    entry: LogEntry,
    *,
    keeper: Keeper,
    now: dt.datetime,
    also: Callable[[LogEntry], None] | None = None,
) -> bool:
    """Take an entry back, with the weight it brought.

    False when it was undone already or is too old.
    """
    known = (
        LogEntry.objects.select_for_update(of=("self",))
        .select_related("enclosure", "animal")
        .get(pk=entry.pk)
    )
    if known.undone_at is not None or now - known.at > UNDO_FOR:
        return False
    LogEntry.objects.filter(pk=known.pk).update(undone_at=now, undone_by=keeper, touched_at=now)
    if (
        known.stem == "weigh"
        and known.animal is not None
        and known.amount
        and known.outcome == LogEntry.Outcome.DONE
    ):
        brought = (
            Weighing.objects.filter(animal=known.animal, on=known.on, mass_g=known.amount)
            .order_by("-pk")
            .first()
        )
        if brought is not None:
            brought.delete()
    if known.stem == BODY and known.animal is not None:
        _condition_of(known.animal.pk)
    if also is not None:
        also(known)
    same = {"enclosure": known.enclosure, "animal": known.animal, "stem": known.stem}
    mine = LastDone.objects.filter(**same)
    before = (
        LogEntry.objects.standing()
        .filter(**same)
        .exclude(outcome=LogEntry.Outcome.SKIPPED)
        .order_by("-on")
        .first()
    )
    if before is None:
        mine.delete()
    else:
        mine.update(on=before.on)
    return True
