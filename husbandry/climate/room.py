"""The room as an output: every watt that enclosures draw ends as heat in it, and hangs on its
circuits.
"""

from husbandry.derivation import Source
from husbandry.methods import Argument, Example, method

LOSS_W_M2K = {"well insulated": 1.5, "usual": 3.0, "poorly insulated": 5.0}
"""Heat that a room loses by each square metre of its floor and kelvin over what is around it: outer
walls, air change, and to the rest of the house
(common practice: 2.5 m high, one or two outer walls).
"""
SWING_SHARE = 0.3
"""Of the day's swing of power that reaches the air of a room: its walls and furniture take the rest
(design choice: time constants of half a day) [1].
"""
LASTING_SHARE = 0.8
"""Of a circuit's rating that is drawn for hours at the most (common practice; local code decides)
[1].
"""
ROOM_RAMP_H = 2.0
"""In which a room goes from its night to its day and back, about 8 and 22 o'clock (design choice)
[h].
"""


@method(
    arguments={
        "mean_w": Argument("W", 0, 100_000),
        "floor_m2": Argument("m²", 1, 1000),
        "loss_w_m2k": Argument("W/m²K", 0.2, 10),
    },
    unit="K",
    rule=(
        "Mean power over floor × loss: in steady state all of it leaves through walls, windows and"
        " air."
    ),
    source=Source(
        kind="design choice",
        text="steady balance of one room; losses by floor are common practice",
    ),
    example=Example({"mean_w": 1200, "floor_m2": 15, "loss_w_m2k": 2}, 40.0, 1e-9, "arithmetic"),
    validity="A mean over a day: lamps that burn by day lift the day more and the night less.",
)
def room_rise(mean_w: float, floor_m2: float, loss_w_m2k: float) -> float:
    """How much warmer a room gets than without its enclosures [K]."""
    return mean_w / (floor_m2 * loss_w_m2k)


@method(
    arguments={
        "power_w": Argument("W", 0, 100_000),
        "volts": Argument("V", 90, 260),
        "amps": Argument("A", 1, 125),
    },
    unit="1",
    rule=(
        "Power over volts × amps × 0.8: what is drawn for hours may be four fifths of a circuit's"
        " rating."
    ),
    source=Source(
        kind="common practice",
        text="lasting loads; the local code and a licensed electrician decide",
    ),
    example=Example(
        {"power_w": 1472, "volts": 230, "amps": 16}, 0.5, 1e-9, "arithmetic: 1472 W of 2944 W"
    ),
)
def circuit_share(power_w: float, volts: float, amps: float) -> float:
    """Share of what a circuit may carry for hours [1]."""
    return power_w / (volts * amps * LASTING_SHARE)


def room_at(hour: float, day_c: float, night_c: float) -> float:
    """The room at an hour of the day: its night, its day, and a ramp between them [°C]."""
    h = hour % 24

    def ramp(middle: float) -> float:
        return min(max((h - middle) / ROOM_RAMP_H + 0.5, 0.0), 1.0)

    return night_c + (day_c - night_c) * (ramp(8.0) - ramp(22.0))
