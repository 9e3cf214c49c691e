"""The treatments of an animal: noted in the veterinarian's words, followed among the
day's tasks, stopped.
"""

import datetime as dt
from dataclasses import dataclass
from typing import Any

from django import forms
from django.contrib import messages
from django.db.models import Count
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_http_methods

from ridgeback.animals.models import Animal
from ridgeback.clock import now
from ridgeback.fields import day_field
from ridgeback.households.middleware import KeeperRequest
from ridgeback.log.models import LogEntry
from ridgeback.posting import only_by_form, posted_key
from ridgeback.submissions.flows import sent_once
from ridgeback.submissions.forms import OnceForm
from ridgeback.treatments.models import Treatment

LONGEST_DAYS, AHEAD_DAYS = 370, 90


class TreatmentForm(OnceForm):
    """What was prescribed, by whom, from when to when."""

    words = forms.CharField(
        label="What the veterinarian said, word for word",
        max_length=400,
        widget=forms.Textarea(attrs={"rows": 3}),
        help_text=(
            "With the amount and the way as they wrote it. Ridgeback never calculates a dose."
        ),
    )
    by = forms.CharField(label="Veterinarian", max_length=120)
    begins = day_field("First day")
    ends = day_field("Last day")
    times = forms.IntegerField(label="Times a day", min_value=1, max_value=6, initial=1)
    every_days = forms.IntegerField(label="Every (days)", min_value=1, max_value=60, initial=1)

    def __init__(self, *args: Any, animal: Animal, today: dt.date, **kwargs: Any) -> None:
        kwargs.setdefault("initial", {"begins": today})
        super().__init__(*args, **kwargs)
        self.animal = animal
        self.today = today

    def clean_words(self) -> str:
        """On one line."""
        return " ".join(self.cleaned_data["words"].replace("\x00", " ").split())

    def clean_begins(self) -> dt.date:
        """Around now."""
        day: dt.date = self.cleaned_data["begins"]
        if self.animal.born_on and day < self.animal.born_on:
            raise forms.ValidationError(
                f"It was born on {self.animal.born_on:%-d %B %Y}: this day is before."
            )
        if day > self.today + dt.timedelta(days=AHEAD_DAYS):
            raise forms.ValidationError("That is more than three months ahead.")
        return day

    def clean(self) -> dict[str, Any]:
        """It ends after it began, within a year."""
        data = super().clean() or {}
        if "begins" in data and "ends" in data:
            days = (data["ends"] - data["begins"]).days
            if days < 0:
                self.add_error("ends", "The last day is before the first.")
            elif days > LONGEST_DAYS:
                self.add_error(
                    "ends",
                    "A treatment longer than a year needs another visit: enter it up to that"
                    " visit.",
                )
        return data


@dataclass(frozen=True)
class TreatmentRow:
    """A treatment with what was given of it."""

    treatment: Treatment
    given: int
    doses: int
    going: bool


def _animal(request: KeeperRequest, pk: int) -> Animal:
    return get_object_or_404(
        Animal.objects.of(request.household).select_related("household"), pk=pk
    )


posted = only_by_form("treatments:page", _animal)


def _rows(animal: Animal, today: dt.date) -> list[TreatmentRow]:
    treatments = list(animal.treatments.all())
    given: dict[int, int] = {}
    logged = LogEntry.objects.standing().filter(
        animal=animal, stem__startswith="treatment ", outcome=LogEntry.Outcome.DONE
    )
    for stem, number in logged.values_list("stem").annotate(n=Count("pk")).order_by():
        key = int(stem.split(" ")[1])
        given[key] = given.get(key, 0) + number
    return [
        TreatmentRow(
            one,
            given.get(one.pk, 0),
            one.core().doses if one.core().ends >= one.begins else 0,
            one.stopped_on is None and one.ends >= today,
        )
        for one in treatments
    ]


@require_http_methods(["GET", "HEAD", "POST"])
def page(request: KeeperRequest, pk: int) -> HttpResponse:
    """Treatments of an animal; a new one is noted."""
    animal = _animal(request, pk)
    today = animal.day_of(now())
    form = TreatmentForm(
        request.POST if request.method == "POST" else None, animal=animal, today=today
    )
    if form.is_bound and not animal.there:
        form.add_error(None, f"{animal.name} is no longer kept.")
    if form.is_bound and form.is_valid():
        data = dict(form.cleaned_data)
        with sent_once(animal.household_id, data.pop("form_key")) as first:
            if first:
                Treatment.objects.create(animal=animal, kept_by=request.user, **data)
        messages.success(
            request, "Saved: it is among today’s tasks from its first day to its last."
        )
        return redirect("treatments:page", pk=pk)
    return render(
        request,
        "treatments/page.html",
        {"animal": animal, "form": form, "rows": _rows(animal, today)},
    )


@posted
def stop(request: KeeperRequest, pk: int) -> HttpResponse:
    """The veterinarian ends it."""
    animal = _animal(request, pk)
    going = animal.treatments.filter(stopped_on__isnull=True)
    treatment = get_object_or_404(going, pk=posted_key(request, "treatment"))
    treatment.stopped_on = animal.day_of(now())
    treatment.save(update_fields=["stopped_on"])
    messages.success(request, "Stopped. What was given stays in the log.")
    return redirect("treatments:page", pk=pk)
