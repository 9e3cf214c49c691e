"""The layout editor's page, and what it asks while a hand moves items."""

from typing import Any

import jsonpatch
from django.http import Http404, HttpResponse, HttpResponseBadRequest, JsonResponse
from django.shortcuts import render
from django.template.loader import render_to_string
from django.urls import reverse
from django.views.decorators.http import require_POST, require_safe

from husbandry.errors import ImpossibleStateError
from husbandry.plan.plan import plan
from husbandry.setups.search import Setups
from ridgeback.clock import now
from ridgeback.drawing import layout as layout_drawing
from ridgeback.enclosures import flows, wording
from ridgeback.enclosures.access import lived_in, own_enclosure, posted
from ridgeback.households.middleware import KeeperRequest
from ridgeback.jobs.models import Job
from ridgeback.layout.answers import answer, catalogue
from ridgeback.layout.questions import (
    InvalidLayoutError,
    LayoutQuestion,
    UnsealedError,
    ask,
    sealed,
)


@require_safe
@lived_in
def layout(request: KeeperRequest, pk: int) -> HttpResponse:
    """The layout editor of one enclosure."""
    enclosure = own_enclosure(request, pk)
    kept = enclosure.request_at(now())
    if enclosure.head is None:
        raise ImpossibleStateError("missing: enclosure.head")
    begin = LayoutQuestion(state=flows.spec_of(kept), request=kept)
    told = answer(begin, request.units)
    context = {
        "enclosure": enclosure,
        "catalogue": catalogue(kept),
        "told": told,
        "width": layout_drawing.LAYOUT.width,
        "begin": {
            **told,
            "state": begin.state,
            "revision": enclosure.head.number,
            "seal": sealed(enclosure, now()),
            "catalogue": catalogue(kept),
            "step": reverse("layout:step", args=[pk]),
            "changes": reverse("layout:changes", args=[pk]),
            "keep": reverse("layout:save", args=[pk]),
            "back": reverse("enclosures:page", args=[pk]),
            "inches": request.units.system == "us",
            "offered": _offered(request, pk),
        },
    }
    return render(request, "layout/page.html", context)


def _offered(request: KeeperRequest, pk: int) -> dict[str, Any] | None:
    """The state of a found setup that is to be put in the layout editor; None when none was asked
    for, or it is not this enclosure's.
    """
    job = request.GET.get("setup", "")
    n = request.GET.get("n", "")
    if not (job.isdecimal() and n.isdecimal() and len(job) < 12 and len(n) < 3):
        return None
    known = Job.objects.filter(
        household=request.household,
        enclosure=pk,
        kind=Job.Kind.SETUPS,
        pk=int(job),
        state=Job.State.DONE,
    ).first()
    if known is None or known.made is None:
        return None
    found = Setups.model_validate_json(bytes(known.made)).requests
    return flows.spec_of(found[int(n)]) if int(n) < len(found) else None


def _asked(request: KeeperRequest, pk: int) -> LayoutQuestion | None:
    """The question, if it can be understood.

    That it is this household's, about this enclosure, its seal says, and nothing is fetched; else
    404.
    """
    if request.household is None:
        raise Http404
    try:
        return ask(request.body, request.household.pk, pk, request.units)
    except UnsealedError:
        raise Http404 from None
    except InvalidLayoutError:
        return None


_UNASKED = "This is not a question that the layout editor asks. Reload the page."


@require_POST
def step(request: KeeperRequest, pk: int) -> HttpResponse:
    """One step of a drag: the new drawing and the needs, or what is wrong."""
    asked = _asked(request, pk)
    return (
        HttpResponseBadRequest(_UNASKED)
        if asked is None
        else JsonResponse(answer(asked, request.units))
    )


@require_POST
def changes(request: KeeperRequest, pk: int) -> HttpResponse:
    """The ranked changes of the tried enclosure, each with the state that it leads to."""
    asked = _asked(request, pk)
    if asked is None:
        return HttpResponseBadRequest(_UNASKED)
    if asked.request is None:
        return JsonResponse({"html": "", "states": []})
    made = plan(asked.request)
    whole = asked.request.model_dump(mode="json")
    states: list[dict[str, Any]] = []
    rows = []
    for change in made.changes:
        after = jsonpatch.apply_patch(whole, list(change.patch))
        states.append({"enclosure": after["enclosure"], "items": after["items"]})
        rows.append(
            {
                "title": wording.change_title(change, request.units),
                "answers": wording.answers(change, made.notes, request.units),
                "effects": ", ".join(
                    wording.effect(item, request.units) for item in change.effects
                ),
                "safety": wording.safety(change, request.units),
                "safe": change.safety.safe,
            }
        )
    html = render_to_string("layout/changes.html", {"rows": rows, "right": made.worst is None})
    return JsonResponse({"html": html, "states": states})


@posted
@lived_in
def save(request: KeeperRequest, pk: int) -> HttpResponse:
    """Keep what lies in the layout editor, if the enclosure is still the one that was seen."""
    enclosure = own_enclosure(request, pk)
    asked = _asked(request, pk)
    if asked is None:
        return HttpResponseBadRequest(_UNASKED)
    if asked.request is None:
        return JsonResponse(
            {"kept": False, "why": "It cannot be saved like this: see what is marked."}, status=422
        )
    typed = request.headers.get("X-Revision", "")
    seen = int(typed) if typed.isdecimal() and len(typed) < 9 else -1
    at = now()
    try:
        tried = enclosure.request_at(
            at, flows.spec_of(asked.request)
        )  # the room and the animals are those of now
        flows.keep_layout(enclosure, tried, seen=seen, keeper=request.user, now=at)
    except flows.StaleError:
        why = (
            "Somebody changed this enclosure since you opened the layout. Your changes are still"
            " here: open the enclosure in another tab and combine the two."
        )
        return JsonResponse({"kept": False, "why": why}, status=409)
    return JsonResponse({"kept": True, "to": reverse("enclosures:page", args=[pk])})
