"""The words of the trade in a description: which piece of a text names what.

Words are common practice (`vocabulary.csv`, `nicknames.csv`, `dangers.csv`); the longest that fits
a place decides.
"""

import functools
import re
from dataclasses import dataclass

from husbandry.species.library import library
from husbandry.tables import rows

PACKAGE = "husbandry.review"


@dataclass(frozen=True)
class Mention:
    """A piece of the text that names something."""

    start: int
    end: int
    fact: str
    """The column of that name of `vocabulary.csv`; “species” or “danger” of the other tables."""
    value: str


@dataclass(frozen=True)
class Danger:
    """Something dangerous or harmful that is said outright."""

    slug: str
    title: str
    consequence: str
    fix: str
    rank: str
    weight: float
    price_eur: float
    """A guide (common practice, 2026) [€]."""


@functools.cache
def _entries() -> dict[str, tuple[str, str]]:
    """Every phrase with its fact and value."""
    found: dict[str, tuple[str, str]] = {}

    for row in rows(PACKAGE, "dangers.csv"):
        for words in row["words"].split("|"):
            found[words] = ("danger", row["slug"])

    for row in rows(PACKAGE, "vocabulary.csv"):
        found.setdefault(row["words"], (row["fact"], row["value"]))

    for profile in library().values():
        for name in (profile.name, profile.species, *profile.other_names):
            found.setdefault(name.lower(), ("species", profile.species))

    for row in rows(PACKAGE, "nicknames.csv"):
        found[row["words"]] = ("species", row["species"])

    return found


@functools.cache
def dangers() -> dict[str, Danger]:
    """What is dangerous by itself, by slug."""
    return {
        row["slug"]: Danger(
            row["slug"],
            row["title"],
            row["consequence"],
            row["fix"],
            row["rank"],
            float(row["weight"]),
            float(row["price_eur"]),
        )
        for row in rows(PACKAGE, "dangers.csv")
    }


@functools.cache
def filling(where: str) -> frozenset[str]:
    """Words that say nothing of an enclosure: in a clause, or before an animal's name."""
    table = rows(PACKAGE, "filling.csv")
    return frozenset(
        word for row in table if row["where"] == where for word in row["words"].split()
    )


def _pattern_of(phrase: str) -> str:
    """A phrase as a pattern: blanks and hyphens are one, an apostrophe may be missing."""
    words = [re.escape(word).replace("'", "['’]?") for word in re.split(r"[ -]", phrase)]
    return r"[\s-]+".join(words)


@functools.cache
def _pattern() -> re.Pattern[str]:
    phrases = sorted(_entries(), key=len, reverse=True)
    joined = "|".join(_pattern_of(phrase) for phrase in phrases)

    return re.compile(rf"(?<![\w'’])(?:{joined})(?:['’]?s|es)?(?![\w])")


@functools.cache
def _meaning(said: str) -> tuple[str, str] | None:
    """What a phrase means that was found in a text, singular or plural."""
    plain = " ".join(re.split(r"[\s-]+", said.replace("’", "'")))
    by_phrase = _without_hyphens()

    for form in (
        plain,
        plain.removesuffix("'s"),
        plain.removesuffix("s"),
        plain.removesuffix("es"),
    ):
        for known in (form, form.replace("'", "")):
            if known in by_phrase:
                return by_phrase[known]

    return None


@functools.cache
def _without_hyphens() -> dict[str, tuple[str, str]]:
    found: dict[str, tuple[str, str]] = {}

    for phrase, meaning in _entries().items():
        spoken = phrase.replace("-", " ")
        found.setdefault(spoken, meaning)
        found.setdefault(spoken.replace("'", ""), meaning)

    return found


def mentions(text: str) -> list[Mention]:
    """Everything that a text names, in its order; no two overlap."""
    found = []

    for match in _pattern().finditer(text):
        meaning = _meaning(match[0])
        if meaning is not None:
            found.append(Mention(match.start(), match.end(), *meaning))

    return found
