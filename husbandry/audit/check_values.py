"""Profiles against the trade's check values: facts "common practice, no source", row by row.

A row matches when the profile's range, at that stage and in any of its approaches, overlaps the
row's; points get a tolerance of 1 K or 10 %,
`_min` rows ask that the profile gives at least that much, enclosures are compared by their sides,
trade tanks by their footprint. A row whose
last column names the literature matches when the profile's default follows it and the row's own
value stands as another approach. What
differs otherwise must be explained by the profile, in its own words and with a source. Rules:
docs/decisions.md, 19.
"""

import csv
import re
from collections.abc import Callable, Iterable
from dataclasses import dataclass
from pathlib import Path

from husbandry.enclosure.sizing import needed_m
from husbandry.enclosure.tanks import TRADE_TANKS
from husbandry.errors import EntryError
from husbandry.feeding.supplements import default_rules
from husbandry.quantity import Kind, convert
from husbandry.species.needs import NeedKey
from husbandry.species.parts import NeedSpec, SizeRule
from husbandry.species.profile import Profile
from husbandry.species.values import ValueRange

COLUMNS = ("species", "stage", "quantity", "low", "high", "unit", "qualifier", "literature")
MOST_EXPLAINED = 5
"""Rows without a literature note that all profiles together may explain away (docs/decisions.md,
19).
"""


@dataclass(frozen=True)
class CheckValue:
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
class CheckResult:
    """A row with what the profile has for it."""

    row: CheckValue
    found: tuple[tuple[float, float], ...]
    """The profile's ranges, in the row's unit."""
    verdict: str
    """match, literature (the profile's default follows the literature the row names), explained, or
    miss.
    """
    why: str = ""
    """The profile's own explanation, or what stands in the way of a comparison."""


def read(path: Path) -> list[CheckValue]:
    """The rows of a file of check values; lines that start with # are comments.

    Raises
    ------
    ValueError
        When a column is missing.
    """
    with path.open(encoding="utf-8", newline="") as stream:
        lines = [line for line in stream if line.strip() and not line.startswith("#")]
    reader = csv.DictReader(lines)
    missing = [column for column in COLUMNS[:5] if column not in (reader.fieldnames or [])]
    if missing:
        raise ValueError(
            f"{path.name}: a file of check values has the columns {', '.join(COLUMNS)}; missing:"
            f" {', '.join(missing)}"
        )

    return [
        CheckValue(**{column: (row.get(column) or "").strip() for column in COLUMNS})
        for row in reader
    ]


STAGE_WORDS = {
    "hatchling": 0.0,
    "newborn": 0.0,
    "neonate": 0.0,
    "baby": 0.0,
    "froglet": 0.0,
    "metamorph": 0.0,
    "larva": 0.0,
    "toadlet": 0.0,
    "yearling": 0.34,
    "juvenile": 0.34,
    "young": 0.34,
    "subadult": 0.67,
    "adult": 1.0,
    "grown": 1.0,
}
"""Names of stages as the trade uses them, with how far along life they lie: a profile that lacks
the name answers with its nearest stage (design choice).
"""


def stages_of(profile: Profile, words: str) -> tuple[str, ...]:
    """The profile's stages that a row's stage names; all of them for “all”."""
    plain = re.sub(r"\(.*?\)", "", words.lower().replace("sub-adult", "subadult")).split()
    slugs = [stage.slug for stage in profile.stages]
    named = [slug for slug in slugs if slug in plain]
    if named:
        return tuple(named)
    places = [STAGE_WORDS[word] for word in plain if word in STAGE_WORDS]
    if not places:
        return tuple(slugs)
    last = max(len(slugs) - 1, 1)

    return tuple(
        {
            min(slugs, key=lambda slug: abs(slugs.index(slug) / last - place)): None
            for place in places
        }
    )


# --- what a profile has for a quantity ------------------------------------------------------------

Range = tuple[float, float]
Reader = Callable[[Profile, tuple[str, ...]], Iterable[Range]]
_OPEN = float("inf")


def _span(span: ValueRange | None) -> list[Range]:
    if span is None:
        return []
    return [
        (span.low if span.low is not None else 0.0, span.high if span.high is not None else _OPEN)
    ]


def _need(*keys: NeedKey) -> Reader:
    def read_needs(profile: Profile, stages: tuple[str, ...]) -> Iterable[Range]:
        return [
            _ends(need)
            for need in profile.needs
            if need.need in keys and any(need.at(stage) for stage in stages)
        ]

    return read_needs


def _ends(need: NeedSpec) -> Range:
    return (
        need.low if need.low is not None else 0.0,
        need.high if need.high is not None else _OPEN,
    )


def _length(kind: str) -> Reader:
    def read_lengths(profile: Profile, stages: tuple[str, ...]) -> Iterable[Range]:
        return [
            r
            for stage in profile.stages
            if stage.slug in stages and kind in stage.length_mm
            for r in _span(stage.length_mm[kind])
        ]

    return read_lengths


def _meals(
    profile: Profile, stages: tuple[str, ...], foods: frozenset[str] | None = None
) -> Iterable[Range]:
    """Intervals of the meals that matter: those with animals in them, where any; else all."""
    meals = [meal for meal in profile.meals if any(stage in meal.stages for stage in stages)]
    animals = [meal for meal in meals if meal.foods & {"insects", "prey", "worms", "ants", "eggs"}]
    if foods is not None:
        animals = [meal for meal in meals if meal.foods & foods]
    return [meal.every_days for meal in animals or ([] if foods else meals)]


def _per_week(ranges: Iterable[Range]) -> list[Range]:
    return [(7 / high, 7 / low) for low, high in ranges]


def _multivitamin(profile: Profile, stages: tuple[str, ...]) -> list[Range]:
    found = []
    for stage in stages:
        paces: tuple[dict[str, str], ...] = (
            {},
            {"multivitamin-pace": "fortnightly"},
            {"multivitamin-pace": "monthly"},
        )
        for approaches in paces:
            rules = default_rules(
                stage,
                uvb=True,
                approaches=approaches,
                plan=profile.supplements.plan,
                first=stage == profile.stages[0].slug,
            )
            found += [
                (rule.interval_days, rule.interval_days)
                for rule in rules
                if rule.product == "multivitamin"
            ]

    return found


def _share(food: str) -> Reader:
    def read_shares(profile: Profile, stages: tuple[str, ...]) -> Iterable[Range]:
        meals = [meal for meal in profile.meals if any(stage in meal.stages for stage in stages)]
        return [
            (part.share, part.share) for meal in meals for part in meal.parts if part.food == food
        ] or [(0.0, 0.0)]

    return read_shares


def _company(profile: Profile, stages: tuple[str, ...]) -> list[Range]:
    return [(1.0, float(profile.company.most))]


_INSECTS = frozenset({"insects"})
READERS: dict[str, tuple[Kind | None, str, Reader]] = {
    # the quantity's kind and the unit in which the profile holds it
    **dict.fromkeys(
        ("basking_surface", "warm_surface", "surface", "basking_spot"),
        (Kind.TEMPERATURE, "°C", _need(NeedKey.SURFACE_DAY)),
    ),
    "basking": (Kind.TEMPERATURE, "°C", _need(NeedKey.SURFACE_DAY, NeedKey.WARM_AIR_DAY)),
    **dict.fromkeys(
        ("basking_air", "warm_air", "warm_end"),
        (Kind.TEMPERATURE, "°C", _need(NeedKey.WARM_AIR_DAY)),
    ),
    **dict.fromkeys(
        ("cool_air", "cool_end", "cool_air_min"),
        (Kind.TEMPERATURE, "°C", _need(NeedKey.COOL_AIR_DAY)),
    ),
    **dict.fromkeys(
        ("air", "ambient", "day_air"),
        (Kind.TEMPERATURE, "°C", _need(NeedKey.WARM_AIR_DAY, NeedKey.COOL_AIR_DAY)),
    ),
    **dict.fromkeys(
        ("night_air", "night_min", "night"), (Kind.TEMPERATURE, "°C", _need(NeedKey.AIR_NIGHT))
    ),
    **dict.fromkeys(
        ("water", "water_temperature", "water_temp"),
        (Kind.TEMPERATURE, "°C", _need(NeedKey.WATER_DAY)),
    ),
    **dict.fromkeys(("uvi_basking", "uvi"), (None, "", _need(NeedKey.UVI_DAY))),
    **dict.fromkeys(
        ("humidity", "humidity_day"), (Kind.HUMIDITY, "%", _need(NeedKey.HUMIDITY_DAY))
    ),
    "humidity_night": (Kind.HUMIDITY, "%", _need(NeedKey.HUMIDITY_NIGHT)),
    "length_total": (Kind.LENGTH, "mm", _length("total")),
    **dict.fromkeys(
        ("length_snout_vent", "length_svl", "svl"), (Kind.LENGTH, "mm", _length("snout_vent"))
    ),
    **dict.fromkeys(
        ("length_shell", "scl", "shell_length"), (Kind.LENGTH, "mm", _length("shell"))
    ),
    "mass": (
        Kind.MASS,
        "g",
        lambda p, s: [r for stage in p.stages if stage.slug in s for r in _span(stage.mass_g)],
    ),
    "age": (
        None,
        "month",
        lambda p, s: [r for stage in p.stages if stage.slug in s for r in _span(stage.age_months)],
    ),
    "lifespan": (None, "year", lambda p, s: _span(p.lifespan_years.span)),
    **dict.fromkeys(
        ("time_to_adult_size", "time_to_adult"),
        (None, "month", lambda p, s: _span(p.months_to_adult.span)),
    ),
    **dict.fromkeys(
        ("hides", "hides_min"),
        (None, "count", lambda p, s: [(len(p.hides.places), len(p.hides.places))]),
    ),
    **dict.fromkeys(("cohabitation", "group_max"), (None, "count", _company)),
    "uvb_coverage": (Kind.SHARE, "fraction", lambda p, s: [p.uv.coverage]),
    "uv_zone": (None, "", lambda p, s: [(p.uv.zone, p.uv.zone)]),
    "photoperiod": (None, "hour", lambda p, s: _span(p.photoperiod_h.span)),
    "feeding_interval": (None, "day", lambda p, s: _meals(p, s)),
    "insect_feeding_interval": (None, "day", lambda p, s: _meals(p, s, _INSECTS)),
    "insect_meals_per_week": (None, "meals", lambda p, s: _per_week(_meals(p, s, _INSECTS))),
    **dict.fromkeys(
        ("meals_per_week", "feedings_per_week"),
        (None, "meals", lambda p, s: _per_week(_meals(p, s))),
    ),
    **dict.fromkeys(
        ("salad_interval", "greens_interval"),
        (None, "day", lambda p, s: _meals(p, s, frozenset({"greens", "grass"}))),
    ),
    "meal_share_of_body_mass": (
        Kind.SHARE,
        "fraction",
        lambda p, s: [m.share_of_mass for m in p.meals if any(x in m.stages for x in s)],
    ),
    "multivitamin_interval": (None, "day", _multivitamin),
    "multivitamin_days_per_week": (None, "day/week", lambda p, s: _per_week(_multivitamin(p, s))),
    "diet_grass_share": (Kind.SHARE, "fraction", _share("grass")),
    **dict.fromkeys(
        ("diet_greens_share", "greens_share"), (Kind.SHARE, "fraction", _share("greens"))
    ),
    **dict.fromkeys(("fruit_share_max", "fruit_share"), (Kind.SHARE, "fraction", _share("fruit"))),
    **dict.fromkeys(
        ("substrate_depth", "substrate_depth"),
        (
            Kind.LENGTH,
            "m",
            lambda p, s: [
                r for g in p.substrate if any(g.at(x) for x in s) for r in _span(g.depth_m)
            ],
        ),
    ),
    "soaks_per_week": (
        None,
        "soaks",
        lambda p, s: [r for k in p.soaks if any(k.at(x) for x in s) for r in _span(k.per_week)],
    ),
    **dict.fromkeys(
        ("soak_minutes", "soak_duration"),
        (
            None,
            "minute",
            lambda p, s: [r for k in p.soaks if any(k.at(x) for x in s) for r in _span(k.minutes)],
        ),
    ),
    "mistings_per_day": (None, "count", lambda p, s: _span(p.moisture.mistings_per_day.span)),
    "brumation_last_meal": (None, "day", lambda p, s: _span(p.season.last_meal_days)),
    **dict.fromkeys(
        ("brumation_temperature", "brumation_air"),
        (Kind.TEMPERATURE, "°C", lambda p, s: _span(p.season.dormancy_c)),
    ),
    **dict.fromkeys(
        ("brumation_weeks", "brumation_duration"),
        (None, "week", lambda p, s: _span(p.season.dormancy_weeks)),
    ),
    **dict.fromkeys(
        ("incubation_temperature", "incubation"),
        (Kind.TEMPERATURE, "°C", lambda p, s: _span(p.young.incubation_c)),
    ),
    **dict.fromkeys(
        ("incubation_days", "incubation_time", "hatch_window"),
        (None, "day", lambda p, s: _span(p.young.days)),
    ),
    **dict.fromkeys(
        ("clutch_size", "clutch"), (None, "count", lambda p, s: _span(p.young.clutch))
    ),
}
_UNITS: dict[str, tuple[Kind, str]] = {
    "degc": (Kind.TEMPERATURE, "°C"),
    "degf": (Kind.TEMPERATURE, "°F"),
    "cm": (Kind.LENGTH, "cm"),
    "mm": (Kind.LENGTH, "mm"),
    "m": (Kind.LENGTH, "m"),
    "in": (Kind.LENGTH, "in"),
    "ft": (Kind.LENGTH, "ft"),
    "g": (Kind.MASS, "g"),
    "kg": (Kind.MASS, "kg"),
    "lb": (Kind.MASS, "lb"),
    "oz": (Kind.MASS, "oz"),
    "%rh": (Kind.HUMIDITY, "%"),
    "%": (Kind.HUMIDITY, "%"),
}
_DAYS = {
    "minute": 1 / 1440,
    "hour": 1 / 24,
    "day": 1.0,
    "days before day shortening": 1.0,
    "week": 7.0,
    "month": 30.436875,
    "year": 365.2425,
}
"""Days of each unit of a check value (definition)."""


def _in_profiles_unit(text: str, unit: str, kind: Kind | None, own: str) -> float:
    """A row's number in the unit that the profile holds.

    Raises `EntryError` or ValueError when it cannot be.
    """
    value = float(text)
    word = unit.lower()
    if own in _DAYS and word in _DAYS:
        return value * _DAYS[word] / _DAYS[own]
    if kind is Kind.SHARE:
        return value / 100 if word in {"%", "percent"} else value
    if kind is not None and word in _UNITS:
        there, spelled = _UNITS[word]
        if there is not kind:
            raise EntryError(f"“{unit}” is no unit of {kind.value}")
        inside = convert(value, kind, spelled)
        return inside / convert(1.0, kind, own) if kind is Kind.LENGTH else inside

    return value


# --- comparing ------------------------------------------------------------------------------------


def _rules(profile: Profile, stages: tuple[str, ...]) -> list[SizeRule]:
    return [rule for rule in profile.size if any(rule.at(stage) for stage in stages)]


POINT_SLACK = 0.9
"""A side or volume of nine tenths still counts: points have 10 % (design choice) [1]."""


def _enclosure(profile: Profile, row: CheckValue, stages: tuple[str, ...]) -> CheckResult:
    """Enclosures are compared by their sides: some rule must give, for a typical body of the stage,
    no less than the row's smaller enclosure.
    """
    per_unit = {"cm": 0.01, "in": 0.0254, "m": 1.0, "mm": 0.001, "ft": 0.3048}.get(row.unit, 0.01)
    wanted = sorted((float(part) * per_unit for part in re.split(r"[x×]", row.low)), reverse=True)
    kind = profile.body.length_kind
    found = []

    for rule in _rules(profile, stages):
        for stage in (s for s in profile.stages if s.slug in stages and rule.at(s.slug)):
            sides = needed_m(rule, stage.length_mm[kind].typical / 1000)
            found.append(sorted(sides if len(wanted) == 3 else sides[:2], reverse=True))
    good = any(
        all(have >= POINT_SLACK * need for have, need in zip(sides, wanted, strict=True))
        for sides in found
    )

    return CheckResult(row, tuple((s[-1], s[0]) for s in found), "match" if good else "miss")


def _tank(profile: Profile, row: CheckValue, stages: tuple[str, ...]) -> CheckResult:
    """A trade tank is compared by its footprint, a volume that no tank bears by its litres."""
    name = f"{float(row.low):g}"
    tank = (
        TRADE_TANKS.get(f"{name} long")
        if "long" in row.qualifier
        else TRADE_TANKS.get(name, TRADE_TANKS.get(f"{name} long"))
    )
    if row.unit.lower() in {"us gal", "gal"} and tank is not None:
        sides = sorted(tank.footprint_m, reverse=True)
        least = [sorted(rule.min_m[:2], reverse=True) for rule in _rules(profile, stages)]
        good = any(
            all(have >= POINT_SLACK * need for have, need in zip(have_sides, sides, strict=True))
            for have_sides in least
        )
        return CheckResult(row, tuple((s[1], s[0]) for s in least), "match" if good else "miss")
    litres = convert(float(row.low), Kind.VOLUME, "gal" if "gal" in row.unit.lower() else "l")
    volumes = [
        rule.min_m[0] * rule.min_m[1] * rule.min_m[2] * 1000 for rule in _rules(profile, stages)
    ]

    return CheckResult(
        row,
        tuple((v, v) for v in volumes),
        "match" if any(v >= POINT_SLACK * litres for v in volumes) else "miss",
    )


def check(profile: Profile, row: CheckValue) -> CheckResult:
    """Compare one row; what differs is looked up among the profile's own explanations."""
    outcome = _compared(profile, row)
    if outcome.verdict != "miss":
        return outcome
    own = next(
        (
            e
            for e in profile.explains
            if e.quantity == row.quantity and e.stage in {row.stage, "all"}
        ),
        None,
    )
    if own is None:
        return outcome
    sources = "; ".join(str(source) for source in profile.sources(own.origin))

    return CheckResult(row, outcome.found, "explained", f"{own.text} ({sources})")


def _compared(profile: Profile, row: CheckValue) -> CheckResult:
    stages = stages_of(profile, row.stage)
    try:
        if row.quantity.startswith(("enclosure_", "enclosure_")):
            return (
                _enclosure(profile, row, stages)
                if re.search(r"[x×]", row.low)
                else _tank(profile, row, stages)
            )
        if row.quantity not in READERS:
            return CheckResult(
                row, (), "miss", f"“{row.quantity}” is no quantity that a profile holds"
            )
        kind, own, reader = READERS[row.quantity]
        low = _in_profiles_unit(row.low, row.unit, kind, own)
        high = _in_profiles_unit(row.high or row.low, row.unit, kind, own)
    except (ValueError, EntryError) as why:
        return CheckResult(row, (), "miss", f"the row cannot be read: {why}")
    found = tuple(reader(profile, stages))
    if row.quantity.endswith("_min"):
        slack = 1.0 if kind is Kind.TEMPERATURE else 0.1 * abs(low)
        good = any(end >= low - slack for end, _ in found)
    else:
        if low == high:
            slack = 1.0 if kind is Kind.TEMPERATURE else 0.1 * abs(low)
            low = low - slack
            high = high + slack
        good = any(a <= high + 1e-9 and b >= low - 1e-9 for a, b in found)
    if good:
        return CheckResult(row, found, "match")

    return CheckResult(row, found, "literature" if row.literature and found else "miss")


@dataclass(frozen=True)
class Checked:
    """A whole file against the library."""

    outcomes: tuple[CheckResult, ...]
    unknown: tuple[CheckValue, ...]
    """Rows of species that have no profile."""

    def of(self, verdict: str) -> list[CheckResult]:
        """The rows of one verdict."""
        return [outcome for outcome in self.outcomes if outcome.verdict == verdict]

    @property
    def explained_without_literature(self) -> int:
        """How many rows are explained away that no literature note excuses."""
        return sum(not outcome.row.literature for outcome in self.of("explained"))

    @property
    def good(self) -> bool:
        """No miss, no unknown species, and no more explanations than are allowed."""
        return (
            not self.of("miss")
            and not self.unknown
            and self.explained_without_literature <= MOST_EXPLAINED
        )


def check_all(profiles: dict[str, Profile], rows: Iterable[CheckValue]) -> Checked:
    """Every row of a file."""
    rows = list(rows)
    known = [row for row in rows if row.species in profiles]
    return Checked(
        tuple(check(profiles[row.species], row) for row in known),
        tuple(row for row in rows if row.species not in profiles),
    )
