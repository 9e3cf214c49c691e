"""Words that were typed, matched with names: by their beginning, and forgiving of a slip."""

import difflib
import re
import unicodedata
from collections.abc import Iterable
from dataclasses import dataclass

CLOSE = 0.72
"""Two words at least so alike are one that was mistyped (design choice) [1]."""
SLIP_FROM_LETTERS = 4
"""Shorter words are not forgiven: too many are alike (design choice)."""


@dataclass(frozen=True)
class Entry:
    """Something that can be found."""

    group: str
    name: str
    url: str
    about: str = ""
    """A second line, searched as well."""


def words_of(text: str) -> list[str]:
    """Split a text into plain lower-case words without accents."""
    plain = unicodedata.normalize("NFKD", text.replace("’", "'"))
    letters = "".join(letter for letter in plain if not unicodedata.combining(letter))
    return re.findall(r"[a-z0-9]+", letters.lower())


def score(asked: list[str], entry: Entry) -> float:
    """Rate how well an entry answers: 0 where one of the words is not in it [1]."""
    names = words_of(entry.name)
    more = words_of(entry.about)
    total = 0.0
    for word in asked:
        best = max(_alike(word, names), 0.8 * _alike(word, more))
        if best == 0.0:
            return 0.0
        total += best
    return total / len(asked)


def _alike(word: str, known: Iterable[str]) -> float:
    best = 0.0
    for other in known:
        if other == word:
            return 1.0
        if other.startswith(word):
            best = max(best, 0.95)
        elif len(word) >= SLIP_FROM_LETTERS:
            ratio = difflib.SequenceMatcher(None, word, other).ratio()
            best = max(best, 0.9 * ratio if ratio >= CLOSE else 0.0)
    return best


def find(text: str, entries: Iterable[Entry], most: int = 24) -> list[Entry]:
    """Find entries by what was typed, the best first; nothing for an empty text."""
    asked = words_of(text)[:6]
    if not asked:
        return []
    rated = [(score(asked, entry), entry) for entry in entries]
    found = sorted((pair for pair in rated if pair[0] > 0), key=lambda pair: -pair[0])
    return [entry for _, entry in found[:most]]
