"""Weighing many animals in one go: a column of fields, saved together."""

import datetime as dt
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from django import forms
from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import redirect, render

from husbandry.quantity import Kind, show
from husbandry.species.profile import Profile
from ridgeback import clock
from ridgeback.animals import flows
from ridgeback.animals.forms import WeighForm
from ridgeback.animals.models import Animal
from ridgeback.clock import now
from ridgeback.collection.views import get_or_post, household_of
from ridgeback.devices.models import ScaleWeight
from ridgeback.devices.scale import waiting_weights
from ridgeback.enclosures.models import Occupancy
from ridgeback.fields import day_field
from ridgeback.households.middleware import KeeperRequest
from ridgeback.households.models import Household
from ridgeback.species_guide.flows import edits_of, profiles_of
from ridgeback.submissions.flows import sent_once
from ridgeback.submissions.forms import OnceForm


class WeighingDayForm(OnceForm):
    """The day of all the weights."""

    on = day_field("Weighed on")

    def __init__(self, *args: Any, today: dt.date, **kwargs: Any) -> None:
        self.today = today
        kwargs.setdefault("initial", {"on": today})
        super().__init__(*args, **kwargs)

    def clean_on(self) -> dt.date:
        """Not to come."""
        on: dt.date = self.cleaned_data["on"]
        if on > self.today:
            raise forms.ValidationError("This day is still to come.")
        return on


@dataclass(frozen=True)
class WeighingRow:
    """An animal with its field."""

    animal: Animal
    kind: str
    home: str
    last: str
    typed: str
    form: WeighForm | None
    """Bound to what was typed; None where nothing was."""

    @property
    def error(self) -> str:
        """What is wrong with what was typed."""
        if self.form is None or self.form.is_valid():
            return ""
        return next(str(errors[0]) for errors in self.form.errors.values())

    @property
    def may_confirm(self) -> bool:
        """Whether what is asked about may be right."""
        return (
            self.form is not None and self.form.doubt is not None and not self.form.doubt.refused
        )


@dataclass(frozen=True)
class SentWeightRow:
    """A weight that a scale sent, and of which nobody has said whose it is."""

    weight: ScaleWeight
    mass: str
    at: str


def _rows(request: KeeperRequest, household: Household, on: dt.date | None) -> list[WeighingRow]:
    """Every animal that is here, by the enclosure it lives in."""
    animals = (
        Animal.objects.of(household)
        .here()
        .filter(whereabouts="")
        .select_related("household")
        .prefetch_related("weighings", "lengths")
    )
    stays = Occupancy.objects.present().filter(animal__household=household)
    homes = dict(stays.values_list("animal_id", "enclosure__name"))
    profiles = profiles_of(edits_of(household), {animal.species for animal in animals})
    rows = [
        _row(request, animal, profiles[animal.species], homes.get(animal.pk, ""), on)
        for animal in animals
    ]
    return sorted(rows, key=lambda row: (row.home == "", row.home, row.animal.name))


def _row(
    request: KeeperRequest, animal: Animal, profile: Profile, home: str, on: dt.date | None
) -> WeighingRow:
    typed = request.POST.get(f"{animal.pk}-mass", "")[:60].strip()
    form: WeighForm | None = None
    today = animal.day_of(now())
    if typed and on is not None:
        confirm = request.POST.get(f"{animal.pk}-confirm", "")[:60]
        data = {"mass": typed, "on": on.isoformat(), "confirm": confirm}
        form = WeighForm(data, animal=animal, profile=profile, units=request.units, today=today)
    last = max(animal.weighings.all(), key=lambda one: (one.on, one.pk), default=None)
    said = ""
    if last is not None:
        said = f"{show(last.mass_g, Kind.MASS, request.units)}, {last.on:%-d %b %Y}"
    return WeighingRow(animal, profile.name, home, said, typed, form)


@get_or_post
def weigh_all(request: KeeperRequest) -> HttpResponse:
    """Weigh many: whatever is filled in is saved together, or nothing where something is asked."""
    household = household_of(request)
    today = household.day_of(now())
    day = WeighingDayForm(request.POST if request.method == "POST" else None, today=today)
    on: dt.date | None = None
    if day.is_bound and day.is_valid():
        on = day.cleaned_data["on"]
    rows = _rows(request, household, on)
    filled = [row for row in rows if row.form is not None]
    if on is not None and filled and not any(row.error for row in filled):
        return _saved(request, household, day, filled)
    context = {
        "day": day,
        "rows": rows,
        "nothing": on is not None and not filled,
        "sent": [_sent_row(one, request) for one in waiting_weights(household)],
    }
    return render(request, "collection/weigh.html", context)


def _sent_row(weight: ScaleWeight, request: KeeperRequest) -> SentWeightRow:
    local = clock.local(weight.at, weight.channel.enclosure.household.time_zone)
    return SentWeightRow(
        weight, show(weight.mass_g, Kind.MASS, request.units), f"{local:%-d %b %Y, %H:%M}"
    )


def _saved(
    request: KeeperRequest,
    household: Household,
    day: WeighingDayForm,
    filled: Sequence[WeighingRow],
) -> HttpResponse:
    weights = [
        (row.animal, row.form.cleaned_data["number"]) for row in filled if row.form is not None
    ]
    with sent_once(household.pk, day.cleaned_data["form_key"]) as first:
        if first:
            flows.weigh_many(household, weights, on=day.cleaned_data["on"])
    count = len(weights)
    messages.success(request, f"{count} weight{'s' if count > 1 else ''} logged.")
    return redirect("collection:weigh")
