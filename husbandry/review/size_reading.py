"""The size of an enclosure as it is said: three sides, a trade tank, a volume, a length."""

import re
from dataclasses import dataclass

from husbandry.enclosure.geometry import LITRES_PER_US_GALLON
from husbandry.enclosure.size_phrases import spoken
from husbandry.enclosure.tanks import TRADE_TANKS, Tank
from husbandry.errors import EntryError
from husbandry.quantity import Kind, convert
from husbandry.review.description_reading import Reading, Statement
from husbandry.review.numbers import Number
from husbandry.review.vocabulary import Mention

_SIDE = r"(\d+(?:[.,]\d+)?)\s*(cm|mm|inch(?:es)?|in|feet|foot|ft|metres?|meters?|m|\"|')?"
_BY = r"(?:\s*(?:l|w|d|h|long|wide|deep|high|tall))?\s*(?:x|\*|\bby\b)\s*"
_SIDES = re.compile(rf"(?<![\w.]){_SIDE}{_BY}{_SIDE}(?:{_BY}{_SIDE})?(?!\w)")
_CUBE = re.compile(rf"(?<![\w.]){_SIDE}\s*cubed?\b")
_TRADE = re.compile(
    r"(?<![\w.])(\d+(?:\.\d+)?)[\s-]*(?:us\s*)?(gallons?|gals?|g)?[\s-]*(long|breeder|high|tall)\b"
)
_WORD = re.compile(r"\s*(?:in\s+)?(long|length|wide|deep|depth|tall|high|height)\b")
_WATER = re.compile(r"\s*(?:of water|dish|bowl|pond|pool)")
WORDS = {"long": "long", "length": "long", "wide": "long", "deep": "deep", "depth": "deep"}
"""Which side a word means; every other is the height."""
FEET_MOST, INCHES_MOST = 10.0, 48.0
"""Sides without a unit are feet up to here, then inches, then centimetres; all of them multiples of
five are centimetres (common practice) [1].
"""
POSSIBLE_M = (0.05, 10.0)
"""Sides of an enclosure (design choice) [m]."""
NEAR_CHARACTERS = 12
"""A length so near before the word for an enclosure is its own: “a 4 ft viv” (design choice)
[characters].
"""
SAME_VOLUME, SAME_LENGTH = 0.4, 0.25
"""By which a volume or a length may differ from the sides before both cannot be (design choice) [1].
"""
Sides = tuple[float, float | None, float | None]


@dataclass
class SaidSize:
    """What was said of a size, in its several ways."""

    in_gallons: bool = False
    """Tanks of the trade are called by gallons, and by no other volume."""
    sides_m: Sides | None = None
    volume_l: float | None = None
    long_m: float | None = None
    deep_m: float | None = None
    high_m: float | None = None

    def set_side(self, word: str, metres: float) -> None:
        """Take one side by its word; a second width is the depth."""
        side = WORDS.get(word, "high")

        if word == "wide" and self.long_m is not None:
            side = "deep"

        if getattr(self, f"{side}_m") is None:
            setattr(self, f"{side}_m", metres)


def read_size(reading: Reading) -> None:
    """Fill in sides and volume; what cannot both be is asked."""
    size = SaidSize()

    for statement in reading.statements:
        if not statement.clause.wished:
            _sides(reading, statement, size)
            _trade(reading, statement, size)
            _volume(reading, statement, size)
            _single_sides(reading, statement, size)

    _agree(reading, size)


def _sides(reading: Reading, statement: Statement, size: SaidSize) -> None:
    """“90 x 45 x 45 cm”, “4x2x2”."""
    found = _SIDES.search(statement.text)

    if size.sides_m is not None:
        return

    if found is None:
        _cube(reading, statement, size)
        return
    numbers = [float(found[n].replace(",", ".")) for n in (1, 3, 5) if found[n]]
    units = [found[n] or "" for n in (2, 4, 6)][: len(numbers)]
    metres = _metres(numbers, units)

    if not all(POSSIBLE_M[0] <= side <= POSSIBLE_M[1] for side in metres):
        said = statement.text[found.start() : found.end()]
        reading.contradict("enclosure", f"“{said}” cannot be the sides of an enclosure.")
        return
    high = round(metres[2], 4) if len(metres) > 2 else None
    size.sides_m = (round(max(metres[:2]), 4), round(min(metres[:2]), 4), high)
    _claim(reading, statement, found.start(), found.end())
    if statement.of("mesh"):
        reading.facts["enclosure_is_mesh"] = True


def _cube(reading: Reading, statement: Statement, size: SaidSize) -> None:
    """“A 40 cm cube”."""
    found = _CUBE.search(statement.text)

    if found is not None:
        side = round(_metres([float(found[1].replace(",", "."))], [found[2] or ""])[0], 4)
        size.sides_m = (side, side, side)
        _claim(reading, statement, found.start(), found.end())


def _metres(numbers: list[float], units: list[str]) -> list[float]:
    said = [unit for unit in units if unit]

    if said:
        return [
            convert(value, Kind.LENGTH, _unit(unit or said[-1]))
            for value, unit in zip(numbers, units, strict=True)
        ]
    unit = "cm"

    if max(numbers) <= FEET_MOST:
        unit = "ft"
    elif max(numbers) <= INCHES_MOST and not all(value % 5 == 0 for value in numbers):
        unit = "in"

    return [convert(value, Kind.LENGTH, unit) for value in numbers]


def _unit(unit: str) -> str:
    if unit.startswith(("inch", '"')) or unit == "in":
        return "in"

    if unit.startswith(("f", "'")):
        return "ft"
    return "m" if unit.startswith("met") else unit


def _claim(reading: Reading, statement: Statement, start: int, end: int) -> None:
    """Take a piece of a clause with every number in it."""
    for number in [n for n in statement.numbers if n.start < end and start < n.end]:
        statement.take(number)
    reading.mark(statement, "enclosure", Mention(start, end, "enclosure", ""))


def _tank(gallons: str, form: str = "") -> Tank | None:
    """The tank of the trade that is called so."""
    try:
        return spoken(f"{gallons} gal {form}".strip()).tank
    except EntryError:
        return None


def _rounded(tank: Tank) -> Sides:
    length, depth, height = (round(side, 4) for side in tank.sides_m)
    return length, depth, height


def _trade(reading: Reading, statement: Statement, size: SaidSize) -> None:
    """A tank by its name: “20 long”, “40 gallon breeder”."""
    found = _TRADE.search(statement.text)

    if found is None or size.sides_m is not None:
        return
    named = f"{found[1]} {found[3]}" in TRADE_TANKS
    tank = _tank(found[1], found[3])

    if tank is not None and (found[2] or statement.of("enclosure") or named):
        size.sides_m = _rounded(tank)
        _claim(reading, statement, found.start(), found.end())


def _volume(reading: Reading, statement: Statement, size: SaidSize) -> None:
    for number in statement.numbers_of("volume"):
        if statement.of("moisture") or _WATER.match(statement.text[number.end :]):
            continue
        reading.mark(statement, "enclosure", statement.take(number))
        if size.volume_l is None:
            size.volume_l = round(number.value.low, 2)
            size.in_gallons = "g" in statement.text[number.start : number.end]


def _single_sides(reading: Reading, statement: Statement, size: SaidSize) -> None:
    """“4 ft long, 2 ft deep, 2 ft tall” and “a 4 ft viv”."""
    cages = statement.of("enclosure", "cage")
    other = statement.of("uv", "heat", "hides", "substrate", "species", "bulb", "food")
    speaks = reading.sentence_of(statement, "enclosure", "cage") and not other

    if not cages and (not speaks or reading.sentence_of(statement, "uv")):
        return

    for number in statement.numbers_of("length"):
        word = _WORD.match(statement.text[number.end :])
        near = any(_is_beside(statement, number, cage) for cage in cages)
        if word is not None or near:
            size.set_side(word[1] if word is not None else "long", number.value.middle)
            reading.mark(statement, "enclosure", statement.take(number))


def _is_beside(statement: Statement, number: Number, cage: Mention) -> bool:
    """Whether a length stands close before the word for an enclosure, and no other between."""
    between = any(number.end <= one.start < cage.start for one in statement.numbers_of("length"))
    return 0 <= cage.start - number.end <= NEAR_CHARACTERS and not between


def _agree(reading: Reading, size: SaidSize) -> None:
    """Put together what was said of its size."""
    if size.sides_m is None and size.volume_l is not None and size.in_gallons:
        tank = _tank(f"{size.volume_l / LITRES_PER_US_GALLON:.4g}")
        if tank is not None and reading.facts.get("enclosure") in {None, "glass", "tank of water"}:
            size.sides_m = _rounded(tank)

    if size.sides_m is None and size.long_m is not None:
        size.sides_m = (size.long_m, size.deep_m, size.high_m)

    if size.sides_m is not None and _cannot_be(size):
        reading.contradict("enclosure", _both(size))
        return

    if size.sides_m is not None:
        reading.facts["sides_m"] = size.sides_m

    if size.volume_l is not None:
        reading.facts["volume_l"] = size.volume_l


def _cannot_be(size: SaidSize) -> bool:
    """Whether a volume or a length belongs to another enclosure than the sides."""
    if size.sides_m is None:
        return False
    long, deep, high = size.sides_m

    if size.long_m is not None and abs(long / size.long_m - 1) > SAME_LENGTH:
        return True

    if size.volume_l is None or deep is None or high is None:
        return False
    return abs(1000 * long * deep * high / size.volume_l - 1) > SAME_VOLUME


def _both(size: SaidSize) -> str:
    first = f"{size.volume_l:.0f} l" if size.volume_l is not None else "These sides"

    if size.long_m is not None:
        return (
            f"{first} and a length of {100 * size.long_m:.0f} cm do not belong to one enclosure."
        )
    sides = " × ".join(f"{100 * side:.0f}" for side in size.sides_m or () if side is not None)

    return f"{first} and sides of {sides} cm do not belong to one enclosure."
