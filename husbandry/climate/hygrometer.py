"""A hygrometer's log, and what it tells of an enclosure's air
exchange, its substrate and what its walls take up.

Method: docs/methods/moisture.md, "A log".
"""

import datetime as dt
import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Any

import numpy as np
from numpy.typing import NDArray
from scipy.optimize import least_squares

from husbandry.climate.moisture import Forcing, MoistureModel, WaterStores, run, saturation
from husbandry.errors import DocumentError, Problem

Array = NDArray[np.float64]
LEAST_H, MOST_DAYS = 48.0, 60
"""Least and most length of a log (source: humidity A8; design choice) [h, days]."""
MOST_EMPTY = 0.3
"""Share of half hours without a value that a log may have (design choice) [1]."""
LOG_STEP_S = 1800.0
"""Between two values of a log that is fitted (design choice) [s]."""
WET_AFTER_H = 0.5
"""After a misting the sensor itself is wet: such readings are left out (source: humidity A8)
[h]."""
SENSOR_PCT = 3.0
"""Of a usual sensor (source: humidity A8) [%]."""
ALIKE = 8.0
"""Half hours whose errors go together, so that a long log does not pretend to know more than its
sensor (design choice) [1].
"""
LOG_PRIOR_LN_SD = (0.42, 0.5, 0.7)
"""Of air exchange, substrate and buffer before any log (source: humidity A8) [1]."""
LEAST_LN_SD = (0.10, 0.15, 0.20)
"""And after one at the least: an enclosure is not quite as the model has it, and its doors are
opened (design choice) [1].
"""
LOWEST_LN, HIGHEST_LN = (-2.5, -3.0, -1.2), (2.5, 2.5, 2.5)
"""Bounds of the fitted factors (design choice) [ln]."""
STARTS_LN = ((0.0, 0.0, 0.0), (-1.0, 0.3, 0.2), (1.0, -0.3, 0.4))
"""One alone can end beside the best (source: humidity A8)."""


@dataclass(frozen=True)
class Log:
    """A hygrometer's log on a grid of half hours; nan where it says nothing."""

    start: dt.datetime
    pct: tuple[float, ...]
    temp_c: tuple[float, ...]

    @property
    def hours(self) -> float:
        """From its first to its last reading [h]."""
        return len(self.pct) * LOG_STEP_S / 3600


def log_of(local_s: NDArray[np.int64], pct: Array, temp_c: Array) -> Log:
    """A hygrometer's values as means over half hours that end at :00 and :30.

    Parameters
    ----------
    local_s : array
        Seconds of the room's clock since 1970, rising.
    pct : array
        Relative humidity [%].
    temp_c : array
        Temperature at the same place [°C].

    Raises
    ------
    DocumentError
        When they are too short, too long or too sparse to tell anything.
    """
    if not len(local_s):
        raise DocumentError("log", [Problem("", "there is no reading in it")])
    first = int(local_s[0] // LOG_STEP_S)
    slots = (local_s // LOG_STEP_S).astype(np.int64) - first
    steps = int(slots[-1]) + 1
    _check_length(steps)
    counts = np.bincount(slots, minlength=steps)
    with np.errstate(invalid="ignore"):
        means, temps = (
            np.bincount(slots, weights=values, minlength=steps) / counts
            for values in (pct, temp_c)
        )

    if (counts == 0).mean() > MOST_EMPTY:
        raise DocumentError(
            "log",
            [Problem("", "nearly a third of its half hours are empty: log every ten minutes")],
        )
    known = counts > 0
    whole = np.interp(np.arange(steps), np.flatnonzero(known), temps[known])
    start = dt.datetime(1970, 1, 1) + dt.timedelta(seconds=first * LOG_STEP_S)  # noqa: DTZ001  # the room's clock

    return Log(start, tuple(float(v) for v in means), tuple(float(v) for v in whole))


def _check_length(steps: int) -> None:
    """Refuse what is too short or too long."""
    if steps * LOG_STEP_S / 3600 < LEAST_H:
        raise DocumentError(
            "log",
            [
                Problem(
                    "",
                    f"it is {steps / 2:g} h long: two days at the least tell a day from its"
                    " weather",
                )
            ],
        )
    if steps * LOG_STEP_S / 86_400 > MOST_DAYS:
        raise DocumentError(
            "log", [Problem("", "it is longer than two months: take the last weeks of it")]
        )


@dataclass(frozen=True)
class HygrometerFit:
    """What a log told: factors on what the model believes, each with the standard deviation of its
    logarithm.
    """

    air: float
    air_ln_sd: float
    substrate: float
    substrate_ln_sd: float
    buffer: float
    """Of the enclosure, not a factor [1]."""
    buffer_ln_sd: float
    rms_pct: float
    """How far the log lies from the fitted day [%]."""
    uncalibrated_pct: float
    """And from the model before it [%]."""
    hours: float


def fit_log(
    interior: MoistureModel, day: Forcing, place_c: Sequence[float], log: Log
) -> HygrometerFit:
    """Fit air exchange, wetness of the substrate and buffer to a log.

    Parameters
    ----------
    day : Forcing
        A day's of the enclosure as the model has it, by half hours from midnight, with its
        mistings.
    place_c : sequence
        Temperature of the hygrometer's place in that day [°C].

    Raises
    ------
    DocumentError
        When the enclosure is not misted: humidity alone tells ratios, and only what is poured in
        gives them a scale.
    """
    if not any(day.mist_kg):
        raise DocumentError(
            "log",
            [
                Problem(
                    "",
                    "the enclosure is not misted: without a known amount of water a log tells only"
                    " ratios",
                )
            ],
        )
    steps = len(log.pct)
    slot = [(log.start.hour * 2 + (log.start.minute >= 30) + n) % 48 for n in range(steps)]
    shift = [temp - place_c[k] for temp, k in zip(log.temp_c, slot, strict=True)]
    forcing = Forcing(
        LOG_STEP_S,
        tuple(day.air_c[k] + by for k, by in zip(slot, shift, strict=True)),
        tuple(day.room_c[k] for k in slot),
        tuple(day.room_pa[k] for k in slot),
        tuple(day.changes_per_h[k] for k in slot),
        tuple(day.mist_kg[k] for k in slot),
        tuple(day.fog_kg_s[k] for k in slot),
        tuple(day.pool_c[k] for k in slot) if day.pool_c is not None else None,
        tuple(day.held_kg_s[k] for k in slot) if day.held_kg_s else (),
        tuple(day.held_pa[k] for k in slot) if day.held_pa else (),
    )
    full = np.array([saturation(temp) for temp in log.temp_c])
    seen = np.array(log.pct)
    wet = round(WET_AFTER_H * 3600 / LOG_STEP_S)
    after_mist = np.array(
        [any(forcing.mist_kg[max(n - k, 0)] for k in range(wet + 1)) for n in range(steps)]
    )
    return _fit_factors(after_mist, forcing, full, interior, log, seen)


def _fit_factors(
    after_mist: NDArray[Any],
    forcing: Forcing,
    full: NDArray[Any],
    interior: MoistureModel,
    log: Log,
    seen: NDArray[Any],
) -> HygrometerFit:
    """Fit the factors to what was read while nothing dried."""
    used = ~np.isnan(seen) & ~after_mist
    used[:4] = False
    begin = WaterStores(
        float(np.nan_to_num(seen[0], nan=50.0)) / 100 * float(full[0]),
        substrate_kg=interior.substrate_kg,
    )

    def simulated(ln: Array) -> Array:
        air, substrate, buffer = (math.exp(value) for value in ln)
        tried = replace(
            interior, wetness=interior.wetness * substrate, buffer=interior.buffer * buffer
        )
        acts = replace(forcing, changes_per_h=tuple(v * air for v in forcing.changes_per_h))
        return np.asarray(
            np.minimum(100 * np.array(run(tried, acts, begin).vapour_pa) / full, 100.0)
        )

    weight = 1 / (SENSOR_PCT * math.sqrt(ALIKE))

    def residuals(ln: Array) -> Array:
        return np.concatenate(
            [(simulated(ln) - seen)[used] * weight, ln / np.array(LOG_PRIOR_LN_SD)]
        )

    tries = [
        least_squares(
            residuals,
            np.array(start),
            bounds=(LOWEST_LN, HIGHEST_LN),
            diff_step=(1e-3,) * 3,
            max_nfev=25,
        )
        for start in STARTS_LN
    ]
    best = min(tries, key=lambda one: float(one.cost))
    ln = np.asarray(best.x, dtype=np.float64)
    jacobian = np.asarray(best.jac, dtype=np.float64)
    sds = np.maximum(np.sqrt(np.diag(np.linalg.inv(jacobian.T @ jacobian))), LEAST_LN_SD)
    off, before = (
        float(np.sqrt(np.mean((simulated(at) - seen)[used] ** 2))) for at in (ln, np.zeros(3))
    )
    air, substrate, buffer = (float(math.exp(value)) for value in ln)
    sd_air, sd_substrate, sd_buffer = (float(sd) for sd in sds)
    damp = interior.buffer * buffer
    return HygrometerFit(
        air, sd_air, substrate, sd_substrate, damp, sd_buffer, off, before, log.hours
    )
