"""The enclosure: its kind, sides, volume and lid, and what lies and stands in it."""

import re

from husbandry.enclosure.geometry import LITRES_PER_US_GALLON
from husbandry.enclosure.size_phrases import spoken
from husbandry.enclosure.tanks import TRADE_TANKS
from husbandry.errors import EntryError
from husbandry.quantity import Kind, convert
from husbandry.review.description import EnclosureKind
from husbandry.review.description_reading import Reading, Statement
from husbandry.review.numbers import Number
from husbandry.review.vocabulary import Mention
from husbandry.species.library import library

_SIDE = r"(\d+(?:[.,]\d+)?)\s*(cm|mm|inch(?:es)?|in|feet|foot|ft|metres?|meters?|m|\"|')?"
_BY = r"(?:\s*(?:l|w|d|h|long|wide|deep|high|tall))?\s*(?:x|\*|\bby\b)\s*"
_SIDES = re.compile(rf"(?<![\w.]){_SIDE}{_BY}{_SIDE}(?:{_BY}{_SIDE})?(?!\w)")
_TRADE = re.compile(
    r"(?<![\w.])(\d+(?:\.\d+)?)[\s-]*(?:us\s*)?(gallons?|gals?|g)?[\s-]*(long|breeder|high|tall)\b"
)
_LONG = re.compile(r"\s*(long|in length|wide|deep|tall|high|in height)\b")
_EACH = re.compile(r"\b(?:each|either|both|every)\s+(?:side|end|corner)s?\b")
_MANY = re.compile(r"\b(?:several|plenty|lots|multiple|many|few)\b")
FEET_MOST, INCHES_MOST = 10.0, 48.0
"""Sides without a unit are feet up to here, then inches, then centimetres; all of them multiples of
five are centimetres (common practice) [1].
"""
SAME_VOLUME, SAME_LENGTH = 0.4, 0.25
"""By which a volume or a length may differ from the sides before both cannot be (design choice) [1].
"""


def read_enclosure(reading: Reading) -> None:
    """Kind, sides, lid."""
    kinds: list[EnclosureKind] = []
    for statement in reading.statements:
        if statement.clause.wished:
            continue
        _sides(reading, statement)
        _trade(reading, statement)
        _volume(reading, statement)
        _words_for_sides(reading, statement)
        for name in statement.of("enclosure", "cage"):
            if statement.denied(name):
                continue
            reading.mark(statement, "enclosure", name)
            if name.fact == "enclosure":
                kinds.append(name.value)  # type: ignore[arg-type]  # the table holds kinds only
        for name in statement.of("lid"):
            reading.facts["lid"] = name.value
            reading.mark(statement, "lid", name)
    if kinds:
        reading.facts["enclosure"] = _kind(reading, kinds)
    _agree(reading)


def _kind(reading: Reading, kinds: list[EnclosureKind]) -> EnclosureKind:
    """The most telling word: “tank” is said of anything."""
    animal = reading.facts.get("animal")
    profile = library().get(getattr(animal, "species", None) or "")
    swims = profile is not None and profile.habit in {"aquatic", "semi-aquatic"}
    order: tuple[EnclosureKind, ...] = ("mesh", "tub", "open table", "board", "timber", "glass")
    for kind in order:
        if kind in kinds and not (kind == "glass" and swims):
            return kind
    return "tank of water" if swims else "glass"


def _metres(numbers: list[float], units: list[str]) -> list[float]:
    said = [unit for unit in units if unit]
    if said:
        return [
            convert(value, Kind.LENGTH, _unit(unit or said[-1]))
            for value, unit in zip(numbers, units, strict=True)
        ]
    if max(numbers) <= FEET_MOST:
        return [convert(value, Kind.LENGTH, "ft") for value in numbers]
    inches = max(numbers) <= INCHES_MOST and not all(value % 5 == 0 for value in numbers)
    return [convert(value, Kind.LENGTH, "in" if inches else "cm") for value in numbers]


def _unit(unit: str) -> str:
    if unit.startswith(("inch", '"')) or unit == "in":
        return "in"
    if unit.startswith(("f", "'")):
        return "ft"
    return "m" if unit.startswith("met") else unit


def _sides(reading: Reading, statement: Statement) -> None:
    found = _SIDES.search(statement.text)
    if found is None or "sides_m" in reading.facts:
        return
    numbers = [float(found[n].replace(",", ".")) for n in (1, 3, 5) if found[n]]
    units = [found[n] or "" for n in (2, 4, 6)][: len(numbers)]
    metres = _metres(numbers, units)
    if not all(0.05 <= side <= 10 for side in metres):
        said = statement.text[found.start() : found.end()]
        reading.contradict("enclosure", f"“{said}” cannot be the sides of an enclosure.")
        return
    long, deep = max(metres[:2]), min(metres[:2])
    high = metres[2] if len(metres) > 2 else None
    reading.facts["sides_m"] = (round(long, 4), round(deep, 4), high and round(high, 4))
    _claim(reading, statement, found.start(), found.end())


def _claim(reading: Reading, statement: Statement, start: int, end: int) -> None:
    """Take a piece of a clause with every number in it."""
    for number in [n for n in statement.numbers if n.start < end and start < n.end]:
        statement.take(number)
    reading.mark(statement, "enclosure", Mention(start, end, "enclosure", ""))


def _trade(reading: Reading, statement: Statement) -> None:
    """A tank by its name: “20 long”, “40 gallon breeder”."""
    found = _TRADE.search(statement.text)
    if found is None or "sides_m" in reading.facts:
        return
    named = f"{found[1]} {found[3]}" in TRADE_TANKS
    if not (found[2] or statement.of("enclosure") or named):
        return
    try:
        tank = spoken(f"{found[1]} gal {found[3]}").tank
    except EntryError:
        return
    if tank is not None:
        reading.facts["sides_m"] = tuple(round(side, 4) for side in tank.sides_m)
        _claim(reading, statement, found.start(), found.end())


def _volume(reading: Reading, statement: Statement) -> None:
    for number in [n for n in statement.numbers if n.quantity == "volume"]:
        if statement.of("moisture") or re.match(
            r"\s*(?:of water|dish|bowl|pond|pool)", statement.text[number.end :]
        ):
            continue
        litres = number.value.low
        reading.mark(statement, "enclosure", statement.take(number))
        if "volume_l" not in reading.facts:
            reading.facts["volume_l"] = round(litres, 2)


def _words_for_sides(reading: Reading, statement: Statement) -> None:
    """“4 ft long, 2 ft deep, 2 ft tall” and “a 4 ft viv”."""
    other = ("uv", "heat", "hides", "substrate", "species", "bulb", "food")
    cages = reading.sentence_of(statement, "enclosure", "cage")
    if statement.of(*other) and not statement.of("enclosure", "cage"):
        return
    if not cages or (
        reading.sentence_of(statement, "uv") and not statement.of("enclosure", "cage")
    ):
        return
    sides = dict(zip("ldh", reading.facts.get("said_sides", (None, None, None)), strict=True))  # type: ignore[call-overload]  # three or none
    for number in [n for n in statement.numbers if n.quantity == "length"]:
        word = _LONG.match(statement.text[number.end :])
        cage = [c for c in statement.of("enclosure", "cage") if 0 <= c.start - number.end <= 12]
        value = number.value.middle
        if word is None and not cage:
            continue
        key = (
            "l"
            if word is None
            else {"l": "l", "w": "l", "d": "d", "t": "h", "h": "h"}[word[1].removeprefix("in ")[0]]
        )
        if word is not None and word[1] == "wide" and sides["l"] is not None:
            key = "d"
        sides[key] = sides[key] or value
        reading.mark(statement, "enclosure", statement.take(number))
    reading.facts["said_sides"] = tuple(sides.values())


def _agree(reading: Reading) -> None:
    """Put together what was said of its size; what cannot both be is asked."""
    long, deep, high = reading.facts.pop("said_sides", (None, None, None))  # type: ignore[misc]  # three or none
    sides = reading.facts.get("sides_m")
    volume = reading.facts.get("volume_l")
    if sides is None and volume is not None:
        try:
            gallons = float(str(volume)) / LITRES_PER_US_GALLON
            tank = spoken(f"{gallons:.4g} gal").tank
        except EntryError:
            tank = None
        if tank is not None and reading.facts.get("enclosure") in {None, "glass", "tank of water"}:
            sides = reading.facts["sides_m"] = tuple(round(side, 4) for side in tank.sides_m)
    if sides is None:
        if long is not None:
            reading.facts["sides_m"] = (long, deep, high)
        return
    own = [side for side in sides if side is not None]  # type: ignore[attr-defined]  # a tuple
    litres = 1000 * own[0] * own[1] * own[2] if len(own) == 3 else None
    wrong_volume = (
        volume is not None
        and litres is not None
        and abs(litres / float(str(volume)) - 1) > SAME_VOLUME
    )
    wrong_length = long is not None and abs(own[0] / long - 1) > SAME_LENGTH
    if wrong_volume or wrong_length:
        reading.contradict("enclosure", _both(own, volume, long))
        reading.facts.pop("sides_m", None)
        reading.facts.pop("volume_l", None)


def _both(sides: list[float], volume: object, long: float | None) -> str:
    first = f"{float(str(volume)):.0f} l" if volume is not None else "One size"
    other = (
        f"{100 * long:.0f} cm"
        if long
        else " × ".join(f"{100 * side:.0f}" for side in sides) + " cm"
    )
    return (
        f"{first} and a length of {other} do not belong to one enclosure."
        if long
        else (f"{first} and sides of {other} do not belong to one enclosure.")
    )


def read_interior(reading: Reading) -> None:
    """Substrate, hides, branches, plants, water."""
    for statement in reading.statements:
        if statement.clause.wished:
            continue
        _substrate(reading, statement)
        for name in statement.of("climbing", "basking place"):
            key = "climbing" if name.fact == "climbing" else "basking_place"
            reading.facts[key] = not statement.denied(name)
            reading.mark(statement, "climbing", name)
        for name in statement.of("plants"):
            value = "none" if statement.denied(name) else name.value
            if value == "some":
                continue
            reading.facts["plants"] = value
            reading.mark(statement, "plants", name)
        for name in statement.of("water"):
            _water(reading, statement, name)
    _hides(reading)


def _water(reading: Reading, statement: Statement, name: Mention) -> None:
    plain = statement.text[name.start : name.end] == "water"
    if plain and (statement.of("place", "moisture") or _is_warm(statement, name)):
        return
    reading.facts["water"] = "none" if statement.denied(name) else name.value
    reading.mark(statement, "water", name)


def _is_warm(statement: Statement, name: Mention) -> bool:
    """Whether it is the water's temperature that is said."""
    return any(
        number.quantity == "temperature" and 0 <= number.start - name.end <= 12
        for number in statement.numbers
    )


def _substrate(reading: Reading, statement: Statement) -> None:
    names = statement.of("substrate")
    known = list(reading.facts.get("substrate", ()))  # type: ignore[call-overload]  # a tuple
    for name in names:
        if name.value in {"moss", "tile"} and statement.of("hides", "climbing", "basking place"):
            continue
        reading.mark(statement, "substrate", name)
        if statement.denied(name):
            if name.value == "any":
                reading.facts["substrate"] = ()
            continue
        if name.value == "bare":
            reading.facts["substrate"] = ()
        elif name.value != "any" and name.value not in known:
            known.append(name.value)
    if known:
        reading.facts["substrate"] = tuple(known)
    depth = _depth(statement, bool(names))
    if depth is not None and known:
        reading.facts.setdefault("substrate_m", depth.value)
        reading.mark(statement, "substrate", statement.take(depth))


def _depth(statement: Statement, names_it: bool) -> Number | None:
    """A length that is the depth of what was poured in."""
    for number in statement.numbers:
        if number.quantity == "length" and number.value.high <= 1.0:
            after = statement.text[number.end :]
            if re.match(r"\s*(?:deep|thick|of|layer|depth)\b", after) or (
                names_it and not statement.of("uv", "heat")
            ):
                return number
    return None


def _hides(reading: Reading) -> None:
    """How many, sentence by sentence: a number holds what the rest of its sentence tells apart."""
    by_sentence: dict[int, list[int]] = {}
    moist = 0
    said = False
    for statement in reading.statements:
        if statement.clause.wished:
            continue
        for name in statement.of("hides"):
            said = True
            reading.mark(statement, "hides", name)
            if statement.denied(name):
                if name.value == "moist":
                    reading.facts["moist_hide"] = False
                continue
            if name.value == "moist":
                one_of_them = re.search(r"one of (?:them|which|these)", statement.text)
                moist += 0 if one_of_them else 1
                reading.facts["moist_hide"] = True
                continue
            by_sentence.setdefault(statement.clause.sentence, []).append(
                _how_many(reading, statement, name)
            )
    if said and (by_sentence or moist or "moist_hide" not in reading.facts):
        totals = [
            max(max(counts), sum(counts[1:]), _sum_of_ones(counts))
            for counts in by_sentence.values()
        ]
        reading.facts["hides"] = min(sum(totals) + moist, 12)


def _sum_of_ones(counts: list[int]) -> int:
    return sum(counts) if max(counts) == 1 else 0


def _how_many(reading: Reading, statement: Statement, name: Mention) -> int:
    for number in statement.numbers:
        if (
            number.quantity == "bare"
            and 0 <= name.start - number.end <= 16
            and number.value.low <= 12
        ):
            reading.mark(statement, "hides", statement.take(number))
            return int(number.value.low)
    if _EACH.search(statement.text):
        return 2
    if _MANY.search(statement.text):
        return 3
    after = [n for n in statement.numbers if n.quantity == "bare" and 0 <= n.start - name.end <= 3]
    if after and after[0].value.low <= 12:
        reading.mark(statement, "hides", statement.take(after[0]))
        return int(after[0].value.low)
    words = statement.text[name.start : name.end]
    return 2 if words.endswith("s") and name.value != "moist" else 1
