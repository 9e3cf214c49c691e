"""Alarms that go on, for the pages that show them at their head."""

from typing import Any

from django.http import HttpRequest
from django.utils.functional import SimpleLazyObject

from ridgeback.alarms.models import Alarm
from ridgeback.alarms.wording import AlarmView, view_of
from ridgeback.clock import now

MOST = 3
"""At the head of a page; the others are a tap away (design choice)."""


def _views(request: HttpRequest) -> list[AlarmView]:
    household = getattr(request, "household", None)
    rows = Alarm.objects.of(household).going().filter(severity__in=["danger", "care"])
    at = now()
    units = getattr(request, "units", None)
    if units is None:
        return []
    order = {"danger": 0, "care": 1}
    found = [view_of(one, at, units) for one in rows.select_related("channel__enclosure__room")]

    return sorted(found, key=lambda one: order[one.alarm.severity])[:MOST]


def going(request: HttpRequest) -> dict[str, Any]:
    """Asked for by the pages that show them alone: others cost no query."""
    return {"going_alarms": SimpleLazyObject(lambda: _views(request))}
