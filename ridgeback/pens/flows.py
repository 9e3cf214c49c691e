"""Writes about pens, and their plans."""

import datetime as dt
from collections.abc import Iterable, Sequence
from typing import Any

from django.db import IntegrityError, transaction

from husbandry.documents.animal import Animal as AnimalSpec
from husbandry.forecast.outdoor_day import Weather
from husbandry.pens.findings import PenFinding
from husbandry.pens.pen import PenAnimal as PlannedAnimal
from husbandry.pens.pen import PenDay, PenSpec
from husbandry.pens.plan import PenPlan, plan_pen, put_right
from husbandry.species.stages import stage_of
from ridgeback.animals.models import Animal
from ridgeback.households.models import Household, Keeper, Room
from ridgeback.pens.models import Outing, OutingAnimal, Pen, PenAnimal
from ridgeback.species_guide.flows import profile_of


def planned_animal(animal: Animal, on: dt.date) -> PlannedAnimal:
    """An animal as a pen's plan takes it."""
    spec = AnimalSpec.model_validate(animal.data())
    profile = profile_of(animal.household, animal.species)
    stage = stage_of(
        profile,
        today=on,
        born_on=spec.born_on,
        mass_g=spec.mass_g,
        length_mm=spec.length_mm or None,
    ).slug
    body_m = spec.body(profile, stage).length.value / 1000

    return PlannedAnimal(
        animal.name or profile.name, profile, stage, body_m, spec.sex, dict(animal.approaches)
    )


def planned_animals(pen: Pen, on: dt.date) -> list[PlannedAnimal]:
    """Those that go out into a pen; of rows fetched by `for_planning`."""
    return [planned_animal(one.animal, on) for one in pen.members]


def usual_weather(pen: Pen, on: dt.date) -> Weather:
    """A usual clear day of its month."""
    return pen.usual_climate.weather(on.month, pen.place.lat < 0)


def plan_of(pen: Pen, on: dt.date, weather: Weather | None = None) -> PenPlan:
    """A pen's plan for a day."""
    told = PenDay(pen.place, on, weather or usual_weather(pen, on))
    return plan_pen(pen.described, planned_animals(pen, on), told, pen.usual_climate)


@transaction.atomic
def add(
    household: Household,
    *,
    name: str,
    room: Room | None,
    animals: Iterable[Animal],
    is_planned: bool,
    on: dt.date,
) -> Pen:
    """Make a pen: right for its animals where one is planned, else as an empty one."""
    pen = Pen.objects.create(
        household=household, name=name, room=room, spec=PenSpec().model_dump(mode="json")
    )
    PenAnimal.objects.bulk_create([PenAnimal(pen=pen, animal=one) for one in animals])
    if is_planned:
        fetched = Pen.objects.for_planning().get(pk=pen.pk)
        right = put_right(fetched.described, plan_of(fetched, on).findings)
        pen.spec = right.model_dump(mode="json")
        pen.save(update_fields=["spec"])
    return pen


@transaction.atomic
def save(pen: Pen, spec: PenSpec, *, animals: Sequence[Animal], **facts: Any) -> None:
    """Keep a pen as it was described anew; the last description can be taken back."""
    held = Pen.objects.select_for_update().get(pk=pen.pk)
    _change(held, spec)
    for name, value in facts.items():
        setattr(held, name, value)
    held.save()
    held.pen_animals.exclude(animal__in=animals).delete()
    there = set(held.pen_animals.values_list("animal_id", flat=True))
    PenAnimal.objects.bulk_create(
        [PenAnimal(pen=held, animal=one) for one in animals if one.pk not in there]
    )


@transaction.atomic
def apply(pen: Pen, wrong: Iterable[PenFinding]) -> None:
    """Change a pen as these findings say."""
    held = Pen.objects.select_for_update().get(pk=pen.pk)
    _change(held, put_right(held.described, wrong))
    held.save(update_fields=["spec", "previous"])


@transaction.atomic
def undo(pen: Pen) -> bool:
    """Take the last change back; whether there was one."""
    held = Pen.objects.select_for_update().get(pk=pen.pk)
    if held.previous is None:
        return False
    held.spec, held.previous = held.previous, None
    held.save(update_fields=["spec", "previous"])
    return True


def _change(pen: Pen, spec: PenSpec) -> None:
    """Put another spec in, and remember the one before."""
    new = spec.model_dump(mode="json")
    if new != pen.spec:
        pen.spec, pen.previous = new, pen.spec


def bring_out(pen: Pen, at: dt.datetime, keeper: Keeper) -> bool:
    """Log that its animals are out; whether they were not already."""
    try:
        with transaction.atomic():
            outing = Outing.objects.create(pen=pen, out_at=at, by=keeper)
            OutingAnimal.objects.bulk_create(
                [
                    OutingAnimal(outing=outing, animal=one)
                    for one in Animal.objects.here().filter(pens=pen)
                ]
            )
    except IntegrityError:
        return False
    return True


@transaction.atomic
def bring_in(pen: Pen, at: dt.datetime, shade_c: float | None) -> Outing | None:
    """Log that they are in again; None where they were not out."""
    outing = pen.outings.select_for_update().filter(in_at__isnull=True).first()
    if outing is None:
        return None
    outing.in_at, outing.shade_c = max(at, outing.out_at), shade_c
    outing.save(update_fields=["in_at", "shade_c"])
    return outing
