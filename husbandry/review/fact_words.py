"""Facts as short words that can be edited, and read back by the same rules that read a text."""

from collections.abc import Callable
from typing import Any

from husbandry.errors import EntryError
from husbandry.quantity import METRIC, Kind, Units, show
from husbandry.review.describe import described
from husbandry.review.description import (
    Description,
    SaidFood,
    SaidHeat,
    SaidRange,
    SaidSupplement,
    SaidTemperature,
    SaidUv,
    TemperaturePlace,
)

NONE = "none"
"""What is written for something that is said not to be there."""
HEAT_WORDS = {
    "lamp": "basking lamp",
    "halogen_flood": "halogen flood",
    "halogen_spot": "halogen spot",
    "incandescent_reflector": "incandescent bulb",
    "infrared_projector": "infrared projector",
    "ceramic_emitter": "ceramic emitter",
    "infrared_panel": "infrared panel",
    "heat_mat": "heat mat",
    "tube_heater": "tube heater",
    "hot_rock": "heat rock",
    "coloured_lamp": "red bulb",
    "water_heater": "aquarium heater",
}
UV_WORDS = {
    "uv": "UVB lamp",
    "t5": "T5 tube",
    "t8": "T8 tube",
    "compact": "compact UVB lamp",
    "uv_flood": "mercury vapour bulb",
}
SUBSTRATE_WORDS = {"pellets": "wood pellets", "hemp": "hemp bedding", "litter": "cat litter"}
FOOD_WORDS = {
    "paste": "complete gecko diet",
    "fruit fly": "fruit flies",
    "fly": "flies",
    "soldier fly larva": "soldier fly larvae",
    "pellets": "reptile pellets",
}
"""What is written instead of a name that would be read as something else."""
DAY_WORDS = {1.0: "every day", 2.0: "every other day", 3.5: "twice a week", 7.0: "once a week"}
PLACES: tuple[TemperaturePlace, ...] = (
    "basking",
    "warm",
    "cool",
    "night",
    "water",
    "room",
    "room night",
    "air",
)
PLACE_PREFIX: dict[TemperaturePlace, str] = {
    "basking": "basking",
    "warm": "warm side",
    "cool": "cool side",
    "night": "night",
    "water": "water temperature",
    "room": "room temperature",
    "room night": "room at night",
    "air": "ambient",
}


def in_words(said: Description, units: Units = METRIC) -> dict[str, str]:
    """Every fact that is written as words, by its name; empty where it was not said."""
    found = {
        "size": _size(said, units),
        "heat": _several(said.heat, lambda one: _heat(one, units)),
        "uv": _several(said.uv, lambda one: _uv(one, units)),
        "substrate": _several(said.substrate, lambda name: SUBSTRATE_WORDS.get(name, name)),
        "substrate_depth": _range(said.substrate_m, Kind.LENGTH, units),
        "humidity": _range(said.humidity_pct, Kind.HUMIDITY, units),
        "food": _several(said.food, _food),
        "supplements": _several(said.supplements, _supplement),
    }

    for place in PLACES:
        found[f"temperature_{place}"] = _range(said.temperature(place), Kind.TEMPERATURE, units)

    return found


def _none(value: tuple[Any, ...] | None) -> str:
    return "" if value is None else NONE


def _several(value: tuple[Any, ...] | None, words: Callable[[Any], str]) -> str:
    return "; ".join(words(one) for one in value) if value else _none(value)


def _range(value: SaidRange | None, kind: Kind, units: Units) -> str:
    if value is None:
        return ""
    low, high = (show(end, kind, units, digits=_digits(kind)) for end in (value.low, value.high))

    return low if low == high else f"{low.rpartition(' ')[0]} to {high}"


def _digits(kind: Kind) -> int | None:
    return 0 if kind in {Kind.TEMPERATURE, Kind.HUMIDITY} else None


def _size(said: Description, units: Units) -> str:
    if said.sides_m is not None:
        sides = [show(side, Kind.LENGTH, units) for side in said.sides_m if side is not None]
        return " × ".join(sides)
    return show(said.volume_l, Kind.VOLUME, units) if said.volume_l is not None else ""


def _heat(one: SaidHeat, units: Units) -> str:
    count = f"{one.count} x " if one.count > 1 else ""
    power = f"{one.power_w:g} W " if one.power_w is not None else ""
    night = " at night" if one.at_night and one.kind != "coloured_lamp" else ""

    return f"{count}{power}{HEAT_WORDS[one.kind]}{night}{_above(one.distance_m, units)}"


def _above(distance_m: float | None, units: Units) -> str:
    return "" if distance_m is None else f", {show(distance_m, Kind.LENGTH, units)} above"


def _uv(one: SaidUv, units: Units) -> str:
    percent = f" {one.percent:g} %" if one.percent is not None else ""
    length = f", {show(one.length_m, Kind.LENGTH, units)} long" if one.length_m else ""
    age = f", {one.age_months:g} months old" if one.age_months is not None else ""
    power = f"{one.power_w:g} W " if one.power_w is not None else ""

    return f"{power}{UV_WORDS[one.kind]}{percent}{length}{_above(one.distance_m, units)}{age}"


def pace_words(days: SaidRange | None) -> str:
    """How often, in words: “every 2 to 3 days”."""
    if days is None:
        return ""

    if days.low == days.high:
        return DAY_WORDS.get(days.low, f"every {days.low:.3g} days")
    return f"every {days.low:.3g} to {days.high:.3g} days"


def _food(one: SaidFood) -> str:
    size = f"{one.size} " if one.size else ""
    return f"{size}{FOOD_WORDS.get(one.name, one.name)} {pace_words(one.every_days)}".strip()


def _supplement(one: SaidSupplement) -> str:
    often = "every feeding" if one.every_meal else pace_words(one.every_days)
    return f"{one.product.replace(' + ', ' with ')} {often}".strip()


def with_words(said: Description, words: dict[str, str]) -> Description:
    """A description with facts as somebody wrote them; each is read by itself.

    Parameters
    ----------
    words : dict
        By the names of `in_words`; an empty one was not said, “none” is not there.

    Raises
    ------
    EntryError
        With the name of the fact in front of its sentence, for words that nothing is read of.
    """
    changes: dict[str, Any] = {}

    for name, text in words.items():
        if name.startswith("temperature_"):
            continue
        changes |= _read(said, name, " ".join(text.split()))

    if any(name.startswith("temperature_") for name in words):
        changes["temperatures"] = _temperatures(words)

    return Description.model_validate({**said.model_dump(), **changes})


FIELDS: dict[str, tuple[str, tuple[str, ...]]] = {
    "size": ("glass enclosure ", ("sides_m", "volume_l")),
    "heat": ("", ("heat",)),
    "uv": ("", ("uv",)),
    "substrate": ("substrate is ", ("substrate",)),
    "substrate_depth": ("soil ", ("substrate_m",)),
    "humidity": ("humidity ", ("humidity_pct",)),
    "food": ("fed ", ("food",)),
    "supplements": ("", ("supplements",)),
}
"""What is read before the words of a fact, and which facts come of them."""


def _read(said: Description, name: str, text: str) -> dict[str, Any]:
    prefix, fields = FIELDS[name]

    if name == "size" and said.enclosure not in {None, "glass", "tank of water"}:
        prefix = "tub "  # no tank of the trade

    if not text:
        return dict.fromkeys(fields)

    if text.lower() == NONE:
        return dict.fromkeys(fields, ())
    found = described(f"{prefix}{text}").model_dump()
    changes = {field: found[field] for field in fields}

    if all(value is None for value in changes.values()):
        raise EntryError(f"{name}: Nothing was understood of “{text[:60]}”.")

    return changes


def _temperatures(words: dict[str, str]) -> list[SaidTemperature]:
    found = []

    for place in PLACES:
        text = " ".join(words.get(f"temperature_{place}", "").split())
        if not text:
            continue
        value = described(f"{PLACE_PREFIX[place]} {text}").temperature(place)
        if value is None:
            raise EntryError(
                f"temperature_{place}: “{text[:40]}” is no temperature, such as 32 °C."
            )
        found.append(SaidTemperature(place=place, value_c=value))

    return found
