"""Writes about clutches."""

import datetime as dt
from typing import Any

from django.db import transaction

from ridgeback.animals.models import Animal
from ridgeback.breeding.models import Clutch, EggLook, Hatchling
from ridgeback.households.models import Household, Keeper


@transaction.atomic
def lay(household: Household, **facts: Any) -> Clutch:
    """A clutch is laid; its mother carries no longer."""
    clutch = Clutch.objects.create(household=household, **facts)
    if clutch.mother is not None and not clutch.carried:
        clutch.mother.condition_periods.filter(
            kind="gravid", until__isnull=True, since__lte=clutch.laid_on
        ).update(until=clutch.laid_on)
    return clutch


@transaction.atomic
def set_box(clutch: Clutch, *, medium: str, medium_g: float | None, box_g: float | None) -> None:
    """Keep what the eggs lie in, and what the closed box weighs."""
    facts = {"medium": medium, "medium_g": medium_g, "box_g": box_g}
    Clutch.objects.filter(pk=clutch.pk).update(**facts)


@transaction.atomic
def look(clutch: Clutch, *, keeper: Keeper, **facts: Any) -> EggLook:
    """It was looked at."""
    return EggLook.objects.create(clutch=clutch, by=keeper, **facts)


@transaction.atomic
def hatch(clutch: Clutch, *, on: dt.date, number: int, name: str, last: bool) -> list[Animal]:
    """Young come out: each gets its own book. In no enclosure yet: each is put into one."""
    known = Clutch.objects.select_for_update().get(pk=clutch.pk)
    before = known.hatchlings.count()
    names = (
        [name]
        if number == 1 and not before
        else [f"{name} {before + n + 1}" for n in range(number)]
    )
    animals = [
        Animal.objects.create(
            household=known.household, name=one, species=known.species, born_on=on
        )
        for one in names
    ]
    Hatchling.objects.bulk_create(Hatchling(clutch=known, animal=animal) for animal in animals)
    if known.carried and known.mother is not None:
        known.mother.condition_periods.filter(
            kind="gravid", until__isnull=True, since__lte=on
        ).update(until=on)
    if last:
        known.ended_on = on
        known.save(update_fields=["ended_on"])
    return animals


@transaction.atomic
def end(clutch: Clutch, *, on: dt.date) -> None:
    """Nothing more comes of it."""
    Clutch.objects.filter(pk=clutch.pk, ended_on__isnull=True).update(
        ended_on=max(on, clutch.laid_on)
    )
