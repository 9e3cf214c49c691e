"""Heat through panels and along enclosures: the handbook relations that the network rests on, each
to be asked for alone.
"""

import math

from husbandry.derivation import Source
from husbandry.methods import Argument, Example, method

FILM_INSIDE_M2K_W = 0.13
"""Surface resistance of an upright panel inside a room (source: ISO 6946, from memory) [m²K/W]."""
_FILM = Argument("W/m²K", 0.1, 100)
_LENGTH = Argument("m", 0.01, 10)


@method(
    arguments={"rayleigh": Argument("1", 0, 1e13), "prandtl": Argument("1", 0.01, 1000)},
    unit="1",
    rule=(
        "Upright plate, all flows: Nu = (0.825 + 0.387 Ra^(1/6) / (1 +"
        " (0.492 / Pr)^(9/16))^(8/27))²."
    ),
    source=Source(
        kind="from memory",
        text=(
            "S. W. Churchill & H. H. S. Chu 1975, International Journal of Heat and Mass Transfer 18"
        ),
    ),
    example=Example(
        {"rayleigh": 1.813e9, "prandtl": 0.690},
        147.0,
        0.01,
        "Incropera & DeWitt, Fundamentals of heat and mass transfer, glass fire screen (from memory)",
    ),
)
def plate_nusselt(rayleigh: float, prandtl: float = 0.71) -> float:
    """Mean Nusselt number of free convection at an upright plate [1]."""
    ratio = (0.492 / prandtl) ** (9 / 16)
    spread = (1 + ratio) ** (8 / 27)
    drive = rayleigh ** (1 / 6)
    root = 0.825 + 0.387 * drive / spread
    return float(root**2)


@method(
    arguments={
        "thickness_1_m": Argument("m", 0, 1),
        "conductivity_1_w_mk": Argument("W/m K", 0.01, 500),
        "thickness_2_m": Argument("m", 0, 1),
        "conductivity_2_w_mk": Argument("W/m K", 0.01, 500),
        "outside_m2k_w": Argument("m²K/W", 0, 1),
    },
    unit="W/m²K",
    rule="U = 1 / (film inside + d₁/k₁ + d₂/k₂ + film outside); the film inside is 0.13 m²K/W.",
    source=Source(kind="from memory", text="ISO 6946: thermal resistance of components in layers"),
    example=Example(
        {
            "thickness_1_m": 0.018,
            "conductivity_1_w_mk": 0.12,
            "thickness_2_m": 0.02,
            "conductivity_2_w_mk": 0.035,
        },
        1.0183,
        1e-3,
        "by hand: 0.13 + 0.15 + 0.5714 + 0.13 = 0.9814 m²K/W",
    ),
    validity="One panel, upright, without thermal bridges.",
)
def panel_transmittance(
    thickness_1_m: float,
    conductivity_1_w_mk: float,
    thickness_2_m: float = 0.0,
    conductivity_2_w_mk: float = 1.0,
    outside_m2k_w: float = FILM_INSIDE_M2K_W,
) -> float:
    """Heat that a panel of one or two layers lets through [W/m²K]."""
    layers = thickness_1_m / conductivity_1_w_mk + thickness_2_m / conductivity_2_w_mk
    return 1 / (FILM_INSIDE_M2K_W + layers + outside_m2k_w)


@method(
    arguments={
        "absorbed_w_m2": Argument("W/m²", 0, 5000),
        "film_w_m2k": _FILM,
        "base_thickness_m": Argument("m", 0.0005, 1),
        "base_conductivity_w_mk": Argument("W/m K", 0.01, 500),
    },
    unit="K",
    rule="Heat leaves upward through the film and downward through the base: ΔT = q / (h + k/d).",
    source=Source(kind="published", text="two thermal resistances side by side"),
    example=Example(
        {
            "absorbed_w_m2": 200,
            "film_w_m2k": 12,
            "base_thickness_m": 0.05,
            "base_conductivity_w_mk": 0.4,
        },
        10.0,
        1e-9,
        "by hand: 200 / (12 + 8)",
    ),
    validity="A wide slab on a base whose underside has the temperature of the air.",
)
def slab_on_base_excess(
    absorbed_w_m2: float, film_w_m2k: float, base_thickness_m: float, base_conductivity_w_mk: float
) -> float:
    """How much warmer than the air a heated slab on a conducting base becomes [K]."""
    return absorbed_w_m2 / (film_w_m2k + base_conductivity_w_mk / base_thickness_m)


@method(
    arguments={
        "warm_end_k": Argument("K", 0, 100),
        "length_m": _LENGTH,
        "decay_m": Argument("m", 0.01, 100),
        "at_m": Argument("m", 0, 10),
    },
    unit="K",
    rule="Closed at the far end: θ(x) = θ₀ cosh((L − x)/λ) / cosh(L/λ).",
    source=Source(
        kind="from memory",
        text="fin with an insulated tip (Incropera & DeWitt, table of fins, case B)",
    ),
    example=Example(
        {"warm_end_k": 10, "length_m": 1.2, "decay_m": 0.8, "at_m": 1.2},
        4.2510,
        1e-3,
        "by hand: 10 / cosh 1.5",
    ),
    validity="Air heated at one end that loses heat evenly along its way.",
)
def excess_along(warm_end_k: float, length_m: float, decay_m: float, at_m: float) -> float:
    """How much warmer than the room the air still is at a distance from the warm end [K]."""
    left = max(length_m - at_m, 0.0)
    return warm_end_k * math.cosh(left / decay_m) / math.cosh(length_m / decay_m)
