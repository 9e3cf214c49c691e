"""What a suggested setup consists of, in words."""

from collections import Counter
from collections.abc import Iterator
from dataclasses import dataclass

from husbandry.documents.request import Request
from husbandry.enclosure.equipment import HEATERS, UV_LAMPS
from husbandry.items.foggers import Fogger
from husbandry.items.furnishings import Hide
from husbandry.items.union import Item
from husbandry.quantity import Kind, Units, show
from husbandry.species.needs import NeedKey
from ridgeback.enclosures.moisture_form import SUBSTRATES

WETNESS = dict(SUBSTRATES)


@dataclass(frozen=True)
class PartView:
    """Something that a setup takes, or that is done with it."""

    count: int
    name: str
    how: str = ""
    """Its place, its hours and what its thermostat holds."""


def parts_of(request: Request, units: Units) -> list[PartView]:
    """Every lamp, heater and fogger with its place and its thermostat; then furniture and care."""
    lamps = [item for item in request.items if item.kind in HEATERS or item.kind in UV_LAMPS]
    alike = Counter(_lamp(item, units) for item in lamps)
    foggers = [item for item in request.items if isinstance(item, Fogger)]
    return [
        *(PartView(count, name, how) for (name, how), count in alike.items()),
        *(PartView(1, "fogger", _hours(item)) for item in foggers),
        *_furniture(request),
        *_care(request, units),
    ]


def _lamp(item: Item, units: Units) -> tuple[str, str]:
    name = UV_LAMPS[item.kind].name if item.kind in UV_LAMPS else HEATERS[item.kind].name
    said = []
    if item.has_reflector:
        said.append("with a reflector")
    if not item.sides_m:
        high = show(item.at_m[2], Kind.LENGTH, units)
        said.append(f"{high} above the floor{', on the mesh' if item.hangs_above_lid else ''}")
    if item.timer:
        said.append(f"on from {item.timer[0]} to {item.timer[1]}")
    if item.held is not None:
        held = f"thermostat at {show(item.held.set_c, Kind.TEMPERATURE, units)}"
        if item.held.night_set_c is not None:
            held += f", {show(item.held.night_set_c, Kind.TEMPERATURE, units)} at night"
        if item.held.cut_out_c is not None:
            held += f", cut-out at {show(item.held.cut_out_c, Kind.TEMPERATURE, units)}"
        said.append(held)
    return f"{name}, {item.watts:g} W", ", ".join(said)


def _hours(fogger: Fogger) -> str:
    whole = (fogger.on, fogger.off) in {("00:00", "23:59"), ("", ""), (None, None)}
    return "all day and night" if whole else f"on from {fogger.on} to {fogger.off}"


def _furniture(request: Request) -> Iterator[PartView]:
    hides = [item for item in request.items if isinstance(item, Hide)]
    if hides:
        moist = any(hide.moist for hide in hides)
        name = "hides" if len(hides) > 1 else "hide"
        yield PartView(len(hides), name, "one of them with wet moss" if moist else "")
    profile = request.profiles[request.animals[0].species]
    basks = any(need.need is NeedKey.SURFACE_DAY for need in profile.needs)
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
