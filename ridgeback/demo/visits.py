"""A demo household of one's own for each visitor: copied from the one that was loaded, for a day.

The loaded one is a template and nobody signs in to it. A copy has the same content, so the plans
that are remembered by content are found again, and opening the demo takes no calculation.
"""

import datetime as dt
import secrets
import uuid
from typing import Any

from django.conf import settings
from django.db import models, transaction
from django.db.models import QuerySet

from ridgeback.animals.models import Animal, ConditionPeriod, Length, Weighing
from ridgeback.archive.deleting import delete_household
from ridgeback.breeding.models import Clutch, EggLook, Hatchling
from ridgeback.demo import household as demo
from ridgeback.demo.loggers import copy_samples
from ridgeback.enclosures.models import Commissioning, Enclosure, Occupancy, Reading, Revision
from ridgeback.households.models import Household, Keeper, Membership, Room
from ridgeback.log.models import LastDone, LogEntry
from ridgeback.papers.models import CareNotes, EnclosureNotes
from ridgeback.pens.models import Outing, OutingAnimal, Pen, PenAnimal
from ridgeback.permits.models import AnimalDocument
from ridgeback.records.models import Channel
from ridgeback.reviews.models import EnclosureReview
from ridgeback.seasons.models import Brumation
from ridgeback.species_guide.models import ProfileEdits
from ridgeback.supplies.models import Stock, StockMovement
from ridgeback.treatments.models import Treatment

LASTS = dt.timedelta(days=1)
TREE: tuple[tuple[type[models.Model], str], ...] = (
    (Room, "household"),
    (Animal, "household"),
    (Weighing, "animal__household"),
    (Length, "animal__household"),
    (ConditionPeriod, "animal__household"),
    (Enclosure, "household"),
    (Revision, "enclosure__household"),
    (Occupancy, "enclosure__household"),
    (Reading, "enclosure__household"),
    (Commissioning, "enclosure__household"),
    (Treatment, "animal__household"),
    (Brumation, "animal__household"),
    (LogEntry, "household"),
    (LastDone, "enclosure__household"),
    (Stock, "household"),
    (StockMovement, "stock__household"),
    (Clutch, "household"),
    (EggLook, "clutch__household"),
    (Hatchling, "clutch__household"),
    (ProfileEdits, "household"),
    (AnimalDocument, "animal__household"),
    (Channel, "enclosure__household"),
    (CareNotes, "household"),
    (EnclosureNotes, "enclosure__household"),
    (EnclosureReview, "household"),
    (Pen, "household"),
    (PenAnimal, "pen__household"),
    (Outing, "pen__household"),
    (OutingAnimal, "outing__pen__household"),
)
"""What belongs to a household, each after what it points to, with its way to the household."""
BACK = {Enclosure: "head", Revision: "previous"}
"""Pointers to what comes later, set once everything is there."""


class CrowdedError(Exception):
    """So many visitors are here that no further household is made."""


@transaction.atomic
def open_visit(now: dt.datetime) -> Keeper:
    """Make a household for a visitor, and the keeper who signs in to it.

    Raises
    ------
    CrowdedError
        When as many visitors as the settings allow are here already.
    """
    if Household.objects.filter(visit_ends__gt=now).count() >= settings.RIDGEBACK_DEMO_MOST:
        raise CrowdedError
    template = demo.load(now)
    keeper = Keeper(username=f"visitor-{secrets.token_hex(8)}", first_name="Visitor")
    keeper.set_unusable_password()
    keeper.save()
    made = _copy(template, keeper, now + LASTS)
    Membership.objects.create(household=made, keeper=keeper, role=Membership.Role.OWNER)
    return keeper


def sweep(now: dt.datetime) -> int:
    """Delete the households of visits that are over, with their keepers; how many there were."""
    over = list(Household.objects.filter(visit_ends__lte=now)[:100])
    for household in over:
        with transaction.atomic():
            delete_visit(household)
    return len(over)


def delete_visit(household: Household) -> None:
    """Delete a visitor's household with everything in it, and who belonged to it alone."""
    keepers = Keeper.objects.filter(memberships__household=household)
    alone = [one.pk for one in keepers if one.memberships.count() == 1]
    delete_household(household)
    Keeper.objects.filter(pk__in=alone).delete()


def _rows(model: type[models.Model], way: str, household: Household) -> QuerySet[Any]:
    return model._default_manager.filter(**{way: household})


def _copy(template: Household, keeper: Keeper, ends: dt.datetime) -> Household:
    """A household with a copy of every row of another one."""
    made = Household.objects.get(pk=template.pk)
    made.pk = None
    made.visit_ends = ends
    made._state.adding = True
    made.save(force_insert=True)
    members = Keeper.objects.filter(memberships__household=template)
    keys: dict[type[models.Model], dict[Any, Any]] = {
        Household: {template.pk: made.pk},
        Keeper: dict.fromkeys(members.values_list("pk", flat=True), keeper.pk),
    }
    for model, way in TREE:
        rows = list(_rows(model, way, template).order_by("pk"))
        before = [row.pk for row in rows]
        for row in rows:
            _point_anew(row, keys)
        model._default_manager.bulk_create(rows)
        keys[model] = dict(zip(before, (row.pk for row in rows), strict=True))
    for model, name in BACK.items():
        _point_back(template, model, name, keys)
    copy_samples(keys[Channel])
    return made


def _point_anew(row: models.Model, keys: dict[type[models.Model], dict[Any, Any]]) -> None:
    """Make a row a new one that points to the copies."""
    row.pk = None
    row._state.adding = True
    for field in row._meta.concrete_fields:
        if not isinstance(field, models.ForeignKey):
            continue
        known = keys.get(field.related_model, {})
        own = getattr(row, field.attname)
        later = BACK.get(type(row)) == field.name
        setattr(row, field.attname, None if later else known.get(own, own))
    if isinstance(row, LogEntry):
        _name_anew(row, keys)


def _name_anew(entry: LogEntry, keys: dict[type[models.Model], dict[Any, Any]]) -> None:
    """Give an entry the names that its copied enclosure, animal and treatment have."""
    enclosure, animal, *rest = entry.task.split("/")
    own = keys[Enclosure].get(int(enclosure), enclosure), keys[Animal].get(int(animal), animal)
    entry.log_request = uuid.uuid4()
    if entry.stem.startswith("treatment "):
        _, treatment, *time = entry.stem.split(" ")
        stem = " ".join(["treatment", str(keys[Treatment].get(int(treatment), treatment)), *time])
        rest = [part if part != entry.stem else stem for part in rest]
        entry.stem = stem
    entry.task = "/".join([str(own[0]), str(own[1]), *rest])


def _point_back(
    template: Household,
    model: type[models.Model],
    name: str,
    keys: dict[type[models.Model], dict[Any, Any]],
) -> None:
    """Set the pointers to rows that were copied later, or in the same step."""
    column = f"{name}_id"
    rows = _rows(model, dict(TREE)[model], template).filter(**{f"{name}__isnull": False})
    for pk, target in rows.values_list("pk", column):
        model._default_manager.filter(pk=keys[model][pk]).update(
            **{column: keys[Revision].get(target)}
        )
