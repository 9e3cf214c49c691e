"""What must hold where an animal or its eggs are kept outside the enclosure: in the fridge of a winter
rest, in the incubator. Method: docs/methods/alarms.md.
"""

from collections.abc import Sequence
from typing import NamedTuple

from husbandry.breeding.incubation import SET_BEYOND_K, TOLERANCE_K, set_point
from husbandry.derivation import Derivation, DerivationInput, Source, named_value
from husbandry.records.series import END_WORDS, ChannelTargets, PhaseRange
from husbandry.species.care import Reproduction

FROST_C = 2.0
"""Below it a resting animal's eyes and limbs freeze (common practice) [°C]."""
COLDER_K, WARMER_K = 3.0, 4.0
"""Beyond its range by so much a rest is not safe: colder it freezes, warmer it wakes and burns what it
has (common practice: a fridge of 4 to 8 °C is seen to below 2 and above 12) [K]."""


def dormancy_targets(low_c: float, high_c: float) -> ChannelTargets:
    """What the brumation fridge must hold, by day and by night alike.

    Parameters
    ----------
    low_c, high_c : float
        Range of the rest by its species [°C].
    """
    limit_low = min(max(low_c - COLDER_K, FROST_C), low_c)
    wanted = PhaseRange(low_c, high_c, limit_low, high_c + WARMER_K)
    rule = (
        f"The rest's own range by its species. Never {COLDER_K:g} K colder, where it freezes, nor"
        f" under {FROST_C:g} °C; never {WARMER_K:g} K warmer, where it wakes and burns what it has."
    )
    given = (named_value("rest from", low_c, "°C"), named_value("rest to", high_c, "°C"))
    return ChannelTargets(wanted, wanted, (), _workings(wanted, rule, given))


def _workings(
    wanted: PhaseRange, rule: str, given: tuple[DerivationInput, ...]
) -> tuple[tuple[str, Derivation], ...]:
    """The ends of a range that holds by day and by night, each with its rule."""
    ends = (wanted.low, wanted.high, wanted.limit_low, wanted.limit_high)
    return tuple(
        (
            words,
            Derivation(
                value=value,
                unit="°C",
                rule=rule,
                inputs=given,
                sources=(Source(kind="common practice"),),
            ),
        )
        for words, value in zip(END_WORDS, ends, strict=True)
    )


class ClutchInside(NamedTuple):
    """A clutch in an incubator."""

    young: Reproduction
    set_c: float | None
    """As its keeper set it; None takes the middle of its species' range [°C]."""


def incubator_targets(clutches: Sequence[ClutchInside]) -> ChannelTargets | None:
    """What an incubator must hold for every clutch in it; None where nothing is incubated.

    Where two clutches want what cannot be together, the narrower limits of both stand and the first
    clutch's set point.
    """
    ranges = [one for one in map(_range, clutches) if one is not None]
    if not ranges:
        return None
    low, high = max(one.low for one in ranges), min(one.high for one in ranges)
    if low > high:
        low, high = ranges[0].low, ranges[0].high
    limit_low = max(one.limit_low for one in ranges)
    limit_high = min(one.limit_high for one in ranges)
    wanted = PhaseRange(low, high, min(limit_low, low), max(limit_high, high))
    rule = (
        f"What every clutch in it allows: about its set point, and never {SET_BEYOND_K[0]:g} K below or"
        f" {SET_BEYOND_K[1]:g} K above its species' range."
    )
    given = tuple(
        named_value(f"clutch {n} {words}", value, "°C")
        for n, one in enumerate(ranges, 1)
        for words, value in (("from", one.low), ("to", one.high))
    )

    return ChannelTargets(wanted, wanted, (), _workings(wanted, rule, given))


def _range(clutch: ClutchInside) -> PhaseRange | None:
    point = set_point(clutch.young)
    if point is None or clutch.young.incubation_c is None:
        return None
    middle, stray = point if clutch.set_c is None else (clutch.set_c, TOLERANCE_K)
    coolest, warmest = clutch.young.incubation_c.ends
    below, above = SET_BEYOND_K

    return PhaseRange(middle - stray, middle + stray, coolest - below, warmest + above)
