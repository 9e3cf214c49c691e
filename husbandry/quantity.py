"""Entry and display of quantities: what a person types or reads, against what the core computes
with.

The core's own units are fixed (m, °C, g, l, W, % , UVI). Everything else is converted here, by
pint, and nowhere else.
"""

import functools
import math
import re
from dataclasses import dataclass
from enum import StrEnum
from typing import Literal

import pint

from husbandry.bounds import LENGTH_MM
from husbandry.errors import EntryError


class Kind(StrEnum):
    """What a number is a number of. Decides the units it may be typed in and shown in."""

    LENGTH = "length"
    TEMPERATURE = "temperature"
    TEMPERATURE_DIFFERENCE = "temperature difference"
    MASS = "mass"
    VOLUME = "volume"
    AREA = "area"
    POWER = "power"
    HUMIDITY = "humidity"
    UVI = "UV index"
    SHARE = "share"
    COUNT = "count"
    HOURS = "hours"


@dataclass(frozen=True)
class Units:
    """The reader's units.

    Temperature is chosen apart from the rest: many keepers think in inches and °C, or cm and °F.
    """

    system: Literal["metric", "us"] = "metric"
    temperature: Literal["c", "f"] = "c"


METRIC = Units()

# What may be typed, as pint knows it. Keys are lower-case, without dots and spaces.
_UNITS: dict[Kind, dict[str, str]] = {
    Kind.LENGTH: {
        "m": "meter",
        "metre": "meter",
        "metres": "meter",
        "meter": "meter",
        "meters": "meter",
        "cm": "centimeter",
        "mm": "millimeter",
        "in": "inch",
        "inch": "inch",
        "inches": "inch",
        '"': "inch",
        "″": "inch",
        "''": "inch",
        "ft": "foot",
        "foot": "foot",
        "feet": "foot",
        "'": "foot",
        "′": "foot",
    },
    Kind.TEMPERATURE: {
        "c": "degC",
        "°c": "degC",
        "degc": "degC",
        "celsius": "degC",
        "℃": "degC",
        "f": "degF",
        "°f": "degF",
        "degf": "degF",
        "fahrenheit": "degF",
        "℉": "degF",
        "k": "kelvin",
        "kelvin": "kelvin",
    },
    Kind.TEMPERATURE_DIFFERENCE: {
        "c": "delta_degC",
        "°c": "delta_degC",
        "k": "delta_degC",
        "f": "delta_degF",
        "°f": "delta_degF",
    },
    Kind.MASS: {
        "g": "gram",
        "gram": "gram",
        "grams": "gram",
        "kg": "kilogram",
        "mg": "milligram",
        "lb": "pound",
        "lbs": "pound",
        "pound": "pound",
        "pounds": "pound",
        "oz": "ounce",
        "ounce": "ounce",
        "ounces": "ounce",
    },
    # A US gallon is 231 cubic inches; the imperial one must be named, a bare "gal" is the trade's
    # US gallon.
    Kind.VOLUME: {
        "l": "liter",
        "litre": "liter",
        "litres": "liter",
        "liter": "liter",
        "liters": "liter",
        "ml": "milliliter",
        "floz": "fluid_ounce",
        "gal": "gallon",
        "gallon": "gallon",
        "gallons": "gallon",
        "usgal": "gallon",
        "impgal": "imperial_gallon",
    },
    Kind.AREA: {
        "cm²": "centimeter ** 2",
        "sqcm": "centimeter ** 2",
        "m²": "meter ** 2",
        "in²": "inch ** 2",
        "sqin": "inch ** 2",
    },
    Kind.POWER: {"w": "watt", "watt": "watt", "watts": "watt", "kw": "kilowatt"},
    Kind.HUMIDITY: {"%": "percent", "%rh": "percent", "rh": "percent"},
    Kind.UVI: {"uvi": "dimensionless"},
    Kind.SHARE: {"%": "percent"},
    Kind.COUNT: {},
    Kind.HOURS: {
        "h": "hour",
        "hr": "hour",
        "hrs": "hour",
        "hour": "hour",
        "hours": "hour",
        "min": "minute",
        "d": "day",
        "days": "day",
    },
}

_INSIDE: dict[Kind, str] = {
    Kind.LENGTH: "meter",
    Kind.TEMPERATURE: "degC",
    Kind.TEMPERATURE_DIFFERENCE: "delta_degC",
    Kind.MASS: "gram",
    Kind.VOLUME: "liter",
    Kind.AREA: "centimeter ** 2",
    Kind.POWER: "watt",
    Kind.HUMIDITY: "percent",
    Kind.UVI: "dimensionless",
    Kind.SHARE: "dimensionless",
    Kind.COUNT: "dimensionless",
    Kind.HOURS: "hour",
}

_EXAMPLES: dict[Kind, str] = {
    Kind.LENGTH: "“120 cm”, “1.2 m”, “48 in” or “4 ft”",
    Kind.TEMPERATURE: "“35 °C” or “95 °F”",
    Kind.TEMPERATURE_DIFFERENCE: "“1.4 °C” or “2.5 °F”",
    Kind.MASS: "“420 g”, “1.2 kg” or “2 lb 3 oz”",
    Kind.VOLUME: "“68 l” or “20 gal”",
    Kind.AREA: "“80 cm²”, “12 sq in” or “24 holes of 3 mm”",
    Kind.POWER: "“75 W”",
    Kind.HUMIDITY: "“55 %”",
    Kind.UVI: "“3.2”",
    Kind.SHARE: "“40 %”",
    Kind.COUNT: "a whole number",
    Kind.HOURS: "“6 h” or “90 min”",
}

# Decimal point or comma, then an optional unit; repeated for "2 lb 3 oz" and 4' 6".
_NUMBER = r"[-+−]?(?:\d+(?:[.,]\d+)?|[.,]\d+)"
_PART = re.compile(rf"\s*({_NUMBER})\s*([^\d\s.,+−-][^\d+−]*?)?\s*(?=$|\d|[-+−.,]\d)")
_LESS = re.compile(r"(.*\d.*?)\s*(?:[-−–]|\bless\b|\bminus\b)\s*(\d.*)")
"""A mass with something taken off it."""
_HOLES = re.compile(
    r"(\d+)\s*(?:air\s*)?holes?\s*(?:of|at|x|×|à)?\s*(\d.*?)(?:\s*(?:wide|across))?"
)
"""An area as so many holes of a width."""
_COMPOUND = {Kind.LENGTH, Kind.MASS, Kind.HOURS}
_MAX_TYPED = 60
"""Longer texts are no number (design choice) [characters]."""


@functools.cache
def _registry() -> "pint.UnitRegistry[float]":
    return pint.UnitRegistry(autoconvert_offset_to_baseunit=True)


@functools.cache
def _affine(kind: Kind, name: str) -> tuple[float, float]:
    """Scale and offset from a pint unit to the inside unit of `kind`: one conversion by pint, then
    plain arithmetic.
    """
    q = _registry().Quantity
    inside = _INSIDE[kind]
    at_zero = float(q(0.0, name).to(inside).magnitude)
    return float(q(1.0, name).to(inside).magnitude) - at_zero, at_zero


def convert(value: float, kind: Kind, unit: str) -> float:
    """Turn `value` in a typed unit (such as "in" or "°F") into the core's own unit of that kind.

    >>> round(convert(95, Kind.TEMPERATURE, "°F"), 6)
    35.0
    """
    scale, offset = _affine(kind, _unit_name(kind, unit))
    return value * scale + offset


def _unit_name(kind: Kind, typed: str) -> str:
    key = typed.lower().replace(" ", "").rstrip(".")
    if key not in _UNITS[kind]:
        raise EntryError(
            f"“{typed.strip()}” is not a unit of {kind.value} here: write {_EXAMPLES[kind]}."
        )
    return _UNITS[kind][key]


@dataclass(frozen=True)
class QuantityEntry:
    """A quantity as it was typed and as the core takes it."""

    value: float
    """[the kind's inside unit]"""
    kind: Kind
    typed_value: float
    typed_unit: str
    """The unit as typed, or the reader's unit that was assumed."""
    unit_assumed: bool


def default_unit(kind: Kind, units: Units, *, small: bool = False) -> str:
    """The unit that a bare number is taken in, and in which the field is labelled."""
    us = units.system == "us"
    return {
        Kind.LENGTH: "in" if us else ("mm" if small else "cm"),
        Kind.TEMPERATURE: "°F" if units.temperature == "f" else "°C",
        Kind.TEMPERATURE_DIFFERENCE: "°F" if units.temperature == "f" else "°C",
        Kind.MASS: (
            "g"
        ),  # scales for animals read grams in the US too; pounds are accepted and shown when large
        Kind.VOLUME: ("fl oz" if us else "ml") if small else ("gal" if us else "l"),
        Kind.AREA: "in²" if us else "cm²",
        Kind.POWER: "W",
        Kind.HUMIDITY: "%",
        Kind.UVI: "",
        Kind.SHARE: "%",
        Kind.COUNT: "",
        Kind.HOURS: "h",
    }[kind]


def _squared(typed: str, kind: Kind) -> str:
    """“cm2” as “cm²”: a digit begins the next number."""
    return re.sub(r"(?<=[a-zA-Z])2$", "²", typed) if kind is Kind.AREA else typed


def _parts_of(typed: str, kind: Kind) -> list[tuple[float, str]]:
    """Each number with the unit behind it."""
    parts: list[tuple[float, str]] = []
    position = 0
    while position < len(typed):
        match = _PART.match(typed, position)
        if match is None or match.end() == position:
            raise EntryError(
                f"“{typed}” cannot be read as a {kind.value}: write {_EXAMPLES[kind]}."
            )
        parts.append(
            (float(match[1].replace(",", ".").replace("−", "-")), (match[2] or "").strip())
        )
        position = match.end()

    return parts


def read(text: str, kind: Kind, units: Units = METRIC, *, small: bool = False) -> QuantityEntry:
    """Read what a person typed.

    Parameters
    ----------
    text : str
        Such as "4 ft", "48in", "1,2 m", "95F", "2 lb 3 oz". A bare number is taken in the reader's
        unit.
    kind : Kind
    units : Units
        The reader's.
    small : bool
        Lengths of animals, and water that is sprayed: a bare number is millimetres, not
        centimetres, and millilitres, not litres.

    Returns
    -------
    Entry
        With its value in the core's unit.

    Raises
    ------
    EntryError
        With a sentence that says how to write it.
    """
    typed = _squared(text.strip(), kind)

    if not typed:
        raise EntryError(f"Write {_EXAMPLES[kind]}.")

    if len(typed) > _MAX_TYPED:
        raise EntryError(f"That is too long for a {kind.value}: write {_EXAMPLES[kind]}.")

    if kind is Kind.MASS and (less := _LESS.fullmatch(typed)):
        return _less(less[1], less[2], units, small=small)

    if kind is Kind.AREA and (drilled := _HOLES.fullmatch(typed)):
        return _holes(drilled[1], drilled[2], units)
    parts = _parts_of(typed, kind)

    if len(parts) > 1 and (
        kind not in _COMPOUND or len(parts) > 2 or not all(unit for _, unit in parts)
    ):
        raise EntryError(f"“{typed}” cannot be read as one {kind.value}: write {_EXAMPLES[kind]}.")

    if len(parts) == 2:
        first, second = (abs(convert(1.0, kind, unit)) for _, unit in parts)
        if first <= second or parts[1][0] < 0:
            raise EntryError(f"“{typed}”: the larger unit comes first, as in {_EXAMPLES[kind]}.")
    assumed = not parts[0][1]
    unit = parts[0][1] or default_unit(kind, units, small=small)
    sign = -1.0 if parts[0][0] < 0 else 1.0
    value = convert(parts[0][0], kind, unit) if unit else parts[0][0]
    value += sum(sign * convert(number, kind, part_unit) for number, part_unit in parts[1:])
    if kind is Kind.COUNT and value != int(value):
        raise EntryError(f"“{typed}” must be {_EXAMPLES[kind]}.")
    # Ten digits: far finer than any tape, and 95 °F becomes 35 °C and not 34.999999999998835.
    return QuantityEntry(float(f"{value:.10g}"), kind, parts[0][0], unit, assumed)


def _less(whole: str, tare: str, units: Units, *, small: bool) -> QuantityEntry:
    """What is left when the tub, or the person, is taken off: “1250 - 380 g”, “221 lb - 185.5 lb”."""
    off = read(tare, Kind.MASS, units, small=small)
    bare = whole if re.search(r"[a-zA-Z]", whole) else f"{whole} {off.typed_unit}"
    both = read(bare, Kind.MASS, units, small=small)
    left = float(f"{both.value - off.value:.10g}")
    if left <= 0:
        raise EntryError(f"“{whole.strip()}” less “{tare.strip()}” leaves nothing.")
    per_unit = convert(1.0, Kind.MASS, both.typed_unit)
    return QuantityEntry(left, Kind.MASS, left / per_unit, both.typed_unit, both.unit_assumed)


def _holes(count: str, wide: str, units: Units) -> QuantityEntry:
    """The area of round holes: “24 holes of 3 mm”."""
    width = read(wide, Kind.LENGTH, units, small=True)
    one_cm2 = math.pi / 4 * (100 * width.value) ** 2
    area_cm2 = float(f"{int(count) * one_cm2:.10g}")
    return QuantityEntry(area_cm2, Kind.AREA, area_cm2, "cm²", width.unit_assumed)


# --- display --------------------------------------------------------------------------------------


def to_reader(
    value: float, kind: Kind, units: Units = METRIC, *, small: bool = False
) -> tuple[float, str]:
    """The number in the reader's unit, unrounded, and that unit."""
    unit = default_unit(kind, units, small=small)
    if not unit:
        return value, ""
    scale, offset = _affine(kind, _unit_name(kind, unit))
    return (value - offset) / scale, unit


_DIGITS: dict[str, int] = {
    "cm": 0,
    "mm": 0,
    "in": 1,
    "°C": 1,
    "°F": 0,
    "g": 0,
    "gal": 0,
    "l": 0,
    "cm²": 0,
    "in²": 1,
    "ml": 0,
    "fl oz": 1,
    "W": 0,
    "%": 0,
    "h": 0,
    "": 1,
}
"""Decimals that an instrument could tell (design choice)."""


def _places(kind: Kind, value: float, number: float, name: str) -> int:
    """Digits after the point: of little more than of much.

    A dose of 5 ml is 0.17 fl oz; 0.2 would be a fifth too much.
    """
    if kind is Kind.MASS and value < 20:
        return 1
    if kind is Kind.VOLUME and 0 < number < 20:
        return 2 if number < 2 else 1
    return _DIGITS[name]


def show(
    value: float,
    kind: Kind,
    units: Units = METRIC,
    *,
    digits: int | None = None,
    unit: bool = True,
    small: bool = False,
) -> str:
    """A number for reading, in the reader's units.

    >>> show(36.12, Kind.TEMPERATURE)
    '36.1 °C'
    >>> show(36.12, Kind.TEMPERATURE, Units("us", "f"))
    '97 °F'
    >>> show(0.42, Kind.LENGTH, Units("us", "c"))
    '16.5 in'
    >>> show(993.0, Kind.MASS, Units("us", "c"))
    '2 lb 3 oz'
    >>> show(0.005, Kind.VOLUME, Units("us", "c"), small=True)
    '0.17 fl oz'
    """
    number, name = to_reader(value, kind, units, small=small)
    if kind is Kind.MASS and units.system == "us" and value >= 453.59237:
        ounces = round(value / 28.349523125)
        pounds, ounces = divmod(ounces, 16)
        return f"{pounds} lb {ounces} oz" if ounces else f"{pounds} lb"
    if kind is Kind.MASS and value >= 10_000:
        number = value / 1000
        name = "kg"
        digits = 1 if digits is None else digits
    places = digits if digits is not None else _places(kind, value, number, name)
    body = f"{number:.{places}f}"
    if "." in body and kind in {Kind.LENGTH, Kind.MASS, Kind.UVI, Kind.VOLUME}:
        body = (
            body.rstrip("0").rstrip(".")
            if digits is None and kind in {Kind.LENGTH, Kind.VOLUME}
            else body
        )
    body = body.replace("-", "−") if float(body) != 0 else body.lstrip("-")

    return f"{body} {name}" if unit and name else body


# --- plausibility ---------------------------------------------------------------------------------


@dataclass(frozen=True)
class PlausibleRange:
    """Where a value of this field lies in practice, and what it can be at all.

    Outside `usual` it is questioned when another unit would put it inside; outside `possible` it is
    refused.
    """

    usual: tuple[float, float]
    possible: tuple[float, float]


_ALTERNATIVES: dict[Kind, tuple[str, ...]] = {
    Kind.LENGTH: ("cm", "in", "mm", "ft", "m"),
    Kind.TEMPERATURE: ("°F", "°C", "K"),
    Kind.MASS: ("g", "kg", "oz", "lb"),
    Kind.VOLUME: ("l", "gal", "ml", "fl oz"),
    Kind.AREA: ("cm²", "in²"),
    Kind.POWER: ("W", "kW"),
    Kind.HUMIDITY: ("%",),
    Kind.HOURS: ("h", "min", "d"),
}


@dataclass(frozen=True)
class Doubt:
    """A value that is unlikely, and the slip that would explain it."""

    sentence: str
    meant: float | None
    """What the value would be if the slip is undone [inside unit]; None when no other unit explains
    it.
    """
    refused: bool
    meanings: tuple[str, ...] = ()
    """How to write what may have been meant, the likeliest first: “15” of a boa is 15 oz or 15 lb."""

    @property
    def meant_as(self) -> str:
        """How to write what was most likely meant."""
        return self.meanings[0] if self.meanings else ""


def question(
    entry: QuantityEntry, plausible: PlausibleRange, *, units: Units = METRIC, what: str = "value"
) -> Doubt | None:
    """Ask about a value that cannot well be true, naming the likely slip.

    >>> usual = PlausibleRange((15, 65), (-5, 120))
    >>> question(read("90", Kind.TEMPERATURE), usual, what="surface").sentence
    'A surface of 90 °C is not likely: did you mean 90 °F = 32 °C?'
    """
    low, high = plausible.usual
    if low <= entry.value <= high:
        return None
    refused = not plausible.possible[0] <= entry.value <= plausible.possible[1]
    said = f"{entry.typed_value:g} {entry.typed_unit}".strip()
    meant = _meanings(entry, plausible.usual)
    if meant:
        choices = " or ".join(
            _spelled(value, told, entry.kind, units) for told, value in meant.items()
        )
        sentence = f"{_article(what)} {what} of {said} is not likely: did you mean {choices}?"
        return Doubt(sentence, next(iter(meant.values())), refused, tuple(meant))
    span = f"{show(low, entry.kind, units)} to {show(high, entry.kind, units)}"
    verb = "is not possible" if refused else "is not likely"

    return Doubt(f"{_article(what)} {what} of {said} {verb}: usual is {span}.", None, refused)


def _article(what: str) -> str:
    """“An” before a vowel that is spoken as one: an air temperature, but a UV index."""
    return "An" if what[0].lower() in "aeiou" and not what.startswith("UV") else "A"


def _meanings(entry: QuantityEntry, usual: tuple[float, float]) -> dict[str, float]:
    """What the number would be in other units, where that is usual: how to write it, and its value
    [inside unit].
    """
    found: dict[str, float] = {}
    for unit in _ALTERNATIVES.get(entry.kind, ()):
        typed = entry.typed_unit
        if typed and _unit_name(entry.kind, unit) == _unit_name(entry.kind, typed):
            continue
        value = convert(entry.typed_value, entry.kind, unit)
        if usual[0] <= value <= usual[1]:
            found[f"{entry.typed_value:g} {unit}"] = value

    return found


def _spelled(value: float, told: str, kind: Kind, units: Units) -> str:
    """A meaning as it would be written, beside the reader's unit where that differs."""
    shown = show(value, kind, units, digits=0 if kind is Kind.TEMPERATURE else None)
    return told if told == shown else f"{told} = {shown}"


PLAUSIBLE: dict[str, PlausibleRange] = {
    # common practice, no source: what turns up in real enclosures
    "surface": PlausibleRange((10, 65), (-10, 120)),
    "thermostat": PlausibleRange((10, 60), (5, 70)),
    "air": PlausibleRange((5, 50), (-10, 60)),
    "water": PlausibleRange((1, 40), (0, 60)),
    "room": PlausibleRange((5, 40), (-10, 50)),
    "outdoors": PlausibleRange((-5, 45), (-20, 50)),
    "humidity": PlausibleRange((5, 100), (0, 100)),
    "UV index": PlausibleRange((0, 12), (0, 30)),
    "enclosure length": PlausibleRange((0.2, 5.0), (0.1, 10.0)),
    "enclosure depth": PlausibleRange((0.2, 3.0), (0.1, 10.0)),
    "enclosure height": PlausibleRange((0.15, 3.0), (0.1, 5.0)),
    "substrate depth": PlausibleRange((0.0, 0.6), (0.0, 1.5)),
    "distance": PlausibleRange((0.0, 3.0), (0.0, 10.0)),
    "power": PlausibleRange((5, 400), (1, 2000)),
    "body length": PlausibleRange((0.02, 6.0), (LENGTH_MM[0] / 1000, LENGTH_MM[1] / 1000)),
}
