"""What every page knows of its reader."""

from typing import Any

from django.conf import settings
from django.http import HttpRequest

from ridgeback.keepers.models import Keeper


def reader(request: HttpRequest) -> dict[str, Any]:
    """Theme and whether the demo may be offered."""
    user = getattr(request, "user", None)
    return {
        "theme": user.theme if isinstance(user, Keeper) else "system",
        "demo_offered": settings.RIDGEBACK_DEMO,
        "systems": Keeper.System.choices,
        "temperatures": Keeper.Temperature.choices,
    }
