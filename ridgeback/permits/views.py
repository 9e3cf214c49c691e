"""The papers of an animal: a list, a new one, one taken away; where it comes from."""

import datetime as dt
from typing import NamedTuple

from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.utils.text import slugify
from django.views.decorators.http import require_http_methods, require_POST, require_safe

from ridgeback.animals.models import Animal
from ridgeback.breeding.pedigree import pedigree_of
from ridgeback.clock import now
from ridgeback.households.middleware import KeeperRequest
from ridgeback.permits import flows
from ridgeback.permits.forms import DocumentForm
from ridgeback.permits.models import AnimalDocument
from ridgeback.submissions.flows import sent_once


class DocumentRow(NamedTuple):
    """A paper as the page shows it."""

    document: AnimalDocument
    title: str
    direction: str
    """Of its mark: right, unknown (it ends soon) or above (it has ended)."""


DIRECTIONS = {"": "right", "ends soon": "unknown", "ended": "above"}


def rows_of(animal: Animal, today: dt.date) -> list[DocumentRow]:
    """Papers of an animal, those that run out first first."""
    own = AnimalDocument.objects.of(animal.household).filter(animal=animal)
    return [
        DocumentRow(one, one.title(today), DIRECTIONS[one.state(today)]) for one in own.light()
    ]


@require_http_methods(["GET", "HEAD", "POST"])
def documents(request: KeeperRequest, pk: int) -> HttpResponse:
    """Papers of an animal; a new one."""
    rows = Animal.objects.of(request.household).select_related("household")
    animal = get_object_or_404(rows, pk=pk)
    today = animal.day_of(now())
    form = DocumentForm(animal=animal, today=today)

    if request.method == "POST":
        sent, files = request.POST, request.FILES  # read first: the upload says if it is too large
        too_large = bool(request.META.get("ridgeback.too_large"))
        form = DocumentForm(sent, files, animal=animal, today=today, too_large=too_large)

        if form.is_valid():
            facts = form.cleaned_data
            scan = facts.pop("file")
            with sent_once(animal.household_id, facts.pop("form_key")) as first:
                if first:
                    flows.add(animal, keeper=request.user, scan=scan, today=today, **facts)
            messages.success(request, "Saved.")

            return redirect("permits:list", pk=pk)

    context = {
        "animal": animal,
        "form": form,
        "rows": rows_of(animal, today),
        "pedigree": pedigree_of(animal),
    }

    return render(request, "permits/list.html", context)


@require_safe
def scan(request: KeeperRequest, pk: int) -> HttpResponse:
    """The scan of a paper as PDF, to be saved: nothing of it runs here."""
    own = AnimalDocument.objects.of(request.household).filter(pdf__isnull=False)
    document = get_object_or_404(own.select_related("animal"), pk=pk)
    name = slugify(f"{document.animal.name} {document.kind}") or "paper"
    return HttpResponse(
        bytes(document.pdf or b""),
        content_type="application/pdf",
        headers={"Content-Disposition": f'attachment; filename="{name}.pdf"'},
    )


@require_POST
def delete(request: KeeperRequest, pk: int) -> HttpResponse:
    """Take a paper away."""
    document = get_object_or_404(AnimalDocument.objects.of(request.household).light(), pk=pk)
    flows.delete(document)
    messages.success(request, "Deleted, with its scan.")

    return redirect("permits:list", pk=document.animal_id)
