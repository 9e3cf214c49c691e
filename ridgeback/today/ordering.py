"""The order in which the room is walked: the keeper's own, by numbers or a place up and down."""

from collections.abc import Sequence

from django.contrib import messages
from django.db import transaction
from django.http import HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_http_methods

from ridgeback.enclosures.models import WALK, Enclosure
from ridgeback.households.middleware import KeeperRequest
from ridgeback.households.models import Household, Room


def _enclosures(household: Household | None) -> list[Enclosure]:
    return list(Enclosure.objects.of(household).select_related("room").order_by(*WALK))


def _typed(text: str, place: int) -> float:
    """A place as it was typed; what is no number keeps its own."""
    try:
        value = float(text.replace(",", "."))
    except ValueError:
        return float(place)
    return value if -1e6 < value < 1e6 else float(place)


@transaction.atomic
def keep(enclosures: Sequence[Enclosure], order: Sequence[float]) -> None:
    """Number enclosures anew by typed places, rooms by the first of their enclosures.

    Equal places keep their order.
    """
    ranked = [
        enclosure
        for _, _, enclosure in sorted(
            (place, n, enclosure)
            for n, (place, enclosure) in enumerate(zip(order, enclosures, strict=True))
        )
    ]
    rooms = list(dict.fromkeys(enclosure.room_id for enclosure in ranked))
    for n, room in enumerate(rooms, 1):
        Room.objects.filter(pk=room).update(walk=n)
    for n, enclosure in enumerate(ranked, 1):
        enclosure.walk = n
    Enclosure.objects.bulk_update(ranked, ["walk"])


def _moved(enclosures: list[Enclosure], pk: int, step: int) -> list[float]:
    """Places with one enclosure a place up or down within its room."""
    order = [float(n) for n in range(len(enclosures))]
    at = next((n for n, enclosure in enumerate(enclosures) if enclosure.pk == pk), None)
    if (
        at is not None
        and 0 <= at + step < len(enclosures)
        and enclosures[at].room_id == enclosures[at + step].room_id
    ):
        order[at], order[at + step] = order[at + step], order[at]
    return order


@require_http_methods(["GET", "HEAD", "POST"])
def order(request: KeeperRequest) -> HttpResponse:
    """Enclosures in their order, to be numbered anew."""
    enclosures = _enclosures(request.household)
    if request.method == "POST":
        moved = next((name for name in ("up", "down") if name in request.POST), None)
        if moved is not None:
            text = request.POST[moved]
            keep(
                enclosures,
                _moved(
                    enclosures,
                    int(text) if text.isdecimal() and len(text) < 12 else 0,
                    -1 if moved == "up" else 1,
                ),
            )
        else:
            keep(
                enclosures,
                [
                    _typed(request.POST.get(f"place-{enclosure.pk}", ""), n)
                    for n, enclosure in enumerate(enclosures, 1)
                ],
            )
            messages.success(request, "Saved: tasks are listed in this order.")
        return redirect("today:order")
    return render(request, "today/order.html", {"enclosures": enclosures})
