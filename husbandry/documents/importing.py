"""What a request from outside must satisfy beyond its own soundness, and what to ask about it.

A request is checked against itself by `request.from_data`. One that becomes records of a household
is checked against the present as well, and whatever is unlikely in it is asked about, as the forms
ask when somebody types the same value.
"""

import datetime as dt

from husbandry import bounds
from husbandry.documents.animal import Animal
from husbandry.documents.request import Request
from husbandry.errors import Problem
from husbandry.feeding.condition import TREND_DAYS
from husbandry.growth.plausibility import question_length, question_mass
from husbandry.quantity import METRIC, PLAUSIBLE, Kind, QuantityEntry, Units, question
from husbandry.species.needs import NEEDS
from husbandry.species.profile import Profile


def present_problems(request: Request, now: dt.datetime) -> list[Problem]:
    """Find what cannot have been recorded by now.

    Parameters
    ----------
    now : datetime
        The present moment, not the request's own.
    """
    found = []
    if request.now > now + bounds.CLOCK_SLACK:
        found.append(Problem("/now", f"{request.now.date()} is still to come"))
    today = now.astimezone(request.now.tzinfo).date()
    for n, animal in enumerate(request.animals):
        days = animal.recorded_days | ({"born_on": animal.born_on} if animal.born_on else {})
        found += [
            Problem(f"/animals/{n}/{name}", f"{day} is still to come")
            for name, day in days.items()
            if day > today + bounds.CLOCK_SLACK
        ]
        before_g = mass_before_trend(animal)
        if before_g is not None and not bounds.MASS_G[0] <= before_g <= bounds.MASS_G[1]:
            reason = f"it would have weighed {before_g:.3g} g {TREND_DAYS} days before"
            found.append(Problem(f"/animals/{n}/trend_pct", reason))
    found += [
        Problem(f"/readings/{n}/at", f"{reading.at.date()} is still to come")
        for n, reading in enumerate(request.readings)
        if reading.at > now + bounds.CLOCK_SLACK
    ]
    return found


def mass_before_trend(animal: Animal) -> float | None:
    """Find what an animal weighed before the change that its request tells of [g]."""
    if animal.mass_g is None or animal.trend_pct is None or animal.trend_pct <= -100:
        return None
    return animal.mass_g / (1 + animal.trend_pct / 100)


def questions(request: Request, units: Units = METRIC) -> list[Problem]:
    """Find what is possible and unlikely: each reason is a question to the person who imports."""
    found = []
    for name in ("day_c", "night_c", "summer_max_c", "winter_day_c"):
        value = getattr(request.room, name)
        if value is not None:
            found += _ask(f"/room/{name}", value, Kind.TEMPERATURE, "room", units)
    for n, reading in enumerate(request.readings):
        kind = NEEDS[reading.need]
        found += _ask(f"/readings/{n}/value", reading.value, kind.kind, kind.plausible, units)
    for n, animal in enumerate(request.animals):
        profile = request.profiles[animal.species]
        found += _body_questions(f"/animals/{n}", animal, profile, request.today, units)
    return found


def _entry(value: float, kind: Kind, unit: str) -> QuantityEntry:
    return QuantityEntry(
        value=value, kind=kind, typed_value=value, typed_unit=unit, unit_assumed=False
    )


def _ask(pointer: str, value: float, kind: Kind, plausible: str, units: Units) -> list[Problem]:
    unit = {Kind.TEMPERATURE: "°C", Kind.HUMIDITY: "%"}.get(kind, "")
    doubt = question(_entry(value, kind, unit), PLAUSIBLE[plausible], units=units, what=plausible)
    return [Problem(pointer, doubt.sentence)] if doubt else []


def _body_questions(
    pointer: str, animal: Animal, profile: Profile, today: dt.date, units: Units
) -> list[Problem]:
    """Ask about a body as the forms do: its mass beside its length and age, its length."""
    found = []
    length = animal.length_mm.get(profile.body.length_kind)
    if animal.mass_g is not None:
        doubt = question_mass(
            _entry(animal.mass_g, Kind.MASS, "g"),
            profile,
            animal.sex,
            on=today,
            units=units,
            length_mm=length,
            born_on=animal.born_on,
        )
        found += [Problem(f"{pointer}/mass_g", doubt.sentence)] if doubt else []
    if length is not None:
        entry = _entry(length / 1000, Kind.LENGTH, "m")
        doubt = question_length(entry, profile, animal.sex, on=today, units=units)
        place = f"{pointer}/length_mm/{profile.body.length_kind}"
        found += [Problem(place, doubt.sentence)] if doubt else []
    return found
