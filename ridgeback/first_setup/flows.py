"""The end of the first run: animal, room, enclosure and first revision, all or nothing."""

import datetime as dt
from dataclasses import dataclass
from typing import Any

from django.db import transaction

from husbandry.documents.request import Request
from ridgeback.animals.models import Animal, Length, Weighing
from ridgeback.drafts import flows as drafts
from ridgeback.enclosures import flows
from ridgeback.enclosures.models import Enclosure, Occupancy, Revision
from ridgeback.households.models import Household, Keeper, Room

SUBJECT = "first-run"


@dataclass(frozen=True)
class NewRoom:
    """A room that is made with the enclosure."""

    name: str


@transaction.atomic
def finish(
    household: Household,
    keeper: Keeper,
    request: Request,
    *,
    enclosure_name: str,
    room: Room | NewRoom,
    state: str,
    now: dt.datetime,
) -> Enclosure:
    """Make what the three steps describe, and drop their draft."""
    if isinstance(room, NewRoom):
        air: dict[str, Any] = request.room.model_dump()
        place = request.place
        room = Room.objects.create(
            household=household,
            name=room.name,
            time_zone=place.tz,
            latitude_deg=place.lat,
            longitude_deg=place.lon,
            **air,
        )
    is_planned = state == Revision.State.PLANNED
    known = request.animals[0]
    animal = Animal.objects.create(
        household=household,
        name=known.name,
        species=known.species,
        sex=known.sex,
        born_on=known.born_on,
        approaches=known.approaches,
        whereabouts=Animal.Whereabouts.ARRIVING if is_planned else Animal.Whereabouts.HERE,
    )
    if known.mass_g is not None:
        Weighing.objects.create(animal=animal, on=request.today, mass_g=known.mass_g)
    for kind, millimetres in known.length_mm.items():
        Length.objects.create(animal=animal, on=request.today, kind=kind, length_mm=millimetres)
    enclosure = Enclosure.objects.create(household=household, room=room, name=enclosure_name)
    Occupancy.objects.create(enclosure=enclosure, animal=animal, since=now, is_planned=is_planned)
    flows.begin(enclosure, flows.spec_of(request), keeper=keeper, now=now, state=state)
    drafts.drop(household, keeper, SUBJECT)
    return enclosure
