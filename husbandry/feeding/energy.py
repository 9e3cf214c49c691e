"""How much energy an animal spends: a band of plausibility around a feeding plan, never a
prescription.
"""

from husbandry.derivation import Source
from husbandry.methods import Argument, Example, method

KJ_PER_KCAL = 4.184
"""Thermochemical calorie (definition, exact) [kJ/kcal]."""
JOULE_PER_ML_OXYGEN = 20.1
"""Energy of a millilitre of oxygen (source: feeding C1) [J/ml]."""


@method(
    arguments={"mass_g": Argument("g", 0.1, 200_000)},
    unit="kJ/day",
    rule="Field metabolic rate of free-living reptiles: 0.196 m^0.889.",
    source=Source(
        kind="from memory",
        text="K. A. Nagy, I. A. Girard & T. K. Brown 1999, Annual Review of Nutrition 19",
    ),
    example=Example(
        {"mass_g": 100}, 11.76, 0.002, "arithmetic of the published equation (from memory)"
    ),
)
def field_metabolic_rate(mass_g: float) -> float:
    """Energy a free-living reptile of that mass turns over [kJ/day]: the upper rail for a kept one."""
    return float(0.196 * mass_g**0.889)


@method(
    arguments={"mass_g": Argument("g", 0.1, 200_000), "temp_c": Argument("°C", 5, 40)},
    unit="kJ/day",
    rule="Resting squamates: V̇O₂ = 0.013 m^0.80 10^(0.038 t) 10^0.14 ml/h, 20.1 J/ml.",
    source=Source(
        kind="from memory", text="R. M. Andrews & F. H. Pough 1985, Physiological Zoology 58"
    ),
    example=Example(
        {"mass_g": 100, "temp_c": 30},
        4.755,
        0.01,
        "arithmetic of the published equation (from memory): 3.45 standard × 10^0.14",
    ),
)
def resting_metabolic_rate(mass_g: float, temp_c: float) -> float:
    """Energy a resting lizard or snake of that mass turns over at that body temperature [kJ/day]."""
    oxygen_ml_h = 0.013 * mass_g**0.80 * 10 ** (0.038 * temp_c) * 10**0.14
    return float(oxygen_ml_h * JOULE_PER_ML_OXYGEN * 24 / 1000)
