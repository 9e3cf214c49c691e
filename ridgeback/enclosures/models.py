"""Enclosures, their revisions, who lives in them, and what was measured.

Nothing is overwritten: a change makes a revision, a move ends one occupancy and begins another, a
reading stays with its revision.
"""

import datetime as dt
from typing import TYPE_CHECKING, Any

from django.contrib.postgres.constraints import ExclusionConstraint
from django.contrib.postgres.fields import DateTimeRangeField, RangeOperators
from django.db import models
from django.db.models import Exists, F, Func, OuterRef, Q

from husbandry.bounds import OFFSET
from husbandry.documents.request import FORMAT, Request
from husbandry.documents.request_json import from_data
from husbandry.feeding.condition import TREND_DAYS
from husbandry.feeding.condition_periods import QUIET_DAYS
from husbandry.findings.quarantine import Quarantine
from husbandry.quantity import PLAUSIBLE
from husbandry.species.needs import NEEDS, NeedKey
from husbandry.species.variant import sound
from ridgeback import clock
from ridgeback.animals.models import Animal, ConditionPeriod, Length, Weighing
from ridgeback.households.models import Household, Keeper, Room
from ridgeback.versions import Versioned

if TYPE_CHECKING:
    from django.db.models.fields.related_descriptors import RelatedManager


def open_condition_periods() -> "models.Prefetch[str]":
    """The condition periods of animals in enclosures that go on."""
    return models.Prefetch(
        "animal__condition_periods",
        queryset=ConditionPeriod.objects.filter(until__isnull=True).order_by("kind"),
    )


class EnclosureQuerySet(models.QuerySet["Enclosure"]):
    """Reading of enclosures."""

    def of(self, household: Household | None) -> "EnclosureQuerySet":
        """A household's own: the one way in for every page. Nobody's household has none."""
        return self.none() if household is None else self.filter(household=household)

    def in_use(self) -> "EnclosureQuerySet":
        """Those that are not archived."""
        return self.filter(archived_on__isnull=True)

    def for_planning(self) -> "EnclosureQuerySet":
        """With everything a plan needs: a constant number of queries for any number of enclosures."""
        occupancies = (
            Occupancy.objects.judged()
            .select_related("animal")
            .prefetch_related("animal__weighings", "animal__lengths", open_condition_periods())
        )
        found = self.select_related("room", "head", "household").prefetch_related(
            "household__profile_edits",
            models.Prefetch("occupancies", queryset=occupancies, to_attr="present"),
            models.Prefetch(
                "revisions",
                queryset=Revision.objects.filter(
                    Exists(Reading.objects.filter(revision=OuterRef("pk")))
                ).order_by("number"),
                to_attr="read",
            ),
            models.Prefetch(
                "readings",
                queryset=Reading.objects.select_related("revision").defer("revision__spec"),
            ),
        )
        commissionings = Commissioning.objects.filter(enclosure=OuterRef("pk")).order_by(
            "-signed_at", "-pk"
        )
        return found.annotate(
            proven_revision=models.Subquery(commissionings.values("revision_id")[:1])
        )

    def for_round(self) -> "EnclosureQuerySet":
        """With what its tasks follow from, of which years of weights and readings are no part: a
        constant number of small queries.
        """
        later = Weighing.objects.filter(animal=OuterRef("animal"), on__gt=OuterRef("on"))
        # the trend of the scale; of those not weighed lately the last
        recent = clock.earliest_day(clock.now()) - dt.timedelta(days=2 * TREND_DAYS)
        weighed = Weighing.objects.filter(Q(on__gte=recent) | ~Exists(later)).order_by(
            "animal_id", "-on", "-pk"
        )
        lengths = Length.objects.order_by("animal_id", "kind", "-on", "-pk").distinct(
            "animal_id", "kind"
        )
        occupancies = (
            Occupancy.objects.present()
            .select_related("animal")
            .prefetch_related(
                models.Prefetch("animal__weighings", queryset=weighed),
                models.Prefetch("animal__lengths", queryset=lengths),
                open_condition_periods(),
            )
        )
        return self.select_related("room", "head", "household").prefetch_related(
            "household__profile_edits",
            models.Prefetch("occupancies", queryset=occupancies, to_attr="present"),
        )


WALK = (
    F("room__walk").asc(nulls_last=True),
    "room__name",
    F("walk").asc(nulls_last=True),
    "shelf",
    "name",
    "pk",
)
"""The keeper's own order of walking; by name and shelf where nobody gave one."""
TOGETHER_MOST = 20
"""Animals in one enclosure, at the most: so many a request takes (docs/formats/plan.md)."""
EARLIER_MOST = 12
"""How many measured states before the present one a plan is told."""


class Enclosure(Versioned):
    """An enclosure in a room. `head` is the revision that stands now."""

    class Purpose(models.TextChoices):
        HOME = "", "home"
        QUARANTINE = "quarantine", "quarantine"
        SPARE = "spare", "spare"

    household = models.ForeignKey(Household, on_delete=models.CASCADE, related_name="enclosures")
    room = models.ForeignKey(Room, on_delete=models.PROTECT, related_name="enclosures")
    name = models.CharField(max_length=80)
    shelf = models.CharField(max_length=80, blank=True)
    walk = models.PositiveSmallIntegerField(
        null=True, blank=True
    )  # its place among the day's tasks within its room
    head = models.OneToOneField("Revision", on_delete=models.PROTECT, null=True, related_name="+")
    outlet = models.CharField(
        max_length=60, blank=True
    )  # what all of it is plugged into, by the household’s own name
    circuit = models.CharField(max_length=60, blank=True)
    stand_kg = models.FloatField(default=0)  # what it stands on
    stand_m = models.FloatField(default=0)
    # What the keeper says of its build: start, choices, done, owned, prices
    # (ridgeback/building/views.py).
    build = models.JSONField(default=dict, blank=True)
    purpose = models.CharField(max_length=10, choices=Purpose, blank=True)
    archived_on = models.DateField(null=True, blank=True)  # no longer used; its history stays
    created_at = models.DateTimeField(auto_now_add=True)
    # How urgent it looked when it was last looked at: an index for the order of the list, rebuilt
    # from plans at any time.
    urgency = models.FloatField(default=0)
    looked_on = models.DateField(null=True, blank=True)
    # Of a demo enclosure: what is really true of it, for the simulated instruments. No plan is
    # told.
    hidden_seed = models.PositiveIntegerField(null=True, blank=True)

    objects = EnclosureQuerySet.as_manager()

    if TYPE_CHECKING:
        revisions: RelatedManager["Revision"]
        occupancies: "OccupancyQuerySet"
        readings: RelatedManager["Reading"]
        commissionings: RelatedManager["Commissioning"]
        present: list["Occupancy"]
        read: list["Revision"]
        proven_revision: int | None

    class Meta:
        ordering = ["shelf", "name"]
        constraints = [
            models.UniqueConstraint(fields=["household", "name"], name="enclosure_name_once"),
            models.CheckConstraint(
                name="enclosure_purpose_known",
                condition=Q(purpose__in=["", "quarantine", "spare"]),
            ),
            models.CheckConstraint(
                name="enclosure_stand_possible", condition=Q(stand_kg__gte=0, stand_m__gte=0)
            ),
        ]
        indexes = [
            models.Index(fields=["household", "-urgency", "name"], name="enclosure_most_urgent")
        ]

    def __str__(self) -> str:
        return self.name

    @property
    def is_bare(self) -> bool:
        """Whether it stands and nobody has described what is in it: as one from a table."""
        built = self.head is not None and self.head.state == Revision.State.BUILT
        return built and self.head is not None and not self.head.spec.get("items")

    def apart(self, today: dt.date) -> tuple[Animal, ...]:
        """Who lives here and is tended last, with tools of its own: all of them in an enclosure for
        quarantine, elsewhere those that came lately.
        """
        here = tuple(one.animal for one in self.present)
        if self.purpose == self.Purpose.QUARANTINE:
            return here
        return tuple(animal for animal in here if animal.quarantine(today) is not None)

    @property
    def use(self) -> str:
        """What it is used for at present, in a word; of rows fetched by `for_planning`."""
        if self.archived_on is not None:
            return "archived"
        if self.head is not None and self.head.state == Revision.State.PLANNED:
            return "building" if self.build.get("done") else "planned"
        if self.purpose:
            return self.get_purpose_display()
        return "in use" if any(not one.is_planned for one in self.present) else "empty"

    @property
    def commissioning(self) -> "Commissioning | None":
        """The record that verifies it as it stands now; None when it was never verified, or was
        changed since.
        """
        last = self.commissionings.first()
        return last if last is not None and last.revision_id == self.head_id else None

    def request_data(self, now: dt.datetime, spec: dict[str, Any] | None = None) -> dict[str, Any]:
        """The request as JSON values, not checked yet: what a plan is remembered by.

        Its moment is that of the day's beginning or of the last reading, whichever is later: a plan
        changes with the day and with what is
        measured, not with the minute.
        """
        # Oldest first: of two readings in a minute the one entered later is the last, and speaks.
        readings = [reading.for_core() for reading in reversed(self.readings.all())]
        number = self.head.number if self.head else 1
        states = [state for state in self.read if state.number < number][-EARLIER_MOST:]
        earlier = [{"revision": state.number, **state.spec} for state in states]
        moment = max([self._midnight(now), *(reading.at for reading in self.readings.all())])
        return {
            **self._standing(moment, spec),
            "readings": readings,
            "revision": number,
            **({"earlier": earlier} if earlier else {}),
        }

    def routines_data(self, now: dt.datetime) -> dict[str, Any]:
        """The request without what was measured, for what comes round in an enclosure; of rows
        fetched by `for_round`.
        """
        return self._standing(self._midnight(now), None)

    def _midnight(self, now: dt.datetime) -> dt.datetime:
        return clock.midnight(self.room.time_zone, now)

    def _standing(self, moment: dt.datetime, spec: dict[str, Any] | None) -> dict[str, Any]:
        """Who lives where, in what."""
        room = self.room
        animals = [occupancy.animal for occupancy in self.present]
        species = {animal.species for animal in animals}
        rows = {
            row.species: sound(row.species, row.edits)
            for row in self.household.profile_edits.all()
            if row.species in species
        }
        own = {
            name: [edit.model_dump(mode="json") for edit in edits]
            for name, edits in rows.items()
            if edits
        }
        return {
            "format": FORMAT,
            "now": moment.astimezone(dt.UTC).isoformat(),
            "place": {"lat": room.latitude_deg, "lon": room.longitude_deg, "tz": room.time_zone},
            "room": room.air(),
            "animals": [self._living(one, room.day_of(moment)) for one in self.present],
            **({"edits": own} if own else {}),
            **(spec or (self.head.spec if self.head else {})),
        }

    def _living(self, occupancy: "Occupancy", day: dt.date) -> dict[str, Any]:
        """An animal as it lives here, with what leads its meals."""
        animal = occupancy.animal
        moved = occupancy.moved_in_at
        on = self.room.day_of(moved) if moved is not None else None
        lately = on is not None and (day - on).days < QUIET_DAYS
        return (
            animal.data()
            | animal.leading_data(day)
            | ({"arrived_on": on.isoformat()} if lately and on else {})
        )

    def request_at(
        self, now: dt.datetime, spec: dict[str, Any] | None = None, **changes: Any
    ) -> Request:
        """The core's request for this enclosure at a moment: from its head, or from another `spec`
        being tried.

        `changes` replaces whole parts (`room`, `animals`). Raises `DocumentError` when the result
        is not sound.
        """
        return from_data({**self.request_data(now, spec), **changes})


class Derived(models.Model):
    """Something computed, remembered by the content it was computed from.

    Never a source of truth: any row may go at any time.
    """

    key = models.CharField(max_length=64, primary_key=True)
    body = models.TextField()
    made_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        indexes = [
            models.Index(fields=["made_at"], name="derived_oldest")
        ]  # the old ones are forgotten

    def __str__(self) -> str:
        return self.key[:12]


class Revision(models.Model):
    """One state of an enclosure.

    `spec` holds `enclosure` and `items` in the format of the core's request (ridgeback-request/2,
    docs/formats/plan.md). `previous` is the state
    that undo goes back to; undo itself makes a revision, so numbers only grow.
    """

    class State(models.TextChoices):
        PLANNED = "planned", "planned"
        BUILT = "built", "built"

    enclosure = models.ForeignKey(Enclosure, on_delete=models.CASCADE, related_name="revisions")
    number = models.PositiveIntegerField()
    spec = models.JSONField()
    state = models.CharField(max_length=7, choices=State, default=State.BUILT)
    reason = models.CharField(max_length=200, blank=True)
    previous = models.ForeignKey(
        "self", on_delete=models.PROTECT, null=True, blank=True, related_name="+"
    )
    made_at = models.DateTimeField()
    made_by = models.ForeignKey(Keeper, on_delete=models.SET_NULL, null=True, related_name="+")
    # What was predicted when it was made, by need: value, low, high. For the model's record;
    # nothing else reads it.
    promised = models.JSONField(default=dict)

    class Meta:
        ordering = ["number"]
        constraints = [
            models.UniqueConstraint(fields=["enclosure", "number"], name="revision_number_once"),
            models.CheckConstraint(
                name="revision_state_known", condition=Q(state__in=["planned", "built"])
            ),
        ]

    def __str__(self) -> str:
        return f"{self.enclosure} {self.number}"


class Commissioning(models.Model):
    """A state of an enclosure that was verified: what was read, what the keeper saw, who says so
    and when.
    """

    enclosure = models.ForeignKey(
        Enclosure, on_delete=models.CASCADE, related_name="commissionings"
    )
    revision = models.ForeignKey(Revision, on_delete=models.PROTECT, related_name="commissionings")
    signed_at = models.DateTimeField()
    signed_by = models.ForeignKey(Keeper, on_delete=models.SET_NULL, null=True, related_name="+")
    readings = models.JSONField()  # need: value, as it was then
    targets = models.JSONField(
        default=dict
    )  # need: both ends, as they were then; a stage moves them
    checks = models.JSONField()  # keys of husbandry.commissioning.readings.CHECKS
    note = models.CharField(max_length=200, blank=True)

    class Meta:
        ordering = ["-signed_at", "-pk"]
        indexes = [models.Index(fields=["enclosure", "-signed_at"], name="commissioning_latest")]

    def __str__(self) -> str:
        return f"{self.enclosure}, {self.signed_at:%Y-%m-%d}"


class OccupancyQuerySet(models.QuerySet["Occupancy"]):
    """Reading of who lives where."""

    def present(self) -> "OccupancyQuerySet":
        """Those that go on: the animal lives there."""
        return self.filter(until__isnull=True, is_planned=False)

    def planned(self) -> "OccupancyQuerySet":
        """Those to come: the enclosure is planned for the animal, wherever it lives until then."""
        return self.filter(until__isnull=True, is_planned=True)

    def judged(self) -> "OccupancyQuerySet":
        """Whom an enclosure is planned by: who lives there; where nobody does, who will."""
        lived_in = Occupancy.objects.present().filter(enclosure=OuterRef("enclosure"))
        return self.filter(until__isnull=True).filter(Q(is_planned=False) | ~Exists(lived_in))

    def look_again(self) -> None:
        """Judge their enclosures anew: what lives there has changed."""
        Enclosure.objects.filter(occupancies__in=self.values("pk")).update(looked_on=None)


class Occupancy(models.Model):
    """An animal in an enclosure, from a day to a day; or one for which an enclosure is planned."""

    enclosure = models.ForeignKey(Enclosure, on_delete=models.CASCADE, related_name="occupancies")
    animal = models.ForeignKey(Animal, on_delete=models.CASCADE, related_name="occupancies")
    since = models.DateTimeField()
    until = models.DateTimeField(null=True, blank=True)
    is_planned = models.BooleanField(default=False)  # it will live here, and does not yet
    reason = models.CharField(max_length=200, blank=True)  # why it moved
    # The moment at which it moved in, where the enclosure was watched until then; before, the
    # enclosure was planned and verified for it.
    moved_in_at = models.DateTimeField(null=True, blank=True)
    unproven_because = models.CharField(
        max_length=200, blank=True
    )  # why it moved into an enclosure that was not verified

    objects = OccupancyQuerySet.as_manager()

    class Meta:
        ordering = ["since"]
        constraints = [
            models.CheckConstraint(
                name="occupancy_ends_after_it_begins",
                condition=Q(until__isnull=True) | Q(until__gt=F("since")),
            ),
            # an animal lives in one enclosure at a time
            ExclusionConstraint(
                name="occupancy_one_enclosure_at_a_time",
                expressions=[
                    ("animal", RangeOperators.EQUAL),
                    (
                        Func(
                            "since",
                            "until",
                            function="tstzrange",
                            output_field=DateTimeRangeField(),
                        ),
                        RangeOperators.OVERLAPS,
                    ),
                ],
                condition=Q(is_planned=False),
            ),
            models.UniqueConstraint(
                fields=["animal", "enclosure"],
                condition=Q(until__isnull=True),
                name="occupancy_once_in_an_enclosure",
            ),
            models.CheckConstraint(
                name="occupancy_planned_has_no_end",
                condition=Q(is_planned=False) | Q(until__isnull=True, moved_in_at__isnull=True),
            ),
        ]

    def __str__(self) -> str:
        return f"{self.animal} in {self.enclosure}"

    @property
    def quarantine(self) -> Quarantine | None:
        """Where its animal stands in its quarantine today."""
        return self.animal.quarantine(self.enclosure.room.day_of(clock.now()))

    @property
    def quiet_until(self) -> dt.date | None:
        """The last day of the quiet week after it moved in."""
        return (
            self.enclosure.room.day_of(self.moved_in_at) + dt.timedelta(days=QUIET_DAYS)
            if self.moved_in_at
            else None
        )


_SPANS = [PLAUSIBLE[kind.plausible].possible for kind in NEEDS.values()]
SHOWN = (min(low for low, _ in _SPANS), max(high for _, high in _SPANS))
"""What an instrument of any kind can have shown [the need's unit]."""


class Reading(models.Model):
    """What an instrument showed in an enclosure, with the revision it was taken in.

    `value` is in the need's own unit (°C, %, UVI).
    """

    enclosure = models.ForeignKey(Enclosure, on_delete=models.CASCADE, related_name="readings")
    revision = models.ForeignKey(Revision, on_delete=models.PROTECT, related_name="readings")
    need = models.CharField(
        max_length=20
    )  # a key of husbandry.species.needs; its words live there
    value = models.FloatField()
    offset = models.FloatField(default=0)
    at = models.DateTimeField()
    instrument = models.CharField(max_length=80, blank=True)
    lamp_on_h = models.FloatField(null=True, blank=True)
    room_c = models.FloatField(null=True, blank=True)
    at_x_m = models.FloatField(
        null=True, blank=True
    )  # a place of its own, when it is not the need's
    at_y_m = models.FloatField(null=True, blank=True)
    at_z_m = models.FloatField(null=True, blank=True)
    moment = models.CharField(
        max_length=16, blank=True
    )  # of a humidity that was read for its daily wave
    taken_by = models.ForeignKey(Keeper, on_delete=models.SET_NULL, null=True, related_name="+")

    class Meta:
        ordering = ["-at", "-pk"]
        constraints = [
            models.CheckConstraint(
                name="reading_need_known", condition=Q(need__in=[key.value for key in NeedKey])
            ),
            models.CheckConstraint(
                name="reading_moment_known",
                condition=Q(moment="")
                | Q(
                    moment__in=["before misting", "after misting"], need=NeedKey.HUMIDITY_DAY.value
                ),
            ),
            models.CheckConstraint(
                name="reading_possible",
                condition=Q(value__range=SHOWN, offset__range=(-OFFSET, OFFSET)),
            ),
            models.CheckConstraint(
                name="reading_lamp_hours",
                condition=Q(lamp_on_h__isnull=True) | Q(lamp_on_h__gte=0),
            ),
            models.CheckConstraint(
                name="reading_place_whole",
                condition=Q(at_x_m__isnull=True, at_y_m__isnull=True, at_z_m__isnull=True)
                | Q(at_x_m__gte=0, at_y_m__gte=0, at_z_m__gte=0),
            ),
        ]
        indexes = [
            models.Index(fields=["enclosure", "-at"], name="reading_latest")
        ]  # the last readings of an enclosure

    def __str__(self) -> str:
        return f"{self.need} {self.value:g}"

    @property
    def at_m(self) -> tuple[float, float, float] | None:
        """A place of its own [m]; None at the need's place."""
        if self.at_x_m is None or self.at_y_m is None or self.at_z_m is None:
            return None
        return self.at_x_m, self.at_y_m, self.at_z_m

    def for_core(self) -> dict[str, Any]:
        """The reading as a plan takes it."""
        return {
            "need": self.need,
            "value": self.value,
            "offset": self.offset,
            "at": self.at.isoformat(),
            "instrument": self.instrument,
            "lamp_on_h": self.lamp_on_h,
            "revision": self.revision.number,
            "room_c": self.room_c,
            "at_m": self.at_m,
            **({"moment": self.moment} if self.moment else {}),
        }
