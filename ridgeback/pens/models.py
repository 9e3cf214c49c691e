"""A pen as its keeper described it, who goes out into it, and when they were out."""

import datetime as dt
from typing import TYPE_CHECKING, Any

from django.core.exceptions import ValidationError
from django.db import models
from django.db.models import F, Q
from pydantic import ValidationError as SpecError

from husbandry.derivation import Document
from husbandry.documents.room import Place
from husbandry.pens.pen import PenSpec
from husbandry.pens.plan import PenClimate
from husbandry.quantity import PLAUSIBLE
from ridgeback.animals.models import Animal
from ridgeback.households.models import Household, Keeper, Room

if TYPE_CHECKING:
    from django.db.models.fields.related_descriptors import RelatedManager

SHADE_C = PLAUSIBLE["outdoors"].possible
"""Temperatures that can be true outdoors [°C]."""


def sound_spec(value: Any) -> None:
    """Refuse what is no pen."""
    _sound(PenSpec, value)


def sound_climate(value: Any) -> None:
    """Refuse what is no climate."""
    _sound(PenClimate, value)


def _sound(kind: type[Document], value: Any) -> None:
    try:
        kind.model_validate(value)
    except SpecError as why:
        raise ValidationError(str(why.errors()[0]["msg"])) from None


class PenQuerySet(models.QuerySet["Pen"]):
    """Reading of pens."""

    def of(self, household: Household | None) -> "PenQuerySet":
        """A household's own: the one way in for every page."""
        return self.none() if household is None else self.filter(household=household)

    def for_planning(self) -> "PenQuerySet":
        """With everything a plan of it needs."""
        animals = (
            PenAnimal.objects.filter(animal__gone_on__isnull=True)
            .select_related("animal", "animal__household")
            .prefetch_related("animal__weighings", "animal__lengths")
            .order_by("animal__name", "animal_id")
        )
        return self.select_related("room", "household").prefetch_related(
            models.Prefetch("pen_animals", queryset=animals, to_attr="members")
        )


class Pen(models.Model):
    """An outdoor pen."""

    household = models.ForeignKey(Household, on_delete=models.CASCADE, related_name="pens")
    name = models.CharField(max_length=80)
    # Its sun is that of where this room is; None: the place is not known, the equator's.
    room = models.ForeignKey(Room, on_delete=models.SET_NULL, null=True, blank=True)
    spec = models.JSONField(default=dict, blank=True, validators=[sound_spec])
    # The spec before the last change.
    previous = models.JSONField(null=True, blank=True, validators=[sound_spec])
    climate = models.JSONField(default=dict, blank=True, validators=[sound_climate])
    animals = models.ManyToManyField(Animal, through="PenAnimal", related_name="pens", blank=True)
    created_at = models.DateTimeField(auto_now_add=True)

    objects = PenQuerySet.as_manager()

    if TYPE_CHECKING:
        pen_animals: RelatedManager["PenAnimal"]
        outings: RelatedManager["Outing"]
        members: list["PenAnimal"]

    class Meta:
        ordering = ["name", "pk"]
        constraints = [models.UniqueConstraint(fields=["household", "name"], name="pen_name_once")]

    def __str__(self) -> str:
        return self.name

    @property
    def described(self) -> PenSpec:
        """As it stands."""
        return PenSpec.model_validate(self.spec)

    @property
    def usual_climate(self) -> PenClimate:
        """What is usual where it stands."""
        return PenClimate.model_validate(self.climate)

    @property
    def place(self) -> Place:
        """Where on Earth it is."""
        return self.room.place if self.room is not None else Place()


class PenAnimal(models.Model):
    """An animal that goes out into a pen."""

    pen = models.ForeignKey(Pen, on_delete=models.CASCADE, related_name="pen_animals")
    animal = models.ForeignKey(Animal, on_delete=models.CASCADE, related_name="pen_animals")

    class Meta:
        constraints = [models.UniqueConstraint(fields=["pen", "animal"], name="pen_animal_once")]

    def __str__(self) -> str:
        return f"{self.animal} in {self.pen}"


class Outing(models.Model):
    """A time outside; `in_at` is empty while they are out."""

    pen = models.ForeignKey(Pen, on_delete=models.CASCADE, related_name="outings")
    out_at = models.DateTimeField()
    in_at = models.DateTimeField(null=True, blank=True)
    shade_c = models.FloatField(null=True, blank=True)  # measured in the shade before they came in
    by = models.ForeignKey(Keeper, on_delete=models.SET_NULL, null=True, related_name="+")
    animals = models.ManyToManyField(Animal, through="OutingAnimal", related_name="outings")

    class Meta:
        ordering = ["-out_at", "-pk"]
        constraints = [
            models.CheckConstraint(
                name="outing_in_order", condition=Q(in_at__isnull=True) | Q(in_at__gte=F("out_at"))
            ),
            models.CheckConstraint(
                name="outing_shade_possible",
                condition=Q(shade_c__isnull=True) | Q(shade_c__range=SHADE_C),
            ),
            models.UniqueConstraint(
                fields=["pen"], condition=Q(in_at__isnull=True), name="outing_open_once"
            ),
        ]

    def __str__(self) -> str:
        return f"{self.pen} from {self.out_at:%Y-%m-%d %H:%M}"

    @property
    def lasted(self) -> dt.timedelta | None:
        """How long they were out; None while they are."""
        return None if self.in_at is None else self.in_at - self.out_at


class OutingAnimal(models.Model):
    """Who was out; others may go out into the pen later."""

    outing = models.ForeignKey(Outing, on_delete=models.CASCADE, related_name="outing_animals")
    animal = models.ForeignKey(Animal, on_delete=models.CASCADE, related_name="outing_animals")

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["outing", "animal"], name="outing_animal_once")
        ]

    def __str__(self) -> str:
        return f"{self.animal}: {self.outing}"
