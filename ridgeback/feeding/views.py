"""The page of an animal's food; a score, a condition period, its end."""

import datetime as dt
import uuid
from typing import Any

from django import forms
from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_safe

from husbandry.feeding.condition import SCORE_WORDS, SCORES
from husbandry.feeding.condition_periods import offered_to
from husbandry.seasons.brumation import is_dormant
from ridgeback.animals import flows
from ridgeback.animals.models import Animal, ConditionPeriod
from ridgeback.animals.plausibility import day_of_life
from ridgeback.clock import now
from ridgeback.enclosures.models import Enclosure
from ridgeback.feeding.logging import MealForm, log_meal
from ridgeback.feeding.presenting import fed, food_page
from ridgeback.fields import day_field
from ridgeback.households.middleware import KeeperRequest
from ridgeback.log import flows as ledger
from ridgeback.log.models import LogEntry
from ridgeback.posting import only_by_form, posted_key
from ridgeback.seasons.models import dormancies_of
from ridgeback.species_guide.flows import profile_of
from ridgeback.tasks.due_tasks import gather
from ridgeback.today.presenting import entry_view

OFFERED = 8
"""So many meals of late are shown."""


def _animal(request: KeeperRequest, pk: int) -> Animal:
    rows = (
        Animal.objects.of(request.household)
        .select_related("household")
        .prefetch_related("weighings", "lengths", "condition_periods")
    )
    return get_object_or_404(rows, pk=pk)


posted = only_by_form("feeding:page", _animal)


def _home(request: KeeperRequest, animal: Animal) -> Enclosure | None:
    lives = Enclosure.objects.of(request.household).for_planning()
    return lives.filter(occupancies__in=animal.occupancies.present()).first()


class ConditionPeriodForm(forms.Form):
    """What goes on, and since when."""

    kind = forms.ChoiceField(label="Condition", widget=forms.Select)
    since = day_field("since")

    def __init__(
        self, *args: Any, animal: Animal, profile: Any, today: dt.date, **kwargs: Any
    ) -> None:
        kwargs.setdefault("initial", {"since": today})
        super().__init__(*args, **kwargs)
        self.animal = animal
        self.today = today
        names = dict(ConditionPeriod.Kind.choices)
        choices = [(kind, names[kind]) for kind in offered_to(profile, animal.sex)]
        self.fields["kind"].choices = choices  # type: ignore[attr-defined]  # a choice field

    def clean_since(self) -> dt.date:
        """Not to come, not before it was born, not years ago."""
        day: dt.date = self.cleaned_data["since"]
        day_of_life(day, self.animal, self.today)
        if (self.today - day).days > 400:
            raise forms.ValidationError(
                "That is more than a year ago: enter its present condition."
            )
        return day


def _page(
    request: KeeperRequest,
    animal: Animal,
    *,
    form: ConditionPeriodForm | None = None,
    meal: MealForm | None = None,
) -> HttpResponse:
    at = now()
    enclosure = _home(request, animal)
    today = animal.day_of(at)
    profile = profile_of(request.household, animal.species)
    dormancy = dormancies_of([animal.pk], today).get(animal.pk)
    resting = dormancy is not None and is_dormant(dormancy, today)
    made = fed(animal, profile, enclosure, at, today)
    context = {
        "animal": animal,
        "home": enclosure,
        "profile": profile,
        "resting": resting,
        "view": food_page(animal, made, request.units, today, resting=resting),
        "form": form or ConditionPeriodForm(animal=animal, profile=profile, today=today),
        "condition_periods": [one for one in animal.condition_periods.all() if one.until is None],
        "was": [one for one in animal.condition_periods.all() if one.until is not None][:6],
        "meal": meal or MealForm(animal=animal, made=made, today=today, units=request.units),
        "offered": _offered(request, animal, enclosure),
        "looks": list(
            LogEntry.objects.standing().filter(animal=animal, stem=ledger.BODY).order_by("-at")[:8]
        ),
    }
    return render(request, "feeding/page.html", context)


def _offered(
    request: KeeperRequest, animal: Animal, enclosure: Enclosure | None
) -> list[tuple[dt.date, str]]:
    """The last meals that it was offered, each with its day and in words."""
    meals = LogEntry.objects.standing().filter(animal=animal, stem__startswith="feed ")
    zone = enclosure.room.time_zone if enclosure is not None else animal.household.time_zone
    latest = (
        meals.exclude(outcome=LogEntry.Outcome.SKIPPED)
        .select_related("by")
        .order_by("-on", "-at")[:OFFERED]
    )
    return [(entry.on, entry_view(entry, zone, request.units).text) for entry in latest]


@posted
def log(request: KeeperRequest, pk: int) -> HttpResponse:
    """A meal or a refusal, whether it was due or not."""
    animal = _animal(request, pk)
    at = now()
    enclosure = _home(request, animal)
    today = animal.day_of(at)
    if enclosure is None or not animal.there:
        messages.error(request, "It lives in no enclosure: move it in first.")
        return redirect("feeding:page", pk=pk)
    profile = profile_of(request.household, animal.species)
    made = fed(animal, profile, enclosure, at, today)
    form = MealForm(request.POST, animal=animal, made=made, today=today, units=request.units)
    if not form.is_valid():
        return _page(request, animal, meal=form)
    due = next(iter(gather(request.household, at, only=[enclosure.pk])), None)
    entry, mine = log_meal(form, enclosure, due, request.user, at)
    text = entry_view(entry, enclosure.room.time_zone, request.units).text
    again = (
        ""
        if mine or entry.log_request == form.cleaned_data["form_key"]
        else "Somebody logged that already: "
    )
    messages.success(request, f"{again or 'Logged: '}{text}.")
    return redirect("feeding:page", pk=pk)


@require_safe
def page(request: KeeperRequest, pk: int) -> HttpResponse:
    """How one animal is fed, why, and what that holds."""
    animal = _animal(request, pk)
    return _page(request, animal) if animal.there else redirect("animals:page", pk=pk)


@posted
def score(request: KeeperRequest, pk: int) -> HttpResponse:
    """It was looked at and compared with the five."""
    animal = _animal(request, pk)
    value = posted_key(request, "score")
    if value not in SCORES or not animal.there:
        messages.error(request, "Choose one of the five.")
        return redirect("feeding:page", pk=pk)
    enclosure = _home(request, animal)
    at = now()
    if enclosure is None:
        flows.set_condition(animal, score=value, on=animal.day_of(at))
        messages.success(request, f"Logged: {value} of 5, {SCORE_WORDS[value]}.")
        return redirect("feeding:page", pk=pk)
    log_request = uuid.uuid4()
    today = animal.day_of(at)
    name = f"{enclosure.pk}/{animal.pk}/{ledger.BODY}/{log_request}"
    written = ledger.LogRequest(
        log_request, name, ledger.BODY, LogEntry.Outcome.DONE, today, at, amount=float(value)
    )
    ledger.write(enclosure, animal, written, keeper=request.user, now=at)
    messages.success(request, f"Logged: {value} of 5, {SCORE_WORDS[value]}. Its meals follow.")
    return redirect("feeding:page", pk=pk)


@posted
def begin(request: KeeperRequest, pk: int) -> HttpResponse:
    """A condition period begins."""
    animal = _animal(request, pk)
    profile = profile_of(request.household, animal.species)
    at = now()
    form = ConditionPeriodForm(
        request.POST, animal=animal, profile=profile, today=animal.day_of(at)
    )
    if not form.is_valid():
        return _page(request, animal, form=form)
    kind = form.cleaned_data["kind"]
    begun = flows.begin_condition_period(animal, kind=kind, since=form.cleaned_data["since"])
    name = ConditionPeriod.Kind(kind).label
    messages.success(request, f"Logged: {name}." if begun else f"That goes on already: {name}.")
    return redirect("feeding:page", pk=pk)


@posted
def end(request: KeeperRequest, pk: int) -> HttpResponse:
    """A condition period is over."""
    animal = _animal(request, pk)
    open_or_over = animal.condition_periods.all()
    condition_period = get_object_or_404(open_or_over, pk=posted_key(request, "condition_period"))
    flows.end_condition_period(condition_period, until=animal.day_of(now()))
    messages.success(request, f"Ended: {condition_period.get_kind_display()}.")
    return redirect("feeding:page", pk=pk)
