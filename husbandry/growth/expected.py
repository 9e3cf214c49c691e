"""How a species grows: the expected curve of a profile, by sex, and what a mass or a length says on
it.

Von Bertalanffy's curve: a length that nears its asymptote at a rate that falls with what is left,
and a mass that goes with its cube.
The profile gives the mass at hatching, the grown mass, and the months to nine tenths of it. Method:
docs/methods/growth.md.
"""

import math
from dataclasses import dataclass

from husbandry.derivation import Source
from husbandry.methods import Argument, Example, method
from husbandry.species.profile import Profile

GROWN_SHARE = 0.9
"""Share of the grown mass that a profile's months to adult lead to (docs/formats/profile.md) [1]."""
_SOURCE = Source(
    kind="from memory",
    text="L. von Bertalanffy 1938, A quantitative theory of organic growth, Human Biology 10",
)


@method(
    arguments={
        "age_months": Argument("months", 0, 2000),
        "first_g": Argument("g", 0.001, 10_000),
        "grown_g": Argument("g", 0.01, 300_000),
        "months_to_grown": Argument("months", 0.5, 600),
    },
    unit="g",
    rule=(
        "Von Bertalanffy: m = M (1 − b e^−kt)³, with b from the first mass and k from the months to"
        " nine tenths of the grown mass M."
    ),
    source=_SOURCE,
    example=Example(
        {"age_months": 12, "first_g": 2, "grown_g": 400, "months_to_grown": 12},
        360.0,
        1e-9,
        "by definition: nine tenths of 400 g at its months",
    ),
    validity="A curve of the kind, not of one animal: refit it on its own weights.",
)
def expected_mass(
    age_months: float, first_g: float, grown_g: float, months_to_grown: float
) -> float:
    """Mass that an animal of that age is expected to have [g]."""
    return VonBertalanffy.through(first_g, grown_g, months_to_grown).mass_g(age_months)


@dataclass(frozen=True)
class VonBertalanffy:
    """m = M (1 − b e^−kt)³, time in months from hatching."""

    grown_g: float
    b: float
    k_month: float

    @classmethod
    def through(cls, first_g: float, grown_g: float, months: float) -> "VonBertalanffy":
        """From the first mass, the grown mass, and the months to nine tenths of it."""
        b = 1 - (min(first_g, 0.8 * grown_g) / grown_g) ** (1 / 3)
        return cls(grown_g, b, math.log(b / (1 - GROWN_SHARE ** (1 / 3))) / months)

    def mass_g(self, months: float) -> float:
        """At an age; an age before hatching counts as hatching [g]."""
        return float(self.grown_g * (1 - self.b * math.exp(-self.k_month * max(months, 0.0))) ** 3)

    def age_of(self, mass_g: float) -> float:
        """The age at which it has that mass [months]; infinite from the grown mass on."""
        if mass_g >= self.grown_g:
            return math.inf
        left = (1 - (mass_g / self.grown_g) ** (1 / 3)) / self.b
        return max(-math.log(left) / self.k_month, 0.0)


@dataclass(frozen=True)
class ExpectedGrowth:
    """What a profile lets one expect of an animal of that sex: the usual curve, a slow and small
    one, a fast and large one.
    """

    usual: VonBertalanffy
    slow: VonBertalanffy
    fast: VonBertalanffy
    first_g: float
    first_mm: float
    grown_mm: float
    first_low_g: float
    first_high_g: float

    def length_mm(self, mass_g: float) -> float:
        """The length that goes with a mass, of the kind the body is counted in: a power law through
        the first and the grown body [mm].
        """
        power = math.log(self.grown_mm / self.first_mm) / math.log(
            self.usual.grown_g / self.first_g
        )
        return float(self.first_mm * (mass_g / self.first_g) ** power)

    def mass_of(self, length_mm: float) -> float:
        """The mass that goes with a length [g]."""
        power = math.log(self.grown_mm / self.first_mm) / math.log(
            self.usual.grown_g / self.first_g
        )
        return float(self.first_g * (length_mm / self.first_mm) ** (1 / power))


def expected(profile: Profile, sex: str = "any") -> ExpectedGrowth:
    """The expected growth of a species, for one sex where the profile tells them apart."""
    adult = profile.adult_of(sex if sex in {"female", "male"} else "any")
    low_g, high_g = adult.mass_g.ends
    first_low, first_high = adult.first_mass_g.ends
    fastest, slowest = profile.months_to_adult.span.ends
    grown, first, months = (
        adult.mass_g.typical,
        adult.first_mass_g.typical,
        math.sqrt(fastest * slowest),
    )
    return ExpectedGrowth(
        usual=VonBertalanffy.through(first, grown, months),
        slow=VonBertalanffy.through(first_low, low_g, slowest),
        fast=VonBertalanffy.through(first_high, high_g, fastest),
        first_g=first,
        first_mm=adult.first_length_mm.typical,
        grown_mm=adult.length_mm.typical,
        first_low_g=first_low,
        first_high_g=first_high,
    )
