"""An instrument and its last check."""

import datetime as dt

from django.db import models
from django.db.models import Q

from husbandry.bounds import OFFSET
from husbandry.records.instrument_checks import CHECK_NOTICE_DAYS, USUAL_MONTHS, next_check
from ridgeback.households.models import Household
from ridgeback.records.models import Channel


class InstrumentQuerySet(models.QuerySet["Instrument"]):
    """Reading of instruments."""

    def of(self, household: Household | None) -> "InstrumentQuerySet":
        """A household's own: the one way in for every page."""
        return self.none() if household is None else self.filter(household=household)


class Instrument(models.Model):
    """Something that measures. Its error is taken off wherever its channels are read."""

    class Kind(models.TextChoices):
        PROBE = "probe", "thermometer with probe"
        INFRARED = "infrared", "infrared thermometer"
        HYGROMETER = "hygrometer", "hygrometer"
        LOGGER = "logger", "logger"
        UV = "uv", "UV meter"
        SCALE = "scale", "scale"

    class Way(models.TextChoices):
        NONE = "", "never checked"
        ICE = "ice", "ice water"
        SALT = "salt", "saturated salt"
        OTHER = "other", "a better instrument"

    household = models.ForeignKey(Household, on_delete=models.CASCADE, related_name="instruments")
    name = models.CharField(max_length=80)
    kind = models.CharField(max_length=10, choices=Kind)
    resolution = models.CharField(max_length=40, blank=True)  # as it is sold: 0.1 °C, 1 %
    offset = models.FloatField(default=0)  # what it reads too high, in its own unit
    way = models.CharField(max_length=5, choices=Way, blank=True)
    checked_on = models.DateField(null=True, blank=True)
    every_months = models.PositiveSmallIntegerField(default=USUAL_MONTHS)
    battery_on = models.DateField(null=True, blank=True)  # changed on
    place = models.CharField(max_length=120, blank=True)  # where it is kept
    channels = models.ManyToManyField(
        Channel, related_name="instruments", blank=True, through="MeasuredChannel"
    )

    objects = InstrumentQuerySet.as_manager()

    class Meta:
        ordering = ["name", "pk"]
        constraints = [
            models.UniqueConstraint(fields=["household", "name"], name="instrument_once"),
            models.CheckConstraint(
                name="instrument_kind_known",
                condition=Q(kind__in=["probe", "infrared", "hygrometer", "logger", "uv", "scale"]),
            ),
            models.CheckConstraint(
                name="instrument_offset_possible", condition=Q(offset__range=(-OFFSET, OFFSET))
            ),
            models.CheckConstraint(
                name="instrument_months_possible", condition=Q(every_months__range=(1, 60))
            ),
        ]

    def __str__(self) -> str:
        return self.name

    @property
    def due_on(self) -> dt.date | None:
        """When it is to be checked again."""
        return next_check(self.checked_on, self.every_months)

    def is_due(self, today: dt.date) -> bool:
        """Whether it is to be checked by now, or soon; one that never was is due."""
        due = self.due_on
        return due is None or (due - today).days <= CHECK_NOTICE_DAYS


class MeasuredChannel(models.Model):
    """A channel and the one instrument that measures it."""

    instrument = models.ForeignKey(Instrument, on_delete=models.CASCADE, related_name="measures")
    channel = models.OneToOneField(Channel, on_delete=models.CASCADE, related_name="measured_by")

    def __str__(self) -> str:
        return f"{self.channel} by {self.instrument}"
