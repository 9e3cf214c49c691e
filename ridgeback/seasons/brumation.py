"""A brumation of an animal: offered, refused with the reasons, kept, stopped."""

import datetime as dt
import math
from dataclasses import replace
from typing import Any, cast

from django import forms
from django.contrib import messages
from django.db import IntegrityError, transaction
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.views.decorators.http import require_http_methods, require_POST

from husbandry.quantity import Kind, Units, show
from husbandry.seasons.brumation import (
    BEST_DAYS,
    SICK_DAYS,
    SUMMER_WEEKS,
    BrumationFitness,
    BrumationStep,
    Dormancy,
    limits_derivation,
    usual_begin,
    usual_summer,
    why_not,
    why_not_summer,
)
from husbandry.species.library import find
from husbandry.species.parts import LengthKind
from husbandry.species.profile import Profile
from husbandry.species.stages import stage_of
from ridgeback.animals.models import Animal
from ridgeback.clock import now
from ridgeback.derivations import DerivationView, derivation_view
from ridgeback.enclosures.models import Occupancy
from ridgeback.fields import day_field
from ridgeback.households.middleware import KeeperRequest
from ridgeback.log.models import LogEntry
from ridgeback.seasons.models import Brumation, planned_dormancy

WORDS = {
    "check": (
        "A veterinarian looks at it and at its droppings: only who is healthy and free of worms"
        " rests"
    ),
    "last meal": "Last meal",
    "weigh": "Weigh",
    "wake": "Wake it: light and warmth come back",
    "water": "Fresh water, or a bath, at once",
    "first meal": "First meal, a small one, when it is warm and alert",
}


class DormancyForm(forms.Form):
    """When the full cold begins, for how long, and who agreed if something speaks against it."""

    begins = day_field("Full brumation from")
    weeks = forms.FloatField(
        label="for weeks",
        widget=forms.TextInput(
            attrs={"inputmode": "decimal", "autocomplete": "off", "class": "quantity"}
        ),
    )
    agreed = forms.CharField(
        label="Veterinarian who agreed, and when", max_length=200, required=False
    )

    def __init__(
        self,
        *args: Any,
        profile: Profile,
        against: tuple[str, ...],
        today: dt.date,
        fed: dt.date | None,
        kind: str,
        **kwargs: Any,
    ) -> None:
        super().__init__(*args, **kwargs)
        self.profile, self.against, self.today, self.fed, self.kind = (
            profile,
            against,
            today,
            fed,
            kind,
        )

    def clean_begins(self) -> dt.date:
        """Not long past, not years ahead."""
        day: dt.date = self.cleaned_data["begins"]
        if day < self.today - dt.timedelta(days=200) or day > self.today + dt.timedelta(days=500):
            raise forms.ValidationError(f"A rest of this {self.kind}, or of the next.")
        return day

    def clean_weeks(self) -> float:
        """Within its species’ own."""
        weeks: float = self.cleaned_data["weeks"]
        low, high = weeks_of(self.profile, self.kind) or (0, 0)
        if not math.isfinite(weeks) or not low <= weeks <= high:
            raise forms.ValidationError(f"Its species rests {low:g} to {high:g} weeks.")
        return weeks

    def clean(self) -> dict[str, Any]:
        """What speaks against it is overruled by a veterinarian only."""
        data = super().clean() or {}
        if (
            self.fed is not None
            and "begins" in data
            and "weeks" in data
            and weeks_of(self.profile, self.kind) is not None
        ):
            made = planned_dormancy(self.profile.species, self.kind, data["begins"], data["weeks"])
            if self.fed > made.last_meal:
                earliest = data["begins"] + (self.fed - made.last_meal)
                text = (
                    f"It was fed on {self.fed:%-d %B}, and its gut empties first: from"
                    f" {earliest:%-d %B %Y} at the earliest."
                )
                self.add_error("begins", text)
        if self.against and not data.get("agreed", "").strip() and not self.errors:
            self.add_error(
                "agreed",
                "Something speaks against it, above: only a veterinarian’s word overrules that.",
            )
        return data


def weeks_of(profile: Profile, kind: str) -> tuple[float, float] | None:
    """The least and the most weeks of a rest of its species; None where it has none."""
    if kind == "summer":
        return SUMMER_WEEKS if profile.season.aestivates else None
    return (
        profile.season.dormancy_weeks.ends
        if profile.season.dormancy != "none" and profile.season.dormancy_weeks is not None
        else None
    )


def _fitness(animal: Animal, today: dt.date) -> BrumationFitness:
    weights = sorted(animal.weighings.all(), key=lambda one: (one.on, one.pk))
    recent = [one.mass_g for one in weights if (today - one.on).days <= BEST_DAYS]
    lost = 1 - recent[-1] / max(recent) if recent else None
    first = Occupancy.objects.filter(animal=animal).order_by("since").first()
    known = find(animal.species)
    lengths = cast(dict[LengthKind, float], animal.length_mm())  # its model knows no other kinds
    mass = weights[-1].mass_g if weights else None
    stage = stage_of(
        known, today=today, born_on=animal.born_on, mass_g=mass, length_mm=lengths or None
    )
    since = today - dt.timedelta(days=SICK_DAYS)
    sick = LogEntry.objects.standing().filter(animal=animal, stem="sign", on__gte=since).exists()
    return BrumationFitness(
        stage.slug,
        bool(weights),
        lost,
        (today - animal.day_of(first.since)).days if first else None,
        sick,
    )


def last_fed(animal: Animal) -> dt.date | None:
    """When it last ate, by the ledger or by what was said of it."""
    eaten = (
        LogEntry.objects.standing()
        .filter(animal=animal, stem__startswith="feed ", outcome=LogEntry.Outcome.DONE)
        .order_by("-on")
    )
    logged = eaten.values_list("on", flat=True).first()
    return max([day for day in (logged, animal.fed_on) if day is not None], default=None)


def _begin(
    profile: Profile, kind: str, lat_deg: float, today: dt.date, fed: dt.date | None
) -> dt.date:
    """The usual day, or the first that its last meal allows."""
    usual = usual_summer if kind == "summer" else usual_begin
    begin = usual(lat_deg, today.year)
    if begin < today - dt.timedelta(days=30):
        begin = usual(lat_deg, today.year + 1)
    weeks = weeks_of(profile, kind)
    if weeks is None:
        return begin
    made = planned_dormancy(profile.species, kind, begin, weeks[0])
    return begin + max((fed or made.last_meal) - made.last_meal, dt.timedelta(0))


def step_text(step: BrumationStep, units: Units) -> str:
    """A step in words."""
    if step.kind in WORDS:
        words = WORDS[step.kind]
        return (
            f"{words}: {step.hours:g} h of light" if step.kind == "wake" and step.hours else words
        )
    temp = show(step.temp_c, Kind.TEMPERATURE, units, digits=0) if step.temp_c is not None else ""
    if step.kind == "retreat":
        return (
            f"Its cool end stays below {temp}, damp and dark under cover; water every day; food"
            " only if it asks"
        )
    if step.kind == "rest":
        return f"Full brumation: dark, at {temp}"
    return f"{step.hours:g} h of light, air {temp}"


def dormancy_rows(dormancy: Dormancy, units: Units, today: dt.date) -> list[dict[str, Any]]:
    """Its days as lines; steps of one day together."""
    found: list[dict[str, Any]] = []
    for step in dormancy.steps:
        text = step_text(step, units)
        if found and found[-1]["on"] == step.on:
            found[-1]["text"] += f"; {text[0].lower()}{text[1:]}"
        else:
            found.append({"on": step.on, "text": text, "past": step.on < today})
    return found


def _bounds(profile: Profile, mass_g: float, units: Units) -> list[DerivationView]:
    look, stop = limits_derivation(profile, mass_g)
    words = ("it is looked at, with its water", "the rest is ended and a veterinarian called")
    return [
        replace(
            derivation_view(one, units), text=f"Below {show(one.value, Kind.MASS, units)} {said}"
        )
        for one, said in zip((look, stop), words, strict=True)
    ]


@require_http_methods(["GET", "HEAD", "POST"])
def brumation(request: KeeperRequest, pk: int) -> HttpResponse:
    """What a rest would be, what speaks against it; kept when asked to."""
    animal = get_object_or_404(
        Animal.objects.of(request.household).prefetch_related("weighings", "lengths"), pk=pk
    )
    profile = find(animal.species)
    at = now()
    living = (
        Occupancy.objects.filter(animal=animal, until__isnull=True)
        .select_related("enclosure__room")
        .first()
    )
    room = living.enclosure.room if living else None
    today = room.day_of(at) if room else animal.household.day_of(at)
    kind = "summer" if request.GET.get("season") == "summer" else "winter"
    against = (why_not_summer if kind == "summer" else why_not)(profile, _fitness(animal, today))
    weeks = weeks_of(profile, kind)
    never = weeks is None
    lat = room.latitude_deg if room else 50.0
    fed = last_fed(animal)
    begin = _begin(profile, kind, lat, today, fed)
    usual = round(sum(weeks) / 2) if weeks is not None and kind == "winter" else 4
    form = DormancyForm(
        request.POST if request.method == "POST" else None,
        profile=profile,
        against=against,
        today=today,
        fed=fed,
        kind=kind,
        initial={"begins": begin, "weeks": f"{usual:g}"},
    )
    if form.is_bound and not never and form.is_valid() and "keep" in request.POST:
        return _keep(request, animal, form)
    kept, mass, shown = _kept_and_shown(animal, begin, form, kind, never, today, usual)
    bounds = _bounds(profile, mass, request.units) if mass and not never else []
    late = shown is not None and kept is None and shown.steps[0].on < today
    context = {
        "late": late,
        "season": kind,
        "summers": profile.season.aestivates,
        "animal": animal,
        "profile": profile,
        "form": form,
        "against": against,
        "never": never,
        "kept": kept,
        "rows": dormancy_rows(shown, request.units, today) if shown else [],
        "bounds": bounds,
        "span": (
            " to ".join(
                show(end, Kind.TEMPERATURE, request.units, digits=0, unit=n == 1)
                for n, end in enumerate(shown.temp_c)
            )
            if shown
            else ""
        ),
    }
    return render(request, "seasons/brumation.html", context)


def _kept_and_shown(
    animal: Animal,
    begin: dt.date,
    form: DormancyForm,
    kind: str,
    never: bool,
    today: dt.date,
    usual: int,
) -> tuple[Brumation | None, float | None, Any]:
    """Find the brumation that is kept, the animal's mass, and the brumation to show."""
    kept = (
        animal.brumations.going()
        .filter(begins_on__gte=today - dt.timedelta(days=250), season=kind)
        .first()
    )
    asked = planned_dormancy(animal.species, kind, begin, usual) if not never else None
    if (
        form.is_bound
        and not never
        and "begins" in form.cleaned_data
        and "weeks" in form.cleaned_data
    ):
        asked = planned_dormancy(
            animal.species, kind, form.cleaned_data["begins"], form.cleaned_data["weeks"]
        )
    shown = kept.plan() if kept and not form.is_bound else asked
    mass = animal.mass_g()
    return kept, mass, shown


def _keep(request: KeeperRequest, animal: Animal, form: DormancyForm) -> HttpResponse:
    data = form.cleaned_data
    try:
        with transaction.atomic():
            # What is planned instead goes; rests of earlier years stay in the year overview.
            animal.brumations.going().filter(
                season=form.kind, begins_on__gte=form.today - dt.timedelta(days=250)
            ).update(stopped_on=form.today)
            Brumation.objects.create(
                animal=animal,
                season=form.kind,
                begins_on=data["begins"],
                weeks=data["weeks"],
                agreed=data["agreed"].strip() if form.against else "",
                kept_at=now(),
                kept_by=request.user,
            )
        messages.success(request, "Saved: tasks follow it, from the last meal to the first.")
    except IntegrityError:  # kept by somebody else in the same moment
        messages.success(request, "It is saved already.")
    return redirect(_address(animal.pk, form.kind))


def _address(pk: int, season: str) -> str:
    return reverse("seasons:brumation", args=[pk]) + (
        "?season=summer" if season == "summer" else ""
    )


@require_POST
def stop(request: KeeperRequest, pk: int) -> HttpResponse:
    """End a rest that was kept: it is woken, or does not begin."""
    kept = get_object_or_404(Brumation.objects.of(request.household).going(), pk=pk)
    living = (
        Occupancy.objects.filter(animal=kept.animal, until__isnull=True)
        .select_related("enclosure__room")
        .first()
    )
    kept.stopped_on = (
        living.enclosure.room.day_of(now()) if living else kept.animal.household.day_of(now())
    )
    kept.save(update_fields=["stopped_on"])
    messages.success(
        request,
        "Ended: warm it over some days, water first, then feed it again; its meals are under"
        " Today.",
    )
    return redirect(_address(kept.animal_id, kept.season))
