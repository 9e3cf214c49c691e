"""Hangs the signed-in keeper's household on the request: the one way to private rows."""

from collections.abc import Callable, Sequence
from urllib.parse import unquote

from django.core.exceptions import ValidationError
from django.db.models import Model, OuterRef, Subquery
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render

from husbandry.quantity import METRIC, Units
from ridgeback import clock
from ridgeback.households.doors import may
from ridgeback.households.models import Household, Keeper, Membership, Room, valid_zone


class KeeperRequest(HttpRequest):
    """A request of a signed-in keeper; what views annotate."""

    user: Keeper
    household: Household | None
    role: str
    """Of the keeper in the household; empty without one."""
    units: Units
    loaded_row: Model | None
    """What a guard has loaded for the view that it lets in."""
    htmx: object


def _browser_zone(request: HttpRequest) -> str:
    """The time zone that the page's script noted in a cookie; empty when it is none."""
    zone = unquote(request.COOKIES.get("zone", ""))[:64]
    try:
        valid_zone(zone)
    except ValidationError:
        return ""
    return zone


class HouseholdMiddleware:
    """Sets `household` (None for strangers), `role` and `units` on the request, and opens a page
    only to the roles that `doors` lets in.
    """

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        return self.get_response(request)

    def process_view(
        self, request: HttpRequest, view: object, args: object, kwargs: object
    ) -> HttpResponse | None:
        """Find who asks, and for which household; answer where the door is closed."""
        user = request.user
        request.household = None  # type: ignore[attr-defined]
        request.role = ""  # type: ignore[attr-defined]
        request.units = METRIC  # type: ignore[attr-defined]
        request.loaded_row = None  # type: ignore[attr-defined]
        if not isinstance(user, Keeper):
            return None
        request.units = user.units  # type: ignore[attr-defined]
        mine = memberships_of(user)
        zone = _browser_zone(request)
        for one in mine:  # before the first question for a day, which remembers the zone
            one.household.browser_zone = zone
        chosen = request.session.get(CHOSEN)
        open_now = [one for one in mine if one.is_open(one.household.day_of(clock.now()))]
        here = next((one for one in open_now if one.household_id == chosen), None)
        here = here or next(iter(open_now), None)
        match = request.resolver_match
        name = match.view_name if match is not None else ""
        is_open = may(here.role if here else "", name or "", request.method or "GET")
        if here is None:
            return None if is_open else redirect("households:begin")
        request.household = here.household  # type: ignore[attr-defined]
        request.role = here.role  # type: ignore[attr-defined]
        request.has_others = len(open_now) > 1  # type: ignore[attr-defined]
        return None if is_open else render(request, "people/closed.html", status=403)


CHOSEN = "household"
"""Of the session: the household that was chosen among several."""


def memberships_of(keeper: Keeper) -> Sequence[Membership]:
    """Every membership of a keeper with its household and its zone: one query."""
    rooms = Room.objects.filter(household=OuterRef("household")).order_by("pk")
    rows = list(
        Membership.objects.filter(keeper=keeper)
        .select_related("household")
        .annotate(first_zone=Subquery(rooms.values("time_zone")[:1]))
        .order_by("pk")
    )
    for row in rows:
        row.household.__dict__["first_zone"] = row.first_zone
    return rows
