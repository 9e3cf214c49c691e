"""What things in an enclosure are called."""

from itertools import pairwise

from husbandry.box.equipment import HEATERS, UV_LAMPS
from husbandry.planning.request import Request, Thing

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


APART_M = 0.05
"""Things closer than that along a side are not told apart by it (design choice) [m]."""
_SIDES = (("left", "middle", "right"), ("front", "middle", "back"), ("lower", "middle", "upper"))


def names(request: Request) -> dict[str, str]:
    """Name every thing of an enclosure so that no two have one name.

    Returns
    -------
    dict
        By id: “halogen flood”; of two “left halogen flood” and “right halogen flood”; of things
        that stand in one place, or of more than three, “halogen flood 1”, counted from the left.
    """
    alike: dict[str, list[Thing]] = {}
    for thing in request.things:
        alike.setdefault(thing_name(thing), []).append(thing)
    found: dict[str, str] = {}
    for name, things in alike.items():
        found |= {things[0].id: name} if len(things) == 1 else _told_apart(name, things)
    return found


def _told_apart(name: str, things: list[Thing]) -> dict[str, str]:
    for axis, words in enumerate(_SIDES):
        order = sorted(things, key=lambda thing: thing.at_m[axis])
        apart = all(after.at_m[axis] - before.at_m[axis] >= APART_M for before, after in pairwise(order))
        if apart and len(things) <= len(words):
            said = words if len(things) == 3 else (words[0], words[-1])
            return {thing.id: f"{word} {name}" for thing, word in zip(order, said, strict=True)}
    order = sorted(things, key=lambda thing: thing.at_m)
    return {thing.id: f"{name} {n}" for n, thing in enumerate(order, start=1)}
