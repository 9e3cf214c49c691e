"""The animals of a household: the list, one animal's page, its life plan, and what the next twelve
months bring.
"""

import datetime as dt
import itertools
from functools import partial
from typing import Any

from django.contrib import messages
from django.db import transaction
from django.http import Http404, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.views.decorators.http import require_safe

from husbandry.errors import ImpossibleStateError
from husbandry.life_plan.rows import Milestone
from husbandry.quantity import Kind, show
from ridgeback.animal_pages import presenting
from ridgeback.animal_pages.lives import (
    AnimalForecastRow,
    coming_up,
    home_of,
    lamps_due,
    life_of,
    soonest,
)
from ridgeback.animals import flows, wording
from ridgeback.animals.forms import (
    ApproachesForm,
    BodyForm,
    DepartureForm,
    FactsForm,
    MeasureForm,
    WeighForm,
    preset_approaches,
)
from ridgeback.animals.models import Animal
from ridgeback.background import ask_for_lives
from ridgeback.calculation import Failed, attempt
from ridgeback.clock import now
from ridgeback.devices.models import ScaleWeight
from ridgeback.drawing.scale_view import silhouette_svg
from ridgeback.households.middleware import KeeperRequest
from ridgeback.households.models import SavedFilter
from ridgeback.instruments import flows as instruments
from ridgeback.instruments.models import Instrument
from ridgeback.permits import flows as permits
from ridgeback.permits.models import AnimalDocument
from ridgeback.posting import only_by_form, posted_key
from ridgeback.species_guide.flows import profile_of
from ridgeback.submissions.flows import sent_once


def _animal(request: KeeperRequest, pk: int) -> Animal:
    """An animal of this household, or 404."""
    rows = (
        Animal.objects.of(request.household)
        .select_related("household")
        .prefetch_related("weighings", "lengths")
    )
    return get_object_or_404(rows, pk=pk)


posted = only_by_form("animals:page", _animal)
FACTS = ("name", "sex", "born_on", "came_on", "whereabouts", "expected_on", "place_note")
"""What the form of facts holds."""


@require_safe
def animal_list(request: KeeperRequest) -> HttpResponse:
    """Every animal with its species, its stage and what comes next."""
    if request.household is None:
        raise Http404
    day = request.household.day_of(now())
    query, state = (request.GET.get(name, "")[:80] for name in ("query", "state"))
    comings = found_animals(coming_up(request.household, day), query, state, day)
    pending = any(coming.events is None for coming in comings)
    if pending:
        ask_for_lives(request.household)
    rows = [_row(coming, request, day) for coming in comings]
    gone = Animal.objects.of(request.household).filter(gone_on__isnull=False).order_by("-gone_on")
    saved = request.household.filters.filter(keeper=request.user, page=SavedFilter.Page.ANIMALS)
    context = {
        "rows": rows,
        "pending": pending,
        "gone": () if query or state else gone,
        "query": query,
        "state": state,
        "states": STATES,
        "saved": saved,
    }
    if request.htmx:
        return render(request, "animals/rows.html", context)
    context["sent_weights"] = ScaleWeight.objects.of(request.household).waiting().count()

    return render(request, "animals/list.html", context)


STATES = {"": "All", "quarantine": "Quarantine", "nowhere": "No enclosure", "away": "Not here"}
"""Which animals are shown."""


def found_animals(
    comings: list[AnimalForecastRow], query: str, state: str, today: dt.date
) -> list[AnimalForecastRow]:
    """Those that answer to every word, by name, species, enclosure, shelf or room; and to a state."""
    words = query.lower().split()[:8]

    def answers(one: AnimalForecastRow) -> bool:
        names = [one.animal.name, one.profile.name, one.profile.species, *one.profile.other_names]
        if one.home is not None:
            names += [one.home.name, one.home.shelf, one.home.room.name]
        line = " ".join(names).lower()
        shown = {
            "quarantine": one.animal.quarantine(today) is not None,
            "nowhere": one.home is None,
            "away": one.animal.awaited,
        }.get(state, True)
        return shown and all(word in line for word in words)

    return [one for one in comings if answers(one)]


def _row(coming: AnimalForecastRow, request: KeeperRequest, day: dt.date) -> dict[str, Any]:
    soon = next(iter(soonest([coming])), None)
    said = wording.event(soon[1], coming.animal.name, day, request.units) if soon else None
    return {
        "animal": coming.animal,
        "kind": coming.profile.name,
        "age": wording.age(coming.animal.born_on, day),
        "drawing": silhouette_svg(coming.profile),
        "home": coming.home,
        "stage": coming.ahead.stage if coming.ahead else "",
        "next": said,
        "severity": soon[1].severity if soon else "fact",
        "waiting": coming.events is None,
        "failed": coming.failed,
    }


def _known(request: KeeperRequest, animal: Animal) -> dict[str, Any]:
    """What is recorded of an animal, without what follows from it."""
    day = animal.day_of(now())
    profile = profile_of(request.household, animal.species)
    return {
        "animal": animal,
        "profile": profile,
        "home": home_of(animal),
        "age": wording.age(animal.born_on, day),
        "quarantine": animal.quarantine(day),
        "drawing": silhouette_svg(profile),
        "today": day,
    }


def _seen(request: KeeperRequest, animal: Animal) -> dict[str, Any]:
    """What is recorded of an animal and what follows from it: `view` is None where it cannot be calculated, and
    `failed` says why.
    """
    context = _known(request, animal)
    day = context["today"]
    profile = context["profile"]
    life = attempt(partial(life_of, animal, day, profile), "animal", animal.pk)
    view: Any = (
        life
        if isinstance(life, Failed)
        else attempt(
            partial(presenting.animal_page, life, request.units, day), "animal", animal.pk
        )
    )
    failed = view if isinstance(view, Failed) else None
    return context | {
        "life": None if failed else life,
        "view": None if failed else view,
        "failed": failed,
    }


def _growth_page(
    request: KeeperRequest,
    animal: Animal,
    *,
    weighing: WeighForm | None = None,
    measuring: MeasureForm | None = None,
) -> HttpResponse:
    context = _seen(request, animal)
    common = {
        "animal": animal,
        "profile": context["profile"],
        "today": context["today"],
        "units": request.units,
    }
    forms = {
        "weighing": weighing or WeighForm(**common),
        "measuring": measuring or MeasureForm(**common),
        "logged": _logged(animal, request),
    }
    return render(request, "animals/growth.html", {**context, **forms})


def _records_page(
    request: KeeperRequest,
    animal: Animal,
    *,
    facts: FactsForm | None = None,
    gone: DepartureForm | None = None,
) -> HttpResponse:
    context = _known(request, animal)
    day = context["today"]
    forms = {
        "facts": facts or FactsForm(animal=animal, profile=context["profile"], today=day),
        "gone": gone or DepartureForm(animal=animal, today=day),
        "homes": animal.occupancies.select_related("enclosure").order_by("-since"),
    }
    return render(request, "animals/records.html", {**context, **forms})


def _logged(animal: Animal, request: KeeperRequest) -> list[dict[str, Any]]:
    """The last weights and lengths as lines."""
    names = dict(animal.lengths.model.Kind.choices)
    rows = [
        {
            "on": w.on,
            "text": show(w.mass_g, Kind.MASS, request.units),
            "what": "mass",
            "pk": w.pk,
            "of": "weight",
        }
        for w in animal.weighings.all()
    ] + [
        {
            "on": length.on,
            "text": show(
                length.length_mm / 1000, Kind.LENGTH, request.units, small=length.length_mm < 150
            ),
            "what": names[length.kind],
            "pk": length.pk,
            "of": "length",
        }
        for length in animal.lengths.all()
    ]
    return sorted(rows, key=lambda row: (row["on"], row["pk"]), reverse=True)[:12]


@require_safe
def animal(request: KeeperRequest, pk: int) -> HttpResponse:
    """One animal: what it is, what it needs next."""
    return render(request, "animals/page.html", _seen(request, _animal(request, pk)))


@require_safe
def growth(request: KeeperRequest, pk: int) -> HttpResponse:
    """Its growth, with the scale and the tape."""
    return _growth_page(request, _animal(request, pk))


@require_safe
def enclosures(request: KeeperRequest, pk: int) -> HttpResponse:
    """Which enclosures would fit it, until when, and what it will need through its life."""
    context = _seen(request, _animal(request, pk))
    told = request.GET.get("told", "")[:120]
    life = context["life"]
    if told and life is not None:
        context["told"] = presenting.said_size(told, life, request.units, context["today"])
    return render(request, "animals/enclosures.html", context)


def _body_form(request: KeeperRequest, animal: Animal, form: type[BodyForm]) -> BodyForm:
    profile = profile_of(request.household, animal.species)
    today = animal.day_of(now())
    return form(request.POST, animal=animal, profile=profile, units=request.units, today=today)


@posted
def weigh(request: KeeperRequest, pk: int) -> HttpResponse:
    """Log a weight; one that cannot well be true is asked about first."""
    animal = _animal(request, pk)
    form = _body_form(request, animal, WeighForm)
    if not isinstance(form, WeighForm):
        raise ImpossibleStateError("missing: isinstance(form, WeighForm)")
    if not form.is_valid():
        return _growth_page(request, animal, weighing=form)
    on = form.cleaned_data["on"]
    mass_g = form.cleaned_data["number"]
    with sent_once(animal.household_id, form.cleaned_data["form_key"]) as first:
        if first:
            flows.weigh(animal, on=on, mass_g=mass_g)
    messages.success(
        request, f"Logged: {show(mass_g, Kind.MASS, request.units)} on {on:%-d %B %Y}."
    )
    return redirect("animals:growth", pk=pk)


@posted
def measure(request: KeeperRequest, pk: int) -> HttpResponse:
    """Log a length."""
    animal = _animal(request, pk)
    form = _body_form(request, animal, MeasureForm)
    if not isinstance(form, MeasureForm):
        raise ImpossibleStateError("missing: isinstance(form, MeasureForm)")
    if not form.is_valid():
        return _growth_page(request, animal, measuring=form)
    on = form.cleaned_data["on"]
    length_m = form.cleaned_data["number"]
    with sent_once(animal.household_id, form.cleaned_data["form_key"]) as first:
        if first:
            kind = form.cleaned_data["kind"]
            flows.measure(animal, on=on, kind=kind, length_mm=1000 * length_m)
    shown = show(length_m, Kind.LENGTH, request.units, small=length_m < 0.15)
    messages.success(request, f"Logged: {shown} on {on:%-d %B %Y}.")
    return redirect("animals:growth", pk=pk)


@posted
def delete_measurement(request: KeeperRequest, pk: int) -> HttpResponse:
    """Take a wrong weight or length away."""
    animal = _animal(request, pk)
    row = posted_key(request, "row")
    gone = (
        flows.forget_weight(animal, row)
        if request.POST.get("of") == "weight"
        else flows.forget_length(animal, row)
    )
    messages.success(request, "Deleted." if gone else "It was deleted already.")
    return redirect("animals:growth", pk=pk)


def facts(request: KeeperRequest, pk: int) -> HttpResponse:
    """Its name, sex and birth; where it lived, and whether it is still kept."""
    animal = _animal(request, pk)
    if request.method != "POST":
        return _records_page(request, animal)
    profile = profile_of(request.household, animal.species)
    today = animal.day_of(now())
    form = FactsForm(request.POST, animal=animal, profile=profile, today=today)
    if not form.is_valid():
        return _records_page(request, animal, facts=form)
    with transaction.atomic():
        locked = Animal.objects.select_for_update().get(pk=animal.pk)
        fresh = FactsForm(animal=locked, profile=profile, today=today)
        stale = form.stale(locked.version, fresh)
        if not stale:
            flows.set_facts(locked, **{name: form.cleaned_data[name] for name in FACTS})
    if stale:
        return _records_page(request, animal, facts=form)
    messages.success(request, "Saved.")
    return redirect("animals:facts", pk=pk)


@posted
def depart(request: KeeperRequest, pk: int) -> HttpResponse:
    """It died or is another's: it leaves its enclosure and the day's tasks; its book stays.

    Or that was a slip.
    """
    animal = _animal(request, pk)
    if "back" in request.POST:
        flows.return_(animal)
        messages.success(
            request, f"{animal.name} is of the household again: choose an enclosure for it."
        )
        return redirect("animals:facts", pk=pk)
    form = DepartureForm(request.POST, animal=animal, today=animal.day_of(now()))
    if not form.is_valid():
        return _records_page(request, animal, gone=form)
    flows.depart(
        animal, gone=form.cleaned_data["gone"], on=form.cleaned_data["gone_on"], now=now()
    )
    messages.success(
        request,
        f"{animal.name} is no longer kept: it has left its enclosure and its tasks end. Its records"
        " stay.",
    )
    return redirect("animals:facts", pk=pk)


def approaches(request: KeeperRequest, pk: int) -> HttpResponse:
    """By which approaches it is kept: one by one, or a way of keeping that answers many."""
    animal = _animal(request, pk)
    if request.method != "POST":
        return render(request, "animals/approaches.html", _seen(request, animal))
    profile = profile_of(request.household, animal.species)
    preset = request.POST.get("preset", "")
    if preset:
        chosen = preset_approaches(preset, profile)
        if chosen is None:
            messages.error(request, "There is no such way of keeping.")
            return redirect("animals:approaches", pk=pk)
    else:
        form = ApproachesForm(request.POST, animal=animal, profile=profile)
        if not form.is_valid():
            messages.error(request, "There is no such approach: nothing was changed.")
            return redirect("animals:approaches", pk=pk)
        chosen = form.chosen()
    flows.set_approaches(animal, chosen)
    messages.success(request, "Saved: the plan follows these approaches.")
    return redirect("animals:approaches", pk=pk)


@require_safe
def life_plan(request: KeeperRequest, pk: int) -> HttpResponse:
    """One animal's life as rows."""
    animal = _animal(request, pk)
    today = animal.day_of(now())
    life = life_of(animal, today, profile_of(request.household, animal.species))
    context = {
        "animal": animal,
        "profile": life.profile,
        "home": life.home,
        "view": presenting.path_view(life, request.units, today),
        "life": life,
        "today": today,
    }
    return render(request, "animals/life_plan.html", context)


def _arrival(animal: Animal, today: dt.date) -> dict[str, Any]:
    """The day on which an animal is expected, as a row of what is coming."""
    on = animal.expected_on or today
    late = on < today
    return {
        "animal": animal,
        "on": on,
        "month": on.replace(day=1),
        "now": on <= today,
        "title": f"{animal.name} {'was' if late else 'is'} expected on {on:%-d %B}",
        "words": "not here yet: is its enclosure checked, its quarantine ready?",
        "severity": "care" if late else "fact",
    }


def _ending(paper: AnimalDocument, today: dt.date) -> dict[str, Any]:
    """The day on which a paper of an animal runs out, as a row of what is coming."""
    on = paper.expires_on or today
    near = paper.state(today) != ""
    return {
        "animal": paper.animal,
        "on": on,
        "month": on.replace(day=1),
        "now": near,
        "title": f"{paper.animal.name}: {paper.title(today)}",
        "words": "ask your authority for a new one in time",
        "severity": "care" if near else "fact",
        "leads_to": reverse("permits:list", args=[paper.animal_id]),
    }


def _check(instrument: Instrument, today: dt.date) -> dict[str, Any]:
    """The day on which an instrument is to be checked again, as a row of what is coming."""
    on = instrument.due_on or today
    near = instrument.is_due(today)
    return {
        "on": on,
        "month": on.replace(day=1),
        "now": near,
        "title": f"Check {instrument.name} again by {on:%-d %B}",
        "words": "against ice water, a salt paste or a better instrument",
        "severity": "care" if on < today else "fact",
        "leads_to": reverse("instruments:instrument", args=[instrument.pk]),
    }


@require_safe
def forecast_page(request: KeeperRequest) -> HttpResponse:
    """What the next twelve months bring the household."""
    if request.household is None:
        raise Http404
    day = request.household.day_of(now())
    comings = coming_up(request.household, day)
    waiting = [coming.animal for coming in comings if coming.events is None]
    if waiting:
        ask_for_lives(request.household)
    rows: list[dict[str, Any]] = []
    for coming, event in soonest(comings):
        title, words = wording.event(event, coming.animal.name, day, request.units)
        rows.append(
            {
                "animal": coming.animal,
                "on": event.on,
                "month": event.on.replace(day=1),
                "now": event.on <= day,
                "title": title,
                "words": words,
                "severity": event.severity,
                "before": _before(event.milestone, request),
            }
        )
    rows += [_arrival(coming.animal, day) for coming in comings if coming.animal.expected_on]
    rows += [_ending(paper, day) for paper in permits.ending(request.household, day)]
    rows += [_check(one, day) for one in instruments.due(request.household, day)]
    for enclosure, event in lamps_due(comings, day):
        title, words = wording.event(event, enclosure.name, day, request.units)
        rows.append(
            {
                "enclosure": enclosure,
                "on": event.on,
                "month": event.on.replace(day=1),
                "now": event.on <= day,
                "title": title,
                "words": words,
                "severity": event.severity,
            }
        )
    rows.sort(key=lambda row: row["on"])
    due = [row for row in rows if row["now"]]
    months = [
        {"month": month, "rows": list(group)}
        for month, group in itertools.groupby(
            (row for row in rows if not row["now"]), key=lambda row: row["month"]
        )
    ]
    context = {
        "now": due,
        "months": months,
        "waiting": waiting,
        "animals": len(comings),
        "today": day,
        "failed": [(coming.animal, coming.failed) for coming in comings if coming.failed],
    }
    return render(
        request, "animals/forecast_rows.html" if request.htmx else "animals/forecast.html", context
    )


def _before(milestone: Milestone | None, request: KeeperRequest) -> list[str]:
    return [wording.shift(shift, request.units) for shift in milestone.shifts] if milestone else []
