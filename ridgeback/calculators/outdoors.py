"""A day in an outdoor pen: when an animal can be out, and what the pen must have. Nothing of it is
kept.
"""

from typing import Any

from django import forms
from django.http import HttpResponse
from django.shortcuts import render
from django.utils.safestring import mark_safe
from django.views.decorators.http import require_safe

from husbandry.documents.animal import Animal as AnimalSpec
from husbandry.documents.room import Place
from husbandry.enclosure.equipment import MESHES
from husbandry.forecast.outdoor_day import (
    SUNK_M,
    OutdoorDay,
    PenNeed,
    Weather,
    outdoor_day,
    why_not,
)
from husbandry.methods import find
from husbandry.pens.pen import PenAnimal
from husbandry.quantity import Kind, Units, show
from husbandry.species.library import library
from husbandry.species.profile import Profile
from ridgeback.animals.models import Animal
from ridgeback.clock import day_in, now
from ridgeback.drawing.outdoors import chart
from ridgeback.drawing.svg import write
from ridgeback.households.middleware import KeeperRequest
from ridgeback.households.models import Household, Room
from ridgeback.pens.flows import planned_animal
from ridgeback.pens.forms import GROUNDS, PenDayForm
from ridgeback.pens.presenters import facts_of, kept_in, spans_words
from ridgeback.species_guide.flows import profile_of

METHODS = ("solar_elevation", "clear_sky_irradiance", "cloud_share", "clear_sky_uvi")
"""Named methods that its numbers come from."""
USUAL = Weather(max_c=24.0, min_c=13.0)
"""A day to begin with (design choice) [°C]."""
PEN: dict[PenNeed, str] = {
    "shade": "Deep shade at every hour of the day, over half of the pen: shrubs or a board, not a towel.",
    "walls": "Walls that are {wall} high or more, smooth and opaque inside, with the edge turned in for"
    " climbers; for what digs, {sunk} into the ground or on slabs.",
    "net": "A net or welded mesh over the top: crows, gulls, cats, dogs, foxes and martens.",
    "stone": "A dark flat stone in the morning sun to bask on, firm and low.",
    "hide": "A hide that stays dry and dark, and leaves or roots to push into.",
    "water": "A flat dish of fresh water in the shade.",
    "ground": "Nothing sprayed, no poisonous plants, no gaps, threads or small stones to swallow.",
    "watch": "Somebody near who looks every half hour, more often when it is hot or the animal is new to"
    " it: overturned in the sun it dies within the hour.",
    "night": "In again before it is cold: at night it belongs into its enclosure. Wash hands afterwards.",
}


class OutdoorForm(PenDayForm):
    """Who goes out, what the pen is of, and the weather of the day."""

    field_order = ("who", "on", "warmest", "coldest", "clouds", "wind", "ground", "net")

    def __init__(self, *args: Any, household: Household | None, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        animals = Animal.objects.of(household).here().order_by("name")
        own = [
            (f"animal-{one.pk}", f"{one.name or 'unnamed'}, {library()[one.species].name}")
            for one in animals
            if one.species in library()
        ]
        kinds = sorted(
            ((f"species-{one.slug}", one.name) for one in library().values()),
            key=lambda pair: pair[1],
        )
        groups = [("Your animals", own)] if own else []
        self.fields["who"] = forms.ChoiceField(
            label="Who goes out", choices=[*groups, ("Any species", kinds)]
        )
        self.fields["ground"] = forms.ChoiceField(label="Ground", choices=GROUNDS)
        meshes = [(slug, mesh.label) for slug, mesh in MESHES.items()]
        self.fields["net"] = forms.ChoiceField(
            label="Over the top", choices=[("", "nothing"), *meshes], required=False
        )
        self.order_fields(self.field_order)

    def weather(self) -> Weather:
        """With the ground and the net that were said."""
        said = self.cleaned_data
        told = {"ground": said["ground"], "net": said["net"]}
        return super().weather().model_copy(update=told)


@require_safe
def outdoors(request: KeeperRequest) -> HttpResponse:
    """Judge a day outdoors with what the address holds; without anything, a usual day."""
    room = Room.objects.filter(household=request.household).first()
    today = day_in(room.time_zone if room else "UTC", now())
    kept: dict[str, Any] = {
        "household": request.household,
        "units": request.units,
        "usual": USUAL,
        "on": today,
    }
    fresh = OutdoorForm(**kept)
    typed = {name: _first(field) for name, field in fresh.fields.items()}
    asked = {name: value[:80] for name, value in request.GET.items() if name in typed}
    form = OutdoorForm({**typed, "who": _usual(request.household), **asked}, **kept)
    context: dict[str, Any] = {"form": form, "room": room}
    if form.is_valid():
        found, name = _found(request, form, room)
        context |= _shown(found, name, request.units)

    return render(request, "calculators/outdoors.html", context)


def _first(field: forms.Field) -> str:
    """What a field holds before anybody typed."""
    if field.initial not in (None, ""):
        return str(field.initial)
    choices = list(getattr(field, "choices", []))
    return str(choices[0][0]) if choices and isinstance(choices[0][1], str) else ""


def _usual(household: Household | None) -> str:
    """The first of its animals that may go out; else a species of the sun."""
    for one in Animal.objects.of(household).here().order_by("name"):
        if one.species in library() and not why_not(library()[one.species]):
            return f"animal-{one.pk}"
    return next(f"species-{one.slug}" for one in library().values() if not why_not(one))


def _found(request: KeeperRequest, form: OutdoorForm, room: Room | None) -> tuple[OutdoorDay, str]:
    """The day, and who goes out."""
    kind, _, key = form.cleaned_data["who"].partition("-")
    day = form.cleaned_data["on"]
    if kind == "animal":
        animal = Animal.objects.of(request.household).get(pk=int(key))
        one = planned_animal(animal, day)
    else:
        species = next(one.species for one in library().values() if one.slug == key)
        one = _grown(profile_of(request.household, species))
    place = room.place if room is not None else Place()
    weather = form.weather()
    found = outdoor_day(one.profile, one.stage, one.chosen, one.body_m, place, day, weather)

    return found, one.name


def _grown(profile: Profile) -> PenAnimal:
    """A grown animal of a species."""
    stage = profile.grown.slug
    body = AnimalSpec(species=profile.species).body(profile, stage)

    return PenAnimal(profile.name, profile, stage, body.length.value / 1000)


def _shown(found: OutdoorDay, name: str, units: Units) -> dict[str, Any]:
    """What the page says of it."""
    if found.ruled_out:
        return {"name": name, "ruled_out": found.ruled_out}
    drawn = chart(found, units)

    def temperature(value: float | None) -> str:
        return "" if value is None else show(value, Kind.TEMPERATURE, units, digits=0)

    return {
        "name": name,
        "found": found,
        "out": spans_words(found.out),
        "kept_in": kept_in(found, units),
        "chart": mark_safe(write(drawn)),  # our own writer escapes
        "facts": facts_of(found, units),
        "burns": found.hottest_c > 55,
        "derivations": [(find(name).rule, str(find(name).source)) for name in METHODS],
        "strong_uv": found.strong_uv,
        "uvi_limit": found.uvi_limit,
        "pen": [
            PEN[one].format(
                wall=show(found.wall_m, Kind.LENGTH, units), sunk=show(SUNK_M, Kind.LENGTH, units)
            )
            for one in found.pen
        ],
    }
