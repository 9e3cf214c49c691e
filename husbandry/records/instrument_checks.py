"""How an instrument's error is found at home, and when it is looked at again.

Ice water and saturated salt are fixed points: the ice point is 0 °C (definition, ITS-90 to 0.01 K), and air
over saturated table salt in a closed box has 75.3 % (from memory: Greenspan, J. Res. NBS 81A, 1977: 75.29 %
at 25 °C, 75.47 % at 20 °C).
"""

import datetime as dt
from dataclasses import dataclass
from typing import Literal

CheckWay = Literal["", "ice", "salt", "other"]
ICE_C, SALT_PCT = 0.0, 75.3
"""Fixed points (definition; from memory: Greenspan 1977) [°C, %]."""
USUAL_MONTHS = 12
"""Between two checks (common practice) [months]."""
CHECK_NOTICE_DAYS = 14
"""A check is brought up so long before (design choice) [days]."""
LARGE: dict[str, float] = {"ice": 2.0, "salt": 8.0, "other": 3.0}
"""An error from which on another instrument is better than a correction (common practice) [°C, %]."""


@dataclass(frozen=True)
class CheckMethod:
    """One way to find an error."""

    way: CheckWay
    name: str
    steps: tuple[str, ...]
    fixed: float | None
    """What it must show; None: what the better instrument shows."""


METHODS: tuple[CheckMethod, ...] = (
    CheckMethod(
        "ice",
        "ice water",
        (
            "Fill an insulated cup with crushed ice and top it up with a little cold water.",
            "Stir, put the probe into the middle, not at the wall; only probes that may get wet.",
            "Read it after five minutes: it must show 0 °C (32 °F).",
        ),
        ICE_C,
    ),
    CheckMethod(
        "salt",
        "saturated salt",
        (
            "Put table salt into a small cup with so little water that it stays a wet paste.",
            "Close it with the hygrometer in a box or a bag; the sensor must not touch the salt.",
            "Read it after eight hours at one temperature: it must show 75 %.",
        ),
        SALT_PCT,
    ),
    CheckMethod(
        "other",
        "a better instrument",
        (
            "Lay both side by side, shaded from lamps, for an hour.",
            "Read both at the same moment, three times, and take the mean of the differences.",
        ),
        None,
    ),
)


def next_check(checked_on: dt.date | None, months: int) -> dt.date | None:
    """When an instrument is due again; None where it was never checked."""
    if checked_on is None:
        return None
    whole = checked_on.month - 1 + months
    year, month = checked_on.year + whole // 12, whole % 12 + 1
    day = checked_on.day
    while True:
        try:
            return dt.date(year, month, day)
        except ValueError:  # the 31st of a month of thirty days
            day -= 1


def advice(way: CheckWay, error: float) -> str:
    """What an error asks for, as a sentence; empty while a correction does."""
    if way and abs(error) >= LARGE[way]:
        return "That is far off: use another instrument, or check this one again."
    return ""
