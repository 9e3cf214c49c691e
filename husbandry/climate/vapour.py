"""Water vapour in air: the same air has one dew point and, at each temperature, another relative
humidity.
"""

import math

import numpy as np
from numpy.typing import NDArray

from husbandry.derivation import Source
from husbandry.methods import Argument, Example, method

VAPOUR_MASS_RATIO = 0.62195
"""Molar mass of water over that of dry air (source: ASHRAE Fundamentals, from memory) [1]."""
GAS_VAPOUR_J_KGK = 461.52
"""Gas constant of water vapour (handbook, from memory) [J/kgK]."""
_BUCK = Source(
    kind="from memory",
    text="A. L. Buck 1996, saturation over water; within 0.04 % of IAPWS from 5 to 40 °C",
)


@method(
    arguments={"temp_c": Argument("°C", -20, 60)},
    unit="Pa",
    rule="e_s = 611.21 exp((18.678 − t/234.5) t / (257.14 + t)).",
    source=_BUCK,
    example=Example({"temp_c": 25}, 3169, 0.005, "steam tables, 25 °C: 3169 Pa"),
)
def saturation_vapour_pressure(temp_c: float) -> float:
    """Saturation vapour pressure over water [Pa]."""
    return 611.21 * math.exp((18.678 - temp_c / 234.5) * temp_c / (257.14 + temp_c))


def humidity_field(vapour_pa: float, temps_c: NDArray[np.float64]) -> NDArray[np.float64]:
    """Relative humidity of one vapour in air of many temperatures [%]; 100 where it condenses."""
    full = 611.21 * np.exp((18.678 - temps_c / 234.5) * temps_c / (257.14 + temps_c))
    return np.asarray(np.minimum(100 * vapour_pa / full, 100.0))


@method(
    arguments={"rh_pct": Argument("%", 0.1, 100), "temp_c": Argument("°C", -20, 60)},
    unit="°C",
    rule=(
        "The temperature at which the air's own vapour saturates: the exact inverse of the"
        " saturation formula."
    ),
    source=_BUCK,
    example=Example(
        {"rh_pct": 65, "temp_c": 24}, 17.02, 0.1 / 17.02, "psychrolib, Hyland–Wexler saturation"
    ),
)
def dew_point(rh_pct: float, temp_c: float) -> float:
    """Dew point of air [°C]."""
    ln_ratio = math.log(rh_pct / 100 * saturation_vapour_pressure(temp_c) / 611.21)
    b = 18.678 - ln_ratio
    return 117.25 * (b - math.sqrt(b * b - 4 * 257.14 * ln_ratio / 234.5))


@method(
    arguments={
        "rh_pct": Argument("%", 0, 100),
        "temp_c": Argument("°C", -20, 60),
        "temp_there_c": Argument("°C", -20, 60),
    },
    unit="%",
    rule="The same vapour at another temperature: RH₂ = RH₁ e_s(t₁) / e_s(t₂), 100 % at most.",
    source=_BUCK,
    example=Example(
        {"rh_pct": 65, "temp_c": 24, "temp_there_c": 33}, 38.5, 0.3 / 38.5, "psychrolib"
    ),
)
def rh_elsewhere(rh_pct: float, temp_c: float, temp_there_c: float) -> float:
    """Relative humidity of the same air where it is warmer or cooler [%]; 100 where it condenses."""
    return min(
        100.0,
        rh_pct * saturation_vapour_pressure(temp_c) / saturation_vapour_pressure(temp_there_c),
    )


@method(
    arguments={
        "temp_c": Argument("°C", -20, 60),
        "rh_pct": Argument("%", 0, 100),
        "pressure_pa": Argument("Pa", 50_000, 110_000),
    },
    unit="g/kg",
    rule="w = 0.62195 e / (p − e), with e = RH · e_s: grams of vapour to a kilogram of dry air.",
    source=Source(kind="from memory", text="ASHRAE Handbook Fundamentals, psychrometrics"),
    example=Example(
        {"temp_c": 25, "rh_pct": 50},
        9.88,
        0.005,
        "psychrometric chart at sea level: 9.9 g/kg at 25 °C and 50 %",
    ),
)
def humidity_ratio(temp_c: float, rh_pct: float, pressure_pa: float = 101_325.0) -> float:
    """Water vapour to a kilogram of dry air [g/kg]."""
    vapour_pa = rh_pct / 100 * saturation_vapour_pressure(temp_c)
    return 1000 * VAPOUR_MASS_RATIO * vapour_pa / (pressure_pa - vapour_pa)


@method(
    arguments={
        "litres": Argument("l", 0.1, 20_000),
        "temp_c": Argument("°C", 0, 45),
        "from_pct": Argument("%", 0, 100),
        "to_pct": Argument("%", 0, 100),
    },
    unit="g",
    rule="Volume × difference of the vapour densities e / (461.5 T).",
    source=Source(kind="published", text="ideal gas law"),
    example=Example(
        {"litres": 432, "temp_c": 25, "from_pct": 40, "to_pct": 80},
        3.98,
        0.01,
        "by hand: 23.0 g/m³ when full × 0.432 m³ × 0.4",
    ),
    validity="Air alone and closed: substrate and walls take up more, and vents let it out.",
)
def water_to_raise(litres: float, temp_c: float, from_pct: float, to_pct: float) -> float:
    """Water that lifts the humidity of the air in an enclosure [g]; 0 where it is damp enough."""
    full_kg_m3 = saturation_vapour_pressure(temp_c) / (GAS_VAPOUR_J_KGK * (temp_c + 273.15))
    missing = max(to_pct - from_pct, 0.0) / 100
    return missing * full_kg_m3 * litres
