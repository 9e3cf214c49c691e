"""Stock by kind, and every movement of it.

Its amount is never below nothing, and what a meal took comes back when the meal is undone.
"""

from django.db import models
from django.db.models import Q

from husbandry.tasks.stocks import FoodMix, Lot, mix_of, weighed
from ridgeback.households.models import Household, Keeper
from ridgeback.log.models import LogEntry


class StockQuerySet(models.QuerySet["Stock"]):
    """Reading of stock."""

    def of(self, household: Household | None) -> "StockQuerySet":
        """A household's own: the one way in for every page."""
        return self.none() if household is None else self.filter(household=household)


class FoodRecipeQuerySet(models.QuerySet["FoodRecipe"]):
    """Reading of recipes."""

    def of(self, household: Household | None) -> "FoodRecipeQuerySet":
        """A household's own: the one way in for every page."""
        return self.none() if household is None else self.filter(household=household)


class Stock(models.Model):
    """One kind of food, or something else that runs out or grows old.

    `name` is a feeder's of the core where it is one.
    """

    class Place(models.TextChoices):
        FREEZER = "freezer", "freezer"
        FRIDGE = "fridge", "fridge"
        COLONY = "colony", "colony"
        SHELF = "shelf", "shelf"

    household = models.ForeignKey(Household, on_delete=models.CASCADE, related_name="stocks")
    name = models.CharField(max_length=80)
    place = models.CharField(max_length=7, choices=Place, default=Place.SHELF)
    amount = models.FloatField(default=0)  # animals or g; of other things, pieces
    lead_days = models.PositiveSmallIntegerField(default=3)
    # A food of the guide as which it is fed, such as a mouse of somebody's own breeding.
    stands_for = models.CharField(max_length=80, blank=True)
    piece_g = models.FloatField(null=True, blank=True)  # of one piece, where it was weighed
    is_weighed = models.BooleanField(default=False)  # its amount is a mass
    # Of a piece, or of 100 g, in the household's own money.
    price = models.FloatField(null=True, blank=True)
    came_on = models.DateField()
    opened_on = models.DateField(null=True, blank=True)
    best_before = models.DateField(null=True, blank=True)

    objects = StockQuerySet.as_manager()

    class Meta:
        ordering = ["name"]
        constraints = [
            models.UniqueConstraint(fields=["household", "name"], name="stock_name_once"),
            models.CheckConstraint(name="stock_not_below_nothing", condition=Q(amount__gte=0)),
            models.CheckConstraint(name="stock_lead_possible", condition=Q(lead_days__lte=90)),
            models.CheckConstraint(
                name="stock_piece_weighs",
                condition=Q(piece_g__isnull=True) | Q(piece_g__gt=0, piece_g__lte=20_000),
            ),
            models.CheckConstraint(
                name="stock_price_possible",
                condition=Q(price__isnull=True) | Q(price__gte=0, price__lte=1e6),
            ),
        ]

    def __str__(self) -> str:
        return self.name

    @property
    def by_mass(self) -> bool:
        """Whether its amount is a mass rather than a number."""
        return self.is_weighed or weighed(self.stands_for or self.name)

    @property
    def lot(self) -> Lot:
        """It, as the core takes meals from it."""
        return Lot(self.pk, self.name, self.amount, self.stands_for, self.piece_g, self.is_weighed)


class FoodRecipe(models.Model):
    """What a food that is weighed is put together of: a salad, a paste, soaked pellets."""

    household = models.ForeignKey(Household, on_delete=models.CASCADE, related_name="recipes")
    name = models.CharField(max_length=80)
    stands_for = models.CharField(max_length=80)
    parts = models.JSONField(default=dict)  # by name [g]
    water_g = models.FloatField(default=0)

    objects = FoodRecipeQuerySet.as_manager()

    class Meta:
        ordering = ["name"]
        constraints = [
            models.UniqueConstraint(
                fields=["household", "stands_for"], name="recipe_one_for_a_food"
            ),
            models.CheckConstraint(name="recipe_water_possible", condition=Q(water_g__gte=0)),
        ]

    def __str__(self) -> str:
        return self.name

    @property
    def mix(self) -> FoodMix:
        """It, in shares."""
        return mix_of(self.name, self.stands_for, self.parts, self.water_g)


class StockMovement(models.Model):
    """What came, went or was counted; of a meal, with its entry."""

    stock = models.ForeignKey(Stock, on_delete=models.CASCADE, related_name="movements")
    entry = models.ForeignKey(
        LogEntry, on_delete=models.CASCADE, null=True, blank=True, related_name="movements"
    )
    change = models.FloatField()
    short = models.FloatField(default=0)  # what a meal wanted and was not there by the books
    at = models.DateTimeField()
    by = models.ForeignKey(Keeper, on_delete=models.SET_NULL, null=True, related_name="+")
    note = models.CharField(max_length=60, blank=True)

    class Meta:
        ordering = ["-at", "-pk"]
        indexes = [models.Index(fields=["stock", "-at"], name="movement_latest")]

    def __str__(self) -> str:
        return f"{self.stock}: {self.change:+g}"
