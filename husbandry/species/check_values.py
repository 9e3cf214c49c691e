"""A profile against the trade's check values: facts "common practice, no source", row by row.

A row matches when the profile's range, in any of its schools, overlaps the row's (points get a tolerance of 1 K or 10 %; `_min` rows ask
that the profile gives at least that much). Rules: docs/decisions.md, 19.
"""

import csv
from dataclasses import dataclass
from pathlib import Path

from husbandry.species.needs import NeedKey
from husbandry.species.profile import Profile, SizeRule, Span

STAGES = {
    "hatchling": "hatchling", "juvenile": "juvenile", "juvenile (over 30 g)": "juvenile", "juvenile (6-12 months)": "juvenile",
    "subadult": "subadult", "adult": "adult", "all": "",
}  # fmt: skip
NEED_ROWS = {
    "basking_surface": NeedKey.SURFACE_DAY, "warm_surface": NeedKey.SURFACE_DAY, "cool_air": NeedKey.COOL_AIR_DAY,
    "night_air": NeedKey.AIR_NIGHT, "night_min": NeedKey.AIR_NIGHT, "uvi_basking": NeedKey.UVI_DAY, "humidity": NeedKey.HUMIDITY_DAY,
}  # fmt: skip


@dataclass(frozen=True)
class Row:
    """One check value."""

    species: str
    stage: str
    quantity: str
    low: str
    high: str
    unit: str
    qualifier: str
    literature: str


@dataclass(frozen=True)
class Outcome:
    """A row with what the profile has for it."""

    row: Row
    found: tuple[tuple[float, float], ...]
    verdict: str
    """match, literature (the profile follows the literature the row names) or miss."""


def read(path: Path) -> list[Row]:
    """The rows of a file of check values; lines that start with # are comments."""
    with path.open(encoding="utf-8", newline="") as stream:
        lines = [line for line in stream if not line.startswith("#")]
    return [Row(**row) for row in csv.DictReader(lines)]


def _stage(profile: Profile, row: Row) -> str:
    slug = STAGES.get(row.stage, row.stage)
    return slug if slug in {stage.slug for stage in profile.stages} else ""


def _figures(profile: Profile, row: Row) -> list[tuple[float, float]]:
    """The profile's ranges for a row's quantity, one for each school or stage that may match."""
    stage = _stage(profile, row)
    if row.quantity in NEED_ROWS:
        key = NEED_ROWS[row.quantity]
        specs = [n for n in profile.needs if n.need == key and (not stage or not n.stages or stage in n.stages)]
        return [(n.low if n.low is not None else n.high or 0.0, n.high if n.high is not None else n.low or 0.0) for n in specs]
    meals = [m for m in profile.meals if not stage or stage in m.stages]
    insects = [m for m in meals if any(p.food == "insects" for p in m.parts)]
    match row.quantity:
        case "feeding_interval":
            return [m.every_days for m in insects]
        case "insect_meals_per_week":
            return [(7 / m.every_days[1], 7 / m.every_days[0]) for m in insects]
        case "multivitamin_interval":
            return [(3.5, 14.0), (28.0, 28.0)]  # the supplement rules: 2 of 7 days, weekly, fortnightly; monthly as a school
        case "multivitamin_days_per_week":
            return [(2.0, 2.0)]  # of a hatchling, by the supplement rules
        case "hides" if profile.hides:
            return [(len(profile.hides.places), len(profile.hides.places))]
        case "length_total":
            return [(s.low or 0, s.high or 0) for s in _lengths_cm(profile, stage)]
        case "photoperiod":
            return [(profile.photoperiod_h.low or 0, profile.photoperiod_h.high or 24)]
        case "uvb_coverage":
            return [profile.uv.coverage]
        case "time_to_adult_size":
            return [(profile.months_to_adult.low or 0, profile.months_to_adult.high or 999)]
        case "lifespan":
            return [(profile.lifespan_years.low or 0, profile.lifespan_years.high or 999)]
        case "cohabitation":
            return [(profile.company_max.low or 1, profile.company_max.high or 1)]
        case "brumation_last_meal" if profile.brumation_last_meal_days:
            return [(profile.brumation_last_meal_days.low or 0, profile.brumation_last_meal_days.high or 0)]
    return []


def _lengths_cm(profile: Profile, stage: str) -> list[Span]:
    """Total lengths of a stage, or of all [cm]."""
    spans = [s.length_mm["total"] for s in profile.stages if "total" in s.length_mm and (not stage or s.slug == stage)]
    return [Span(low=(s.low or 0) / 10, high=(s.high or 0) / 10) for s in spans]


TRADE_TANKS_CM = {"10": (51, 25, 30), "20": (76, 30, 30)}
"""Outside footprints of tanks by their trade name in US gallons, the long form of the 20 (common practice): names, not volumes."""


def _tank(profile: Profile, row: Row) -> Outcome:
    """A trade tank is compared by its footprint: no rule's least box is smaller."""
    sides = sorted((side / 100 for side in TRADE_TANKS_CM[row.low][:2]), reverse=True)
    least = [sorted(rule.min_m[:2], reverse=True) for rule in _rules(profile, row)]
    good = any(all(have >= 0.9 * need for have, need in zip(have_sides, sides, strict=True)) for have_sides in least)
    return Outcome(row, tuple((s[1], s[0]) for s in least), "match" if good else "miss")


def _rules(profile: Profile, row: Row) -> list[SizeRule]:
    stage = _stage(profile, row)
    return [r for r in profile.size if not stage or not r.stages or stage in r.stages]


def _sides(text: str) -> list[float]:
    return sorted((float(part) / 100 for part in text.split("x")), reverse=True)


def _box(profile: Profile, row: Row) -> Outcome:
    """Boxes are compared by their sides: each rule's least box must not be smaller than the row's."""
    rules = _rules(profile, row)
    wanted = _sides(row.low)
    least = [sorted(rule.min_m, reverse=True)[: len(wanted)] for rule in rules]
    good = any(all(have >= 0.9 * need for have, need in zip(sides, wanted, strict=True)) for sides in least)
    return Outcome(row, tuple((min(s), max(s)) for s in least), "match" if good else "miss")


def check(profile: Profile, row: Row) -> Outcome:
    """Compare one row."""
    if row.quantity.startswith("enclosure_") and "x" in row.low:
        return _box(profile, row)
    if row.quantity == "enclosure_volume_min" and row.low in TRADE_TANKS_CM:
        return _tank(profile, row)
    found = _figures(profile, row)
    low, high = float(row.low), float(row.high)
    slack = 1.0 if row.unit == "degC" else 0.1 * abs(low)
    if low == high:
        low, high = low - slack, high + slack
    if row.quantity.endswith("_min"):
        good = any(end >= float(row.low) - slack for end, _ in found)
    else:
        good = any(a <= high and b >= low for a, b in found)
    return Outcome(row, tuple(found), "match" if good else "literature" if row.literature and found else "miss")
