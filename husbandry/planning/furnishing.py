"""What stands in a box against the body that lives there: hides that fit and lie right, water it can leave, heights it can fall from.

Rules are common practice unless a profile says otherwise. Method: docs/methods/furniture.md.
"""

import math
from typing import NamedTuple

from husbandry.box.equipment import HEATERS, MATERIALS
from husbandry.box.room import DISH_BL, HIDE_BL
from husbandry.planning.request import Request, Thing
from husbandry.species.profile import Profile

FITS = 0.8
"""A hide may be so much smaller than its kind's rule on each side: bodies bend (design choice) [1]."""
ROOMY = 3.0
"""Floor of a hide over what its kind needs beyond which it no longer touches its back and sides, for what seeks that (design choice) [1]."""
CLOSE_FITTING = frozenset({"snake", "salamander"})
WATER_SHARE = 0.8
"""Of a dish's height that stands full (common practice) [1]."""
DEEPER = 1.3
"""Than its back stands high: a head is held above that (design choice) [1]."""
HALF, MIDDLE = 0.5, 0.05
"""A hide so near the middle of the length counts for either half (design choice) [1]."""
SWIMMERS = frozenset({"frog", "turtle", "snake"})
FALL_BL = 1.5
"""Body lengths that a body of the ground falls without harm (design choice) [1]."""
GROUND_LIVING = frozenset({"terrestrial", "fossorial"})
STEP_M = 0.12
"""A body lower by no more than that, and near, is a step down (design choice) [m]."""
UNDER_LAMP_M = 0.12
"""A dish so near a lamp's axis stands in its heat (design choice) [m]."""


class Furnished(NamedTuple):
    """Something about a thing, or about one that is missing."""

    slug: str
    thing_id: str
    """Empty for what is missing."""
    text: str
    there_m: float | None = None
    needed_m: float | None = None


def furnishing(request: Request, profile: Profile, length_m: float, warm_left: bool) -> list[Furnished]:
    """Everything to say of the furniture.

    Parameters
    ----------
    length_m : float
        Of the largest animal's body, in the profile's own kind of length [m].
    """
    if profile.habit == "aquatic":
        return []
    return [
        *_hides(request, profile, length_m, warm_left),
        *_dishes(request, profile, length_m),
        *_falls(request, profile, length_m),
        *_undermined(request, profile),
        *_for_several(request),
        *_seen_through(request, profile),
    ]


def _hides(request: Request, profile: Profile, length_m: float, warm_left: bool) -> list[Furnished]:
    found = []
    long, deep = (share * length_m for share in HIDE_BL.get(profile.group, (0.6, 0.35)))
    hides = [thing for thing in request.things if thing.kind == "hide" and thing.size_m]
    for hide in hides:
        assert hide.size_m is not None
        sides = sorted(hide.size_m[:2], reverse=True)
        if sides[0] < FITS * long or sides[1] < FITS * deep:
            text = "A hide is too small for its body: it is used when all of it fits in."
            short = (sides[0], long) if sides[0] < FITS * long else (sides[1], deep)
            found.append(Furnished("hide small", hide.id, text, *short))
        elif profile.group in CLOSE_FITTING and sides[0] * sides[1] > ROOMY * long * deep:
            text = "A hide is so roomy that it does not touch back and sides: fill it, or take a smaller one."
            found.append(Furnished("hide roomy", hide.id, text, sides[0], long))
    length = request.box.inside_m.length
    from_warm = [hide.at_m[0] / length if warm_left else 1 - hide.at_m[0] / length for hide in hides]
    if hides and "warm" in profile.hides.places and min(from_warm) > HALF + MIDDLE:
        found.append(
            Furnished(
                "no warm hide", "", "All hides lie in the cool half: one belongs where it is warm, or hiding costs it its warmth."
            )
        )
    if hides and "cool" in profile.hides.places and max(from_warm) < HALF - MIDDLE:
        found.append(Furnished("no cool hide", "", "All hides lie in the warm half: one belongs where it is cool."))
    if "moist" in profile.hides.places and hides and not any(hide.moist for hide in hides) and not _damp_ground(request):
        found.append(Furnished("no moist hide", "", "No hide holds wet moss: without one, sheds stay on toes and tail tips."))
    return found


def _damp_ground(request: Request) -> bool:
    wetting = request.box.wetting
    return wetting is not None and wetting.ground in {"damp", "wet"}


def _dishes(request: Request, profile: Profile, length_m: float) -> list[Furnished]:
    found = []
    back_m = profile.body.back_height_bl * length_m
    lamps = [t for t in request.things if t.is_heater and t.kind in HEATERS and HEATERS[t.kind].beam_share and not t.size_m]
    dishes = [thing for thing in request.things if thing.kind == "dish" and thing.size_m]
    for dish in dishes:
        assert dish.size_m is not None
        deep = WATER_SHARE * dish.size_m[2]
        most = DEEPER * max(back_m, 0.015)
        if profile.group not in SWIMMERS and deep > most and not _way_out(request, dish):
            text = "A dish is deeper than its back stands high: a stone or slope in it, so that it gets out."
            found.append(Furnished("dish deep", dish.id, text, deep, most))
        if any(math.hypot(dish.at_m[0] - lamp.at_m[0], dish.at_m[1] - lamp.at_m[1]) < UNDER_LAMP_M for lamp in lamps):
            found.append(
                Furnished("dish hot", dish.id, "A dish stands under a lamp: its water warms, fouls and is gone by evening.")
            )
    if profile.water.soak and dishes:
        long, deep_m = (share * length_m for share in DISH_BL.get(profile.group, (1.1, 0.7)))
        largest = max(dishes, key=lambda dish: dish.size_m[0] * dish.size_m[1] if dish.size_m else 0.0)
        assert largest.size_m is not None
        sides = sorted(largest.size_m[:2], reverse=True)
        if sides[0] < FITS * long or sides[1] < FITS * deep_m:
            short = (sides[0], long) if sides[0] < FITS * long else (sides[1], deep_m)
            found.append(Furnished("dish small", largest.id, "It lies in its water, and no dish holds all of it.", *short))
    return found


def _way_out(request: Request, dish: Thing) -> bool:
    """A stone or branch that stands in it, or beside it and higher."""
    assert dish.size_m is not None
    for body in request.things:
        if body.kind in {"slab", "branch"} and body.size_m:
            over = all(abs(body.at_m[n] - dish.at_m[n]) < (body.size_m[n] + dish.size_m[n]) / 2 for n in (0, 1))
            if over and body.at_m[2] <= dish.at_m[2] + dish.size_m[2]:
                return True
    return False


def _top(thing: Thing) -> float:
    return thing.at_m[2] + (thing.size_m[2] if thing.size_m else 0.0)


def _falls(request: Request, profile: Profile, length_m: float) -> list[Furnished]:
    """Platforms and branches that a body of the ground can only fall from."""
    if profile.habit not in GROUND_LIVING:
        return []
    ground, most = request.box.ground.depth_m, FALL_BL * length_m
    bodies = [t for t in request.things if t.kind in {"slab", "branch", "hide"} and t.size_m]
    found = []
    for body in bodies:
        drop = _top(body) - ground
        if body.kind == "hide" or drop <= max(most, STEP_M):
            continue
        if not any(other is not body and 0 < _top(body) - _top(other) <= STEP_M and _near(body, other) for other in bodies):
            text = "Something to climb is so high that a fall hurts, and no step leads down: lower it, or put one beside it."
            found.append(Furnished("fall", body.id, text, drop, max(most, STEP_M)))
    return found


def _near(one: Thing, other: Thing) -> bool:
    assert one.size_m is not None and other.size_m is not None
    gaps = [abs(one.at_m[n] - other.at_m[n]) - (one.size_m[n] + other.size_m[n]) / 2 for n in (0, 1)]
    return max(gaps) < STEP_M


def _for_several(request: Request) -> list[Furnished]:
    """What animals that share a box would fight over."""
    animals = len(request.animals)
    hides = sum(thing.kind == "hide" for thing in request.things)
    if animals < 2 or hides >= animals:
        return []
    return [Furnished("few hides", "", "Fewer hides than animals: the weaker stays outside. One for each, and one more.")]


def _seen_through(request: Request, profile: Profile) -> list[Furnished]:
    """Sides that it should not see through."""
    panels = request.box.panels
    clear = sum(MATERIALS[getattr(panels, side)].passes_light for side in ("front", "back", "left", "right"))
    if 4 - clear >= profile.enclosure.opaque_sides:
        return []
    return [
        Furnished(
            "clear sides",
            "",
            "It sees through more sides than it bears, and walks along them: cover them from outside, the back first.",
        )
    ]


def _undermined(request: Request, profile: Profile) -> list[Furnished]:
    """Heavy stones on loose ground in which something digs."""
    ground = request.box.ground
    if profile.body.dig_bl <= 0 or ground.depth_m < 0.03 or ground.material not in {"soil", "sand"}:
        return []
    stones = [t for t in request.things if t.kind == "slab" and t.material != "softwood" and t.at_m[2] >= ground.depth_m - 0.005]
    if not stones:
        return []
    text = "A digger undermines what lies on its ground: stones stand on supports from the floor, set before the ground goes in."
    return [Furnished("undermined", stones[0].id, text)]
