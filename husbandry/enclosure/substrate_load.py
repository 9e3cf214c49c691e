"""The substrate in numbers: how much to mix for a layer, and what the floor carries."""

from husbandry.derivation import Source
from husbandry.methods import Argument, Example, method

STANDARD_GRAVITY = 9.80665
"""Standard gravity (ISO 80000-3, exact) [m/s²]."""


@method(
    arguments={
        "parts": Argument("1", 0.1, 50),
        "length_m": Argument("m", 0.05, 10),
        "depth_m": Argument("m", 0.05, 10),
        "layer_m": Argument("m", 0.005, 1.5),
        "settling": Argument("1", 0, 0.5),
    },
    unit="l",
    rule=(
        "Length × depth × layer / (1 − settling), loose, over the sum of all parts: the litres of"
        " one part."
    ),
    source=Source(
        kind="common practice",
        text="loose soil settles by about 15 % when it is wetted and pressed",
    ),
    example=Example(
        {"parts": 2.2, "length_m": 0.9, "depth_m": 0.45, "layer_m": 0.10, "settling": 0.15},
        21.66,
        1e-3,
        "arithmetic: 90 × 45 cm, 10 cm deep, 1 : 1 : 0.2 of three materials",
    ),
    validity=(
        "A flat bed of inner dimensions; buried bodies and pores that fines fall into are not taken"
        " off. 15 % of settling is 17.6 % more to buy."
    ),
)
def mix_volumes(
    parts: float, length_m: float, depth_m: float, layer_m: float, settling: float = 0.15
) -> float:
    """Loose volume of one part of a mix for a settled layer [l]; `parts` is the sum of all parts,
    2.2 for 1 : 1 : 0.2.
    """
    return length_m * depth_m * layer_m * 1000 / (1 - settling) / parts


@method(
    arguments={
        "mass_kg": Argument("kg", 0, 20_000),
        "length_m": Argument("m", 0.1, 10),
        "depth_m": Argument("m", 0.1, 10),
    },
    unit="kPa",
    rule="Mass × 9.80665 m/s² over the footprint.",
    source=Source(
        kind="from memory",
        text=(
            "EN 1991-1-1, category A: dwellings are designed for 1.5 to 2.0 kPa over the whole"
            " floor"
        ),
    ),
    example=Example(
        {"mass_kg": 147, "length_m": 0.9, "depth_m": 0.45},
        3.56,
        2e-3,
        "arithmetic: 1 442 N on 0.405 m²",
    ),
    validity=(
        "A mean over the footprint. Neither more than a floor's design load is a failure by itself"
        " nor less a clearance: a structural professional and the local code decide."
    ),
)
def floor_load(mass_kg: float, length_m: float, depth_m: float) -> float:
    """Mean load on the floor under an enclosure [kPa]."""
    return mass_kg * STANDARD_GRAVITY / (length_m * depth_m) / 1000
