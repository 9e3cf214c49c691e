"""What every page knows of its reader, and of where it stands in the navigation."""

from typing import Any

from django.conf import settings
from django.http import HttpRequest

from ridgeback.households.doors import may
from ridgeback.households.models import Keeper
from ridgeback.households.navigation import entries, local


def reader(request: HttpRequest) -> dict[str, Any]:
    """Theme, units, places, and whether the demo may be offered."""
    user = getattr(request, "user", None)
    places, tools = entries(getattr(request, "resolver_match", None))
    role = getattr(request, "role", "")
    if role:
        places, tools = (
            [one for one in listed if may(role, one.place.view, "GET")]
            for listed in (places, tools)
        )
    return {
        "theme": user.theme if isinstance(user, Keeper) else "system",
        "demo_offered": settings.RIDGEBACK_DEMO,
        "systems": Keeper.System.choices,
        "temperatures": Keeper.Temperature.choices,
        "places": places,
        "tools": tools,
        "local": local(getattr(request, "resolver_match", None)),
    }
