"""Sizes as the trade means them: an enclosure sold as 120 × 60 × 60 meets a rule of 120 × 60 × 60,
whatever its walls; what is left inside is looked at for itself.
"""

from collections.abc import Mapping

from husbandry.derivation import Document
from husbandry.enclosure.equipment import MATERIALS

Sides = tuple[float, float, float]
CLOSE = 0.97
"""A side within this share of what is needed is enough: no tape is that exact (design choice)
[1].
"""
FLOOR_PROPORTION = 0.8
"""A side of the floor may be so much shorter where the area makes up for it: 100 × 72 for 120 × 60
(design choice) [1].
"""
HEIGHT_HOLDS = 0.5
"""Of the height it needs that must be left over the substrate it needs: else it does not hold that
(design choice) [1].
"""
SIZE_NAMES = ("length", "depth", "height")


class Side(Document):
    """One side of the enclosure against the rule."""

    name: str
    needed_m: float
    actual_m: float
    """As it is sold, walls counted in [m]; the height that is left over the substrate where that is
    what is too little.
    """
    enough: bool


def outside(inside_m: Sides, panels: Mapping[str, str], lid: str | None) -> Sides:
    """Outside length, depth and height of an enclosure [m].

    Parameters
    ----------
    inside_m : tuple of float
        Length, depth and height inside [m].
    panels : mapping
        Material of front, back, left, right and bottom.
    lid : str or None
        Material of the lid; None where it adds nothing: mesh, or open.
    """

    def thick(material: str | None) -> float:
        return MATERIALS[material].thickness_m if material and material in MATERIALS else 0.0

    length, depth, height = inside_m
    return (
        round(length + thick(panels.get("left")) + thick(panels.get("right")), 4),
        round(depth + thick(panels.get("front")) + thick(panels.get("back")), 4),
        round(height + thick(panels.get("bottom")) + thick(lid), 4),
    )


def compare(
    outside_m: Sides, above_substrate_m: float, needed_m: Sides
) -> tuple[Side, Side, Side]:
    """Compare an enclosure with the sides needed, its floor turned either way.

    Parameters
    ----------
    outside_m : tuple of float
        Length, depth and height as it is sold [m].
    above_substrate_m : float
        Height left inside above the substrate that the animal needs [m].
    needed_m : tuple of float
        Length, depth and height that the rule asks for [m].
    """
    floor = max(outside_m[:2]), min(outside_m[:2])
    needed = max(needed_m[:2]), min(needed_m[:2])
    room = floor[0] * floor[1] >= CLOSE * needed[0] * needed[1]
    least = CLOSE * FLOOR_PROPORTION if room else CLOSE
    holds_substrate = above_substrate_m >= HEIGHT_HOLDS * needed_m[2]
    high = outside_m[2] if holds_substrate else above_substrate_m
    sides = [
        Side(name=name, needed_m=need, actual_m=round(have, 4), enough=have >= least * need)
        for name, need, have in zip(SIZE_NAMES, needed, floor, strict=False)
    ]
    height = Side(
        name=SIZE_NAMES[2],
        needed_m=needed_m[2],
        actual_m=round(high, 4),
        enough=high >= CLOSE * needed_m[2],
    )
    return sides[0], sides[1], height


def fits_size(outside_m: Sides, above_substrate_m: float, needed_m: Sides) -> bool:
    """Whether an enclosure has the sides needed: see `compare`."""
    return all(side.enough for side in compare(outside_m, above_substrate_m, needed_m))
