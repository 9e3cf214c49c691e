"""How dark it is in a hide: its entrance against its inside. Method: docs/methods/furniture.md."""

from collections.abc import Sequence
from typing import Literal

from husbandry.derivation import Source
from husbandry.methods import Argument, Example, method

Entrance = Literal["hole", "open side", "open ends"]
ENTRANCES: dict[str, str] = {
    "hole": "a hole its body fills",
    "open side": "one side open",
    "open ends": "both ends open",
}
HOLE = 0.3
"""Of a face's width and height that a hole takes (design choice) [1]."""
OPEN = 0.9
"""Of a face that stands open, beside its edges (design choice) [1]."""
INSIDE_REFLECTS = 0.2
"""Of the inside of a hide: bark, stone, dark plastic, soil (design choice; from memory: 0.1 to 0.3)
[1].
"""
SHEER_PASSES = 0.2
"""Of light that plastic which shimmers lets through (design choice) [1]."""
BESIDE = 0.5
"""Light on an upright opening over that on the ground before it, for light that comes from above
on all sides (textbook of daylight) (definition) [1].
"""
DARK_SHARE = 0.05
"""Of the light around it: less is dark enough to sleep in by day (design choice) [1]."""


def opening_m2(size_m: Sequence[float], entrance: Entrance) -> float:
    """What stands open [m²]; a hole and an open side are in its longer face."""
    length, depth, height = size_m
    long = max(length, depth)
    short = min(length, depth)
    if entrance == "hole":
        return HOLE * HOLE * long * height
    return OPEN * height * (long if entrance == "open side" else 2 * short)


def inside_m2(size_m: Sequence[float]) -> float:
    """All of its inner faces [m²]."""
    length, depth, height = size_m
    return 2 * (length * depth + length * height + depth * height)


@method(
    arguments={
        "opening_m2": Argument("m²", 0, 1),
        "inside_m2": Argument("m²", 0.001, 20),
        "sheer_m2": Argument("m²", 0, 20),
    },
    unit="1",
    rule=(
        "Light that enters, by its opening (half of what falls on the ground before it) and through"
        " what shimmers (a fifth of what falls on it), spread over its inside: flux ÷ (inner faces"
        " × (1 − 0.2))."
    ),
    source=Source(
        kind="published",
        text=(
            "interreflection in a cavity (integrating sphere): textbooks of photometry; openings:"
            " average daylight factor"
        ),
    ),
    example=Example(
        {"opening_m2": 0.0144, "inside_m2": 0.136, "sheer_m2": 0.0},
        0.0662,
        0.001,
        "arithmetic: 0.5 × 0.0144 / (0.136 × 0.8)",
    ),
    validity="A mean: the corner away from the entrance is darker.",
)
def hide_light_share(opening_m2: float, inside_m2: float, sheer_m2: float) -> float:
    """Light in a hide over that on the ground beside it [1]."""
    return (BESIDE * opening_m2 + SHEER_PASSES * sheer_m2) / (inside_m2 * (1 - INSIDE_REFLECTS))
