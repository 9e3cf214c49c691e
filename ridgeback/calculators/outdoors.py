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
    LEAST_OUT_H,
    SUNK_M,
    OutdoorDay,
    PenNeed,
    PenSpan,
    Weather,
    outdoor_day,
    why_not,
)
from husbandry.items.timers import clock_of
from husbandry.methods import find
from husbandry.quantity import Kind, Units, show
from husbandry.species.library import library
from husbandry.species.stages import stage_of
from ridgeback.animals.models import Animal
from ridgeback.clock import day_in, now
from ridgeback.drawing.outdoors import chart
from ridgeback.drawing.svg import write
from ridgeback.fields import QuantityField, day_field
from ridgeback.households.middleware import KeeperRequest
from ridgeback.households.models import Household, Room
from ridgeback.species_guide.flows import profile_of

CLOUDS = [("clear", "clear"), ("half", "half covered"), ("overcast", "overcast")]
WINDS = [("still", "hardly any"), ("breeze", "a breeze"), ("windy", "windy")]
GROUNDS = [
    ("grass", "grass"),
    ("soil", "bare soil"),
    ("sand", "dry sand"),
    ("stone", "stone slabs"),
]
METHODS = ("solar_elevation", "clear_sky_irradiance", "cloud_share", "clear_sky_uvi")
"""Named methods that its numbers come from."""
USUAL_MAX_C, USUAL_MIN_C = 24.0, 13.0
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


class OutdoorForm(forms.Form):
    """Who goes out, and the weather of the day."""

    def __init__(
        self, *args: Any, household: Household | None, units: Units, today: Any, **kwargs: Any
    ) -> None:
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
        self.fields["on"] = day_field("On", initial=today)
        warmth: dict[str, Any] = {
            "kind": Kind.TEMPERATURE,
            "units": units,
            "plausible": "outdoors",
        }
        self.fields["warmest"] = QuantityField(
            label="Warmest of the day", value=USUAL_MAX_C, **warmth
        )
        self.fields["coldest"] = QuantityField(
            label="Coldest of the night before", value=USUAL_MIN_C, **warmth
        )
        self.fields["clouds"] = forms.ChoiceField(label="Sky", choices=CLOUDS)
        self.fields["wind"] = forms.ChoiceField(
            label="Wind in the pen", choices=WINDS, initial="breeze"
        )
        self.fields["ground"] = forms.ChoiceField(label="Ground", choices=GROUNDS)
        meshes = [(slug, mesh.label) for slug, mesh in MESHES.items()]
        self.fields["net"] = forms.ChoiceField(
            label="Over the top", choices=[("", "nothing"), *meshes], required=False
        )

    def clean(self) -> dict[str, Any]:
        """The night is no warmer than the day."""
        cleaned = super().clean() or {}
        low, high = cleaned.get("coldest"), cleaned.get("warmest")
        if low is not None and high is not None and low > high:
            self.add_error("coldest", "The night before is warmer than the day: one is mistyped.")
        return cleaned

    def weather(self) -> Weather:
        """As the core takes it."""
        said = self.cleaned_data
        return Weather(
            max_c=said["warmest"],
            min_c=said["coldest"],
            clouds=said["clouds"],
            wind=said["wind"],
            ground=said["ground"],
            net=said["net"],
        )


@require_safe
def outdoors(request: KeeperRequest) -> HttpResponse:
    """Judge a day outdoors with what the address holds; without anything, a usual day."""
    room = Room.objects.filter(household=request.household).first()
    today = day_in(room.time_zone if room else "UTC", now())
    kept: dict[str, Any] = {"household": request.household, "units": request.units, "today": today}
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
        spec = AnimalSpec.model_validate(animal.data())
        profile = profile_of(request.household, animal.species)
        name = animal.name or profile.name
        approaches = dict(animal.approaches)
    else:
        species = next(one.species for one in library().values() if one.slug == key)
        profile = profile_of(request.household, species)
        spec = AnimalSpec(species=species)
        name, approaches = profile.name, {}
    stage = stage_of(
        profile,
        today=day,
        born_on=spec.born_on,
        mass_g=spec.mass_g,
        length_mm=spec.length_mm or None,
    ).slug
    if kind == "species":
        stage = profile.grown.slug
    place = Place()
    if room is not None:
        place = Place(lat=room.latitude_deg, lon=room.longitude_deg, tz=room.time_zone)
    body_m = spec.body(profile, stage).length.value / 1000
    found = outdoor_day(profile, stage, approaches, body_m, place, day, form.weather())

    return found, name


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
        "out": [f"{clock_of(one.begin_h)} to {clock_of(one.end_h)}" for one in found.out],
        "kept_in": [_kept_in(one, found, temperature) for one in found.spans if _is_said(one)],
        "chart": mark_safe(write(drawn)),  # our own writer escapes
        "facts": [
            ("Warmest in the shade", temperature(found.warmest_shade_c)),
            ("A dark stone in the sun", temperature(found.hottest_c)),
            ("UV index at its highest", f"{found.most_uvi:.1f}"),
        ],
        "burns": found.hottest_c > 55,
        "workings": [(find(name).rule, str(find(name).source)) for name in METHODS],
        "strong_uv": found.strong_uv,
        "uvi_limit": found.uvi_limit,
        "pen": [
            PEN[one].format(
                wall=show(found.wall_m, Kind.LENGTH, units), sunk=show(SUNK_M, Kind.LENGTH, units)
            )
            for one in found.pen
        ],
    }


def _is_said(span: PenSpan) -> bool:
    """Whether a part of the day in which it stays in is worth a line."""
    return span.state in {"cold", "hot"} and span.end_h - span.begin_h >= LEAST_OUT_H / 3


def _kept_in(span: PenSpan, found: OutdoorDay, temperature: Any) -> dict[str, str]:
    """Why it is not out for a part of the day."""
    when = f"{clock_of(span.begin_h)} to {clock_of(span.end_h)}"
    if span.state == "hot":
        why = f"too hot: the shade passes {temperature(found.hot_above_c)}, its limit"
        return {"when": when, "why": why, "direction": "above"}
    ways = []
    if found.basks_from_c is not None:
        ways.append(f"on a stone of {temperature(found.basks_from_c)}")
    if found.air_from_c is not None:
        ways.append(f"in air of {temperature(found.air_from_c)}")
    why = f"too cold: it warms up {' or '.join(ways)}"
    coldest = min(found.air_c[n] for n in range(len(found.air_c)) if span.holds(n))
    if found.cold_below_c is not None and coldest < found.cold_below_c:
        why += f", and stays in where the air is under {temperature(found.cold_below_c)}"

    return {"when": when, "why": why, "direction": "below"}
