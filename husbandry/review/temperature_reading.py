"""Temperatures and humidity, each with the place that is named beside it."""

import re

from husbandry.review.description import SaidRange, SaidTemperature
from husbandry.review.description_reading import Reading, Statement
from husbandry.review.equipment_reading import LIGHTING, is_bare
from husbandry.review.numbers import Number, in_celsius
from husbandry.review.vocabulary import Mention

_SEASON = re.compile(r"\b(?:summers?|winters?|heat ?waves?)\b")
"""A room in one season is no usual room; what an animal bears in one counts all the same."""
HUMID_LEAST_PCT = 5.0
"""Less is no relative humidity of a room (common practice) [%]."""


def read_temperatures(reading: Reading) -> None:
    """Fill in temperatures and humidity."""
    found: dict[str, SaidTemperature] = {}

    for statement in reading.statements:
        if statement.clause.wished:
            continue
        _humidity(reading, statement)
        for name, number in _pairs(reading, statement) or _alone(reading, statement):
            value = (
                number.value
                if number.has_unit
                else in_celsius(number.value.low, number.value.high)
            )
            place = _place(reading, name, statement)
            if place == "room" and _SEASON.search(statement.text):
                continue
            if not -5 <= value.low <= value.high <= 75:
                reading.contradict(
                    "temperatures", f"{value.low:.0f} °C is no temperature of an enclosure."
                )
                continue
            reading.mark(statement, "temperatures", name, statement.take(number))
            found.setdefault(place, SaidTemperature(place=place, value_c=value))

    if found:
        reading.facts["temperatures"] = tuple(found.values())


def _place(reading: Reading, name: Mention, statement: Statement) -> str:
    if name.fact in {"heat", "basking place"}:
        return "basking"

    if name.fact in {"enclosure", "cage", "species"}:
        return "water" if _is_aquatic(reading) else "air"

    if name.fact == "water":
        return "water"

    if name.value == "air" and _is_aquatic(reading):
        return "water"

    if name.value == "room" and any(p.value == "night" for p in statement.of("place")):
        return "room night"

    return name.value


def _pairs(reading: Reading, statement: Statement) -> list[tuple[Mention, Number]]:
    """Each temperature with the place that it is of: all after their places, or all before."""
    named = any(number.quantity == "temperature" for number in statement.numbers)
    values = [
        n for n in statement.numbers if n.quantity == "temperature" or (not named and is_bare(n))
    ]
    places = _places(reading, statement, named=named, several=len(values))

    if named and len(places) > len(values):  # “85 F warm, 75 cool”: the unit was said once
        bare = [n for n in statement.numbers if is_bare(n)]
        values = sorted([*values, *bare[: len(places) - len(values)]], key=lambda n: n.start)

    if not places or (statement.of("humid") and not named):
        return []
    tokens: list[Mention | Number] = [*places, *values]
    tokens.sort(key=lambda one: one.start)
    backwards = bool(tokens) and isinstance(tokens[0], Number)
    found = []
    waiting: Mention | None = None

    for token in reversed(tokens) if backwards else tokens:
        if isinstance(token, Mention):
            keeps = waiting is not None and waiting.value != "night" and token.value == "night"
            waiting = waiting if keeps else token
        elif waiting is not None:
            found.append((waiting, token))
            waiting = None

    return found


def _places(reading: Reading, statement: Statement, *, named: bool, several: int) -> list[Mention]:
    """What the temperatures of a clause may be of: the plainest first, all of them where there are as
    many as `several`.
    """
    hides = [name for name in statement.of("hides") if name.value in {"warm", "cool"}]
    places = [*statement.of("place", "basking place"), *hides]
    exact = [place for place in places if place.value != "air"]

    if len(places) == several > 1:
        return sorted(places, key=lambda place: place.start)

    if exact or places or not named:
        return exact or places
    waters = [
        name for name in statement.of("water") if statement.text[name.start : name.end] == "water"
    ]
    bare = reading.facts.get("thermostat") is not True  # else it is what the thermostat holds
    lamps = [
        name
        for name in statement.of("heat")
        if name.value in LIGHTING or (bare and name.value == "heat_mat")
    ]

    return waters or lamps or statement.of("enclosure", "cage", "species")[:1]


def _alone(reading: Reading, statement: Statement) -> list[tuple[Mention, Number]]:
    """A temperature that stands alone is of what the clause before it named; else of the water of
    what lives in water.
    """
    degrees = statement.numbers_of("temperature")

    if statement.names or not degrees:
        return []

    if _is_aquatic(reading):
        return [(Mention(0, 0, "place", "water"), degrees[0])]
    last = reading.last_of(statement, "place", "basking place", "heat", "thermostat")

    if last is None:
        return [(Mention(0, 0, "place", "air"), degrees[0])]

    if last.fact == "thermostat" or (last.fact == "heat" and last.value not in LIGHTING):
        return []

    return [(last, degrees[0])]


def _is_aquatic(reading: Reading) -> bool:
    """Whether it lives in water: what is warm or cold around it is water."""
    return reading.profile is not None and reading.profile.habit == "aquatic"


def _humidity(reading: Reading, statement: Statement) -> None:
    names = statement.of("humid")

    if not names:
        return
    number = statement.nearest(names[0], "share") or statement.nearest(names[0], "bare")
    reading.mark(statement, "humidity", names[0])

    if number is not None and HUMID_LEAST_PCT <= number.value.high <= 100:
        reading.facts.setdefault(
            "humidity_pct", SaidRange(low=number.value.low, high=number.value.high)
        )
        reading.mark(statement, "humidity", statement.take(number))
