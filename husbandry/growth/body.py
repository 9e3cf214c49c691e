"""The mass and the length of a body: as measured, else from each other, else typical of its stage.

A typed length says more of a mass than the middle of a stage does: bodies of one length differ in
mass by about half, those of one stage by ten times. Method: docs/methods/growth.md.
"""

import math
from collections.abc import Mapping
from typing import Literal

from husbandry.derivation import Z90, Derivation, DerivationInput, Document, Source, named_value
from husbandry.growth.expected import expected
from husbandry.species.parts import LengthKind
from husbandry.species.profile import Profile
from husbandry.species.values import ValueRange

MASS_LN_SD = 0.25
"""Of the mass of bodies of one length: 9 of 10 lie within x/÷ 1.5 (common practice) [ln]."""
LENGTH_LN_SD = MASS_LN_SD / 3
"""Of the length of bodies of one mass, as mass goes with about its cube (definition) [ln]."""
PROPORTION_LN_SD = 0.08
"""Of a length converted by a proportion: tails differ, and regrow shorter (design choice) [ln]."""
How = Literal["measured", "converted", "estimated", "typical"]
_SOURCE = Source(
    kind="design choice",
    text=(
        "a power law through the first and the grown body of its profile, by sex where they differ"
    ),
)


class BodyMeasure(Document):
    """A mass or a length, and how it is known."""

    derivation: Derivation
    how: How

    @property
    def value(self) -> float:
        """Mass [g] or length [mm]."""
        return self.derivation.value

    @property
    def measured(self) -> bool:
        """It was read off a scale or a tape."""
        return self.how == "measured"


class Body(Document):
    """An animal's body as every rule takes it."""

    mass: BodyMeasure
    length: BodyMeasure
    """Of the kind that its profile counts in."""


def body_of(
    profile: Profile,
    stage: str,
    *,
    mass_g: float | None = None,
    length_mm: Mapping[LengthKind, float] | None = None,
    sex: str = "unknown",
) -> Body:
    """Find the mass and the length of an animal from what is known of it.

    Parameters
    ----------
    profile : Profile
    stage : str
        Its life stage, for what is not known at all.
    mass_g : float, optional
        As weighed [g].
    length_mm : mapping, optional
        As measured, by kind [mm].
    sex : str
        female, male or unknown: bodies of one length differ where the profile tells sexes apart.
    """
    length = _length_of(profile, length_mm or {})
    if mass_g is not None:
        mass = _measured(mass_g, "g")
    elif length is not None:
        mass = _mass_from(profile, sex, length.value)
    else:
        mass = _typical(profile.stage(stage).mass_g, "g", stage)
    if length is None and mass_g is not None:
        length = _length_from(profile, sex, mass_g)
    if length is None:
        length = _typical(profile.stage(stage).length_mm[profile.body.length_kind], "mm", stage)
    return Body(mass=mass, length=length)


def proportion(profile: Profile, kind: LengthKind) -> float | None:
    """Find the length that a profile counts in over one of another kind, in grown bodies [1].

    Returns
    -------
    float or None
        None where the profile does not say the other kind.
    """
    grown = profile.grown.length_mm
    own = profile.body.length_kind
    if kind not in grown:
        return None
    return grown[own].typical / grown[kind].typical


def _length_of(profile: Profile, length_mm: Mapping[LengthKind, float]) -> BodyMeasure | None:
    """The length that was measured, or one of another kind converted to it."""
    own = profile.body.length_kind
    if own in length_mm:
        return _measured(length_mm[own], "mm")
    for kind, value in length_mm.items():
        share = proportion(profile, kind)
        if share is not None:
            rule = (
                f"{_words(own)} is {share:.2f} of {_words(kind)} in grown bodies of its species."
            )
            given = named_value(_words(kind), value, "mm")
            derivation = _spread(value * share, PROPORTION_LN_SD, "mm", rule, given)
            return BodyMeasure(derivation=derivation, how="converted")
    return None


def _words(kind: LengthKind) -> str:
    return {"total": "total length", "snout_vent": "snout-vent length", "shell": "shell length"}[
        kind
    ]


def _measured(value: float, unit: str) -> BodyMeasure:
    derivation = Derivation(
        value=value, unit=unit, rule="As measured.", sources=(Source(kind="measured"),)
    )
    return BodyMeasure(derivation=derivation, how="measured")


def _mass_from(profile: Profile, sex: str, length_mm: float) -> BodyMeasure:
    rule = "The mass that goes with its length: mass = a · length^b of its species."
    given = named_value("length", length_mm, "mm")
    value = expected(profile, sex).mass_of(length_mm)
    return BodyMeasure(derivation=_spread(value, MASS_LN_SD, "g", rule, given), how="estimated")


def _length_from(profile: Profile, sex: str, mass_g: float) -> BodyMeasure:
    rule = "The length that goes with its mass: mass = a · length^b of its species."
    given = named_value("mass", mass_g, "g")
    value = expected(profile, sex).length_mm(mass_g)
    return BodyMeasure(derivation=_spread(value, LENGTH_LN_SD, "mm", rule, given), how="estimated")


def _spread(
    value: float, ln_sd: float, unit: str, rule: str, given: DerivationInput
) -> Derivation:
    times = math.exp(Z90 * ln_sd)
    return Derivation(
        value=value,
        unit=unit,
        low=value / times,
        high=value * times,
        rule=rule,
        inputs=(given,),
        sources=(_SOURCE,),
        would_change="A weighing or a measuring.",
    )


def _typical(span: ValueRange, unit: str, stage: str) -> BodyMeasure:
    """The middle of a stage, of which nothing else is known."""
    ends = [end for end in (span.low, span.high) if end]
    value = math.exp(sum(math.log(end) for end in ends) / len(ends))
    derivation = Derivation(
        value=value,
        unit=unit,
        low=min(ends),
        high=max(ends),
        rule=f"Nothing was measured: the middle of its stage ({stage}).",
        sources=(Source(kind="design choice"),),
        would_change="A weighing or a measuring.",
    )
    return BodyMeasure(derivation=derivation, how="typical")
