"""How large the animals are that are fed: mice and rats by the trade's words, insects by words or
by their length.
"""

import math
import re
from collections.abc import Mapping
from dataclasses import replace
from types import MappingProxyType

from husbandry.feeding.feeders import FEEDERS, Feeder
from husbandry.quantity import Kind, convert
from husbandry.review.description import PREY_SIZES, SaidFood
from husbandry.review.description_reading import Reading, Statement
from husbandry.review.vocabulary import Mention

PREY = frozenset({"mouse", "rat"})
SIZE_WORDS = {
    "pink": "pink",
    "fuzz": "fuzzy",
    "hopper": "hopper",
    "wean": "weaned",
    "pup": "weaned",
}
"""How the words of sizes of prey begin, beside those that are the size itself."""
INSECT_WORDS = MappingProxyType(
    {
        "pinhead": "pinhead",
        "pin head": "pinhead",
        "tiny": "small",
        "baby": "small",
        "small": "small",
        "medium": "medium",
        "half grown": "medium",
        "large": "large",
        "adult": "large",
        "full grown": "large",
        "fully grown": "large",
    }
)
"""What sizes of insects are called (common practice)."""
SIZED = MappingProxyType(
    {
        "cricket": MappingProxyType(
            {
                "pinhead": "cricket_pinhead",
                "small": "cricket_small",
                "medium": "cricket_medium",
                "large": "cricket_adult",
            }
        ),
        "roach": MappingProxyType(
            {"small": "roach_small", "medium": "roach_medium", "large": "roach_large"}
        ),
    }
)
"""Insects that are sold by size, and the feeders they are."""
OF_ONE_SIZE = frozenset({"mealworm", "superworm", "waxworm"})
"""Larvae that are fed at the size they are sold at."""
_WORD = "|".join(re.escape(word) for word in sorted(INSECT_WORDS, key=len, reverse=True))
_WORDS_BEFORE = re.compile(rf"(?:\b(?:{_WORD})\b(?:\s*(?:and|to|or|-|/|sized)\s*)?\s*)+$")
_LENGTH_BEFORE = re.compile(
    r"(?<![\w.,/])(?P<value>\d+/\d+|\d+(?:[.,]\d+)?)[\s-]*(?P<unit>mm|cm|inch(?:es)?|in\b|\"|″)"
    r"\s*(?:long\s*)?$"
)


def read_food_sizes(reading: Reading) -> None:
    """Note how large each food is; its numbers are no other fact's."""
    for statement in reading.statements:
        for name in statement.of("food"):
            if name.value in PREY:
                size = _prey_size(statement, name)
            else:
                size = _insect_size(reading, statement, name)
            if size:
                reading.food_sizes[name.value] = size


def _prey_size(statement: Statement, name: Mention) -> str:
    words = statement.text[max(name.start - 8, 0) : name.end]
    named = (*SIZE_WORDS.items(), *((one, one) for one in PREY_SIZES))
    return next((size for begin, size in named if begin in words), "")


def _insect_size(reading: Reading, statement: Statement, name: Mention) -> str:
    """The largest that is named of an insect, by its word or by its length."""
    before = statement.text[: name.start]
    by_word = _WORDS_BEFORE.search(before)
    by_length = _LENGTH_BEFORE.search(before)
    found = by_word or by_length
    if found is None or name.value not in SIZED:
        return ""

    reading.mark(statement, "food", replace(name, start=found.start(), end=name.start))
    for number in [one for one in statement.numbers if one.start >= found.start()]:
        if number.end <= name.start:
            statement.take(number)
    if by_word is not None:
        said = [size for word, size in INSECT_WORDS.items() if word in found[0]]
    else:
        said = [_size_of(name.value, _mm(found["value"], found["unit"]))]

    return max((reading.food_sizes.get(name.value, ""), *said), key=_rank)


def _rank(size: str) -> int:
    order = ("", "pinhead", "small", "medium", "large")
    return order.index(size) if size in order else 0


def _mm(value: str, unit: str) -> float:
    top, _, under = value.replace(",", ".").partition("/")
    number = float(top) / float(under or 1) if float(under or 1) else 0.0
    return 1000 * convert(number, Kind.LENGTH, unit)


def _size_of(insect: str, length_mm: float) -> str:
    """The size that is nearest in length; empty for none."""
    if length_mm <= 0:
        return ""
    lengths = {size: FEEDERS[kind].length_mm or 0.0 for size, kind in SIZED[insect].items()}
    return min(lengths, key=lambda size: abs(math.log(lengths[size] / length_mm)))


def size_for(insect: str, most_mm: float) -> str:
    """The largest size of an insect that is no wider than that; empty where all are wider."""
    widths = {size: FEEDERS[kind].width_mm or 0.0 for size, kind in SIZED[insect].items()}
    fitting = [size for size, width_mm in widths.items() if width_mm <= most_mm]
    return max(fitting, key=lambda size: widths[size], default="")


def feeder_said(food: SaidFood) -> Feeder | None:
    """The feeder that a named food is; None where its size was not said."""
    sizes: Mapping[str, str] = SIZED.get(food.name, {})
    if food.name in OF_ONE_SIZE:
        return FEEDERS[food.name]
    return FEEDERS.get(sizes.get(food.size, f"{food.name}_{food.size}"))
