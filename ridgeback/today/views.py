"""The day's tasks: today's cards, a log request, its undoing, what others did meanwhile, the week
to come, and the log.
"""

import datetime as dt

from django.db.models import Max
from django.http import Http404, HttpResponse, JsonResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.template.loader import render_to_string
from django.utils import timezone
from django.utils.dateparse import parse_datetime
from django.views.decorators.http import require_POST, require_safe

from husbandry.tasks.supplies import taken
from ridgeback import clock
from ridgeback.breeding.views import ClutchView, clutches_of
from ridgeback.clock import now
from ridgeback.enclosures.models import Occupancy
from ridgeback.households.middleware import KeeperRequest
from ridgeback.log import flows
from ridgeback.log.models import LogEntry
from ridgeback.posting import plain_words
from ridgeback.supplies import flows as stock
from ridgeback.tasks.due_tasks import Due, done_with, gather
from ridgeback.tasks.loss_while_dormant import loss_while_dormant
from ridgeback.today.presenting import (
    EnclosureCard,
    beginning_of,
    card,
    counted,
    entry_view,
    part_of,
)
from ridgeback.today.sealing import SealedTask, unseal
from ridgeback.today.task_logging import NotDueError, WrongError, age, understand
from ridgeback.today.week import week_of

EVENING_H = 15
PAGE = 60
OVERLAP = dt.timedelta(seconds=3)
"""Transactions end in another order than they begin: so much is asked for twice."""


def _latest(request: KeeperRequest) -> str:
    found = LogEntry.objects.of(request.household).aggregate(at=Max("touched_at"))["at"]
    return (found or now() - dt.timedelta(minutes=1)).isoformat()


def _rooms(due_lists: list[Due]) -> list[tuple[int, str]]:
    return list(
        dict.fromkeys((due.enclosure.room_id, due.enclosure.room.name) for due in due_lists)
    )


def _today(request: KeeperRequest, due_lists: list[Due]) -> dt.date:
    """The day in the first room of the walk; the household's own when nothing is walked."""
    if due_lists:
        return due_lists[0].today
    return request.household.day_of(now()) if request.household else clock.earliest_day(now())


def _is_evening(request: KeeperRequest, at: dt.datetime) -> bool:
    zone = request.household.time_zone if request.household else "UTC"
    return clock.local(at, zone).hour >= EVENING_H


def _eggs_due(request: KeeperRequest, due_lists: list[Due]) -> list[ClutchView]:
    """Clutches of which something is to be done or said."""
    return [one for one in clutches_of(request.household, _today(request, due_lists)) if one.says]


@require_safe
def today_page(request: KeeperRequest) -> HttpResponse:
    """Today in walking order; of one room when asked for."""
    latest = _latest(request)
    at = now()
    due_lists = gather(request.household, at)
    rooms = _rooms(due_lists)
    asked = request.GET.get("room", "")
    if asked:
        due_lists = [due for due in due_lists if str(due.enclosure.room_id) == asked]
    part = part_of(due_lists, _first(request, due_lists), request.units)
    if request.htmx and "from" in request.GET:
        return render(request, "today/part.html", {"part": part, "room": asked})
    context = {
        "part": part,
        "tasks": counted(due_lists),
        "rooms": rooms,
        "room": asked,
        "latest": latest,
        "day": _today(request, due_lists),
        "evening": _is_evening(request, at),
        "enclosures": len(due_lists),
        "clutches": _eggs_due(request, due_lists) if not asked else [],
    }
    return render(request, "today/today.html", context)


def _first(request: KeeperRequest, due_lists: list[Due]) -> int:
    """Where the part that is asked for begins: a number, or the enclosure that is to be in it."""
    at = request.GET.get("at", "")[:18]
    if at.isdecimal():
        return beginning_of(due_lists, int(at))
    first = request.GET.get("from", "")[:6]
    return int(first) if first.isdecimal() else 0


def _card_html(request: KeeperRequest, one: EnclosureCard) -> str:
    return render_to_string("today/card.html", {"card": one}, request)


def _due(request: KeeperRequest, pk: int) -> Due:
    found = gather(request.household, now(), only=[pk])
    if not found:
        raise Http404
    return found[0]


@require_POST
def log_task(request: KeeperRequest, pk: int) -> HttpResponse:
    """One tap. Answers with the enclosure's card; without scripts, with the page.

    The same log request sent again is answered as it was; a task that somebody else did meanwhile
    is said, and not done twice.
    """
    at = now()
    plain = unseal(
        request.POST.dict(),
        request.household.pk if request.household else None,
        at - age(request.POST.get("age_s", "")),
    )
    if plain is not None and plain.where.enclosure == pk and request.headers.get("X-Today"):
        line = _plainly(request, plain, at)
        if line is not None:
            return line
    due = _due(request, pk)
    try:
        understood = understand(due, request.POST.dict(), request.units, at)
    except WrongError as why:
        wrong = (request.POST.get("task", ""), str(why), _typed(request))
        return _answer(request, card(due, request.units, wrong=wrong), 422)
    except NotDueError:
        return _answer(request, card(due, request.units, said=_why_not(request, due)), 200)
    meal = (
        understood.task.kind == "feed" and understood.log_request.outcome == LogEntry.Outcome.DONE
    )

    def off_the_stock(written: LogEntry) -> None:
        stock.take(
            due.enclosure.household_id,
            written,
            taken(understood.task, written.amount),
            request.user,
            at,
        )

    entry, mine = flows.write(
        due.enclosure,
        understood.animal,
        understood.log_request,
        keeper=request.user,
        now=at,
        also=off_the_stock if meal else None,
    )
    if mine and entry.on == due.today:
        return _answer(
            request,
            card(
                done_with(due, entry),
                request.units,
                said=loss_while_dormant(due, entry, request.units),
            ),
            200,
        )
    again = "" if entry.log_request == understood.log_request.log_request else _by(entry, due)
    return _answer(request, card(_due(request, pk), request.units, said=again), 200)


def _typed(request: KeeperRequest) -> dict[str, str]:
    """What was typed of a task: it stays in its fields."""
    names = ("amount", "note", "tare", "step", "outcome")
    return {name: request.POST[name][:100] for name in names if name in request.POST}


def _plainly(request: KeeperRequest, plain: SealedTask, at: dt.datetime) -> HttpResponse | None:
    """Write a plain log request on a task as it was shown, and answer with its line alone.

    Where somebody did it meanwhile, that one's line. None where the animal lives there no more:
    that is told the long way.
    """
    lives = Occupancy.objects.present().filter(enclosure=plain.where.enclosure)
    if not (
        lives.filter(animal=plain.where.animal) if plain.where.animal is not None else lives
    ).exists():
        return None

    def off_the_stock(written: LogEntry) -> None:
        stock.take(plain.where.household, written, plain.wants, request.user, at)

    entry, mine = flows.write_at(
        plain.where,
        plain.log_request,
        keeper=request.user,
        now=at,
        also=off_the_stock if plain.wants else None,
    )
    line = entry_view(entry, plain.zone, request.units, who=plain.who)
    told = {
        "entry": line,
        "already": not mine and entry.log_request != plain.log_request.log_request,
    }
    answer = HttpResponse(render_to_string("today/entry.html", told, request))
    answer["X-Today-Part"] = "entry"
    return answer


@require_safe
def one_card(request: KeeperRequest, pk: int) -> HttpResponse:
    """An enclosure's card as it stands."""
    return HttpResponse(_card_html(request, card(_due(request, pk), request.units)))


def _by(entry: LogEntry, due: Due) -> str:
    who = entry.who or "somebody"
    at = clock.local(entry.at, due.enclosure.room.time_zone)
    return f"{who} did that already, at {at:%H:%M}. Nothing was done twice."


def _why_not(request: KeeperRequest, due: Due) -> str:
    """Of a task that is not due: nothing where this very log request did it, else who was first, or
    that it is not due.
    """
    standing = (
        LogEntry.objects.of(request.household)
        .standing()
        .filter(enclosure=due.enclosure)
        .select_related("by")
    )
    name, sent = (
        plain_words(request.POST.get("task", ""), 140),
        request.POST.get("log_request", ""),
    )
    if any(
        str(one) == sent
        for one in standing.filter(on=due.today).values_list("log_request", flat=True)
    ):
        return ""
    entry = standing.filter(task=name).first()
    return _by(entry, due) if entry is not None else "That is not due in this enclosure any more."


def _answer(request: KeeperRequest, one: EnclosureCard, status: int) -> HttpResponse:
    if request.headers.get("X-Today"):
        return HttpResponse(_card_html(request, one), status=status)
    if status == 200 and not one.said:
        pk = one.enclosure.pk
        return redirect(f"/today/?at={pk}#enclosure-{pk}")
    return render(request, "today/one.html", {"card": one, "enclosure": one.enclosure}, status=200)


@require_POST
def undo(request: KeeperRequest, pk: int) -> HttpResponse:
    """Take an entry back."""
    entry = get_object_or_404(LogEntry.objects.of(request.household), pk=pk)
    at = now()
    done = flows.undo(
        entry,
        keeper=request.user,
        now=at,
        also=lambda undone: stock.give_back(undone, at, request.user),
    )
    said = (
        ""
        if done
        else (
            "This entry is too old to undo: log what is right as another entry."
            if entry.undone_at is None
            else ""
        )
    )
    if "log" in request.POST:
        return redirect("today:log")
    found = gather(request.household, now(), only=[entry.enclosure_id])
    if not found:  # nobody lives there any more
        return redirect("today:page")
    return _answer(request, card(found[0], request.units, said=said), 200)


@require_safe
def changes(request: KeeperRequest) -> HttpResponse:
    """The cards of enclosures in which somebody did something since a moment, and the moment to ask
    from next.
    """
    after = parse_datetime(request.GET.get("after", "").replace(" ", "+")[:40])
    if after is None or timezone.is_naive(after):
        return JsonResponse({"latest": _latest(request), "cards": {}})
    rows = list(
        LogEntry.objects.of(request.household)
        .filter(touched_at__gt=after - OVERLAP)
        .values_list("enclosure", "touched_at")
    )
    if not any(at > after for _, at in rows):
        return JsonResponse({"latest": after.isoformat(), "cards": {}})
    due_lists = gather(
        request.household, now(), only=sorted({enclosure_pk for enclosure_pk, _ in rows})
    )
    cards = {
        str(due.enclosure.pk): _card_html(request, card(due, request.units)) for due in due_lists
    }
    return JsonResponse({"latest": max(at for _, at in rows).isoformat(), "cards": cards})


@require_safe
def week(request: KeeperRequest) -> HttpResponse:
    """What comes in the next seven days, enclosure by enclosure."""
    due_lists = gather(request.household, now())
    shown = week_of(due_lists, _today(request, due_lists))
    return render(request, "today/week.html", {"week": shown})


@require_safe
def log(request: KeeperRequest) -> HttpResponse:
    """Everything that was done, the latest first."""
    entries = LogEntry.objects.of(request.household).select_related(
        "enclosure__room", "animal", "by", "undone_by"
    )
    enclosure_pk = request.GET.get("enclosure", "")
    if enclosure_pk.isdecimal() and len(enclosure_pk) < 12:
        entries = entries.filter(enclosure=int(enclosure_pk))
    text = request.GET.get("page", "1")
    number = min(int(text), 10_000) if text.isdecimal() and len(text) < 8 else 1
    found = (
        list(entries[(number - 1) * PAGE : number * PAGE + 1]) if number > 0 else []
    )  # no count: it reads years of entries
    at = now()
    rows = [
        {
            "entry": entry,
            "view": entry_view(entry, entry.enclosure.room.time_zone, request.units, several=True),
            "undoable": entry.undone_at is None and at - entry.at <= flows.UNDO_FOR,
        }
        for entry in found[:PAGE]
    ]
    return render(
        request,
        "today/log.html",
        {
            "rows": rows,
            "number": number,
            "earlier": number + 1 if len(found) > PAGE else 0,
            "later": number - 1,
            "chosen_enclosure": enclosure_pk,
        },
    )
