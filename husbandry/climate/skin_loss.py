"""Water that an amphibian loses through its skin: why damp air is not comfort alone."""

from husbandry.climate.vapour import GAS_VAPOUR_J_KGK, saturation_vapour_pressure
from husbandry.derivation import Source
from husbandry.methods import Argument, Example, method

SKIN_CM2, SKIN_EXPONENT = 9.9, 0.56
"""Surface of a frog of one gram, and how it grows with the mass (source: McClanahan & Baldwin 1969,
from memory) [cm², 1].
"""


@method(
    arguments={
        "mass_g": Argument("g", 0.1, 2000),
        "skin_c": Argument("°C", 0, 45),
        "air_c": Argument("°C", 0, 45),
        "rh_pct": Argument("%", 0, 100),
        "resistance_s_cm": Argument("s/cm", 0.1, 500),
        "exposed_share": Argument("1", 0.1, 1),
    },
    unit="g/h",
    rule=(
        "Surface 9.9 m^0.56 cm² × share in the air × (vapour density at the skin − in the air) ÷"
        " resistance of skin and air layer together."
    ),
    source=Source(
        kind="from memory",
        text=(
            "L. McClanahan & R. Baldwin 1969, Comparative Biochemistry and Physiology 28 (surface);"
            " M. L. Wygoda 1984, Physiological Zoology 57 (resistances)"
        ),
    ),
    example=Example(
        {"mass_g": 10, "skin_c": 25, "air_c": 25, "rh_pct": 50, "resistance_s_cm": 2},
        0.4955,
        0.01,
        "by hand: 35.9 cm² × 2/3 × 11.5 µg/cm³ ÷ 2 s/cm × 3600 s",
    ),
    validity=(
        "About 2 s/cm for an ordinary frog in gently moving air, 20 and more for waxy tree frogs;"
        " sitting close on wet ground exposes less."
    ),
)
def skin_water_loss(
    mass_g: float,
    skin_c: float,
    air_c: float,
    rh_pct: float,
    resistance_s_cm: float = 2.0,
    exposed_share: float = 2 / 3,
) -> float:
    """Water an amphibian loses in an hour [g/h]; 0 where the air is damper than its skin."""
    surface_cm2 = SKIN_CM2 * mass_g**SKIN_EXPONENT * exposed_share
    at_skin = _vapour_g_cm3(skin_c, 100.0)
    in_air = _vapour_g_cm3(air_c, rh_pct)
    deficit = max(at_skin - in_air, 0.0)
    grams_a_second = surface_cm2 * deficit / resistance_s_cm
    return float(3600 * grams_a_second)


def _vapour_g_cm3(temp_c: float, rh_pct: float) -> float:
    pressure_pa = rh_pct / 100 * saturation_vapour_pressure(temp_c)
    kg_m3 = pressure_pa / (GAS_VAPOUR_J_KGK * (temp_c + 273.15))
    return kg_m3 * 1e-3
