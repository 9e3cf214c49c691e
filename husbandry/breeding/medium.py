"""The incubation box: how much water its medium takes, and how much it has lost.

Method: docs/methods/incubation.md.
"""

from typing import NamedTuple

from husbandry.derivation import Source
from husbandry.methods import Argument, Example, method


class Medium(NamedTuple):
    """What eggs lie in or over."""

    slug: str
    label: str
    water_share: float
    """Water over the dry medium, by mass (common practice) [1]."""
    how: str


MEDIA: dict[str, Medium] = {
    one.slug: one
    for one in (
        Medium(
            "vermiculite",
            "vermiculite",
            1.0,
            "as heavy in water as it is dry; eggs half buried; half as much water for hard shells",
        ),
        Medium(
            "perlite",
            "perlite",
            1.0,
            "as heavy in water as it is dry; eggs half buried, or on a rack above it",
        ),
        Medium(
            "sand and soil",
            "sand and soil",
            0.1,
            "a tenth of its mass in water: it holds its shape when pressed and drips nothing",
        ),
        Medium(
            "moss",
            "sphagnum moss",
            6.0,
            "soaked and wrung out: six times its dry mass in water stays",
        ),
        Medium(
            "none",
            "no medium: a rack over water",
            0.0,
            "a finger of water below the rack; no drop falls from the lid onto an egg",
        ),
    )
}
"""Media by slug, with the water that they take (common practice, no source)."""
TOP_UP_SHARE = 0.1
"""Of the water that went in; less lost than that is left alone (design choice) [1]."""


@method(
    arguments={"medium_g": Argument("g", 1, 20_000), "water_share": Argument("1", 0, 10)},
    unit="g",
    rule="Dry medium × its share of water by mass.",
    source=Source(
        kind="common practice", text="vermiculite and perlite one to one by mass; no source"
    ),
    example=Example({"medium_g": 150, "water_share": 1.0}, 150, 1e-9, "one to one"),
)
def medium_water_g(medium_g: float, water_share: float) -> float:
    """Water that a dry medium takes before eggs are laid in it [g]."""
    return medium_g * water_share


@method(
    arguments={
        "start_g": Argument("g", 1, 50_000),
        "now_g": Argument("g", 1, 50_000),
        "taken_g": Argument("g", 0, 20_000),
    },
    unit="g",
    rule=(
        "What the closed box has lost: its mass when it was closed, less what was taken out of it,"
        " less its mass now. Eggs that drink take water from the medium and leave it in the box."
    ),
    source=Source(kind="from memory", text="conservation of mass"),
    example=Example({"start_g": 812, "now_g": 785, "taken_g": 12}, 15, 1e-9, "812 − 12 − 785"),
)
def medium_top_up_g(start_g: float, now_g: float, taken_g: float) -> float:
    """Water that a box has lost and is given again, beside the eggs [g]; never less than none."""
    return max(start_g - taken_g - now_g, 0.0)


def is_topped_up(lost_g: float, water_g: float) -> bool:
    """Whether so much was lost of the water that went in that some is given again."""
    return lost_g > TOP_UP_SHARE * water_g
