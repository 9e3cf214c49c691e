"""How likely it is that an enclosure, built as planned, keeps every range that is predicted: all of
them at once, for one strong lamp warms every place. Method: docs/methods/setup-solver.md.
"""

import functools
import math
from collections.abc import Mapping, Sequence
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray
from scipy.special import ndtr, ndtri

from husbandry.climate.heat import PRIOR_LN_SD, ROOM_SD_K, ModelReading, SteadyState
from husbandry.climate.heat_model import HeatSource
from husbandry.derivation import Z90
from husbandry.predict.predict import Prediction
from husbandry.species.needs import NeedKey
from husbandry.targets.verdicts import TargetRange

Array = NDArray[np.float64]
POINTS_LN2 = 11
"""Of the points at which the joint distribution is asked: its error is under a hundredth (checked
by tests/husbandry/predict/test_chance.py) [log2 of points].
"""
LEAST_SD = 1e-6
"""Of a number that the model is sure of (design choice) [the need's unit]."""
NO_UVI = 1e-6
"""Where no ultraviolet falls, for its logarithm (design choice) [UV index]."""


class _Marginal(NamedTuple):
    """A predicted need: centre, standard deviation and range; of a UV index their logarithms."""

    centre: float
    sd: float
    low: float
    high: float


def chance_of_all(prediction: Prediction, targets: Mapping[NeedKey, TargetRange]) -> float:
    """Probability that every need that is predicted lies in its range.

    Temperatures hang together through the strengths of lamps, panels and air, by day and by night;
    ultraviolet, humidity and water are taken as independent of them and of each other. Readings judge
    nothing here; what they told of the strengths counts.

    Parameters
    ----------
    prediction : Prediction
        The physics of an enclosure.
    targets : mapping of NeedKey to TargetRange
        What its animals need together; a need on which they conflict is left out.

    Returns
    -------
    float
        0 to 1; 1 where nothing is predicted.
    """
    asked = {
        key: found
        for key, target in targets.items()
        if not target.conflict and (found := _marginal(prediction, key, target)) is not None
    }
    if not asked:
        return 1.0

    centres, sds, lows, highs = np.array(list(asked.values())).T
    joint = _correlations(prediction, list(asked), sds)
    drawn = _normal_points(len(asked)) @ np.linalg.cholesky(joint).T * sds + centres

    return float(np.mean(np.all((drawn >= lows) & (drawn <= highs), axis=1)))


class NeedChance(NamedTuple):
    """How likely a need that is predicted lies in its range, by itself."""

    key: NeedKey
    chance: float
    """[1]"""
    low: float
    high: float
    """Between which it lies nine times of ten [the need's unit]."""


def chance_of_each(
    prediction: Prediction, targets: Mapping[NeedKey, TargetRange]
) -> tuple[NeedChance, ...]:
    """Probability of each need that is predicted to lie in its range, by itself: the derivation of
    `chance_of_all`, the least likely first.
    """
    found = []
    for key, target in targets.items():
        need = None if target.conflict else _marginal(prediction, key, target)
        if need is None:
            continue
        ends = (need.low - need.centre) / need.sd, (need.high - need.centre) / need.sd
        half = Z90 * need.sd
        nine_of_ten = need.centre - half, need.centre + half
        if key is NeedKey.UVI_DAY:
            nine_of_ten = math.exp(nine_of_ten[0]), math.exp(nine_of_ten[1])
        found.append(NeedChance(key, float(ndtr(ends[1]) - ndtr(ends[0])), *nine_of_ten))
    return tuple(sorted(found, key=lambda one: one.chance))


def _marginal(prediction: Prediction, key: NeedKey, target: TargetRange) -> _Marginal | None:
    """What is predicted of a need by itself; None for what is not predicted."""
    low, high = target.low_value, target.high_value
    damp = prediction.expected_humidity
    match key:
        case NeedKey.UVI_DAY:
            seen = prediction.uvi()
            return _Marginal(_ln(seen.uvi), max(seen.ln_sd, LEAST_SD), _ln(low), _ln(high))
        case NeedKey.WATER_DAY if prediction.pool_day is not None:
            value, sd = prediction.pool_day.day_c, prediction.pool_day.sd_k
        case NeedKey.HUMIDITY_DAY if damp is not None:
            value, sd = damp.day_pct, damp.day_sd
        case NeedKey.HUMIDITY_NIGHT if damp is not None:
            value, sd = damp.night_pct, damp.night_sd
        case _:
            spread = prediction.spread(key)
            if spread is None:
                return None
            value, sd = spread.temp_c, spread.sd_k

    return _Marginal(value, max(sd, LEAST_SD), low, high)


def _ln(uvi: float) -> float:
    """Of a UV index or an end of its range."""
    return math.log(max(uvi, NO_UVI))


@functools.cache
def _normal_points(dimensions: int) -> Array:
    """Points of independent standard normal numbers that fill their space evenly; the same each time.

    Returns
    -------
    ndarray
        Shape (2**POINTS_LN2, dimensions).
    """
    from scipy.stats import qmc  # a second to import, and only who asks for a chance needs it

    even = qmc.Sobol(dimensions, scramble=True, rng=np.random.default_rng(0))
    return np.asarray(ndtri(even.random_base2(POINTS_LN2)))


def _correlations(prediction: Prediction, needs: Sequence[NeedKey], sds: Array) -> Array:
    """Of the errors of several predicted needs [1]; shape (needs, needs)."""
    joint = np.eye(len(needs))
    read = [(n, found) for n, key in enumerate(needs) if (found := prediction.reading_of(key))]
    if len(read) < 2:
        return joint

    lamps = _lamps_of(prediction)
    gradients = np.array([_gradient(*found, lamps) for _, found in read])
    shared = gradients @ _covariance(prediction, lamps) @ gradients.T
    # What strengths explain of each; the rest of its interval is its own.
    whole = np.maximum(np.diag(shared), sds[[n for n, _ in read]] ** 2)
    part = shared / np.sqrt(np.outer(whole, whole))

    for row, (n, _) in enumerate(read):
        for column, (m, _) in enumerate(read):
            if n != m:
                joint[n, m] = part[row, column] * (1 - 1e-9)

    return joint


def _lamps_of(prediction: Prediction) -> list[HeatSource]:
    """Everything that warms by day or by night, each once."""
    found = {lamp.item_id: lamp for lamp in prediction.day.heat_model.lamps}
    if prediction.night is not None:
        found |= {lamp.item_id: lamp for lamp in prediction.night.heat_model.lamps}
    return list(found.values())


def _gradient(steady: SteadyState, reading: ModelReading, lamps: list[HeatSource]) -> Array:
    """Change of a reading by ln of the enclosure's strengths and of each lamp's, and by a kelvin of the
    room [K]; lamps that are off then add nothing.
    """
    own = steady.gradient(reading)
    of_all = len(PRIOR_LN_SD)
    by_id = {lamp.item_id: own[of_all + n] for n, lamp in enumerate(steady.heat_model.lamps)}
    return np.array([*own[:of_all], *(by_id.get(lamp.item_id, 0.0) for lamp in lamps), own[-1]])


def _covariance(prediction: Prediction, lamps: list[HeatSource]) -> Array:
    """Of the strengths of the enclosure and all its lamps, and of the room by day and by night alike."""
    request = prediction.request
    items = [request.item(lamp.item_id) for lamp in lamps]
    known = prediction.learned.strengths(request.enclosure, items, lamps).covariance
    if known is None:
        known = np.diag(np.square([*PRIOR_LN_SD, *(lamp.ln_sd for lamp in lamps)]))
    whole = np.zeros((len(known) + 1, len(known) + 1))
    whole[:-1, :-1] = known
    whole[-1, -1] = ROOM_SD_K**2

    return whole
