"""Devices of a simulated enclosure that tell of themselves: a thermostat with its state, a misting pump
at a smart plug, a scale that the animal is set on once a week.
"""

from collections.abc import Sequence
from typing import Protocol

import numpy as np
from numpy.typing import NDArray

from husbandry.documents.enclosure import MoistureControl
from husbandry.items.timers import hour_of
from husbandry.records.moments import DAY_S, HOUR_S, local_offsets

Values = NDArray[np.float64]
Seconds = NDArray[np.int64]
CYCLE_S = 900
"""From one switching on to the next, of a thermostat that switches (common practice) [s]."""
DIMMED_SHARE = 0.02
"""By which a dimmer's share of full heating wavers (design choice) [1]."""
PUMP_W = 18.0
"""What a small misting pump draws while it runs (common practice) [W]."""
LEAST_RUN_S = 2
"""A pump that is switched for less sprays nothing (common practice) [s]."""
WEIGHED_H = 18.5
"""When the animal is set on the scale (design choice) [h]."""
WEIGHED_EVERY = 7
"""Days between two weighings (common practice) [days]."""
SCALE_SHARE = 0.004
"""By which a weight differs from one to the next: a meal, a dropping (common practice) [1]."""
SCALE_STEP_G = 0.1
"""A kitchen scale of the trade shows tenths (common practice) [g]."""


class TimedFault(Protocol):
    """Something that goes wrong for a time."""

    @property
    def kind(self) -> str:
        """What goes wrong."""

    def since_h(self, at_s: Seconds) -> Values:
        """Hours since it began; negative before it and after its end [h]."""


def thermostat_states(
    at_s: Seconds, shares: Values, *, switches: bool, faults: Sequence[TimedFault], seed: int
) -> Values:
    """What a thermostat gives at some moments: of full heating [1].

    Parameters
    ----------
    shares : array
        That it gives in the mean at those moments; 0 where its heater is off by its timer [1].
    switches : bool
        It switches on and off; else it dims.
    """
    if switches:
        states = ((at_s % CYCLE_S) / CYCLE_S < shares).astype(np.float64)
    else:
        noise = np.random.default_rng([seed, 41, int(at_s[0]) if len(at_s) else 0])
        wavers = DIMMED_SHARE * noise.standard_normal(len(at_s))
        states = np.where(shares > 0, np.clip(shares + wavers, 0.0, 1.0), 0.0)

    for fault in faults:
        during = fault.since_h(at_s) >= 0
        if fault.kind == "lamp failed":  # it asks for heat, and none comes
            states = np.where(during & (shares > 0), 1.0, states)
        if fault.kind == "heater stuck":  # it asks for none, and it comes
            states = np.where(during, 0.0, states)

    return states


def pump_log(
    wetting: MoistureControl,
    zone: str,
    span_s: tuple[int, int],
    step_s: int,
    faults: Sequence[TimedFault],
) -> tuple[Seconds, Values]:
    """What the plug of a misting pump shows: nothing every so often, and each run as it comes and goes.

    Parameters
    ----------
    span_s : (int, int)
        First second, and one past the last: seconds since 1970.
    step_s : int
        Between two values at rest [s].

    Returns
    -------
    (array, array)
        Seconds since 1970, rising, and power [W].
    """
    begin_s, end_s = span_s
    rest_s = np.arange(-(-begin_s // step_s) * step_s, end_s, step_s, dtype=np.int64)
    shown: dict[int, float] = dict.fromkeys(map(int, rest_s), 0.0)

    for run_s, lasts_s in _runs(wetting, zone, span_s):
        shown[run_s], shown[run_s + lasts_s] = PUMP_W, 0.0

    at_s = np.array(sorted(one for one in shown if begin_s <= one < end_s), dtype=np.int64)
    power_w = np.array([shown[int(one)] for one in at_s])

    for fault in faults:
        during = fault.since_h(at_s) >= 0
        if fault.kind == "pump failed":
            power_w = np.where(during, 0.0, power_w)
        if fault.kind == "pump stuck":
            power_w = np.where(during, PUMP_W, power_w)

    return at_s, power_w


def _runs(wetting: MoistureControl, zone: str, span_s: tuple[int, int]) -> list[tuple[int, int]]:
    """When the pump's timer starts it, and for how long: seconds since 1970, and seconds."""
    spray_ml_s = wetting.nozzles_ml_s
    if spray_ml_s is None:
        return []
    begin_s, end_s = span_s
    offset_s = int(local_offsets(np.array([begin_s], dtype=np.int64), zone)[0])
    first_day = (begin_s + offset_s) // DAY_S
    last_day = (end_s + offset_s) // DAY_S

    return [
        (
            day * DAY_S + round(hour_of(misting.at) * HOUR_S) - offset_s,
            max(round(misting.ml / spray_ml_s), LEAST_RUN_S),
        )
        for day in range(first_day, last_day + 1)
        for misting in wetting.mistings
    ]


def scale_log(
    mass_g: float, seed: int, zone: str, span_s: tuple[int, int]
) -> tuple[Seconds, Values]:
    """What a scale shows: the animal once a week.

    Returns
    -------
    (array, array)
        Seconds since 1970, rising, and masses [g].
    """
    begin_s, end_s = span_s
    offset_s = int(local_offsets(np.array([begin_s], dtype=np.int64), zone)[0])
    days = np.arange((begin_s + offset_s) // DAY_S, (end_s + offset_s) // DAY_S + 1)
    days = days[days % WEIGHED_EVERY == seed % WEIGHED_EVERY]
    at_s = (days * DAY_S + round(WEIGHED_H * HOUR_S) - offset_s).astype(np.int64)
    at_s = at_s[(at_s >= begin_s) & (at_s < end_s)]
    drawn = [
        float(np.random.default_rng([seed, 43, int(one) // DAY_S]).standard_normal())
        for one in at_s
    ]
    masses = mass_g * (1 + SCALE_SHARE * np.array(drawn))

    return at_s, np.maximum(np.round(masses / SCALE_STEP_G) * SCALE_STEP_G, SCALE_STEP_G)
