"""Boxes of substrate of their own: whether one does for digging and for laying, and what is amiss.

Rules: docs/methods/furniture.md.
"""

from husbandry.documents.request import Request
from husbandry.enclosure.substrate import NEARLY
from husbandry.enclosure.walking_room import HIDE_BL, HIDE_OF_OTHERS_BL
from husbandry.findings.furnishing_findings import FurnishingFinding
from husbandry.items.containers import DigBox
from husbandry.species.profile import Profile


def box_sides_m(profile: Profile, length_m: float) -> tuple[float, float]:
    """Find the floor of the smallest box that it turns in: that of a hide that all of it fits in
    (common practice) [m].

    Parameters
    ----------
    length_m : float
        Of the animal's body, in its profile's own kind of length [m].
    """
    lies_m = profile.lying_m(length_m)
    long, deep = HIDE_BL.get(profile.group, HIDE_OF_OTHERS_BL)
    return long * lies_m, deep * lies_m


def is_roomy(box: DigBox, profile: Profile, length_m: float) -> bool:
    """Whether an animal of that length turns in it."""
    long, deep = box_sides_m(profile, length_m)
    return max(box.size_m[:2]) >= long and min(box.size_m[:2]) >= deep


def deep_box(request: Request, profile: Profile, depth_m: float, length_m: float) -> DigBox | None:
    """Find a damp box that is filled to a depth and roomy enough; None where none is.

    Parameters
    ----------
    depth_m : float
        Of the substrate that is dug into [m].
    length_m : float
        Of the animal's body, in its profile's own kind of length [m].
    """
    for item in request.items:
        if not isinstance(item, DigBox) or not item.moist:
            continue
        if item.filled_m >= NEARLY * depth_m and is_roomy(item, profile, length_m):
            return item
    return None


def box_findings(request: Request, profile: Profile, length_m: float) -> list[FurnishingFinding]:
    """Say of each box that is too small for its body, or whose substrate is too dry for a tunnel."""
    found = []
    for item in request.items:
        if not isinstance(item, DigBox):
            continue
        if not is_roomy(item, profile, length_m):
            text = "The dig box is so small that it cannot turn in it."
            there = max(item.size_m[:2])
            needed = box_sides_m(profile, length_m)[0]
            found.append(FurnishingFinding("box small", item.id, text, there, needed))
        elif not item.moist:
            text = (
                "The substrate of the dig box is dry: a tunnel falls in on what digs it. Dampen it"
                " until it holds its shape in the hand."
            )
            found.append(FurnishingFinding("box dry", item.id, text))
    return found
