"""Pages of history: of an animal, of an enclosure; filtered, searched, from a day back, as a table."""

import datetime as dt
from typing import Any

from django.http import HttpResponse
from django.shortcuts import get_object_or_404, render
from django.views.decorators.http import require_safe

from ridgeback.animals.models import Animal
from ridgeback.clock import now
from ridgeback.enclosures.access import own_enclosure
from ridgeback.history.events import KINDS, HistoryEvent, before_of, of_animal, of_enclosure
from ridgeback.households.middleware import KeeperRequest
from ridgeback.spreadsheets import csv_text

PAGE = 100
"""Events of one page (design choice)."""


def _asked(request: KeeperRequest) -> tuple[list[str], str, dt.date | None]:
    """Kinds that are wanted, words, and the day from which it goes back."""
    kinds: list[str] = [one for one in request.GET.getlist("kind") if one in KINDS]
    words = request.GET.get("words", "")[:60].strip()

    try:
        day = dt.date.fromisoformat(request.GET.get("day", ""))
    except ValueError:
        day = None

    return kinds, words, day


def _shown(
    events: list[HistoryEvent], kinds: list[str], words: str, day: dt.date | None
) -> list[HistoryEvent]:
    asked = words.casefold()
    return [
        one
        for one in events
        if (not kinds or one.kind in kinds)
        and (not asked or asked in one.text.casefold() or asked in one.by.casefold())
        and (day is None or one.on <= day)
    ]


def _page(
    request: KeeperRequest, events: list[HistoryEvent], name: str, context: dict[str, Any]
) -> HttpResponse:
    kinds, words, day = _asked(request)
    if request.household is not None:  # what is still to come is no history
        today = request.household.day_of(now())
        events = [one for one in events if one.on <= today]
    found = _shown(events, kinds, words, day)

    if "csv" in request.GET:
        rows = [[one.on.isoformat(), one.time, KINDS[one.kind], one.text, one.by] for one in found]
        head = ["day", "time", "kind", "what", "who"]
        answer = HttpResponse(csv_text([head, *rows]), content_type="text/csv; charset=utf-8")
        answer["Content-Disposition"] = 'attachment; filename="history.csv"'

        return answer

    shown = found[:PAGE]
    known = {one.kind for one in events}
    query = request.GET.copy()
    query.pop("day", None)
    context |= {
        "name": name,
        "events": shown,
        "count": len(found),
        "earlier": found[PAGE].on if len(found) > PAGE else None,
        "kinds": [(kind, label, kind in kinds) for kind, label in KINDS.items() if kind in known],
        "words": words,
        "day": day,
        "query": query.urlencode(),
    }

    return render(request, "history/history.html", context)


@require_safe
def animal_history(request: KeeperRequest, pk: int) -> HttpResponse:
    """Everything of an animal, and what was new before it refused or lost weight."""
    rows = Animal.objects.of(request.household).select_related("household")
    animal = get_object_or_404(
        rows.prefetch_related("weighings", "lengths", "condition_periods"), pk=pk
    )
    context = {"animal": animal, "coincidences": before_of(animal, now())}

    return _page(request, of_animal(animal, request.units), animal.name, context)


@require_safe
def enclosure_history(request: KeeperRequest, pk: int) -> HttpResponse:
    """Everything of an enclosure."""
    enclosure = own_enclosure(request, pk)
    context: dict[str, Any] = {"enclosure": enclosure, "coincidences": []}
    return _page(request, of_enclosure(enclosure, request.units), enclosure.name, context)
