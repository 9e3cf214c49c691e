"""Sizes as keepers say them: footprints in feet or centimetres, litres and gallons, tanks by their
names, multiples of the body. All are compared as sides.

Method: docs/methods/stage-and-size.md.
"""

import re
from dataclasses import dataclass
from typing import Literal

from husbandry.enclosure.geometry import LITRES_PER_US_GALLON
from husbandry.enclosure.tanks import TRADE_TANKS, Tank
from husbandry.enclosure.trade_size import CLOSE, SIZE_NAMES
from husbandry.errors import EntryError, ImpossibleStateError
from husbandry.quantity import Kind, convert

Manner = Literal["sides", "footprint", "trade tank", "volume", "body lengths"]
_SEPARATOR = re.compile(r"\s*(?:[x×*]|\bby\b)\s*")
_NUMBER = re.compile(r"(\d+(?:[.,]\d+)?)\s*([a-z\"'″′]*)")
_TANK = re.compile(
    r"(\d+(?:\.\d+)?)\s*(?:-|\s)?\s*(?:us\s*)?(?:gal|gals|gallon|gallons|g)?\b\s*(long|breeder|high|tall)?\s*(?:tank|aquarium)?"
)
_VOLUME = re.compile(r"(\d+(?:[.,]\d+)?)\s*(l|litres?|liters?|gal|gals|gallons?)")
_SIDE = (
    r"\d+(?:[.,]\d+)?\s*"
    r"(?:body[ -]?lengths?|bl|centimet(?:er|re)s?|inch(?:es)?|feet|foot|cm|mm|ft|in|m|\"|')?"
)
_BY = r"\s*(?:[x×*]|\bby\b)\s*"
_SIDES_IN = re.compile(rf"{_SIDE}{_BY}{_SIDE}(?:{_BY}{_SIDE})?")
"""Sides somewhere in a sentence."""
_VOLUME_IN = re.compile(
    r"(\d+(?:[.,]\d+)?)(?:\s*(?:-|–|to)\s*\d+(?:[.,]\d+)?)?[ -]*"
    r"(l|litres?|liters?|us gal|gal|gals|gallons?|qt|qts|quarts?)\b[ -]*(long|breeder|high|tall)?"
)
"""A volume somewhere in a sentence; of a range its lower end, which is what is asked for at least."""
_WORDS = {
    "one": "1",
    "two": "2",
    "three": "3",
    "four": "4",
    "five": "5",
    "six": "6",
    "eight": "8",
    "ten": "10",
    "twelve": "12",
    "twenty": "20",
    "thirty": "30",
    "forty": "40",
    "fifty": "50",
    "hundred": "100",
}
QUART_L = LITRES_PER_US_GALLON / 4
"""A US quart (definition) [l]."""
BARE_INCHES_MOST = 48.0
"""Three bare numbers, none larger, are inches, as tall enclosures are named (common practice)."""
_EXAMPLES = "“4 × 2 ft”, “120 × 60 × 60 cm”, “40 gal breeder”, “180 l” or “3 × 1.5 body lengths”"
ADVICE_MOST = 120
"""Longer texts are no size (design choice) [characters]."""
NAMED_GAL = 0.15
"""Share by which a tank's name may differ from gallons asked for (common practice: names are
nominal) [1].
"""


@dataclass(frozen=True)
class SizePhrase:
    """A size that was said."""

    text: str
    manner: Manner
    sides_m: tuple[float, float, float | None] | None
    """Length, depth and, where it was said, height [m]; None for a volume that no tank of the trade
    has.
    """
    volume_l: float | None = None
    tank: Tank | None = None


def spoken(text: str, body_length_m: float | None = None) -> SizePhrase:
    """Read a size as it is said.

    Parameters
    ----------
    text : str
        Such as “4x2 ft”, “120 x 60 x 60 cm”, “40 gal breeder”, “20 long”, “180 l”, “3 × 1.5 body
        lengths”.
    body_length_m : float, optional
        Of the animal, for multiples of it [m].

    Raises
    ------
    EntryError
        With a sentence that says how to write it.
    """
    said = text.strip().lower().replace("″", '"').replace("′", "'")
    if not said or len(said) > ADVICE_MOST:
        raise EntryError(f"Write a size such as {_EXAMPLES}.")
    said = _size_in(said)
    parts = _SEPARATOR.split(said)
    if len(parts) in {2, 3}:
        return _sides(text, said, parts, body_length_m)
    volume = _VOLUME.fullmatch(said)
    named = _TANK.fullmatch(said)
    if named and (volume is None or not volume[2].startswith("l")):
        return _tank(text, float(named[1]), named[2] or "")
    if volume:
        return _volume(text, float(volume[1].replace(",", ".")))
    raise EntryError(f"“{text.strip()}” cannot be read as a size: write {_EXAMPLES}.")


def _size_in(said: str) -> str:
    """The size in a piece of advice: its sides where it says them, else its volume; the whole text
    where there is neither.
    """
    for word, digits in _WORDS.items():
        said = re.sub(rf"\b{word}\b", digits, said)
    sides = _SIDES_IN.search(said)
    if sides is not None:
        found = sides[0].strip()
        numbers = [float(one.replace(",", ".")) for one in re.findall(r"\d+(?:[.,]\d+)?", found)]
        if len(numbers) == 3 and not re.search(r"[a-wyz\"']", found.replace("by", "")):
            unit = "in" if max(numbers) <= BARE_INCHES_MOST else "cm"
            return f"{found} {unit}"
        return found
    volume = _VOLUME_IN.search(said)
    if volume is None:
        return said
    number = volume[1]
    unit = volume[2]
    if unit.startswith("q"):
        return f"{float(number.replace(',', '.')) * QUART_L:.3g} l"
    form = f" {volume[3]}" if volume[3] else ""
    return f"{number} {'l' if unit.startswith('l') else 'gal'}{form}"


def _sides(text: str, said: str, parts: list[str], body_length_m: float | None) -> SizePhrase:
    bodies = re.search(r"(?:body[ -]?lengths?|bl)\s*$", said)
    if bodies:
        parts[-1] = parts[-1][: re.search(r"\s*(?:body[ -]?lengths?|bl)\s*$", parts[-1]).start()]  # type: ignore[union-attr]  # it matched above
        if body_length_m is None:
            raise EntryError("Multiples of the body need its length: measure it first.")
    numbers: list[tuple[float, str]] = []
    for part in parts:
        match = _NUMBER.fullmatch(part.strip())
        if match is None:
            raise EntryError(f"“{part.strip()}” cannot be read as a side: write {_EXAMPLES}.")
        numbers.append((float(match[1].replace(",", ".")), match[2]))
    if bodies:
        if body_length_m is None:
            raise ImpossibleStateError("missing: body_length_m")
        metres = [number * body_length_m for number, _ in numbers]
    else:
        last = next((unit for _, unit in reversed(numbers) if unit), "")
        if not last:
            raise EntryError(f"“{text.strip()}” has no unit: write {_EXAMPLES}.")
        metres = [convert(number, Kind.LENGTH, unit or last) for number, unit in numbers]
    if not all(0.05 <= side <= 20 for side in metres):
        raise EntryError(
            f"“{text.strip()}” cannot be the sides of an enclosure: they lie between 5 cm and 20 m."
        )
    long = max(metres[:2])
    deep = min(metres[:2])
    height = metres[2] if len(metres) == 3 else None
    manner: Manner = "body lengths" if bodies else ("sides" if height is not None else "footprint")
    return SizePhrase(
        text.strip(),
        manner,
        (long, deep, height),
        long * deep * height * 1000 if height is not None else None,
    )


def _tank(text: str, gallons: float, form: str) -> SizePhrase:
    name = f"{gallons:g} {form}".strip()
    tank = TRADE_TANKS.get(name) or next(
        (
            t
            for t in TRADE_TANKS.values()
            if t.name.split()[0] == f"{gallons:g}" and form in {"high", "tall", "breeder", ""}
        ),
        None,
    )
    if tank is not None:
        return SizePhrase(
            text.strip(), "trade tank", tank.sides_m, gallons * LITRES_PER_US_GALLON, tank
        )
    if form:
        raise EntryError(
            f"There is no common tank “{name}”: write its sides, such as 36 × 18 × 16 in."
        )
    return _volume(text, gallons * LITRES_PER_US_GALLON)


def _volume(text: str, litres: float) -> SizePhrase:
    """A bare volume is taken as the tank of the trade whose name is nearest to it."""
    if not 1 <= litres <= 50_000:
        raise EntryError(
            f"“{text.strip()}” cannot be the volume of an enclosure: it lies between 1 and 50"
            " 000 l."
        )
    gallons = litres / LITRES_PER_US_GALLON
    nearest = min(TRADE_TANKS.values(), key=lambda tank: abs(_named(tank) - gallons))
    if abs(_named(nearest) - gallons) > NAMED_GAL * gallons:
        return SizePhrase(text.strip(), "volume", None, litres)
    return SizePhrase(text.strip(), "volume", nearest.sides_m, litres, nearest)


def _named(tank: Tank) -> float:
    return float(tank.name.split()[0])


@dataclass(frozen=True)
class Compared:
    """A size that was said beside one that is needed."""

    said: SizePhrase
    floor_share: float | None
    """Its floor over the needed one [1]; None for a volume of no known shape."""
    volume_share: float | None
    enough: bool | None
    short: tuple[str, ...]
    """Sides that fall short."""


def compared(said: SizePhrase, needed_m: tuple[float, float, float]) -> Compared:
    """Compare by sides, never by volume: a tall narrow enclosure holds as many litres as a long low
    one.

    A footprint alone is not judged on its height; a volume of no known shape is not judged at all.
    """
    needed_l = needed_m[0] * needed_m[1] * needed_m[2] * 1000
    volume_share = said.volume_l / needed_l if said.volume_l is not None else None
    if said.sides_m is None:
        return Compared(said, None, volume_share, None, ())
    short = tuple(
        name
        for name, have, need in zip(SIZE_NAMES, said.sides_m, needed_m, strict=True)
        if have is not None and have < CLOSE * need
    )
    floor = said.sides_m[0] * said.sides_m[1] / (needed_m[0] * needed_m[1])
    return Compared(said, floor, volume_share, not short, short)


@dataclass(frozen=True)
class SizeEquivalents:
    """A needed size in every way it is spoken."""

    sides_m: tuple[float, float, float]
    feet: tuple[float, float, float]
    """To the next half foot up."""
    litres: float
    us_gal: float
    bodies: tuple[float, float, float] | None
    tank: Tank | None
    """The smallest common tank with such sides, where there is one."""


def in_other_words(
    needed_m: tuple[float, float, float], body_length_m: float | None = None
) -> SizeEquivalents:
    """Say the sides needed in feet, litres, gallons, body lengths, and as the smallest tank of the
    trade that has them.
    """
    foot = convert(1, Kind.LENGTH, "ft")

    def half(side: float) -> float:
        return -(-side * CLOSE // (foot / 2)) / 2

    fitting = [
        tank
        for tank in TRADE_TANKS.values()
        if all(have >= CLOSE * need for have, need in zip(tank.sides_m, needed_m, strict=True))
    ]
    litres = needed_m[0] * needed_m[1] * needed_m[2] * 1000
    bodies = (
        (needed_m[0] / body_length_m, needed_m[1] / body_length_m, needed_m[2] / body_length_m)
        if body_length_m
        else None
    )
    return SizeEquivalents(
        needed_m,
        (half(needed_m[0]), half(needed_m[1]), half(needed_m[2])),
        litres,
        litres / LITRES_PER_US_GALLON,
        bodies,
        min(fitting, key=lambda tank: tank.brim_us_gal, default=None),
    )
