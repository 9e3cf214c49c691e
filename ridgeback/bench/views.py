"""The bench's page, and what it asks while a hand moves things."""

from typing import Any

import jsonpatch
from django.http import Http404, HttpResponse, HttpResponseBadRequest, JsonResponse
from django.shortcuts import render
from django.template.loader import render_to_string
from django.urls import reverse
from django.views.decorators.http import require_POST, require_safe

from husbandry.planning.plan import plan
from husbandry.setups.offer import Setups
from ridgeback.bench.answering import answer, catalogue
from ridgeback.bench.asking import Asked, BadAskError, UnsealedError, ask, sealed
from ridgeback.clock import now
from ridgeback.drawing import workbench
from ridgeback.habitats import flows, wording
from ridgeback.habitats.views import lived_in, own_habitat, posted
from ridgeback.jobs.models import Job
from ridgeback.keepers.middleware import KeeperRequest


@require_safe
@lived_in
def bench(request: KeeperRequest, pk: int) -> HttpResponse:
    """The bench of one enclosure."""
    habitat = own_habitat(request, pk)
    kept = habitat.request_at(now())
    assert habitat.head is not None
    begin = Asked(state=flows.spec_of(kept), request=kept)
    told = answer(begin, request.units)
    context = {
        "habitat": habitat,
        "catalogue": catalogue(kept),
        "told": told,
        "width": workbench.BENCH.width,
        "begin": {
            **told,
            "state": begin.state,
            "revision": habitat.head.number,
            "seal": sealed(habitat, now()),
            "catalogue": catalogue(kept),
            "step": reverse("bench:step", args=[pk]),
            "changes": reverse("bench:changes", args=[pk]),
            "keep": reverse("bench:keep", args=[pk]),
            "back": reverse("habitats:page", args=[pk]),
            "inches": request.units.system == "us",
            "offered": _offered(request, pk),
        },
    }
    return render(request, "bench/page.html", context)


def _offered(request: KeeperRequest, pk: int) -> dict[str, Any] | None:
    """The state of a found setup that is to be put on the bench; None when none was asked for, or it is not this enclosure's."""
    job, n = request.GET.get("setup", ""), request.GET.get("n", "")
    if not (job.isdecimal() and n.isdecimal() and len(job) < 12 and len(n) < 3):
        return None
    known = Job.objects.filter(
        household=request.household, habitat=pk, kind=Job.Kind.SETUPS, pk=int(job), state=Job.State.DONE
    ).first()
    if known is None or known.made is None:
        return None
    offers = Setups.model_validate_json(bytes(known.made)).offers
    return flows.spec_of(offers[int(n)].request) if int(n) < len(offers) else None


def _asked(request: KeeperRequest, pk: int) -> Asked | None:
    """The question, if it can be understood. That it is this household's, about this enclosure, its seal says, and nothing is fetched; else 404."""
    if request.household is None:
        raise Http404
    try:
        return ask(request.body, request.household.pk, pk, request.units)
    except UnsealedError:
        raise Http404 from None
    except BadAskError:
        return None


_UNASKED = "This is not a question that the bench asks. Reload the page."


@require_POST
def step(request: KeeperRequest, pk: int) -> HttpResponse:
    """One step of a drag: the new drawing and the needs, or what is wrong."""
    asked = _asked(request, pk)
    return HttpResponseBadRequest(_UNASKED) if asked is None else JsonResponse(answer(asked, request.units))


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
        states.append({"box": after["box"], "things": after["things"]})
        rows.append(
            {
                "title": wording.change_title(change, request.units),
                "effects": ", ".join(wording.effect(item, request.units) for item in change.effects),
                "safety": wording.safety(change, request.units),
                "safe": change.safety.safe,
            }
        )
    html = render_to_string("bench/changes.html", {"rows": rows, "right": made.worst is None})
    return JsonResponse({"html": html, "states": states})


@posted
@lived_in
def keep(request: KeeperRequest, pk: int) -> HttpResponse:
    """Keep what lies on the bench, if the enclosure is still the one that was seen."""
    habitat = own_habitat(request, pk)
    asked = _asked(request, pk)
    if asked is None:
        return HttpResponseBadRequest(_UNASKED)
    if asked.request is None:
        return JsonResponse({"kept": False, "why": "It cannot be saved like this: see what is marked."}, status=422)
    typed = request.headers.get("X-Revision", "")
    seen = int(typed) if typed.isdecimal() and len(typed) < 9 else -1
    at = now()
    try:
        tried = habitat.request_at(at, flows.spec_of(asked.request))  # the room and the animals are those of now
        flows.keep_bench(habitat, tried, seen=seen, keeper=request.user, now=at)
    except flows.StaleError:
        why = (
            "Somebody changed this enclosure since you opened the layout. Your changes are still here: "
            "open the enclosure in another tab and combine the two."
        )
        return JsonResponse({"kept": False, "why": why}, status=409)
    return JsonResponse({"kept": True, "to": reverse("habitats:page", args=[pk])})
