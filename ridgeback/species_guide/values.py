"""Every value of a profile in words: what it is called, what it says in the reader's units, where
it comes from, how it is edited.
"""

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

from husbandry.derivation import Document
from husbandry.quantity import Kind, Units, show
from husbandry.species.approaches import QUESTIONS
from husbandry.species.needs import NEEDS
from husbandry.species.parts import NeedSpec
from husbandry.species.profile import Profile
from husbandry.species.values import SourcedValue, ValueRange

SECTIONS: tuple[tuple[str, str, tuple[str, ...]], ...] = (
    (
        "body",
        "Body and life",
        ("home", "body", "adult", "months_to_adult", "lifespan_years", "stages"),
    ),
    ("enclosure", "Enclosure", ("size", "straight_to_adult", "enclosure", "company")),
    ("climate", "Climate", ("needs", "uv", "photoperiod_h", "moisture")),
    ("substrate", "Substrate, retreats, water", ("substrate", "hides", "water", "soaks")),
    ("food", "Food", ("meals", "food", "supplements")),
    ("year", "Year, handling, young", ("season", "handling", "sexes", "young")),
    (
        "health",
        "Health, dangers, law, money",
        ("healthy", "signs", "cautions", "permits", "costs", "keeper"),
    ),
)
HIDDEN = {
    "origin",
    "note",
    "stages",
    "question",
    "approach",
    "limit_origin",
    "slug",
    "name",
    "need",
    "sex",
}
ENDINGS: tuple[tuple[str, Kind, float], ...] = (
    ("_c", Kind.TEMPERATURE, 1.0),
    ("_mm", Kind.LENGTH, 1000.0),
    ("_g", Kind.MASS, 1.0),
    ("_m", Kind.LENGTH, 1.0),
    ("_w", Kind.POWER, 1.0),
)
UNITS = {
    "months_to_adult": "months",
    "age_months": "months",
    "lifespan_years": "years",
    "photoperiod_h": "h",
    "setup_eur": "€",
    "animal_eur": "€",
    "days": "days",
    "last_meal_days": "days",
    "every_days": "days",
    "dormancy_weeks": "weeks",
    "minutes": "minutes",
    "per_week": "a week",
    "mistings_per_day": "a day",
    "clutch": "in a clutch",
    "length_bl": "body lengths",
    "depth_bl": "body lengths",
    "height_bl": "body lengths",
    "dig_bl": "body lengths",
    "back_height_bl": "body lengths",
    "eye_gap_bl": "body lengths",
    "grip_bl": "body lengths",
}
CALLED = {
    "text": "",
    "live": "live food only",
    "min_m": "never under",
    "inside": "",
    "low": "from",
    "high": "to",
    "limit_low": "never under",
    "limit_high": "never over",
    "most": "at most together",
    "males_most": "males at most",
    "males": "males",
    "kinds": "kinds",
    "yes": "straight in",
    "mass_g": "mass",
    "length_mm": "length",
    "first_mass_g": "mass at first",
    "first_length_mm": "length at first",
    "age_months": "age",
    "dormancy_c": "temperature of the rest",
    "incubation_c": "incubation",
    "every_days": "every",
    "share_of_mass": "share of its mass",
    "floor_per_more": "floor for each more",
    "size_ratio_most": "largest over smallest at most",
    "eats_young": "eats young",
    "females_per_male": "females a male",
    "opaque_sides": "opaque sides",
    "length_bl": "length",
    "depth_bl": "depth",
    "height_bl": "height",
    "grip_bl": "branch to hold",
    "lay_in": "buries eggs in",
    "lay_depth_m": "deep",
}


@dataclass(frozen=True)
class EditableValue:
    """One value that can be edited."""

    at: str
    label: str
    text: str
    own: bool


@dataclass(frozen=True)
class Value:
    """A part of a profile with an origin of its own."""

    at: str
    title: str
    context: str
    """Stage and approach."""
    leaves: tuple[EditableValue, ...]
    note: str
    origins: tuple[str, ...]
    memory: bool


def words(name: str) -> str:
    """A field's name in words."""
    if name in CALLED:
        return CALLED[name]
    for ending in (
        "_months",
        "_years",
        "_days",
        "_weeks",
        "_mm",
        "_eur",
        "_bl",
        "_c",
        "_g",
        "_m",
        "_w",
        "_h",
    ):
        if name.endswith(ending):
            name = name.removesuffix(ending)
            break
    return name.replace("_", " ")


def kind_at(profile: Profile, at: str) -> tuple[Kind, float] | None:
    """The quantity at a pointer and its units in one of the core's own; None for what is no
    quantity.
    """
    parts = at.strip("/").split("/")
    if parts[0] == "needs" and parts[-1] in {"low", "high", "limit_low", "limit_high"}:
        return NEEDS[profile.needs[int(parts[1])].need].kind, 1.0
    for part in reversed(parts):
        for ending, kind, per in ENDINGS:
            if part.endswith(ending):
                return kind, per
    return None


def value_text(profile: Profile, at: str, value: Any, units: Units) -> str:
    """One value in words."""
    if value is None:
        return "not said"
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, (list, tuple)) and value and isinstance(value[0], str):
        return "; ".join(value)
    kind = kind_at(profile, at)
    if isinstance(value, (int, float)) and kind is not None:
        small = kind[1] == 1000.0 and value < 150
        return show(value / kind[1], kind[0], units, small=small)
    if isinstance(value, float):
        unit = next((UNITS[part] for part in reversed(at.split("/")) if part in UNITS), "")
        share = (
            not unit
            and 0 < value < 1
            and any("share" in part or part == "coverage" for part in at.split("/"))
        )
        return f"{value:.0%}" if share else f"{value:g} {unit}".strip()
    return str(value).replace("_", " ")


def _leaves(
    profile: Profile, path: str, item: Document, own: frozenset[str], units: Units
) -> Iterator[EditableValue]:
    for name in type(item).model_fields:
        value = getattr(item, name)
        if name in HIDDEN or value is None or value == () or value == {}:
            continue
        at = f"{path}/{name}"
        if isinstance(value, SourcedValue):
            continue
        if isinstance(value, dict):
            for key, part in value.items():
                yield from _span(
                    profile,
                    f"{at}/{key}",
                    f"{words(name)} {key.replace('_', ' ')}".strip(),
                    part,
                    own,
                    units,
                )
        elif isinstance(value, ValueRange):
            yield from _span(profile, at, words(name), value, own, units)
        elif (
            isinstance(value, tuple)
            and not isinstance(value[0], str)
            and not isinstance(value[0], Document)
        ):
            for n, part in enumerate(value):
                yield EditableValue(
                    f"{at}/{n}",
                    words(name) if n == 0 else "",
                    value_text(profile, f"{at}/{n}", part, units),
                    f"{at}/{n}" in own,
                )
        elif isinstance(value, tuple) and isinstance(value[0], Document):
            for n, part in enumerate(value):
                yield from _leaves(profile, f"{at}/{n}", part, own, units)
        else:
            yield EditableValue(at, words(name), value_text(profile, at, value, units), at in own)


def _span(
    profile: Profile, at: str, label: str, span: ValueRange, own: frozenset[str], units: Units
) -> Iterator[EditableValue]:
    for end in ("low", "high"):
        value = getattr(span, end)
        if value is not None:
            joined = label if end == "low" or span.low is None else "to"
            yield EditableValue(
                f"{at}/{end}",
                joined,
                value_text(profile, f"{at}/{end}", value, units),
                f"{at}/{end}" in own,
            )


def _title(item: SourcedValue, path: str) -> str:
    if isinstance(item, NeedSpec):
        kind = NEEDS[item.need]
        return f"{kind.name}, {kind.place}"
    name = getattr(item, "name", "") or words(path.strip("/").split("/")[0])
    sex = getattr(item, "sex", "any")
    return f"{name}, {sex}" if sex != "any" else str(name)


def _context(item: SourcedValue, profile: Profile) -> str:
    said = [profile.stage(stage).name for stage in getattr(item, "stages", ())]
    question = getattr(item, "question", "")
    approach = getattr(item, "approach", "")
    text = ", ".join(said)
    if approach:
        asked = QUESTIONS[question or "how-big"]
        text = (
            f"{text}; “{asked.approaches[approach].name}”"
            if text
            else f"“{asked.approaches[approach].name}”"
        )
    return text


def value_of(
    profile: Profile, path: str, item: SourcedValue, own: frozenset[str], units: Units
) -> Value:
    """One part of a profile in words."""
    sources = profile.sources(item.origin)
    return Value(
        path,
        _title(item, path),
        _context(item, profile),
        tuple(_leaves(profile, path, item, own, units)),
        item.note,
        tuple(dict.fromkeys(str(source) for source in sources)),
        any(source.kind == "from memory" for source in sources),
    )


def sections(
    profile: Profile, own: frozenset[str], units: Units
) -> list[tuple[str, str, list[Value]]]:
    """Every value of a profile, by section."""
    walked = [(path, item) for path, item in profile.walk()]
    found = []
    for slug, title, parts in SECTIONS:
        values = [
            value_of(profile, path, item, own, units)
            for part in parts
            for path, item in walked
            if path.split("/")[1] == part
        ]
        found.append((slug, title, values))
    return found
