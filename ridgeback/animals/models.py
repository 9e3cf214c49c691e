"""Animals and what the scale and the tape said of them."""

import datetime as dt
import functools
from typing import TYPE_CHECKING

from django.contrib.postgres.aggregates import StringAgg
from django.core.exceptions import ValidationError
from django.db import models
from django.db.models import Q
from django.db.models.functions import Concat

from husbandry.bounds import LENGTH_MM, MASS_G
from husbandry.feeding.condition import TREND_DAYS, trend_pct
from husbandry.findings.quarantine import Quarantine, quarantine_of
from husbandry.species.library import library
from ridgeback import clock
from ridgeback.households.models import Household
from ridgeback.versions import Versioned

if TYPE_CHECKING:
    from django.db.models.fields.related_descriptors import RelatedManager

    from ridgeback.enclosures.models import OccupancyQuerySet


def known_species(name: str) -> None:
    """Refuse a species without a profile."""
    if name not in library():
        raise ValidationError(f"There is no profile of “{name}” yet.")


class AnimalQuerySet(models.QuerySet["Animal"]):
    """Reading of animals."""

    def of(self, household: Household | None) -> "AnimalQuerySet":
        """A household's own: the one way in for every page."""
        return self.none() if household is None else self.filter(household=household)

    def here(self) -> "AnimalQuerySet":
        """Those that are neither dead nor another's."""
        return self.filter(gone_on__isnull=True)

    def with_token(self) -> "AnimalQuerySet":
        """With all its weights and lengths as one text each, made by the database: what its growth
        is remembered by.
        """

        def joined(
            rows: "models.QuerySet[Weighing] | models.QuerySet[Length]", *parts: str
        ) -> models.Subquery:
            text = Concat(
                *(item for part in parts for item in (models.F(part), models.Value(" "))),
                output_field=models.TextField(),
            )
            told = rows.filter(animal=models.OuterRef("pk")).order_by().values("animal")
            return models.Subquery(
                told.annotate(
                    text=StringAgg(text, models.Value(";"), order_by=("on", "pk"))
                ).values("text")
            )

        return self.annotate(
            weights_token=joined(Weighing.objects.all(), "on", "mass_g"),
            lengths_token=joined(Length.objects.all(), "on", "kind", "length_mm"),
        )


class Animal(Versioned):
    """One animal.

    `approaches` maps a question's slug to the keeper's approach
    (husbandry/species/approaches.json).
    """

    class Sex(models.TextChoices):
        FEMALE = "female", "female"
        MALE = "male", "male"
        UNKNOWN = "unknown", "unknown"

    class Whereabouts(models.TextChoices):
        HERE = "", "with us"
        WANTED = "wanted", "wanted, none chosen yet"
        ARRIVING = "arriving", "chosen, not here yet"
        ELSEWHERE = "elsewhere", "elsewhere for now"

    class DepartureReason(models.TextChoices):
        DIED = "died", "died"
        SOLD = "sold", "sold"
        GIVEN = "given", "given away"

    household = models.ForeignKey(Household, on_delete=models.CASCADE, related_name="animals")
    name = models.CharField(max_length=80)
    species = models.CharField(max_length=80, validators=[known_species])
    sex = models.CharField(max_length=7, choices=Sex, default=Sex.UNKNOWN)
    born_on = models.DateField(null=True, blank=True)
    came_on = models.DateField(
        null=True, blank=True
    )  # to this household, where it was not bred here: quarantine counts from it
    fed_on = models.DateField(
        null=True, blank=True, help_text="a day on which it was fed; intervals count from there"
    )
    approaches = models.JSONField(default=dict, blank=True)
    condition = models.PositiveSmallIntegerField(
        null=True, blank=True
    )  # of five, as scored last; the ledger has the earlier ones
    condition_on = models.DateField(null=True, blank=True)
    taming_since = models.DateField(
        null=True, blank=True
    )  # its sessions count from here; None: it is left in peace
    whereabouts = models.CharField(max_length=9, choices=Whereabouts, blank=True)
    expected_on = models.DateField(
        null=True, blank=True
    )  # the day on which one that is not here comes, or comes back
    place_note = models.CharField(max_length=80, blank=True)  # where it is meanwhile
    gone_on = models.DateField(null=True, blank=True)
    gone = models.CharField(max_length=8, choices=DepartureReason, blank=True)

    objects = AnimalQuerySet.as_manager()

    if TYPE_CHECKING:
        weighings: RelatedManager["Weighing"]
        lengths: RelatedManager["Length"]
        occupancies: OccupancyQuerySet
        condition_periods: RelatedManager["ConditionPeriod"]
        weights_token: str | None
        lengths_token: str | None

    class Meta:
        ordering = ["name"]
        constraints = [
            models.CheckConstraint(
                name="animal_sex_known", condition=Q(sex__in=["female", "male", "unknown"])
            ),
            models.CheckConstraint(
                name="animal_condition_of_five",
                condition=Q(condition__isnull=True) | Q(condition__range=(1, 5)),
            ),
            models.CheckConstraint(
                name="animal_condition_dated",
                condition=Q(condition__isnull=True, condition_on__isnull=True)
                | Q(condition__isnull=False, condition_on__isnull=False),
            ),
            models.CheckConstraint(
                name="animal_whereabouts_known",
                condition=Q(whereabouts__in=["", "wanted", "arriving", "elsewhere"]),
            ),
            models.CheckConstraint(
                name="animal_here_is_not_expected",
                condition=Q(whereabouts="", expected_on__isnull=True, place_note="")
                | ~Q(whereabouts=""),
            ),
            models.CheckConstraint(
                name="animal_came_after_birth",
                condition=Q(came_on__isnull=True)
                | Q(born_on__isnull=True)
                | Q(came_on__gte=models.F("born_on")),
            ),
            models.CheckConstraint(
                name="animal_gone_dated",
                condition=Q(gone_on__isnull=True, gone="")
                | Q(gone_on__isnull=False, gone__in=["died", "sold", "given"]),
            ),
        ]

    def __str__(self) -> str:
        return self.name

    @property
    def there(self) -> bool:
        """It is neither dead nor another's."""
        return self.gone_on is None

    @property
    def awaited(self) -> bool:
        """It is not here yet, or not here for now: nothing comes round for it."""
        return self.there and self.whereabouts != ""

    @property
    def place_words(self) -> str:
        """Where one is that is not here: “not here yet, expected 5 Jan 2027”."""
        words = {"wanted": "wanted", "arriving": "not here yet", "elsewhere": "elsewhere"}
        said = words.get(self.whereabouts, "")
        if self.place_note:
            said = f"{said} ({self.place_note})"
        if self.expected_on is not None:
            said = f"{said}, expected {self.expected_on:%-d %b %Y}"
        return said

    @functools.cached_property
    def time_zone(self) -> str:
        """The zone of the room it lives in; of its household when it lives in none."""
        present = self.occupancies.present()
        zone = present.values_list("enclosure__room__time_zone", flat=True).first()
        return zone or self.household.time_zone

    def day_of(self, moment: dt.datetime) -> dt.date:
        """The date where it lives at a moment."""
        return clock.day_in(self.time_zone, moment)

    def quarantine(self, today: dt.date) -> Quarantine | None:
        """Where it stands in its quarantine; None when it is in none."""
        return quarantine_of(self.came_on, today)

    def mass_g(self) -> float | None:
        """Of the last weighing [g]. Reads the prefetched rows."""
        return (
            max(self.weighings.all(), key=lambda w: (w.on, w.pk)).mass_g
            if self.weighings.all()
            else None
        )

    def length_mm(self) -> dict[str, float]:
        """The last length of each kind [mm]."""
        latest: dict[str, Length] = {}
        for length in sorted(self.lengths.all(), key=lambda item: (item.on, item.pk)):
            latest[length.kind] = length
        return {kind: length.length_mm for kind, length in latest.items()}

    def data(self) -> dict[str, object]:
        """The animal as a request writes it."""
        days = {"born_on": self.born_on, "fed_on": self.fed_on, "came_on": self.came_on}
        known = {name: day.isoformat() for name, day in days.items() if day} | (
            {"mass_g": mass} if (mass := self.mass_g()) else {}
        )
        own = {
            "name": self.name,
            "species": self.species,
            "sex": self.sex,
            "length_mm": self.length_mm(),
            "approaches": self.approaches,
        }
        return own | known

    def leading_data(self, day: dt.date) -> dict[str, object]:
        """What leads its meals, as a request writes it: its condition, the trend of the scale, and
        the condition periods that go on. Reads the prefetched rows.
        """
        found: dict[str, object] = {}
        if self.condition is not None and self.condition_on is not None:
            found["condition"] = {"score": self.condition, "on": self.condition_on.isoformat()}
        trend = trend_pct(
            [
                (one.on, one.mass_g)
                for one in self.weighings.all()
                if (day - one.on).days <= 2 * TREND_DAYS
            ],
            day,
        )
        if trend is not None:
            found["trend_pct"] = round(trend, 2)
        condition_periods = [
            {"kind": one.kind, "since": one.since.isoformat()}
            for one in self.condition_periods.all()
            if one.until is None and one.since <= day
        ]
        if condition_periods:
            found["condition_periods"] = condition_periods
        return found


class ConditionPeriod(models.Model):
    """A time in its life that changes what is fed and what a refusal means; open until it is over."""

    class Kind(models.TextChoices):
        SHED = "shed", "in shed"
        GRAVID = "gravid", "with eggs or young"
        BREEDING = "breeding", "in its breeding season"
        UNWELL = "unwell", "unwell"
        BROUGHT_UP = "brought up", "brought food up"

    animal = models.ForeignKey(Animal, on_delete=models.CASCADE, related_name="condition_periods")
    kind = models.CharField(max_length=10, choices=Kind)
    since = models.DateField()
    until = models.DateField(null=True, blank=True)
    note = models.CharField(max_length=200, blank=True)

    class Meta:
        ordering = ["-since", "-pk"]
        constraints = [
            models.UniqueConstraint(
                fields=["animal", "kind"],
                condition=Q(until__isnull=True),
                name="condition_period_open_once",
            ),
            models.CheckConstraint(
                name="condition_period_ends_after_it_began",
                condition=Q(until__isnull=True) | Q(until__gte=models.F("since")),
            ),
            models.CheckConstraint(
                name="condition_period_kind_known",
                condition=Q(kind__in=["shed", "gravid", "breeding", "unwell", "brought up"]),
            ),
        ]
        indexes = [models.Index(fields=["animal", "-since"], name="condition_period_latest")]

    def __str__(self) -> str:
        return f"{self.kind} since {self.since}"


class Weighing(models.Model):
    """A mass on a day."""

    animal = models.ForeignKey(Animal, on_delete=models.CASCADE, related_name="weighings")
    on = models.DateField()
    mass_g = models.FloatField()

    class Meta:
        ordering = ["on", "pk"]
        constraints = [
            models.CheckConstraint(
                name="weighing_mass_positive", condition=Q(mass_g__range=MASS_G)
            )
        ]
        indexes = [
            models.Index(fields=["animal", "-on"], name="weighing_latest")
        ]  # the last weight of an animal

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
        constraints = [
            models.CheckConstraint(name="length_positive", condition=Q(length_mm__range=LENGTH_MM))
        ]
        indexes = [
            models.Index(fields=["animal", "-on"], name="length_latest")
        ]  # the last length of an animal

    def __str__(self) -> str:
        return f"{self.length_mm:g} mm on {self.on}"
