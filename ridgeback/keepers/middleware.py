"""Hangs the signed-in keeper's household on the request: the one way to private rows."""

from collections.abc import Callable

from django.http import HttpRequest, HttpResponse

from husbandry.quantity import METRIC, Units
from ridgeback.keepers.models import Household, Keeper, Membership


class KeeperRequest(HttpRequest):
    """A request of a signed-in keeper; what views annotate."""

    user: Keeper
    household: Household | None
    units: Units
    htmx: object


class HouseholdMiddleware:
    """Sets `household` (None for strangers) and `units` on the request."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        return self.get_response(request)

    def process_view(self, request: HttpRequest, view: object, args: object, kwargs: object) -> None:
        user = request.user
        if isinstance(user, Keeper):
            # Sitters and viewers come in by screens of their own, which are not built yet.
            own = Membership.objects.filter(keeper=user, role__in=[Membership.Role.OWNER, Membership.Role.KEEPER])
            request.household = Household.objects.filter(memberships__in=own).order_by("memberships__id").first()  # type: ignore[attr-defined]
            request.units = user.units  # type: ignore[attr-defined]
        else:
            request.household = None  # type: ignore[attr-defined]
            request.units = METRIC  # type: ignore[attr-defined]
