"""What a suggested setup consists of, in words."""

from collections.abc import Iterator

from husbandry.documents.request import Request
from husbandry.enclosure.equipment import HEATERS, UV_LAMPS
from husbandry.items.foggers import Fogger
from husbandry.items.furnishings import Hide
from husbandry.items.union import Item
from husbandry.quantity import Kind, Units, show


def parts_of(request: Request, units: Units) -> list[str]:
    """Every lamp, heater and fogger with its place and its thermostat; then furniture and care."""
    lamps = [item for item in request.items if item.kind in HEATERS or item.kind in UV_LAMPS]
    foggers = [item for item in request.items if isinstance(item, Fogger)]
    return [
        *(_lamp(item, units) for item in lamps),
        *(f"fogger, {item.on} to {item.off}" for item in foggers),
        *_furniture(request),
        *_care(request, units),
    ]


def _lamp(item: Item, units: Units) -> str:
    name = UV_LAMPS[item.kind].name if item.kind in UV_LAMPS else HEATERS[item.kind].name
    said = [f"{name}, {item.watts:g} W"]
    if item.has_reflector:
        said.append("with a reflector")
    if not item.sides_m:
        high = show(item.at_m[2], Kind.LENGTH, units)
        said.append(f"{high} above the floor{', on the mesh' if item.hangs_above_lid else ''}")
    if item.timer:
        said.append(f"{item.timer[0]} to {item.timer[1]}")
    if item.held is not None:
        held = f"thermostat at {show(item.held.set_c, Kind.TEMPERATURE, units)}"
        if item.held.night_set_c is not None:
            held += f", {show(item.held.night_set_c, Kind.TEMPERATURE, units)} at night"
        if item.held.cut_out_c is not None:
            held += f", cut-out at {show(item.held.cut_out_c, Kind.TEMPERATURE, units)}"
        said.append(held)
    return ", ".join(said)


def _furniture(request: Request) -> Iterator[str]:
    hides = [item for item in request.items if isinstance(item, Hide)]
    if hides:
        moist = sum(hide.moist for hide in hides)
        many = f"{len(hides)} hides" if len(hides) > 1 else "a hide"
        yield f"{many}{', one with wet moss' if moist else ''}"
    for item in request.items:
        if item.is_body and item.sides_m and not isinstance(item, Hide):
            yield item.name


def _care(request: Request, units: Units) -> Iterator[str]:
    spec = request.enclosure
    if spec.covered:
        yield f"cover from outside: {', '.join(spec.covered)}"
    if spec.lid.mesh and spec.lid.mesh_share < 1:
        yield f"{spec.lid.mesh_share:.0%} of the lid left as open mesh"
    if spec.wetting is None:
        return
    yield f"substrate kept {spec.wetting.substrate}"
    if spec.wetting.mistings:
        times = ", ".join(one.at for one in spec.wetting.mistings)
        each = show(spec.wetting.mistings[0].ml / 1000, Kind.VOLUME, units, small=True)
        yield f"misted at {times}, {each} each time"
