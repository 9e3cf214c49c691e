"""People, households and rooms.

Every private row of the application belongs to a household and is fetched through it.
"""

import datetime as dt
import functools
import zoneinfo
from typing import TYPE_CHECKING

from django.contrib.auth.models import AbstractUser
from django.core.exceptions import ValidationError
from django.core.validators import RegexValidator
from django.db import models
from django.db.models import Q
from django.utils.http import urlencode

from husbandry.documents.room import Place
from husbandry.quantity import PLAUSIBLE, Units
from ridgeback import clock
from ridgeback.versions import Versioned

if TYPE_CHECKING:
    from django.db.models.fields.related_descriptors import RelatedManager

    from ridgeback.animals.models import Animal
    from ridgeback.enclosures.models import Enclosure
    from ridgeback.species_guide.models import ProfileEdits


def valid_zone(name: str) -> None:
    """Refuse what is not a time zone."""
    try:
        zoneinfo.ZoneInfo(name)
    except (zoneinfo.ZoneInfoNotFoundError, ValueError, OSError):
        raise ValidationError(f"“{name}” is not a time zone such as Europe/Lisbon.") from None


class Keeper(AbstractUser):
    """A person, with the units and the theme they read in."""

    class System(models.TextChoices):
        METRIC = "metric", "cm"
        US = "us", "in"

    class Temperature(models.TextChoices):
        CELSIUS = "c", "°C"
        FAHRENHEIT = "f", "°F"

    class Theme(models.TextChoices):
        SYSTEM = "system", "as the device"
        LIGHT = "light", "light"
        DARK = "dark", "dark"

    units_system = models.CharField(max_length=6, choices=System, default=System.METRIC)
    units_temperature = models.CharField(
        max_length=1, choices=Temperature, default=Temperature.CELSIUS
    )
    theme = models.CharField(max_length=6, choices=Theme, default=Theme.SYSTEM)
    closes_at = models.DateTimeField(null=True, blank=True)  # the account ends then

    class Meta:
        constraints = [
            models.CheckConstraint(
                name="keeper_units_system_known", condition=Q(units_system__in=["metric", "us"])
            ),
            models.CheckConstraint(
                name="keeper_units_temperature_known",
                condition=Q(units_temperature__in=["c", "f"]),
            ),
            models.CheckConstraint(
                name="keeper_theme_known", condition=Q(theme__in=["system", "light", "dark"])
            ),
        ]
        required_db_vendor = "postgresql"

    @property
    def units(self) -> Units:
        """The reader's units, as the core takes them."""
        return Units(
            "us" if self.units_system == "us" else "metric",
            "f" if self.units_temperature == "f" else "c",
        )


class Household(Versioned):
    """Who shares animals and enclosures.

    `demo_day` marks the demo household: the day its dates are relative to.
    """

    name = models.CharField(max_length=80)
    demo_day = models.DateField(null=True, blank=True)
    # Of a visitor's copy of the demo: when it is deleted. The template has none.
    visit_ends = models.DateTimeField(null=True, blank=True, db_index=True)
    created_at = models.DateTimeField(auto_now_add=True)
    # Guide prices are in euros; a household reads them in its own money.
    currency = models.CharField(
        max_length=3,
        default="EUR",
        validators=[RegexValidator(r"^[A-Z]{3}$", "Three capital letters, such as EUR.")],
    )
    euro_rate = models.FloatField(default=1.0)
    kwh_price = models.FloatField(default=0.3)
    # What a bag of each substrate holds [l] and costs, as this household buys it, by the names of
    # husbandry.enclosure.substrate_layers.
    bags = models.JSONField(default=dict, blank=True)
    freezer_l = models.FloatField(null=True, blank=True)  # for food [l]

    browser_zone = ""
    """What the reader's browser says, set by the middleware for this request alone."""

    if TYPE_CHECKING:
        rooms: RelatedManager["Room"]
        animals: RelatedManager["Animal"]
        enclosures: RelatedManager["Enclosure"]
        profile_edits: RelatedManager["ProfileEdits"]

    class Meta:
        constraints = [
            models.UniqueConstraint(
                models.Value(1),
                condition=Q(demo_day__isnull=False, visit_ends__isnull=True),
                name="household_one_demo",
            ),
            models.CheckConstraint(
                name="household_freezer",
                condition=Q(freezer_l__isnull=True) | Q(freezer_l__gt=0, freezer_l__lte=5000),
            ),
            models.CheckConstraint(
                name="household_money",
                condition=Q(
                    euro_rate__gt=0, euro_rate__lte=1e6, kwh_price__gte=0, kwh_price__lte=1e6
                ),
            ),
        ]

    def __str__(self) -> str:
        return self.name

    @functools.cached_property
    def time_zone(self) -> str:
        """The zone of its first room; before there is one, that of the browser or UTC."""
        first: str | None
        if "first_zone" in self.__dict__:
            first = self.__dict__["first_zone"]
        else:
            first = self.rooms.order_by("pk").values_list("time_zone", flat=True).first()
        return first or self.browser_zone or "UTC"

    def day_of(self, moment: dt.datetime) -> dt.date:
        """The date in the household at a moment."""
        return clock.day_in(self.time_zone, moment)


class Membership(models.Model):
    """A person's part in a household."""

    class Role(models.TextChoices):
        OWNER = "owner", "owner"
        KEEPER = "keeper", "keeper"
        SITTER = "sitter", "sitter"
        VIEWER = "viewer", "viewer"

    household = models.ForeignKey(Household, on_delete=models.CASCADE, related_name="memberships")
    keeper = models.ForeignKey(Keeper, on_delete=models.CASCADE, related_name="memberships")
    role = models.CharField(max_length=6, choices=Role, default=Role.OWNER)
    from_on = models.DateField(null=True, blank=True)  # of a sitter: the first day
    until_on = models.DateField(null=True, blank=True)  # and the last

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["household", "keeper"], name="membership_once"),
            models.CheckConstraint(
                name="membership_role_known",
                condition=Q(role__in=["owner", "keeper", "sitter", "viewer"]),
            ),
            models.CheckConstraint(
                name="membership_sitter_dated",
                condition=~Q(role="sitter")
                | Q(from_on__isnull=False, until_on__gte=models.F("from_on")),
            ),
        ]

    def __str__(self) -> str:
        return f"{self.keeper} in {self.household}"

    def is_open(self, day: dt.date) -> bool:
        """Whether it lets its keeper in on that day: a sitter on the days agreed."""
        if self.role == self.Role.VIEWER:
            return False  # a viewer comes by a personal link
        if self.role != self.Role.SITTER or self.from_on is None or self.until_on is None:
            return self.role != self.Role.SITTER
        return self.from_on <= day <= self.until_on


class SavedFilter(models.Model):
    """What a keeper searches a list for again and again."""

    class Page(models.TextChoices):
        ANIMALS = "animals", "animals"
        ENCLOSURES = "enclosures", "enclosures"

    household = models.ForeignKey(Household, on_delete=models.CASCADE, related_name="filters")
    keeper = models.ForeignKey(Keeper, on_delete=models.CASCADE, related_name="filters")
    page = models.CharField(max_length=10, choices=Page)  # the list it belongs to
    name = models.CharField(max_length=40)
    query = models.CharField(max_length=80, blank=True)
    state = models.CharField(max_length=12, blank=True)

    class Meta:
        ordering = ["name"]
        constraints = [
            models.UniqueConstraint(
                fields=["household", "keeper", "page", "name"], name="filter_name_once"
            ),
            models.CheckConstraint(
                name="filter_page_known", condition=Q(page__in=["animals", "enclosures"])
            ),
        ]

    def __str__(self) -> str:
        return f"{self.name} ({self.page})"

    @property
    def address(self) -> str:
        """The end of the list's address."""
        return urlencode({"query": self.query, "state": self.state})


AIR_C = PLAUSIBLE["room"].possible
"""What the air of a room can be [°C]."""


class Room(Versioned):
    """A room: where it is, and its own air."""

    household = models.ForeignKey(Household, on_delete=models.CASCADE, related_name="rooms")
    name = models.CharField(max_length=80)
    latitude_deg = models.FloatField(default=0)
    longitude_deg = models.FloatField(default=0)
    time_zone = models.CharField(max_length=64, default="UTC", validators=[valid_zone])
    day_c = models.FloatField()
    night_c = models.FloatField()
    summer_max_c = models.FloatField()
    rh_pct = models.FloatField()
    # Of its seasons, where somebody said so.
    winter_day_c = models.FloatField(null=True, blank=True)
    winter_rh_pct = models.FloatField(null=True, blank=True)
    summer_rh_pct = models.FloatField(null=True, blank=True)
    has_cats = models.BooleanField(default=False)  # they come into it
    has_dogs = models.BooleanField(default=False)
    walk = models.PositiveSmallIntegerField(
        null=True, blank=True
    )  # its place among the day's tasks; None: by its name, after those that have one

    class Meta:
        ordering = ["name"]
        constraints = [
            models.UniqueConstraint(fields=["household", "name"], name="room_name_once"),
            models.CheckConstraint(
                name="room_rh_in_percent", condition=Q(rh_pct__gte=0, rh_pct__lte=100)
            ),
            models.CheckConstraint(
                name="room_seasons_possible",
                condition=(Q(winter_day_c__isnull=True) | Q(winter_day_c__range=AIR_C))
                & (Q(winter_rh_pct__isnull=True) | Q(winter_rh_pct__gte=0, winter_rh_pct__lte=100))
                & (
                    Q(summer_rh_pct__isnull=True) | Q(summer_rh_pct__gte=0, summer_rh_pct__lte=100)
                ),
            ),
            models.CheckConstraint(
                name="room_air_possible",
                condition=Q(day_c__range=AIR_C, night_c__range=AIR_C, summer_max_c__range=AIR_C),
            ),
            models.CheckConstraint(
                name="room_seasons_in_order",
                condition=Q(summer_max_c__gte=models.F("day_c"))
                & (Q(winter_day_c__isnull=True) | Q(winter_day_c__lte=models.F("day_c"))),
            ),
            models.CheckConstraint(
                name="room_latitude", condition=Q(latitude_deg__gte=-90, latitude_deg__lte=90)
            ),
            models.CheckConstraint(
                name="room_longitude", condition=Q(longitude_deg__gte=-180, longitude_deg__lte=180)
            ),
        ]

    AIR = ("day_c", "night_c", "summer_max_c", "rh_pct")
    PETS = ("has_cats", "has_dogs")
    SEASONS = ("winter_day_c", "winter_rh_pct", "summer_rh_pct")

    @property
    def place(self) -> Place:
        """Where on Earth it is."""
        return Place(lat=self.latitude_deg, lon=self.longitude_deg, tz=self.time_zone)

    def __str__(self) -> str:
        return self.name

    def day_of(self, moment: dt.datetime) -> dt.date:
        """The date there at a moment."""
        return clock.day_in(self.time_zone, moment)

    def air(self) -> dict[str, float]:
        """Its air as a plan takes it, of its seasons what was said; and who else comes in."""
        said = {
            name: getattr(self, name) for name in self.SEASONS if getattr(self, name) is not None
        }
        return {name: getattr(self, name) for name in (*self.AIR, *self.PETS)} | said
