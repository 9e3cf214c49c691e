"""What grows in an enclosure, and who cleans under it: light, roots, damp, harm, and food for the crew. Rules: docs/methods/furniture.md."""

from husbandry.box.plants import PLANTS, Plant
from husbandry.planning.furnishing_findings import Furnished
from husbandry.planning.request import Request, Thing
from husbandry.species.profile import Profile

LOOSE = frozenset({"soil"})
ROOTS = 0.8
"""Of the depth that its roots want is enough (design choice) [1]."""
GRAZED = frozenset({"greens", "grass", "fruit"})
CREW_M = 0.03
"""The least substrate that a crew lives in (common practice) [m]."""
DAMP = frozenset({"damp", "wet"})
CREW_FOOD = (
    "A crew lives on what is left and starves where little is: leaf litter always, a pinch of dry fish food or a slice of squash once a week, "
    "a piece of cuttlebone for the isopods. Remove what moulds."
)


def kind_of(thing: Thing) -> Plant | None:
    """The kind of a plant, when it was named."""
    return PLANTS[thing.plant] if thing.plant is not None else None


def wrong_plants(request: Request, profile: Profile) -> list[Furnished]:
    """Poison, shallow roots, wet feet."""
    found = []
    wetting, ground, inside = request.box.wetting, request.box.ground, request.box.inside_m
    eats = bool(GRAZED & profile.foods)
    for thing in request.things:
        kind = kind_of(thing)
        if kind is None or thing.size_m is None:
            continue
        label = f"{kind.label[0].upper()}{kind.label[1:]}"
        if kind.harm == "poisonous":
            found.append(Furnished("plant poisonous", thing.id, f"{label} is poisonous to what bites it: take it out."))
        elif kind.harm == "irritant" and eats:
            text = f"{label} burns the mouth of what eats leaves, and this animal does: take another."
            found.append(Furnished("plant irritant", thing.id, text))
        there = max(ground.depth_at(thing.at_m[0] / inside.length, thing.at_m[1] / inside.depth), 0.0)
        if kind.root_m and ground.material in LOOSE and there < ROOTS * kind.root_m and thing.at_m[2] <= there + 0.01:
            text = f"{label} finds too little substrate for its roots: deeper there, or in a pot let into it."
            found.append(Furnished("plant roots", thing.id, text, there, kind.root_m))
        if wetting is not None and kind.likes == "dry" and wetting.ground in DAMP:
            found.append(
                Furnished(
                    "plant wet", thing.id, f"{label} rots in substrate that is kept {wetting.ground}: in a dry pot, or another."
                )
            )
        elif wetting is not None and kind.likes == "damp" and wetting.ground == "dry":
            found.append(
                Furnished("plant dry", thing.id, f"{label} dries out in dry substrate: in a pot that is watered, or another.")
            )
        if kind.likes == "water" and not any(_stands_in(thing, pool) for pool in request.things if pool.kind == "pool"):
            found.append(Furnished("plant water", thing.id, f"{label} grows in water: it belongs in a pool."))
    return [*found, *crew_wants(request)]


def _stands_in(thing: Thing, pool: Thing) -> bool:
    assert pool.size_m is not None
    return all(abs(thing.at_m[n] - pool.at_m[n]) <= pool.size_m[n] / 2 for n in (0, 1))


def crew_wants(request: Request) -> list[Furnished]:
    """Where a clean-up crew cannot live, or is eaten."""
    ground, wetting = request.box.ground, request.box.wetting
    if not ground.crew:
        return []
    if ground.material != "soil" or ground.depth_m < CREW_M:
        return [
            Furnished(
                "crew no substrate",
                "",
                "A clean-up crew lives in three centimetres of soil and litter at the least: there is no such substrate.",
            )
        ]
    if wetting is not None and wetting.ground not in DAMP:
        text = "A clean-up crew dries out in this substrate: keep one corner damp under bark, or do without."
        return [Furnished("crew dry", "", text)]
    if ground.layers and not any("leaves" in layer.parts for layer in ground.layers):
        return [
            Furnished(
                "crew no litter",
                "",
                "A clean-up crew eats leaf litter, and none lies on this substrate: a layer of leaves on top.",
            )
        ]
    return []


def crew_text(request: Request) -> str:
    """How a crew is fed; empty without one."""
    return CREW_FOOD if request.box.ground.crew else ""
