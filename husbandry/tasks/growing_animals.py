"""Who lives in an enclosure some weeks from now: the same animals, grown along their species’
curve. For forecasts of food, not for plans.
"""

import datetime as dt

from husbandry.documents.animal import Animal
from husbandry.documents.request import Request
from husbandry.growth.expected import expected
from husbandry.species.profile import Profile
from husbandry.species.stages import DAYS_PER_MONTH


def grown(request: Request, days: int) -> Request:
    """The same request so many days later.

    An animal keeps its place beside its species’ usual curve; one that nobody weighed only grows
    older.
    """
    profiles = request.profiles
    animals = tuple(_grown(one, profiles[one.species], days) for one in request.animals)
    return request.model_copy(
        update={"now": request.now + dt.timedelta(days=days), "animals": animals}
    )


def _grown(animal: Animal, profile: Profile, days: int) -> Animal:
    kind = expected(profile, animal.sex)
    curve = kind.usual
    if animal.mass_g is None or animal.mass_g >= curve.grown_g:
        return animal
    mass = curve.mass_g(curve.age_of(animal.mass_g) + days / DAYS_PER_MONTH)
    longer = kind.length_mm(mass) / kind.length_mm(animal.mass_g)
    lengths = {name: length * longer for name, length in animal.length_mm.items()}
    return animal.model_copy(update={"mass_g": mass, "length_mm": lengths})
