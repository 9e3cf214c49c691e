"""Calcium supplement for a meal of insects."""

from husbandry.derivation import Source
from husbandry.errors import NoSolutionError
from husbandry.methods import Argument, Example, method


@method(
    arguments={
        "food_g": Argument("g", 0.001, 10_000),
        "calcium_mg_100g": Argument("mg/100 g", 0, 10_000),
        "phosphorus_mg_100g": Argument("mg/100 g", 0, 10_000),
        "target_ratio": Argument("1", 0.5, 4),
        "supplement_calcium_share": Argument("1", 0.01, 0.41),
        "supplement_phosphorus_share": Argument("1", 0, 0.4),
        "retention": Argument("1", 0.1, 1),
    },
    unit="mg",
    rule=(
        "Supplement that lifts the sum of calcium to the target times the sum of phosphorus: "
        "(R ΣP − ΣCa) / (f_Ca − R f_P) / share that stays on."
    ),
    source=Source(
        kind="common practice",
        text="target 2 : 1, acceptable from 1.5 : 1; the arithmetic is a mass balance",
    ),
    example=Example(
        {"food_g": 4.5, "calcium_mg_100g": 41, "phosphorus_mg_100g": 295},
        61.8,
        0.002,
        "mass balance by hand: ten adult crickets of 0.45 g, calcium carbonate",
    ),
)
def calcium_supplement(
    food_g: float,
    calcium_mg_100g: float,
    phosphorus_mg_100g: float,
    target_ratio: float = 2.0,
    supplement_calcium_share: float = 0.40,
    supplement_phosphorus_share: float = 0.0,
    retention: float = 1.0,
) -> float:
    """Calcium supplement to dust on a meal [mg]; 0 when the food already reaches the target.

    Raises
    ------
    NoSolutionError
        The supplement itself holds too much phosphorus to reach the target.
    """
    missing_mg = food_g / 100 * (target_ratio * phosphorus_mg_100g - calcium_mg_100g)
    if missing_mg <= 0:
        return 0.0
    strength = supplement_calcium_share - target_ratio * supplement_phosphorus_share
    if strength <= 0:
        raise NoSolutionError(
            f"A supplement with {supplement_phosphorus_share:.0%} phosphorus can never reach"
            f" {target_ratio:g} : 1."
        )
    return missing_mg / strength / retention
