"""An answer as items of a request: dimmed as it was chosen, or at full power on thermostats that hold
the same. Method: docs/methods/setup-solver.md.
"""

import math
from dataclasses import dataclass, replace
from typing import Any

from husbandry.advise.lamps_and_timers import CUT_AIR_K, CUT_SURFACE_K
from husbandry.climate.heat import SteadyState
from husbandry.climate.heat_model import Thermostat
from husbandry.predict.need_states import AnimalNeeds
from husbandry.predict.predict import Prediction
from husbandry.setups.candidates import DAY, NIGHT, HeaterCandidate
from husbandry.setups.programme import MARGIN_HELD_K, Answer
from husbandry.species.needs import NeedKey

RUNS = 0.02
"""A heater with less of its power is off (design choice) [1]."""
FLAT_OUT, OVER_K = 0.97, 3.0
"""From that share on a heater runs all the time, and its set point lies so much above (design
choice) [1, K].
"""
CUT_UNDER_K, CUT_LEAST_K = 0.5, 1.0
"""Under a limit, and over what is held at the least (design choice) [K]."""
NIGHT_OFF_K = 0.3
"""By how much a night is warmer than the set point of a heater that only stands by (design choice)
[K].
"""
SET_RANGE_C = (5.0, 70.0)
"""Set points that a thermostat has (common practice) [°C]."""


def _off_or(power_w: float, share: float) -> float:
    return power_w * share if share > RUNS else 0.0


def dimmed_items(answer: Answer) -> list[dict[str, Any]]:
    """The answer's lamps at the power of each part of the day, without thermostats."""
    found: list[dict[str, Any]] = []
    for n, (one, shares) in enumerate(answer.heaters.items()):
        for part, share, (on, off) in zip("dn", shares, (DAY, NIGHT), strict=True):
            power = _off_or(one.power_w, share)
            if power:
                found += one.items(f"c{n}-{part}", power, on=on, off=off)
    for n, lamp in enumerate(answer.uv):
        found += lamp.items(f"uv-{n + 1}")

    return found


@dataclass(frozen=True)
class SetPoints:
    """Of one heater, by day and by night; None where it is off or not held [°C]."""

    day_c: float | None = None
    night_c: float | None = None


def _cut_out(held_c: float, one: HeaterCandidate, needs: AnimalNeeds, share: float) -> float:
    """Where a cut-out takes the power away: over what is held, under the limit of a surface."""
    if one.probe != "surface":
        return _settable(held_c + max(share * CUT_AIR_K, CUT_LEAST_K))
    target = needs.targets.get(NeedKey.SURFACE_DAY)
    most = held_c + share * CUT_SURFACE_K
    if target is not None and target.limit_high is not None:
        most = min(most, target.limit_high.value - CUT_UNDER_K)
    return _settable(max(most, held_c + CUT_LEAST_K))


def held_items(
    answer: Answer, sets: dict[int, SetPoints], needs: AnimalNeeds, *, cut_share: float = 0.0
) -> list[dict[str, Any]]:
    """The answer as it is built: every heater at its full power, each on its thermostat.

    Parameters
    ----------
    cut_share : float
        Of the usual distance at which an independent cut-out lies above what is held; 0: none [1].
    """
    found: list[dict[str, Any]] = []

    for n, (one, (day, night)) in enumerate(answer.heaters.items()):
        points = sets.get(n, SetPoints())
        more: dict[str, Any] = {}
        stands_by = day > RUNS and night <= RUNS and points.night_c is not None

        if (day <= RUNS or night <= RUNS) and not stands_by:
            on, off = DAY if day > RUNS else NIGHT
            more |= {"on": on, "off": off}
        held = points.day_c if day > RUNS else points.night_c

        if held is not None and one.dims:
            more["thermostat"] = {"set_c": _settable(held), "probe": one.probe or "warm_air"}

            if day > RUNS and points.night_c is not None:
                more["thermostat"]["night_set_c"] = _settable(points.night_c)

            highest = max(held, points.night_c or held)
            if cut_share and _settable(highest) < SET_RANGE_C[1]:
                more["thermostat"]["cut_out_c"] = _cut_out(highest, one, needs, cut_share)
        found += one.items(_name(one, n, answer), **more)

    for n, lamp in enumerate(answer.uv):
        found += lamp.items(f"tube-{n + 1}" if lamp.length_m else f"uv-lamp-{n + 1}")

    return found


def _settable(held_c: float) -> float:
    return round(min(max(held_c, SET_RANGE_C[0]), SET_RANGE_C[1]), 1)


def _name(one: HeaterCandidate, n: int, answer: Answer) -> str:
    """An id that says what it is for."""
    if one.night_only:
        return "night-heat"
    stem = {"surface": "lamp", "warm_air": "air-heat", "cool_air": "cool-heat"}.get(
        one.probe, "light"
    )
    return "mat" if one.kind == "heat_mat" else stem


def set_points(prediction: Prediction, answer: Answer, needs: AnimalNeeds) -> dict[int, SetPoints]:
    """What each probe feels at the solution: there its thermostat is set."""
    found = {}
    floor = None if _warmed_at_night(answer) else _night_floor(prediction, needs)
    for n, (one, shares) in enumerate(answer.heaters.items()):
        pair: list[float | None] = [None, None]
        parts = ((prediction.day, shares[0]), (prediction.night, shares[1]))
        for part, (steady, share) in enumerate(parts):
            if steady is not None and share > RUNS and one.dims:
                felt = _felt(prediction, steady, one, f"c{n}-{'dn'[part]}-1")
                pair[part] = felt + OVER_K * (share > FLAT_OUT)
        if pair[1] is None and pair[0] is not None and one.dark and one.probe == "warm_air":
            pair[1] = floor
        found[n] = SetPoints(*pair)

    return found


def _warmed_at_night(answer: Answer) -> bool:
    return any(night > RUNS for _, night in answer.heaters.values())


def _night_floor(prediction: Prediction, needs: AnimalNeeds) -> float | None:
    """What an air heater that is off at night is set to then, for colder nights than this one [°C].

    None where the night is so near the lower end already that it would run.
    """
    target = needs.targets.get(NeedKey.AIR_NIGHT)
    night_c = prediction.centre(NeedKey.AIR_NIGHT)
    if target is None or night_c is None or not math.isfinite(target.low_value):
        return None
    floor = min(target.low_value + MARGIN_HELD_K, night_c - NIGHT_OFF_K)
    return floor if floor > target.low_value else None


def _felt(
    prediction: Prediction, steady: SteadyState, one: HeaterCandidate, item_id: str
) -> float:
    """What the probe of a heater's thermostat would feel [°C]."""
    model = steady.heat_model
    n = next(n for n, lamp in enumerate(model.lamps) if lamp.item_id == item_id)
    perch = prediction.position.perch
    height = perch.z_m + prediction.position.back_m if perch else None
    held = Thermostat(40.0, one.probe or "warm_air", height)
    lamps = tuple(
        replace(lamp, thermostat=held) if k == n else lamp for k, lamp in enumerate(model.lamps)
    )

    return steady.value(replace(steady, heat_model=replace(model, lamps=lamps)).probe(n))
