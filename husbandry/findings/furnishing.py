"""What stands in an enclosure against the body that lives there: hides that fit and lie right,
branches to hold, heights to fall from, gaps to stick in.

Rules are common practice unless a profile says otherwise. Method: docs/methods/furniture.md.
"""

import itertools
from collections.abc import Sequence

from husbandry.documents.request import Request
from husbandry.enclosure.equipment import MATERIALS
from husbandry.enclosure.hides import DARK_SHARE
from husbandry.enclosure.walking_room import HIDE_BL, HIDE_OF_OTHERS_BL
from husbandry.errors import ImpossibleStateError
from husbandry.findings.dig_boxes import box_findings, deep_box
from husbandry.findings.furnishing_findings import FurnishingFinding
from husbandry.findings.planting import wrong_plants
from husbandry.findings.substrate_findings import Living, bed_found, depth_needed_m
from husbandry.findings.water import CLIMBED, wrong_waters
from husbandry.items.furnishings import Branch, Hide, PlantedItem, Slab
from husbandry.items.union import Item
from husbandry.predict.light import light_in
from husbandry.predict.warm_patch import trunk_m
from husbandry.species.profile import Profile

HIDE_FIT = 0.8
"""A hide may be so much smaller than its species’ rule on each side: bodies bend (design choice)
[1].
"""
ROOMY = 3.0
"""Floor of a hide over what its species needs beyond which it no longer touches its back and sides,
for what seeks that (design choice) [1].
"""
CLOSE_FITTING = frozenset({"snake", "salamander"})
HALF, MIDDLE = 0.5, 0.05
"""A hide so near the middle of the length counts for either half (design choice) [1]."""
FALL_BL = 1.5
"""Body lengths that a ground dweller falls without harm (design choice) [1]."""
GROUND_LIVING = frozenset({"terrestrial", "fossorial"})
FLIP_BL = 1 / 3
"""Of its shell: over a higher edge a tortoise tips onto its back (common practice) [1]."""
EDGE_SLIP_M = 0.003
"""An edge that is higher by less is of that height: stones are not cut to the millimetre (design
choice) [m]."""
BRANCH_STEP_M = 0.12
"""A body lower by no more than that, and near, is a step down (design choice) [m]."""
GRIPS = (0.5, 1.6)
"""A branch of so much of the thickness that its foot closes on holds it well (design choice) [1]."""
WIDER = 1.25
"""A body's width over the height of its back, where no girth is known (design choice) [1]."""
TRAP = 0.6
"""A gap from so much of its width up to all of it lets the head in and holds the body (design
choice) [1].
"""
STANDS_FIRM = frozenset({"slab", "hide", "dish", "pool"})
YIELDS_G = 150.0
"""From that mass on a vine or twigs bend under an animal (common practice) [g]."""
BASK_WIDE = 0.35
"""Width that a body takes where it basks over its length without the tail (design choice) [1]."""
COVER_BL, COVER_M = 0.75, 0.2
"""Leaves so many body lengths from a branch, or that far, are within reach of what sits on it
(design choice) [1, m].
"""
OPEN_ZONE = 3
"""Of the ultraviolet zones, from which on a kind basks in the open and watches the sky (common
practice) [1].
"""
SCREENS = frozenset({"plant", "hide", "slab"})
OPEN_BL, OPEN_M = 5.0, 0.6
"""An open stretch of floor longer than so many body lengths, and than that, is crossed in fear
(design choice) [1, m].
"""


def whole_furnishing(
    request: Request, animals: Sequence[Living], warm_left: bool
) -> list[FurnishingFinding]:
    """Everything to say of furniture and substrate, for the largest of the animals."""
    lead = max(animals, key=lambda animal: animal.length_m)
    said = furnishing(request, request.profiles[lead.species], lead.length_m, warm_left)
    low = depth_needed_m(request, animals)
    profile = request.profiles[lead.species]
    has_box = deep_box(request, profile, low, lead.length_m) is not None
    if profile.habit != "fossorial" and has_box:
        return said  # it digs there; what lives in its substrate needs all of it
    return [*said, *bed_found(request, low)]


def furnishing(
    request: Request, profile: Profile, length_m: float, warm_left: bool
) -> list[FurnishingFinding]:
    """Everything to say of the furniture.

    Parameters
    ----------
    length_m : float
        Of the largest animal's body, in the profile's own kind of length [m].
    """
    if profile.habit == "aquatic":
        return [*wrong_waters(request, profile, length_m), *wrong_plants(request, profile)]
    return [
        *_hides(request, profile, length_m, warm_left),
        *wrong_waters(request, profile, length_m),
        *wrong_plants(request, profile),
        *_grips(request, profile, length_m),
        *_gaps(request, profile, length_m),
        *_open_stretch(request, profile, length_m),
        *_view_and_cover(request, profile, length_m),
        *_falls(request, profile, length_m),
        *_flips(request, profile, length_m),
        *_undermined(request, profile),
        *_for_several(request, profile, length_m),
        *_seen_through(request, profile),
        *_yielding(request, profile),
        *box_findings(request, profile, length_m),
    ]


def _hides(
    request: Request, profile: Profile, length_m: float, warm_left: bool
) -> list[FurnishingFinding]:
    found = []
    lies_m = profile.lying_m(length_m)
    long, deep = (share * lies_m for share in HIDE_BL.get(profile.group, HIDE_OF_OTHERS_BL))
    hides = [item for item in request.items if isinstance(item, Hide)]
    for hide in hides:
        if hide.size_m is None:
            raise ImpossibleStateError("missing: hide.size_m")
        sides = sorted(hide.size_m[:2], reverse=True)
        if sides[0] < HIDE_FIT * long or sides[1] < HIDE_FIT * deep:
            text = "A hide is too small for its body: it is used when all of it fits in."
            short = (sides[0], long) if sides[0] < HIDE_FIT * long else (sides[1], deep)
            found.append(FurnishingFinding("hide small", hide.id, text, *short))
        elif profile.group in CLOSE_FITTING and sides[0] * sides[1] > ROOMY * long * deep:
            text = (
                "A hide is so roomy that it does not touch back and sides: fill it, or take a"
                " smaller one."
            )
            found.append(FurnishingFinding("hide roomy", hide.id, text, sides[0], long))
        light = light_in(hide)
        if light is not None and light > DARK_SHARE:
            text = (
                "A hide lets in more than a twentieth of the light around it, and what sleeps by"
                " day wants the dark: its open side to a wall, an entrance that its body fills, or"
                " sides that no light comes through."
            )
            found.append(FurnishingFinding("hide light", hide.id, text))
    from_warm = [from_warm_end(hide, request, warm_left) for hide in hides]
    if hides and "warm" in profile.hides.places and min(from_warm) > HALF + MIDDLE:
        found.append(
            FurnishingFinding(
                "no warm hide",
                "",
                "All hides lie in the cool half: one belongs where it is warm, or hiding costs it"
                " its warmth.",
            )
        )
    if hides and "cool" in profile.hides.places and max(from_warm) < HALF - MIDDLE:
        found.append(
            FurnishingFinding(
                "no cool hide", "", "All hides lie in the warm half: one belongs where it is cool."
            )
        )
    if (
        "moist" in profile.hides.places
        and hides
        and not any(hide.moist for hide in hides)
        and not _damp_substrate(request)
    ):
        found.append(
            FurnishingFinding(
                "no moist hide",
                "",
                "No hide holds wet moss: without one, sheds stay on toes and tail tips.",
            )
        )
    return found


def from_warm_end(item: Item, request: Request, warm_left: bool) -> float:
    """Find how far an item stands from the warm end, over the length of its enclosure [1]."""
    share = item.at_m[0] / request.enclosure.inside_m.length
    return share if warm_left else 1 - share


def _damp_substrate(request: Request) -> bool:
    wetting = request.enclosure.wetting
    return wetting is not None and wetting.substrate in {"damp", "wet"}


def _top(item: Item) -> float:
    return item.at_m[2] + (item.sides_m[2] if item.sides_m else 0.0)


def _falls(request: Request, profile: Profile, length_m: float) -> list[FurnishingFinding]:
    """Platforms and branches that a ground dweller can only fall from."""
    if profile.habit not in GROUND_LIVING:
        return []
    substrate = request.enclosure.substrate.depth_m
    most = FALL_BL * length_m
    bodies = [t for t in request.items if isinstance(t, Branch | Hide | Slab)]
    found = []
    for body in bodies:
        drop = _top(body) - substrate
        if isinstance(body, Hide) or drop <= max(most, BRANCH_STEP_M):
            continue
        if not any(
            other is not body
            and 0 < _top(body) - _top(other) <= BRANCH_STEP_M
            and _near(body, other)
            for other in bodies
        ):
            text = (
                "Something to climb is so high that a fall hurts, and no step leads down: lower it,"
                " or put one beside it."
            )
            found.append(FurnishingFinding("fall", body.id, text, drop, max(most, BRANCH_STEP_M)))
    return found


def walks_in_a_shell(profile: Profile) -> bool:
    """Whether it is a tortoise or a box turtle: on its back it cannot always right itself."""
    return profile.body.length_kind == "shell" and profile.habit != "aquatic"


def step_m(length_m: float) -> float:
    """The highest edge that a shell of that length crosses without tipping over [m]."""
    return FLIP_BL * length_m


def _flips(request: Request, profile: Profile, length_m: float) -> list[FurnishingFinding]:
    """Edges of stones that a tortoise climbs and tips over: on its back under a lamp it dies."""
    if not walks_in_a_shell(profile):
        return []
    substrate = request.enclosure.substrate.depth_m
    most = step_m(length_m)
    for item in request.items:
        if not isinstance(item, Slab):
            continue
        edge = _top(item) - substrate
        if most + EDGE_SLIP_M < edge <= length_m:  # what is higher it does not climb
            text = (
                "It climbs the edge of the stone, tips over and lies on its back in the heat: sink"
                " the stone until its edge is no more than a third of its shell."
            )
            return [FurnishingFinding("flip", item.id, text, edge, most)]
    return []


def _near(one: Item, other: Item) -> bool:
    if one.sides_m is None or other.sides_m is None:
        raise ImpossibleStateError("missing: one.sides_m, other.sides_m")
    gaps = [
        abs(one.at_m[n] - other.at_m[n]) - (one.sides_m[n] + other.sides_m[n]) / 2 for n in (0, 1)
    ]
    return max(gaps) < BRANCH_STEP_M


def _grips(request: Request, profile: Profile, length_m: float) -> list[FurnishingFinding]:
    """Branches that a foot can close on, for those that sleep and walk on them."""
    grip_bl = profile.body.grip_bl
    branches = [item for item in request.items if isinstance(item, Branch)]
    if grip_bl is None or not branches:
        return []
    grip = grip_bl * length_m
    thick = {branch.id: sorted(branch.size_m)[0] for branch in branches if branch.size_m}
    if any(GRIPS[0] * grip <= value <= GRIPS[1] * grip for value in thick.values()):
        return []
    nearest = min(thick, key=lambda name: abs(thick[name] - grip))
    text = (
        "No branch is of a thickness that its foot closes on: some of its own, thinner and thicker"
        " ones beside them."
    )
    return [FurnishingFinding("grip", nearest, text, thick[nearest], grip)]


def _yielding(request: Request, profile: Profile) -> list[FurnishingFinding]:
    """Vines and twigs that bend under an animal as heavy as its species grows."""
    if profile.grown.mass_g.ends[0] < YIELDS_G:
        return []
    text = (
        "A vine or a bundle of twigs bends under so heavy an animal: a fixed branch or a cork tube"
        " carries it."
    )
    branches = (item for item in request.items if isinstance(item, Branch) and item.is_yielding)
    return [FurnishingFinding("yielding", branch.id, text) for branch in branches]


def _gaps(request: Request, profile: Profile, length_m: float) -> list[FurnishingFinding]:
    """Gaps between what stands firm, and beside the walls, that let a head in and hold a body; and
    slits under stones.
    """
    if profile.body.perch_share:
        return []
    back = profile.body.back_height_bl * length_m
    width = WIDER * back
    inside = request.enclosure.inside_m
    substrate = request.enclosure.substrate
    over = {
        t.id: _top(t) - substrate.depth_at(t.at_m[0] / inside.length, t.at_m[1] / inside.depth)
        for t in request.items
    }
    firm = [
        t
        for t in request.items
        if t.kind in STANDS_FIRM and t.sides_m and over[t.id] > CLIMBED * back
    ]
    found: dict[str, FurnishingFinding] = {}

    def note(item: Item, gap: float, needed: float) -> None:
        if TRAP * needed <= gap < needed:
            text = (
                "A gap beside or under it is narrower than the body and wider than the head:"
                " something gets stuck there. Close it, or open it."
            )
            found.setdefault(item.id, FurnishingFinding("gap", item.id, text, gap, needed))

    for item in firm:
        if item.sides_m is None:
            raise ImpossibleStateError("missing: item.sides_m")
        for axis, side in ((0, inside.length), (1, inside.depth)):
            half = item.sides_m[axis] / 2
            note(item, item.at_m[axis] - half, width)
            note(item, side - item.at_m[axis] - half, width)
        if isinstance(item, Slab):
            note(item, over[item.id] - item.size_m[2], back)
    for one, other in itertools.combinations(firm, 2):
        if one.sides_m is None or other.sides_m is None:
            raise ImpossibleStateError("missing: one.sides_m, other.sides_m")
        apart = [
            abs(one.at_m[n] - other.at_m[n]) - (one.sides_m[n] + other.sides_m[n]) / 2
            for n in (0, 1, 2)
        ]
        apart[2] = max(one.at_m[2] - _top(other), other.at_m[2] - _top(one))
        for axis in (0, 1):
            if apart[1 - axis] < 0 and apart[2] < 0:
                note(other, apart[axis], width)
    return list(found.values())


def open_stretch(request: Request, length_m: float) -> tuple[float, float, float]:
    """The longest way without cover along the enclosure, from where to where, and the longest that an
    animal of that length crosses without fear [m].
    """
    length = request.enclosure.inside_m.length
    covers = sorted(
        (item.at_m[0] - item.sides_m[0] / 2, item.at_m[0] + item.sides_m[0] / 2)
        for item in request.items
        if item.is_body and item.sides_m and not item.holds_water
    )
    reached = 0.0
    longest = (0.0, 0.0)
    for begin, end in [*covers, (length, length)]:
        if begin - reached > longest[1] - longest[0]:
            longest = (reached, begin)
        reached = max(reached, end)
    return (*longest, max(OPEN_BL * length_m, OPEN_M))


def _open_stretch(request: Request, profile: Profile, length_m: float) -> list[FurnishingFinding]:
    """A long way without cover, for what lives on the ground."""
    if profile.habit not in GROUND_LIVING or profile.group == "snake":
        return []
    begin, end, most = open_stretch(request, length_m)
    longest = end - begin
    if longest <= most:
        return []
    text = (
        "A long stretch of its floor has no cover: plants, wood or stones to walk along, so that it"
        " need not cross in the open."
    )
    return [FurnishingFinding("open stretch", "", text, longest, most)]


def _view_and_cover(
    request: Request, profile: Profile, length_m: float
) -> list[FurnishingFinding]:
    """Leaves by the perch of what lives among them; nothing over the stone of what watches the sky
    from it.
    """
    plants = [item for item in request.items if isinstance(item, PlantedItem)]
    if profile.habit == "arboreal":
        branches = [item for item in request.items if isinstance(item, Branch)]
        near = max(COVER_BL * length_m, COVER_M)
        if branches and not any(
            _beside(branch, plant) < near for branch in branches for plant in plants
        ):
            text = (
                "It lives among leaves, and none hang within reach of its branches: plants, live or"
                " washed plastic, to vanish behind."
            )
            return [
                FurnishingFinding(
                    "no leaves", max(branches, key=lambda item: item.at_m[2]).id, text
                )
            ]
        return []
    stones = [item for item in request.items if isinstance(item, Slab)]
    if profile.uv.zone < OPEN_ZONE or not profile.basks:
        return []
    for stone in stones:
        over = [
            item
            for item in request.items
            if item.is_body and item.kind in SCREENS and _hangs_over(item, stone)
        ]
        if over:
            text = (
                "Something hangs over the stone that it basks on: it watches the sky from there,"
                " and its sun is in the shade. Move it aside."
            )
            return [FurnishingFinding("view shut", over[0].id, text)]
    return []


def _beside(one: Item, other: Item) -> float:
    """The gap between two items, in the worst direction; negative where they overlap [m]."""
    if one.sides_m is None or other.sides_m is None:
        raise ImpossibleStateError("missing: one.sides_m, other.sides_m")
    flat = [
        abs(one.at_m[n] - other.at_m[n]) - (one.sides_m[n] + other.sides_m[n]) / 2 for n in (0, 1)
    ]
    return max(*flat, one.at_m[2] - _top(other), other.at_m[2] - _top(one))


def _hangs_over(item: Item, stone: Item) -> bool:
    """Whether it covers the middle of a stone from above."""
    if item.sides_m is None:
        raise ImpossibleStateError("missing: item.sides_m")
    covers = all(abs(item.at_m[n] - stone.at_m[n]) < item.sides_m[n] / 2 for n in (0, 1))
    return covers and item.at_m[2] >= _top(stone) - 0.01


def _for_several(request: Request, profile: Profile, length_m: float) -> list[FurnishingFinding]:
    """What animals that share an enclosure would fight over."""
    animals = len(request.animals)
    if animals < 2:
        return []
    found = []
    stones = [item for item in request.items if isinstance(item, Slab)]
    basks = profile.basks
    there = sum(item.size_m[0] * item.size_m[1] for item in stones if item.size_m)
    trunk = trunk_m(profile, length_m)
    needed = animals * trunk * BASK_WIDE * trunk
    if basks and stones and there < needed:
        text = (
            "What they bask on does not hold all of them: the stronger lies in the warmth. A larger"
            " stone, or a second under a second lamp."
        )
        found.append(FurnishingFinding("few stones", stones[0].id, text))
    hides = sum(isinstance(item, Hide) for item in request.items)
    if hides < animals:
        found.append(
            FurnishingFinding(
                "few hides",
                "",
                "Fewer hides than animals: the weaker stays outside. One for each, and one more.",
            )
        )
    dishes = [item for item in request.items if item.holds_water]
    if len(dishes) == 1 and dishes[0].kind == "dish":
        found.append(
            FurnishingFinding(
                "few dishes",
                "",
                "One dish for several: the stronger lies in it. A second for water, and one for"
                " each at meals.",
            )
        )
    return found


def _seen_through(request: Request, profile: Profile) -> list[FurnishingFinding]:
    """Sides that it should not see through."""
    panels = request.enclosure.panels
    clear = sum(
        MATERIALS[getattr(panels, side)].passes_light
        for side in ("front", "back", "left", "right")
        if side not in request.enclosure.covered
    )
    if 4 - clear >= profile.enclosure.opaque_sides:
        return []
    return [
        FurnishingFinding(
            "clear sides",
            "",
            "It sees through more sides than it bears, and walks along them: cover them from"
            " outside, the back first.",
        )
    ]


def _undermined(request: Request, profile: Profile) -> list[FurnishingFinding]:
    """Heavy stones on loose substrate in which something digs."""
    substrate = request.enclosure.substrate
    if (
        profile.body.dig_bl <= 0
        or substrate.depth_m < 0.03
        or substrate.material not in {"soil", "sand"}
    ):
        return []
    stones = [
        t
        for t in request.items
        if isinstance(t, Slab)
        and t.material != "softwood"
        and not t.supported
        and t.at_m[2] >= substrate.depth_m - 0.005
    ]
    if not stones:
        return []
    text = (
        "A digger undermines what lies on its substrate: stones stand on supports from the floor,"
        " set before the substrate goes in."
    )
    return [FurnishingFinding("undermined", stones[0].id, text)]
