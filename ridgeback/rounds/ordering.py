"""The order in which the room is walked: the keeper's own, by numbers or a place up and down."""

from collections.abc import Sequence

from django.contrib import messages
from django.db import transaction
from django.http import HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_http_methods

from ridgeback.habitats.models import WALK, Habitat
from ridgeback.keepers.middleware import KeeperRequest
from ridgeback.keepers.models import Household, Room


def _boxes(household: Household | None) -> list[Habitat]:
    return list(Habitat.objects.of(household).select_related("room").order_by(*WALK))


def _typed(text: str, place: int) -> float:
    """A place as it was typed; what is no number keeps its own."""
    try:
        value = float(text.replace(",", "."))
    except ValueError:
        return float(place)
    return value if -1e6 < value < 1e6 else float(place)


@transaction.atomic
def keep(boxes: Sequence[Habitat], order: Sequence[float]) -> None:
    """Number enclosures anew by typed places, rooms by the first of their enclosures. Equal places keep their order."""
    ranked = [box for _, _, box in sorted((place, n, box) for n, (place, box) in enumerate(zip(order, boxes, strict=True)))]
    rooms = list(dict.fromkeys(box.room_id for box in ranked))
    for n, room in enumerate(rooms, 1):
        Room.objects.filter(pk=room).update(walk=n)
    for n, box in enumerate(ranked, 1):
        box.walk = n
    Habitat.objects.bulk_update(ranked, ["walk"])


def _moved(boxes: list[Habitat], pk: int, step: int) -> list[float]:
    """Places with one enclosure a place up or down within its room."""
    order = [float(n) for n in range(len(boxes))]
    at = next((n for n, box in enumerate(boxes) if box.pk == pk), None)
    if at is not None and 0 <= at + step < len(boxes) and boxes[at].room_id == boxes[at + step].room_id:
        order[at], order[at + step] = order[at + step], order[at]
    return order


@require_http_methods(["GET", "HEAD", "POST"])
def order(request: KeeperRequest) -> HttpResponse:
    """Enclosures in their order, to be numbered anew."""
    boxes = _boxes(request.household)
    if request.method == "POST":
        moved = next((name for name in ("up", "down") if name in request.POST), None)
        if moved is not None:
            text = request.POST[moved]
            keep(boxes, _moved(boxes, int(text) if text.isdecimal() and len(text) < 12 else 0, -1 if moved == "up" else 1))
        else:
            keep(boxes, [_typed(request.POST.get(f"place-{box.pk}", ""), n) for n, box in enumerate(boxes, 1)])
            messages.success(request, "Saved: tasks are listed in this order.")
        return redirect("rounds:order")
    return render(request, "rounds/order.html", {"boxes": boxes})
