"""When eggs hatch by the temperatures they had, and what is looked at until then.

Method: docs/methods/incubation.md.
"""

import datetime as dt
from collections.abc import Sequence
from typing import Literal, NamedTuple

from husbandry.derivation import Derivation, Source, named_text, named_value
from husbandry.methods import Argument, Example, derivation_of, find, method
from husbandry.species.care import Reproduction
from husbandry.species.profile import Profile

SPREAD = 0.1
"""Of the usual time, early and late: clutches differ (common practice) [1]."""
FIRST_LOOK_DAYS, LOOK_DAYS = 7, 7
"""Candled after a week, looked at weekly (common practice) [days]."""
NEAR_SHARE = 0.93
"""Of the way: from there on daily, for hatchlings are taken out at once (design choice) [1]."""
TOLERANCE_K = 1.0
"""Off the set point before it is said (common practice) [K]."""


@method(
    arguments={
        "temp_c": Argument("°C", 5, 40),
        "cool_c": Argument("°C", 5, 40),
        "warm_c": Argument("°C", 5, 40),
        "longest_days": Argument("days", 1, 500),
        "shortest_days": Argument("days", 1, 500),
    },
    unit="days",
    rule=(
        "On the straight line between the longest time at the cool end and the shortest at the warm"
        " end; beyond the ends, as at the nearer."
    ),
    source=Source(
        kind="common practice",
        text="a clutch is warm and quick or cool and slow; the line between is a design choice",
    ),
    example=Example(
        {"temp_c": 30, "cool_c": 28, "warm_c": 32, "longest_days": 80, "shortest_days": 54},
        67,
        1e-9,
        "common practice, no source: one small gecko, 54 to 80 days at 28 to 32 °C",
    ),
)
def hatch_days(
    temp_c: float, cool_c: float, warm_c: float, longest_days: float, shortest_days: float
) -> float:
    """Days to hatching at a steady temperature."""
    if warm_c <= cool_c:
        return (longest_days + shortest_days) / 2
    share = min(max((temp_c - cool_c) / (warm_c - cool_c), 0.0), 1.0)
    return longest_days + share * (shortest_days - longest_days)


class HatchWindow(NamedTuple):
    """When a clutch hatches, or young are born."""

    early: dt.date
    usual: dt.date
    late: dt.date
    done: float
    """Of the way today [1]."""
    derivation: Derivation


def set_point(young: Reproduction) -> tuple[float, float] | None:
    """Temperature to set and how far it may stray [°C, K]; None where nothing is incubated."""
    if young.incubation_c is None:
        return None
    low, high = young.incubation_c.ends
    return (low + high) / 2, min(TOLERANCE_K, max((high - low) / 2, 0.5))


SET_BEYOND_K = (2.0, 1.0)
"""Below and above its species’ range a set point is refused: cold slows, heat kills (design choice)
[K].
"""
EARLIEST_SHARE = 0.5
"""Of the shortest time: nothing hatches or is born sooner (design choice) [1]."""


def may_be_set(young: Reproduction, temp_c: float) -> bool:
    """Whether an incubator may be set so for a kind that is incubated."""
    if young.incubation_c is None:
        return False
    low, high = young.incubation_c.ends
    return low - SET_BEYOND_K[0] <= temp_c <= high + SET_BEYOND_K[1]


def earliest(young: Reproduction, laid_on: dt.date) -> dt.date:
    """Before that day none can be there."""
    return laid_on + dt.timedelta(days=round(EARLIEST_SHARE * young.days.ends[0]))


def set_derivation(profile: Profile) -> Derivation | None:
    """The set point with its derivation; None where nothing is incubated [°C]."""
    young = profile.young
    point = set_point(profile.young)
    if point is None or young.incubation_c is None:
        return None
    low, high = young.incubation_c.ends
    return Derivation(
        value=point[0],
        unit="°C",
        rule=(
            "The middle of its species’ range; it may stray by a kelvin, or to the ends of a"
            " narrower range."
        ),
        inputs=(
            named_value("coolest", low, "°C"),
            named_value("warmest", high, "°C"),
            named_text("may stray by", f"{point[1]:g} K"),
        ),
        sources=profile.sources(young.origin),
    )


def _days(young: Reproduction, temp_c: float | None) -> float:
    shortest, longest = young.days.ends
    if young.incubation_c is None or temp_c is None:
        return (shortest + longest) / 2
    cool, warm = young.incubation_c.ends
    return hatch_days(temp_c, cool, warm, longest, shortest)


def window_between(
    profile: Profile,
    laid_from: dt.date,
    laid_on: dt.date,
    set_c: float | None,
    read: Sequence[tuple[dt.date, float]],
    today: dt.date,
) -> HatchWindow:
    """When a clutch will hatch that was found: laid on a day between two.

    The window opens with that of the first day and closes with that of the last; each reading
    narrows it as it narrows those.
    """
    first = window(profile, laid_from, set_c, read, today)
    last = window(profile, laid_on, set_c, read, today)
    usual = first.usual + (last.usual - first.usual) / 2
    days = (laid_on - laid_from).days
    derivation = last.derivation.model_copy(
        update={
            "inputs": (
                *last.derivation.inputs,
                named_value("day of laying known to", days, "days"),
            )
        }
    )
    done = (first.done + last.done) / 2
    return HatchWindow(first.early, usual, last.late, done, derivation)


def window(
    profile: Profile,
    laid_on: dt.date,
    set_c: float | None,
    read: Sequence[tuple[dt.date, float]],
    today: dt.date,
) -> HatchWindow:
    """When a clutch will hatch: each day so far at the temperature last read, the days to come at
    the one that stands.

    Parameters
    ----------
    set_c : float or None
        Of the incubator, until something is read; None for young born alive [°C].
    read : sequence of (date, float)
        Temperatures as they were read [°C].
    """
    young = profile.young
    known = sorted(read)
    done = 0.0
    temp = set_c
    n = 0
    for offset in range(max((today - laid_on).days, 0)):
        day = laid_on + dt.timedelta(days=offset)
        while n < len(known) and known[n][0] <= day:
            temp = known[n][1]
            n = n + 1
        done += 1 / _days(young, temp)
    if known and known[-1][0] <= today:
        temp = known[-1][1]
    whole = _days(young, temp)
    left = (1 - done) * whole
    usual = (today if today > laid_on else laid_on) + dt.timedelta(days=round(left))
    either = dt.timedelta(days=max(1, round(SPREAD * whole)))
    return HatchWindow(
        usual - either, usual, usual + either, done, _derivation(profile, temp, done, left)
    )


def _derivation(profile: Profile, temp_c: float | None, done: float, left: float) -> Derivation:
    young = profile.young
    shortest, longest = young.days.ends
    sources = profile.sources(young.origin)
    if young.incubation_c is not None and temp_c is not None:
        cool, warm = young.incubation_c.ends
        arguments: dict[str, float | str] = {
            "temp_c": temp_c,
            "cool_c": cool,
            "warm_c": warm,
            "longest_days": longest,
            "shortest_days": shortest,
        }
        made = derivation_of(find("hatch_days"), arguments, _days(young, temp_c))
    else:
        made = Derivation(
            value=(shortest + longest) / 2,
            unit="days",
            rule="The middle of its species’ usual time.",
        )
    more = (
        named_value("of the way, by the days so far", 100 * done, "%"),
        named_value("days left", left, "days"),
    )
    return made.model_copy(
        update={
            "inputs": (*made.inputs, *more),
            "sources": (*made.sources, *sources),
            "would_change": (
                "A reading of the incubator: each day counts at the temperature it had."
            ),
        }
    )


Look = Literal["candle", "look", "daily"]
EGG_CHECKS: dict[Look, str] = {
    "candle": (
        "Candle it: a cold, narrow light against the shell, in the dark, without turning it. Veins"
        " or a pink glow are life; yellow and clear is not yet, or not."
    ),
    "look": "Look: dents, mould, sweat on the lid; the medium damp, not wet. Read its thermometer.",
    "daily": (
        "Look every day: a slit shell is left alone. Who is out and has taken up its yolk is moved"
        " to its own enclosure at once."
    ),
}
"""What is looked at; eggs are never turned (common practice)."""


def due_look(
    laid_on: dt.date, found: HatchWindow, last: dt.date | None, today: dt.date
) -> tuple[Look, dt.date] | None:
    """The look that is due today, and since when."""
    every = 1 if found.done >= NEAR_SHARE else LOOK_DAYS
    due = (
        laid_on + dt.timedelta(days=FIRST_LOOK_DAYS)
        if last is None
        else last + dt.timedelta(days=every)
    )
    if every == 1:
        due = min(due, today) if last is None or last < today else due
    if due > today:
        return None
    return ("daily" if every == 1 else "candle" if last is None else "look"), due


def strays(profile: Profile, set_c: float | None, read_c: float) -> str:
    """What a read temperature means for eggs; empty where it is as it should be."""
    young = profile.young
    if young.incubation_c is None:
        return ""
    low, high = young.incubation_c.ends
    if read_c > high + TOLERANCE_K:
        return "too warm for its species: heat kills eggs faster than cold"
    if read_c < low - TOLERANCE_K:
        return "too cool for its species"
    if set_c is not None and abs(read_c - set_c) > TOLERANCE_K:
        return "off its set point: check the probe's place and the thermostat"
    return ""
