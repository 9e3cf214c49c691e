"""What things in an enclosure are called."""

from husbandry.box.equipment import HEATERS, UV_LAMPS
from husbandry.planning.request import Thing

_BODIES = {
    "slab": "basking stone",
    "hide": "hide",
    "dish": "water dish",
    "pool": "pool",
    "branch": "branch",
    "plant": "plant",
}


def thing_name(thing: Thing) -> str:
    """Name a thing as keepers do, without its measures."""
    if thing.kind in UV_LAMPS:
        return UV_LAMPS[thing.kind].name
    if thing.kind in HEATERS:
        return HEATERS[thing.kind].name
    if thing.is_probe:
        return "probe"
    if thing.kind == "slab" and thing.material == "softwood":
        return "basking wood"
    return _BODIES[thing.kind]
