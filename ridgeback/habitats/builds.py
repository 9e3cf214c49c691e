"""Building a box: the shopping list less what is owned, the steps with their waits, and the day it may move in; as page, CSV and calendar."""

import csv
import io
from dataclasses import replace
from typing import Any

from django.contrib import messages
from django.db import transaction
from django.http import HttpResponse
from django.shortcuts import redirect, render
from django.utils.safestring import SafeString, mark_safe
from django.views.decorators.http import require_http_methods, require_safe

from husbandry.planning.request import Request
from husbandry.quantity import Units
from husbandry.worked import Worked
from ridgeback.animals.presenting import WorkedView, worked_view
from ridgeback.calendars import answer, calendar, whole_days
from ridgeback.drawing.build import gantt
from ridgeback.drawing.svg import write
from ridgeback.habitats.build_form import BuildForm
from ridgeback.habitats.building import ASKED, Line, build_of, lines_of, seal_of, shared_of, stands, totals_of
from ridgeback.habitats.forms import now
from ridgeback.habitats.models import Habitat
from ridgeback.habitats.views import lived_in, own_habitat
from ridgeback.keepers.middleware import KeeperRequest


@transaction.atomic
def _keep(habitat: Habitat, said: dict[str, Any], seal: str) -> bool:
    """Keep what was said, unless somebody else did since the page was opened; then the box carries theirs, and False."""
    stands = Habitat.objects.select_for_update().get(pk=habitat.pk)
    habitat.build = stands.build
    if seal != seal_of(stands.build):
        return False
    habitat.build = said
    habitat.save(update_fields=["build"])
    return True


@require_http_methods(["GET", "HEAD", "POST"])
@lived_in
def build(request: KeeperRequest, pk: int) -> HttpResponse:
    """The build; what is said of it is kept with the box."""
    habitat = own_habitat(request, pk)
    asked = habitat.request_at(now())
    today = asked.today
    bound = request.POST if request.method == "POST" else None
    form = BuildForm(bound, kept=habitat.build, request_=asked, today=today, lines=_lines(habitat, asked, request.units))
    if form.is_bound and form.is_valid():
        if _keep(habitat, form.said(), request.POST.get("seal", "")):
            messages.success(request, "Kept.")
            return redirect("habitats:build", pk=pk)
        messages.error(
            request, "Somebody else kept this build meanwhile. What you typed is still here: look it over and keep it again."
        )
    made = build_of(habitat.build, asked, today)
    chart: SafeString = mark_safe(write(gantt(made, today)))  # our own writer escapes
    rows = [
        {"line": line, "own": own, "price": price, "cost": money_view(line.cost, request.units)}
        for line, own, price in form.bought()
    ]
    context = {
        "habitat": habitat, "form": form, "build": made, "chart": chart, "rows": rows, "steps": form.steps(made), "stands": stands(habitat),
        "choices": [form[slug] for slug in ASKED], "totals": totals_of(form.lines), "currency": habitat.household.currency,
        "late": made.move_in < today, "seal": seal_of(habitat.build),
    }  # fmt: skip
    return render(request, "habitats/build.html", context)


def money_view(worked: Worked, units: Units) -> WorkedView:
    """A sum of money that opens to its working."""
    return replace(
        worked_view(worked, units),
        text="–" if not worked.value else f"{worked.value:.{0 if worked.value >= 100 or worked.value % 1 == 0 else 2}f}",
    )


def _lines(habitat: Habitat, asked: Request, units: Units) -> tuple[Line, ...]:
    household = habitat.household
    return lines_of(
        habitat.build,
        asked,
        household.euro_rate,
        units,
        currency=household.currency,
        stands=stands(habitat),
        shared=shared_of(habitat),
    )


def _download(text: str | bytes, kind: str, name: str) -> HttpResponse:
    return HttpResponse(text, content_type=kind, headers={"Content-Disposition": f'attachment; filename="{name}"'})


@require_safe
@lived_in
def build_csv(request: KeeperRequest, pk: int) -> HttpResponse:
    """The shopping list and the steps as one table."""
    habitat = own_habitat(request, pk)
    asked = habitat.request_at(now())
    made = build_of(habitat.build, asked, asked.today)
    out = io.StringIO()
    writer = csv.writer(out)
    money = habitat.household.currency
    writer.writerow(["what", "count", "owned", "to buy", f"each {money}", f"together {money}", "can wait"])
    for line in _lines(habitat, asked, request.units):
        sums = (f"{line.each:.2f}", f"{line.cost.value:.2f}")
        writer.writerow([line.name, line.item.count, line.owned, line.to_buy, *sums, "yes" if line.item.waits else ""])
    writer.writerow([])
    writer.writerow(["step", "begins", "next from", "may slip, days", "done", "tools", "caution"])
    for step in made.steps:
        writer.writerow(
            [step.task.title, step.begin, step.ready, step.slack_days, step.done_on or "", step.task.tools, step.task.caution]
        )
    return _download("\ufeff" + out.getvalue(), "text/csv; charset=utf-8", f"build-{pk}.csv")


@require_safe
@lived_in
def build_ics(request: KeeperRequest, pk: int) -> HttpResponse:
    """The steps as days of a calendar."""
    habitat = own_habitat(request, pk)
    asked = habitat.request_at(now())
    made = calendar("build")
    for step in build_of(habitat.build, asked, asked.today).steps:
        more = " ".join(part for part in (step.task.tools, step.task.caution) if part)
        uid = f"{step.task.slug.replace(' ', '-')}-{pk}"
        made.add_component(whole_days(uid, step.begin, step.ready, f"{habitat.name}: {step.task.title}", more, stamp=now()))
    return answer(made, {"Content-Disposition": f'attachment; filename="build-{pk}.ics"'})
