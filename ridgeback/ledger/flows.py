"""Writing into the ledger: a tap, and its undoing. Sent twice it is one; done by two it is the first's."""

import datetime as dt
import uuid
from collections.abc import Callable
from dataclasses import dataclass, field
from typing import NamedTuple

from django.db import IntegrityError, transaction

from ridgeback.animals.models import Animal, Weighing
from ridgeback.habitats.models import Habitat
from ridgeback.keepers.models import Keeper
from ridgeback.ledger.models import Entry, Last

BODY = "body"
"""The stem of a look at a body; its amount is the score."""
UNDO_FOR = dt.timedelta(days=2)
"""So long an entry can be undone; later ones are history, corrected by another entry."""


@dataclass(frozen=True)
class Tap:
    """What somebody tapped."""

    tap: uuid.UUID
    chore: str
    stem: str
    outcome: str
    on: dt.date
    at: dt.datetime
    amount: float | None = None
    products: tuple[str, ...] = field(default=())
    note: str = ""
    how: str = ""


class Where(NamedTuple):
    """Household, enclosure and animal of an entry, by their keys."""

    household: int
    habitat: int
    animal: int | None


def write(
    habitat: Habitat,
    animal: Animal | None,
    tap: Tap,
    *,
    keeper: Keeper,
    now: dt.datetime,
    also: Callable[[Entry], None] | None = None,
) -> tuple[Entry, bool]:
    """Write a tap, as `write_at`; the entry knows its enclosure and its animal."""
    where = Where(habitat.household_id, habitat.pk, animal.pk if animal is not None else None)
    entry, mine = write_at(where, tap, keeper=keeper, now=now, also=also)
    if mine:
        entry.habitat, entry.animal = habitat, animal
    return entry, mine


def write_at(
    where: Where, tap: Tap, *, keeper: Keeper, now: dt.datetime, also: Callable[[Entry], None] | None = None
) -> tuple[Entry, bool]:
    """Write a tap into the ledger, and with it, or not at all, what `also` writes.

    Returns
    -------
    tuple of Entry and bool
        The entry that stands, and whether this tap made it. False when the same tap came before, or when somebody did the chore already.
    """
    try:
        with transaction.atomic():
            entry = Entry.objects.create(
                household_id=where.household, habitat_id=where.habitat, animal_id=where.animal, stem=tap.stem, chore=tap.chore, tap=tap.tap, outcome=tap.outcome,
                on=tap.on, at=tap.at, amount=tap.amount, products=list(tap.products), how=tap.how, note=tap.note, by=keeper, touched_at=now,
            )  # fmt: skip
            if tap.outcome != Entry.Outcome.SKIPPED:
                _note_last(entry)
            if tap.stem == "weigh" and tap.amount and where.animal is not None and tap.outcome == Entry.Outcome.DONE:
                Weighing.objects.create(animal_id=where.animal, on=tap.on, mass_g=tap.amount)
            if tap.stem == BODY and where.animal is not None:
                _condition_of(where.animal)
            if also is not None:
                also(entry)
    except IntegrityError:
        own = Entry.objects.select_related("by").filter(household=where.household)
        stands = own.filter(tap=tap.tap).first() or own.standing().filter(chore=tap.chore).first()
        if stands is None:  # undone between the two: whoever taps again writes it
            raise
        return stands, False
    return entry, True


def _condition_of(animal: int) -> None:
    """The last score that stands is its condition."""
    scored = Entry.objects.standing().filter(animal=animal, stem=BODY, outcome=Entry.Outcome.DONE, amount__isnull=False)
    last = scored.order_by("-on", "-pk").first()
    score, on = (round(last.amount or 0), last.on) if last is not None else (None, None)
    Animal.objects.filter(pk=animal).update(condition=score, condition_on=on)
    Habitat.objects.filter(occupancies__animal=animal, occupancies__until__isnull=True).update(looked_on=None)


def _note_last(entry: Entry) -> None:
    """Note the latest day of its task. A log entry of an earlier day never moves it back."""
    mine = Last(habitat_id=entry.habitat_id, animal_id=entry.animal_id, stem=entry.stem, on=entry.on)
    Last.objects.bulk_create([mine], ignore_conflicts=True)
    same = Last.objects.filter(habitat=mine.habitat_id, animal=mine.animal_id, stem=mine.stem)
    same.filter(on__lt=entry.on).update(on=entry.on)


@transaction.atomic
def undo(entry: Entry, *, keeper: Keeper, now: dt.datetime, also: Callable[[Entry], None] | None = None) -> bool:
    """Take an entry back, with the weight it brought. False when it was undone already or is too old."""
    known = Entry.objects.select_for_update(of=("self",)).select_related("habitat", "animal").get(pk=entry.pk)
    if known.undone_at is not None or now - known.at > UNDO_FOR:
        return False
    Entry.objects.filter(pk=known.pk).update(undone_at=now, undone_by=keeper, touched_at=now)
    if known.stem == "weigh" and known.animal is not None and known.amount and known.outcome == Entry.Outcome.DONE:
        brought = Weighing.objects.filter(animal=known.animal, on=known.on, mass_g=known.amount).order_by("-pk").first()
        if brought is not None:
            brought.delete()
    if known.stem == BODY and known.animal is not None:
        _condition_of(known.animal.pk)
    if also is not None:
        also(known)
    same = {"habitat": known.habitat, "animal": known.animal, "stem": known.stem}
    mine = Last.objects.filter(**same)
    before = Entry.objects.standing().filter(**same).exclude(outcome=Entry.Outcome.SKIPPED).order_by("-on").first()
    if before is None:
        mine.delete()
    else:
        mine.update(on=before.on)
    return True
