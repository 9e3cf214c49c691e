"""Air exchange of an enclosure with its room.

The one ventilation module: heat and moisture both use it.
"""

import math

from husbandry.climate.air import GRAVITY_M_S2, ZERO_C_K
from husbandry.derivation import Source
from husbandry.methods import Argument, Example, method


@method(
    arguments={
        "low_area_m2": Argument("m²", 0, 2),
        "high_area_m2": Argument("m²", 0, 2),
        "height_m": Argument("m", 0, 5),
        "excess_k": Argument("K", 0, 60),
        "air_c": Argument("°C", -10, 60),
    },
    unit="m³/s",
    rule="Two openings at different heights: Q = 0.6 A √(2 g Δh ΔT / T), A = A₁A₂ / √(A₁² + A₂²).",
    source=Source(
        kind="from memory",
        text=(
            "stack effect as in building-ventilation handbooks (CIBSE Guide A; ASHRAE Fundamentals)"
        ),
    ),
    example=Example(
        {"low_area_m2": 0.01, "high_area_m2": 0.01, "height_m": 0.4, "excess_k": 8, "air_c": 26},
        1.943e-3,
        0.02,
        "closed form",
    ),
)
def stack_ventilation(
    low_area_m2: float, high_area_m2: float, height_m: float, excess_k: float, air_c: float
) -> float:
    """Flow through two vents, driven by warm air [m³/s]; 0 when either is shut."""
    if low_area_m2 <= 0 or high_area_m2 <= 0:
        return 0.0
    effective = low_area_m2 * high_area_m2 / math.hypot(low_area_m2, high_area_m2)
    return (
        0.6
        * effective
        * math.sqrt(2 * GRAVITY_M_S2 * height_m * max(excess_k, 0.0) / (air_c + ZERO_C_K))
    )


@method(
    arguments={"stack_m3_s": Argument("m³/s", 0, 1), "fan_m3_s": Argument("m³/s", 0, 1)},
    unit="m³/s",
    rule="A fan beside buoyancy: Q = √(Q_stack² + Q_fan²); the two do not add up.",
    source=Source(
        kind="from memory",
        text="combined wind, stack and fan flow in quadrature (ASHRAE Fundamentals; Sherman 1992)",
    ),
    example=Example({"stack_m3_s": 0.003, "fan_m3_s": 0.004}, 0.005, 1e-6, "3, 4, 5"),
)
def fan_and_stack(stack_m3_s: float, fan_m3_s: float) -> float:
    """Flow through vents that warm air and a fan drive together [m³/s]."""
    return math.hypot(stack_m3_s, fan_m3_s)


@method(
    arguments={
        "open_area_m2": Argument("m²", 0, 10),
        "excess_k": Argument("K", 0, 60),
        "air_c": Argument("°C", -10, 60),
    },
    unit="m³/s",
    rule=(
        "Warm air out and cool air in through one opening in the top: Q = 0.055 D^2.5 √(g ΔT / T),"
        " D the diameter of equal area."
    ),
    source=Source(
        kind="from memory",
        text="M. Epstein 1988, buoyancy-driven exchange flow through small openings",
    ),
    example=Example(
        {"open_area_m2": 0.2, "excess_k": 5, "air_c": 25}, 4.035e-3, 0.02, "closed form"
    ),
)
def top_exchange(open_area_m2: float, excess_k: float, air_c: float) -> float:
    """Counter-current exchange through an open or meshed top [m³/s]."""
    diameter_m = math.sqrt(4 * open_area_m2 / math.pi)
    return (
        0.055
        * float(diameter_m**2.5)
        * math.sqrt(GRAVITY_M_S2 * max(excess_k, 0.0) / (air_c + ZERO_C_K))
    )


ROOM_DRAUGHT_M_S = 0.05
"""Speed of the air in a room where people sit: ISO 7730 has 0.05 to 0.15 m/s (from memory) [m/s]."""
CROSS_SHARE = 0.6 / 4
"""Of the open area of sides all round, what faces the draught, times the discharge coefficient of an
opening (design choice) [1].
"""


@method(
    arguments={
        "open_area_m2": Argument("m²", 0, 20),
        "height_m": Argument("m", 0, 5),
        "excess_k": Argument("K", 0, 60),
        "air_c": Argument("°C", -10, 60),
    },
    unit="m³/s",
    rule=(
        "Open sides: buoyancy Q = 0.2 A √(g H ΔT / T) of a tall opening, and the draught of the room"
        " through it, 0.15 A · 0.05 m/s, together as the root of their squares."
    ),
    source=Source(
        kind="from memory",
        text=(
            "single-sided ventilation of one opening (Warren 1977; CIBSE Applications Manual AM10);"
            " wind and stack combined in quadrature (ASHRAE Fundamentals)"
        ),
    ),
    example=Example(
        {"open_area_m2": 1.0, "height_m": 0.9, "excess_k": 3, "air_c": 25},
        0.0603,
        0.02,
        "closed form",
    ),
)
def side_exchange(open_area_m2: float, height_m: float, excess_k: float, air_c: float) -> float:
    """Air that passes sides of mesh [m³/s]; 0 where none is open."""
    warm = max(excess_k, 0.0) / (air_c + ZERO_C_K)
    buoyant = 0.2 * open_area_m2 * math.sqrt(GRAVITY_M_S2 * height_m * warm)
    return math.hypot(buoyant, CROSS_SHARE * open_area_m2 * ROOM_DRAUGHT_M_S)


@method(
    arguments={
        "start_g_m3": Argument("g/m³", 0.01, 60),
        "end_g_m3": Argument("g/m³", 0.01, 60),
        "hours": Argument("h", 0.02, 240),
    },
    unit="1/h",
    rule="Tracer decay: n = ln(start / end) / time, of the vapour above that of the room.",
    source=Source(kind="from memory", text="ASTM E741: air change by the decay of a tracer"),
    example=Example(
        {"start_g_m3": 8, "end_g_m3": 2, "hours": 0.5}, 2.7726, 1e-4, "by hand: ln 4 / 0.5 h"
    ),
    validity="Of an enclosure whose substrate is dry or covered: wet ground goes on giving vapour.",
)
def air_changes_from_drying(start_g_m3: float, end_g_m3: float, hours: float) -> float:
    """Air changes in an hour, from vapour above the room's before and after [1/h]; 0 where it rose."""
    return max(math.log(start_g_m3 / end_g_m3), 0.0) / hours
