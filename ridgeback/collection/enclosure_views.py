"""Enclosures on their own: added, named, archived, duplicated, planned for an animal."""

from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect, render

from ridgeback.clock import now
from ridgeback.collection import flows
from ridgeback.collection.forms import AddEnclosuresForm, UseForm
from ridgeback.collection.views import get_or_post, household_of, own_animal
from ridgeback.enclosures import flows as enclosure_flows
from ridgeback.enclosures.access import own_enclosure, posted
from ridgeback.enclosures.models import Enclosure
from ridgeback.households.middleware import KeeperRequest
from ridgeback.households.models import Household
from ridgeback.posting import posted_key
from ridgeback.submissions.flows import sent_once


@get_or_post
def add_enclosures(request: KeeperRequest) -> HttpResponse:
    """Add one enclosure or a row of equal ones."""
    household = household_of(request)
    form = AddEnclosuresForm(
        request.POST if request.method == "POST" else None,
        household=household,
        units=request.units,
        initial={"planned_for": request.GET.get("for", "")[:12]},
    )
    if form.is_bound and form.is_valid():
        made = _made(request, household, form)
        if len(made) == 1:
            return redirect("enclosures:page", pk=made[0].pk)
        if made:
            return redirect("enclosures:list")
    return render(
        request,
        "collection/add_enclosures.html",
        {"form": form, "has_room": household.rooms.exists()},
    )


def _made(
    request: KeeperRequest, household: Household, form: AddEnclosuresForm
) -> list[Enclosure]:
    cleaned = form.cleaned_data
    room = get_object_or_404(household.rooms, pk=int(cleaned["room"]))
    made: list[Enclosure] = []
    with sent_once(household.pk, cleaned["form_key"]) as first:
        if first:
            made = flows.add_enclosures(
                room,
                form.names(),
                form.spec(),
                shelf=cleaned["shelf"],
                purpose=cleaned["purpose"],
                state=cleaned["state"],
                keeper=request.user,
                now=now(),
            )
            if cleaned["planned_for"]:
                animal = own_animal(request, int(cleaned["planned_for"]))
                enclosure_flows.plan_for(made[0], animal, now=now())
    if made:
        names = (
            " and ".join(one.name for one in made) if len(made) < 3 else f"{len(made)} enclosures"
        )
        are = "is" if len(made) == 1 else "are"
        messages.success(request, f"{names} {are} added.")
    return made


@posted
def plan_for(request: KeeperRequest, pk: int) -> HttpResponse:
    """Plan an enclosure for an animal, wherever it lives until then."""
    enclosure = own_enclosure(request, pk)
    animal = own_animal(request, posted_key(request, "animal"))
    enclosure_flows.plan_for(enclosure, animal, now=now())
    messages.success(request, f"{enclosure.name} is planned for {animal.name}.")
    return redirect("enclosures:page", pk=pk)


@get_or_post
def use(request: KeeperRequest, pk: int) -> HttpResponse:
    """The name of an enclosure, where it stands, and what it is used for."""
    enclosure = own_enclosure(request, pk)
    form = UseForm(request.POST if request.method == "POST" else None, enclosure=enclosure)
    if form.is_bound and form.is_valid():
        cleaned = form.cleaned_data
        room = get_object_or_404(household_of(request).rooms, pk=int(cleaned["room"]))
        flows.set_use(
            enclosure,
            name=cleaned["name"],
            room=room,
            shelf=cleaned["shelf"],
            purpose=cleaned["purpose"],
        )
        messages.success(request, "Saved.")
        return redirect("collection:use", pk=pk)
    return render(request, "collection/use.html", {"enclosure": enclosure, "form": form})


@posted
def archive(request: KeeperRequest, pk: int) -> HttpResponse:
    """Put an enclosure away, or use it again."""
    enclosure = own_enclosure(request, pk)
    if request.POST.get("back"):
        flows.use_again(enclosure)
        messages.success(request, f"{enclosure.name} is in use again.")
        return redirect("enclosures:page", pk=pk)
    try:
        flows.archive(enclosure, on=enclosure.room.day_of(now()))
    except flows.UseError as why:
        messages.error(request, str(why))
        return redirect("collection:use", pk=pk)
    messages.success(request, f"{enclosure.name} is archived. Its history stays.")
    return redirect("enclosures:list")


@posted
def duplicate(request: KeeperRequest, pk: int) -> HttpResponse:
    """Another enclosure with the same layout."""
    enclosure = own_enclosure(request, pk)
    try:
        made = flows.duplicate(enclosure, keeper=request.user, now=now())
    except flows.UseError as why:
        messages.error(request, str(why))
        return redirect("collection:use", pk=pk)
    messages.success(request, f"{made.name} is planned, with nobody in it.")
    return redirect("collection:use", pk=made.pk)
