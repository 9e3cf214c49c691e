"""What is wrong with an outdoor pen for who goes out, with the change that puts it right.

Method: docs/methods/outdoors.md.
"""

import math
from collections.abc import Iterator, Sequence
from typing import Any, Literal

from husbandry.derivation import Document
from husbandry.enclosure.equipment import MESHES
from husbandry.enclosure.sizing import floor_for, sides_for
from husbandry.enclosure.trade_size import CLOSE, FLOOR_PROPORTION
from husbandry.forecast.outdoor_day import SUNK_M, WALL_LENGTHS, OutdoorDay, why_not
from husbandry.pens.pen import PenAnimal, PenSpec
from husbandry.species.approaches import QUESTIONS
from husbandry.species.company import CompanyMember, reasons_apart

LEAST_WALL_M = 0.3
"""No wall is lower, however small the animal (common practice, no source) [m]."""
LEAST_SHADE, MUCH_SHADE = 1 / 3, 0.5
"""Of the floor in shade all day; the second where the sun is stronger than the animal should be in
(common practice, no source) [1]."""
BURNS_C = 55.0
"""Ground that hot burns bellies and feet within seconds (common practice, no source) [°C]."""
HEAD_GAPS = 4.0
"""Width of a lizard's or a snake's head over the gap between its eyes, at the least: what is wider lets it
through (common practice, no source: four to six) [1]."""
STEP_M = 0.1
"""Sizes that are advised are whole tenths of a metre (design choice) [m]."""
CLIMBING = frozenset({"arboreal", "semi-arboreal"})
PenSlug = Literal[
    "not outside",
    "company",
    "greenhouse",
    "open top",
    "climbs out",
    "slips through",
    "wall",
    "digs out",
    "ground burns",
    "shade",
    "floor",
    "height",
    "water",
    "hides",
    "stone",
    "branches",
    "see-through",
]


class PenFinding(Document):
    """Something that is wrong with a pen."""

    slug: PenSlug
    severity: Literal["danger", "wrong"]
    text: str
    """What is wrong, without the numbers that the reader's units need."""
    actual: float | None = None
    needed: float | None = None
    """What there is and what it takes [m, m² or share]; None for what is not a number."""
    patch: dict[str, Any] = {}
    """Fields of the pen as they should be; empty for what no pen can put right."""


def findings(
    pen: PenSpec, animals: Sequence[PenAnimal], days: Sequence[OutdoorDay]
) -> tuple[PenFinding, ...]:
    """Judge a pen, in order of harm.

    Parameters
    ----------
    days : sequence of OutdoorDay
        The hottest day of the year in this pen, for each of the animals.
    """
    found = [
        *_who(animals),
        *_cover(pen, animals),
        *_walls(pen, animals),
        *_heat(pen, days),
        *_room(pen, animals),
        *_furniture(pen, animals),
    ]
    return tuple(sorted(found, key=lambda one: one.severity != "danger"))


def _who(animals: Sequence[PenAnimal]) -> Iterator[PenFinding]:
    """Who should not be there, or not together."""
    for one in animals:
        if why := why_not(one.profile):
            yield PenFinding(slug="not outside", severity="danger", text=f"{one.name}: {why}")
    members = [
        CompanyMember(one.profile.species, one.stage, one.body_m, one.sex) for one in animals
    ]
    profiles = {one.profile.species: one.profile for one in animals}
    for text in reasons_apart(members, profiles, where="pen"):
        yield PenFinding(slug="company", severity="danger", text=text)


def is_climber(one: PenAnimal) -> bool:
    """Whether walls alone do not hold it: climbers, snakes, and lizards that are small."""
    return one.profile.habit in CLIMBING or one.profile.group in {"snake", "lizard"}


def opening_m(mesh: str) -> float:
    """Between the wires of a mesh, by its slug [m]."""
    one = MESHES[mesh]
    return (one.pitch_mm - one.wire_mm) / 1000


def narrowest_head_m(animals: Sequence[PenAnimal]) -> float:
    """Width of the smallest head [m]."""
    return min(HEAD_GAPS * one.profile.body.eye_gap_bl * one.body_m for one in animals)


def mesh_for(animals: Sequence[PenAnimal]) -> str:
    """The widest mesh that holds them, by its slug: it keeps birds and cats out and most of the sun in."""
    by_opening = sorted(MESHES, key=opening_m)
    if not animals:
        return by_opening[-1]
    head_m = narrowest_head_m(animals)
    holds = [mesh for mesh in by_opening if opening_m(mesh) <= head_m]
    return holds[-1] if holds else by_opening[0]


def wall_needed_m(animals: Sequence[PenAnimal]) -> float:
    """Height of walls that hold them [m]."""
    longest = max((one.body_m for one in animals), default=0.0)
    return max(_up(WALL_LENGTHS * longest), LEAST_WALL_M)


def _cover(pen: PenSpec, animals: Sequence[PenAnimal]) -> Iterator[PenFinding]:
    """What gets out above, and what gets in."""
    climbers = [one for one in animals if is_climber(one)]
    holds = mesh_for(climbers)
    if not pen.top and climbers:
        is_one = len(climbers) == 1
        does = "climbs or jumps" if is_one else "climb or jump"
        text = (
            f"{_names(climbers)} {does} out of an open pen, and birds, cats and dogs come in: mesh over all"
            " of it, tight at the edges."
        )
        yield PenFinding(slug="climbs out", severity="danger", text=text, patch={"top": holds})
    elif not pen.top:
        text = (
            "It is open above: crows, gulls, cats, dogs, foxes and rats take even grown tortoises. A"
            " wide mesh or net over all of it."
        )
        yield PenFinding(slug="open top", severity="danger", text=text, patch={"top": holds})
    elif climbers and opening_m(pen.top) > opening_m(holds):
        text = "It slips through the mesh: where its head passes, all of it does."
        yield PenFinding(
            slug="slips through",
            severity="danger",
            text=text,
            actual=opening_m(pen.top),
            needed=opening_m(holds),
            patch={"top": holds},
        )


def _walls(pen: PenSpec, animals: Sequence[PenAnimal]) -> Iterator[PenFinding]:
    """Walls that do not hold them, or harm them."""
    climbers = [one for one in animals if is_climber(one)]
    if pen.walls == "glass":
        text = (
            "Glass walls make a greenhouse of it: in the sun the air inside is deadly within minutes, and"
            " glass takes the ultraviolet. Boards or mesh."
        )
        walls = "mesh" if climbers else "boards"
        yield PenFinding(slug="greenhouse", severity="danger", text=text, patch={"walls": walls})
    needed = wall_needed_m(animals)
    if animals and not climbers and pen.wall_m < CLOSE * needed:
        text = "The walls are too low: it climbs over them, one on the back of another."
        yield PenFinding(
            slug="wall",
            severity="danger",
            text=text,
            actual=pen.wall_m,
            needed=needed,
            patch={"wall_m": needed},
        )
    if pen.sunk_m < CLOSE * SUNK_M and any(one.profile.body.dig_bl > 0 for one in animals):
        text = "It digs under the walls and is gone: let them into the ground, or lay slabs along them."
        yield PenFinding(
            slug="digs out",
            severity="danger",
            text=text,
            actual=pen.sunk_m,
            needed=SUNK_M,
            patch={"sunk_m": SUNK_M},
        )
    if pen.walls == "mesh" and animals and not climbers:
        text = (
            "It sees through the walls and runs along them all day, rubbing its nose sore: boards."
        )
        yield PenFinding(
            slug="see-through", severity="wrong", text=text, patch={"walls": "boards"}
        )


def _heat(pen: PenSpec, days: Sequence[OutdoorDay]) -> Iterator[PenFinding]:
    """Where it gets too hot."""
    needed = MUCH_SHADE if any(day.strong_uv for day in days) else LEAST_SHADE
    if pen.shade_share < CLOSE * needed:
        text = (
            "Too little shade: without it an animal dies of heat within the hour. A board on stones, a"
            " shrub, a roof on posts that the air goes through."
        )
        yield PenFinding(
            slug="shade",
            severity="danger",
            text=text,
            actual=pen.shade_share,
            needed=needed,
            patch={"shade_share": math.ceil(20 * needed - 1e-9) / 20},
        )
    hottest = max((day.hottest_ground_c for day in days if not day.ruled_out), default=0.0)
    if hottest > BURNS_C:
        text = "Its ground burns at noon: grass, or moist soil, on most of it."
        yield PenFinding(
            slug="ground burns",
            severity="danger",
            text=text,
            actual=hottest,
            needed=BURNS_C,
            patch={"ground": "grass"},
        )


def floor_needed_m(animals: Sequence[PenAnimal]) -> tuple[float, float, float]:
    """Length, width and height that those who go out need [m]: as the largest of them needs in an
    enclosure, with the floor that company adds.
    """
    sides = []
    for one in animals:
        floor = floor_for(one.profile, len(animals))
        approach = QUESTIONS["how-big"].chosen(one.chosen).slug
        sides.append(sides_for(one.profile, one.stage, approach, one.body_m, floor))
    return max(sides, key=lambda each: each[0] * each[1])


def _room(pen: PenSpec, animals: Sequence[PenAnimal]) -> Iterator[PenFinding]:
    """Whether there is floor enough, and height for those that climb."""
    if not animals:
        return
    length, width, height = floor_needed_m(animals)
    long, short = max(pen.length_m, pen.width_m), min(pen.length_m, pen.width_m)
    if long * short < CLOSE * length * width or short < CLOSE * FLOOR_PROPORTION * width:
        grows = max(math.sqrt(length * width / (long * short)), 1.0)
        wide = max(_up(short * grows), _up(FLOOR_PROPORTION * width))
        far = max(_up(long * grows), _up(length * width / wide))
        text = "The pen is too small: it turns, but has no way to go, and no place away from the others."
        patch = {"length_m": far, "width_m": wide}
        if pen.width_m > pen.length_m:
            patch = {"length_m": wide, "width_m": far}
        yield PenFinding(
            slug="floor",
            severity="wrong",
            text=text,
            actual=pen.floor_m2,
            needed=length * width,
            patch=patch,
        )
    if any(one.profile.habit in CLIMBING for one in animals) and pen.wall_m < CLOSE * height:
        text = "It is too low to climb in: heights are where it feels safe and where it finds its warmth."
        yield PenFinding(
            slug="height",
            severity="wrong",
            text=text,
            actual=pen.wall_m,
            needed=_up(height),
            patch={"wall_m": _up(height)},
        )


def _furniture(pen: PenSpec, animals: Sequence[PenAnimal]) -> Iterator[PenFinding]:
    """What it must have in it."""
    if not animals:
        return
    if not pen.water:
        text = "No water: a flat dish in the shade, filled fresh each time."
        yield PenFinding(slug="water", severity="danger", text=text, patch={"water": True})
    if pen.hides < len(animals):
        text = "Too few hides: one for each animal, in the shade, with a roof and dry."
        yield PenFinding(
            slug="hides",
            severity="wrong",
            text=text,
            actual=float(pen.hides),
            needed=float(len(animals)),
            patch={"hides": len(animals)},
        )
    climbers = [one for one in animals if one.profile.habit in CLIMBING]
    if climbers and not pen.branches:
        text = "Nothing to climb on: branches from the sun into the shade."
        yield PenFinding(slug="branches", severity="wrong", text=text, patch={"branches": True})
    if len(climbers) < len(animals) and not pen.stone:
        text = "No place to warm up on: a dark flat stone in the morning sun is warm hours before the ground."
        yield PenFinding(slug="stone", severity="wrong", text=text, patch={"stone": True})


def _names(animals: Sequence[PenAnimal]) -> str:
    names = [one.name for one in animals]
    return names[0] if len(names) == 1 else f"{', '.join(names[:-1])} and {names[-1]}"


def _up(metres: float) -> float:
    """The next tenth of a metre up."""
    return round(math.ceil(metres / STEP_M - 1e-9) * STEP_M, 2)
