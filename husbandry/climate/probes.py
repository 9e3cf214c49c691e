"""What a probe shows while it follows, and what a dimming thermostat gives: single relations."""

import math

from husbandry.derivation import Source
from husbandry.methods import Argument, Example, method

_CELSIUS = Argument("°C", -40, 120)


@method(
    arguments={
        "start_c": _CELSIUS,
        "true_c": _CELSIUS,
        "time_constant_s": Argument("s", 0.1, 36_000),
        "after_s": Argument("s", 0, 360_000),
    },
    unit="°C",
    rule="T(t) = T_true + (T_start − T_true) exp(−t/τ): 63 % of the way after τ, 95 % after 3 τ.",
    source=Source(kind="published", text="response of a first-order sensor to a step"),
    example=Example(
        {"start_c": 20, "true_c": 40, "time_constant_s": 120, "after_s": 120},
        32.6424,
        1e-4,
        "by hand: 40 − 20/e",
    ),
    validity="Still air has a longer time constant than moving air: minutes for a thick probe.",
)
def lagged_reading(start_c: float, true_c: float, time_constant_s: float, after_s: float) -> float:
    """What a probe shows a while after it was put into another temperature [°C]."""
    return true_c + (start_c - true_c) * math.exp(-after_s / time_constant_s)


@method(
    arguments={"set_c": _CELSIUS, "felt_c": _CELSIUS, "band_k": Argument("K", 0.05, 20)},
    unit="1",
    rule="(set + band/2 − felt) / band, between 0 and 1: half of the power at the set point.",
    source=Source(kind="common practice", text="proportional dimming around the set point"),
    example=Example(
        {"set_c": 32, "felt_c": 31.5, "band_k": 2}, 0.75, 1e-9, "by hand: (33 − 31.5) / 2"
    ),
)
def dimmer_share(set_c: float, felt_c: float, band_k: float) -> float:
    """Share of its power that a proportional thermostat gives a heater [1]."""
    top_c = set_c + band_k / 2
    share = (top_c - felt_c) / band_k
    return min(max(share, 0.0), 1.0)
