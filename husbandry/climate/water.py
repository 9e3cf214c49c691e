"""Water in dishes and pools: what they lose, and what makes tap water fit for skin."""

from husbandry.climate.moisture import STILL_FILM_W_M2K, evaporation_coefficient
from husbandry.climate.vapour import saturation_vapour_pressure
from husbandry.derivation import Source
from husbandry.methods import Argument, Example, method


@method(
    arguments={
        "water_l": Argument("l", 0, 100_000),
        "dose_ml": Argument("ml", 0, 10_000),
        "per_l": Argument("l", 0.1, 100_000),
    },
    unit="ml",
    rule="Litres of water × dose of its label over the litres that dose is for.",
    source=Source(
        kind="common practice",
        text="the label of the conditioner; one that names chlorine and chloramine both",
    ),
    example=Example({"water_l": 12, "dose_ml": 5, "per_l": 40}, 1.5, 1e-9, "arithmetic"),
    validity=(
        "Letting water stand drives chlorine out, chloramine not. Copper pipes, soap and softened"
        " water harm amphibians whatever the dose."
    ),
)
def conditioner_dose(water_l: float, dose_ml: float, per_l: float) -> float:
    """Conditioner for so much water [ml]."""
    return water_l * dose_ml / per_l


@method(
    arguments={
        "length_m": Argument("m", 0.01, 10),
        "depth_m": Argument("m", 0.01, 10),
        "temp_c": Argument("°C", 0, 45),
        "rh_pct": Argument("%", 0, 100),
    },
    unit="ml",
    rule=(
        "Evaporation coefficient of still air × surface × what the air lacks of saturation × 24 h;"
        " water at the air's own temperature before it cools itself."
    ),
    source=Source(kind="from memory", text="Lewis relation, docs/methods/moisture.md"),
    example=Example(
        {"length_m": 0.3, "depth_m": 0.2, "temp_c": 25, "rh_pct": 50},
        78.5,
        0.01,
        "34.4 g/(m² h kPa) × 0.06 m² × 1.585 kPa × 24 h",
    ),
    validity="Within a factor of two: a draught doubles it, a heated dish more.",
)
def dish_loss(length_m: float, depth_m: float, temp_c: float, rh_pct: float) -> float:
    """Water that an open dish loses in a day [ml]."""
    lacks_kpa = saturation_vapour_pressure(temp_c) * (1 - rh_pct / 100) / 1000
    return evaporation_coefficient(temp_c, STILL_FILM_W_M2K) * length_m * depth_m * lacks_kpa * 24
