"""Which rows are a household: every table with the way to its household, in an order in which they
can be written again.

A table that is neither here nor among those left out fails `tests/web/test_archive.py`.
"""

from typing import NamedTuple

from django.db import models

from ridgeback.animals.models import Animal, ConditionPeriod, Length, Weighing
from ridgeback.breeding.models import Clutch, EggLook, Hatchling
from ridgeback.enclosures.models import Commissioning, Enclosure, Occupancy, Reading, Revision
from ridgeback.households.models import Room
from ridgeback.instruments.models import Instrument, MeasuredChannel
from ridgeback.log.models import LastDone, LogEntry
from ridgeback.papers.models import CareNotes, EnclosureNotes
from ridgeback.pens.models import Outing, OutingAnimal, Pen, PenAnimal
from ridgeback.permits.models import AnimalDocument
from ridgeback.photos.models import Picture
from ridgeback.records.models import Channel, DayReading
from ridgeback.reviews.models import EnclosureReview
from ridgeback.seasons.models import Brumation
from ridgeback.species_guide.models import ProfileEdits
from ridgeback.supplies.models import FoodRecipe, Stock, StockMovement
from ridgeback.tasks.models import TaskSchedule
from ridgeback.treatments.models import Treatment


class ArchiveTable(NamedTuple):
    """A table of the archive."""

    name: str
    model: type[models.Model]
    household: tuple[str, ...]
    """The ways to the household: a row belongs to it by any of them."""
    later: frozenset[str] = frozenset()
    """Keys of rows that are written after it."""


TABLES = (
    ArchiveTable("rooms", Room, ("household",)),
    ArchiveTable("profile_edits", ProfileEdits, ("household",)),
    ArchiveTable("animals", Animal, ("household",)),
    ArchiveTable("condition_periods", ConditionPeriod, ("animal__household",)),
    ArchiveTable("weighings", Weighing, ("animal__household",)),
    ArchiveTable("lengths", Length, ("animal__household",)),
    ArchiveTable("enclosures", Enclosure, ("household",), frozenset({"head"})),
    ArchiveTable("revisions", Revision, ("enclosure__household",), frozenset({"previous"})),
    ArchiveTable("commissionings", Commissioning, ("enclosure__household",)),
    ArchiveTable("occupancies", Occupancy, ("enclosure__household",)),
    ArchiveTable("readings", Reading, ("enclosure__household",)),
    ArchiveTable("channels", Channel, ("enclosure__household",)),
    ArchiveTable("day_readings", DayReading, ("channel__enclosure__household",)),
    ArchiveTable("instruments", Instrument, ("household",)),
    ArchiveTable("measured_channels", MeasuredChannel, ("instrument__household",)),
    ArchiveTable("treatments", Treatment, ("animal__household",)),
    ArchiveTable("task_schedules", TaskSchedule, ("enclosure__household", "animal__household")),
    ArchiveTable("log", LogEntry, ("household",)),
    ArchiveTable("last_done", LastDone, ("enclosure__household",)),
    ArchiveTable("brumations", Brumation, ("animal__household",)),
    ArchiveTable("stocks", Stock, ("household",)),
    ArchiveTable("recipes", FoodRecipe, ("household",)),
    ArchiveTable("stock_movements", StockMovement, ("stock__household",)),
    ArchiveTable("clutches", Clutch, ("household",)),
    ArchiveTable("egg_looks", EggLook, ("clutch__household",)),
    ArchiveTable("hatchlings", Hatchling, ("clutch__household",)),
    ArchiveTable("pictures", Picture, ("animal__household",)),
    ArchiveTable("documents", AnimalDocument, ("animal__household",)),
    ArchiveTable("care_notes", CareNotes, ("household",)),
    ArchiveTable("enclosure_notes", EnclosureNotes, ("enclosure__household",)),
    ArchiveTable("reviews", EnclosureReview, ("household",)),
    ArchiveTable("pens", Pen, ("household",)),
    ArchiveTable("pen_animals", PenAnimal, ("pen__household",)),
    ArchiveTable("outings", Outing, ("pen__household",)),
    ArchiveTable("outing_animals", OutingAnimal, ("outing__pen__household",)),
)
"""Every table that is a household's, parents first."""
OF_AN_ANIMAL = {
    "animals": "pk",
    "condition_periods": "animal",
    "weighings": "animal",
    "lengths": "animal",
    "treatments": "animal",
    "log": "animal",
    "brumations": "animal",
    "pictures": "animal",
    "documents": "animal",
}
"""Tables that go with an animal to its next keeper, each with its way to the animal."""
LEFT_OUT = {
    "households.Keeper": "a person’s account, not a household’s",
    "households.Household": "stands at the head of the file",
    "households.Membership": "who restores it is its owner; others are invited again",
    "households.SavedFilter": "a person’s own",
    "enclosures.Derived": "worked out again from the rest",
    "drafts.Draft": "was typed and not saved",
    "submissions.Submission": "keeps a form from being saved twice, for some days",
    "jobs.Job": "made again when it is asked for",
    "records.Sample": "a file of its own for each channel",
    "records.HourSummary": "summed again from the samples",
    "records.LoggerFile": "what came in it is with its channel; a file can be sent again",
    "records.FileShape": "answered again with the next file",
    "devices.Device": "a secret; made again",
    "devices.DeviceChannel": "belongs to a device",
    "devices.ScaleWeight": "of a device; what was logged is a weighing",
    "alarms.Alarm": "of devices, which are made again",
    "alarms.AlarmMessage": "a mail that was sent",
    "alarms.ChannelWatch": "of devices, which are made again",
    "alarms.AlarmPreferences": "belongs to a membership",
    "today.CalendarFeed": "a secret address; made again",
    "people.Invitation": "a secret; made again",
    "people.PersonalLink": "a secret; made again",
    "reviews.ReviewLink": "a secret; made again",
    "practice.PracticeRun": "a person’s own, not a household’s",
    "digests.DigestSubscription": "belongs to a membership",
    "digests.Digest": "an email that was sent",
    "digests.ReturnedMail": "of an address, not of a household",
}
"""Tables that are not in the archive, and why."""
