"""Where a grown female buries her eggs. Rules: docs/methods/furniture.md."""

from collections.abc import Sequence

from husbandry.documents.request import Request
from husbandry.documents.result import Note, Occupant
from husbandry.findings.dig_boxes import deep_box
from husbandry.items.furnishings import Hide

LAID = 0.9
"""Of the depth that her kind digs is enough (design choice) [1]."""
_STRAINS = "One that digs or strains and lays nothing goes to a veterinarian at once."
_SUBSTRATE = (
    "A grown female digs for her eggs, mated or not: damp substrate that holds a tunnel, at one"
    f" end or in a tub. {_STRAINS}"
)
_ENCLOSURE = (
    "A grown female lays in a lay box of damp moss or soil, mated or not, and there is none."
    f" {_STRAINS}"
)


def laying(request: Request, animals: Sequence[Occupant]) -> list[Note]:
    """What is missing for the eggs of each grown female, mated or not: substrate that is deep
    enough, or a laying box: a moist hide, or a dig box that is deep enough.
    """
    found = []
    substrate = request.enclosure.substrate
    deepest = substrate.deepest_m if substrate.material in {"soil", "sand"} else 0.0
    for animal, known in zip(animals, request.animals, strict=True):
        profile = request.profiles[animal.species]
        young = profile.young
        grown = animal.stage.slug in {stage.slug for stage in profile.stages[-2:]}
        if known.sex != "female" or not grown or young.lay_depth_m is None:
            continue
        deep = young.lay_depth_m.ends[0]
        if deep_box(request, profile, LAID * deep, animal.length_m) is not None:
            continue
        if young.lay_in == "substrate" and deepest < LAID * deep:
            found.append(
                Note(
                    slug="laying",
                    severity="care",
                    text=_SUBSTRATE,
                    values={"there": deepest, "needed": deep},
                )
            )
        elif young.lay_in == "laying_box" and not any(
            isinstance(item, Hide) and item.moist for item in request.items
        ):
            found.append(
                Note(
                    slug="laying",
                    severity="care",
                    text=_ENCLOSURE,
                    values={"there": 0.0, "needed": deep},
                )
            )
    return found
