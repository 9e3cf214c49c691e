"""Animals and what the scale and the tape said of them."""

from typing import TYPE_CHECKING

from django.contrib.postgres.aggregates import StringAgg
from django.core.exceptions import ValidationError
from django.db import models
from django.db.models import Q
from django.db.models.functions import Concat

from husbandry.species.library import library
from ridgeback.keepers.models import Household

if TYPE_CHECKING:
    from django.db.models.fields.related_descriptors import RelatedManager

    from ridgeback.habitats.models import Occupancy


def known_species(name: str) -> None:
    """Refuse a species without a profile."""
    if name not in library():
        raise ValidationError(f"There is no profile of “{name}” yet.")


class AnimalQuerySet(models.QuerySet["Animal"]):
    """Reading of animals."""

    def of(self, household: Household | None) -> "AnimalQuerySet":
        """A household's own: the one way in for every page."""
        return self.none() if household is None else self.filter(household=household)

    def with_token(self) -> "AnimalQuerySet":
        """With all its weights and lengths as one text each, made by the database: what its growth is remembered by."""

        def joined(rows: "models.QuerySet[Weighing] | models.QuerySet[Length]", *parts: str) -> models.Subquery:
            text = Concat(
                *(item for part in parts for item in (models.F(part), models.Value(" "))), output_field=models.TextField()
            )
            told = rows.filter(animal=models.OuterRef("pk")).order_by().values("animal")
            return models.Subquery(told.annotate(text=StringAgg(text, models.Value(";"), order_by=("on", "pk"))).values("text"))

        return self.annotate(
            weights_token=joined(Weighing.objects.all(), "on", "mass_g"),
            lengths_token=joined(Length.objects.all(), "on", "kind", "length_mm"),
        )


class Animal(models.Model):
    """One animal. `schools` maps a question's slug to the keeper's school (husbandry/species/schools.json)."""

    class Sex(models.TextChoices):
        FEMALE = "female", "female"
        MALE = "male", "male"
        UNKNOWN = "unknown", "unknown"

    household = models.ForeignKey(Household, on_delete=models.CASCADE, related_name="animals")
    name = models.CharField(max_length=80)
    species = models.CharField(max_length=80, validators=[known_species])
    sex = models.CharField(max_length=7, choices=Sex, default=Sex.UNKNOWN)
    born_on = models.DateField(null=True, blank=True)
    fed_on = models.DateField(null=True, blank=True, help_text="a day on which it was fed; intervals count from there")
    schools = models.JSONField(default=dict, blank=True)

    objects = AnimalQuerySet.as_manager()

    if TYPE_CHECKING:
        weighings: RelatedManager["Weighing"]
        lengths: RelatedManager["Length"]
        occupancies: RelatedManager["Occupancy"]
        weights_token: str | None
        lengths_token: str | None

    class Meta:
        ordering = ["name"]
        constraints = [models.CheckConstraint(name="animal_sex_known", condition=Q(sex__in=["female", "male", "unknown"]))]

    def __str__(self) -> str:
        return self.name

    def mass_g(self) -> float | None:
        """Of the last weighing [g]. Reads the prefetched rows."""
        return max(self.weighings.all(), key=lambda w: (w.on, w.pk)).mass_g if self.weighings.all() else None

    def length_mm(self) -> dict[str, float]:
        """The last length of each kind [mm]."""
        latest: dict[str, Length] = {}
        for length in sorted(self.lengths.all(), key=lambda item: (item.on, item.pk)):
            latest[length.kind] = length
        return {kind: length.length_mm for kind, length in latest.items()}

    def data(self) -> dict[str, object]:
        """The animal as a request writes it."""
        days = {"born_on": self.born_on, "fed_on": self.fed_on}
        known = {name: day.isoformat() for name, day in days.items() if day} | (
            {"mass_g": mass} if (mass := self.mass_g()) else {}
        )
        own = {
            "name": self.name,
            "species": self.species,
            "sex": self.sex,
            "length_mm": self.length_mm(),
            "schools": self.schools,
        }
        return own | known


class Weighing(models.Model):
    """A mass on a day."""

    animal = models.ForeignKey(Animal, on_delete=models.CASCADE, related_name="weighings")
    on = models.DateField()
    mass_g = models.FloatField()

    class Meta:
        ordering = ["on", "pk"]
        constraints = [models.CheckConstraint(name="weighing_mass_positive", condition=Q(mass_g__gt=0, mass_g__lte=500_000))]
        indexes = [models.Index(fields=["animal", "-on"], name="weighing_latest")]  # the last weight of an animal

    def __str__(self) -> str:
        return f"{self.mass_g:g} g on {self.on}"


class Length(models.Model):
    """A length on a day."""

    class Kind(models.TextChoices):
        TOTAL = "total", "total length"
        SNOUT_VENT = "snout_vent", "snout to vent"
        SHELL = "shell", "shell"

    animal = models.ForeignKey(Animal, on_delete=models.CASCADE, related_name="lengths")
    on = models.DateField()
    kind = models.CharField(max_length=10, choices=Kind)
    length_mm = models.FloatField()

    class Meta:
        ordering = ["on", "pk"]
        constraints = [models.CheckConstraint(name="length_positive", condition=Q(length_mm__gt=0, length_mm__lte=15_000))]
        indexes = [models.Index(fields=["animal", "-on"], name="length_latest")]  # the last length of an animal

    def __str__(self) -> str:
        return f"{self.length_mm:g} mm on {self.on}"
