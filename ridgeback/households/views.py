"""The reader's units, the household and its rooms. Accounts are in accounts.py."""

import copy

from allauth.account.models import EmailAddress
from django.contrib import messages
from django.db import IntegrityError, transaction
from django.db.models import ProtectedError
from django.http import Http404, HttpResponse, HttpResponseRedirect
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.utils.http import url_has_allowed_host_and_scheme, urlencode
from django.views.decorators.http import require_http_methods, require_POST

from ridgeback.households import flows
from ridgeback.households.forms import (
    HouseholdForm,
    NewHouseholdForm,
    PreferencesForm,
    RoomForm,
    SavedFilterForm,
)
from ridgeback.households.middleware import CHOSEN, KeeperRequest, memberships_of
from ridgeback.households.models import Household, Room, SavedFilter
from ridgeback.posting import posted_key


@require_POST
def preferences(request: KeeperRequest) -> HttpResponse:
    """Change units or theme and come back to the same page."""
    form = PreferencesForm(request.POST, instance=request.user)
    if form.is_valid():
        form.save()
    target = request.POST.get("next", "")
    if not url_has_allowed_host_and_scheme(
        target, allowed_hosts={request.get_host()}, require_https=request.is_secure()
    ):
        target = "/"
    return HttpResponseRedirect(target)


def _household(request: KeeperRequest) -> Household:
    """The keeper's own, or 404."""
    if request.household is None:
        raise Http404
    return request.household


FILTERS_MOST = 20
"""Saved filters of a keeper in one list at the most: more are not looked through (design choice)."""


@require_POST
def save_filter(request: KeeperRequest) -> HttpResponse:
    """Save what a list is searched for, under a name; one of the same name is replaced."""
    own = _household(request)
    form = SavedFilterForm(request.POST)
    page = request.POST.get("page", "")
    if page not in SavedFilter.Page.values:
        return redirect("enclosures:list")
    mine = own.filters.filter(keeper=request.user, page=page)
    if not form.is_valid():
        errors = form.errors.get("name") or next(iter(form.errors.values()))
        messages.error(request, str(errors[0]))
    elif mine.count() >= FILTERS_MOST:
        messages.error(request, f"You have {FILTERS_MOST} filters here: remove one first.")
    else:
        found = {name: form.cleaned_data[name] for name in ("query", "state")}
        name = form.cleaned_data["name"]
        mine.update_or_create(
            household=own, keeper=request.user, page=page, name=name, defaults=found
        )
        messages.success(request, f"Saved as “{name}”.")
    query = {name: request.POST.get(name, "")[:80] for name in ("query", "state")}
    return HttpResponseRedirect(f"{reverse(f'{page}:list')}?{urlencode(query)}")


@require_POST
def remove_filter(request: KeeperRequest) -> HttpResponse:
    """Remove a saved filter of one's own."""
    mine = _household(request).filters.filter(keeper=request.user)
    one = get_object_or_404(mine, pk=posted_key(request, "filter"))
    one.delete()
    messages.success(request, f"“{one.name}” is removed.")
    return redirect(f"{one.page}:list")


def household(request: KeeperRequest) -> HttpResponse:
    """The household's name, people and rooms."""
    own = _household(request)
    if request.method == "POST":
        with transaction.atomic():
            locked = Household.objects.select_for_update().get(pk=own.pk)
            version = locked.version
            fresh = HouseholdForm(instance=copy.copy(locked))
            form = HouseholdForm(request.POST, instance=locked)
            if form.is_valid() and not form.stale(version, fresh):
                form.save()
                messages.success(request, "Saved.")
                return redirect("households:household")
    else:
        form = HouseholdForm(instance=own)
    own.refresh_from_db()  # the heading shows the saved name, the field the one that was typed
    context = {
        "form": form,
        "household": own,
        "confirmed": EmailAddress.objects.filter(user=request.user, verified=True).exists(),
        "people": own.memberships.select_related("keeper").order_by("pk"),
        "rooms": own.rooms.all(),
        "mine": memberships_of(request.user),
    }
    return render(request, "households/household.html", context)


@require_http_methods(["GET", "HEAD", "POST"])
def begin(request: KeeperRequest) -> HttpResponse:
    """Make a household of one's own: the first, after leaving the last, or another."""
    form = NewHouseholdForm(request.POST or None)
    if request.method == "POST" and form.is_valid():
        if flows.may_begin(request.user):
            made = flows.begin(request.user, form.cleaned_data["name"])
            request.session[CHOSEN] = made.pk
            return redirect("collection:choose")
        form.add_error(
            None, f"You cannot create more than {flows.OWN_MOST} households, and none in the demo."
        )
    mine = memberships_of(request.user)

    return render(request, "households/begin.html", {"form": form, "mine": mine})


def room(request: KeeperRequest, pk: int | None = None) -> HttpResponse:
    """A room, new or known."""
    own = _household(request)
    known = get_object_or_404(Room, household=own, pk=pk) if pk else Room(household=own)
    form = RoomForm(instance=known, units=request.units)
    if request.method == "POST":
        form = RoomForm(request.POST, instance=known, units=request.units)
        saved = _save_room(request, form, pk)
        if saved is not None:
            messages.success(request, f"{saved.name} is saved.")
            return redirect("households:household")
    touched = known.enclosures.order_by("name") if pk else []
    context = {"form": form, "known": pk, "zones": RoomForm.zones(), "touched": touched}
    return render(request, "households/room.html", context)


def _save_room(request: KeeperRequest, form: RoomForm, pk: int | None) -> Room | None:
    """Save a room; None with the reason on the form when it cannot be, or was changed meanwhile."""
    try:
        with transaction.atomic():
            locked = Room.objects.select_for_update().get(pk=pk) if pk else None
            if not form.is_valid():
                return None
            if locked is not None:
                fresh = RoomForm(instance=locked, units=request.units)
                if form.stale(locked.version, fresh):
                    return None
                form.instance.version = locked.version
            saved = form.save()
            saved.enclosures.update(looked_on=None)
    except IntegrityError:  # sent twice at once, or by two people
        form.add_error("name", "There is a room of this name already.")
        return None
    return saved


@require_POST
def remove_room(request: KeeperRequest, pk: int) -> HttpResponse:
    """Away with a room that no enclosure stands in."""
    known = get_object_or_404(Room, household=_household(request), pk=pk)
    try:
        with transaction.atomic():
            known.delete()
        messages.success(request, f"{known.name} is removed.")
    except ProtectedError:
        messages.error(request, f"Enclosures stand in {known.name}: move them first.")
    return redirect("households:household")
