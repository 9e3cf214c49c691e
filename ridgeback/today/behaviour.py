"""What an animal does: logged with a tap, and set beside what is predicted and measured where it lives.

Never a diagnosis: what a veterinarian must see is said first.
"""

import uuid
from functools import partial
from typing import Any, NamedTuple

from django.contrib import messages
from django.http import Http404, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_http_methods

from husbandry.documents.result import NeedState, Plan
from husbandry.feeding.condition_periods import QUIET_DAYS
from husbandry.findings.behaviour import BEHAVIOURS, Behaviour, Fact, LikelyCause, likely_causes
from husbandry.quantity import Units
from husbandry.seasons.brumation import is_dormant
from ridgeback.animals.models import Animal, ConditionPeriod
from ridgeback.calculation import Failed, attempt
from ridgeback.clock import now
from ridgeback.enclosures import wording
from ridgeback.enclosures.models import Enclosure, Occupancy
from ridgeback.enclosures.planning import planned
from ridgeback.households.middleware import KeeperRequest
from ridgeback.log import flows
from ridgeback.log.models import LogEntry
from ridgeback.seasons.models import with_dormancies
from ridgeback.species_guide.flows import profile_of

STEM = "behaviour"
"""Of its entries in the log."""
SEEN_MOST = 8
"""Earlier entries that are shown (design choice)."""
PERIODS: dict[str, Fact] = {
    ConditionPeriod.Kind.SHED.value: "in shed",
    ConditionPeriod.Kind.GRAVID.value: "gravid",
}


class CauseRow(NamedTuple):
    """A cause as the page shows it."""

    text: str
    measure: str
    fit: str
    value: str
    """What is measured or predicted there, in the reader's units."""


def _facts(animal: Animal, occupancy: Occupancy | None, plan: Plan | None) -> set[Fact]:
    """What is known of it beside its climate."""
    today = animal.day_of(now())
    found: set[Fact] = {
        PERIODS[one.kind]
        for one in animal.condition_periods.filter(until__isnull=True)
        if one.kind in PERIODS
    }
    moved = occupancy.moved_in_at if occupancy is not None else None
    if moved is not None and (today - animal.day_of(moved)).days < QUIET_DAYS:
        found.add("arrived")
    if plan is not None and not plan.size.enough:
        found.add("too small")
    dormancies = with_dormancies(Animal.objects.of(animal.household).filter(pk=animal.pk), today)
    if any(dormancy is not None and is_dormant(dormancy, today) for _, dormancy in dormancies):
        found.add("in brumation")
    return found


def _plan_of(enclosure: Enclosure | None) -> Plan | None:
    """The plan of where it lives; None where there is none, or it cannot be calculated."""
    if enclosure is None or enclosure.head is None or enclosure.is_bare:
        return None
    made = attempt(lambda: planned(enclosure.request_at(now())).plan, "enclosure", enclosure.pk)
    return None if isinstance(made, Failed) else made


def _row(one: LikelyCause, units: Units) -> CauseRow:
    return CauseRow(
        one.cause.text, one.cause.measure, one.fit, _value(one.state, units) if one.state else ""
    )


def _value(state: NeedState, units: Units) -> str:
    speaks = state.measured if state.verdict.speaks == "measured" else state.predicted
    if speaks is None:
        return ""
    said = wording.value_of(state.key, speaks.value, units)
    how = "" if state.verdict.speaks == "predicted" else " measured"
    return f"{state.name}: {said}{how}, {wording.verdict(state, units)}"


def _log(
    request: KeeperRequest, enclosure: Enclosure, animal: Animal, behaviour: Behaviour
) -> None:
    at = now()
    log_request = uuid.uuid4()
    written = flows.LogRequest(
        log_request,
        f"{enclosure.pk}/{animal.pk}/{STEM}/{log_request}",
        STEM,
        LogEntry.Outcome.DONE,
        enclosure.room.day_of(at),
        at,
        note=behaviour.name,
    )
    flows.write(enclosure, animal, written, keeper=request.user, now=at)


@require_http_methods(["GET", "HEAD", "POST"])
def behaviour(request: KeeperRequest, pk: int) -> HttpResponse:
    """What it does, one tap each; then the likely causes where it lives, in order."""
    animal = get_object_or_404(Animal.objects.of(request.household), pk=pk)
    occupancy = animal.occupancies.present().select_related("enclosure").first()
    enclosure: Enclosure | None = None
    if occupancy is not None:
        own = Enclosure.objects.of(request.household)
        enclosure = own.for_planning().get(pk=occupancy.enclosure_id)
    chosen = BEHAVIOURS.get(request.POST.get("seen", request.GET.get("seen", "")))
    if request.method == "POST":
        if chosen is None:
            raise Http404
        if enclosure is not None:
            _log(request, enclosure, animal, chosen)
            messages.success(request, f"Logged: {chosen.name.lower()}.")
        return redirect(f"{request.path}?seen={chosen.slug}")
    context: dict[str, Any] = {
        "animal": animal,
        "home": enclosure,
        "behaviours": BEHAVIOURS.values(),
        "chosen": chosen,
        "earlier": LogEntry.objects.standing()
        .filter(animal=animal, stem=STEM)
        .order_by("-at")[:SEEN_MOST],
    }
    if chosen is not None:
        plan = _plan_of(enclosure)
        profile = profile_of(request.household, animal.species)
        states = plan.needs if plan is not None else ()
        facts = _facts(animal, occupancy, plan)
        rows = map(
            partial(_row, units=request.units),
            likely_causes(chosen, profile, states, facts, sex=animal.sex),
        )
        context["causes"] = list(rows)
    return render(request, "today/behaviour.html", context)
