"""Feeder animals and plants by size, with what they hold."""

import math
from dataclasses import dataclass
from types import MappingProxyType
from typing import Literal, cast

from husbandry.derivation import Source
from husbandry.tables import number, rows

Role = Literal["staple", "sometimes", "treat", ""]
"""Of insects: meals are laid out of staples; others take their turn; a treat is fat (common
practice).
"""


@dataclass(frozen=True)
class Feeder:
    """One kind and size of food, as fed."""

    kind: str
    name: str
    food: str
    role: Role
    mass_g: float
    width_mm: float | None
    length_mm: float | None
    calcium_mg_100g: float | None
    """None where no table has it."""
    phosphorus_mg_100g: float | None
    kcal_100g: float
    source: Source


def _load() -> dict[str, Feeder]:
    return {
        row["kind"]: Feeder(
            kind=row["kind"],
            name=row["name"],
            food=row["food"],
            role=cast(Role, row["role"]),
            mass_g=float(row["mass_g"]),
            width_mm=number(row["width_mm"]),
            length_mm=number(row["length_mm"]),
            calcium_mg_100g=number(row["calcium_mg_100g"]),
            phosphorus_mg_100g=number(row["phosphorus_mg_100g"]),
            kcal_100g=float(row["kcal_100g"]),
            source=Source(kind="from memory", text=row["source"]),
        )
        for row in rows("husbandry.feeding", "feeders.csv")
    }


FEEDERS = MappingProxyType(_load())
BY_NAME = MappingProxyType({feeder.name: feeder for feeder in FEEDERS.values()})


def widest(food: str, gap_mm: float, most_g: float = math.inf) -> Feeder:
    """The heaviest animal of that food no wider than the gap between the eyes and no heavier than
    the meal; else the smallest of all.
    """
    animals = sorted(
        (f for f in FEEDERS.values() if f.food == food and f.role in {"", "staple"}),
        key=lambda f: f.mass_g,
    )
    fitting = [
        f
        for f in animals
        if f.width_mm is not None and f.width_mm <= gap_mm and f.mass_g <= most_g
    ]
    return fitting[-1] if fitting else animals[0]


def widest_insect(eye_gap_mm: float) -> Feeder:
    """The heaviest insect no wider than the gap between the eyes."""
    return widest("insects", eye_gap_mm)


def nearest(food: str, grams: float) -> Feeder:
    """The one of that food that is nearest to a mass."""
    return min(
        (f for f in FEEDERS.values() if f.food == food),
        key=lambda f: abs(math.log(f.mass_g / grams)),
    )


def turns(planned: Feeder, gap_mm: float) -> tuple[Feeder, ...]:
    """Other kinds that can take a turn in a meal of `planned`: no wider than the gap between the
    eyes, near it in mass, of each kind the nearest.
    """
    kin: dict[str, Feeder] = {}
    for one in FEEDERS.values():
        if (
            one.food != planned.food
            or one.width_mm is None
            or one.width_mm > gap_mm
            or one.kind == planned.kind
        ):
            continue
        if not planned.mass_g / 12 <= one.mass_g <= planned.mass_g * 4:
            continue
        stem = one.kind.rsplit("_", 1)[0] if one.kind.rsplit("_", 1)[-1] in SIZES else one.kind
        if stem == planned.kind.rsplit("_", 1)[0]:
            continue
        known = kin.get(stem)
        if known is None or abs(math.log(one.mass_g / planned.mass_g)) < abs(
            math.log(known.mass_g / planned.mass_g)
        ):
            kin[stem] = one
    return tuple(sorted(kin.values(), key=lambda f: (f.role == "treat", f.name)))


SIZES = frozenset({"pinhead", "small", "medium", "large", "adult"})
