"""How much energy an animal spends: a band of plausibility around a feeding plan, never a
prescription.
"""

from husbandry.derivation import Source
from husbandry.methods import Argument, Example, method

KJ_PER_KCAL = 4.184
"""Thermochemical calorie (definition, exact) [kJ/kcal]."""
PROTEIN_KJ_G, FAT_KJ_G, CARBOHYDRATE_KJ_G = 17.0, 37.0, 17.0
"""Energy that a body gets of food by its parts (source: FAO 2003, general Atwater factors, from
memory) [kJ/g].
"""
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


@method(
    arguments={
        "protein_g": Argument("g", 0, 10_000),
        "fat_g": Argument("g", 0, 10_000),
        "carbohydrate_g": Argument("g", 0, 10_000),
    },
    unit="kJ",
    rule="17 kJ for each gram of protein and carbohydrate, 37 kJ for each gram of fat.",
    source=Source(
        kind="from memory", text="FAO Food and Nutrition Paper 77, 2003: general Atwater factors"
    ),
    example=Example(
        {"protein_g": 20, "fat_g": 6, "carbohydrate_g": 2}, 596.0, 1e-9, "by hand: 340 + 222 + 34"
    ),
    validity="Factors of human food; fibre and chitin count for nothing.",
)
def food_energy(protein_g: float, fat_g: float, carbohydrate_g: float = 0.0) -> float:
    """Energy of a food from its composition [kJ]."""
    return PROTEIN_KJ_G * protein_g + FAT_KJ_G * fat_g + CARBOHYDRATE_KJ_G * carbohydrate_g


@method(
    arguments={
        "meal_kj": Argument("kJ", 0, 1_000_000),
        "mass_g": Argument("g", 0.1, 200_000),
        "day_c": Argument("°C", 5, 40),
        "night_c": Argument("°C", 5, 40),
        "day_h": Argument("h", 0, 24),
        "activity": Argument("1", 1, 4),
    },
    unit="days",
    rule=(
        "Energy of the meal ÷ what a resting body spends in a day, hours at each temperature"
        " counted apart, × activity."
    ),
    source=Source(
        kind="from memory", text="R. M. Andrews & F. H. Pough 1985, Physiological Zoology 58"
    ),
    example=Example(
        {"meal_kj": 47.55, "mass_g": 100, "day_c": 30, "night_c": 30, "activity": 1},
        10.0,
        0.01,
        "ten days of the example of resting_metabolic_rate",
    ),
    validity="The rate grows faster than the temperature: one mean temperature gives too little.",
)
def meal_cover(
    meal_kj: float,
    mass_g: float,
    day_c: float,
    night_c: float,
    day_h: float = 12.0,
    activity: float = 1.5,
) -> float:
    """Days for which a meal covers what the animal spends [days]."""
    by_day = resting_metabolic_rate(mass_g, day_c) * day_h / 24
    by_night = resting_metabolic_rate(mass_g, night_c) * (24 - day_h) / 24
    return meal_kj / (activity * (by_day + by_night))
