"""Pages of practice: lessons and cases, one case, its measurements and its answer."""

import random

from django.contrib import messages
from django.db import transaction
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_POST, require_safe

from husbandry.practice.cases import LEVELS
from husbandry.practice.lessons import daily
from ridgeback.clock import now
from ridgeback.households.middleware import KeeperRequest
from ridgeback.practice import flows
from ridgeback.practice.forms import AnswerForm, BeginForm, PracticeMeasureForm, SetForm, as_before
from ridgeback.practice.models import PracticeRun
from ridgeback.practice.presenting import case_view, lesson_lines, result_view

RECENT = 8
FREE_NUMBERS = 5000
"""Free cases are drawn from so many (design choice)."""


@require_safe
def overview(request: KeeperRequest) -> HttpResponse:
    """Lessons with what was reached, the case of the day, a free case."""
    at = now()
    today = request.household.day_of(at) if request.household is not None else at.date()
    runs = list(PracticeRun.objects.of(request.user).finished())
    number, level = daily(today)
    context = {
        "lessons": lesson_lines(runs),
        "daily": {"number": number, "level": level, "words": LEVELS[level]},
        "daily_run": next(
            (one for one in runs if (one.level, one.number, one.lesson) == (level, number, "")),
            None,
        ),
        "free": BeginForm(initial={"level": 1, "number": random.randint(1, FREE_NUMBERS)}),
        "recent": runs[:RECENT],
        "open_runs": PracticeRun.objects.of(request.user).filter(finished_at__isnull=True)[
            :RECENT
        ],
    }

    return render(request, "practice/overview.html", context)


@require_POST
def begin(request: KeeperRequest) -> HttpResponse:
    """Begin a case, or go on with it."""
    form = BeginForm(request.POST)

    if not form.is_valid():
        first = next(iter(form.errors.values()))[0]
        messages.error(request, f"That case is not there: {first}")
        return redirect("practice:overview")
    data = form.cleaned_data
    made = flows.begin(
        request.user, lesson=data["lesson"], level=data["level"], number=data["number"], now=now()
    )

    return redirect("practice:run", pk=made.pk)


@require_safe
def case_set(request: KeeperRequest) -> HttpResponse:
    """Cases that a club does together, by an address that says them."""
    form = SetForm(request.GET)
    pairs = form.pairs() if form.is_valid() else []
    runs = PracticeRun.objects.of(request.user).finished().filter(lesson="")
    best: dict[tuple[int, int], int] = {}

    for one in runs:
        key = (one.level, one.number)
        best[key] = max(best.get(key, 0), one.score or 0)

    rows = [(level, number, best.get((level, number))) for level, number in pairs]

    return render(request, "practice/set.html", {"rows": rows, "wrong": not pairs})


@require_safe
def run(request: KeeperRequest, pk: int) -> HttpResponse:
    """A case: measured and answered, or what came of it."""
    own = get_object_or_404(PracticeRun.objects.of(request.user), pk=pk)
    return _show(request, own, PracticeMeasureForm(initial=as_before(own.done)), AnswerForm())


def _show(
    request: KeeperRequest, own: PracticeRun, form: PracticeMeasureForm, answering: AnswerForm
) -> HttpResponse:
    context = {
        "run": own,
        "view": case_view(own, request.units),
        "form": form,
        "answering": answering,
        "result": result_view(own, request.units) if own.finished_at is not None else None,
    }
    return render(request, "practice/run.html", context)


@require_POST
@transaction.atomic
def add_measurement(request: KeeperRequest, pk: int) -> HttpResponse:
    """Use an instrument."""
    own = get_object_or_404(PracticeRun.objects.of(request.user).select_for_update(), pk=pk)
    form = PracticeMeasureForm(request.POST)

    if not form.is_valid():
        return _show(request, own, form, AnswerForm())
    data = form.cleaned_data
    careless = data["held"] == "usual"

    try:
        flows.add_measurement(
            own, data["instrument"], data["place"], data["moment"], careless=careless
        )
    except flows.NotMeasuredError as why:
        form.add_error(None, str(why))
        return _show(request, own, form, AnswerForm())

    return redirect("practice:run", pk=pk)


@require_POST
@transaction.atomic
def answer(request: KeeperRequest, pk: int) -> HttpResponse:
    """Say what is wrong and what to change; two weeks pass."""
    own = get_object_or_404(PracticeRun.objects.of(request.user).select_for_update(), pk=pk)
    form = AnswerForm(request.POST)

    if not form.is_valid():
        return _show(request, own, PracticeMeasureForm(initial=as_before(own.done)), form)
    flows.answer(own, form.cleaned_data["believed"], form.cleaned_data["remedy"], now())

    return redirect("practice:run", pk=pk)
