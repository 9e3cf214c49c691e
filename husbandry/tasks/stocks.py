"""What a keeper really has in stock: things that stand in for a food of the guide, mixes that are
made of several, and the room they take in a freezer. Method: docs/methods/supplies.md.
"""

from collections.abc import Iterable, Mapping, Sequence
from typing import NamedTuple

from husbandry.derivation import Derivation, Source, named_value
from husbandry.errors import EntryError
from husbandry.feeding.feeders import BY_NAME
from husbandry.tasks.supplies import Need, counted

PACKED_KG_L = 0.5
"""Of whole prey in bags in a freezer: bodies as heavy as water, and gaps between them (common
practice) [kg/l].
"""
WATER_MOST = 0.9
"""Of a mix (design choice) [1]."""
PARTS_MOST = 12
"""Of a mix (design choice)."""


class Lot(NamedTuple):
    """Something in stock that a meal may be taken from."""

    key: int
    name: str
    amount: float
    """[pieces or g]"""
    stands_for: str = ""
    """A food of the guide as which it is fed; empty for that food itself."""
    piece_g: float | None = None
    """Of one piece, where it differs from the guide's [g]."""
    is_weighed: bool = False
    """Its amount is a mass, though the guide does not know it."""

    @property
    def food(self) -> str:
        """The food of the guide that it is fed as; its own name for anything else."""
        return self.stands_for or self.name


class FoodMix(NamedTuple):
    """A food that is put together: so much of each part, and of water, by mass."""

    name: str
    stands_for: str
    parts: tuple[tuple[str, float], ...]
    """Each part and its share of the finished mix [1]."""
    water: float = 0.0
    """Share of water [1]."""


def mix_of(name: str, stands_for: str, grams: Mapping[str, float], water_g: float) -> FoodMix:
    """A mix by what is put together [g].

    Raises
    ------
    EntryError
        Where it stands for nothing that is weighed, for itself, or is made of nothing.
    """
    total = sum(grams.values()) + water_g

    if not weighed(stands_for):
        raise EntryError("A mix is fed as a food that is weighed: leaves, paste, pellets, fruit.")
    if not grams or min(grams.values()) <= 0 or water_g < 0:
        raise EntryError("Each ingredient needs a weight.")
    if len(grams) > PARTS_MOST:
        raise EntryError(f"A mix has {PARTS_MOST} ingredients at most.")
    if stands_for in grams and len(grams) == 1 and not water_g:
        raise EntryError("That is the food itself, not a mix.")
    if water_g / total > WATER_MOST:
        raise EntryError("More than nine tenths of it would be water.")

    shares = tuple((part, part_g / total) for part, part_g in grams.items())
    return FoodMix(name, stands_for, shares, water_g / total)


def put_together(mix: FoodMix, grams: float) -> tuple[tuple[str, float], ...]:
    """How much of each part, water last, makes so much of a mix [g]."""
    parts = [(name, share * grams) for name, share in mix.parts]
    return (*parts, ("water", mix.water * grams)) if mix.water else tuple(parts)


def with_mixes(
    wants: Mapping[str, float], mixes: Iterable[FoodMix], made: Mapping[str, float] | None = None
) -> dict[str, float]:
    """What is wanted, with each food that is mixed as its parts [pieces or g].

    Parameters
    ----------
    made : mapping, optional
        How much of each mixed food is there ready made: that goes first [g].
    """
    by_food = {mix.stands_for: mix for mix in mixes}
    found: dict[str, float] = {}

    for name, amount in wants.items():
        mix = by_food.get(name)
        ready = min((made or {}).get(name, 0.0), amount) if mix is not None else amount
        parts = [(name, ready)] if ready else []

        if mix is not None:
            rest = amount - ready
            parts += [(part, share * rest) for part, share in mix.parts]

        for part, part_amount in parts:
            found[part] = found.get(part, 0.0) + part_amount

    return found


def needs_with_mixes(
    needs: Iterable[Need], mixes: Iterable[FoodMix], lots: Iterable[Lot] = ()
) -> list[Need]:
    """The same of meals to come: what is there ready made is eaten by the first of them."""
    mixed = list(mixes)
    there = list(lots)
    made = {mix.stands_for: stocked(there, mix.stands_for) for mix in mixed}
    found: dict[tuple[str, str], Need] = {}

    for need in sorted(needs, key=lambda one: one.day):
        for name, amount in with_mixes({need.name: need.amount}, mixed, made).items():
            key = (need.day.isoformat(), name)
            before = found[key].amount if key in found else 0.0
            found[key] = Need(need.day, name, before + amount)
        if need.name in made:
            made[need.name] = max(made[need.name] - need.amount, 0.0)

    return list(found.values())


def taken_from(
    lots: Sequence[Lot], food: str, amount: float
) -> tuple[list[tuple[int, float]], float]:
    """From which lots an amount of a food is taken, and what is short [pieces or g].

    The food of that very name first, then what stands in for it, in the order of `lots`.
    """
    mine = [lot for lot in lots if lot.food == food]
    mine.sort(key=lambda lot: lot.name != food)
    left = amount
    taken = []

    for lot in mine:
        gone = min(lot.amount, left)
        if gone > 0:
            taken.append((lot.key, gone))
            left -= gone

    return taken, left


def stocked(lots: Iterable[Lot], food: str) -> float:
    """How much of a food there is, with what stands in for it [pieces or g]."""
    return sum(lot.amount for lot in lots if lot.food == food)


def mass_g(lot: Lot) -> float | None:
    """What a lot weighs [g]; None where nobody knows."""
    feeder = BY_NAME.get(lot.food)

    if weighed(lot.food) or lot.is_weighed:
        return lot.amount
    piece = lot.piece_g if lot.piece_g is not None else feeder.mass_g if feeder else None
    return lot.amount * piece if piece is not None else None


def freezer_litres(lots: Iterable[Lot]) -> Derivation:
    """Room that frozen food takes; what nobody knows the weight of is left out [l]."""
    known = [mass for lot in lots if (mass := mass_g(lot)) is not None]
    total_g = sum(known)

    return Derivation(
        value=total_g / 1000 / PACKED_KG_L,
        unit="l",
        rule="Mass over what a litre of bags holds.",
        inputs=(
            named_value("mass", total_g, "g"),
            named_value("a litre holds", 1000 * PACKED_KG_L, "g"),
        ),
        sources=(Source(kind="common practice", text="bodies as heavy as water, in bags"),),
    )


def weighed(food: str) -> bool:
    """Whether a food of the guide is weighed rather than counted."""
    return food in BY_NAME and not counted(food)


def price_of(amount: float, price: float | None, *, by_mass: bool) -> float | None:
    """What an amount costs: `price` is of a piece, or of 100 g of what is weighed [the same money]."""
    if price is None:
        return None
    return amount * price / 100 if by_mass else amount * price
