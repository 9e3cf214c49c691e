"""A keeper's own pace of a task, and tasks that a keeper thought of."""

from collections.abc import Iterable
from dataclasses import dataclass

from django.db import models
from django.db.models import Q

from husbandry.tasks.schedules import LONGEST_DAYS, OwnPace
from ridgeback.animals.models import Animal
from ridgeback.enclosures.models import Enclosure
from ridgeback.households.models import Household, Keeper

OWN = "own"
"""The kind of a task that a keeper thought of."""


class TaskScheduleQuerySet(models.QuerySet["TaskSchedule"]):
    """Reading of schedules."""

    def of(self, household: Household | None) -> "TaskScheduleQuerySet":
        """A household's own: the one way in for every page."""
        if household is None:
            return self.none()
        return self.filter(Q(enclosure__household=household) | Q(animal__household=household))

    def about(self, enclosures: Iterable[int], animals: Iterable[int]) -> "TaskScheduleQuerySet":
        """Those of these enclosures and of these animals: an animal takes its own along."""
        return self.filter(Q(enclosure__in=list(enclosures)) | Q(animal__in=list(animals)))


class TaskSchedule(models.Model):
    """How often something is done in an enclosure or with an animal, as its keeper wants it."""

    enclosure = models.ForeignKey(
        Enclosure, on_delete=models.CASCADE, null=True, blank=True, related_name="schedules"
    )
    animal = models.ForeignKey(
        Animal, on_delete=models.CASCADE, null=True, blank=True, related_name="schedules"
    )
    kind = models.CharField(max_length=20)  # of husbandry.tasks.kinds
    title = models.CharField(max_length=80, blank=True)  # of a task of the keeper's own
    every_days = models.PositiveSmallIntegerField(null=True, blank=True)
    weekdays = models.CharField(max_length=7, blank=True)  # digits, Monday is 0
    begins_on = models.DateField()
    made_by = models.ForeignKey(Keeper, on_delete=models.SET_NULL, null=True, related_name="+")

    objects = TaskScheduleQuerySet.as_manager()

    class Meta:
        ordering = ["pk"]
        constraints = [
            models.UniqueConstraint(
                fields=["enclosure", "animal", "kind"],
                condition=~Q(kind=OWN),
                nulls_distinct=False,
                name="schedule_once",
            ),
            models.CheckConstraint(
                name="schedule_of_one",
                condition=Q(enclosure__isnull=True) ^ Q(animal__isnull=True),
            ),
            models.CheckConstraint(
                name="schedule_paced_one_way",
                condition=(
                    Q(every_days__isnull=False, weekdays="")
                    & Q(every_days__range=(1, LONGEST_DAYS))
                )
                | (Q(every_days__isnull=True) & ~Q(weekdays="")),
            ),
            models.CheckConstraint(
                name="schedule_own_titled",
                condition=(Q(kind=OWN) & ~Q(title="")) | (~Q(kind=OWN) & Q(title="")),
            ),
        ]

    def __str__(self) -> str:
        return f"{self.title or self.kind}, {self.words}"

    @property
    def pace(self) -> OwnPace:
        """How often."""
        return OwnPace(self.every_days, frozenset(int(day) for day in self.weekdays))

    @property
    def words(self) -> str:
        """How often, in words: “every 14 days”, “Mon and Thu”."""
        return pace_words(self.pace)


WEEKDAYS = ("Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun")


def pace_words(pace: OwnPace) -> str:
    """Say a pace: “every day”, “every 14 days”, “Mon, Wed and Fri”."""
    if pace.every_days is not None:
        return every_words(pace.every_days)
    *first, last = [WEEKDAYS[day] for day in sorted(pace.weekdays)]
    return f"{', '.join(first)} and {last}" if first else f"every {last}"


def every_words(days: float) -> str:
    """Say how many days lie between two."""
    whole = round(days)
    return "every day" if whole <= 1 else f"every {whole} days"


@dataclass(frozen=True)
class KeeperSchedules:
    """The schedules of a few enclosures and their animals, by their keys."""

    of_enclosures: dict[int, list[TaskSchedule]]
    of_animals: dict[int, list[TaskSchedule]]


def schedules_of(enclosures: Iterable[int], animals: Iterable[int]) -> KeeperSchedules:
    """Read the schedules of enclosures and animals: one query, however many they are."""
    found = KeeperSchedules({}, {})
    for one in TaskSchedule.objects.about(enclosures, animals):
        if one.enclosure_id is not None:
            found.of_enclosures.setdefault(one.enclosure_id, []).append(one)
        elif one.animal_id is not None:
            found.of_animals.setdefault(one.animal_id, []).append(one)
    return found
