"""Growth curves fitted to an animal's own weights: von Bertalanffy, logistic and Gompertz, the best
by AICc.

All three are written with the same three numbers, so that they can be compared and their errors
read alike: the asymptote M, the share f of
it that the animal had at the first weighing, and the rate k. An asymptote that the weights do not
show is not named. Method: docs/methods/growth.md.
"""

import datetime as dt
import math
from collections.abc import Sequence
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from husbandry.derivation import Document

Array = NDArray[np.float64]
Family = Literal["von Bertalanffy", "logistic", "Gompertz"]
FAMILIES: tuple[Family, ...] = ("von Bertalanffy", "logistic", "Gompertz")
LEAST_WEIGHTS, LEAST_DAYS = 6, 90
"""Below these nothing is fitted: three numbers and an error need more than a handful of weights
(common practice of curve fitting).
"""
SEEN_ERROR, SEEN_SHARE = 0.25, 0.5
"""An asymptote is named when its relative error is below the first and the heaviest weight is above
the second of it (design choice) [1].
"""
RIVAL_AICC = 10.0
"""Families no worse than this are still in the running (Burnham & Anderson 2002, from memory):
their asymptotes must agree as well.
"""


class WeightRecord(Document):
    """A weighing."""

    on: dt.date
    mass_g: float


class GrowthFit(Document):
    """A curve through an animal's weights. Time is in days from `origin`, the first weighing."""

    family: Family
    origin: dt.date
    last: dt.date
    count: int
    parameters: tuple[float, float, float]
    """ln M, logit f, ln k [ln g; 1; ln 1/day]."""
    covariance: tuple[tuple[float, float, float], ...]
    scatter: float
    """Standard deviation of ln mass about the curve [1]."""
    heaviest_g: float
    aicc: dict[str, float]
    """Of each family; the lowest is the best."""
    grown_g: dict[str, float]
    """Asymptote by each family [g]."""

    @property
    def asymptote_error(self) -> float:
        """Relative standard error of the asymptote [1]."""
        return math.sqrt(max(self.covariance[0][0], 0.0))

    @property
    def asymptote_g(self) -> float | None:
        """The mass it is growing to; None while the weights do not show it [g]."""
        grown = math.exp(self.parameters[0])
        rivals = [
            mass
            for name, mass in self.grown_g.items()
            if self.aicc[name] - self.aicc[self.family] < RIVAL_AICC
        ]
        agreed = max(rivals) <= (1 + SEEN_ERROR) * min(rivals)
        return (
            grown
            if agreed
            and self.asymptote_error < SEEN_ERROR
            and self.heaviest_g > SEEN_SHARE * grown
            else None
        )

    def mass_g(self, on: dt.date) -> float:
        """The curve at a day [g]."""
        return float(
            np.exp(
                _curve(
                    self.family, np.array([(on - self.origin).days], dtype=float), self.parameters
                )
            )[0]
        )

    def sd(self, on: dt.date) -> float:
        """Standard deviation of ln mass for one weighing on a day: the curve's own error and the
        scatter of weights [1].
        """
        day = np.array([(on - self.origin).days], dtype=float)
        middle = _curve(self.family, day, self.parameters)[0]
        gradient = []
        for n, value in enumerate(self.parameters):
            step = 1e-5 * max(1.0, abs(value))
            moved = [*self.parameters[:n], value + step, *self.parameters[n + 1 :]]
            gradient.append((_curve(self.family, day, moved)[0] - middle) / step)
        slope = np.array(gradient)
        return float(
            math.sqrt(max(slope @ np.array(self.covariance) @ slope, 0.0) + self.scatter**2)
        )


def _curve(family: str, days: Array, parameters: Sequence[float] | Array) -> Array:
    """ln mass of a family at days from the origin."""
    log_grown, logit, log_rate = parameters
    share = 1 / (1 + math.exp(-logit))
    decay = np.exp(-math.exp(log_rate) * days)
    if family == "von Bertalanffy":
        part: Array = 3 * np.log(np.maximum(1 - (1 - share ** (1 / 3)) * decay, 1e-9))
    elif family == "logistic":
        part = -np.log1p((1 / share - 1) * decay)
    else:
        part = math.log(share) * decay
    return log_grown + part


def _starts(logs: Array, days: Array) -> list[tuple[float, float, float]]:
    """Six beginnings: little or much left to grow, slow or fast."""
    found = []
    for factor in (1.1, 2.0, 5.0):
        grown = float(logs.max()) + math.log(factor)
        share = min(max(math.exp(float(logs[0]) - grown), 1e-4), 1 - 1e-4)
        found += [
            (grown, math.log(share / (1 - share)), math.log(pace / float(days[-1])))
            for pace in (1.0, 4.0)
        ]
    return found


def fit(weights: Sequence[WeightRecord]) -> GrowthFit | None:
    """The best curve through the weights; None when they are too few, too close together, or
    nothing fits.

    Parameters
    ----------
    weights : sequence of WeightRecord
        In any order; several on one day are averaged.
    """
    import warnings

    from scipy.optimize import (
        OptimizeWarning,
        curve_fit,
    )  # slow to import, and pages without a fit do not need it

    by_day: dict[dt.date, list[float]] = {}
    for weight in weights:
        by_day.setdefault(weight.on, []).append(math.log(weight.mass_g))
    order = sorted(by_day)
    if len(order) < LEAST_WEIGHTS or (order[-1] - order[0]).days < LEAST_DAYS:
        return None
    days = np.array([(day - order[0]).days for day in order], dtype=float)
    logs = np.array([sum(by_day[day]) / len(by_day[day]) for day in order])
    low = (float(logs.max()) - 0.7, -9.2, math.log(1e-5))
    high = (float(logs.max()) + 4.6, 9.2, math.log(1.0))
    best: dict[Family, tuple[float, Array, Array]] = {}
    for family in FAMILIES:
        for start in _starts(logs, days):
            try:
                with warnings.catch_warnings():
                    warnings.simplefilter(
                        "ignore", OptimizeWarning
                    )  # an endless error is told by the covariance
                    found, covariance = curve_fit(
                        lambda t, a, b, c, family=family: _curve(family, t, (a, b, c)),
                        days,
                        logs,
                        p0=start,
                        bounds=(low, high),
                        max_nfev=400,
                    )
            except RuntimeError:  # this start leads nowhere
                continue
            squares = float(((logs - _curve(family, days, found)) ** 2).sum())
            if family not in best or squares < best[family][0]:
                best[family] = (squares, found, covariance)
    scores = {family: _aicc(len(days), squares) for family, (squares, _, _) in best.items()}
    if not scores:
        return None
    return _best_fit(best, scores, order, logs)


def _best_fit(
    best: dict[Family, tuple[float, Array, Array]],
    scores: dict[Family, float],
    order: list[dt.date],
    logs: Array,
) -> GrowthFit:
    """Take the family of the least score; what its data do not tell is left wide open."""
    family = min(scores, key=lambda name: scores[name])
    squares, found, covariance = best[family]
    endless = ~np.isfinite(covariance)
    covariance = np.where(endless, 1e6, covariance)
    return GrowthFit(
        family=family,
        origin=order[0],
        last=order[-1],
        count=len(order),
        parameters=(float(found[0]), float(found[1]), float(found[2])),
        covariance=tuple((float(row[0]), float(row[1]), float(row[2])) for row in covariance),
        scatter=math.sqrt(squares / max(len(order) - 3, 1)),
        heaviest_g=float(math.exp(logs.max())),
        aicc=dict(scores),
        grown_g={
            name: float(math.exp(parameters[0])) for name, (_, parameters, _) in best.items()
        },
    )


def _aicc(count: int, squares: float) -> float:
    """Akaike's criterion corrected for few data; three parameters and a scatter (Hurvich & Tsai
    1989, from memory).
    """
    parameters = 4
    return (
        count * math.log(max(squares, 1e-12) / count)
        + 2 * parameters
        + 2 * parameters * (parameters + 1) / max(count - parameters - 1, 1)
    )
