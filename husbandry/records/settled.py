"""What a channel showed at the end of the heat and at the end of the dark: the two moments at which needs
are judged (decisions, 1), taken from its values day by day. Method: docs/methods/records.md.
"""

import datetime as dt
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from husbandry.records.moments import DAY_S, local_offsets
from husbandry.records.series import Phase

WINDOW_H = 1.0
"""The last hour of the heat, and of the dark (decisions, 1) [h]."""
LEAST_VALUES = 2
"""In that hour (design choice)."""
STEADY: float = 3.0
"""Between the least and the most of that hour: more, and a door was open or a wire loose (design
choice) [°C; ten times that for %]."""
UNLIT = ((8.0, 18.0),)
"""Day and night where nothing gives light (design choice) [h]."""


@dataclass(frozen=True)
class SettledValue:
    """The mean of the last hour of a phase on one day."""

    on: dt.date
    """The day on which that hour ends."""
    phase: Phase
    at_s: int
    """Its end: seconds since 1970."""
    value: float
    lit_h: float | None
    """Hours since the lamps went on; None by night [h]."""


def settled_values(
    at_s: NDArray[np.int64],
    values: NDArray[np.float64],
    lit: Sequence[tuple[float, float]],
    zone: str,
    *,
    steady: float = STEADY,
) -> list[SettledValue]:
    """Find the ends of the days and of the nights, the earliest first.

    Parameters
    ----------
    at_s, values : array
        Seconds since 1970, rising, and values as they were shown.
    lit : sequence of (float, float)
        When the lamps are on, in hours of the room's clock [h].
    zone : str
        Of the room, by its IANA name.
    """
    if not len(at_s):
        return []
    spans = tuple(lit) or UNLIT
    on_h, off_h = min(one[0] for one in spans), max(one[1] for one in spans)
    offsets = local_offsets(at_s, zone)
    local = at_s + offsets
    found = []
    ends: tuple[tuple[Phase, float, float | None], ...] = (
        ("night", on_h, None),
        ("day", off_h, off_h - on_h),
    )

    if off_h - on_h >= 24:
        ends = (("day", 18.0, 18.0),)  # always lit: the afternoon stands for its day
    for day in np.unique(local // DAY_S):
        for phase, end_h, lit_h in ends:
            end_s = int(day) * DAY_S + int(end_h * 3600)
            own = (local > end_s - int(WINDOW_H * 3600)) & (local <= end_s)
            inside = values[own]
            if len(inside) < LEAST_VALUES or float(np.ptp(inside)) > steady:
                continue
            on = dt.date(1970, 1, 1) + dt.timedelta(days=int(day))
            moment_s = end_s - int(offsets[own][-1])
            found.append(SettledValue(on, phase, moment_s, float(inside.mean()), lit_h))

    return sorted(found, key=lambda one: one.at_s)
