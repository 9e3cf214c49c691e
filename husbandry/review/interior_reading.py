"""What lies and stands in the enclosure: substrate, hides, branches, plants, water."""

import re

from husbandry.review.description_reading import Reading, Statement
from husbandry.review.numbers import Number
from husbandry.review.vocabulary import Mention

_EACH = re.compile(r"\b(?:each|either|both|every)\s+(?:side|end|corner)s?\b")
_MANY = re.compile(r"\b(?:several|plenty|lots|multiple|many|few)\b")


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
    known = list(reading.facts.get("substrate", ()))

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
        reading.facts["substrate"] = tuple(_without_loose(reading, statement, known))
    depth = _depth(statement, bool(names))

    if depth is not None and known:
        reading.facts.setdefault("substrate_m", depth.value)
        reading.mark(statement, "substrate", statement.take(depth))


def _without_loose(reading: Reading, statement: Statement, known: list[str]) -> list[str]:
    """“Shavings (aspen)” are aspen; “shavings” alone are taken for softwood."""
    said = reading.sentence_of(statement, "substrate")
    softwood = [one for one in said if one.value == "pine"]
    named = {one.value for one in said} & {"aspen", "hemp"}
    loose = softwood and named and "shavings" in statement.text + _before(reading, statement)

    return [name for name in known if name != "pine"] if loose else known


def _before(reading: Reading, statement: Statement) -> str:
    """The text of the clause before one."""
    at = reading.statements.index(statement)
    return reading.statements[at - 1].text if at else ""


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


_ONE_OF_THEM = re.compile(r"\b(?:1\s+of (?:them|which|these)|incl\w*)")
"""How a moist hide is told that is among those that were counted."""


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
                before = _before(reading, statement).rstrip()
                one_of_them = _ONE_OF_THEM.search(f"{before[-12:]} {statement.text}")
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
