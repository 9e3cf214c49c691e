"""Clutches, and what was seen of them.

A look is never changed; a clutch ends with its hatchlings or without.
"""

import datetime as dt
from typing import TYPE_CHECKING

from django.db import models
from django.db.models import F, Q

from husbandry.breeding.incubation import HatchWindow, window, window_between
from husbandry.breeding.medium import medium_top_up_g
from husbandry.species.library import find
from husbandry.species.profile import Profile
from ridgeback.animals.models import Animal, known_species
from ridgeback.households.models import Household, Keeper

if TYPE_CHECKING:
    from django.db.models.fields.related_descriptors import RelatedManager


class ClutchQuerySet(models.QuerySet["Clutch"]):
    """Reading of clutches."""

    def of(self, household: Household | None) -> "ClutchQuerySet":
        """A household's own: the one way in for every page."""
        return self.none() if household is None else self.filter(household=household)

    def going(self) -> "ClutchQuerySet":
        """Those that have not ended."""
        return self.filter(ended_on__isnull=True)


class Clutch(models.Model):
    """Eggs that were laid, or young that a mother carries; `laid_on` is then the day of mating."""

    household = models.ForeignKey(Household, on_delete=models.CASCADE, related_name="clutches")
    species = models.CharField(max_length=80, validators=[known_species])
    mother = models.ForeignKey(
        Animal, on_delete=models.SET_NULL, null=True, blank=True, related_name="clutches"
    )
    father = models.ForeignKey(
        Animal, on_delete=models.SET_NULL, null=True, blank=True, related_name="sired"
    )
    laid_on = models.DateField()  # of a clutch that was found: the last day on which it can be
    laid_from = models.DateField(null=True, blank=True)  # of one that was found: the first day
    count = models.PositiveSmallIntegerField(
        null=True, blank=True
    )  # of eggs; nobody counts the unborn
    set_c = models.FloatField(null=True, blank=True)  # of the incubator
    where = models.CharField(max_length=120, blank=True)
    ended_on = models.DateField(null=True, blank=True)
    hatched = models.PositiveSmallIntegerField(
        null=True, blank=True
    )  # of a clutch that was over before it was logged
    medium = models.CharField(max_length=20, blank=True)  # of husbandry.breeding.medium
    medium_g = models.FloatField(null=True, blank=True)  # dry
    box_g = models.FloatField(null=True, blank=True)  # closed, with everything in it

    objects = ClutchQuerySet.as_manager()

    if TYPE_CHECKING:
        looks: RelatedManager["EggLook"]
        hatchlings: RelatedManager["Hatchling"]

    class Meta:
        ordering = ["-laid_on", "-pk"]
        verbose_name_plural = "clutches"
        constraints = [
            models.CheckConstraint(
                name="clutch_count_possible",
                condition=Q(count__isnull=True) | Q(count__range=(1, 2000)),
            ),
            models.CheckConstraint(
                name="clutch_set_possible",
                condition=Q(set_c__isnull=True) | Q(set_c__range=(5, 40)),
            ),
            models.CheckConstraint(
                name="clutch_laid_between",
                condition=Q(laid_from__isnull=True) | Q(laid_from__lt=F("laid_on")),
            ),
            models.CheckConstraint(
                name="clutch_box_possible",
                condition=(Q(medium_g__isnull=True) | Q(medium_g__range=(1, 20_000)))
                & (Q(box_g__isnull=True) | Q(box_g__range=(1, 50_000))),
            ),
            models.CheckConstraint(
                name="clutch_ends_after_it_began",
                condition=Q(ended_on__isnull=True) | Q(ended_on__gte=F("laid_on")),
            ),
        ]

    def __str__(self) -> str:
        return f"{self.species}, {self.laid_on}"

    @property
    def profile(self) -> Profile:
        """Of its species."""
        return find(self.species)

    @property
    def carried(self) -> bool:
        """Its young are born alive."""
        return self.profile.young.bears == "live young"

    def window(self, today: dt.date) -> HatchWindow:
        """When they come. Reads the prefetched looks."""
        read = [(one.on, one.temp_c) for one in self.looks.all() if one.temp_c is not None]
        if self.laid_from is not None:
            return window_between(
                self.profile, self.laid_from, self.laid_on, self.set_c, read, today
            )
        return window(self.profile, self.laid_on, self.set_c, read, today)

    def lost_g(self) -> float | None:
        """Water that its box has lost by the last look that weighed it [g]; None where none did.

        What a look took out counts from there on.
        """
        weighed = [one for one in self.looks.all() if one.box_g is not None]
        if self.box_g is None or not weighed:
            return None
        last = max(weighed, key=lambda one: (one.on, one.pk))
        return medium_top_up_g(self.box_g, last.box_g or 0.0, 0.0)

    def left(self) -> int | None:
        """Eggs that are still good, by the last look that counted them."""
        counted = [one for one in self.looks.all() if one.good is not None]
        return max(counted, key=lambda one: (one.on, one.pk)).good if counted else self.count


class EggLook(models.Model):
    """A look at a clutch."""

    clutch = models.ForeignKey(Clutch, on_delete=models.CASCADE, related_name="looks")
    on = models.DateField()
    temp_c = models.FloatField(null=True, blank=True)
    good = models.PositiveSmallIntegerField(null=True, blank=True)  # eggs that are still good
    box_g = models.FloatField(null=True, blank=True)  # the closed box, when it was weighed
    note = models.CharField(max_length=200, blank=True)
    by = models.ForeignKey(Keeper, on_delete=models.SET_NULL, null=True, related_name="+")

    class Meta:
        ordering = ["-on", "-pk"]
        constraints = [
            models.CheckConstraint(
                name="look_temp_possible",
                condition=Q(temp_c__isnull=True) | Q(temp_c__range=(0, 50)),
            ),
            models.CheckConstraint(
                name="look_box_possible",
                condition=Q(box_g__isnull=True) | Q(box_g__range=(1, 50_000)),
            ),
        ]

    def __str__(self) -> str:
        return f"{self.clutch}: {self.on}"


class Hatchling(models.Model):
    """An animal that came of a clutch."""

    clutch = models.ForeignKey(Clutch, on_delete=models.CASCADE, related_name="hatchlings")
    animal = models.OneToOneField(Animal, on_delete=models.CASCADE, related_name="hatched")

    def __str__(self) -> str:
        return f"{self.animal} of {self.clutch}"
