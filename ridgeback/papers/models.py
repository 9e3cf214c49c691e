"""What a keeper knows and no plan does: whom to call, where things are, what is normal."""

from django.db import models

from ridgeback.enclosures.models import Enclosure
from ridgeback.households.models import Household


class CareNotes(models.Model):
    """What whoever looks after a household must know."""

    household = models.OneToOneField(
        Household, on_delete=models.CASCADE, related_name="care_notes"
    )
    call = models.TextField(max_length=1000, blank=True)  # whom, in which order, with numbers
    vet = models.TextField(max_length=500, blank=True)
    places = models.TextField(max_length=1000, blank=True)  # where food, tools and fuses are
    never = models.TextField(max_length=1000, blank=True)

    class Meta:
        verbose_name_plural = "care notes"

    def __str__(self) -> str:
        return f"care notes of {self.household}"


class EnclosureNotes(models.Model):
    """What is normal in one enclosure, and what is not."""

    enclosure = models.OneToOneField(
        Enclosure, on_delete=models.CASCADE, related_name="care_notes"
    )
    normal = models.TextField(max_length=500, blank=True)
    watch = models.TextField(max_length=500, blank=True)

    class Meta:
        verbose_name_plural = "enclosure notes"

    def __str__(self) -> str:
        return f"care notes of {self.enclosure}"
