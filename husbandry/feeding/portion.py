"""The size of a meal, and what the scale says from one weighing to the next."""

from husbandry.derivation import Source
from husbandry.methods import Argument, Example, method


@method(
    arguments={
        "body_g": Argument("g", 0.1, 200_000),
        "low": Argument("1", 0.001, 0.5),
        "high": Argument("1", 0.001, 0.5),
    },
    unit="g",
    rule="Body mass × the middle of two shares.",
    source=Source(kind="common practice", text="a growing snake takes 10 to 15 % of its mass"),
    example=Example(
        {"body_g": 400, "low": 0.10, "high": 0.15},
        50.0,
        1e-9,
        "common practice, no source: 10 to 15 % of 400 g",
    ),
)
def meal_mass(body_g: float, low: float, high: float) -> float:
    """Mass of a meal from body mass and the ends of the usual share [g]."""
    return body_g * (low + high) / 2


@method(
    arguments={
        "before_g": Argument("g", 0.1, 200_000),
        "after_g": Argument("g", 0.1, 200_000),
        "days": Argument("days", 0.5, 4000),
    },
    unit="%/week",
    rule=(
        "Change of mass over the first mass, per week. A loss of a tenth of its mass belongs before"
        " a veterinarian."
    ),
    source=Source(kind="common practice", text="weighed on the same scale, before a meal"),
    example=Example(
        {"before_g": 200, "after_g": 190, "days": 14}, -2.5, 1e-9, "arithmetic: 5 % in two weeks"
    ),
)
def weight_change(before_g: float, after_g: float, days: float) -> float:
    """Change of mass between two weighings [% of the first a week]; negative when it lost."""
    return (after_g / before_g - 1) * 100 * 7 / days
