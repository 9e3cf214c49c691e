"""Pictures live in the database, so that one backup holds everything, or in a store (`stores`); a
picture is written with its note or not at all.
"""

from django.db import models

from ridgeback.animals.models import Animal
from ridgeback.households.models import Household, Keeper
from ridgeback.photos.stores import StoredBytesField


class PictureQuerySet(models.QuerySet["Picture"]):
    """Reading of pictures."""

    def of(self, household: Household | None) -> "PictureQuerySet":
        """A household's own: the one way in for every page."""
        return self.none() if household is None else self.filter(animal__household=household)

    def photographs(self) -> "PictureQuerySet":
        """Those of the animal itself: a scanned paper is nobody's to see but its keepers'."""
        return self.filter(is_scan=False)

    def light(self) -> "PictureQuerySet":
        """Without their bytes."""
        return self.defer("original", "body", "small")

    def ready(self) -> "PictureQuerySet":
        """Those that can be shown."""
        return self.filter(small__isnull=False)

    def waiting(self) -> "PictureQuerySet":
        """Those that a worker has not made small yet."""
        return self.filter(original__isnull=False)

    def with_state(self) -> "PictureQuerySet":
        """Without their bytes, but with whether they can be shown."""
        return self.light().annotate(shown=models.Q(small__isnull=False))


class Picture(models.Model):
    """A photo of an animal on a day: first as it was sent, then small; or with why it is none."""

    animal = models.ForeignKey(Animal, on_delete=models.CASCADE, related_name="pictures")
    on = models.DateField()
    note = models.CharField(max_length=200, blank=True)
    original = models.BinaryField(null=True)  # as it was sent, until a worker has made it small
    body = StoredBytesField(null=True)
    small = StoredBytesField(null=True)
    is_scan = models.BooleanField(default=False)  # of a paper, not of the animal
    problem = models.CharField(max_length=200, blank=True)  # why it could not be read
    by = models.ForeignKey(Keeper, on_delete=models.SET_NULL, null=True, related_name="+")

    objects = PictureQuerySet.as_manager()

    class Meta:
        ordering = ["-on", "-pk"]
        constraints = [
            models.CheckConstraint(
                name="picture_waits_is_made_or_failed",
                condition=models.Q(original__isnull=False, small__isnull=True)
                | models.Q(original__isnull=True, small__isnull=False, body__isnull=False)
                | (models.Q(original__isnull=True, small__isnull=True) & ~models.Q(problem="")),
            )
        ]
        indexes = [models.Index(fields=["animal", "-on"], name="picture_latest")]

    def __str__(self) -> str:
        return f"{self.animal} on {self.on}"
