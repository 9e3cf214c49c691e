"""Properties of air and convection from plates."""

from dataclasses import dataclass

from husbandry.derivation import Source
from husbandry.methods import Argument, Example, method

STEFAN_BOLTZMANN_W_M2K4 = 5.670374419e-8
"""Stefan-Boltzmann constant (CODATA 2018, exact) [W/m²K⁴]."""
GRAVITY_M_S2 = 9.80665
"""Standard gravity (ISO 80000-3, exact) [m/s²]."""
ZERO_C_K = 273.15
"""0 °C (ISO 80000-5, exact) [K]."""
AIR_HEAT_CAPACITY_J_KGK = 1006.0
"""Specific heat capacity of air (handbook, from memory) [J/kgK]."""
PRANDTL = 0.71
"""Prandtl number of air (handbook, from memory) [1]."""


@dataclass(frozen=True)
class Air:
    """Dry air at one temperature and sea-level pressure."""

    conductivity_w_mk: float
    viscosity_m2_s: float
    density_kg_m3: float


def air_at(temp_c: float) -> Air:
    """Linear fits to textbook tables, good to 1 % from 0 to 80 °C."""
    return Air(0.0242 + 7.2e-5 * temp_c, 1.33e-5 + 9.2e-8 * temp_c, 353.0 / (temp_c + ZERO_C_K))


@method(
    arguments={
        "surface_c": Argument("°C", -10, 150),
        "air_c": Argument("°C", -10, 80),
        "char_length_m": Argument("m", 0.005, 3.0),
    },
    unit="W/m²K",
    rule=(
        "Still air over a horizontal plate: Nu = 0.54 Ra^1/4 up to Ra 10⁷ and 0.15 Ra^1/3 above it"
        " when the plate is warmer, 0.27 Ra^1/4 when it is colder; h = Nu k / L, with L = area /"
        " perimeter and air at the mean of both temperatures."
    ),
    source=Source(
        kind="from memory",
        text="W. H. McAdams, Heat Transmission, 1954; in every heat-transfer textbook",
    ),
    example=Example(
        {"surface_c": 42, "air_c": 27, "char_length_m": 0.075},
        5.178,
        0.02,
        "Python package ht 1.2, McAdams correlation",
    ),
)
def plate_convection(surface_c: float, air_c: float, char_length_m: float) -> float:
    """Heat transfer coefficient of the upper side of a horizontal plate [W/m²K].

    Parameters
    ----------
    surface_c, air_c : float
        [°C]
    char_length_m : float
        Area over perimeter [m].
    """
    film_c = (surface_c + air_c) / 2
    air = air_at(film_c)
    drop_k = abs(surface_c - air_c) + 1e-6
    rayleigh = (
        GRAVITY_M_S2
        / (film_c + ZERO_C_K)
        * drop_k
        * char_length_m**3
        / air.viscosity_m2_s**2
        * PRANDTL
    )
    if surface_c >= air_c:
        nusselt = 0.54 * rayleigh**0.25 if rayleigh <= 1e7 else 0.15 * rayleigh ** (1 / 3)
    else:
        nusselt = 0.27 * rayleigh**0.25
    return float(max(nusselt, 1.0) * air.conductivity_w_mk / char_length_m)


def radiation_coefficient(surface_c: float, surroundings_c: float) -> float:
    """Exact linear coefficient of black-body exchange between two temperatures [W/m²K]."""
    a = surface_c + ZERO_C_K
    b = surroundings_c + ZERO_C_K
    return STEFAN_BOLTZMANN_W_M2K4 * (a * a + b * b) * (a + b)


@method(
    arguments={
        "irradiance_w_m2": Argument("W/m²", 0, 3000),
        "absorptivity": Argument("1", 0, 1),
        "air_c": Argument("°C", -10, 60),
        "radiant_c": Argument("°C", -10, 80),
        "emissivity": Argument("1", 0.05, 1),
        "char_length_m": Argument("m", 0.01, 2.0),
    },
    unit="°C",
    rule=(
        "The temperature at which a surface that conducts nothing away gives off what it absorbs: "
        "α E = h_c (T_s − T_air) + ε σ (T_s⁴ − T_radiant⁴), h_c by plate_convection."
    ),
    source=Source(kind="published", text="First law; Stefan–Boltzmann constant of CODATA 2018"),
    example=Example(
        {
            "irradiance_w_m2": 300,
            "absorptivity": 0.75,
            "air_c": 28,
            "radiant_c": 27,
            "emissivity": 0.93,
            "char_length_m": 0.075,
        },
        46.68,
        0.4 / 46.68,
        "scipy brentq over ht 1.2 plate convection",
    ),
)
def surface_balance(
    irradiance_w_m2: float,
    absorptivity: float,
    air_c: float,
    radiant_c: float,
    emissivity: float,
    char_length_m: float,
) -> float:
    """Equilibrium temperature of a perfectly insulated surface under a lamp [°C]: an upper estimate
    for stone.
    """
    low = min(air_c, radiant_c) - 1.0
    high = 400.0
    for _ in range(
        60
    ):  # the balance rises with the temperature: halving is sure, and 60 halvings reach 1e-15 of the range
        middle = (low + high) / 2
        loss = plate_convection(middle, air_c, char_length_m) * (middle - air_c)
        loss += emissivity * radiation_coefficient(middle, radiant_c) * (middle - radiant_c)
        low, high = (middle, high) if absorptivity * irradiance_w_m2 > loss else (low, middle)
    return (low + high) / 2
