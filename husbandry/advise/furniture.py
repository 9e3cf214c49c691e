"""What lies and stands in an enclosure, by what its species needs and by the rules that the findings
judge it by: hides of its size at the ends, water it can leave, something to climb.
"""

from typing import Any

from husbandry.documents.request import Request
from husbandry.documents.soundness import surroundings_of
from husbandry.enclosure.walking_room import DISH_BL, DRINK_M, HIDE_BL
from husbandry.findings.furnishing import step_m, walks_in_a_shell
from husbandry.findings.hazards import LEAF_M
from husbandry.findings.water import DEEPER, WATER_SHARE
from husbandry.items.drippers import DRIP_OFF, DRIP_ON, Dripper
from husbandry.items.furnishings import PlantedItem
from husbandry.items.union import Item, read_item
from husbandry.predict.pool_water import POOL_SHARE
from husbandry.predict.warm_patch import trunk_m
from husbandry.species.profile import Profile

STONE_THICK_M = 0.03
"""Of a basking stone (common practice) [m]."""
STONE_ROOM = 1.15
"""A basking stone over the trunk that is warmed on it (design choice) [1]."""
WARM_END = 0.2
"""Where along the enclosure the warm end has its lamp and its stone (common practice) [1]."""
HIDE_ROOM, HIDE_TALL = 1.15, 1.6
"""A hide over the body that curls in it, and its height over the back's (design choice) [1]."""
HIDE_LEAST_M = 0.03
"""No hide is lower or narrower (common practice) [m]."""
DISH_LEAST_M = 0.06
"""No dish is narrower (common practice) [m]."""
HIDE_MOST, ONE_HIDE_MOST = 0.3, 0.42
"""Of the enclosure's length that one of several hides may take, and a single one (design choice) [1]."""
DISH_ROOM = 1.1
"""A dish over the body that lies in it (design choice) [1]."""
DISH_MOST = 0.52
"""Of the enclosure's length that one dish may take (design choice) [1]."""
PLANT_M = 0.18
"""Width of a plant, at most (common practice) [m]."""
TWIG_M = 0.003
"""No branch is thinner (common practice) [m]."""
BRANCH_THICK_M = 0.03
"""Of a branch where its foot says nothing of it (common practice) [m]."""
TANK_FULL = 0.7
"""Of a tank's height that its water takes at the most: what swims climbs out over less (design
choice) [1].
"""
JUST = 1.15
"""Of the least depth that its species swims in: a first pool is filled and carried by hand (design
choice) [1].
"""
FRONT = 0.48
"""Of the depth that a pool takes, in front of the hides (design choice) [1]."""
Body = dict[str, Any]


def body(
    slug: str,
    kind: str,
    at_m: tuple[float, float, float],
    size_m: tuple[float, float, float],
    **more: Any,
) -> Body:
    """A body as JSON, to the millimetre."""
    return {
        "id": slug,
        "kind": kind,
        "at_m": [round(value, 3) for value in at_m],
        "size_m": [round(side, 3) for side in size_m],
        **more,
    }


def furniture(
    profile: Profile,
    length_m: float,
    enclosure: dict[str, float],
    substrate_m: float,
    *,
    stone: bool = True,
    animals: int = 1,
) -> list[Body]:
    """What lies and stands in the enclosure: a stone to bask on, the hides it needs, a dish or a
    pool, a branch and leaves for a climber.

    Parameters
    ----------
    length_m : float
        Of the body [m].
    enclosure : dict
        Inside length, depth and height [m].
    substrate_m : float
        Depth of the substrate [m].
    animals : int
        That share it.
    """
    items: list[Body] = []
    if profile.basks and stone:
        items.append(_stone(profile, enclosure, length_m, substrate_m))
    items += _hides(profile, length_m, enclosure, substrate_m, animals)
    if profile.enclosure.water_depth_m and profile.habit == "aquatic":
        items.append(_tank(profile, enclosure, items))
    elif profile.enclosure.water_share[0] and profile.enclosure.water_depth_m:
        items += _pool(profile, length_m, enclosure, substrate_m)
    else:
        items += _dishes(profile, length_m, enclosure, substrate_m, animals)
    if profile.body.perch_share:
        items += _climbing(profile, length_m, enclosure, substrate_m)

    return items


def sunk_m(profile: Profile, length_m: float, thick_m: float, substrate_m: float) -> float:
    """By how much a stone is let into the substrate, so that its edge tips no tortoise over [m]."""
    if not walks_in_a_shell(profile):
        return 0.0
    return round(min(max(thick_m - step_m(length_m), 0.0), substrate_m), 4)


def _stone(
    profile: Profile, enclosure: dict[str, float], length_m: float, substrate_m: float
) -> Body:
    long = enclosure["length"]
    deep = enclosure["depth"]
    lies_m = STONE_ROOM * trunk_m(profile, length_m)
    side = min(0.3 * long, max(0.14, 0.8 * length_m, lies_m))
    z = substrate_m - sunk_m(profile, length_m, STONE_THICK_M, substrate_m)
    at = (WARM_END * long, 0.5 * deep, z)
    size = (side, min(side * 0.8, 0.7 * deep), STONE_THICK_M)
    return body("stone-1", "slab", at, size, supported=True)


def hide_size(
    profile: Profile, length_m: float, enclosure: dict[str, float], substrate_m: float
) -> tuple[float, float, float]:
    """Length, depth and height of a hide that its body fills [m]."""
    share_long, share_deep = HIDE_BL.get(profile.group, (0.6, 0.35))
    lies_m = profile.lying_m(length_m)
    wide, thick = (share * lies_m * HIDE_ROOM for share in (share_long, share_deep))
    back = profile.body.back_height_bl * length_m
    most = HIDE_MOST if len(profile.hides.places) > 1 else ONE_HIDE_MOST

    return (
        min(max(wide, HIDE_LEAST_M), most * enclosure["length"]),
        min(max(thick, HIDE_LEAST_M), 0.45 * enclosure["depth"]),
        min(max(HIDE_TALL * back, HIDE_LEAST_M), 0.4 * (enclosure["height"] - substrate_m)),
    )


def _hides(
    profile: Profile,
    length_m: float,
    enclosure: dict[str, float],
    substrate_m: float,
    animals: int,
) -> list[Body]:
    """Along the back wall, the warm one first; the moist one holds wet moss."""
    long = enclosure["length"]
    deep = enclosure["depth"]
    wide, thick, high = hide_size(profile, length_m, enclosure, substrate_m)
    places = [place for place in ("warm", "moist", "cool") if place in profile.hides.places]
    places += ["cool"] * max(animals + (animals > 1) - len(places), 0)
    found = []
    for n, place in enumerate(places):
        share = n / max(len(places) - 1, 1)
        begin = 0.45 * long if len(places) > 1 else 0.5 * long
        x = begin + share * (long - wide / 2 - begin)
        found.append(
            body(
                f"hide-{n + 1}",
                "hide",
                (min(x, long - wide / 2), deep - thick / 2, substrate_m),
                (wide, thick, high),
                moist=place == "moist",
            )
        )

    return found


def dish_size(
    profile: Profile, length_m: float, enclosure: dict[str, float], substrate_m: float
) -> tuple[float, float, float]:
    """Length, depth and height of a dish it lies in or drinks from, no deeper than its back stands
    high [m].
    """
    share_long, share_deep = DISH_BL.get(profile.group, (1.1, 0.7))
    if profile.water.soak:
        lies_m = profile.lying_m(length_m)
        wide, thick = (DISH_ROOM * share * lies_m for share in (share_long, share_deep))
    else:
        wide = thick = min(DRINK_M, max(0.5 * length_m, DISH_LEAST_M))
    most = DEEPER * max(profile.body.back_height_bl * length_m, 0.015) / WATER_SHARE

    return (
        min(max(wide, 0.05), DISH_MOST * enclosure["length"]),
        min(max(thick, 0.05), 0.55 * enclosure["depth"]),
        min(0.06, 0.95 * most, 0.2 * (enclosure["height"] - substrate_m)),
    )


def _dishes(
    profile: Profile,
    length_m: float,
    enclosure: dict[str, float],
    substrate_m: float,
    animals: int,
) -> list[Body]:
    """By the front, away from the lamps."""
    long = enclosure["length"]
    wide, thick, high = dish_size(profile, length_m, enclosure, substrate_m)
    found = []
    for n in range(2 if animals > 1 else 1):
        x = long * (0.72 - 0.3 * n)
        at = (min(x, long - wide / 2), thick / 2, substrate_m)
        found.append(body(f"dish-{n + 1}", "dish", at, (wide, thick, high)))
    return found


def grip_m(profile: Profile, length_m: float) -> float:
    """Thickness of a branch that its foot closes on [m]."""
    if not profile.body.grip_bl:
        return BRANCH_THICK_M
    return min(max(profile.body.grip_bl * length_m, TWIG_M), 0.08)


def _climbing(
    profile: Profile, length_m: float, enclosure: dict[str, float], substrate_m: float
) -> list[Body]:
    """A branch at the height at which it lives; for what lives among leaves, leaves beside it."""
    long = enclosure["length"]
    deep = enclosure["depth"]
    air = enclosure["height"] - substrate_m
    thick = grip_m(profile, length_m)
    z = substrate_m + profile.body.perch_share * air
    branch = body("branch-1", "branch", (0.5 * long, 0.5 * deep, z), (0.7 * long, thick, thick))
    if profile.habit != "arboreal":
        return [branch]
    wide = min(PLANT_M, 0.28 * long, 0.35 * deep)
    plant = body(
        "plant-1",
        "plant",
        (0.78 * long, 0.5 * deep - thick / 2 - wide / 2 - 0.01, substrate_m),
        (wide, wide, max(z - substrate_m - LEAF_M / 4, 0.05)),  # clear of the lamp over the branch
        plant="artificial",
    )

    return [branch, plant]


def _tank(profile: Profile, enclosure: dict[str, float], items: list[Body]) -> Body:
    """Water over the floor, as deep as its species swims in; less of the length where a stone
    stands out of it.
    """
    span = profile.enclosure.water_depth_m
    low, high = span.ends if span is not None else (0.0, 0.0)
    tall = round(min((low + high) / 2 / POOL_SHARE, TANK_FULL * enclosure["height"]), 3)
    dry = 0.0

    for stone in (item for item in items if item["kind"] == "slab"):
        # a landing beside the water, its top just over it
        dry = max(dry, stone["size_m"][0])
        stone["at_m"] = [round(stone["size_m"][0] / 2, 3), stone["at_m"][1], round(tall, 3)]

    for hide in (item for item in items if item["kind"] == "hide"):
        hide["at_m"][2] = 0.0
    share = max(1 - dry / enclosure["length"], profile.enclosure.water_share[0])
    reach = round(share * enclosure["length"], 3)
    at = (enclosure["length"] - reach / 2, enclosure["depth"] / 2, 0.0)

    return body("pool-1", "pool", at, (reach, enclosure["depth"], tall))


def _pool(
    profile: Profile, length_m: float, enclosure: dict[str, float], substrate_m: float
) -> list[Body]:
    """Water to swim and lie in along the front, from the cool end on, let into the substrate as far as that
    goes; and a root that leads up to its rim.
    """
    span = profile.enclosure.water_depth_m
    low = span.ends[0] if span is not None else 0.0
    long = enclosure["length"]
    deep = enclosure["depth"]
    lies_m = DISH_BL.get(profile.group, (1.1, 0.7))[0] * profile.lying_m(length_m)
    wanted = max(profile.enclosure.water_share[0] / FRONT * long, lies_m * profile.water.soak)
    reach = min(wanted, 0.98 * long)
    tall = min(JUST * low / POOL_SHARE, 0.4 * enclosure["height"])
    under = max(substrate_m - tall, 0.0)
    edge = long - reach
    at = (long - reach / 2, FRONT / 2 * deep, under)
    pool = body("pool-1", "pool", at, (reach, FRONT * deep, tall))
    rise = under + tall - substrate_m

    if rise < 0.02:
        return [pool]
    size = (min(0.12, 2 * edge), 0.06, rise)
    x = max(edge - size[0] / 2 + 0.02, size[0] / 2)

    return [pool, body("root-1", "branch", (x, FRONT / 2 * deep, substrate_m), size)]


def dripper_over_leaves(request: Request) -> Item:
    """Hang a dripper under the lid, over the plant that stands highest, else over the middle."""
    inside = request.enclosure.inside_m
    begun = Dripper.begin("dripper", surroundings_of(request), (DRIP_ON, DRIP_OFF)) or {}
    x_m, y_m, z_m = begun["at_m"]
    plants = [item for item in request.items if isinstance(item, PlantedItem)]
    if plants:
        x_m, y_m, _ = max(plants, key=lambda item: item.top_m).at_m
    place = [min(x_m, inside.length), min(y_m, inside.depth), z_m]
    taken = {item.id for item in request.items}
    free = next(f"dripper-{n}" for n in range(1, 99) if f"dripper-{n}" not in taken)

    return read_item({**begun, "id": free, "at_m": place})
