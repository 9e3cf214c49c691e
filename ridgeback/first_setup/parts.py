"""What a suggested setup consists of, in words."""

from collections import Counter
from collections.abc import Iterator
from dataclasses import dataclass

from husbandry.documents.request import Request
from husbandry.items.furnishings import Hide
from husbandry.items.union import Item
from husbandry.quantity import Kind, Units, show
from husbandry.setups.existing_enclosure import is_fitting
from ridgeback.enclosures.fitting_words import WETNESS, fitting_words


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
    if spec.wetting is None:
        return
    yield PartView(1, "substrate", f"kept {WETNESS[spec.wetting.substrate]}")
    if spec.wetting.mistings:
        times = ", ".join(one.at for one in spec.wetting.mistings)
        each = show(spec.wetting.mistings[0].ml / 1000, Kind.VOLUME, units, small=True)
        yield PartView(1, "misting", f"at {times}, {each} each time")
