"""The page of an animal's food; a score, a spell, its end."""

import datetime as dt
import uuid
from typing import Any

from django import forms
from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_safe

from husbandry.diet.condition import WORDS
from husbandry.diet.spells import offered_to
from husbandry.year.rest import in_rest
from ridgeback.animals import flows
from ridgeback.animals.models import Animal, Spell
from ridgeback.animals.plausibility import day_of_life
from ridgeback.clock import now
from ridgeback.fields import day_field
from ridgeback.food.logging import MealForm, log_meal
from ridgeback.food.presenting import fed, food_page
from ridgeback.habitats.models import Habitat
from ridgeback.keepers.middleware import KeeperRequest
from ridgeback.ledger import flows as ledger
from ridgeback.ledger.models import Entry
from ridgeback.library.flows import profile_of
from ridgeback.posting import only_by_form
from ridgeback.rounds.due_tasks import gather
from ridgeback.rounds.presenting import entry_view
from ridgeback.seasons.models import rests_of

OFFERED = 8
"""So many meals of late are shown."""


def _animal(request: KeeperRequest, pk: int) -> Animal:
    rows = Animal.objects.of(request.household).select_related("household").prefetch_related("weighings", "lengths", "spells")
    return get_object_or_404(rows, pk=pk)


posted = only_by_form("food:page", _animal)


def _home(request: KeeperRequest, animal: Animal) -> Habitat | None:
    lives = Habitat.objects.of(request.household).for_planning()
    return lives.filter(occupancies__animal=animal, occupancies__until__isnull=True).first()


class SpellForm(forms.Form):
    """What goes on, and since when."""

    kind = forms.ChoiceField(label="Condition", widget=forms.Select)
    since = day_field("since")

    def __init__(self, *args: Any, animal: Animal, profile: Any, today: dt.date, **kwargs: Any) -> None:
        kwargs.setdefault("initial", {"since": today})
        super().__init__(*args, **kwargs)
        self.animal, self.today = animal, today
        names = dict(Spell.Kind.choices)
        self.fields["kind"].choices = [(kind, names[kind]) for kind in offered_to(profile, animal.sex)]  # type: ignore[attr-defined]  # a choice field

    def clean_since(self) -> dt.date:
        """Not to come, not before it was born, not years ago."""
        day: dt.date = self.cleaned_data["since"]
        day_of_life(day, self.animal, self.today)
        if (self.today - day).days > 400:
            raise forms.ValidationError("That is more than a year ago: enter its present condition.")
        return day


def _page(
    request: KeeperRequest,
    animal: Animal,
    *,
    form: SpellForm | None = None,
    meal: MealForm | None = None,
) -> HttpResponse:
    at, habitat = now(), _home(request, animal)
    today = animal.day_of(at)
    profile = profile_of(request.household, animal.species)
    rest = rests_of([animal.pk], today).get(animal.pk)
    resting = rest is not None and in_rest(rest, today)
    made = fed(animal, profile, habitat, at, today)
    context = {
        "animal": animal, "home": habitat, "profile": profile, "resting": resting, "view": food_page(animal, made, request.units, today, resting=resting),
        "form": form or SpellForm(animal=animal, profile=profile, today=today), "spells": [one for one in animal.spells.all() if one.until is None],
        "was": [one for one in animal.spells.all() if one.until is not None][:6],
        "meal": meal or MealForm(animal=animal, made=made, today=today, units=request.units),
        "offered": _offered(request, animal, habitat),
        "looks": list(Entry.objects.standing().filter(animal=animal, stem=ledger.BODY).order_by("-at")[:8]),
    }  # fmt: skip
    return render(request, "food/page.html", context)


def _offered(request: KeeperRequest, animal: Animal, habitat: Habitat | None) -> list[tuple[dt.date, str]]:
    """The last meals that it was offered, each with its day and in words."""
    meals = Entry.objects.standing().filter(animal=animal, stem__startswith="feed ")
    zone = habitat.room.time_zone if habitat is not None else animal.household.time_zone
    latest = meals.exclude(outcome=Entry.Outcome.SKIPPED).select_related("by").order_by("-on", "-at")[:OFFERED]
    return [(entry.on, entry_view(entry, zone, request.units).text) for entry in latest]


@posted
def log(request: KeeperRequest, pk: int) -> HttpResponse:
    """A meal or a refusal, whether it was due or not."""
    animal, at = _animal(request, pk), now()
    habitat, today = _home(request, animal), animal.day_of(at)
    if habitat is None or not animal.there:
        messages.error(request, "It lives in no enclosure: move it in first.")
        return redirect("food:page", pk=pk)
    profile = profile_of(request.household, animal.species)
    made = fed(animal, profile, habitat, at, today)
    form = MealForm(request.POST, animal=animal, made=made, today=today, units=request.units)
    if not form.is_valid():
        return _page(request, animal, meal=form)
    due = next(iter(gather(request.household, at, only=[habitat.pk])), None)
    entry, mine = log_meal(form, habitat, due, request.user, at)
    text = entry_view(entry, habitat.room.time_zone, request.units).text
    again = "" if mine or entry.tap == form.cleaned_data["form_key"] else "Somebody logged that already: "
    messages.success(request, f"{again or 'Logged: '}{text}.")
    return redirect("food:page", pk=pk)


@require_safe
def page(request: KeeperRequest, pk: int) -> HttpResponse:
    """How one animal is fed, why, and what that holds."""
    animal = _animal(request, pk)
    return _page(request, animal) if animal.there else redirect("animals:page", pk=pk)


@posted
def score(request: KeeperRequest, pk: int) -> HttpResponse:
    """It was looked at and compared with the five."""
    animal = _animal(request, pk)
    text = request.POST.get("score", "")
    if text not in {"1", "2", "3", "4", "5"} or not animal.there:
        messages.error(request, "Choose one of the five.")
        return redirect("food:page", pk=pk)
    habitat, at = _home(request, animal), now()
    if habitat is None:
        flows.set_condition(animal, score=int(text), on=animal.day_of(at))
        messages.success(request, f"Noted: {text} of 5, {WORDS[int(text)]}.")
        return redirect("food:page", pk=pk)
    tap, today = uuid.uuid4(), animal.day_of(at)
    name = f"{habitat.pk}/{animal.pk}/{ledger.BODY}/{tap}"
    written = ledger.Tap(tap, name, ledger.BODY, Entry.Outcome.DONE, today, at, amount=float(text))
    ledger.write(habitat, animal, written, keeper=request.user, now=at)
    messages.success(request, f"Noted: {text} of 5, {WORDS[int(text)]}. Its meals follow.")
    return redirect("food:page", pk=pk)


@posted
def begin(request: KeeperRequest, pk: int) -> HttpResponse:
    """A spell begins."""
    animal = _animal(request, pk)
    profile, at = profile_of(request.household, animal.species), now()
    form = SpellForm(request.POST, animal=animal, profile=profile, today=animal.day_of(at))
    if not form.is_valid():
        return _page(request, animal, form=form)
    kind = form.cleaned_data["kind"]
    begun = flows.begin_spell(animal, kind=kind, since=form.cleaned_data["since"])
    name = Spell.Kind(kind).label
    messages.success(request, f"Noted: {name}." if begun else f"That goes on already: {name}.")
    return redirect("food:page", pk=pk)


@posted
def end(request: KeeperRequest, pk: int) -> HttpResponse:
    """A spell is over."""
    animal = _animal(request, pk)
    text = request.POST.get("spell", "")
    spell = get_object_or_404(animal.spells.all(), pk=int(text) if text.isdecimal() and len(text) < 12 else 0)
    flows.end_spell(spell, until=animal.day_of(now()))
    messages.success(request, f"Over: {spell.get_kind_display()}.")
    return redirect("food:page", pk=pk)
