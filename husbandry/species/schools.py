"""Approaches of practice: named, coherent ways of keeping, chosen per animal and per question; questions of the enclosure per enclosure."""

import json
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from importlib.resources import files
from types import MappingProxyType
from typing import Any


@dataclass(frozen=True)
class School:
    """One answer to a question on which keepers differ."""

    slug: str
    name: str
    why: str


@dataclass(frozen=True)
class Question:
    """A question on which keepers differ, with its answers."""

    slug: str
    text: str
    of: str
    """animal or enclosure: whose the choice is."""
    default: str
    schools: dict[str, School]

    def chosen(self, schools: Mapping[str, str]) -> School:
        """The keeper's approach for this question, or the default."""
        return self.schools[schools.get(self.slug, self.default)]

    def others(self, slug: str) -> tuple[School, ...]:
        """The approaches that answer it otherwise."""
        return tuple(school for school in self.schools.values() if school.slug != slug)


@dataclass(frozen=True)
class Preset:
    """A way of keeping that answers many questions at once."""

    slug: str
    name: str
    schools: dict[str, str]


def _read() -> Any:
    return json.loads(files("husbandry.species").joinpath("schools.json").read_text(encoding="utf-8"))


def _question(slug: str, row: dict[str, Any]) -> Question:
    schools = {name: School(name, school["name"], school["why"]) for name, school in row["schools"].items()}
    return Question(slug, row["question"], row["of"], row["default"], schools)


_DATA = _read()
QUESTIONS = MappingProxyType({slug: _question(slug, row) for slug, row in _DATA["questions"].items()})
PRESETS = MappingProxyType({slug: Preset(slug, row["name"], row["schools"]) for slug, row in _DATA["presets"].items()})


def questions_of(named: Iterable[str], *, foods: frozenset[str], amphibian: bool, aquatic: bool, rests: str) -> tuple[str, ...]:
    """The questions that concern a species, in the order of the file.

    Parameters
    ----------
    named : iterable of str
        Questions that its profile answers with values of its own.
    """
    asked = {"how-big", "straight-to-adult", "feeding-pace", *named}
    if not aquatic:
        asked |= {"planted", "uv-lamp"}
        if not amphibian:  # their air is never held at one value: it stagnates
            asked.add("humidity-figure")
    if "insects" in foods:
        asked |= {"multivitamin-pace", "calcium", "calcium-dish"}
    if "prey" in foods:
        asked.add("rodent-size")
    if rests != "none":
        asked.add("winter-rest")
    return tuple(slug for slug in QUESTIONS if slug in asked)


def problem_with(schools: Mapping[str, str], of: str) -> str:
    """What is wrong with a choice of approaches for an animal or an enclosure; empty when nothing is."""
    for question, school in schools.items():
        if question not in QUESTIONS or school not in QUESTIONS[question].schools:
            return f"there is no approach “{school}” for “{question}”"
        if QUESTIONS[question].of != of:
            return f"“{question}” is asked of the {QUESTIONS[question].of}, not of the {of}"
    return ""
