"""Asking for a sheet, watching it being made, fetching it."""

import functools
from collections.abc import Callable
from typing import Any

from django.http import Http404, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.utils.text import slugify
from django.views.decorators.http import require_POST, require_safe

from husbandry.setups.search import Setups
from ridgeback.animals.models import Animal
from ridgeback.clock import now
from ridgeback.enclosures.models import Enclosure
from ridgeback.households.middleware import KeeperRequest
from ridgeback.households.models import Membership
from ridgeback.jobs import flows
from ridgeback.jobs.forms import SearchForm
from ridgeback.jobs.limits import MOST_WAITING, QueueFullError, going
from ridgeback.jobs.models import Job
from ridgeback.jobs.setups import setups_view
from ridgeback.jobs.sheet import PAGES
from ridgeback.papers.forms import PeriodForm, SheetForm
from ridgeback.reviews.models import EnclosureReview

View = Callable[..., HttpResponse]


def _unless_full(view: View) -> View:
    """Say so where a household has as much waiting as it may, with what waits."""

    @functools.wraps(view)
    def answer(request: KeeperRequest, *args: Any, **kwargs: Any) -> HttpResponse:
        try:
            return view(request, *args, **kwargs)
        except QueueFullError:
            waiting = going(request.household) if request.household is not None else ()
            context = {"waiting": waiting, "most": MOST_WAITING}
            return render(request, "jobs/full.html", context, status=429)

    return answer


@_unless_full
def ask(request: KeeperRequest, pk: int) -> HttpResponse:
    """Ask for the sheet of an enclosure."""
    enclosure = get_object_or_404(Enclosure.objects.of(request.household).for_planning(), pk=pk)
    if request.method != "POST" or not enclosure.present:
        return redirect("enclosures:page", pk=pk)
    return redirect(
        "jobs:job", pk=flows.ask_for_sheet(enclosure, request.user, request.units, now()).pk
    )


@_unless_full
def ask_build(request: KeeperRequest, pk: int) -> HttpResponse:
    """Ask for the sheet of a build."""
    enclosure = get_object_or_404(Enclosure.objects.of(request.household).for_planning(), pk=pk)
    if request.method != "POST" or not enclosure.present:
        return redirect("enclosures:page", pk=pk)
    return redirect(
        "jobs:job",
        pk=flows.ask_for_build(
            enclosure, request.user, request.units, now(), request.GET.get("since", "")[:12]
        ).pk,
    )


def _size(request: KeeperRequest) -> str:
    """The size of page that was asked for, else A4."""
    size = request.POST.get("size", "")[:10]
    return size if size in PAGES else "A4"


@require_POST
@_unless_full
def ask_paper(request: KeeperRequest, paper: str) -> HttpResponse:
    """Ask for a paper of the household as PDF."""
    if request.household is None or paper not in {"sitter", "card", "labels"}:
        raise Http404
    asked = {"size": _size(request)}
    if paper == "sitter":
        form = SheetForm(request.POST, today=request.household.day_of(now()))
        if not form.is_valid():
            return redirect("papers:sheet")
        asked |= {name: form.cleaned_data[name].isoformat() for name in ("first", "last")}
    if paper == "labels":
        asked["root"] = request.build_absolute_uri("/")
    job = flows.ask_for_paper(request.household, request.user, request.units, paper, asked)
    return redirect("jobs:job", pk=job.pk)


@require_POST
@_unless_full
def ask_summary(request: KeeperRequest, pk: int) -> HttpResponse:
    """Ask for the veterinarian's summary of an animal as PDF."""
    animal = get_object_or_404(Animal.objects.of(request.household), pk=pk)
    form = PeriodForm(request.POST, today=animal.day_of(now()))
    if request.household is None or not form.is_valid():
        return redirect("papers:summary", pk=pk)
    days = {name: form.cleaned_data[name].isoformat() for name in ("first", "last")}
    asked = {"size": _size(request), "animal": str(pk), **days}
    job = flows.ask_for_paper(request.household, request.user, request.units, "summary", asked)
    return redirect("jobs:job", pk=job.pk)


@require_POST
@_unless_full
def ask_animal_paper(request: KeeperRequest, pk: int, paper: str) -> HttpResponse:
    """Ask for the care sheet or the bill of transfer of an animal as PDF."""
    get_object_or_404(Animal.objects.of(request.household), pk=pk)
    if request.household is None:
        raise Http404
    asked = {"size": _size(request), "animal": str(pk)}
    job = flows.ask_for_paper(request.household, request.user, request.units, paper, asked)
    return redirect("jobs:job", pk=job.pk)


@require_POST
@_unless_full
def ask_review(request: KeeperRequest, pk: int) -> HttpResponse:
    """Ask for a review as PDF."""
    rows = EnclosureReview.objects.of(request.household).light().select_related("household")
    own = get_object_or_404(rows, pk=pk)
    asked = {"size": _size(request), "review": str(pk)}
    job = flows.ask_for_paper(own.household, request.user, request.units, "review", asked)
    return redirect("jobs:job", pk=job.pk)


@require_POST
@_unless_full
def ask_archive(request: KeeperRequest) -> HttpResponse:
    """Ask for the whole household as one file."""
    if request.household is None:
        raise Http404
    job = flows.ask_for_archive(request.household, request.user)
    return redirect("jobs:job", pk=job.pk)


@require_POST
@_unless_full
def ask_animal(request: KeeperRequest, pk: int) -> HttpResponse:
    """Ask for one animal with its history as a file, for its next keeper."""
    animal = get_object_or_404(Animal.objects.of(request.household), pk=pk)
    job = flows.ask_for_archive(animal.household, request.user, animal)
    return redirect("jobs:job", pk=job.pk)


def _job(request: KeeperRequest, pk: int) -> Job:
    return get_object_or_404(
        Job.objects.filter(household=request.household)
        .select_related("enclosure__room", "household")
        .defer("made"),
        pk=pk,
    )


@require_safe
def job(request: KeeperRequest, pk: int) -> HttpResponse:
    """Its progress; the page asks again until it is done."""
    known = _job(request, pk)
    return render(
        request,
        "jobs/progress.html" if request.htmx else "jobs/job.html",
        {"job": known, "enclosure": known.enclosure},
    )


@require_safe
def fetch(request: KeeperRequest, pk: int) -> HttpResponse:
    """The finished sheet."""
    known = _job(request, pk)
    is_all = is_archive(known) and "animal" not in known.asked
    if is_all and request.role != Membership.Role.OWNER:
        raise Http404
    if known.kind == Job.Kind.SETUPS or known.state != Job.State.DONE or known.made is None:
        raise Http404
    whose = known.asked.get("paper") or known.asked.get("name") or known.household.name
    if known.enclosure is not None:
        whose = known.enclosure.name
    build = "-build" if known.kind == Job.Kind.BUILD else ""
    kind, ending = ("application/zip", "zip") if is_archive(known) else ("application/pdf", "pdf")
    name = f"{slugify(whose) or 'sheet'}{build}.{ending}"
    return HttpResponse(
        bytes(known.made),
        content_type=kind,
        headers={"Content-Disposition": f'attachment; filename="{name}"'},
    )


def is_archive(job: Job) -> bool:
    """Whether it is the whole household as one file."""
    return job.kind == Job.Kind.ARCHIVE


@_unless_full
def ask_setups(request: KeeperRequest, pk: int) -> HttpResponse:
    """Ask for a search."""
    enclosure = get_object_or_404(Enclosure.objects.of(request.household).for_planning(), pk=pk)
    if request.method != "POST" or not enclosure.present:
        return redirect("enclosures:page", pk=pk)
    form = SearchForm(request.POST)
    vary = form.is_valid() and form.cleaned_data["vary"]
    asked = flows.ask_for_setups(enclosure, request.user, request.units, now(), vary=vary)
    return redirect("jobs:job", pk=asked.pk)


def stop(request: KeeperRequest, pk: int) -> HttpResponse:
    """Stop a piece of work."""
    known = _job(request, pk)
    if request.method == "POST":
        flows.stop(known, now())
    return redirect("jobs:job", pk=known.pk)


@require_safe
def setups(request: KeeperRequest, pk: int) -> HttpResponse:
    """What a search found."""
    known = get_object_or_404(
        Job.objects.filter(household=request.household, kind=Job.Kind.SETUPS).select_related(
            "enclosure__room", "household"
        ),
        pk=pk,
    )
    if known.state != Job.State.DONE or known.made is None:
        return redirect("jobs:job", pk=pk)
    found = Setups.model_validate_json(bytes(known.made))
    return render(
        request,
        "jobs/setups.html",
        {"enclosure": known.enclosure, "job": known, **setups_view(found, known, request.units)},
    )
