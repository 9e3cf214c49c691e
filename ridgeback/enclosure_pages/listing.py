"""The list of enclosures: each with a small drawing, its gauges, the worst problem and what to do,
the most urgent first.

A row is remembered as it is shown, by the content of its request and the reader's units. Where even
the plan is not known, the row is made
from a glance (needs and size, no changes), and the plan is left to a worker: no page waits for
twenty-five plans.
"""

import datetime as dt
import json
import time
from collections.abc import Sequence
from dataclasses import dataclass
from functools import partial
from typing import Any

from django.core.paginator import Page, Paginator
from django.db.models import Q
from django.template.loader import render_to_string
from django.utils.safestring import SafeString, mark_safe

from husbandry.calibration.implausible_readings import read_again_first
from husbandry.documents.request import Request
from husbandry.documents.request_json import from_data
from husbandry.documents.result import (
    Change,
    Harm,
    NeedState,
    Plan,
    PlanSummary,
    first_danger,
    urgency,
    worst_harm,
)
from husbandry.plan.plan import plan_summary
from husbandry.quantity import METRIC, Units, show
from husbandry.species.library import library
from husbandry.species.needs import NEEDS
from ridgeback.calculation import Failed, attempt
from ridgeback.drawing import gauge
from ridgeback.drawing.svg import write
from ridgeback.drawing.thumbnail import thumbnail
from ridgeback.enclosure_pages.presenting import NOT_DESCRIBED_YET, SAY_WHAT_IS_IN_IT
from ridgeback.enclosures import wording
from ridgeback.enclosures.models import Enclosure, EnclosureQuerySet, Occupancy
from ridgeback.enclosures.planning import key_of, recall, remember
from ridgeback.households.models import Household
from ridgeback.units import spelled

PAGE = 25
BUDGET_S, GLANCED_LEAST = 0.2, 8
"""A page glances at enclosures for so long [s], at the first few whatever it takes; the worker does
the rest.
"""
STATES = {"": "All", "wrong": "Needs action", "right": "In range", "archived": "Archived"}


@dataclass(frozen=True)
class EnclosureRow:
    """An enclosure as the list shows it."""

    enclosure: Enclosure
    drawing: SafeString
    gauges: SafeString
    direction: str
    problem: str
    change: str
    animals: tuple[dict[str, str], ...]
    seen: bool
    whole: bool
    """Made from a plan; else what to do is still being worked out."""


@dataclass(frozen=True)
class EnclosureListing:
    """A page of the list."""

    rows: tuple[EnclosureRow, ...]
    page: Page[Enclosure]
    query: str
    state: str
    pending: bool
    total: int


def find_enclosures(household: Household | None, query: str, state: str) -> EnclosureQuerySet:
    """Enclosures by words in their name, shelf, room, animal or species; and by whether something
    is to be put right.
    """
    found = Enclosure.objects.of(household)
    found = found.filter(archived_on__isnull=state != "archived")
    words = query.replace("\x00", " ").split()[:8]
    for word in words:
        species = [
            name
            for name, profile in library().items()
            if word.lower() in f"{profile.name} {name}".lower()
        ]
        now_in = Q(occupancies__in=Occupancy.objects.judged())
        found = found.filter(
            Q(name__icontains=word)
            | Q(shelf__icontains=word)
            | Q(room__name__icontains=word)
            | (Q(occupancies__animal__name__icontains=word) & now_in)
            | (Q(occupancies__animal__species__in=species) & now_in)
        )
    if state == "wrong":
        found = found.filter(urgency__gt=0)
    elif state == "right":
        found = found.filter(urgency=0)
    if words:  # by two of its animals an enclosure is found twice
        found = found.distinct()
    return found.order_by("-urgency", "name", "pk")


def look_again(
    household: Household, now: dt.datetime, units: Units = METRIC, most: int = PAGE
) -> int:
    """Bring the order of the list up to date for at most so many enclosures; how many are left."""
    today = household.day_of(now)
    stale = Enclosure.objects.of(household).in_use().exclude(looked_on=today).order_by("pk")
    waiting = stale.count()
    chosen = list(stale.for_planning()[:most]) if waiting else []
    if chosen:
        seen = [row.enclosure for row in _rows(chosen, units, now) if row.seen]
        for enclosure in seen:
            enclosure.looked_on = today
        Enclosure.objects.bulk_update(seen, ["urgency", "looked_on"])
        return waiting - len(seen)
    return 0


def listing(
    household: Household | None,
    units: Units,
    now: dt.datetime,
    *,
    query: str = "",
    state: str = "",
    page: str = "1",
) -> EnclosureListing:
    """One page of the list, in a number of queries that does not grow with the enclosures."""
    left = look_again(household, now, units) if household else 0
    found = find_enclosures(household, query, state)
    paginator = Paginator(found, PAGE)  # counted without what a plan needs
    chosen = paginator.get_page(page)
    first = max(chosen.start_index() - 1, 0)
    shown = list(found.for_planning()[first : first + PAGE])
    stood = {enclosure.pk: enclosure.urgency for enclosure in shown}
    rows = _rows(shown, units, now)
    moved = [enclosure for enclosure in shown if enclosure.urgency != stood[enclosure.pk]]
    if moved:  # somebody changed it beside the flows: the order is mended for the next look
        Enclosure.objects.bulk_update(moved, ["urgency"])
    pending = left > 0 or not all(row.whole for row in rows)
    return EnclosureListing(
        tuple(rows), chosen, query, state if state in STATES else "", pending, paginator.count
    )


def _rows(enclosures: Sequence[Enclosure], units: Units, now: dt.datetime) -> list[EnclosureRow]:
    data: dict[int, dict[str, Any]] = {}
    known: dict[int, dict[str, Any]] = {}
    for enclosure in enclosures:
        asked = attempt(partial(enclosure.request_data, now), "enclosure", enclosure.pk)
        if isinstance(asked, Failed):
            known[enclosure.pk] = _failed(asked)
        else:
            data[enclosure.pk] = asked
    contents = {
        h.pk: key_of("enclosure", [data[h.pk], h.name]) for h in enclosures if h.pk in data
    }
    keys = {
        pk: tuple(key_of(f"{kind} {spelled(units)}", content) for kind in ("row", "plan_summary"))
        for pk, content in contents.items()
    }
    bodies = recall(key for pair in keys.values() for key in pair)
    known |= {pk: json.loads(bodies[whole]) for pk, (whole, _) in keys.items() if whole in bodies}
    missing = [enclosure for enclosure in enclosures if enclosure.pk not in known]
    if missing:
        glanced = {
            pk: json.loads(bodies[plan_summary])
            for pk, (_, plan_summary) in keys.items()
            if plan_summary in bodies
        }
        made = _make([(enclosure, data[enclosure.pk]) for enclosure in missing], glanced, units)
        fresh = {pk: row for pk, row in made.items() if pk not in glanced or row["whole"]}
        remember(
            {
                keys[pk][0 if row["whole"] else 1]: json.dumps(row)
                for pk, row in fresh.items()
                if row["seen"]
            }
        )
        known |= made
    rows = []
    for enclosure in enclosures:
        body = known[enclosure.pk]
        if enclosure.is_bare and enclosure.present and body["seen"]:
            body = body | _bare()
        enclosure.urgency = body["urgency"]
        rows.append(
            EnclosureRow(
                enclosure,
                mark_safe(body["drawing"]),
                mark_safe(body["gauges"]),
                body["direction"],
                body["problem"],
                body["change"],
                tuple(body["animals"]),
                body["seen"],
                body["whole"],
            )
        )
    return rows


def _make(
    enclosures: list[tuple[Enclosure, dict[str, Any]]],
    glanced: dict[int, dict[str, Any]],
    units: Units,
) -> dict[int, dict[str, Any]]:
    """Rows from plans where they are known, else from glances; what there is no time for is left to
    a worker.
    """
    began = time.perf_counter()
    requests: dict[int, Request] = {}
    made: dict[int, dict[str, Any]] = {}
    for enclosure, data in enclosures:
        if not enclosure.present:
            made[enclosure.pk] = _empty()
            continue
        read = attempt(partial(from_data, data), "enclosure", enclosure.pk)
        if isinstance(read, Failed):
            made[enclosure.pk] = _failed(read)
        else:
            requests[enclosure.pk] = read
    plan_keys = {
        pk: key_of("plan", request.model_dump(mode="json", exclude_none=True))
        for pk, request in requests.items()
    }
    bodies = recall(plan_keys.values())
    for n, (enclosure, _) in enumerate(enclosures):
        if enclosure.pk not in requests:
            continue
        request = requests[enclosure.pk]
        body = bodies.get(plan_keys[enclosure.pk])
        if body is None and enclosure.pk in glanced:
            made[enclosure.pk] = glanced[enclosure.pk]
        elif body is None and n >= GLANCED_LEAST and time.perf_counter() - began > BUDGET_S:
            made[enclosure.pk] = _waiting(enclosure)
        else:
            show = partial(_looked, request, body, enclosure.name, units)
            row = attempt(show, "enclosure", enclosure.pk)
            made[enclosure.pk] = _failed(row) if isinstance(row, Failed) else row
    return made


def _looked(request: Request, body: str | None, name: str, units: Units) -> dict[str, Any]:
    """A row from the plan that is remembered, else from a glance."""
    seen: PlanSummary | Plan = Plan.model_validate_json(body) if body else plan_summary(request)
    drawing = write(thumbnail(request, seen.animals, seen.basking, name))
    return _row(seen, drawing, units)


def _waiting(enclosure: Enclosure) -> dict[str, Any]:
    """An enclosure that this page had no time to look at."""
    return {
        "urgency": enclosure.urgency,
        "drawing": "",
        "gauges": "",
        "direction": "unknown",
        "animals": [],
        "change": "",
        "whole": False,
        "problem": "Being looked at",
        "seen": False,
    }


def _row(seen: PlanSummary | Plan, drawing: str, units: Units) -> dict[str, Any]:
    worst = seen.worst
    harm = worst_harm(seen)
    answer = _answer(seen, harm) if isinstance(seen, Plan) else None
    danger = first_danger(seen)
    if danger is not None:
        direction = "above"
        problem = wording.first_sentence(danger, units)
    elif harm == "size":
        direction = "below"
        problem = "Too small"
    elif worst is not None:
        direction = worst.verdict.direction
        problem = f"{worst.name}: {wording.verdict(worst, units)}"
    elif not seen.size.enough:
        direction = "below"
        problem = "Too small"
    else:
        direction = "right"
        problem = "In range as far as known"
    change = wording.change_title(answer, units) if answer else ""
    if harm != "size" and worst is not None and read_again_first(worst):
        change = "Measure it again before you change anything"
    return {
        "urgency": urgency(seen),
        "drawing": drawing,
        "gauges": render_to_string(
            "enclosures/gauges.html",
            {"needs": [_gauge(need, units) for need in seen.needs if _known(need)]},
        ),
        "direction": direction,
        "problem": problem,
        "change": change,
        "animals": [
            {"kind": a.common_name, "stage": a.stage.name, "name": a.name} for a in seen.animals
        ],
        "whole": isinstance(seen, Plan),
        "seen": True,
    }


def _answer(plan: Plan, harm: Harm) -> Change | None:
    """The change to name: a larger enclosure for one too small, else the worst need's own."""
    if harm == "size":
        return next((change for change in plan.changes if change.kind == "larger_enclosure"), None)
    return plan.answer


def _known(need: NeedState) -> bool:
    return need.verdict.direction != "unknown" or need.measured is not None


def _gauge(need: NeedState, units: Units) -> dict[str, Any]:
    return {
        "name": need.name,
        "value": _number(need, units),
        "direction": need.verdict.direction,
        "svg": mark_safe(write(gauge.small(need, units))),
        "phase": need.phase,
    }


def _number(need: NeedState, units: Units) -> str:
    """The number that speaks: measured, else predicted."""
    speaks = need.measured if need.verdict.speaks == "measured" else need.predicted
    return show(speaks.value, NEEDS[need.key].kind, units) if speaks is not None else ""


NOT_DESCRIBED = 1.0
"""Before what is in range, behind whatever is known to be wrong (design choice)."""
NOT_CALCULATED = 50.0
"""Before every enclosure but those outside a safe limit: nothing is known of it (design choice)."""


def _blank(urgency: float, problem: str, change: str = "") -> dict[str, Any]:
    """A row without a drawing."""
    return {
        "urgency": urgency,
        "drawing": "",
        "gauges": "",
        "direction": "unknown",
        "animals": [],
        "problem": problem,
        "change": change,
        "whole": True,
        "seen": True,
    }


def _empty() -> dict[str, Any]:
    """An enclosure without an animal."""
    return _blank(0.5, "No animal lives here")


def _bare() -> dict[str, Any]:
    """What is said of an enclosure in which nothing is described: not that it is cold."""
    return {
        "urgency": NOT_DESCRIBED,
        "direction": "unknown",
        "problem": NOT_DESCRIBED_YET,
        "change": SAY_WHAT_IS_IN_IT,
        "gauges": "",
        "whole": True,
    }


def _failed(why: Failed) -> dict[str, Any]:
    """An enclosure that cannot be calculated."""
    return _blank(NOT_CALCULATED, why.text, "Open it to correct or delete what is wrong")
