"""What is typed of a body, questioned: a mass a thousand times off, a length that contradicts the
mass, an age that cannot be. Asked, not refused.
"""

import datetime as dt

from husbandry.bounds import LENGTH_MM, MASS_G, OLDEST_YEARS
from husbandry.growth.expected import ExpectedGrowth, expected
from husbandry.quantity import (
    METRIC,
    Doubt,
    Kind,
    PlausibleRange,
    QuantityEntry,
    Units,
    question,
    show,
)
from husbandry.species.profile import Profile
from husbandry.species.stages import DAYS_PER_MONTH

BESIDE_LAST = 2.0
"""A weight or a length this many times the last one, or its fraction, within the days below is
asked about (design choice) [1].
"""
BESIDE_WEIGHING = 1.5
"""The same where an animal is weighed at the interval of its age (design choice) [1]."""
LAST_DAYS = 120
"""An older weight doubts no new one (design choice) [days]."""
BESIDE_LENGTH = 3.0
"""A mass this many times off what goes with the length is asked about: unlike bodies of one length
differ by half (design choice) [1].
"""
BESIDE_AGE = 4.0
"""A mass this many times beyond the fast and the slow of its species at its age is asked about
(design choice) [1].
"""
OLDEST = 1.25
"""An age of so many long lives of its species is asked about (design choice) [1]."""
POSSIBLE_M = (LENGTH_MM[0] / 1000, LENGTH_MM[1] / 1000)
"""Lengths that any body can have (definition: the bounds of entries) [m]."""


def _span(profile: Profile) -> tuple[float, float]:
    """From half the lightest newborn to half as much again as the heaviest adult [g]."""
    firsts = [adult.first_mass_g.ends[0] for adult in profile.adult]
    grown = [profile.grown.mass_g.ends[1], *(adult.mass_g.ends[1] for adult in profile.adult)]
    return 0.5 * min(firsts), 1.5 * max(grown)


def question_mass(
    entry: QuantityEntry,
    profile: Profile,
    sex: str,
    *,
    on: dt.date,
    units: Units = METRIC,
    last: tuple[dt.date, float] | None = None,
    length_mm: float | None = None,
    born_on: dt.date | None = None,
    beside: float = BESIDE_LAST,
) -> Doubt | None:
    """Ask about a mass that cannot well be true of this animal.

    Parameters
    ----------
    entry : QuantityEntry
        As it was typed [g].
    last : (date, g), optional
        The weighing before.
    length_mm : float, optional
        The last length, of the kind the body is counted in [mm].
    beside : float
        So many times the last weight, or its fraction, is asked about [1].
    """
    span = _span(profile)
    doubt = question(
        entry, PlausibleRange(span, MASS_G), units=units, what=f"{profile.name}’s mass"
    )
    if doubt is None and last is not None and 0 <= (on - last[0]).days <= LAST_DAYS:
        near = (max(last[1] / beside, span[0]), min(last[1] * beside, span[1]))
        doubt = question(
            entry,
            PlausibleRange(near, MASS_G),
            units=units,
            what=f"mass after {_mass(last[1], units)}",
        )
    if doubt is not None:
        return doubt
    kind = expected(profile, sex)
    if length_mm is not None:
        usual = kind.mass_of(length_mm)
        if not usual / BESIDE_LENGTH <= entry.value <= usual * BESIDE_LENGTH:
            return Doubt(
                f"A length of {_length(length_mm, units)} goes with about {_mass(usual, units)}:"
                f" {_mass(entry.value, units)} contradicts it. Is one of the two wrong?",
                None,
                False,
            )
    if born_on is not None and on >= born_on:
        slow, fast = _at_age(kind, (on - born_on).days / DAYS_PER_MONTH)
        if not slow / BESIDE_AGE <= entry.value <= fast * BESIDE_AGE:
            return Doubt(
                f"At its age its species weighs {_mass(slow, units)} to {_mass(fast, units)}:"
                f" {_mass(entry.value, units)} is far from it. Is the day of its birth right?",
                None,
                False,
            )
    return None


def _at_age(kind: ExpectedGrowth, months: float) -> tuple[float, float]:
    ends = sorted((kind.slow.mass_g(months), kind.fast.mass_g(months)))
    return ends[0], ends[1]


def question_length(
    entry: QuantityEntry,
    profile: Profile,
    sex: str,
    *,
    on: dt.date,
    units: Units = METRIC,
    last: tuple[dt.date, float] | None = None,
    mass_g: float | None = None,
    of_own_kind: float = 1.0,
) -> Doubt | None:
    """Ask about a length of the kind the body is counted in, or of one that it is converted from.

    Parameters
    ----------
    entry : QuantityEntry
        As it was typed [m].
    last : (date, mm), optional
        The measuring before.
    of_own_kind : float
        The length that its species is counted in over the one that was measured [1].
    """
    firsts = [adult.first_length_mm.ends[0] for adult in profile.adult]
    grown = [adult.length_mm.ends[1] for adult in profile.adult]
    span = (0.0005 * min(firsts) / of_own_kind, 0.0015 * max(grown) / of_own_kind)
    small = span[1] < 0.15
    doubt = question(
        entry, PlausibleRange(span, POSSIBLE_M), units=units, what=f"{profile.name}’s length"
    )
    if doubt is not None:
        return doubt
    if last is not None and on >= last[0]:
        before = last[1] / 1000
        if entry.value < 0.9 * before:
            said = (
                f"It measured {show(before, Kind.LENGTH, units, small=small)} before: bodies do not"
                " shrink, save by a lost tail."
            )
            return Doubt(said, None, False)
    if mass_g is not None:
        usual = expected(profile, sex).length_mm(mass_g) / 1000
        share = BESIDE_LENGTH ** (1 / 3)
        if not usual / share <= entry.value <= usual * share:
            return Doubt(
                f"A mass of {_mass(mass_g, units)} goes with about"
                f" {show(usual, Kind.LENGTH, units, small=small)}:"
                f" {show(entry.value, Kind.LENGTH, units, small=small)} contradicts it. Is one of"
                " the two wrong?",
                None,
                False,
            )
    return None


def question_birth(born_on: dt.date, profile: Profile, *, today: dt.date) -> Doubt | None:
    """Ask about a day of birth: one to come is refused, one long before the longest life of its
    species is asked about.
    """
    if born_on > today:
        return Doubt("This day is still to come.", None, True)
    years = (today - born_on).days / 365.25
    longest = profile.lifespan_years.span.ends[1]
    if years > OLDEST * longest:
        return Doubt(
            f"That makes it {years:.0f} years old; its species lives to about {longest:g}. Is the"
            " year right?",
            None,
            years > OLDEST_YEARS,
        )
    return None


def _mass(grams: float, units: Units) -> str:
    return show(grams, Kind.MASS, units)


def _length(mm: float, units: Units) -> str:
    return show(mm / 1000, Kind.LENGTH, units, small=mm < 150)
