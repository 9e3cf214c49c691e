"""Lamps and heaters that a keeper has, read from ordinary words: “75 W halogen flood, T5 12 % tube
of 60 cm, heat mat 16 W”.

The words are common practice (`owned_words.csv`); the longest that fits decides.
"""

import re
from dataclasses import dataclass
from typing import Literal

from husbandry.enclosure.equipment import UV_LAMPS
from husbandry.tables import rows

METRES = {"cm": 0.01, "m": 1.0, "in": 0.0254, '"': 0.0254, "inch": 0.0254, "ft": 0.3048}
"""Units of a length (definition) [m]."""
PARTS = re.compile(r"[\n;,]+|\s+and\s+", re.IGNORECASE)
_WATTS = re.compile(r"(\d+(?:[.,]\d+)?)[\s-]*w(?:att)?s?\b", re.IGNORECASE)
_SHARE = re.compile(r"(\d+)\s*(?:%|percent|per cent)", re.IGNORECASE)
_LENGTH = re.compile(r"(\d+(?:[.,]\d+)?)\s*(cm|m|inch|in|ft|\")(?![a-z])", re.IGNORECASE)
_TUBE = re.compile(r"\bt\s?([58])\b", re.IGNORECASE)
_COMPACT = re.compile(r"\bcompact\b", re.IGNORECASE)

Why = Literal["kind", "power", "strength"]


@dataclass(frozen=True)
class OwnedFitting:
    """A lamp or heater that is there already."""

    kind: str
    power_w: float
    words: str
    """As the keeper said it."""


@dataclass(frozen=True)
class NotRead:
    """Words that were not understood, and what is missing of them."""

    words: str
    missing: Why


def read_owned(text: str) -> tuple[tuple[OwnedFitting, ...], tuple[NotRead, ...]]:
    """What of a text is a lamp or a heater with its power, and what is not understood.

    Each is apart from the next by a comma, a semicolon, a line or “and”. The power of a tube
    follows from its length where it is not said.
    """
    found: list[OwnedFitting] = []
    missed: list[NotRead] = []
    for part in PARTS.split(text):
        words = " ".join(part.split())
        if not words:
            continue
        read = _read(words)
        if isinstance(read, OwnedFitting):
            found.append(read)
        else:
            missed.append(NotRead(words, read))
    return tuple(found), tuple(missed)


def _read(words: str) -> OwnedFitting | Why:
    watts = _WATTS.search(words)
    power = float(watts[1].replace(",", ".")) if watts else None
    if power is not None and not 0 < power < 3000:
        return "power"
    tube = _TUBE.search(words)
    if tube or _COMPACT.search(words):
        return _ultraviolet(words, f"t{tube[1]}" if tube else "compact", power)
    kind = _kind(words)
    if kind is None:
        return "kind"
    return "power" if power is None else OwnedFitting(kind, power, words)


def _kind(words: str) -> str | None:
    """The class whose words are the longest that occur."""
    said = words.lower()
    table = rows("husbandry.setups", "owned_words.csv")
    fitting = [
        row for row in table if re.search(rf"\b{re.escape(row['words'])}\b", said) is not None
    ]
    return max(fitting, key=lambda row: len(row["words"]))["kind"] if fitting else None


def _ultraviolet(words: str, family: str, power: float | None) -> OwnedFitting | Why:
    """A tube or a compact lamp by its strength, and by its length where no power is said."""
    share = _SHARE.search(words)
    strengths = {
        int(kind.rpartition("_")[2]): kind for kind in UV_LAMPS if kind.startswith(f"{family}_")
    }
    if share is None or not strengths:
        return "strength"
    kind = strengths[min(strengths, key=lambda strength: abs(strength - int(share[1])))]
    lamp = UV_LAMPS[kind]
    length = _LENGTH.search(words)
    if lamp.is_tube and length is not None:
        power = lamp.nearest(float(length[1].replace(",", ".")) * METRES[length[2].lower()])[0]
    if power is None:
        return "power"
    sold = [watts for watts, _ in lamp.lengths] if lamp.is_tube else []
    return OwnedFitting(kind, min(sold, key=lambda w: abs(w - power), default=power), words)
