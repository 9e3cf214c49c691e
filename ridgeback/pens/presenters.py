"""What the pages of pens say."""

import datetime as dt
from collections.abc import Iterable, Iterator, Sequence
from typing import NamedTuple

from husbandry.forecast.outdoor_day import LEAST_OUT_H, SUNK_M, OutdoorDay, PenSpan
from husbandry.items.timers import clock_of
from husbandry.pens.findings import BURNS_C, LEAST_WALL_M, PenFinding
from husbandry.pens.plan import HEAT_WAVE_K, PenPlan
from husbandry.quantity import Kind, Units, show
from ridgeback import clock
from ridgeback.pens import flows
from ridgeback.pens.models import Outing, Pen

LENGTHS = frozenset({"wall", "digs out", "height"})
SMALL_LENGTHS = frozenset({"slips through"})
HEADS = {
    "not outside": "Not for every animal",
    "company": "Not together",
    "greenhouse": "Glass walls",
    "open top": "Open above",
    "climbs out": "They get out",
    "slips through": "Mesh too wide",
    "wall": "Walls too low",
    "digs out": "They dig out",
    "ground burns": "The ground burns",
    "shade": "Too little shade",
    "floor": "Too small",
    "height": "Too low to climb",
    "water": "No water",
    "hides": "Too few hides",
    "stone": "No basking stone",
    "branches": "No branches",
    "see-through": "See-through walls",
}
DOING = {
    "greenhouse": "Other walls",
    "open top": "Cover it",
    "climbs out": "Cover it",
    "slips through": "Finer mesh",
    "wall": "Higher walls",
    "digs out": "Let the walls in",
    "ground burns": "Grass",
    "shade": "More shade",
    "floor": "Enlarge it",
    "height": "Higher",
    "water": "Add a dish",
    "hides": "Add hides",
    "stone": "Add a stone",
    "branches": "Add branches",
    "see-through": "Boards",
}
"""Words of the buttons."""


class PenFindingRow(NamedTuple):
    """A finding as the page shows it."""

    slug: str
    head: str
    text: str
    numbers: str
    """What there is and what it takes; empty for what is not a number."""
    is_danger: bool
    does: str
    """Of the button; empty where no change of the pen cures it."""


class KeptIn(NamedTuple):
    """Why animals stay in for a part of the day."""

    when: str
    why: str
    direction: str


class PenRow(NamedTuple):
    """A pen in the list."""

    pen: Pen
    names: str
    direction: str
    state: str
    out: str


class OutingRow(NamedTuple):
    """A time outside as the page shows it."""

    when: str
    lasted: str
    measured: str


def wrong_of(made: PenPlan, units: Units) -> list[PenFindingRow]:
    """What is wrong with the pen."""
    return [
        PenFindingRow(
            one.slug,
            HEADS[one.slug],
            one.text,
            _numbers(one, units),
            one.severity == "danger",
            DOING.get(one.slug, "") if one.patch else "",
        )
        for one in made.findings
    ]


def _numbers(one: PenFinding, units: Units) -> str:
    """What there is and what it takes."""
    if one.actual is None or one.needed is None:
        return ""
    if one.slug in SMALL_LENGTHS:
        there = show(one.actual, Kind.LENGTH, units, small=True)
        needed = show(one.needed, Kind.LENGTH, units, small=True)
        return f"Its openings are {there}; {needed} hold it."
    if one.slug in LENGTHS:
        there, needed = (show(value, Kind.LENGTH, units) for value in (one.actual, one.needed))
    elif one.slug == "floor":
        there, needed = (area(value, units) for value in (one.actual, one.needed))
    elif one.slug == "shade":
        there, needed = (f"{100 * value:.0f} %" for value in (one.actual, one.needed))
    elif one.slug == "ground burns":
        there, needed = (
            show(value, Kind.TEMPERATURE, units, digits=0) for value in (one.actual, one.needed)
        )
        return f"{there} at noon; from {needed} on it burns."
    else:
        there, needed = (f"{value:.0f}" for value in (one.actual, one.needed))
    return f"Now {there}; it takes {needed}."


M2_PER_FT2 = 0.09290304
"""Exact by definition of the foot (NIST SP 811) [m²/ft²]."""


def area(value_m2: float, units: Units) -> str:
    """An area for the reader."""
    if units.system == "us":
        return f"{value_m2 / M2_PER_FT2:.0f} ft²"
    return f"{value_m2:.1f} m²"


def spans_words(spans: Sequence[PenSpan]) -> list[str]:
    """Spans of the day as the clock says them."""
    return [f"{clock_of(one.begin_h)} to {clock_of(one.end_h)}" for one in spans]


def kept_in(found: OutdoorDay, units: Units) -> list[KeptIn]:
    """Why an animal is not out for parts of the day that are worth a line."""
    return [_kept_in(one, found, units) for one in found.spans if _is_said(one)]


def _is_said(span: PenSpan) -> bool:
    return span.state in {"cold", "hot"} and span.end_h - span.begin_h >= LEAST_OUT_H / 3


def _kept_in(span: PenSpan, found: OutdoorDay, units: Units) -> KeptIn:
    """Why it is not out for a part of the day."""

    def temperature(value: float | None) -> str:
        return "" if value is None else show(value, Kind.TEMPERATURE, units, digits=0)

    when = f"{clock_of(span.begin_h)} to {clock_of(span.end_h)}"
    if span.state == "hot":
        why = f"too hot: the shade passes {temperature(found.hot_above_c)}, its limit"
        return KeptIn(when, why, "above")
    ways = []
    if found.basks_from_c is not None:
        ways.append(f"on a stone of {temperature(found.basks_from_c)}")
    if found.air_from_c is not None:
        ways.append(f"in air of {temperature(found.air_from_c)}")
    why = f"too cold: it warms up {' or '.join(ways)}"
    coldest = min(found.air_c[n] for n in range(len(found.air_c)) if span.holds(n))
    if found.cold_below_c is not None and coldest < found.cold_below_c:
        why += f", and stays in where the air is under {temperature(found.cold_below_c)}"

    return KeptIn(when, why, "below")


def rule_numbers(units: Units) -> dict[str, str]:
    """Numbers of the rules, for the reader."""
    return {
        "least_wall": show(LEAST_WALL_M, Kind.LENGTH, units),
        "sunk": show(SUNK_M, Kind.LENGTH, units),
        "heat_wave": show(HEAT_WAVE_K, Kind.TEMPERATURE_DIFFERENCE, units, digits=0),
        "burns": show(BURNS_C, Kind.TEMPERATURE, units, digits=0),
    }


def facts_of(day: OutdoorDay, units: Units) -> list[tuple[str, str]]:
    """Numbers of the day."""
    shade = show(day.warmest_shade_c, Kind.TEMPERATURE, units, digits=0)
    stone = show(day.hottest_c, Kind.TEMPERATURE, units, digits=0)

    return [
        ("Warmest in the shade", shade),
        ("A dark stone in the sun", stone),
        ("UV index at its highest", f"{day.most_uvi:.1f}"),
    ]


def rows(pens: Sequence[Pen], on: dt.date) -> Iterator[PenRow]:
    """Pens of the list, each on a usual day of this month."""
    for pen in pens:
        made = flows.plan_of(pen, on)
        dangers = sum(one.severity == "danger" for one in made.findings)
        if dangers:
            direction = "above"
            state = f"{dangers} danger{'s' if dangers > 1 else ''} in it"
        elif made.findings:
            direction = "unknown"
            state = "not quite right for who goes out"
        else:
            direction, state = "right", "right for who goes out"
        names = " and ".join(one.animal.name or "unnamed" for one in pen.members) or "nobody yet"
        out = ", ".join(spans_words(made.out))
        yield PenRow(pen, names, direction, state, out)


def outing_rows(pen: Pen, outings: Iterable[Outing], units: Units) -> list[OutingRow]:
    """The last times outside, each with what the shade had by its thermometer."""
    found = []
    for one in outings:
        begin = clock.local(one.out_at, pen.place.tz)
        if one.in_at is None or one.lasted is None:
            continue
        end = clock.local(one.in_at, pen.place.tz)
        minutes = round(one.lasted.total_seconds() / 60)
        lasted = f"{minutes // 60} h {minutes % 60:02d} min" if minutes >= 60 else f"{minutes} min"
        measured = ""
        if one.shade_c is not None:
            measured = f"{show(one.shade_c, Kind.TEMPERATURE, units)} in the shade"
        found.append(OutingRow(f"{begin:%-d %B}, {begin:%H:%M} to {end:%H:%M}", lasted, measured))
    return found
