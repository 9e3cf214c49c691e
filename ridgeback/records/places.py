"""Where a sensor can be, on a drawing of its enclosure: tapped there or chosen from the list."""

import datetime as dt
from collections.abc import Iterable
from dataclasses import replace
from functools import partial

from django.utils.safestring import SafeString, mark_safe

from husbandry.documents.request import Request
from husbandry.predict.sensor_places import place_points
from husbandry.quantity import Units
from husbandry.records.channels import PLACE_WORDS, SensorPlace
from ridgeback.calculation import Failed, attempt
from ridgeback.drawing.place_marks import MarkedPlace, place_marks
from ridgeback.drawing.sheet import NARROW, Labels, fit, front_view
from ridgeback.drawing.svg import write
from ridgeback.enclosures.models import Enclosure
from ridgeback.enclosures.planning import planned
from ridgeback.records.targets import request_of
from ridgeback.units import spelled

LETTERS = dict(zip(SensorPlace, "ABCDEFGHIJKLM", strict=True))
"""How places are called on drawings and in lists."""


def place_choices(places: Iterable[SensorPlace]) -> list[tuple[str, str]]:
    """Places to choose from, each with its letter."""
    return [(one.value, f"{LETTERS[one]}: {PLACE_WORDS[one]}") for one in places]


def places_drawing(enclosure: Enclosure, now: dt.datetime, units: Units) -> SafeString:
    """The enclosure from the front with the letters of its places; empty where it is not planned."""
    request = request_of(enclosure, now)
    if request is None:
        return SafeString()
    made = attempt(partial(_drawn, request, enclosure.name, units), "enclosure", enclosure.pk)
    return SafeString() if isinstance(made, Failed) else made


def _drawn(request: Request, name: str, units: Units) -> SafeString:
    made = planned(request)
    labels = Labels(name, "where its sensors are", "")

    def draw() -> SafeString:
        sheet = front_view(made.plan, made.prediction, units, labels, NARROW, fields=False)
        points = place_points(request, made.prediction)
        marks = place_marks(
            [
                MarkedPlace(place.value, LETTERS[place], PLACE_WORDS[place], point.x_m, point.z_m)
                for place, point in points.items()
            ],
            fit(request, NARROW),
        )
        return mark_safe(
            write(replace(sheet, parts=(*sheet.parts, *marks)))
        )  # its own writer escapes every text

    return made.once(("places", spelled(units), labels), draw)
