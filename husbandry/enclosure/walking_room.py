"""The reviewer's test of an enclosure: with its furniture in, can the animal walk, turn, climb and
dig? Method: docs/methods/stage-and-size.md.
"""

from collections.abc import Sequence
from typing import Any, Literal, NamedTuple

from husbandry.derivation import Derivation, DerivationInput, Document, Source, named_value
from husbandry.enclosure.geometry import Interior
from husbandry.enclosure.substrate import NEARLY
from husbandry.enclosure.trade_size import CLOSE
from husbandry.species.profile import Profile

WALK_SHARE = 0.5
"""Of the floor that must be left beside hides and water (design choice: half) [1]."""
HIDE_BL: dict[str, tuple[float, float]] = {
    "snake": (0.16, 0.16),
    "frog": (1.4, 1.2),
    "toad": (1.4, 1.2),
    "salamander": (0.6, 0.4),
}
"""Floor of one close-fitting hide over the body length, by group: a snake coils (common practice)
[1].
"""
HIDE_OF_OTHERS_BL = (0.6, 0.35)
"""The same of all other groups (common practice) [1]."""
DISH_BL: dict[str, tuple[float, float]] = {
    "snake": (0.16, 0.16),
    "frog": (2.0, 1.6),
    "toad": (2.0, 1.6),
    "salamander": (0.7, 0.5),
}
"""Floor of a dish that it lies in; for others 1.1 × 0.7 (common practice) [1]."""
DRINK_M = 0.12
"""Side of a dish only to drink from, at most (common practice) [m]."""
TURN_BL: dict[str, float] = {
    "snake": 0.15,
    "tortoise": 1.5,
    "turtle": 1.5,
    "frog": 1.5,
    "toad": 1.5,
    "salamander": 0.5,
}
"""Depth in which it turns over the length it is counted in; for lizards half their whole length
(common practice) [1].
"""
LIZARD_TURN = 0.5
"""Room that a lizard turns in, over its whole length (common practice, no source) [1]."""
_PRACTICE = Source(
    kind="common practice", text="the reviewer's test: essentials in, is there room left to walk?"
)
RoomSlug = Literal["walk", "turn", "climb", "dig"]


class FloorItem(NamedTuple):
    """An item that takes floor."""

    kind: str
    length_m: float
    depth_m: float


class RoomCheck(Document):
    """One question of the reviewer."""

    slug: RoomSlug
    name: str
    enough: bool
    needed: float
    there: Derivation
    """What there is, in the unit of `needed`."""


def _check(
    slug: RoomSlug,
    name: str,
    needed: float,
    there: float,
    unit: str,
    rule: str,
    given: Sequence[DerivationInput],
    change: str,
    close: float = CLOSE,
) -> RoomCheck:
    derivation = Derivation(
        value=there,
        unit=unit,
        rule=rule,
        inputs=(*given, named_value("needed", needed, unit)),
        sources=(_PRACTICE,),
        would_change=change,
    )
    return RoomCheck(
        slug=slug, name=name, enough=there >= close * needed, needed=needed, there=derivation
    )


def essentials_m2(profile: Profile, body_length_m: float, animals: int = 1) -> float:
    """Floor that the hides and the water of its species take [m²]."""
    long, deep = HIDE_BL.get(profile.group, HIDE_OF_OTHERS_BL)
    lies_m = profile.lying_m(body_length_m)
    hide = long * deep * lies_m**2
    if profile.water.soak:
        long, deep = DISH_BL.get(profile.group, (1.1, 0.7))
        dish = long * deep * lies_m**2
    else:
        dish = min(DRINK_M, 0.5 * body_length_m) ** 2
    return animals * len(profile.hides.places) * hide + dish


def room_left(
    interior: Interior,
    profile: Profile,
    body_length_m: float,
    standing: Sequence[FloorItem] = (),
    animals: int = 1,
    deep_end_m: float | None = None,
    substrate_needed_m: float = 0.0,
) -> tuple[RoomCheck, ...]:
    """Ask an enclosure the reviewer's questions.

    Parameters
    ----------
    body_length_m : float
        Of the largest animal, of the kind the profile counts in [m].
    standing : sequence of FloorItem
        What stands in the enclosure already. What is still missing of hides and water is counted at
        the size its species needs;
        a basking stone is walked on, so it takes no floor.
    """
    if profile.habit == "aquatic":
        return ()
    found: list[RoomCheck] = []
    whole_m = _ask_floor(animals, body_length_m, found, interior, profile, standing)
    if profile.body.perch_share:
        found.append(
            _check(
                "climb",
                "height to climb",
                whole_m if profile.group != "snake" else 0.35 * whole_m,
                interior.air_height_m,
                "m",
                "The air above the substrate. A climber can stretch its whole length upwards, a"
                " climbing snake a third of it.",
                (
                    named_value("nose to tail", whole_m, "m"),
                    named_value("substrate", interior.substrate_depth_m, "m"),
                ),
                "A taller enclosure, less substrate, or growth.",
            )
        )
    if profile.body.dig_bl and substrate_needed_m:
        deep = interior.substrate_depth_m if deep_end_m is None else deep_end_m
        check = _check(
            "dig",
            "substrate to dig in",
            round(substrate_needed_m, 3),
            deep,
            "m",
            "The depth of the substrate at its deep end, against what its profile says of its"
            " stage.",
            (named_value("deep end", deep, "m"),),
            "More substrate, another approach, or the next stage.",
            close=NEARLY,
        )
        found.append(check)
    return tuple(found)


def _ask_floor(
    animals: int,
    body_length_m: float,
    found: list[RoomCheck],
    interior: Interior,
    profile: Profile,
    standing: Any,
) -> float:
    """Ask whether it can walk and turn on the floor that is left."""
    whole_m = profile.nose_to_tail_m(body_length_m)
    if profile.habit != "arboreal":
        takes = (
            {"hide", "dish"} if profile.enclosure.water_share[1] else {"hide", "dish", "pool"}
        )  # who lives in water walks there
        essential = essentials_m2(profile, body_length_m, animals)
        placed = sum(item.length_m * item.depth_m for item in standing if item.kind in takes)
        taken = max(essential, placed)
        found.append(
            _check(
                "walk",
                "room left to walk",
                WALK_SHARE * interior.footprint_m2,
                max(interior.footprint_m2 - taken, 0.0),
                "m²",
                "The floor less the hides and the water that its species needs, or less those that"
                " stand in it where they take more. Half of the floor must be left; a basking stone"
                " is walked on.",
                (
                    named_value("floor inside", interior.footprint_m2, "m²"),
                    named_value("essentials of its species", essential, "m²"),
                    named_value("hides and dishes in the enclosure", placed, "m²"),
                ),
                "A larger floor, smaller hides, or growth.",
            )
        )
    turn = (
        TURN_BL[profile.group] * body_length_m
        if profile.group in TURN_BL
        else LIZARD_TURN * whole_m
    )
    found.append(
        _check(
            "turn",
            "depth to turn in",
            turn,
            min(interior.length_m, interior.depth_m),
            "m",
            "The shorter side of the floor. Lizards turn in half their whole length, tortoises,"
            " turtles and frogs in one and a half of theirs, snakes in a loop.",
            (
                named_value("body length", body_length_m, "m"),
                named_value("nose to tail", whole_m, "m"),
            ),
            "A deeper enclosure, or growth.",
        )
    )
    return whole_m
