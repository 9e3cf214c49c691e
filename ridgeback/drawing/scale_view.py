"""An enclosure to scale beside a person and a door: what a room has to hold."""

import functools

from django.utils.safestring import SafeString, mark_safe

from husbandry.quantity import Kind, Units, show
from husbandry.species.profile import Profile
from ridgeback.drawing.animals import extent, side_view, tallness
from ridgeback.drawing.primitives import (
    Circle,
    Drawing,
    Line,
    Path,
    Place,
    Rect,
    Shape,
    Text,
    polyline,
    smooth,
)
from ridgeback.drawing.svg import write

DOOR_M = (0.86, 2.0)
PERSON_M = 1.7
WIDTH, FLOOR, TOP = 640.0, 262.0, 22.0
# A standing person of height 1, from the front, right half; mirrored. Drawn by us.
_HALF: tuple[Place, ...] = (
    (0.000, 0.870),
    (0.028, 0.862),
    (0.034, 0.842),
    (0.075, 0.828),
    (0.118, 0.808),
    (0.136, 0.740),
    (0.142, 0.620),
    (0.146, 0.500),
    (0.140, 0.462),
    (0.118, 0.466),
    (0.112, 0.560),
    (0.098, 0.690),
    (0.094, 0.600),
    (0.098, 0.500),
    (0.092, 0.380),
    (0.082, 0.220),
    (0.076, 0.050),
    (0.092, 0.012),
    (0.088, 0.000),
    (0.034, 0.000),
    (0.030, 0.060),
    (0.022, 0.260),
    (0.010, 0.440),
    (0.000, 0.452),
)


def _person(left: float, scale: float) -> list[Shape]:
    tall = PERSON_M * scale
    middle = left + 0.15 * tall
    right_side = [(middle + x * tall, FLOOR - y * tall) for x, y in _HALF]
    left_side = [(middle - x * tall, FLOOR - y * tall) for x, y in reversed(_HALF)]
    return [
        Path("person", smooth([*right_side, *left_side], closed=True)),
        Circle("person", middle, FLOOR - 0.935 * tall, 0.062 * tall),
    ]


def beside(profile: Profile, sides_m: tuple[float, float, float], units: Units) -> Drawing:
    """The grown animal's enclosure, with the animal in it, between a person and a door."""
    length, depth, height = sides_m
    person_wide = 0.3 * PERSON_M
    whole = person_wide + length + DOOR_M[0] + 0.5
    scale = min((WIDTH - 60) / whole, (FLOOR - TOP) / max(DOOR_M[1], PERSON_M, height))
    x = (WIDTH - whole * scale) / 2
    parts: list[Shape] = [Line("axis", (0, FLOOR), (WIDTH, FLOOR)), *_person(x, scale)]
    left = x + (person_wide + 0.25) * scale
    right = left + length * scale
    roof = FLOOR - height * scale
    door, parts = _room_outline(height, left, parts, profile, right, roof, scale)
    parts.append(
        Text(
            "words-soft",
            (left + right) / 2,
            FLOOR + 36,
            f"{show(length, Kind.LENGTH, units)} long, {show(depth, Kind.LENGTH, units)} deep",
            "middle",
        )
    )
    parts.append(
        Text(
            "words-soft", (left + right) / 2, roof - 7, show(height, Kind.LENGTH, units), "middle"
        )
    )
    parts.append(
        Text(
            "words-soft",
            x + 0.15 * PERSON_M * scale,
            FLOOR + 18,
            show(PERSON_M, Kind.LENGTH, units),
            "middle",
        )
    )
    parts.append(
        Text(
            "words-soft",
            door + DOOR_M[0] / 2 * scale,
            FLOOR + 18,
            f"door {show(DOOR_M[1], Kind.LENGTH, units)}",
            "middle",
        )
    )
    said = (
        f"An enclosure {show(length, Kind.LENGTH, units)} long and"
        f" {show(height, Kind.LENGTH, units)} high, between a person and a door, to scale."
    )
    return Drawing(
        WIDTH,
        FLOOR + 44,
        tuple(parts),
        f"The grown enclosure of the {profile.name}",
        said,
        "beside",
    )


def _room_outline(
    height: float,
    left: float,
    parts: list[Shape],
    profile: Profile,
    right: float,
    roof: float,
    scale: float,
) -> tuple[float, list[Shape]]:
    """Draw the enclosure, its roof and its door."""
    parts.append(Rect("inside", left, roof, right - left, FLOOR - roof))
    substrate = min(0.05, height / 4) * scale
    water = profile.habit == "aquatic"
    parts.append(
        Rect(
            "water" if water else "substrate-soil",
            left,
            FLOOR - (0.85 * (FLOOR - roof) if water else substrate),
            right - left,
            0.85 * (FLOOR - roof) if water else substrate,
        )
    )
    body = profile.nose_to_tail_m(profile.adult_of("any").length_mm.typical / 1000) * scale
    wide = extent(profile.body.outline) * body
    if wide <= right - left:
        stands = FLOOR - substrate if not water else FLOOR - 0.3 * (FLOOR - roof)
        if profile.body.perch_share and not water:
            stands = FLOOR - substrate - profile.body.perch_share * (FLOOR - substrate - roof)
            parts.append(Line("branch-line", (left + 2, stands + 1), (right - 2, stands + 1)))
        parts += [
            Path("animal", d)
            for d in side_view(
                profile.body.outline, left + (right - left - wide) / 2, stands, body
            )
        ]
    parts.append(
        Path(
            "enclosure",
            polyline([(left, roof), (left, FLOOR), (right, FLOOR), (right, roof), (left, roof)]),
        )
    )
    door = right + 0.25 * scale
    parts.append(
        Rect("door", door, FLOOR - DOOR_M[1] * scale, DOOR_M[0] * scale, DOOR_M[1] * scale)
    )
    parts.append(Circle("knob", door + 0.78 * scale, FLOOR - 1.0 * scale, 2.2))
    return door, parts


def silhouette(profile: Profile, width: float = 132.0, height: float = 76.0) -> Drawing:
    """The animal alone, as large as the paper allows: which kind of body it is, for lists."""
    outline = profile.body.outline
    length = min((width - 8) / extent(outline), (height - 14) / tallness(outline))
    wide = extent(outline) * length
    parts: list[Shape] = [Line("axis", (0, height - 6), (width, height - 6))]
    parts += [
        Path("animal", d) for d in side_view(outline, (width - wide) / 2, height - 6, length)
    ]
    return Drawing(width, height, tuple(parts), profile.name, kind="silhouette")


@functools.lru_cache(maxsize=4096)
def silhouette_svg(profile: Profile) -> SafeString:
    """The small silhouette, written once a process: lists show it many times."""
    return mark_safe(write(silhouette(profile)))  # our own writer escapes
