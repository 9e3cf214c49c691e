"""The check of a hygrometer in closed air over a wet salt."""

import numpy as np

from husbandry.derivation import Source
from husbandry.methods import Argument, Example, method

TEMPS_C = (5.0, 10.0, 15.0, 20.0, 25.0, 30.0, 35.0)
"""Of the table (source: Greenspan 1977, from memory) [°C]."""
OVER_SALT_PCT = {
    "table salt": (75.65, 75.67, 75.61, 75.47, 75.29, 75.09, 74.87),
    "magnesium chloride": (33.60, 33.47, 33.30, 33.07, 32.78, 32.44, 32.05),
    "potassium chloride": (87.67, 86.77, 85.92, 85.11, 84.34, 83.62, 82.95),
}
"""Relative humidity over saturated solutions at those temperatures (source: Greenspan 1977, from
memory) [%].
"""
_GREENSPAN = Source(
    kind="from memory",
    text="L. Greenspan 1977, Journal of Research of the National Bureau of Standards 81A",
)
_SALT = Argument("", choices=tuple(OVER_SALT_PCT))


@method(
    arguments={"salt": _SALT, "temp_c": Argument("°C", 5, 35)},
    unit="%",
    rule="Greenspan's table of saturated solutions, between its temperatures in a straight line.",
    source=_GREENSPAN,
    example=Example(
        {"salt": "table salt", "temp_c": 25}, 75.29, 1e-6, "the table itself at 25 °C"
    ),
)
def humidity_over_salt(salt: str, temp_c: float) -> float:
    """Relative humidity of closed air over a slurry of a salt [%]."""
    return float(np.interp(temp_c, TEMPS_C, OVER_SALT_PCT[salt]))


@method(
    arguments={
        "reading_pct": Argument("%", 0, 100),
        "salt": _SALT,
        "temp_c": Argument("°C", 5, 35),
    },
    unit="%",
    rule="What the air over the salt has, less what the instrument shows: added to its readings.",
    source=_GREENSPAN,
    example=Example(
        {"reading_pct": 71, "salt": "table salt", "temp_c": 20}, 4.47, 1e-6, "by hand: 75.47 − 71"
    ),
    validity="After eight hours or more in a tight bag, the salt wet but not afloat.",
)
def salt_check_offset(reading_pct: float, salt: str, temp_c: float) -> float:
    """Offset of a hygrometer, to be added to what it shows [%]."""
    return humidity_over_salt(salt, temp_c) - reading_pct
