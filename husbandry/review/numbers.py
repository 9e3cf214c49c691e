"""Numbers with their units in a description: powers, temperatures, sides, volumes, ages, paces.

Ranges (“88-90”, “75 to 80”), decimal commas, words for numbers and either system of units.
"""

import re
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Literal

from husbandry.quantity import Kind, convert
from husbandry.review.description import SaidRange
from husbandry.species.stages import DAYS_PER_MONTH

Quantity = Literal[
    "power",
    "temperature",
    "share",
    "length",
    "volume",
    "mass",
    "age",
    "pace",
    "percent class",
    "bare",
]
FAHRENHEIT_FROM = 50.0
"""A temperature without a unit from here on is in °F: nothing here is kept at 50 °C but a surface
(common practice).
"""
WEEK_DAYS, YEAR_MONTHS, QUARTS_A_GALLON = 7.0, 12.0, 4.0
"""(definition) [days, months, 1]"""
_WORDS = {
    "a": "1",
    "an": "1",
    "one": "1",
    "two": "2",
    "three": "3",
    "four": "4",
    "five": "5",
    "six": "6",
    "seven": "7",
    "eight": "8",
    "nine": "9",
    "ten": "10",
    "twelve": "12",
    "couple of": "2",
    "pair of": "2",
    "half a": "0.5",
    "few": "3",
}
"""Small numbers as words (definition)."""
_N = r"\d+(?:[.,]\d+)?"
_NUMBER = rf"(?P<low>{_N})(?:\s*(?:-|–|—|to)\s*(?P<high>{_N}))?"
_UNITS: tuple[tuple[Quantity, str], ...] = (
    ("percent class", r"(?P<unit>\.0\b)"),
    ("power", r"[\s-]*(?P<unit>watts?|w)\b"),
    ("share", r"\s*(?P<unit>%|percent|per cent)"),
    (
        "temperature",
        r"\s*(?P<unit>°\s*[cf]\b|º\s*[cf]\b|deg(?:rees?)?\.?\s*[cf]\b|deg(?:rees?)?\b"
        r"|[cf]\b|fahrenheit|celsius|°|º)",
    ),
    (
        "volume",
        r"[\s-]*(?P<unit>gallons?|gals?\b|g(?=\s*(?:tank|aquarium|glass|long|breeder|high|tall))|litres?|liters?|l\b"
        r"|qts?\b|quarts?)",
    ),
    ("age", r"[\s-]*(?P<unit>years?|yrs?|yo\b|y/o|months?|mos?\b|weeks?|wks?)(?:[\s-]*old)?\b"),
    (
        "length",
        r"[\s-]*(?P<unit>cm|mm|inch(?:es)?|in\b(?!\s+(?:(?:the|a|my|his|her|its|there|with|each)\b|\d))"
        r"|\"|″|feet|foot|ft|m\b|metres?|meters?|'(?!\w)|′)",
    ),
    ("mass", r"\s*(?P<unit>kg|kilos?|kilograms?|grams?|gr?\b|lbs?\b|pounds?|oz\b|ounces?)"),
)
_MATCHERS = tuple((name, re.compile(rf"(?<![\w.,/]){_NUMBER}{unit}")) for name, unit in _UNITS)
_BARE = re.compile(rf"(?<![\w.,/]){_NUMBER}(?:(?=x\s)|(?![\w.,]*\d|\w))")
SPELLED = {
    "mm": "mm",
    "cm": "cm",
    "m": "m",
    "i": "in",
    '"': "in",
    "″": "in",
    "f": "ft",
    "'": "ft",
    "′": "ft",
}
"""A length's unit by how it begins, the longest first (definition)."""


A_YEAR = re.compile(r"\b(?:a|over a|more than a|about a)\s+(year|month)s?\s+old\b")
"""“A year old”, without a digit."""


@dataclass(frozen=True)
class Number:
    """A number in the text, in SI units; temperatures in °C, ages in months, paces in days."""

    start: int
    end: int
    quantity: Quantity
    value: SaidRange
    has_unit: bool = True


def with_digits(text: str) -> str:
    """The same text with small number words as digits, each padded to its old length."""

    def padded(match: re.Match[str]) -> str:
        return _WORDS[match[0]].ljust(len(match[0]))

    words = "|".join(word for word in _WORDS if word not in {"a", "an"})

    return re.sub(rf"\b(?:{words})\b", padded, text)


def celsius(value: float, *, fahrenheit: bool) -> float:
    """A temperature in °C, to a hundredth."""
    return round((value - 32) / 1.8, 2) if fahrenheit else value


def _ends(match: re.Match[str]) -> tuple[float, float]:
    low = float(match["low"].replace(",", "."))
    high = float(match["high"].replace(",", ".")) if match["high"] else low

    return min(low, high), max(low, high)


def _scaled(quantity: Quantity, unit: str, value: float) -> float:
    """A number in SI units by the unit that was said."""
    if quantity == "length":
        name = next(SPELLED[begin] for begin in SPELLED if unit.startswith(begin))
        return convert(value, Kind.LENGTH, name)

    if quantity == "mass":
        name = {"k": "kg", "g": "g", "l": "lb", "p": "lb", "o": "oz"}[unit[:1]]
        return convert(value, Kind.MASS, name)

    if quantity == "volume":
        quarts = unit.startswith("q")
        litres = unit.startswith("l")
        gallons = value / QUARTS_A_GALLON if quarts else value
        return value if litres else convert(gallons, Kind.VOLUME, "gal")

    if quantity == "age":
        month = {"y": YEAR_MONTHS, "m": 1.0, "w": WEEK_DAYS / DAYS_PER_MONTH}
        return value * month[unit[:1]]

    return value


def in_celsius(low: float, high: float, unit: str = "") -> SaidRange:
    """A temperature as it was said; without a unit, by what can be meant."""
    fahrenheit = "f" in unit or ("c" not in unit and low >= FAHRENHEIT_FROM)
    return SaidRange(
        low=celsius(low, fahrenheit=fahrenheit), high=celsius(high, fahrenheit=fahrenheit)
    )


def _number(quantity: Quantity, match: re.Match[str]) -> Number:
    low, high = _ends(match)
    unit = match["unit"].strip().lower()

    if quantity == "temperature":
        value = in_celsius(low, high, unit.replace("degrees", "").replace("deg", ""))
    else:
        value = SaidRange(
            low=round(_scaled(quantity, unit, low), 5),
            high=round(_scaled(quantity, unit, high), 5),
        )

    return Number(match.start(), match.end(), quantity, value)


def numbers(text: str) -> list[Number]:
    """Every number with a unit that a text says, then those without one; no two overlap."""
    found: list[Number] = []
    taken = bytearray(len(text))

    for quantity, pattern in _MATCHERS:
        for match in pattern.finditer(text):
            if not any(taken[match.start() : match.end()]):
                taken[match.start() : match.end()] = b"\1" * (match.end() - match.start())
                found.append(_number(quantity, match))

    for match in _BARE.finditer(text):
        if not any(taken[match.start() : match.end()]):
            low, high = _ends(match)
            value = SaidRange(low=low, high=high)
            found.append(Number(match.start(), match.end(), "bare", value, has_unit=False))

    return sorted(found, key=lambda number: number.start)


_DAYS = {
    "day": 1.0,
    "night": 1.0,
    "evening": 1.0,
    "morning": 1.0,
    "week": WEEK_DAYS,
    "month": DAYS_PER_MONTH,
    "fortnight": 2 * WEEK_DAYS,
    "wk": WEEK_DAYS,
    "mo": DAYS_PER_MONTH,
}
"""(definition)"""
_UNIT = r"(?P<unit>day|night|evening|morning|week|month|fortnight|wk|mo)s?"
_PACES: tuple[tuple[str, str], ...] = (
    (
        "times",
        rf"(?P<low>{_N})(?:\s*(?:-|–|to|or)\s*(?P<high>{_N}))?\s*(?:x|×|times)\s*"
        rf"(?:(?:a|per|every|each|in\s+a|/)\s*)?{_UNIT}",
    ),
    ("times", rf"(?P<once>once|twice|thrice)\s*(?:(?:a|at|per|every|each|in the)\s*|/\s*){_UNIT}"),
    ("times", rf"x\s*(?P<low>{_N})\s*(?:(?:a|per|every|each)\s*|/\s*){_UNIT}"),
    ("daily", rf"x\s*(?P<low>{_N})(?P<high>)\s*(?P<spell>daily|nightly|weekly|monthly)"),
    (
        "daily",
        rf"(?:(?P<once>once|twice|thrice)|(?P<low>{_N})(?:\s*(?:-|–|to|or)\s*(?P<high>{_N}))?"
        r"\s*(?:x|×|times))\s*(?P<spell>daily|nightly|weekly|monthly)",
    ),
    ("other", rf"every\s+(?:other|second|2nd)\s+{_UNIT}|every\s+(?P<alt>other)\s+feed(?:ing)?"),
    ("every", rf"(?:every|each)\s+(?P<low>{_N})(?:\s*(?:-|–|to|or)\s*(?P<high>{_N}))?\s*{_UNIT}"),
    ("every", rf"(?<!times )(?<!once )(?:every|each|a|per)\s+(?:single\s+)?{_UNIT}"),
    ("every", rf"/\s*{_UNIT}"),
    ("both", r"(?:morning|am|mornings)\s+(?:and|&)\s+(?:night|evening|pm|nights|evenings)"),
    (
        "adverb",
        r"(?P<adverb>every other day|daily|nightly|weekly|fortnightly|biweekly|bi-weekly|monthly"
        r"|everyday|eod)",
    ),
)
_PACE = tuple((kind, re.compile(rf"(?:(?<!\w)|(?=/)){pattern}(?!\w)")) for kind, pattern in _PACES)
_ADVERBS = {
    "daily": 1.0,
    "nightly": 1.0,
    "everyday": 1.0,
    "every other day": 2.0,
    "eod": 2.0,
    "weekly": WEEK_DAYS,
    "fortnightly": 2 * WEEK_DAYS,
    "biweekly": 2 * WEEK_DAYS,
    "bi-weekly": 2 * WEEK_DAYS,
    "monthly": DAYS_PER_MONTH,
}
"""(definition)"""
_TIMES = {"once": 1.0, "twice": 2.0, "thrice": 3.0}
"""(definition)"""


def paces(text: str) -> Iterator[Number]:
    """How often something is done: “twice a week”, “every 2-3 days”, “daily” [days between]."""
    taken = bytearray(len(text))
    for kind, pattern in _PACE:
        for match in pattern.finditer(text):
            if any(taken[match.start() : match.end()]):
                continue
            taken[match.start() : match.end()] = b"\1" * (match.end() - match.start())
            yield Number(match.start(), match.end(), "pace", _pace(kind, match))


def _pace(kind: str, match: re.Match[str]) -> SaidRange:
    groups = match.groupdict()

    if kind == "both":
        return SaidRange(low=0.5, high=0.5)

    if kind == "adverb":
        days = _ADVERBS[groups["adverb"]]
        return SaidRange(low=days, high=days)
    spell = groups.get("spell")
    unit = _ADVERBS[spell] if spell else _DAYS[groups.get("unit") or "day"]

    if kind == "other":
        return SaidRange(low=2 * unit, high=2 * unit)

    if groups.get("once"):
        often = _TIMES[groups["once"]]
        return SaidRange(low=unit / often, high=unit / often)
    low = float((groups.get("low") or "1").replace(",", "."))
    high = float((groups.get("high") or groups.get("low") or "1").replace(",", "."))

    if kind in {"times", "daily"}:
        return SaidRange(low=unit / max(low, high, 0.01), high=unit / max(min(low, high), 0.01))

    return SaidRange(low=unit * min(low, high), high=unit * max(low, high))
