"""Heaters, lamps, thermostats and instruments, and the temperatures that are named."""

import re
from typing import Any

from husbandry.review.description import SaidHeat, SaidUv
from husbandry.review.description_reading import Reading, Statement
from husbandry.review.numbers import A_YEAR, Number, in_celsius
from husbandry.review.vocabulary import Mention

_FROM = re.compile(r"\s*(?:above|away|from|over|below|under|higher|distance|off|to the)\b")
_AT = re.compile(r"\b(?:at|hung|hangs|@)\s*(?:about|around|roughly|~)?\s*$")
_SET = re.compile(
    r"\b(?:set|sett?ing|dialled|dialed|controlled|held|holds?)\s+(?:to|at|for|on)?\s*(?:about\s+)?$"
)
_HOURS = re.compile(r"(?<![\w.])(\d{1,2})\s*(?:h|hrs?|hours?)\b")
_LIGHT = re.compile(r"\b(?:lights?|lamps?|bulbs?|uvb?|cycle|photoperiod|day ?time)\b")
POWER_MOST_W = 300.0
"""No single lamp or mat for such an enclosure has more (common practice) [W]."""
CLASS_PERCENT = {2.0: 2.0, 5.0: 6.0, 8.0: 8.0, 10.0: 12.0}
"""What the trade’s “5.0” and “10.0” stand for (common practice) [%]."""
BARE_C = (10.0, 140.0)
"""A bare number beside the name of a place is a temperature from here to here (design choice) [°].
"""
TUBES = frozenset({"uv", "t5", "t8"})
LIGHTING = frozenset(
    {"lamp", "halogen_flood", "halogen_spot", "incandescent_reflector", "coloured_lamp"}
)


def read_equipment(reading: Reading) -> None:
    """Thermostat and instruments first: their temperatures are no readings."""
    heat: list[dict[str, Any]] = []
    lamps: list[dict[str, Any]] = []

    for statement in reading.statements:
        if statement.clause.wished:
            continue
        _thermostat(reading, statement)
        _instruments(reading, statement)
        for name in statement.of("guard"):
            reading.facts["guarded"] = not statement.denied(name)
            reading.mark(statement, "heat", name)
        _ultraviolet(reading, statement, lamps)
        _heaters(reading, statement, heat)
        _hours(reading, statement)

    if any(_no_lamp(statement) for statement in reading.statements):
        if not heat:
            reading.facts.setdefault("heat", ())
        if not lamps:
            reading.facts.setdefault("uv", ())

    if len(heat) > 1:  # beside another heater a coloured lamp is the night's
        for one in heat:
            one["at_night"] = one["at_night"] or one["kind"] == "coloured_lamp"

    if heat:
        reading.facts["heat"] = tuple(SaidHeat.model_validate(one) for one in _merged_heat(heat))

    if lamps:
        if reading.facts.get("uv") == ():
            reading.contradict("uv", "It says that there is no UVB, and names a UVB lamp.")
        reading.facts["uv"] = tuple(SaidUv.model_validate(one) for one in lamps)


def _no_lamp(statement: Statement) -> bool:
    """Whether a clause says that there is no lamp at all; “no heat lamp” is one kind, “no light at
    night” one time.
    """
    others = statement.of("heat", "uv", "place", "light")
    lamps = [name for name in statement.of("bulb") if statement.denied(name)]
    return bool(lamps) and not others and not statement.clause.wished


def _thermostat(reading: Reading, statement: Statement) -> None:
    for name in statement.of("thermostat"):
        there = name.value == "yes" and not statement.denied(name)
        known = reading.facts.get("thermostat")
        if known is not None and known != there:
            reading.contradict(
                "thermostat", "One heater has a thermostat and another has none: which?"
            )
        reading.facts["thermostat"] = bool(known is not False and there)
        reading.mark(statement, "thermostat", name)
        number = _set_point(statement, name) if there else None
        if number is not None:
            value = (
                number.value
                if number.has_unit
                else in_celsius(number.value.low, number.value.high)
            )
            reading.facts["set_c"] = value.middle
            reading.mark(statement, "thermostat", statement.take(number))


def _set_point(statement: Statement, name: Mention) -> Number | None:
    """The temperature at which a thermostat is said to be set."""
    degrees = [n for n in statement.numbers if n.quantity == "temperature" or is_bare(n)]

    for number in degrees:
        if _SET.search(statement.text[: number.start]):
            return number

    if statement.of("place"):
        return None
    after = next((n for n in degrees if n.start >= name.end), None)

    return after or next((n for n in degrees if n.quantity == "temperature"), None)


def _instruments(reading: Reading, statement: Statement) -> None:
    found = list(reading.facts.get("instruments") or ())

    for name in statement.of("instruments"):
        reading.mark(statement, "instruments", name)
        if statement.denied(name):
            reading.facts.setdefault("instruments", ())
        elif name.value not in found:
            found.append(name.value)

    if found:
        reading.facts["instruments"] = tuple(found)


def _distance(reading: Reading, statement: Statement) -> float | None:
    """A length that is said to lie between the lamp and something."""
    for number in statement.numbers_of("length"):
        lamp = statement.of("heat", "uv", "bulb")
        at = lamp and _AT.search(statement.text[: number.start])
        if at or _FROM.match(statement.text[number.end :]):
            found = statement.take(number)
            reading.mark(
                statement, "uv" if reading.sentence_of(statement, "uv") else "heat", found
            )
            return found.value.middle
    return None


def _ultraviolet(reading: Reading, statement: Statement, lamps: list[dict[str, Any]]) -> None:
    names = statement.of("uv")

    if not names:
        _more_of_last(reading, statement, lamps)
        return
    there = []

    for name in names:
        reading.mark(statement, "uv", name)
        if statement.denied(name):
            if not lamps:
                reading.facts.setdefault("uv", ())
        else:
            there.append(name)

    if not there:
        return
    lamp = _lamp_for(there, lamps)
    share = statement.nearest(there[0], "share", "percent class")

    if share is not None and not statement.of("humid"):
        said = (
            share.value.high if share.quantity == "share" else CLASS_PERCENT.get(share.value.high)
        )
        lamp["percent"] = said
        reading.mark(statement, "uv", statement.take(share))
    distance = _distance(reading, statement)

    if distance is not None:
        lamp["distance_m"] = distance

    if not statement.of("heat"):
        power = statement.nearest(there[0], "power")
        if power is not None:
            lamp["power_w"] = power.value.middle
            reading.mark(statement, "uv", statement.take(power))
    length = statement.nearest(there[0], "length") if lamp["kind"] in TUBES else None

    if (
        length is not None
        and 0.1 <= length.value.middle <= 2
        and not statement.of("substrate", "enclosure")
    ):
        lamp["length_m"] = length.value.middle
        reading.mark(statement, "uv", statement.take(length))
    _age_of_last(reading, statement, lamps)


def _more_of_last(reading: Reading, statement: Statement, lamps: list[dict[str, Any]]) -> None:
    """“T5 12 %, 34 inches long, 12 inches above the branch, 8 months old”."""
    _age_of_last(reading, statement, lamps)
    last = reading.last_of(statement, "uv", "heat")
    speaks = last is not None and last.fact == "uv"

    if not lamps or not speaks or statement.of("heat", "substrate", "enclosure", "species"):
        return
    distance = _distance(reading, statement)

    if distance is not None:
        lamps[-1].setdefault("distance_m", distance)
        return
    length = statement.nearest(None, "length")

    if length is not None and 0.1 <= length.value.middle <= 2:
        lamps[-1].setdefault("length_m", length.value.middle)
        reading.mark(statement, "uv", statement.take(length))


def _lamp_for(there: list[Mention], lamps: list[dict[str, Any]]) -> dict[str, Any]:
    """The lamp that a clause speaks of: the one known already, told more exactly, or a new one."""
    kinds = [name.value for name in there if name.value != "uv"]
    kind = kinds[0] if kinds else "uv"

    for lamp in lamps:
        if lamp["kind"] == kind or "uv" in {lamp["kind"], kind}:
            lamp["kind"] = kind if lamp["kind"] == "uv" else lamp["kind"]
            return lamp

    lamps.append({"kind": kind})

    return lamps[-1]


def _age_of_last(reading: Reading, statement: Statement, lamps: list[dict[str, Any]]) -> None:
    speaks = reading.sentence_of(statement, "uv", "bulb") or re.match(
        r"\s*(?:it|which) is\b", statement.text
    )

    if not lamps or not speaks or statement.of("species"):
        return
    number = statement.nearest(None, "age")
    year = A_YEAR.search(statement.text)

    if number is not None:
        lamps[-1]["age_months"] = number.value.middle
        reading.mark(statement, "uv", statement.take(number))
    elif year is not None:
        lamps[-1]["age_months"] = 12.0 if year[1] == "year" else 1.0
        statement.use(year.start(), year.end())


def _heaters(reading: Reading, statement: Statement, heat: list[dict[str, Any]]) -> None:
    names = statement.of("heat")
    names = [*names, *_by_form(statement, names)]
    there = []

    for name in names:
        reading.mark(statement, "heat", name)
        if name.value == "none":
            reading.facts.setdefault("heat", ())
        elif not statement.denied(name):
            there.append(name)
        elif name.value in {"any", "lamp"} and not heat:
            reading.facts.setdefault("heat", ())

    named = [name for name in there if name.value != "any"]

    if not named and not statement.of("uv"):
        named = _by_power(reading, statement, there)

    for name in named:
        one: dict[str, Any] = {
            "kind": name.value if name.fact == "heat" and name.value != "any" else "lamp"
        }
        if name.value == "any" and not statement.of("bulb"):
            one["kind"] = "water_heater" if _in_water(reading, statement) else "ceramic_emitter"
        power = statement.nearest(name, "power")
        if power is not None:
            reading.mark(statement, "heat", statement.take(power))
            one |= _power(reading, power)
        for piece in (name, power):
            if piece is not None and "count" not in one:
                _how_many(reading, statement, piece, one)
        distance = _distance(reading, statement)
        if distance is not None and distance <= 3:
            one["distance_m"] = distance
        night = [place for place in statement.of("place") if place.value == "night"]
        one["at_night"] = bool(night)
        heat.append(one)

    _later_distance(reading, statement, heat)


_FORM = re.compile(r"\d\s*w(?:atts?)?\s+(?:heat\s+)?(?P<form>spot|flood|panel)s?\b")
_FORMS = {"spot": "lamp", "flood": "halogen_flood", "panel": "infrared_panel"}


def _by_form(statement: Statement, names: list[Mention]) -> list[Mention]:
    """“100 W spot”, “2 x 60 W panels”: a form beside a power is a heater."""
    found = _FORM.search(statement.text)

    if found is None or any(name.value != "any" for name in names):
        return []
    return [Mention(found.start("form"), found.end("form"), "heat", _FORMS[found["form"]])]


def _in_water(reading: Reading, statement: Statement) -> bool:
    """Whether a heater without another word is one for water: for what lives in it, or by its clause."""
    profile = reading.profile
    if profile is not None and profile.habit in {"aquatic", "semi-aquatic"}:
        return True
    places = [place for place in statement.of("place") if place.value == "water"]
    return bool(places or statement.of("water"))


def _by_power(reading: Reading, statement: Statement, there: list[Mention]) -> list[Mention]:
    """A power with “bulb”, “basking” or “heater” beside it is a heat lamp."""
    words = [
        *there,
        *statement.of("bulb"),
        *(p for p in statement.of("place") if p.value == "basking"),
    ]

    if not words or not any(number.quantity == "power" for number in statement.numbers):
        return []

    if words[0].fact != "place":
        reading.mark(statement, "heat", words[0])

    return words[:1]


def _later_distance(reading: Reading, statement: Statement, heat: list[dict[str, Any]]) -> None:
    """“..., about 10 inches above the branch” belongs to the lamp before it."""
    last = reading.last_of(statement, "uv", "heat", "bulb")
    of_uv = last is not None and last.fact == "uv"

    if (
        heat
        and not of_uv
        and "distance_m" not in heat[-1]
        and not statement.of("uv", "substrate", "enclosure")
    ):
        distance = _distance(reading, statement)
        if distance is not None and distance <= 3:
            heat[-1]["distance_m"] = distance


def _power(reading: Reading, power: Number) -> dict[str, Any]:
    watts = power.value.middle

    if watts > POWER_MOST_W:
        reading.contradict(
            "heat", f"{watts:g} W is more than any single lamp for an enclosure has."
        )
        return {}
    return {"power_w": watts}


def _how_many(
    reading: Reading, statement: Statement, piece: Number | Mention, one: dict[str, Any]
) -> None:
    """“two 75 W bulbs”, “2 x 50 W”."""
    for number in statement.numbers:
        between = statement.text[number.end : piece.start]
        if (
            number.quantity == "bare"
            and number.end <= piece.start
            and re.fullmatch(r"\s*(?:x|\*)?\s*", between)
        ):
            if 1 <= number.value.low <= 8:
                one["count"] = int(number.value.low)
                reading.mark(statement, "heat", statement.take(number))
            return


def _merged_heat(heat: list[dict[str, Any]]) -> list[dict[str, Any]]:
    """The same heater named twice is one; what was said of it later is added."""
    found: list[dict[str, Any]] = []

    for one in heat:
        known = next((old for old in found if _same(old, one)), None)
        if known is None:
            found.append(one)
        else:
            known["kind"] = one["kind"] if known["kind"] == "lamp" else known["kind"]
            known |= {key: value for key, value in one.items() if key not in known}
            known["at_night"] = known["at_night"] or one["at_night"]

    return found


def _same(old: dict[str, Any], one: dict[str, Any]) -> bool:
    powers = {heater.get("power_w") for heater in (old, one)} - {None}
    alike = old["kind"] == one["kind"] or "lamp" in {old["kind"], one["kind"]} <= LIGHTING - {
        "coloured_lamp"
    }

    return alike and len(powers) < 2


def _hours(reading: Reading, statement: Statement) -> None:
    lit = statement.of("heat", "uv", "bulb") or _LIGHT.search(statement.text)
    dark = any(name.value not in LIGHTING for name in statement.of("heat"))

    for name in statement.of("light"):
        if lit and not dark and not statement.denied(name):
            reading.facts["light_hours"] = 24.0
            reading.mark(statement, "light", name)

    found = _HOURS.search(statement.text)

    if found is not None and lit and not dark and 1 <= int(found[1]) <= 24:
        reading.facts.setdefault("light_hours", float(found[1]))
        statement.use(found.start(), found.end())


def is_bare(number: Number) -> bool:
    """Whether a number without a unit may be a temperature."""
    return (
        number.quantity == "bare"
        and BARE_C[0] <= number.value.low <= number.value.high <= BARE_C[1]
    )
