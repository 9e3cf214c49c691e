"""Brumations that were planned."""

import datetime as dt

from django.db import models
from django.db.models import F, OuterRef, Q, QuerySet, Subquery

from husbandry.seasons.brumation import Dormancy, plan_dormancy, plan_summer
from husbandry.species.library import find
from ridgeback.animals.models import Animal
from ridgeback.households.models import Household, Keeper


def planned_dormancy(species: str, season: str, begins: dt.date, weeks: float) -> Dormancy:
    """The days of a rest, of winter or of summer."""
    return (plan_summer if season == "summer" else plan_dormancy)(find(species), begins, weeks)


class BrumationQuerySet(models.QuerySet["Brumation"]):
    """Reading of rests."""

    def of(self, household: Household | None) -> "BrumationQuerySet":
        """A household's own: the one way in for every page."""
        return self.none() if household is None else self.filter(animal__household=household)

    def going(self) -> "BrumationQuerySet":
        """Those that nobody stopped."""
        return self.filter(stopped_on__isnull=True)


class Brumation(models.Model):
    """An animal's rest, of winter or of summer: when it begins in full and for how many weeks.

    All its days follow from these.
    """

    class Season(models.TextChoices):
        WINTER = "winter", "winter"
        SUMMER = "summer", "summer"

    season = models.CharField(max_length=6, choices=Season, default=Season.WINTER)
    animal = models.ForeignKey(Animal, on_delete=models.CASCADE, related_name="brumations")
    begins_on = models.DateField()
    weeks = models.FloatField()
    agreed = models.CharField(
        max_length=200, blank=True
    )  # the veterinarian who agreed, where something spoke against it
    kept_at = models.DateTimeField()
    kept_by = models.ForeignKey(Keeper, on_delete=models.SET_NULL, null=True, related_name="+")
    stopped_on = models.DateField(null=True, blank=True)

    objects = BrumationQuerySet.as_manager()

    class Meta:
        ordering = ["-begins_on", "-pk"]
        constraints = [
            models.UniqueConstraint(
                fields=["animal", "begins_on"],
                condition=Q(stopped_on__isnull=True),
                name="rest_once",
            ),
            models.CheckConstraint(
                name="rest_season_known", condition=Q(season__in=["winter", "summer"])
            ),
            models.CheckConstraint(
                name="rest_weeks_possible", condition=Q(weeks__gt=0, weeks__lte=30)
            ),
        ]
        indexes = [models.Index(F("animal"), F("begins_on").desc(), name="rest_latest")]

    def __str__(self) -> str:
        return f"{self.animal}, from {self.begins_on}"

    def plan(self) -> Dormancy:
        """Its days, by its species."""
        return planned_dormancy(self.animal.species, self.season, self.begins_on, self.weeks)


LONGEST_DAYS = 300
"""From the last meal before a rest to the first after it, at the very most [days]."""


def _near(today: dt.date) -> BrumationQuerySet:
    near = today - dt.timedelta(days=LONGEST_DAYS), today + dt.timedelta(days=LONGEST_DAYS)
    return Brumation.objects.going().filter(begins_on__range=near)


def dormancies_of(animals: list[int], today: dt.date) -> dict[int, Dormancy]:
    """The rests of these animals that a day may lie in, in one query; of two the earlier."""
    kept = _near(today).filter(animal__in=animals).select_related("animal").order_by("-begins_on")
    return {one.animal_id: one.plan() for one in kept}


def with_dormancies(
    animals: QuerySet[Animal], today: dt.date
) -> list[tuple[Animal, Dormancy | None]]:
    """These animals, each with the rest that a day may lie in, in the query that reads them."""
    first = _near(today).filter(animal=OuterRef("pk")).order_by("begins_on")
    read = animals.annotate(
        dormancy_on=Subquery(first.values("begins_on")[:1]),
        dormancy_weeks=Subquery(first.values("weeks")[:1]),
        dormancy_season=Subquery(first.values("season")[:1]),
    )
    return [
        (
            one,
            (
                planned_dormancy(
                    one.species, one.dormancy_season, one.dormancy_on, one.dormancy_weeks
                )
                if one.dormancy_on
                else None
            ),
        )
        for one in read
    ]
