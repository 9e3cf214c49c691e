"""Adding animals and enclosures on their own, archiving and duplicating. Each is one transaction."""

import datetime as dt
from collections.abc import Sequence
from typing import Any

from django.db import transaction

from ridgeback.animals.models import Animal, Length, Weighing
from ridgeback.background import ask_for_lives
from ridgeback.enclosures import flows as enclosures
from ridgeback.enclosures.models import Enclosure, Occupancy, Revision
from ridgeback.households.models import Household, Keeper, Room
from ridgeback.log.models import LogEntry

COPY = "{} (copy)"
"""What a duplicate is called."""


class UseError(Exception):
    """A change of use that cannot be; the message is for the page."""


@transaction.atomic
def add_animals(
    household: Household,
    names: Sequence[str],
    sexes: Sequence[str],
    facts: dict[str, Any],
    *,
    mass_g: float | None = None,
    length_mm: tuple[str, float] | None = None,
    enclosure: Enclosure | None = None,
    now: dt.datetime,
) -> list[Animal]:
    """Add animals of one species, each with its name and sex.

    Parameters
    ----------
    facts : dict
        What is said of all of them, by the fields of `Animal`.
    length_mm : tuple, optional
        A kind of length, and the length [mm].
    enclosure : Enclosure, optional
        Where they live from now on.
    """
    today = household.day_of(now)
    made = []
    for name, sex in zip(names, sexes, strict=True):
        animal = Animal.objects.create(household=household, name=name, sex=sex, **facts)
        if mass_g is not None:
            Weighing.objects.create(animal=animal, on=today, mass_g=mass_g)
        if length_mm is not None:
            kind, value = length_mm
            Length.objects.create(animal=animal, on=today, kind=kind, length_mm=value)
        if enclosure is not None:
            # It lives there already, as far as anybody knows: nothing was watched until now.
            Occupancy.objects.create(enclosure=enclosure, animal=animal, since=now)
        made.append(animal)
    if enclosure is not None:
        Enclosure.objects.filter(pk=enclosure.pk).update(looked_on=None)
    ask_for_lives(household)
    return made


@transaction.atomic
def add_enclosures(
    room: Room,
    names: Sequence[str],
    spec: dict[str, Any],
    *,
    shelf: str,
    purpose: str,
    state: str,
    keeper: Keeper,
    now: dt.datetime,
) -> list[Enclosure]:
    """Add equal enclosures with nobody in them.

    Parameters
    ----------
    spec : dict
        `enclosure` of a request as JSON.
    """
    made = []
    for name in names:
        enclosure = Enclosure.objects.create(
            household_id=room.household_id, room=room, name=name, shelf=shelf, purpose=purpose
        )
        whole = {"enclosure": spec, "items": []}
        enclosures.begin(enclosure, whole, keeper=keeper, now=now, state=state)
        made.append(enclosure)
    return made


@transaction.atomic
def duplicate(enclosure: Enclosure, *, keeper: Keeper, now: dt.datetime) -> Enclosure:
    """Another enclosure with the same layout, planned, with nobody in it."""
    if enclosure.head is None:
        raise UseError("This enclosure has no layout that could be copied.")
    taken = set(
        Enclosure.objects.filter(household=enclosure.household_id).values_list("name", flat=True)
    )
    stem = COPY.format(enclosure.name)[:74]
    name = next(
        name for n in range(1, 1000) if (name := stem if n == 1 else f"{stem} {n}") not in taken
    )
    made = Enclosure.objects.create(
        household_id=enclosure.household_id,
        room=enclosure.room,
        name=name,
        shelf=enclosure.shelf,
        purpose=enclosure.purpose,
    )
    enclosures.begin(
        made, enclosure.head.spec, keeper=keeper, now=now, state=Revision.State.PLANNED
    )
    return made


@transaction.atomic
def archive(enclosure: Enclosure, *, on: dt.date) -> None:
    """Put an enclosure away: it is in no list, its history stays.

    Raises
    ------
    UseError
        While anybody lives there.
    """
    row = Enclosure.objects.select_for_update().get(pk=enclosure.pk)
    living = Occupancy.objects.present().filter(enclosure=row).select_related("animal")
    names = " and ".join(one.animal.name for one in living)
    if names:
        raise UseError(f"{names} still lives here: move it first.")
    Occupancy.objects.planned().filter(enclosure=row).delete()
    row.archived_on = on
    row.save(update_fields=["archived_on"])


@transaction.atomic
def use_again(enclosure: Enclosure) -> None:
    """Take an archived enclosure back into the lists."""
    Enclosure.objects.filter(pk=enclosure.pk).update(archived_on=None, looked_on=None)


@transaction.atomic
def set_use(enclosure: Enclosure, *, name: str, room: Room, shelf: str, purpose: str) -> None:
    """Its name, place and purpose."""
    enclosure.name = name
    enclosure.room = room
    enclosure.shelf = shelf
    enclosure.purpose = purpose
    enclosure.version += 1
    enclosure.looked_on = None
    enclosure.save(update_fields=["name", "room", "shelf", "purpose", "version", "looked_on"])


@transaction.atomic
def delete_animal(animal: Animal) -> None:
    """Delete an animal that was added by mistake.

    Raises
    ------
    UseError
        When it has a history: it is marked as no longer kept instead.
    """
    row = Animal.objects.select_for_update().get(pk=animal.pk)
    if has_history(row):
        raise UseError(
            f"{row.name} has a history, which is kept: mark it as no longer kept instead."
        )
    Occupancy.objects.filter(animal=row).look_again()
    row.delete()


def has_history(animal: Animal) -> bool:
    """Whether anything was logged of an animal since it was added."""
    moved = animal.occupancies.filter(until__isnull=False).exists()
    weighed = animal.weighings.count() > 1 or animal.lengths.count() > 1
    return moved or weighed or LogEntry.objects.filter(animal=animal).exists()
