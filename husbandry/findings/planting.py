"""What grows in an enclosure, and who cleans under it: light, roots, damp, harm, and food for the
crew. Rules: docs/methods/furniture.md.
"""

from husbandry.documents.enclosure import InsideMeasures, MoistureControl, Substrate
from husbandry.documents.request import Request
from husbandry.enclosure.plants import Plant
from husbandry.errors import ImpossibleStateError
from husbandry.findings.furnishing_findings import FurnishingFinding
from husbandry.items.furnishings import PlantedItem, Pool
from husbandry.items.union import Item
from husbandry.species.profile import Profile

LOOSE_SOILS = frozenset({"soil"})
ROOTS = 0.8
"""Of the depth that its roots want is enough (design choice) [1]."""
GRAZED = frozenset({"greens", "grass", "fruit"})
CREW_M = 0.03
"""The least substrate that a crew lives in (common practice) [m]."""
DAMP = frozenset({"damp", "wet"})
CREW_FOOD = (
    "A crew lives on what is left and starves where little is: leaf litter always, a pinch of dry"
    " fish food or a slice of squash once a week, a piece of cuttlebone for the isopods. Remove"
    " what moulds."
)


def kind_of(item: Item) -> Plant | None:
    """The kind of a plant, when it was named."""
    return item.species if isinstance(item, PlantedItem) else None


def wrong_plants(request: Request, profile: Profile) -> list[FurnishingFinding]:
    """Poison, shallow roots, wet feet."""
    found: list[FurnishingFinding] = []
    wetting, substrate, inside = (
        request.enclosure.wetting,
        request.enclosure.substrate,
        request.enclosure.inside_m,
    )
    eats = bool(GRAZED & profile.foods)
    _look_at_plants(eats, found, inside, request, substrate, wetting)
    return [*found, *_plastic(request, profile), *crew_wants(request)]


def bites_plastic(profile: Profile) -> bool:
    """Whether it lives on the ground and off leaves, and bites into whatever looks like one."""
    return profile.habit != "arboreal" and {"greens", "grass"} <= profile.foods


def _plastic(request: Request, profile: Profile) -> list[FurnishingFinding]:
    """Plastic leaves within reach of what lives off leaves."""
    if not bites_plastic(profile):
        return []
    text = (
        "It bites leaves off, and plastic ones block its gut: take a live plant that it may eat, a"
        " root or a stone."
    )
    return [
        FurnishingFinding("plant plastic", item.id, text)
        for item in request.items
        if isinstance(item, PlantedItem) and item.plant == "artificial"
    ]


def _look_at_plants(
    eats: bool,
    found: list[FurnishingFinding],
    inside: InsideMeasures,
    request: Request,
    substrate: Substrate,
    wetting: MoistureControl | None,
) -> None:
    """Look at each plant: its roots, its feet, its harm."""
    for item in request.items:
        kind = kind_of(item)
        if kind is None or item.sides_m is None:
            continue
        label = f"{kind.label[0].upper()}{kind.label[1:]}"
        if kind.harm == "poisonous":
            found.append(
                FurnishingFinding(
                    "plant poisonous",
                    item.id,
                    f"{label} is poisonous to what bites it: take it out.",
                )
            )
        elif kind.harm == "irritant" and eats:
            text = (
                f"{label} burns the mouth of what eats leaves, and this animal does: take another."
            )
            found.append(FurnishingFinding("plant irritant", item.id, text))
        there = max(
            substrate.depth_at(item.at_m[0] / inside.length, item.at_m[1] / inside.depth), 0.0
        )
        if (
            kind.root_m
            and substrate.material in LOOSE_SOILS
            and there < ROOTS * kind.root_m
            and item.at_m[2] <= there + 0.01
        ):
            text = (
                f"{label} finds too little substrate for its roots: deeper there, or in a pot let"
                " into it."
            )
            found.append(FurnishingFinding("plant roots", item.id, text, there, kind.root_m))
        found += _wet_or_dry(item, kind, label, wetting)
        if kind.likes == "water" and not any(
            _stands_in(item, pool) for pool in request.items if isinstance(pool, Pool)
        ):
            found.append(
                FurnishingFinding(
                    "plant water", item.id, f"{label} grows in water: it belongs in a pool."
                )
            )


def _wet_or_dry(
    item: Item, kind: Plant, label: str, wetting: MoistureControl | None
) -> list[FurnishingFinding]:
    """Say which plant rots, and which dries out, as the substrate is kept."""
    if wetting is None:
        return []
    if kind.likes == "dry" and wetting.substrate in DAMP:
        text = f"{label} rots in substrate that is kept {wetting.substrate}: in a dry pot, or another."
        return [FurnishingFinding("plant wet", item.id, text)]
    if kind.likes == "damp" and wetting.substrate == "dry":
        text = f"{label} dries out in dry substrate: in a pot that is watered, or another."
        return [FurnishingFinding("plant dry", item.id, text)]
    return []


def _stands_in(item: Item, pool: Item) -> bool:
    if pool.sides_m is None:
        raise ImpossibleStateError("missing: pool.sides_m")
    return all(abs(item.at_m[n] - pool.at_m[n]) <= pool.sides_m[n] / 2 for n in (0, 1))


def crew_wants(request: Request) -> list[FurnishingFinding]:
    """Where a clean-up crew cannot live, or is eaten."""
    substrate = request.enclosure.substrate
    wetting = request.enclosure.wetting
    if not substrate.crew:
        return []
    if substrate.material != "soil" or substrate.depth_m < CREW_M:
        return [
            FurnishingFinding(
                "crew no substrate",
                "",
                "A clean-up crew lives in three centimetres of soil and litter at the least: there"
                " is no such substrate.",
            )
        ]
    if wetting is not None and wetting.substrate not in DAMP:
        text = (
            "A clean-up crew dries out in this substrate: keep one corner damp under bark, or do"
            " without."
        )
        return [FurnishingFinding("crew dry", "", text)]
    if substrate.layers and not any("leaves" in layer.parts for layer in substrate.layers):
        return [
            FurnishingFinding(
                "crew no litter",
                "",
                "A clean-up crew eats leaf litter, and none lies on this substrate: a layer of"
                " leaves on top.",
            )
        ]
    return []


def crew_text(request: Request) -> str:
    """How a crew is fed; empty without one."""
    return CREW_FOOD if request.enclosure.substrate.crew else ""
