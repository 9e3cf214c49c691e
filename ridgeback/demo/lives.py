"""What else happened to the demo's animals of late: looks at their bodies, a shed, two eggs, a
course of rinses, the first weeks with a hand. Invented.
"""

import datetime as dt
import uuid
import zoneinfo

from ridgeback.animals.models import Animal, ConditionPeriod
from ridgeback.breeding.models import Clutch, EggLook
from ridgeback.enclosures.models import Enclosure
from ridgeback.households.models import Household, Keeper
from ridgeback.log.flows import BODY
from ridgeback.log.models import LastDone, LogEntry
from ridgeback.papers.models import CareNotes, EnclosureNotes
from ridgeback.permits.models import AnimalDocument
from ridgeback.tasks.meal_history import TAME
from ridgeback.treatments.models import Treatment

LOOKS = (("Bramble", 3, 20), ("Sable", 4, 9), ("Fathom", 3, 31))
"""Who was looked at, the score, and days ago."""
HANDLED = (
    (12, "hid"),
    (11, "calm"),
    (10, "calm"),
    (9, "calm"),
    (7, "calm"),
    (6, "hid"),
    (5, "calm"),
    (3, "calm"),
    (2, "calm"),
)
"""Pip with the hand: days ago, and how it went."""
EGGS = (
    (24, 29.4, "veins in both"),
    (17, 29.6, ""),
    (8, 29.3, "one dented a little, medium damped"),
)
"""Looks at Bramble's eggs: days ago, what the thermometer read, what was seen."""


def tell_lives(household: Household, keeper: Keeper, today: dt.date) -> None:
    """All of it, of a household whose rounds are logged."""

    def day(ago: int) -> dt.date:
        return today - dt.timedelta(days=ago)

    animals = {one.name: one for one in household.animals.all()}
    entries: list[LogEntry] = []
    for name, score, ago in LOOKS:
        entries.append(_entry(animals[name], BODY, day(ago), keeper, amount=score))
        Animal.objects.filter(pk=animals[name].pk).update(condition=score, condition_on=day(ago))
    entries += [_entry(animals["Pip"], TAME, day(ago), keeper, how=how) for ago, how in HANDLED]
    Animal.objects.filter(pk=animals["Pip"].pk).update(taming_since=day(12))
    LogEntry.objects.bulk_create(entries)
    LastDone.objects.bulk_create(
        {
            (one.animal_id, one.stem): LastDone(
                enclosure=one.enclosure, animal=one.animal, stem=one.stem, on=one.on
            )
            for one in entries
        }.values()
    )
    bramble = animals["Bramble"]
    ConditionPeriod.objects.create(
        animal=bramble, kind=ConditionPeriod.Kind.SHED, since=day(13), until=day(9)
    )
    clutch = Clutch.objects.create(
        household=household,
        species=bramble.species,
        mother=bramble,
        laid_on=day(31),
        count=2,
        set_c=29.5,
        where="cupboard, middle shelf",
    )
    EggLook.objects.bulk_create(
        EggLook(clutch=clutch, on=day(ago), temp_c=temp, good=2, note=note, by=keeper)
        for ago, temp, note in EGGS
    )
    _care_notes(household)
    _papers(animals["Fathom"], today, keeper)
    Treatment.objects.create(
        animal=animals["Fathom"],
        words="Rinse the nostrils as shown at the practice, evenings",
        by="Dr Quill",
        begins=day(0),
        ends=day(-4),
        kept_by=keeper,
    )


def _papers(animal: Animal, today: dt.date, keeper: Keeper) -> None:
    """A permit that ends soon, and a chip."""
    AnimalDocument.objects.bulk_create(
        [
            AnimalDocument(
                animal=animal,
                kind=AnimalDocument.Kind.PERMIT,
                number="HB-2207",
                issued_by="Harbour district, animal office",
                issued_on=today - dt.timedelta(days=1060),
                expires_on=today + dt.timedelta(days=35),
                note="The original lies in the blue folder.",
                by=keeper,
            ),
            AnimalDocument(
                animal=animal,
                kind=AnimalDocument.Kind.MARK,
                number="900 000 000 12 34 56",
                issued_by="Dr Quill",
                issued_on=today - dt.timedelta(days=1050),
                note="Chip, left side of the neck.",
                by=keeper,
            ),
        ]
    )


def _care_notes(household: Household) -> None:
    """What a sitter of the demo household must know."""
    CareNotes.objects.create(
        household=household,
        call="1. Ada, 555 0100\n2. Ben next door, 555 0117",
        vet="Dr Quill, 555 0199; at night the clinic by the harbour, 555 0142",
        places="Crickets in the box under the stairs, mice in the freezer’s lowest drawer,"
        " spare lamps in the cupboard. Fuses behind the coat rack.",
        never="Never open Fathom’s door while it is moving along the glass.",
    )
    said = {
        "Bramble’s enclosure": ("Hides all day and eats at night.", "Lies in the open by day."),
        "Fathom’s enclosure": ("In its moist hide before a shed.", "Breathes with open mouth."),
    }
    for enclosure in Enclosure.objects.filter(household=household, name__in=said):
        normal, watch = said[enclosure.name]
        EnclosureNotes.objects.create(enclosure=enclosure, normal=normal, watch=watch)


def _entry(
    animal: Animal,
    stem: str,
    on: dt.date,
    keeper: Keeper,
    *,
    amount: float | None = None,
    how: str = "",
) -> LogEntry:
    enclosure = Enclosure.objects.select_related("room", "household").get(
        occupancies__in=animal.occupancies.present()
    )
    at, log_request = (
        dt.datetime(
            on.year, on.month, on.day, 17, tzinfo=zoneinfo.ZoneInfo(enclosure.room.time_zone)
        ),
        uuid.uuid4(),
    )
    return LogEntry(
        household=enclosure.household,
        enclosure=enclosure,
        animal=animal,
        stem=stem,
        task=f"{enclosure.pk}/{animal.pk}/{stem}/{log_request}",
        log_request=log_request,
        on=on,
        at=at,
        amount=amount,
        how=how,
        by=keeper,
        touched_at=at,
    )
