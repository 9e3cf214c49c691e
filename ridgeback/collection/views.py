"""Animals on their own: added, moved, deleted; and the ways to begin."""

import datetime as dt
from typing import Any

from django.contrib import messages
from django.http import Http404, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_http_methods, require_safe

from husbandry.species.library import library
from ridgeback.animals.models import Animal
from ridgeback.building.commissioning_state import standing_commissioning
from ridgeback.clock import now
from ridgeback.collection import flows
from ridgeback.collection.forms import AddAnimalsForm, MoveForm, numbered
from ridgeback.collection.judging import JudgedMove, judged
from ridgeback.enclosures import flows as enclosure_flows
from ridgeback.enclosures.access import own_enclosure
from ridgeback.enclosures.models import Enclosure
from ridgeback.households.middleware import KeeperRequest
from ridgeback.households.models import Household
from ridgeback.submissions.flows import sent_once

get_or_post = require_http_methods(["GET", "HEAD", "POST"])


def household_of(request: KeeperRequest) -> Household:
    """The household of who is signed in, or 404."""
    if request.household is None:
        raise Http404
    return request.household


def _names() -> list[str]:
    """What species are called, for the field's own list."""
    return sorted(profile.name for profile in library().values())


@require_safe
def choose(request: KeeperRequest) -> HttpResponse:
    """What do you have: the ways to begin, each in a sentence."""
    return render(request, "collection/choose.html", {"household": household_of(request)})


# --- animals -------------------------------------------------------------------------------------


@get_or_post
def add_animals(request: KeeperRequest) -> HttpResponse:
    """Add one animal or several, with or without an enclosure."""
    household = household_of(request)
    form = AddAnimalsForm(
        request.POST if request.method == "POST" else None,
        household=household,
        units=request.units,
        now=now(),
        initial={"enclosure": request.GET.get("enclosure", "")[:12]},
    )
    move: JudgedMove | None = None
    if form.is_bound and form.is_valid():
        enclosure = _chosen(request, form.cleaned_data["enclosure"])
        move = _judged_newcomers(form, enclosure, request)
        if not _to_be_confirmed(form, enclosure, move):
            return _added(request, household, form, enclosure)
    context = {"form": form, "species_names": _names(), "move": move}
    return render(request, "collection/add_animals.html", context)


def _chosen(request: KeeperRequest, key: str) -> Enclosure | None:
    """The household's own enclosure of that key; None for none."""
    return own_enclosure(request, int(key)) if key.isdecimal() else None


def _judged_newcomers(
    form: AddAnimalsForm, enclosure: Enclosure | None, request: KeeperRequest
) -> JudgedMove | None:
    if enclosure is None:
        return None
    animals: list[dict[str, Any]] = []
    for sex, count in form.counts(form.cleaned_data).items():
        animals += [_newcomer(form, sex)] * count
    named = [{**animal, "name": f"newcomer {n + 1}"} for n, animal in enumerate(animals)]
    return judged(enclosure, named, now(), request.units)


def _newcomer(form: AddAnimalsForm, sex: str) -> dict[str, Any]:
    """One of them as a request writes it."""
    cleaned = form.cleaned_data
    days = {name: cleaned[name] for name in ("born_on", "came_on")}
    data: dict[str, Any] = {"species": cleaned["species"], "sex": sex}
    data |= {name: day.isoformat() for name, day in days.items() if day}
    if cleaned["mass"] is not None:
        data["mass_g"] = cleaned["mass"]
    if cleaned["length"] is not None:
        data["length_mm"] = {form.length_kind(): cleaned["length"] * 1000}
    return data


def _to_be_confirmed(
    form: AddAnimalsForm | MoveForm, enclosure: Enclosure | None, move: JudgedMove | None
) -> bool:
    """Whether a move would do harm and was not confirmed for just this enclosure. Then the form
    carries the confirmation, to be sent again.
    """
    if enclosure is None or move is None or not move.asks:
        return False
    key = str(enclosure.pk)
    if form.cleaned_data.get("confirm") == key:
        return False
    form.data = {**form.data.dict(), "confirm": key}  # type: ignore[attr-defined]  # as posted
    return True


def _added(
    request: KeeperRequest, household: Household, form: AddAnimalsForm, enclosure: Enclosure | None
) -> HttpResponse:
    cleaned = form.cleaned_data
    sexes = [sex for sex, count in form.counts(cleaned).items() for _ in range(count)]
    taken = set(household.animals.values_list("name", flat=True))
    names = [cleaned["name"]] if len(sexes) == 1 else numbered(cleaned["name"], len(sexes), taken)
    facts = {name: cleaned[name] for name in ("species", "born_on", "came_on", "expected_on")}
    facts |= {"whereabouts": cleaned["whereabouts"], "place_note": cleaned["place_note"]}
    length = cleaned["length"]
    with sent_once(household.pk, cleaned["form_key"]) as first:
        if first:
            flows.add_animals(
                household,
                names,
                sexes,
                facts,
                mass_g=cleaned["mass"],
                length_mm=None if length is None else (form.length_kind(), length * 1000),
                enclosure=enclosure,
                now=now(),
            )
    said = names[0] if len(names) == 1 else f"{len(names)} animals"
    are = "is" if len(names) == 1 else "are"
    messages.success(request, f"{said} {are} added.")
    if enclosure is not None:
        return redirect("enclosures:page", pk=enclosure.pk)
    return redirect("animals:list")


def own_animal(request: KeeperRequest, pk: int) -> Animal:
    """An animal of this household, or 404."""
    rows = Animal.objects.of(request.household).select_related("household")
    return get_object_or_404(rows.prefetch_related("weighings", "lengths"), pk=pk)


@get_or_post
def move(request: KeeperRequest, pk: int) -> HttpResponse:
    """Move an animal: whom it would meet and what it would have there is said first."""
    animal = own_animal(request, pk)
    if not animal.there:
        messages.error(request, f"{animal.name} is no longer kept, so it moves nowhere.")
        return redirect("animals:facts", pk=pk)
    own = Enclosure.objects.of(request.household)
    home = own.filter(occupancies__in=animal.occupancies.present()).first()
    asked = request.POST if request.method == "POST" else None
    form = MoveForm(asked, animal=animal, home=home, now=now())
    judgement: JudgedMove | None = None
    target: Enclosure | None = None
    looked = request.GET.get("to", "")[:12]
    if form.is_bound and form.is_valid():
        target = _chosen(request, form.cleaned_data["to"])
        judgement = _judged_move(animal, target, request)
        if target is not None and not _to_be_confirmed(form, target, judgement):
            done = _moved(request, animal, target, form)
            if done is not None:
                return done
    elif not form.is_bound and looked.isdecimal():
        target = _chosen(request, looked)
        form.initial["to"] = looked
        judgement = _judged_move(animal, target, request)
        if judgement is not None and judgement.asks:  # it is read on this page
            form.initial["confirm"] = looked
    context = {"animal": animal, "home": home, "form": form, "move": judgement, "target": target}
    return render(request, "collection/move.html", context)


def _judged_move(
    animal: Animal, target: Enclosure | None, request: KeeperRequest
) -> JudgedMove | None:
    return judged(target, [animal.data()], now(), request.units) if target is not None else None


def _moved(
    request: KeeperRequest, animal: Animal, target: Enclosure, form: MoveForm
) -> HttpResponse | None:
    """Move it; None with the error on the form where it cannot have been."""
    cleaned = form.cleaned_data
    verified = standing_commissioning(target, with_=animal) is not None
    because = "" if verified else cleaned["reason"] or "not said"
    household = household_of(request)
    try:
        with sent_once(household.pk, cleaned["form_key"]) as first:
            if first:
                enclosure_flows.move_in(
                    target,
                    animal,
                    now=now(),
                    at=None if _this_minute(cleaned["at"]) else cleaned["at"],
                    reason=cleaned["reason"],
                    because=because,
                )
    except enclosure_flows.MoveError as why:
        form.add_error("at", str(why))
        return None
    messages.success(request, f"{animal.name} lives in {target.name} now.")
    return redirect("enclosures:page", pk=target.pk)


def _this_minute(at: dt.datetime) -> bool:
    """Whether a moment that is typed to the minute means now."""
    return abs((at - now()).total_seconds()) < 90


@get_or_post
def delete_animal(request: KeeperRequest, pk: int) -> HttpResponse:
    """Delete an animal that was added by mistake."""
    animal = own_animal(request, pk)
    if request.method != "POST":
        return redirect("animals:facts", pk=pk)
    try:
        flows.delete_animal(animal)
    except flows.UseError as why:
        messages.error(request, str(why))
        return redirect("animals:facts", pk=pk)
    messages.success(request, f"{animal.name} is deleted.")
    return redirect("animals:list")
