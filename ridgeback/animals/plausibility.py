"""A weight questioned beside what the animal's book says, wherever it is typed."""

import datetime as dt

from django.core.exceptions import ValidationError

from husbandry.growth.plausibility import BESIDE_LAST, question_mass
from husbandry.quantity import Doubt, QuantityEntry, Units
from husbandry.species.profile import Profile
from ridgeback.animals.models import Animal

NEAR_DAYS = 60
"""A length measured so many days before or after goes with a weight (design choice) [days]."""


def body_mm(animal: Animal, profile: Profile) -> list[tuple[dt.date, float]]:
    """Its lengths of the kind that its body is counted in, with their days [mm]."""
    return [
        (one.on, one.length_mm)
        for one in animal.lengths.all()
        if one.kind == profile.body.length_kind
    ]


def doubt_of_mass(
    entry: QuantityEntry,
    animal: Animal,
    profile: Profile,
    *,
    on: dt.date,
    units: Units,
    beside: float = BESIDE_LAST,
) -> Doubt | None:
    """What speaks against a weight of that day; None where nothing does.

    Parameters
    ----------
    beside : float
        So many times the last weight is asked about [1].
    """
    before = [(one.on, one.mass_g) for one in animal.weighings.all() if one.on <= on]
    last = max(before, key=lambda pair: pair[0], default=None)
    near = [pair for pair in body_mm(animal, profile) if abs((on - pair[0]).days) <= NEAR_DAYS]
    length = max(near, key=lambda pair: pair[0], default=None)
    return question_mass(
        entry,
        profile,
        animal.sex,
        on=on,
        units=units,
        last=last,
        length_mm=length[1] if length else None,
        born_on=animal.born_on,
        beside=beside,
    )


def day_of_life(day: dt.date, animal: Animal, today: dt.date) -> dt.date:
    """A day that is past or today, and not before its birth.

    Raises ValidationError with the reason.
    """
    if day > today:
        raise ValidationError("This day is still to come.")
    if animal.born_on and day < animal.born_on:
        raise ValidationError(f"It was born on {animal.born_on:%-d %B %Y}: this day is before.")
    return day
