"""Feeder animals and plants by size, with what they hold."""

import math
from dataclasses import dataclass
from types import MappingProxyType

from husbandry.tables import number, rows
from husbandry.worked import Source


@dataclass(frozen=True)
class Feeder:
    """One kind and size of food, as fed."""

    kind: str
    name: str
    food: str
    mass_g: float
    width_mm: float | None
    length_mm: float | None
    calcium_mg_100g: float
    phosphorus_mg_100g: float
    kcal_100g: float
    source: Source


def _load() -> dict[str, Feeder]:
    return {
        row["kind"]: Feeder(
            kind=row["kind"],
            name=row["name"],
            food=row["food"],
            mass_g=float(row["mass_g"]),
            width_mm=number(row["width_mm"]),
            length_mm=number(row["length_mm"]),
            calcium_mg_100g=float(row["calcium_mg_100g"]),
            phosphorus_mg_100g=float(row["phosphorus_mg_100g"]),
            kcal_100g=float(row["kcal_100g"]),
            source=Source(kind="from memory", text=row["source"]),
        )
        for row in rows("husbandry.diet", "feeders.csv")
    }


FEEDERS = MappingProxyType(_load())


def widest(food: str, gap_mm: float, most_g: float = math.inf) -> Feeder:
    """The heaviest animal of that food no wider than the gap between the eyes and no heavier than the meal; else the smallest of all."""
    animals = sorted((f for f in FEEDERS.values() if f.food == food), key=lambda f: f.mass_g)
    fitting = [f for f in animals if f.width_mm is not None and f.width_mm <= gap_mm and f.mass_g <= most_g]
    return fitting[-1] if fitting else animals[0]


def widest_insect(eye_gap_mm: float) -> Feeder:
    """The heaviest insect no wider than the gap between the eyes."""
    return widest("insects", eye_gap_mm)


def nearest(food: str, grams: float) -> Feeder:
    """The one of that food that is nearest to a mass."""
    return min((f for f in FEEDERS.values() if f.food == food), key=lambda f: abs(math.log(f.mass_g / grams)))
