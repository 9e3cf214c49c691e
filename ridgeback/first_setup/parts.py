"""What a suggested setup consists of, in words."""

from collections import Counter
from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Any

from husbandry.documents.request import Request
from husbandry.items.furnishings import Hide
from husbandry.items.union import Item
from husbandry.quantity import Kind, Units, show
from husbandry.setups.existing_enclosure import is_fitting
from husbandry.setups.owned_use import OwnedUse, WhyNot
from husbandry.species.needs import NEEDS, in_sentence
from ridgeback.enclosures.fitting_words import WETNESS, fitting_words, vents_words


@dataclass(frozen=True)
class PartView:
    """Something that a setup takes, or that is done with it."""

    count: int
    name: str
    how: str = ""
    """Its place, its hours and what its thermostat holds."""


def parts_of(request: Request, units: Units) -> list[PartView]:
    """Every lamp, heater and fogger with its place and its thermostat; then furniture and care."""
    alike = Counter(fitting_words(item, units) for item in request.items if is_fitting(item))
    return [
        *(PartView(count, words.what, words.how) for words, count in alike.items()),
        *_furniture(request),
        *_care(request, units),
    ]


def _furniture(request: Request) -> Iterator[PartView]:
    hides = [item for item in request.items if isinstance(item, Hide)]
    if hides:
        moist = any(hide.moist for hide in hides)
        name = "hides" if len(hides) > 1 else "hide"
        yield PartView(len(hides), name, "one of them with wet moss" if moist else "")
    basks = request.profiles[request.animals[0].species].basks
    others = [
        item.name if basks else item.name.replace("basking wood", "flat piece of wood")
        for item in request.items
        if _stands(item)
    ]
    for name, count in Counter(others).items():
        yield PartView(count, name)


def _stands(item: Item) -> bool:
    return bool(item.is_body and item.sides_m and not isinstance(item, Hide))


def _care(request: Request, units: Units) -> Iterator[PartView]:
    spec = request.enclosure
    if spec.covered:
        yield PartView(1, "sides covered from outside", ", ".join(spec.covered))
    if spec.lid.mesh and spec.lid.mesh_share < 1:
        yield PartView(1, "lid", f"{spec.lid.mesh_share:.0%} of it left as open mesh")
    if vents := vents_words(spec.vents, units):
        yield PartView(1, "vents", f"{vents} in the sides")
    if spec.wetting is None:
        return
    yield PartView(1, "substrate", f"kept {WETNESS[spec.wetting.substrate]}")
    if spec.wetting.mistings:
        times = ", ".join(one.at for one in spec.wetting.mistings)
        each = show(spec.wetting.mistings[0].ml / 1000, Kind.VOLUME, units, small=True)
        yield PartView(1, "misting", f"at {times}, {each} each time")


WHY_NOT: dict[WhyNot, str] = {
    "no ultraviolet": "not used: it is kept without an ultraviolet lamp",
    "too long": "not used: it is longer than this enclosure",
    "no place": "not used: there is no place in this enclosure where it suits",
    "not needed": "not used: everything is in range without it",
    "misses": "not used: no setup with it was found in which everything is in range",
}


def owned_words(use: OwnedUse) -> tuple[str, bool, str]:
    """What the keeper has, whether it is used, and why not."""
    if use.used:
        return use.fitting.words, True, "used"
    if use.key is not None:
        where = "too low" if use.direction == "below" else "too high"
        name = in_sentence(NEEDS[use.key].name)
        return use.fitting.words, False, f"not used: with it {name} would be {where}"
    if use.danger == "thermostat failed on":
        words = "not used: if its thermostat failed on it would pass the animal’s limit"
        return use.fitting.words, False, words
    return use.fitting.words, False, WHY_NOT[use.why]


def owned_of(suggestion: Mapping[str, Any]) -> list[tuple[str, bool, str]]:
    """What a kept suggestion says of what the keeper has; nothing of what is not of that shape."""
    kept = suggestion.get("owned", [])
    if not isinstance(kept, list):
        return []
    whole = [row for row in kept if isinstance(row, list) and len(row) == 3]
    return [(str(words), row_used is True, str(why)) for words, row_used, why in whole]
