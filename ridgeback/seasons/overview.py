"""The year overview: a household's year at a glance, animal by animal, with the times of its
timers.
"""

import datetime as dt
from dataclasses import dataclass
from functools import partial
from typing import Any, cast

from django.http import Http404, HttpResponse
from django.shortcuts import render
from django.utils.safestring import SafeString, mark_safe
from django.views.decorators.http import require_safe

from husbandry.enclosure.equipment import HEATERS, UV_LAMPS
from husbandry.quantity import Kind, Units, show
from husbandry.seasons.brumation import Dormancy
from husbandry.seasons.photoperiod import (
    BY_HEAT,
    BY_LIGHT,
    Timers,
    Way,
    clock_changes,
    lit_hours,
    timers,
)
from husbandry.seasons.summer_and_winter import LEAN_DAYS, lean, warmth_by_month
from husbandry.species.library import find
from husbandry.species.needs import NEEDS
from husbandry.species.parts import LengthKind
from husbandry.species.profile import Profile
from husbandry.species.stages import stage_of
from ridgeback.animals.models import Animal
from ridgeback.calculation import Failed, attempt
from ridgeback.climate.moisture_year import SHORT
from ridgeback.clock import now
from ridgeback.drawing.svg import write
from ridgeback.drawing.year_overview import strip
from ridgeback.enclosures.models import WALK, Enclosure
from ridgeback.households.middleware import KeeperRequest
from ridgeback.households.models import Room
from ridgeback.seasons.models import Brumation

WAYS: dict[str, str] = {
    "own": "by its species’ own rhythm",
    "place": "by the sun outside",
    "same": "twelve hours always",
}
STEP_DAYS = 4


@dataclass(frozen=True)
class YearStrip:
    """An animal's year."""

    animal: Animal
    kind: str
    enclosure: Enclosure
    chart: SafeString
    timers: tuple[Timers, ...]
    """In the middle of each month."""
    lights: str
    """Its lamps that give light without much heat, by name."""
    heats: str
    warmth: tuple[tuple[str, tuple[str, ...]], ...]
    """Need and its value in each month."""
    lean: str
    breeding: str
    resting: str


@dataclass(frozen=True)
class RoomYear:
    """A room with its animals."""

    room: Room
    strips: tuple[YearStrip, ...]
    clocks: tuple[str, ...]
    failed: tuple[tuple[Animal, Failed], ...] = ()
    """Animals whose year cannot be calculated."""


def _strip(
    animal: Animal,
    enclosure: Enclosure,
    way: Way,
    year: int,
    today: dt.date,
    dormancy: Dormancy | None,
    units: Units,
) -> YearStrip:
    profile = find(animal.species)
    lat = enclosure.room.latitude_deg
    days = [dt.date(year, 1, 1) + dt.timedelta(days=n) for n in range(0, 366, STEP_DAYS)]
    hours = [
        (day, _lit(day, dormancy, lit_hours(profile, way, day, lat)))
        for day in days
        if day.year == year
    ] + [
        (
            dt.date(year, 12, 31),
            _lit(
                dt.date(year, 12, 31),
                dormancy,
                lit_hours(profile, way, dt.date(year, 12, 31), lat),
            ),
        )
    ]
    middles = tuple(
        timers(lit_hours(profile, way, dt.date(year, month, 15), lat)) for month in range(1, 13)
    )
    ends = [value for _, value in hours if value > 0]
    said = f"Light {min(ends):.1f} to {max(ends):.1f} hours"
    if dormancy is not None:
        said += f"; rest from {dormancy.begins:%-d %B %Y} to {dormancy.ends:%-d %B %Y}"
    chart = mark_safe(
        write(strip(year, hours, dormancy, today, SHORT, f"{animal.name}, {year}", said))
    )  # our own writer escapes
    resting = _resting_words(profile, dormancy, units)
    lights, heats = _lamps(enclosure)
    warmth = _warmth(animal, profile, year, lat, units)
    less = _lean(animal, profile, year, lat)
    return YearStrip(
        animal,
        profile.name,
        enclosure,
        chart,
        middles,
        lights,
        heats,
        warmth,
        less,
        profile.season.breeding,
        resting,
    )


def _resting_words(profile: Profile, dormancy: Any, units: Units) -> str:
    """Say when it rests."""
    if dormancy is not None:
        cold = " to ".join(
            show(end, Kind.TEMPERATURE, units, digits=0, unit=n == 1)
            for n, end in enumerate(dormancy.temp_c)
        )
        resting = (
            f"Last meal {dormancy.last_meal:%-d %b}, rest {dormancy.begins:%-d %b} to"
            f" {dormancy.ends:%-d %b} at"
            f" {cold}, first meal {dormancy.first_meal:%-d %b %Y}."
        )
    else:
        words = {
            "none": "This species does not brumate.",
            "possible": "This species may brumate; no brumation is planned.",
            "usual": "This species usually brumates; no brumation is planned.",
        }
        resting = words.get(
            profile.season.dormancy, "This species brumates every winter; no brumation is planned."
        )
    return resting


def _stage(animal: Animal, profile: Profile, day: dt.date) -> str:
    lengths = cast(dict[LengthKind, float], animal.length_mm())  # its model knows no other kinds
    return stage_of(
        profile,
        today=day,
        born_on=animal.born_on,
        mass_g=animal.mass_g(),
        length_mm=lengths or None,
    ).slug


def _called(kind: str) -> str:
    known = UV_LAMPS.get(kind) or HEATERS.get(kind)
    return known.name if known is not None else "light bar"


def _lamps(enclosure: Enclosure) -> tuple[str, str]:
    """Lamps of an enclosure by the timer that they go by."""
    kinds = [
        str(item["kind"]) for item in (enclosure.head.spec["items"] if enclosure.head else [])
    ]
    named = [
        ", ".join(dict.fromkeys(_called(kind) for kind in kinds if kind in group))
        for group in (BY_LIGHT, BY_HEAT)
    ]
    return named[0], named[1]


def _warmth(
    animal: Animal, profile: Profile, year: int, lat: float, units: Units
) -> tuple[tuple[str, tuple[str, ...]], ...]:
    """Its target ranges through the year, month by month."""
    found = warmth_by_month(
        profile, _stage(animal, profile, dt.date(year, 6, 30)), year, lat, animal.approaches
    )
    return tuple(
        (
            NEEDS[one.need].name.lower()
            + (", night" if NEEDS[one.need].phase == "night" and "night" not in one.need else ""),
            tuple(
                show(value, Kind.TEMPERATURE, units, digits=0, unit=False) for value in one.months
            ),
        )
        for one in found
    )


def _lean(animal: Animal, profile: Profile, year: int, lat: float) -> str:
    """When it is fed less often."""
    middle = dt.date(year, 12 if lat >= 0 else 6, 21)
    if lat == 0 or not lean(profile, _stage(animal, profile, middle), middle, lat):
        return ""
    first = middle - dt.timedelta(days=LEAN_DAYS)
    last = middle + dt.timedelta(days=LEAN_DAYS)
    return f"Fed less often from {first:%-d %B} to {last:%-d %B}."


def _lit(day: dt.date, dormancy: Dormancy | None, usual: float) -> float:
    """Hours of light on a day, less where a rest makes them so."""
    if dormancy is None:
        return usual
    set_to = [step.hours for step in dormancy.steps if step.hours is not None and step.on <= day]
    begun = min((step.on for step in dormancy.steps if step.hours is not None), default=day)
    over = max((step.on for step in dormancy.steps if step.hours is not None), default=day)
    return min(set_to[-1], usual) if begun <= day < over and set_to else usual


def years_of(request: KeeperRequest, way: Way, year: int, asked_room: str = "") -> list[RoomYear]:
    """Every animal that lives in an enclosure, by room, or in one room only; a constant number of
    queries.
    """
    enclosures = [
        one
        for one in Enclosure.objects.of(request.household).for_round().order_by(*WALK)
        if one.present
    ]
    animals = [occupancy.animal_id for enclosure in enclosures for occupancy in enclosure.present]
    dormancies: dict[int, Dormancy] = {}
    near = (dt.date(year - 1, 6, 1), dt.date(year + 1, 2, 28))
    for kept in (
        Brumation.objects.going()
        .filter(animal__in=animals, begins_on__range=near)
        .select_related("animal")
        .order_by("begins_on")
    ):
        made = kept.plan()
        if made.first_meal >= dt.date(year, 1, 1) and made.last_meal <= dt.date(year, 12, 31):
            dormancies[kept.animal_id] = made
    found: dict[int, list[YearStrip]] = {}
    failed: dict[int, list[tuple[Animal, Failed]]] = {}
    rooms: dict[int, Room] = {}
    for enclosure in enclosures:
        if asked_room and str(enclosure.room_id) != asked_room:
            continue
        rooms[enclosure.room_id] = enclosure.room
        today = enclosure.room.day_of(now())
        for occupancy in enclosure.present:
            own = dormancies.get(occupancy.animal_id)
            animal = occupancy.animal
            make = partial(_strip, animal, enclosure, way, year, today, own, request.units)
            drawn = attempt(make, "animal", animal.pk)
            if isinstance(drawn, Failed):
                failed.setdefault(enclosure.room_id, []).append((animal, drawn))
            else:
                found.setdefault(enclosure.room_id, []).append(drawn)
    return [
        RoomYear(room, tuple(found.get(pk, ())), _clocks(room, year), tuple(failed.get(pk, ())))
        for pk, room in rooms.items()
    ]


def _clocks(room: Room, year: int) -> tuple[str, ...]:
    return tuple(
        f"{day:%-d %B}: clocks go {'forward' if hours > 0 else 'back'} by {abs(hours):g} h"
        for day, hours in clock_changes(room.time_zone, year)
    )


@require_safe
def overview(request: KeeperRequest) -> HttpResponse:
    """The year of every animal."""
    asked = request.GET.get("light", "own")
    way = cast(Way, asked if asked in WAYS else "own")
    if request.household is None:
        raise Http404
    this = request.household.day_of(now()).year
    text = request.GET.get("year", "")
    year = int(text) if text.isdecimal() and this - 5 <= int(text[:6]) <= this + 5 else this
    room = request.GET.get("room", "")[:12]
    rooms = years_of(request, way, year, room)
    context = {
        "rooms": rooms,
        "room": room,
        "choices": request.household.rooms.all(),
        "ways": WAYS.items(),
        "way": way,
        "year": year,
        "this": this,
        "earlier": year - 1,
        "later": year + 1,
        "months": SHORT,
    }
    return render(request, "seasons/overview.html", context)
