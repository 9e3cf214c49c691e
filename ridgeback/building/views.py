"""Building an enclosure: the shopping list less what is owned, the steps with their waits, and the
day it may move in; as page, CSV and calendar.
"""

from collections.abc import Sequence
from dataclasses import replace
from typing import Any

from django.contrib import messages
from django.db import transaction
from django.http import HttpResponse
from django.shortcuts import redirect, render
from django.utils.safestring import SafeString, mark_safe
from django.views.decorators.http import require_http_methods, require_safe

from husbandry.build_plan.changes import away
from husbandry.derivation import Derivation
from husbandry.quantity import Units
from ridgeback.building.forms import BuildForm
from ridgeback.building.pending_work import PendingWork, kept_with, works_of
from ridgeback.building.shopping import (
    BuildWork,
    ShoppingRow,
    seal_of,
    title_of,
    totals_of,
    what_of,
)
from ridgeback.calendars import answer, calendar, whole_days
from ridgeback.clock import now
from ridgeback.derivations import DerivationView, derivation_view
from ridgeback.drawing.build import gantt
from ridgeback.drawing.svg import write
from ridgeback.enclosures.access import lived_in, own_enclosure
from ridgeback.enclosures.models import Enclosure, Revision
from ridgeback.households.middleware import KeeperRequest
from ridgeback.spreadsheets import csv_text


@transaction.atomic
def _keep(enclosure: Enclosure, since: Revision | None, said: dict[str, Any], seal: str) -> bool:
    """Keep what was said, unless somebody else did since the page was opened; then the enclosure
    carries theirs, and False.
    """
    stands = Enclosure.objects.select_for_update().get(pk=enclosure.pk)
    enclosure.build = stands.build
    if seal != seal_of(stands.build):
        return False
    enclosure.build = kept_with(stands.build, since, said)
    enclosure.save(update_fields=["build"])
    return True


def _here(request: KeeperRequest, enclosure: Enclosure) -> PendingWork:
    return works_of(enclosure, request.GET.get("since", "")[:12])


@require_http_methods(["GET", "HEAD", "POST"])
@lived_in
def build(request: KeeperRequest, pk: int) -> HttpResponse:
    """The build, or the change of an enclosure that stands; what is said of it is kept with the
    enclosure.
    """
    enclosure = own_enclosure(request, pk)
    here = _here(request, enclosure)
    works = here.works
    today = here.works.asked.today
    bound = request.POST if request.method == "POST" else None
    form = BuildForm(bound, works=works, lines=_lines(enclosure, works, request.units))
    if form.is_bound and form.is_valid():
        if _keep(enclosure, here.since, form.said(), request.POST.get("seal", "")):
            messages.success(request, "Kept.")
            return redirect(request.get_full_path())
        messages.error(
            request,
            "Somebody else saved this build plan meanwhile. What you typed is still here: check it"
            " and save it again.",
        )
        works = _here(request, enclosure).works
    made = works.build()
    chart: SafeString = mark_safe(write(gantt(made, today)))  # our own writer escapes
    rows = [
        {"line": line, "own": own, "price": price, "cost": money_view(line.cost, request.units)}
        for line, own, price in form.bought()
    ]
    steps = [(step, what_of(step.task, request.units), field) for step, field in form.steps(made)]
    totals = totals_of(form.lines, enclosure.household.currency)
    calculators = {
        name: money_view(getattr(totals, name), request.units, of=enclosure.household.currency)
        for name in ("now", "later", "all")
    }
    context = {
        "enclosure": enclosure,
        "form": form,
        "build": made,
        "chart": chart,
        "rows": rows,
        "steps": steps,
        "stands": works.standing,
        "choices": [form[slug] for slug in form.choices],
        "totals": totals,
        "calculators": calculators,
        "currency": enclosure.household.currency,
        "late": made.move_in < today,
        "seal": seal_of(enclosure.build),
        "since": here.since,
        "states": here.states,
        "query": request.GET.urlencode(),
        "away": away(made) if here.since else None,
        "done": all(step.done_on for step in made.steps),
    }
    return render(request, "building/build.html", context)


def money_view(derivation: Derivation, units: Units, *, of: str = "") -> DerivationView:
    """A sum of money that opens to its derivation; its currency stands with it where it is named."""
    text = (
        "–"
        if not derivation.value
        else (
            f"{derivation.value:.{0 if derivation.value >= 100 or derivation.value % 1 == 0 else 2}f}"
        )
    )
    return replace(
        derivation_view(derivation, units),
        text=f"{text} {of}".strip() if derivation.value else text,
    )


def _lines(enclosure: Enclosure, works: BuildWork, units: Units) -> tuple[ShoppingRow, ...]:
    household = enclosure.household
    return works.lines(household.euro_rate, units, household.currency)


def _download(text: str | bytes, kind: str, name: str) -> HttpResponse:
    return HttpResponse(
        text, content_type=kind, headers={"Content-Disposition": f'attachment; filename="{name}"'}
    )


@require_safe
@lived_in
def build_csv(request: KeeperRequest, pk: int) -> HttpResponse:
    """The shopping list and the steps as one table."""
    enclosure = own_enclosure(request, pk)
    works = _here(request, enclosure).works
    made = works.build()
    money = enclosure.household.currency
    head = ["what", "count", "owned", "to buy", f"each {money}", f"together {money}", "can wait"]
    rows: list[Sequence[object]] = [head]
    for line in _lines(enclosure, works, request.units):
        calculators = (f"{line.each:.2f}", f"{line.cost.value:.2f}")
        rows.append(
            [
                line.name,
                line.item.count,
                line.owned,
                line.to_buy,
                *calculators,
                "yes" if line.item.waits else "",
            ]
        )
    rows += [[], ["step", "begins", "next from", "float, days", "done", "tools", "caution"]]
    for step in made.steps:
        rows.append(
            [
                title_of(step.task, request.units),
                step.begin,
                step.ready,
                step.slack_days,
                step.done_on or "",
                step.task.tools,
                step.task.caution,
            ]
        )
    return _download(csv_text(rows), "text/csv; charset=utf-8", f"build-{pk}.csv")


@require_safe
@lived_in
def build_ics(request: KeeperRequest, pk: int) -> HttpResponse:
    """The steps as days of a calendar."""
    enclosure = own_enclosure(request, pk)
    made = calendar("build")
    here = _here(request, enclosure)
    which = (
        f"{pk}-{here.since.number}" if here.since else f"{pk}"
    )  # a change is not the build, nor another change
    for step in here.works.build().steps:
        more = " ".join(part for part in (step.task.tools, step.task.caution) if part)
        uid = f"{step.task.slug.replace(' ', '-')}-{which}"
        made.add_component(
            whole_days(
                uid,
                step.begin,
                step.ready,
                f"{enclosure.name}: {title_of(step.task, request.units)}",
                more,
                stamp=now(),
            )
        )
    return answer(made, {"Content-Disposition": f'attachment; filename="build-{pk}.ics"'})
