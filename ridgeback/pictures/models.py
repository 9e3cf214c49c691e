"""Pictures live in the database: one backup holds everything, and a picture is written with its note or not at all."""

from django.db import models

from ridgeback.animals.models import Animal
from ridgeback.keepers.models import Household, Keeper


class PictureQuerySet(models.QuerySet["Picture"]):
    """Reading of pictures."""

    def of(self, household: Household | None) -> "PictureQuerySet":
        """A household's own: the one way in for every page."""
        return self.none() if household is None else self.filter(animal__household=household)


class Picture(models.Model):
    """A picture of an animal on a day."""

    animal = models.ForeignKey(Animal, on_delete=models.CASCADE, related_name="pictures")
    on = models.DateField()
    note = models.CharField(max_length=200, blank=True)
    body = models.BinaryField()
    small = models.BinaryField()
    by = models.ForeignKey(Keeper, on_delete=models.SET_NULL, null=True, related_name="+")

    objects = PictureQuerySet.as_manager()

    class Meta:
        ordering = ["-on", "-pk"]
        indexes = [models.Index(fields=["animal", "-on"], name="picture_latest")]

    def __str__(self) -> str:
        return f"{self.animal} on {self.on}"
