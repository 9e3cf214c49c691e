"""A log of a hygrometer: read with its faults named, and what it tells of an enclosure's air
exchange, its substrate and what its walls take up.

Method: docs/methods/moisture.md, "A log".
"""

import csv
import datetime as dt
import io
import itertools
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
LEAST_H, MOST_LINES = 48.0, 50_000
"""Least length of a log, and most lines of it that are read (source: humidity A8; design choice)
[h, 1].
"""
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
LOG_FORMATS = (
    "%Y-%m-%d %H:%M:%S",
    "%Y-%m-%d %H:%M",
    "%Y-%m-%dT%H:%M:%S",
    "%Y-%m-%dT%H:%M",
    "%d.%m.%Y %H:%M:%S",
    "%d.%m.%Y %H:%M",
    "%Y/%m/%d %H:%M:%S",
    "%Y/%m/%d %H:%M",
)
_NAMES = {
    "time": ("time", "date", "zeit", "stamp"),
    "pct": ("hum", "rh", "feuchte"),
    "temp": ("temp", "°c", "°f"),
}


@dataclass(frozen=True)
class Log:
    """A hygrometer's log on a grid of half hours; nan where it says nothing."""

    start: dt.datetime
    pct: tuple[float, ...]
    temp_c: tuple[float, ...]
    corrections: tuple[str, ...] = ()

    @property
    def hours(self) -> float:
        """From its first to its last reading [h]."""
        return len(self.pct) * LOG_STEP_S / 3600


def _moment(text: str) -> dt.datetime | None:
    for form in LOG_FORMATS:
        try:
            return dt.datetime.strptime(text.strip().removesuffix("Z"), form)  # noqa: DTZ007  # a logger's own clock, in the room's time
        except ValueError:
            continue
    return None


def _number(text: str) -> float | None:
    try:
        value = float(text.strip().strip("%").replace(",", "."))
    except ValueError:
        return None
    return value if math.isfinite(value) else None


def _columns(header: Sequence[str]) -> dict[str, int]:
    found: dict[str, int] = {}
    for name, words in _NAMES.items():
        for n, cell in enumerate(header):
            if any(word in cell.lower() for word in words) and n not in found.values():
                found[name] = n
                break
    return found


def read_log(text: str) -> Log:
    """Read a log of three columns, time, humidity and temperature, in this order or named in the
    first line.

    Raises
    ------
    DocumentError
        With the number of each line that cannot be read, and with what makes the whole unusable.
    """
    lines = text.replace("\r\n", "\n").replace("\r", "\n").strip("\n").split("\n")
    if len(lines) > MOST_LINES:
        raise DocumentError(
            "log",
            [Problem("", f"more than {MOST_LINES} lines: thin it to one reading in ten minutes")],
        )
    mark = max(";\t,", key=lambda sign: lines[0].count(sign))
    table = list(csv.reader(io.StringIO("\n".join(lines)), delimiter=mark))
    header = table[0] if table else []
    return _read_rows(header, table)


def _read_rows(header: list[str], table: list[list[str]]) -> Log:
    """Read the rows below a header."""
    order = {"time": 0, "pct": 1, "temp": 2}
    first = 0
    corrections: list[str] = []
    if header and _moment(header[0]) is None:
        order = _columns(header)
        first = 1
        missing = [
            words
            for name, words in (
                ("time", "the time"),
                ("pct", "the humidity"),
                ("temp", "the temperature"),
            )
            if name not in order
        ]
        if missing:
            raise DocumentError(
                "log", [Problem("line 1", f"no column is named for {' and '.join(missing)}")]
            )
    rows: list[tuple[dt.datetime, float, float]] = []
    problems: list[Problem] = []
    for n, row in enumerate(table[first:], first + 1):
        if not any(cell.strip() for cell in row):
            continue
        cells = [
            row[order[name]] if order[name] < len(row) else "" for name in ("time", "pct", "temp")
        ]
        at = _moment(cells[0])
        pct = _number(cells[1])
        temp = _number(cells[2])
        if at is None:
            problems.append(
                Problem(f"line {n}", f"“{cells[0][:30]}” is not a time such as 2026-11-25 14:30")
            )
        elif pct is None or not 0 <= pct <= 100.5:
            problems.append(
                Problem(f"line {n}", f"“{cells[1][:20]}” is not a humidity from 0 to 100 %")
            )
        elif temp is None or not -20 <= temp <= 140:
            problems.append(Problem(f"line {n}", f"“{cells[2][:20]}” is not a temperature"))
        else:
            rows.append((at, min(pct, 100.0), temp))
        if len(problems) >= 8:
            break
    if problems:
        raise DocumentError("log", problems)
    if not rows:
        raise DocumentError("log", [Problem("", "there is no reading in it")])
    if any(b[0] < a[0] for a, b in itertools.pairwise(rows)):
        rows.sort(key=lambda row: row[0])
        corrections.append("its lines were put in the order of their times")
    if np.median([row[2] for row in rows]) > 45:
        rows = [(at, pct, (temp - 32) / 1.8) for at, pct, temp in rows]
        corrections.append("its temperatures were taken as °F")
    return _gridded(rows, tuple(corrections))


def _gridded(
    rows: Sequence[tuple[dt.datetime, float, float]], corrections: tuple[str, ...]
) -> Log:
    """Means over half hours that end at :00 and :30."""
    begin = rows[0][0].replace(minute=0 if rows[0][0].minute < 30 else 30, second=0, microsecond=0)
    steps = int((rows[-1][0] - begin).total_seconds() // LOG_STEP_S) + 1
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
    if steps > 48 * 60:
        raise DocumentError(
            "log", [Problem("", "it is longer than two months: take the last weeks of it")]
        )
    calculators = np.zeros((steps, 3))
    for at, pct, temp in rows:
        n = int((at - begin).total_seconds() // LOG_STEP_S)
        calculators[n] += (1, pct, temp)
    counts = calculators[:, 0]
    with np.errstate(invalid="ignore"):
        means, temps = (
            np.where(counts > 0, calculators[:, k] / np.maximum(counts, 1), np.nan) for k in (1, 2)
        )
    if np.isnan(temps).mean() > 0.3:
        raise DocumentError(
            "log",
            [Problem("", "nearly a third of its half hours are empty: log every ten minutes")],
        )
    known = ~np.isnan(temps)
    whole = np.interp(np.arange(steps), np.flatnonzero(known), temps[known])
    return Log(begin, tuple(float(v) for v in means), tuple(float(v) for v in whole), corrections)


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
