"""Hangs the signed-in keeper's household on the request: the one way to private rows."""

from collections.abc import Callable
from urllib.parse import unquote

from django.core.exceptions import ValidationError
from django.http import HttpRequest, HttpResponse

from husbandry.quantity import METRIC, Units
from ridgeback.households.models import Household, Keeper, Membership, valid_zone


class KeeperRequest(HttpRequest):
    """A request of a signed-in keeper; what views annotate."""

    user: Keeper
    household: Household | None
    units: Units
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
    """Sets `household` (None for strangers) and `units` on the request."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        return self.get_response(request)

    def process_view(
        self, request: HttpRequest, view: object, args: object, kwargs: object
    ) -> None:
        user = request.user
        if isinstance(user, Keeper):
            # Sitters and viewers come in by screens of their own, which are not built yet.
            own = Membership.objects.filter(
                keeper=user, role__in=[Membership.Role.OWNER, Membership.Role.KEEPER]
            )
            households = Household.objects.with_zone().filter(memberships__in=own)
            request.household = households.order_by("memberships__id").first()  # type: ignore[attr-defined]
            if request.household is not None:  # type: ignore[attr-defined]
                request.household.browser_zone = _browser_zone(request)  # type: ignore[attr-defined]
            request.units = user.units  # type: ignore[attr-defined]
        else:
            request.household = None  # type: ignore[attr-defined]
            request.units = METRIC  # type: ignore[attr-defined]
