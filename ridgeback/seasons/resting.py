"""A winter rest of an animal: offered, refused with the reasons, kept, stopped."""

import datetime as dt
import math
from dataclasses import replace
from typing import Any, cast

from django import forms
from django.contrib import messages
from django.db import IntegrityError, transaction
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.utils import timezone
from django.views.decorators.http import require_http_methods, require_POST

from husbandry.quantity import Kind, Units, show
from husbandry.species.library import find
from husbandry.species.parts import LengthKind
from husbandry.species.profile import Profile
from husbandry.species.stages import stage_of
from husbandry.year.rest import BEST_DAYS, SICK_DAYS, Fitness, Rest, Step, limits, limits_worked, plan_rest, usual_begin, why_not
from ridgeback.animals.models import Animal, Weighing
from ridgeback.animals.presenting import WorkedView, worked_view
from ridgeback.habitats.forms import now
from ridgeback.habitats.models import Occupancy
from ridgeback.keepers.middleware import KeeperRequest
from ridgeback.ledger.models import Entry
from ridgeback.rounds.gathering import Due, local_day
from ridgeback.seasons.models import WinterRest

WORDS = {
    "check": "A veterinarian looks at it and at its droppings: only who is healthy and free of worms rests",
    "last meal": "Last meal",
    "weigh": "Weigh",
    "wake": "Wake it: light and warmth come back",
    "water": "Fresh water, or a bath, at once",
    "first meal": "First meal, a small one, when it is warm and alert",
}


class RestForm(forms.Form):
    """When the full cold begins, for how long, and who agreed if something speaks against it."""

    begins = forms.DateField(label="Full rest from", widget=forms.DateInput(attrs={"type": "date"}, format="%Y-%m-%d"))
    weeks = forms.FloatField(
        label="for weeks", widget=forms.TextInput(attrs={"inputmode": "decimal", "autocomplete": "off", "class": "quantity"})
    )
    agreed = forms.CharField(label="Veterinarian who agreed, and when", max_length=200, required=False)

    def __init__(
        self, *args: Any, profile: Profile, against: tuple[str, ...], today: dt.date, fed: dt.date | None, **kwargs: Any
    ) -> None:
        super().__init__(*args, **kwargs)
        self.profile, self.against, self.today, self.fed = profile, against, today, fed

    def clean_begins(self) -> dt.date:
        """Not long past, not years ahead."""
        day: dt.date = self.cleaned_data["begins"]
        if day < self.today - dt.timedelta(days=200) or day > self.today + dt.timedelta(days=500):
            raise forms.ValidationError("A rest of this winter, or of the next.")
        return day

    def clean_weeks(self) -> float:
        """Within its kind's own."""
        weeks: float = self.cleaned_data["weeks"]
        span = self.profile.season.rest_weeks
        if not math.isfinite(weeks) or (span is not None and not span.ends[0] <= weeks <= span.ends[1]):
            low, high = span.ends if span is not None else (0, 0)
            raise forms.ValidationError(f"Its kind rests {low:g} to {high:g} weeks.")
        return weeks

    def clean(self) -> dict[str, Any]:
        """What speaks against it is overruled by a veterinarian only."""
        data = super().clean() or {}
        if self.fed is not None and "begins" in data and "weeks" in data and self.profile.season.rest_weeks is not None:
            made = plan_rest(self.profile, data["begins"], data["weeks"])
            if self.fed > made.last_meal:
                earliest = data["begins"] + (self.fed - made.last_meal)
                text = f"It was fed on {self.fed:%-d %B}, and its gut empties before the days shorten: from {earliest:%-d %B %Y} at the earliest."
                self.add_error("begins", text)
        if self.against and not data.get("agreed", "").strip() and not self.errors:
            self.add_error("agreed", "Something speaks against it, above: only a veterinarian’s word overrules that.")
        return data


def _fitness(animal: Animal, today: dt.date) -> Fitness:
    weights = sorted(animal.weighings.all(), key=lambda one: (one.on, one.pk))
    recent = [one.mass_g for one in weights if (today - one.on).days <= BEST_DAYS]
    lost = 1 - recent[-1] / max(recent) if recent else None
    first = Occupancy.objects.filter(animal=animal).order_by("since").first()
    known = find(animal.species)
    lengths = cast(dict[LengthKind, float], animal.length_mm())  # its model knows no other kinds
    mass = weights[-1].mass_g if weights else None
    stage = stage_of(known, today=today, born_on=animal.born_on, mass_g=mass, length_mm=lengths or None)
    since = today - dt.timedelta(days=SICK_DAYS)
    sick = Entry.objects.standing().filter(animal=animal, stem="sign", on__gte=since).exists()
    return Fitness(stage.slug, bool(weights), lost, (today - first.since.date()).days if first else None, sick)


def last_fed(animal: Animal) -> dt.date | None:
    """When it last ate, by the ledger or by what was said of it."""
    eaten = Entry.objects.standing().filter(animal=animal, stem__startswith="feed ", outcome=Entry.Outcome.DONE).order_by("-on")
    logged = eaten.values_list("on", flat=True).first()
    return max([day for day in (logged, animal.fed_on) if day is not None], default=None)


def _begin(profile: Profile, lat_deg: float, today: dt.date, fed: dt.date | None) -> dt.date:
    """The usual day, or the first that its last meal allows."""
    begin = usual_begin(lat_deg, today.year)
    if begin < today - dt.timedelta(days=30):
        begin = usual_begin(lat_deg, today.year + 1)
    if profile.season.rest_weeks is None:
        return begin
    made = plan_rest(profile, begin, profile.season.rest_weeks.ends[0])
    return begin + max((fed or made.last_meal) - made.last_meal, dt.timedelta(0))


def step_text(step: Step, units: Units) -> str:
    """A step in words."""
    if step.kind in WORDS:
        words = WORDS[step.kind]
        return f"{words}: {step.hours:g} h of light" if step.kind == "wake" and step.hours else words
    temp = show(step.temp_c, Kind.TEMPERATURE, units, digits=0) if step.temp_c is not None else ""
    if step.kind == "rest":
        return f"Full rest: dark, at {temp}"
    return f"{step.hours:g} h of light, air {temp}"


def rest_rows(rest: Rest, units: Units, today: dt.date) -> list[dict[str, Any]]:
    """Its days as lines; steps of one day together."""
    found: list[dict[str, Any]] = []
    for step in rest.steps:
        text = step_text(step, units)
        if found and found[-1]["on"] == step.on:
            found[-1]["text"] += f"; {text[0].lower()}{text[1:]}"
        else:
            found.append({"on": step.on, "text": text, "past": step.on < today})
    return found


def _weeks(profile: Profile) -> float:
    span = profile.season.rest_weeks
    return round(span.middle) if span is not None else 8


def _bounds(profile: Profile, mass_g: float, units: Units) -> list[WorkedView]:
    look, stop = limits_worked(profile, mass_g)
    words = ("it is looked at, with its water", "the rest is ended and a veterinarian called")
    return [
        replace(worked_view(one, units), text=f"Below {show(one.value, Kind.MASS, units)} {said}")
        for one, said in zip((look, stop), words, strict=True)
    ]


@require_http_methods(["GET", "HEAD", "POST"])
def rest(request: KeeperRequest, pk: int) -> HttpResponse:
    """What a rest would be, what speaks against it; kept when asked to."""
    animal = get_object_or_404(Animal.objects.of(request.household).prefetch_related("weighings", "lengths"), pk=pk)
    profile, at = find(animal.species), now()
    living = Occupancy.objects.filter(animal=animal, until__isnull=True).select_related("habitat__room").first()
    room = living.habitat.room if living else None
    today = local_day(room, at) if room else timezone.localdate(at)
    against = why_not(profile, _fitness(animal, today))
    never = profile.season.rest == "none" or profile.season.rest_weeks is None
    lat = room.latitude_deg if room else 50.0
    fed = last_fed(animal)
    begin = _begin(profile, lat, today, fed)
    form = RestForm(
        request.POST if request.method == "POST" else None, profile=profile, against=against, today=today, fed=fed,
        initial={"begins": begin, "weeks": f"{_weeks(profile):g}"},
    )  # fmt: skip
    if form.is_bound and not never and form.is_valid() and "keep" in request.POST:
        return _keep(request, animal, form)
    kept = animal.rests.going().filter(begins_on__gte=today - dt.timedelta(days=250)).first()
    asked = plan_rest(profile, begin, _weeks(profile)) if not never else None
    if form.is_bound and not never and "begins" in form.cleaned_data and "weeks" in form.cleaned_data:
        asked = plan_rest(profile, form.cleaned_data["begins"], form.cleaned_data["weeks"])
    shown = kept.plan() if kept and not form.is_bound else asked
    mass = animal.mass_g()
    bounds = _bounds(profile, mass, request.units) if mass and not never else []
    late = shown is not None and kept is None and shown.steps[0].on < today
    context = {
        "late": late, "animal": animal, "profile": profile, "form": form, "against": against, "never": never, "kept": kept,
        "rows": rest_rows(shown, request.units, today) if shown else [],
        "bounds": bounds,
        "span": " to ".join(show(end, Kind.TEMPERATURE, request.units, digits=0, unit=n == 1) for n, end in enumerate(shown.temp_c)) if shown else "",
    }  # fmt: skip
    return render(request, "seasons/rest.html", context)


def _keep(request: KeeperRequest, animal: Animal, form: RestForm) -> HttpResponse:
    data = form.cleaned_data
    try:
        with transaction.atomic():
            animal.rests.going().update(stopped_on=timezone.localdate())
            WinterRest.objects.create(
                animal=animal, begins_on=data["begins"], weeks=data["weeks"], agreed=data["agreed"].strip() if form.against else "",
                kept_at=now(), kept_by=request.user,
            )  # fmt: skip
        messages.success(request, "Kept: the round follows it, from the last meal to the first.")
    except IntegrityError:  # kept by somebody else in the same moment
        messages.success(request, "It is kept already.")
    return redirect("seasons:rest", pk=animal.pk)


@require_POST
def stop(request: KeeperRequest, pk: int) -> HttpResponse:
    """End a rest that was kept: it is woken, or does not begin."""
    kept = get_object_or_404(WinterRest.objects.of(request.household).going(), pk=pk)
    kept.stopped_on = timezone.localdate()
    kept.save(update_fields=["stopped_on"])
    messages.success(request, "Ended: warm it over some days, water first, and it is fed again on the round.")
    return redirect("seasons:rest", pk=kept.animal_id)


def loss_in_rest(due: Due, entry: Entry, units: Units) -> str:
    """What a weight that was just logged says of an animal in its rest; nothing for all others."""
    place = {animal.pk: n for n, animal in enumerate(due.animals)}
    n = place.get(entry.animal_id or 0)
    if entry.stem != "weigh" or not entry.amount or n is None or due.done is None or n not in due.done.resting:
        return ""
    animal, rest_ = due.animals[n], due.done.resting[n]
    base = Weighing.objects.filter(animal=animal, on__gte=rest_.last_meal).order_by("on", "pk").first()
    if base is None:
        return ""
    bounds, lost = limits(find(animal.species), base.mass_g), 1 - entry.amount / base.mass_g
    if entry.amount <= bounds.stop_g:
        return f"{animal.name} has lost {lost:.0%} since its last meal: end the rest today, warm it over some days, water first, and call a veterinarian."
    if entry.amount <= bounds.look_g:
        ends = show(bounds.stop_g, Kind.MASS, units)
        return f"{animal.name} has lost {lost:.0%} since its last meal: look at it and its water, weigh it again in a week. At {ends} the rest ends."
    return ""
