"""How deep a substrate is: what an animal needs, the one rule of sizes, findings and paths; and
what can be laid.
"""

from collections.abc import Mapping

from husbandry.quantity import METRIC, Doubt, Kind, Units, show
from husbandry.species.profile import Profile
from husbandry.species.selection import speaking

NEARLY = 0.9
"""Of the depth that counts as deep enough: no tape in soil is more exact (design choice) [1]."""
USUAL_M = 0.05
"""In plans for what neither digs nor says a depth (common practice) [m]."""
LAID_M: dict[str, tuple[float, float]] = {"paper": (0.002, 0.02), "tile": (0.01, 0.03)}
"""The usual and the greatest thickness of what is laid, not poured (common practice) [m]."""


def question_depth(material: str, depth_m: float, *, units: Units = METRIC) -> Doubt | None:
    """Ask about paper or a tile as thick as a bed of soil: the depth of another substrate stayed.

    Parameters
    ----------
    material : str
        Of a request's substrate.
    depth_m : float
        As it was written [m].
    """
    if material not in LAID_M or depth_m <= LAID_M[material][1]:
        return None
    usual = LAID_M[material][0]
    written, meant = (show(metres, Kind.LENGTH, units, small=True) for metres in (depth_m, usual))
    sentence = (
        f"{material.capitalize()} is about {meant} thick, and {written} is written: "
        "write its thickness, or choose a loose substrate."
    )
    return Doubt(sentence, usual, True, (meant,))


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
    spec = next(iter(speaking(profile.substrate, stage, approaches)), None)
    if spec is not None and spec.depth_m.low is not None:
        return spec.depth_m.low
    return profile.body.dig_bl * body_length_m
