"""Channels, their samples by the minute, and the sums by the hour that pages read.

Samples stand as the instrument showed them; its known error is taken off where they are read, so that
a correction later judges anew what it measured. The tables of samples are cut by month (PostgreSQL's
range partitions, `store.ensure_months`).
"""

from typing import TYPE_CHECKING

from django.db import models
from django.db.models import Q

from husbandry.bounds import OFFSET
from husbandry.records.channels import PLACE_WORDS, QUANTITY_WORDS, Quantity, SensorPlace, need_for
from husbandry.species.needs import NeedKey
from ridgeback.enclosures.models import Enclosure, Reading
from ridgeback.households.models import Household, Keeper

if TYPE_CHECKING:
    from django.db.models.fields.related_descriptors import RelatedManager


class ChannelQuerySet(models.QuerySet["Channel"]):
    """Reading of channels."""

    def of(self, household: Household | None) -> "ChannelQuerySet":
        """A household's own: the one way in for every page."""
        if household is None:
            return self.none()
        return self.filter(enclosure__household=household)


class Channel(models.Model):
    """One quantity at one place of one enclosure, by one instrument."""

    enclosure = models.ForeignKey(Enclosure, on_delete=models.CASCADE, related_name="channels")
    name = models.CharField(max_length=80)  # of the instrument, as its keeper calls it
    quantity = models.CharField(
        max_length=11, choices=[(one.value, QUANTITY_WORDS[one]) for one in Quantity]
    )
    place = models.CharField(
        max_length=10, choices=[(one.value, PLACE_WORDS[one]) for one in SensorPlace]
    )
    offset = models.FloatField(default=0)  # what it reads too high; taken off where it is read
    is_live = models.BooleanField(default=False)  # a device sends it: its silence says something
    last_at = models.DateTimeField(null=True, blank=True)
    last_value = models.FloatField(null=True, blank=True)  # as it was shown

    objects = ChannelQuerySet.as_manager()

    if TYPE_CHECKING:
        samples: RelatedManager["Sample"]

    class Meta:
        ordering = ["quantity", "place", "name"]
        constraints = [
            models.UniqueConstraint(
                fields=["enclosure", "quantity", "place", "name"], name="channel_once"
            ),
            models.CheckConstraint(
                name="channel_quantity_known",
                condition=Q(quantity__in=[one.value for one in Quantity]),
            ),
            models.CheckConstraint(
                name="channel_place_known",
                condition=Q(place__in=[one.value for one in SensorPlace]),
            ),
            models.CheckConstraint(
                name="channel_offset_possible", condition=Q(offset__range=(-OFFSET, OFFSET))
            ),
        ]

    @property
    def order(self) -> tuple[int, int, str]:
        """Temperatures first, from the hottest place to the room."""
        quantities, places = list(Quantity), list(SensorPlace)
        return (
            quantities.index(Quantity(self.quantity)),
            places.index(SensorPlace(self.place)),
            self.name,
        )

    def __str__(self) -> str:
        return f"{self.name}: {self.get_quantity_display()}, {self.get_place_display()}"

    def need(self, *, day: bool) -> NeedKey | None:
        """The need that it speaks of by day or by night."""
        return need_for(Quantity(self.quantity), SensorPlace(self.place), day=day)


class LoggerFileQuerySet(models.QuerySet["LoggerFile"]):
    """Reading of files."""

    def of(self, household: Household | None) -> "LoggerFileQuerySet":
        """A household's own: the one way in for every page."""
        return self.none() if household is None else self.filter(household=household)

    def light(self) -> "LoggerFileQuerySet":
        """Without their bytes."""
        return self.defer("body")


class LoggerFile(models.Model):
    """A file of a logger: first as it was sent, then what of it was taken in."""

    class State(models.TextChoices):
        ASKED = "asked", "waiting for your answers"
        WAITING = "waiting", "waiting"
        RUNNING = "running", "being imported"
        DONE = "done", "imported"
        FAILED = "failed", "not imported"
        STOPPED = "stopped", "stopped"
        TAKEN_BACK = "taken back", "taken back"

    household = models.ForeignKey(Household, on_delete=models.CASCADE, related_name="logger_files")
    enclosure = models.ForeignKey(Enclosure, on_delete=models.CASCADE, related_name="logger_files")
    name = models.CharField(max_length=120)
    sha256 = models.CharField(max_length=64)
    body = models.BinaryField(null=True)  # packed; gone once it is taken in or given up
    layout = models.JSONField(default=dict)  # husbandry.records.logger_layout
    targets = models.JSONField(default=dict)  # by column: enclosure, place
    clock = models.CharField(max_length=8, default="room")
    state = models.CharField(max_length=10, choices=State, default=State.ASKED)
    progress_pct = models.PositiveSmallIntegerField(default=0)
    tries = models.PositiveSmallIntegerField(default=0)  # how often a worker began
    found = models.JSONField(default=dict)  # counts of lines and values
    problems = models.JSONField(default=list)  # by line, in words
    first_at = models.DateTimeField(null=True, blank=True)
    last_at = models.DateTimeField(null=True, blank=True)
    by = models.ForeignKey(Keeper, on_delete=models.SET_NULL, null=True, related_name="+")
    sent_at = models.DateTimeField()

    objects = LoggerFileQuerySet.as_manager()

    class Meta:
        ordering = ["-sent_at", "-pk"]
        constraints = [
            models.CheckConstraint(
                name="logger_file_clock_known", condition=Q(clock__in=["room", "standard", "utc"])
            ),
            models.CheckConstraint(
                name="logger_file_state_known",
                condition=Q(
                    state__in=[
                        "asked",
                        "waiting",
                        "running",
                        "done",
                        "failed",
                        "stopped",
                        "taken back",
                    ]
                ),
            ),
        ]
        indexes = [models.Index(fields=["household", "-sent_at"], name="logger_file_latest")]

    def __str__(self) -> str:
        return self.name

    @property
    def is_going(self) -> bool:
        """It waits for a worker, or one has it."""
        return self.state in {self.State.WAITING, self.State.RUNNING}


class FileShape(models.Model):
    """How files of one shape are read in a household: what was answered last."""

    household = models.ForeignKey(Household, on_delete=models.CASCADE, related_name="file_shapes")
    signature = models.CharField(max_length=64)
    answers = models.JSONField(default=dict)

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["household", "signature"], name="file_shape_once")
        ]

    def __str__(self) -> str:
        return f"files of {self.household}"


class Sample(models.Model):
    """What a channel showed at a moment, in its quantity's own unit."""

    pk = models.CompositePrimaryKey("channel_id", "at")
    channel = models.ForeignKey(
        Channel,
        on_delete=models.CASCADE,
        related_name="samples",
        db_constraint=False,
        db_index=False,
    )  # checked by whoever writes: a million rows at a time
    at = models.DateTimeField()
    value = models.FloatField()
    file = models.BigIntegerField(null=True)  # the file it came in; None from a device

    class Meta:
        db_table = "records_sample"

    def __str__(self) -> str:
        return f"{self.value:g} at {self.at}"


class HourSummary(models.Model):
    """The samples of a channel in one hour of UTC: how many, their mean, the least, the most."""

    pk = models.CompositePrimaryKey("channel_id", "hour")
    channel = models.ForeignKey(
        Channel,
        on_delete=models.CASCADE,
        related_name="hours",
        db_constraint=False,
        db_index=False,
    )
    hour = models.DateTimeField()
    count = models.PositiveIntegerField()
    mean = models.FloatField()
    low = models.FloatField()
    high = models.FloatField()

    class Meta:
        db_table = "records_hour"

    def __str__(self) -> str:
        return f"{self.mean:g} at {self.hour}"


class DayReading(models.Model):
    """A logged day that became a reading, once for each need; without one where it was deleted."""

    channel = models.ForeignKey(Channel, on_delete=models.CASCADE, related_name="day_readings")
    on = models.DateField()
    need = models.CharField(max_length=20)
    reading = models.OneToOneField(
        Reading, on_delete=models.SET_NULL, null=True, related_name="logged"
    )

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["channel", "on", "need"], name="day_reading_once")
        ]

    def __str__(self) -> str:
        return f"{self.need} on {self.on}"
