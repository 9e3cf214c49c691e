"""Asking for a sheet, watching it being made, fetching it."""

from django.http import Http404, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.utils.text import slugify
from django.views.decorators.http import require_safe

from ridgeback.habitats.forms import now
from ridgeback.habitats.models import Habitat
from ridgeback.jobs import flows
from ridgeback.jobs.models import Job
from ridgeback.keepers.middleware import KeeperRequest


def ask(request: KeeperRequest, pk: int) -> HttpResponse:
    """Ask for the sheet of a box."""
    habitat = get_object_or_404(Habitat.objects.of(request.household).for_planning(), pk=pk)
    if request.method != "POST" or not habitat.present:
        return redirect("habitats:page", pk=pk)
    return redirect("jobs:job", pk=flows.ask_for_sheet(habitat, request.user, request.units, now()).pk)


def _job(request: KeeperRequest, pk: int) -> Job:
    return get_object_or_404(Job.objects.filter(household=request.household).select_related("habitat__room").defer("made"), pk=pk)


@require_safe
def job(request: KeeperRequest, pk: int) -> HttpResponse:
    """Its progress; the page asks again until it is done."""
    known = _job(request, pk)
    return render(request, "jobs/progress.html" if request.htmx else "jobs/job.html", {"job": known, "habitat": known.habitat})


@require_safe
def fetch(request: KeeperRequest, pk: int) -> HttpResponse:
    """The finished sheet."""
    known = _job(request, pk)
    if known.state != Job.State.DONE or known.made is None:
        raise Http404
    name = slugify(known.habitat.name) or "box"
    return HttpResponse(
        bytes(known.made), content_type="application/pdf", headers={"Content-Disposition": f'attachment; filename="{name}.pdf"'}
    )
