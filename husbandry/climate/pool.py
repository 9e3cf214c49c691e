"""Water that an animal lives or bathes in: litres, what its food turns into, and how often the
water is changed. Method: docs/methods/water.md.
"""

from husbandry.derivation import Source
from husbandry.methods import Argument, Example, method

NITROGEN_OF_PROTEIN = 0.16
"""Nitrogen in protein, one part in 6.25 (Jones 1931, from memory) [1]."""
EXCRETED = 0.7
"""Of the nitrogen eaten (from memory: fishes and water turtles, 0.6 to 0.8) [1]."""
AMMONIA_MG_L = 0.02
"""Free ammonia that is not to be passed: what a test kit just shows (common practice) [mg N/l]."""
NITRATE_MG_L = 9.0
"""Nitrate nitrogen that is not to be passed, 40 mg/l of nitrate (common practice) [mg N/l]."""
PROTEIN = {
    "insects": 0.2,
    "ants": 0.2,
    "worms": 0.105,
    "greens": 0.025,
    "grass": 0.04,
    "fruit": 0.008,
    "paste": 0.06,
    "pellets": 0.4,
    "eggs": 0.13,
    "prey": 0.17,
}
"""Of food as fed (from memory: M. D. Finke 2002, 2013; USDA FoodData Central; labels of pellets)
[1].
"""
LONGEST_UNFILTERED_D, LONGEST_D = 7.0, 28.0
"""However little is eaten (common practice) [days]."""


@method(
    arguments={"temp_c": Argument("°C", 0, 40), "ph": Argument("1", 4, 10)},
    unit="1",
    rule="Share of ammonia that is free NH₃: 1/(1 + 10^(pKa − pH)), pKa = 0.09018 + 2729.92/T.",
    source=Source(
        kind="from memory",
        text=(
            "K. Emerson, R. C. Russo, R. E. Lund & R. V. Thurston 1975, Journal of the Fisheries"
            " Research Board of Canada 32"
        ),
    ),
    example=Example(
        {"temp_c": 25, "ph": 8.0},
        0.0536,
        0.01,
        "Emerson et al. 1975, table: 5.38 % at 25 °C and pH 8 (from memory)",
    ),
    validity="Fresh water.",
)
def free_ammonia_share(temp_c: float, ph: float) -> float:
    """Share of all ammonia that is free and burns skin and gills [1]."""
    return float(1 / (1 + 10 ** (0.09018 + 2729.92 / (temp_c + 273.15) - ph)))


@method(
    arguments={
        "food_g_day": Argument("g/day", 0, 10_000),
        "protein_share": Argument("1", 0, 1),
        "into_water": Argument("1", 0, 1),
    },
    unit="mg/day",
    rule="Food × protein × 0.16 of nitrogen × 0.7 excreted × share that reaches the water.",
    source=Source(
        kind="from memory",
        text=(
            "0.16 of nitrogen in protein: handbook; 0.6 to 0.8 excreted: studies of fishes and"
            " water turtles"
        ),
    ),
    example=Example(
        {"food_g_day": 1.5, "protein_share": 0.105, "into_water": 1.0},
        17.64,
        1e-6,
        "arithmetic: 1.5 g of earthworm a day",
    ),
)
def nitrogen_load(food_g_day: float, protein_share: float, into_water: float) -> float:
    """Nitrogen that an animal's food brings into its water [mg/day]."""
    return 1000 * food_g_day * protein_share * NITROGEN_OF_PROTEIN * EXCRETED * into_water


@method(
    arguments={
        "litres": Argument("l", 0.05, 20_000),
        "nitrogen_mg_day": Argument("mg/day", 0, 100_000),
        "most_mg_l": Argument("mg/l", 0.01, 100),
        "changed_share": Argument("1", 0.05, 1),
    },
    unit="days",
    rule=(
        "Share changed × litres × the highest concentration ÷ load: then what a change takes out is"
        " what came in since the last."
    ),
    source=Source(kind="published", text="mass balance; steady state of equal changes"),
    example=Example(
        {"litres": 80, "nitrogen_mg_day": 17.64, "most_mg_l": 9, "changed_share": 0.3},
        12.24,
        0.001,
        "arithmetic",
    ),
    validity="What plants take up, and what the substrate holds, come on top.",
)
def change_interval(
    litres: float, nitrogen_mg_day: float, most_mg_l: float, changed_share: float
) -> float:
    """Days between changes of that share of the water at which its concentration never passes the
    highest [days].
    """
    if nitrogen_mg_day <= 0:
        return LONGEST_D
    return changed_share * litres * most_mg_l / nitrogen_mg_day
