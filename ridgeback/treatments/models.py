"""Treatments."""

import datetime as dt

from django.db import models
from django.db.models import F, Q

from husbandry.tasks.treatments import Treatment as CoreTreatment
from ridgeback.animals.models import Animal
from ridgeback.households.models import Keeper


class Treatment(models.Model):
    """What a veterinarian prescribed, from day to day.

    It is stopped, never changed: what was given before stays true.
    """

    animal = models.ForeignKey(Animal, on_delete=models.CASCADE, related_name="treatments")
    words = models.CharField(max_length=400)  # the veterinarian's own
    by = models.CharField(max_length=120)
    begins = models.DateField()
    ends = models.DateField()
    every_days = models.PositiveSmallIntegerField(default=1)
    times = models.PositiveSmallIntegerField(default=1)
    stopped_on = models.DateField(null=True, blank=True)
    kept_by = models.ForeignKey(Keeper, on_delete=models.SET_NULL, null=True, related_name="+")

    class Meta:
        ordering = ["-begins", "-pk"]
        constraints = [
            models.CheckConstraint(
                name="treatment_ends_after_it_began", condition=Q(ends__gte=F("begins"))
            ),
            models.CheckConstraint(
                name="treatment_times_possible",
                condition=Q(times__range=(1, 6), every_days__range=(1, 60)),
            ),
        ]
        indexes = [models.Index(fields=["animal", "-ends"], name="treatment_latest")]

    def __str__(self) -> str:
        return f"{self.animal}: {self.words[:40]}"

    def core(self) -> CoreTreatment:
        """As the core counts its days."""
        ends = (
            self.ends
            if self.stopped_on is None
            else min(self.ends, self.stopped_on - dt.timedelta(days=1))
        )
        return CoreTreatment(
            self.pk, self.words, self.by, self.begins, ends, self.every_days, self.times
        )


def treatments_of(animals: list[int], today: dt.date) -> dict[int, list[CoreTreatment]]:
    """Treatments that go on or are to come, by animal, in one query."""
    found: dict[int, list[CoreTreatment]] = {}
    going = Treatment.objects.filter(animal__in=animals, ends__gte=today).filter(
        Q(stopped_on__isnull=True) | Q(stopped_on__gt=today)
    )
    for one in going.order_by("begins", "pk"):
        found.setdefault(one.animal_id, []).append(one.core())
    return found
