"""Calcium supplement for a meal of insects."""

from husbandry.derivation import Source
from husbandry.errors import NoSolutionError
from husbandry.methods import Argument, Example, method

CALCIUM_OF_CARBONATE = 0.4004
"""Mass of calcium in calcium carbonate (definition: 40.08 / 100.09) [1]."""
CALCIUM_PER_OXALATE = 40.08 / 88.02
"""Mass of calcium that a mass of oxalate binds, mole for mole (definition: Ca over C₂O₄) [1]."""


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


@method(
    arguments={"calcium_mg": Argument("mg", 0, 100_000), "oxalate_mg": Argument("mg", 0, 100_000)},
    unit="mg",
    rule="Each milligram of oxalate binds 0.455 mg of calcium, mole for mole.",
    source=Source(kind="published", text="stoichiometry of calcium oxalate"),
    example=Example(
        {"calcium_mg": 99, "oxalate_mg": 100}, 53.46, 1e-3, "by hand: 99 − 100 × 40.08 / 88.02"
    ),
    validity="The most that can be bound: part of the oxalate leaves the gut with other metals.",
)
def calcium_left(calcium_mg: float, oxalate_mg: float) -> float:
    """Calcium of a food that its oxalate leaves free [mg]; 0 where it binds all."""
    return max(calcium_mg - oxalate_mg * CALCIUM_PER_OXALATE, 0.0)


@method(
    arguments={
        "food_g": Argument("g", 0.1, 10_000),
        "calcium_mg_100g": Argument("mg/100 g", 0, 10_000),
        "phosphorus_mg_100g": Argument("mg/100 g", 0.1, 10_000),
        "oxalate_mg_100g": Argument("mg/100 g", 0, 20_000),
        "carbonate_g": Argument("g", 0, 1000),
    },
    unit="1",
    rule="(Calcium left after oxalate + 0.40 × calcium carbonate) ÷ phosphorus.",
    source=Source(kind="published", text="mass balance; calcium is 40 % of its carbonate"),
    example=Example(
        {"food_g": 100, "calcium_mg_100g": 150, "phosphorus_mg_100g": 50},
        3.0,
        1e-9,
        "by hand: 150 / 50",
    ),
)
def salad_calcium_ratio(
    food_g: float,
    calcium_mg_100g: float,
    phosphorus_mg_100g: float,
    oxalate_mg_100g: float = 0.0,
    carbonate_g: float = 0.0,
) -> float:
    """Calcium that is left, over phosphorus, of a heap of leaves with what is strewn on it [1]."""
    free_mg = calcium_left(calcium_mg_100g, oxalate_mg_100g) * food_g / 100
    strewn_mg = 1000 * carbonate_g * CALCIUM_OF_CARBONATE
    calcium_mg = free_mg + strewn_mg
    phosphorus_mg = phosphorus_mg_100g * food_g / 100
    return calcium_mg / phosphorus_mg
