"""From a request to rows."""

import datetime as dt

from django.db import transaction

from husbandry.documents import animal as animal_document
from husbandry.documents.importing import mass_before_trend
from husbandry.documents.request import Request
from husbandry.feeding.condition import TREND_DAYS
from husbandry.species.variant import EditResult, Variant
from ridgeback.animals.models import Animal, ConditionPeriod, Length, Weighing
from ridgeback.enclosures import flows
from ridgeback.enclosures.models import Enclosure, Occupancy, Reading, Revision
from ridgeback.households.models import Household, Keeper, Room
from ridgeback.species_guide.flows import import_variant


@transaction.atomic
def take_in(
    household: Household,
    keeper: Keeper,
    request: Request,
    *,
    name: str,
    room_name: str,
    now: dt.datetime,
) -> tuple[Enclosure, tuple[EditResult, ...]]:
    """Make a room, an enclosure, its animals and its readings of a request, so that the enclosure
    has the plan that the request has.

    Own values of a profile that the request carries are taken in as from a file of them: what the
    household keeps otherwise stays, and
    the lines that were not taken come back beside the enclosure. Readings keep the number of their
    revision, so that what was measured before the last change is still known to be.
    """
    room = Room.objects.create(
        household=household,
        name=room_name,
        latitude_deg=request.place.lat,
        longitude_deg=request.place.lon,
        time_zone=request.place.tz,
        **request.room.model_dump(),
    )
    enclosure = Enclosure.objects.create(household=household, room=room, name=name)
    spec = flows.spec_of(request)
    numbers = sorted({request.revision, *(reading.revision for reading in request.readings)})
    earliest = min([now, *(reading.at for reading in request.readings)])
    stood = {one.revision: flows.spec_of(one) for one in request.earlier}
    revisions = {
        number: Revision.objects.create(
            enclosure=enclosure,
            number=number,
            spec=stood.get(number, spec),
            made_by=keeper,
            made_at=now if number == request.revision else earliest,
            reason=(
                "imported"
                if number == request.revision
                else "imported: known only by its readings"
            ),
        )
        for number in numbers
    }
    _take_in_rest(enclosure, household, keeper, now, request, revisions)
    left: list[EditResult] = []
    for species, edits in request.edits.items():
        variant = Variant(species=species, edits=edits)
        told = import_variant(household, variant, replace=False)
        left += [line for line in told if line.outcome in {"your own value kept", "refused"}]
    return enclosure, tuple(left)


def _take_in_weights(animal: Animal, known: animal_document.Animal, today: dt.date) -> None:
    """Its mass, and the one before it by the trend of the file."""
    if known.mass_g is not None:
        Weighing.objects.create(animal=animal, on=today, mass_g=known.mass_g)
        before_g = mass_before_trend(known)  # as the file's trend says
        if before_g is not None:
            before = today - dt.timedelta(days=TREND_DAYS)
            Weighing.objects.create(animal=animal, on=before, mass_g=before_g)


def _take_in_rest(
    enclosure: Enclosure,
    household: Household,
    keeper: Keeper,
    now: dt.datetime,
    request: Request,
    revisions: dict[int, Revision],
) -> None:
    """Write the head and the readings of an enclosure that comes in."""
    Enclosure.objects.filter(pk=enclosure.pk).update(head=revisions[request.revision])
    for known in request.animals:
        animal = Animal.objects.create(
            household=household,
            name=known.name or known.species,
            species=known.species,
            sex=known.sex,
            born_on=known.born_on,
            came_on=known.came_on,
            fed_on=known.fed_on,
            approaches=known.approaches,
            condition=known.condition.score if known.condition else None,
            condition_on=known.condition.on if known.condition else None,
        )
        open_ = {
            condition_period.kind: condition_period for condition_period in known.condition_periods
        }  # one of each goes on
        ConditionPeriod.objects.bulk_create(
            ConditionPeriod(animal=animal, kind=one.kind, since=one.since)
            for one in open_.values()
        )
        _take_in_weights(animal, known, request.today)
        Length.objects.bulk_create(
            Length(animal=animal, on=request.today, kind=kind, length_mm=value)
            for kind, value in known.length_mm.items()
        )
        Occupancy.objects.create(enclosure=enclosure, animal=animal, since=now)
    Reading.objects.bulk_create(
        Reading(
            enclosure=enclosure,
            revision=revisions[reading.revision],
            need=reading.need.value,
            value=reading.value,
            offset=reading.offset,
            at=reading.at,
            instrument=reading.instrument,
            lamp_on_h=reading.lamp_on_h,
            taken_by=keeper,
            room_c=reading.room_c,
            moment=reading.moment,
            **dict(
                zip(
                    ("at_x_m", "at_y_m", "at_z_m"), reading.at_m or (None, None, None), strict=True
                )
            ),
        )
        for reading in request.readings
    )
