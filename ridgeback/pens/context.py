"""Who is outside now, for the pages that show it at their head."""

from typing import Any, NamedTuple

from django.http import HttpRequest
from django.utils.functional import SimpleLazyObject

from husbandry.pens.plan import is_sun_low
from ridgeback import clock
from ridgeback.pens.models import Outing, Pen


class Outside(NamedTuple):
    """Animals that are outside."""

    pen: Pen
    names: str
    since: str
    is_sun_low: bool
    """Whether they belong inside."""


def _outside(request: HttpRequest) -> list[Outside]:
    household = getattr(request, "household", None)
    if household is None:
        return []
    at = clock.now()
    rows = Outing.objects.filter(pen__household=household, in_at__isnull=True)
    found = []
    for one in rows.select_related("pen__room").prefetch_related("animals"):
        place = one.pen.place
        names = " and ".join(animal.name or "unnamed" for animal in one.animals.all())
        since = f"{clock.local(one.out_at, place.tz):%-d %B, %H:%M}"
        found.append(Outside(one.pen, names or "Somebody", since, is_sun_low(place, at)))

    return found


def outside(request: HttpRequest) -> dict[str, Any]:
    """Asked for by the pages that show it alone: others cost no query."""
    return {"outside": SimpleLazyObject(lambda: _outside(request))}
