"""Everything that was done among the day's tasks, and when each routine was done last.

An entry is never changed but to be undone. `LastDone` is what the entries say together, kept by the
same transactions: no page reads years of entries.
"""

from django.db import models
from django.db.models import Q

from ridgeback.animals.models import Animal
from ridgeback.enclosures.models import Enclosure
from ridgeback.households.models import Household, Keeper


class EntryQuerySet(models.QuerySet["LogEntry"]):
    """Reading of entries."""

    def of(self, household: Household | None) -> "EntryQuerySet":
        """A household's own: the one way in for every page."""
        return self.none() if household is None else self.filter(household=household)

    def standing(self) -> "EntryQuerySet":
        """Those that were not undone."""
        return self.filter(undone_at__isnull=True)


class LogEntry(models.Model):
    """One thing that was done, refused, or left for a reason."""

    class Outcome(models.TextChoices):
        DONE = "done", "done"
        REFUSED = "refused", "refused"
        SKIPPED = "skipped", "not today"

    household = models.ForeignKey(Household, on_delete=models.CASCADE, related_name="entries")
    enclosure = models.ForeignKey(Enclosure, on_delete=models.CASCADE, related_name="entries")
    animal = models.ForeignKey(
        Animal, on_delete=models.CASCADE, null=True, blank=True, related_name="entries"
    )
    stem = models.CharField(max_length=60)  # of husbandry.tasks: look, feed bowl, mist 08:00
    task = models.CharField(
        max_length=140
    )  # enclosure, animal, stem and the day it fell due: what two people must not do twice
    log_request = (
        models.UUIDField()
    )  # made by whoever tapped: the same log request sent twice is one entry
    outcome = models.CharField(max_length=7, choices=Outcome, default=Outcome.DONE)
    on = models.DateField()  # in the room's own zone
    at = models.DateTimeField()
    amount = models.FloatField(
        null=True, blank=True
    )  # ml of mist, l of water, g of food or of the animal
    products = models.JSONField(
        default=list, blank=True
    )  # supplements that were on what was eaten
    how = models.CharField(max_length=4, blank=True)  # of taming: calm, hid, bit
    note = models.CharField(max_length=300, blank=True)
    by = models.ForeignKey(Keeper, on_delete=models.SET_NULL, null=True, related_name="+")
    by_name = models.CharField(max_length=80, blank=True)  # of who came by a personal link
    undone_at = models.DateTimeField(null=True, blank=True)
    undone_by = models.ForeignKey(
        Keeper, on_delete=models.SET_NULL, null=True, blank=True, related_name="+"
    )
    touched_at = models.DateTimeField()  # when it was made or undone: what other pages ask for

    objects = EntryQuerySet.as_manager()

    class Meta:
        ordering = ["-at", "-pk"]
        constraints = [
            models.UniqueConstraint(
                fields=["household", "log_request"], name="entry_log_request_once"
            ),
            models.UniqueConstraint(
                fields=["household", "task"],
                condition=Q(undone_at__isnull=True),
                name="entry_task_once",
            ),
            models.CheckConstraint(
                name="entry_outcome_known", condition=Q(outcome__in=["done", "refused", "skipped"])
            ),
            models.CheckConstraint(
                name="entry_amount_not_negative",
                condition=Q(amount__isnull=True) | Q(amount__gte=0),
            ),
            models.CheckConstraint(
                name="entry_how_known", condition=Q(how__in=["", "calm", "hid", "bit"])
            ),
            models.CheckConstraint(
                name="entry_skip_has_reason", condition=~Q(outcome="skipped") | ~Q(note="")
            ),
        ]
        indexes = [
            models.Index(
                fields=["household", "-touched_at"], name="entry_touched"
            ),  # what others did since a moment
            models.Index(
                fields=["household", "-on"], name="entry_of_day"
            ),  # a day's round, a fortnight's log
            models.Index(fields=["household", "-at", "-id"], name="entry_latest"),  # the log
            models.Index(fields=["enclosure", "-at"], name="entry_of_enclosure"),
            models.Index(
                fields=["animal", "-on"], name="entry_of_animal"
            ),  # meals of the last weeks
        ]

    def __str__(self) -> str:
        return f"{self.task}: {self.outcome}"

    @property
    def who(self) -> str:
        """Who did it, by name; empty where the account is gone."""
        if self.by is not None:
            return self.by.first_name or self.by.username
        return self.by_name


class LastDone(models.Model):
    """When a routine was done last: a summary of the entries, made again from them when one is
    undone.
    """

    enclosure = models.ForeignKey(Enclosure, on_delete=models.CASCADE, related_name="lasts")
    animal = models.ForeignKey(
        Animal, on_delete=models.CASCADE, null=True, blank=True, related_name="lasts"
    )
    stem = models.CharField(max_length=60)
    on = models.DateField()

    class Meta:
        constraints = [
            models.UniqueConstraint(
                fields=["enclosure", "animal", "stem"], nulls_distinct=False, name="last_once"
            )
        ]

    def __str__(self) -> str:
        return f"{self.stem}: {self.on}"
