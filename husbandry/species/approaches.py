"""Approaches of practice: named, coherent ways of keeping, chosen per animal and per question;
questions of the enclosure per enclosure.
"""

import json
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from importlib.resources import files
from types import MappingProxyType
from typing import Any


@dataclass(frozen=True)
class Approach:
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
    approaches: dict[str, Approach]

    def chosen(self, approaches: Mapping[str, str]) -> Approach:
        """The keeper's approach for this question, or the default."""
        return self.approaches[approaches.get(self.slug, self.default)]

    def others(self, slug: str) -> tuple[Approach, ...]:
        """The approaches that answer it otherwise."""
        return tuple(approach for approach in self.approaches.values() if approach.slug != slug)


@dataclass(frozen=True)
class Preset:
    """A way of keeping that answers many questions at once."""

    slug: str
    name: str
    approaches: dict[str, str]


def _read() -> Any:
    return json.loads(
        files("husbandry.species").joinpath("approaches.json").read_text(encoding="utf-8")
    )


def _question(slug: str, row: dict[str, Any]) -> Question:
    approaches = {
        name: Approach(name, approach["name"], approach["why"])
        for name, approach in row["approaches"].items()
    }
    return Question(slug, row["question"], row["of"], row["default"], approaches)


_DATA = _read()
QUESTIONS = MappingProxyType(
    {slug: _question(slug, row) for slug, row in _DATA["questions"].items()}
)
PRESETS = MappingProxyType(
    {slug: Preset(slug, row["name"], row["approaches"]) for slug, row in _DATA["presets"].items()}
)


def questions_of(
    named: Iterable[str],
    *,
    foods: frozenset[str],
    amphibian: bool,
    aquatic: bool,
    dormancy: str,
    suns: bool,
) -> tuple[str, ...]:
    """The questions that concern a species, in the order of the file.

    Parameters
    ----------
    named : iterable of str
        Questions that its profile answers with values of its own.
    suns : bool
        Whether it needs ultraviolet by day, whoever keeps it.
    """
    asked = {"how-big", "straight-to-adult", "feeding-pace", *named}
    if not aquatic:
        asked |= {"planted", "uv-lamp"}
        if not amphibian:  # their air is never held at one value: it stagnates
            asked.add("humidity-figure")
    if suns:
        asked.add("uv-hours")
    if "insects" in foods:
        asked |= {"multivitamin-pace", "calcium", "calcium-dish"}
    if "prey" in foods:
        asked.add("rodent-size")
    if dormancy != "none":
        asked.add("brumation")

    return tuple(slug for slug in QUESTIONS if slug in asked)


def problem_with(approaches: Mapping[str, str], of: str) -> str:
    """What is wrong with a choice of approaches for an animal or an enclosure; empty when nothing
    is.
    """
    for question, approach in approaches.items():
        if question not in QUESTIONS or approach not in QUESTIONS[question].approaches:
            return f"there is no approach “{approach}” for “{question}”"
        if QUESTIONS[question].of != of:
            return f"“{question}” is asked of the {QUESTIONS[question].of}, not of the {of}"
    return ""
