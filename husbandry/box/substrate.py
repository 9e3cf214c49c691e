"""How deep a substrate an animal needs: the one rule that sizes, findings and paths share."""

from collections.abc import Mapping

from husbandry.species.choosing import speaking
from husbandry.species.profile import Profile

NEARLY = 0.9
"""Of the depth that counts as deep enough: no tape in soil is more exact (design choice) [1]."""
USUAL_M = 0.05
"""In plans for what neither digs nor says a depth (common practice) [m]."""


def substrate_m(
    profile: Profile, stage: str, approaches: Mapping[str, str], body_length_m: float
) -> float:
    """Find the depth of substrate that an animal needs [m].

    The lower end of its profile's depth, at its stage and by the chosen approach, decides. Where
    the profile says none, what it digs in decides: a share of its length.

    Parameters
    ----------
    approaches : mapping
        Chosen answers by question.
    body_length_m : float
        Of the kind that the profile counts in [m].
    """
    spec = next(iter(speaking(profile.ground, stage, approaches)), None)
    if spec is not None and spec.depth_m.low is not None:
        return spec.depth_m.low
    return profile.body.dig_bl * body_length_m
