"""The sitter's sheet, the emergency card, and what a keeper writes for them."""

import datetime as dt
from typing import Any

from django.contrib import messages
from django.db import transaction
from django.http import Http404, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_http_methods, require_safe

from ridgeback.animals.models import Animal
from ridgeback.clock import now
from ridgeback.enclosures.models import Enclosure
from ridgeback.households.middleware import KeeperRequest
from ridgeback.households.models import Household
from ridgeback.papers.care_sheet import care_sheet
from ridgeback.papers.forms import CareNotesForm, EnclosureNotesForm, PeriodForm, SheetForm
from ridgeback.papers.labels import labels_of
from ridgeback.papers.models import CareNotes, EnclosureNotes
from ridgeback.papers.sheets import emergency_card, sitter_sheet
from ridgeback.papers.summary import vet_summary
from ridgeback.papers.transfer import transfer_bill

USUAL_DAYS = 13
"""A sheet is for two weeks until somebody says (design choice) [days]."""


def _household(request: KeeperRequest) -> Household:
    if request.household is None:
        raise Http404
    return request.household


@require_http_methods(["GET", "HEAD", "POST"])
def notes(request: KeeperRequest) -> HttpResponse:
    """What a sitter must know: of the household, and of each enclosure."""
    household = _household(request)
    own = CareNotes.objects.filter(household=household).first() or CareNotes(household=household)
    enclosures = [
        one
        for one in Enclosure.objects.of(household).in_use().for_planning().order_by("name")
        if one.present
    ]
    known = {
        one.enclosure_id: one
        for one in EnclosureNotes.objects.filter(enclosure__household=household)
    }
    sent = request.POST if request.method == "POST" else None
    form = CareNotesForm(sent, instance=own)
    rows = [
        (
            one,
            EnclosureNotesForm(
                sent,
                instance=known.get(one.pk) or EnclosureNotes(enclosure=one),
                prefix=f"e{one.pk}",
            ),
        )
        for one in enclosures
    ]
    if sent is not None and all([form.is_valid(), *(each.is_valid() for _, each in rows)]):
        with transaction.atomic():
            form.save()
            for _, each in rows:
                if each.has_changed() or each.instance.pk:
                    each.save()
        messages.success(request, "Saved. It stands on the sheet and the card.")
        return redirect("papers:notes")
    return render(request, "papers/notes.html", {"form": form, "rows": rows})


def _days(request: KeeperRequest, today: dt.date) -> tuple[SheetForm, dt.date, dt.date]:
    """The days that were asked for, or the next two weeks."""
    last = today + dt.timedelta(days=USUAL_DAYS)
    usual = {"first": today, "last": last}
    asked: dict[str, Any] | None = None
    if "first" in request.GET or "last" in request.GET:
        asked = {name: request.GET.get(name, "")[:20] for name in usual}
    form = SheetForm(asked, today=today, initial=usual)
    if asked is not None and form.is_valid():
        return form, form.cleaned_data["first"], form.cleaned_data["last"]
    return form, today, last


@require_safe
def sheet(request: KeeperRequest) -> HttpResponse:
    """The sitter's sheet of some days."""
    household = _household(request)
    at = now()
    form, first, last = _days(request, household.day_of(at))
    made = sitter_sheet(household, first, last, at, request.units)
    return render(request, "papers/sheet.html", {"form": form, "sheet": made})


SUMMARY_DAYS = 180
"""A summary looks back half a year until somebody says (design choice) [days]."""


def _own_animal(request: KeeperRequest, pk: int) -> Animal:
    rows = Animal.objects.of(request.household).select_related("household")
    return get_object_or_404(
        rows.prefetch_related("weighings", "lengths", "condition_periods"), pk=pk
    )


@require_safe
def summary(request: KeeperRequest, pk: int) -> HttpResponse:
    """The veterinarian's summary of an animal."""
    animal = _own_animal(request, pk)
    at = now()
    today = animal.day_of(at)
    first, last = today - dt.timedelta(days=SUMMARY_DAYS), today
    usual = {"first": first, "last": last}
    asked: dict[str, Any] | None = None
    if "first" in request.GET or "last" in request.GET:
        asked = {name: request.GET.get(name, "")[:20] for name in usual}
    form = PeriodForm(asked, today=today, initial=usual)
    if asked is not None and form.is_valid():
        first, last = form.cleaned_data["first"], form.cleaned_data["last"]
    made = vet_summary(animal, first, last, at, request.units)
    context = {"animal": animal, "form": form, "summary": made}
    return render(request, "papers/summary.html", context)


@require_safe
def care(request: KeeperRequest, pk: int) -> HttpResponse:
    """How an animal is kept, for its next keeper."""
    animal = _own_animal(request, pk)
    made = care_sheet(animal, now(), request.units)
    return render(request, "papers/care_sheet.html", {"animal": animal, "sheet": made})


@require_safe
def transfer(request: KeeperRequest, pk: int) -> HttpResponse:
    """What is signed when an animal changes hands."""
    animal = _own_animal(request, pk)
    made = transfer_bill(animal, now(), request.units)
    return render(request, "papers/transfer.html", {"animal": animal, "bill": made})


@require_safe
def labels(request: KeeperRequest) -> HttpResponse:
    """A label for each enclosure, all on one sheet."""
    household = _household(request)
    root = request.build_absolute_uri("/")
    made = labels_of(household, root, request.units)
    return render(request, "papers/labels.html", {"labels": made})


@require_safe
def card(request: KeeperRequest) -> HttpResponse:
    """The emergency card."""
    made = emergency_card(_household(request), now(), request.units)
    return render(request, "papers/card.html", {"card": made})
