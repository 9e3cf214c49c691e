"""What the animal will weigh and measure on a day to come, with a band, from whatever is known of
it.

In this order: its own fitted curve, where its weights show where it is going; that curve for two
months and then its species' curve, where they
do not; its species' curve through its last weight; its age. Method: docs/methods/growth.md.
"""

import datetime as dt
import math
from collections.abc import Callable, Sequence
from typing import Literal, NamedTuple

from husbandry.derivation import Z90, Document, Source
from husbandry.growth.expected import ExpectedGrowth, VonBertalanffy, expected
from husbandry.growth.fitting import GrowthFit, WeightRecord, fit
from husbandry.species.profile import Profile
from husbandry.species.stages import DAYS_PER_MONTH

Basis = Literal[
    "its own weights", "its own weights for a while", "its last weight", "grown", "nothing weighed"
]
TRUSTED_DAYS = 60
"""How far a curve is followed beyond the last weight while its asymptote is not seen (source:
feeding C6) [days].
"""
STEADY, STEADY_DAYS = 0.06, 120
"""An animal of grown mass whose weights stay within this share over so long is grown (design
choice) [1; days].
"""
CREDIBLE = 0.75
"""An asymptote below this share of the smallest grown animal of its species is not believed (design
choice) [1].
"""
LEAST_SCATTER = 0.04
"""Standard deviation of ln mass by food, water and scale alone (common practice: a meal, a drink)
[1].
"""


class MassInterval(NamedTuple):
    """A mass with its 90 % interval [g]."""

    low: float
    usual: float
    high: float


class Growth(Document):
    """Everything that projects one animal.

    It is computed once, when a weight comes in, and read many times.
    """

    species: str
    sex: str
    basis: Basis
    last_on: dt.date | None = None
    last_g: float | None = None
    last_mm: float | None = None
    """The last length of the kind the body is counted in."""
    last_mm_g: float | None = None
    """The mass at that length."""
    fit: GrowthFit | None = None
    count: int = 0

    def mass(self, profile: Profile, on: dt.date) -> MassInterval | None:
        """The mass on a day with its band; None while nothing was weighed."""
        if self.last_g is None or self.last_on is None:
            return None
        if on <= self.last_on:
            return MassInterval(self.last_g, self.last_g, self.last_g)
        if self.fit is not None and self.basis == "its own weights":
            return _by_fit(self.fit, on, self.last_g)
        kind = expected(profile, self.sex)
        if self.basis == "grown":
            spread = math.exp(Z90 * max(LEAST_SCATTER, STEADY))
            return MassInterval(self.last_g / spread, self.last_g, self.last_g * spread)
        if self.fit is not None:
            until = self.last_on + dt.timedelta(days=TRUSTED_DAYS)
            if on <= until:
                return _by_fit(self.fit, on, self.last_g)
            return _by_species(kind, _by_fit(self.fit, until, self.last_g), (on - until).days)
        there = self.last_g
        return _by_species(kind, MassInterval(there, there, there), (on - self.last_on).days)

    def length_mm(self, profile: Profile, mass_g: float) -> float | None:
        """The length that goes with a mass, on from the last measured one; None when none was
        measured [mm].
        """
        if self.last_mm is None or self.last_mm_g is None:
            return None
        kind = expected(profile, self.sex)
        return max(
            self.last_mm, self.last_mm * kind.length_mm(mass_g) / kind.length_mm(self.last_mm_g)
        )

    @property
    def source(self) -> Source:
        """Whose word the projection is."""
        if self.fit is not None and self.basis.startswith("its own"):
            return Source(
                kind="measured", text=f"{self.fit.count} weights, {self.fit.family} curve"
            )
        return Source(kind="design choice", text="the expected curve of its species")


def _by_fit(curve: GrowthFit, on: dt.date, last_g: float) -> MassInterval:
    """On the animal's own curve; an animal is not expected to shrink below its last weight while it
    grows.
    """
    usual = curve.mass_g(on)
    spread = math.exp(Z90 * max(curve.sd(on), LEAST_SCATTER))
    return MassInterval(
        min(usual, last_g) if usual < last_g else usual / spread, usual, usual * spread
    )


def _on(curve: VonBertalanffy, mass_g: float, days: float) -> float:
    """So many days on from a mass along a curve; past its grown mass it stays [g]."""
    age = curve.age_of(mass_g)
    return mass_g if math.isinf(age) else curve.mass_g(age + days / DAYS_PER_MONTH)


def _by_species(kind: ExpectedGrowth, start: MassInterval, days: int) -> MassInterval:
    """On from a mass by the species' curves: the slow and small one, the usual one, the fast and
    large one.
    """
    scatter = math.exp(Z90 * LEAST_SCATTER)
    usual = _on(kind.usual, start.usual, days)
    low = _on(kind.slow, start.low, days)
    high = _on(kind.fast, start.high, days)
    return MassInterval(min(low, usual) / scatter, usual, max(high, usual) * scatter)


def growth_of(
    profile: Profile,
    sex: str,
    weights: Sequence[WeightRecord],
    lengths: Sequence[tuple[dt.date, float]] = (),
) -> Growth:
    """Look at an animal's weights and lengths and decide how it is projected.

    Parameters
    ----------
    weights : sequence of WeightRecord
        In any order.
    lengths : sequence of (date, mm)
        Of the kind the body is counted in, in any order [mm].
    """
    measured = max(lengths, key=lambda pair: pair[0], default=None)
    if not weights:
        return Growth(
            species=profile.species,
            sex=sex,
            basis="nothing weighed",
            last_mm=measured[1] if measured else None,
        )
    ordered = sorted(weights, key=lambda weight: weight.on)
    last = ordered[-1]
    nearest = (
        min(ordered, key=lambda weight: abs((weight.on - measured[0]).days)) if measured else None
    )
    known = {
        "species": profile.species,
        "sex": sex,
        "last_on": last.on,
        "last_g": last.mass_g,
        "count": len(ordered),
        "last_mm": measured[1] if measured else None,
        "last_mm_g": nearest.mass_g if nearest else None,
    }
    if _is_grown(profile, sex, ordered):
        return Growth(basis="grown", **known)
    curve = fit(ordered)
    if curve is None or curve.parameters[2] <= math.log(2e-5):
        return Growth(basis="its last weight", **known)
    # A curve that bends long before its species is grown shows a pause, not where the animal is
    # going.
    goal = curve.asymptote_g
    least = CREDIBLE * profile.adult_of(sex).mass_g.ends[0]
    basis: Basis = (
        "its own weights" if goal is not None and goal >= least else "its own weights for a while"
    )
    return Growth(basis=basis, fit=curve, **known)


def _is_grown(profile: Profile, sex: str, ordered: Sequence[WeightRecord]) -> bool:
    """Of grown mass, and steady for months; or heavier than its species grows."""
    last = ordered[-1]
    low, high = profile.adult_of(sex).mass_g.ends
    if last.mass_g >= high:
        return True
    recent = [weight for weight in ordered if (last.on - weight.on).days <= 2 * STEADY_DAYS]
    long = (last.on - recent[0].on).days >= STEADY_DAYS
    masses = [weight.mass_g for weight in recent]
    return last.mass_g >= low and long and max(masses) / min(masses) - 1 <= 2 * STEADY


def crossing(
    growth: Growth, profile: Profile, mass_g: float, after: dt.date, until: dt.date
) -> tuple[dt.date | None, dt.date | None, dt.date | None]:
    """The days on which the upper, the usual and the lower edge of the band reach a mass: the
    earliest, the usual and the latest; None beyond `until`.
    """
    return (
        _first(growth, profile, lambda interval: interval.high, mass_g, after, until),
        _first(growth, profile, lambda interval: interval.usual, mass_g, after, until),
        _first(growth, profile, lambda interval: interval.low, mass_g, after, until),
    )


def _first(
    growth: Growth,
    profile: Profile,
    edge: Callable[[MassInterval], float],
    mass_g: float,
    after: dt.date,
    until: dt.date,
) -> dt.date | None:
    """The first day on which an edge of the band is at a mass, by halving: the edges only rise."""

    def there(days: int) -> bool:
        interval = growth.mass(profile, after + dt.timedelta(days=days))
        return interval is not None and edge(interval) >= mass_g

    low = 0
    high = (until - after).days
    if high <= 0 or not there(high):
        return None
    if there(0):
        return after
    while high - low > 1:
        middle = (low + high) // 2
        low, high = (low, middle) if there(middle) else (middle, high)
    return after + dt.timedelta(days=high)
