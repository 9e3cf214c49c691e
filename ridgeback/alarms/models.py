"""One event is one alarm: it begins, grows graver or milder, is acknowledged, and ends.

Who was told, and how, stands beside it. What would be an alarm twice is refused by the database.
"""

import datetime as dt

from django.db import models
from django.db.models import Q

from husbandry.records.watch import AlarmKind
from ridgeback.households.models import Household, Keeper, Membership
from ridgeback.records.models import Channel

QUIET_FROM, QUIET_TO = 22, 7
"""Hours in which what can wait is not mailed (design choice) [h]."""
ESCALATE_MIN = 15
"""A danger that nobody acknowledged goes to the next after so long (design choice) [min]."""


class AlarmQuerySet(models.QuerySet["Alarm"]):
    """Reading of alarms."""

    def of(self, household: Household | None) -> "AlarmQuerySet":
        """A household's own: the one way in for every page."""
        return self.none() if household is None else self.filter(household=household)

    def going(self) -> "AlarmQuerySet":
        """Those that have not ended."""
        return self.filter(ended_at__isnull=True)


class Alarm(models.Model):
    """Something that is wrong at a channel, from its beginning to its end."""

    class Group(models.TextChoices):
        ENCLOSURE = "enclosure", "the enclosure"
        INSTRUMENT = "instrument", "the instrument"
        POWER = "power", "power or network"

    household = models.ForeignKey(Household, on_delete=models.CASCADE, related_name="alarms")
    channel = models.ForeignKey(
        Channel, on_delete=models.CASCADE, null=True, blank=True, related_name="alarms"
    )  # None: everything at once
    group = models.CharField(max_length=10, choices=Group)
    kind = models.CharField(max_length=8)  # of husbandry.records.watch, or “power”
    severity = models.CharField(max_length=10)  # danger, care, instrument
    side = models.CharField(max_length=4, blank=True)
    value = models.FloatField(null=True, blank=True)
    against = models.FloatField(null=True, blank=True)
    minutes = models.FloatField(null=True, blank=True)  # until the limit is passed
    began_at = models.DateTimeField()
    changed_at = models.DateTimeField()  # when it became what it is
    ended_at = models.DateTimeField(null=True, blank=True)
    acknowledged_at = models.DateTimeField(null=True, blank=True)
    acknowledged_by = models.ForeignKey(
        Keeper, on_delete=models.SET_NULL, null=True, blank=True, related_name="+"
    )
    note = models.CharField(max_length=300, blank=True)
    snoozed_until = models.DateTimeField(null=True, blank=True)
    snoozes = models.PositiveSmallIntegerField(default=0)  # after each it is told anew
    was_false = models.BooleanField(default=False)  # as its keeper said

    objects = AlarmQuerySet.as_manager()

    class Meta:
        ordering = ["-began_at", "-pk"]
        constraints = [
            models.UniqueConstraint(
                fields=["household", "channel", "group"],
                condition=Q(ended_at__isnull=True),
                nulls_distinct=False,
                name="alarm_going_once",
            ),
            models.CheckConstraint(
                name="alarm_ends_after_it_began",
                condition=Q(ended_at__isnull=True) | Q(ended_at__gte=models.F("began_at")),
            ),
            models.CheckConstraint(
                name="alarm_kind_known",
                condition=Q(kind__in=[*(one.value for one in AlarmKind), "power"]),
            ),
            models.CheckConstraint(
                name="alarm_severity_known",
                condition=Q(severity__in=["danger", "care", "instrument"]),
            ),
        ]
        indexes = [models.Index(fields=["household", "-began_at"], name="alarm_latest")]

    def __str__(self) -> str:
        return f"{self.kind} since {self.began_at}"

    def is_quiet(self, now: dt.datetime) -> bool:
        """Whether somebody has it in hand, or wants to hear of it later."""
        return self.acknowledged_at is not None or (
            self.snoozed_until is not None and now < self.snoozed_until
        )


class AlarmMessage(models.Model):
    """Somebody was told of an alarm. The row comes first: two workers tell once."""

    alarm = models.ForeignKey(Alarm, on_delete=models.CASCADE, related_name="messages")
    membership = models.ForeignKey(
        Membership, on_delete=models.CASCADE, related_name="alarm_messages"
    )
    severity = models.CharField(max_length=10)  # as it was told: a graver one is told again
    snoozes = models.PositiveSmallIntegerField(default=0)  # of its alarm, when it was told
    at = models.DateTimeField()
    mailed_at = models.DateTimeField(null=True, blank=True)
    tries = models.PositiveSmallIntegerField(default=0)

    class Meta:
        ordering = ["at", "pk"]
        constraints = [
            models.UniqueConstraint(
                fields=["alarm", "membership", "severity", "snoozes"], name="alarm_told_once"
            )
        ]

    def __str__(self) -> str:
        return f"{self.alarm} to {self.membership}"


class ChannelWatch(models.Model):
    """What a keeper said about the alarms of a channel: silent for maintenance, less sensitive."""

    channel = models.OneToOneField(Channel, on_delete=models.CASCADE, related_name="watch")
    silent_until = models.DateTimeField(null=True, blank=True)
    reason = models.CharField(max_length=200, blank=True)
    margin = models.FloatField(default=0)  # added to what is unusual, after a false alarm

    class Meta:
        verbose_name_plural = "channel watches"
        constraints = [
            models.CheckConstraint(
                name="watch_margin_possible", condition=Q(margin__range=(0, 30))
            )
        ]

    def __str__(self) -> str:
        return f"alarms of {self.channel}"


class AlarmPreferences(models.Model):
    """Whether somebody wants alarms by mail, and when what can wait is held back."""

    membership = models.OneToOneField(
        Membership, on_delete=models.CASCADE, related_name="alarm_preferences"
    )
    by_mail = models.BooleanField(default=True)
    quiet_from = models.PositiveSmallIntegerField(default=QUIET_FROM)
    quiet_to = models.PositiveSmallIntegerField(default=QUIET_TO)

    class Meta:
        verbose_name_plural = "alarm preferences"
        constraints = [
            models.CheckConstraint(
                name="alarm_quiet_hours",
                condition=Q(quiet_from__range=(0, 23), quiet_to__range=(0, 23)),
            )
        ]

    def __str__(self) -> str:
        return f"alarms for {self.membership}"
