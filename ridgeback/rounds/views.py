"""The round: today's cards, a tap, its undoing, what others did meanwhile, the week to come, and the log."""

import datetime as dt

from django.db.models import Max
from django.http import Http404, HttpResponse, JsonResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.template.loader import render_to_string
from django.utils import timezone
from django.utils.dateparse import parse_datetime
from django.views.decorators.http import require_POST, require_safe

from husbandry.chores.larder import taken
from ridgeback import clock
from ridgeback.clock import now
from ridgeback.eggs.views import ClutchView, clutches_of
from ridgeback.habitats.models import Occupancy
from ridgeback.keepers.middleware import KeeperRequest
from ridgeback.larder import flows as stock
from ridgeback.ledger import flows
from ridgeback.ledger.models import Entry
from ridgeback.posting import plain_words
from ridgeback.rounds.due_tasks import Due, done_with, gather
from ridgeback.rounds.presenting import Card, card, entry_view, shelves
from ridgeback.rounds.sealing import Sealed, unseal
from ridgeback.rounds.task_logging import NotDueError, WrongError, age, understand
from ridgeback.rounds.week import week_of
from ridgeback.seasons.resting import loss_in_rest

EVENING_H = 15
PAGE = 60
OVERLAP = dt.timedelta(seconds=3)
"""Transactions end in another order than they begin: so much is asked for twice."""


def _latest(request: KeeperRequest) -> str:
    found = Entry.objects.of(request.household).aggregate(at=Max("touched_at"))["at"]
    return (found or now() - dt.timedelta(minutes=1)).isoformat()


def _rooms(dues: list[Due]) -> list[tuple[int, str]]:
    return list(dict.fromkeys((due.habitat.room_id, due.habitat.room.name) for due in dues))


def _today(request: KeeperRequest, dues: list[Due]) -> dt.date:
    """The day in the first room of the walk; the household's own when nothing is walked."""
    if dues:
        return dues[0].today
    return request.household.day_of(now()) if request.household else clock.earliest_day(now())


def _is_evening(request: KeeperRequest, at: dt.datetime) -> bool:
    zone = request.household.time_zone if request.household else "UTC"
    return clock.local(at, zone).hour >= EVENING_H


def _eggs_due(request: KeeperRequest, dues: list[Due]) -> list[ClutchView]:
    """Clutches of which something is to be done or said."""
    return [one for one in clutches_of(request.household, _today(request, dues)) if one.says]


@require_safe
def round_page(request: KeeperRequest) -> HttpResponse:
    """Today in walking order; of one room when asked for."""
    latest, at = _latest(request), now()
    dues = gather(request.household, at)
    rooms = _rooms(dues)
    asked = request.GET.get("room", "")
    if asked:
        dues = [due for due in dues if str(due.habitat.room_id) == asked]
    cards = [card(due, request.units) for due in dues]
    left = sum(len(one.chores) for one in cards)
    context = {
        "shelves": shelves(cards), "left": left, "all": left + sum(len(one.entries) for one in cards), "rooms": rooms, "room": asked, "latest": latest,
        "day": _today(request, dues), "evening": _is_evening(request, at), "boxes": len(cards),
        "clutches": _eggs_due(request, dues) if not asked else [],
    }  # fmt: skip
    return render(request, "rounds/round.html", context)


def _card_html(request: KeeperRequest, one: Card) -> str:
    return render_to_string("rounds/card.html", {"card": one}, request)


def _due(request: KeeperRequest, pk: int) -> Due:
    found = gather(request.household, now(), only=[pk])
    if not found:
        raise Http404
    return found[0]


@require_POST
def tap(request: KeeperRequest, pk: int) -> HttpResponse:
    """One tap. Answers with the enclosure's card; without scripts, with the page.

    The same tap sent again is answered as it was; a chore that somebody else did meanwhile is said, and not done twice.
    """
    at = now()
    plain = unseal(
        request.POST.dict(), request.household.pk if request.household else None, at - age(request.POST.get("age_s", ""))
    )
    if plain is not None and plain.where.habitat == pk and request.headers.get("X-Round"):
        line = _plainly(request, plain, at)
        if line is not None:
            return line
    due = _due(request, pk)
    try:
        understood = understand(due, request.POST.dict(), request.units, at)
    except WrongError as why:
        typed = {
            key: value[:100] for key, value in request.POST.dict().items() if key in {"amount", "note", "tare", "step", "outcome"}
        }
        return _answer(request, card(due, request.units, wrong=(request.POST.get("chore", ""), str(why), typed)), 422)
    except NotDueError:
        return _answer(request, card(due, request.units, said=_why_not(request, due)), 200)
    meal = understood.chore.kind == "feed" and understood.tap.outcome == Entry.Outcome.DONE

    def off_the_stock(written: Entry) -> None:
        stock.take(due.habitat.household_id, written, taken(understood.chore, written.amount), request.user, at)

    entry, mine = flows.write(
        due.habitat, understood.animal, understood.tap, keeper=request.user, now=at, also=off_the_stock if meal else None
    )
    if mine and entry.on == due.today:
        return _answer(request, card(done_with(due, entry), request.units, said=loss_in_rest(due, entry, request.units)), 200)
    again = "" if entry.tap == understood.tap.tap else _by(entry, due)
    return _answer(request, card(_due(request, pk), request.units, said=again), 200)


def _plainly(request: KeeperRequest, plain: Sealed, at: dt.datetime) -> HttpResponse | None:
    """Write a plain tap on a chore as it was shown, and answer with its line alone.

    Where somebody did it meanwhile, that one's line. None where the animal lives there no more: that is told the long way.
    """
    lives = Occupancy.objects.filter(habitat=plain.where.habitat, until__isnull=True)
    if not (lives.filter(animal=plain.where.animal) if plain.where.animal is not None else lives).exists():
        return None

    def off_the_stock(written: Entry) -> None:
        stock.take(plain.where.household, written, plain.wants, request.user, at)

    entry, mine = flows.write_at(plain.where, plain.tap, keeper=request.user, now=at, also=off_the_stock if plain.wants else None)
    line = entry_view(entry, plain.zone, request.units, who=plain.who)
    told = {"entry": line, "already": not mine and entry.tap != plain.tap.tap}
    answer = HttpResponse(render_to_string("rounds/entry.html", told, request))
    answer["X-Round-Part"] = "entry"
    return answer


@require_safe
def one_card(request: KeeperRequest, pk: int) -> HttpResponse:
    """An enclosure's card as it stands."""
    return HttpResponse(_card_html(request, card(_due(request, pk), request.units)))


def _by(entry: Entry, due: Due) -> str:
    who = (entry.by.first_name or entry.by.username) if entry.by else "somebody"
    at = clock.local(entry.at, due.habitat.room.time_zone)
    return f"{who} did that already, at {at:%H:%M}. Nothing was done twice."


def _why_not(request: KeeperRequest, due: Due) -> str:
    """Of a chore that is not due: nothing where this very tap did it, else who was first, or that it is not due."""
    standing = Entry.objects.of(request.household).standing().filter(habitat=due.habitat).select_related("by")
    name, sent = plain_words(request.POST.get("chore", ""), 140), request.POST.get("tap", "")
    if any(str(one) == sent for one in standing.filter(on=due.today).values_list("tap", flat=True)):
        return ""
    entry = standing.filter(chore=name).first()
    return _by(entry, due) if entry is not None else "That is not due in this enclosure any more."


def _answer(request: KeeperRequest, one: Card, status: int) -> HttpResponse:
    if request.headers.get("X-Round"):
        return HttpResponse(_card_html(request, one), status=status)
    if status == 200 and not one.said:
        return redirect(f"/round/#box-{one.habitat.pk}")
    return render(request, "rounds/one.html", {"card": one, "habitat": one.habitat}, status=200)


@require_POST
def undo(request: KeeperRequest, pk: int) -> HttpResponse:
    """Take an entry back."""
    entry = get_object_or_404(Entry.objects.of(request.household), pk=pk)
    at = now()
    done = flows.undo(entry, keeper=request.user, now=at, also=lambda undone: stock.give_back(undone, at, request.user))
    said = "" if done else "This entry is too old to undo: log what is right as another entry." if entry.undone_at is None else ""
    if "log" in request.POST:
        return redirect("rounds:log")
    found = gather(request.household, now(), only=[entry.habitat_id])
    if not found:  # nobody lives there any more
        return redirect("rounds:round")
    return _answer(request, card(found[0], request.units, said=said), 200)


@require_safe
def changes(request: KeeperRequest) -> HttpResponse:
    """The cards of enclosures in which somebody did something since a moment, and the moment to ask from next."""
    after = parse_datetime(request.GET.get("after", "").replace(" ", "+")[:40])
    if after is None or timezone.is_naive(after):
        return JsonResponse({"latest": _latest(request), "cards": {}})
    rows = list(Entry.objects.of(request.household).filter(touched_at__gt=after - OVERLAP).values_list("habitat", "touched_at"))
    if not any(at > after for _, at in rows):
        return JsonResponse({"latest": after.isoformat(), "cards": {}})
    dues = gather(request.household, now(), only=sorted({box for box, _ in rows}))
    cards = {str(due.habitat.pk): _card_html(request, card(due, request.units)) for due in dues}
    return JsonResponse({"latest": max(at for _, at in rows).isoformat(), "cards": cards})


@require_safe
def week(request: KeeperRequest) -> HttpResponse:
    """What comes in the next seven days, enclosure by enclosure."""
    dues = gather(request.household, now())
    shown = week_of(dues, _today(request, dues))
    return render(request, "rounds/week.html", {"week": shown})


@require_safe
def log(request: KeeperRequest) -> HttpResponse:
    """Everything that was done, the latest first."""
    entries = Entry.objects.of(request.household).select_related("habitat__room", "animal", "by", "undone_by")
    box = request.GET.get("box", "")
    if box.isdecimal() and len(box) < 12:
        entries = entries.filter(habitat=int(box))
    text = request.GET.get("page", "1")
    number = min(int(text), 10_000) if text.isdecimal() and len(text) < 8 else 1
    found = list(entries[(number - 1) * PAGE : number * PAGE + 1]) if number > 0 else []  # no count: it reads years of entries
    at = now()
    rows = [
        {
            "entry": entry, "view": entry_view(entry, entry.habitat.room.time_zone, request.units, several=True),
            "undoable": entry.undone_at is None and at - entry.at <= flows.UNDO_FOR,
        }
        for entry in found[:PAGE]
    ]  # fmt: skip
    return render(
        request,
        "rounds/log.html",
        {"rows": rows, "number": number, "earlier": number + 1 if len(found) > PAGE else 0, "later": number - 1, "box": box},
    )
