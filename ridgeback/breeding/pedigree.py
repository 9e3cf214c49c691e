"""Whose young an animal is, as far as its household's clutches tell."""

import datetime as dt
from dataclasses import dataclass

from ridgeback.animals.models import Animal
from ridgeback.breeding.models import Hatchling

GENERATIONS = 4
"""Parents, and so on to the great-great-grandparents (design choice)."""


@dataclass(frozen=True)
class Ancestor:
    """One line of a pedigree."""

    relation: str
    """Such as “mother”, “mother’s father”."""
    animal: Animal
    depth: int


@dataclass(frozen=True)
class Pedigree:
    """Where an animal that was bred here comes from."""

    hatched_on: dt.date | None
    laid_on: dt.date
    set_c: float | None
    ancestors: tuple[Ancestor, ...]


def pedigree_of(animal: Animal) -> Pedigree | None:
    """Follow the clutches back; None for one that came of no clutch of the household."""
    came = _came_of(animal)
    if came is None:
        return None
    clutch = came.clutch
    ancestors = tuple(_before(animal, "", 1))
    return Pedigree(animal.born_on, clutch.laid_on, clutch.set_c, ancestors)


def _came_of(animal: Animal) -> Hatchling | None:
    rows = Hatchling.objects.filter(animal=animal, clutch__household=animal.household_id)
    return rows.select_related("clutch__mother", "clutch__father").first()


def _before(animal: Animal, way: str, depth: int) -> list[Ancestor]:
    """Parents of an animal, each followed by its own."""
    came = _came_of(animal) if depth <= GENERATIONS else None
    if came is None:
        return []
    found = []
    for role, parent in (("mother", came.clutch.mother), ("father", came.clutch.father)):
        if parent is not None:
            relation = f"{way}’s {role}" if way else role
            found.append(Ancestor(relation, parent, depth))
            found += _before(parent, relation, depth + 1)
    return found
