"""Food, supplements, misting, and what is dangerous by itself."""

from dataclasses import replace
from typing import Any

from husbandry.review.description import SaidFood, SaidRange, SaidSupplement
from husbandry.review.description_reading import Reading, Statement
from husbandry.review.vocabulary import Mention, filling

INSECTS = frozenset({"cricket", "locust", "roach", "mealworm", "superworm", "waxworm", "silkworm"})
FED = ("feed", "fed", "eats", "offer", "meal")


def read_care(reading: Reading) -> None:
    """Fill in food, supplements, moisture and dangers."""
    foods: dict[str, SaidRange | None] = {}
    supplements: dict[str, dict[str, Any]] = {}

    for statement in reading.statements:
        _dangers(reading, statement)
        if statement.clause.wished:
            continue
        _moisture(reading, statement)
        _supplements(reading, statement, supplements)
        _food(reading, statement, foods)

    if foods:
        reading.facts["food"] = tuple(
            SaidFood(name=name, size=reading.food_sizes.get(name, ""), every_days=pace)
            for name, pace in foods.items()
        )

    if supplements:
        reading.facts["supplements"] = tuple(
            SaidSupplement.model_validate(one) for one in supplements.values()
        )


def _dangers(reading: Reading, statement: Statement) -> None:
    found = list(reading.facts.get("dangers", ()))

    for name in statement.of("danger"):
        if not statement.clause.wished and not statement.denied(name) and name.value not in found:
            found.append(name.value)
            reading.mark(statement, "danger", name)

    reading.facts["dangers"] = tuple(found)


def _moisture(reading: Reading, statement: Statement) -> None:
    for name in statement.of("moisture"):
        reading.mark(statement, "moisture", name)
        absent = statement.denied(name)
        if name.value == "dripper":
            continue
        if name.value == "fogger":
            reading.facts["fogger"] = not absent
            continue
        if absent:
            reading.facts["mistings_per_day"] = 0.0
            continue
        pace = statement.pace(name)
        if pace is not None:
            reading.facts["mistings_per_day"] = round(1 / pace.value.middle, 3)
            reading.mark(statement, "moisture", statement.take(pace))


def _supplements(reading: Reading, statement: Statement, found: dict[str, dict[str, Any]]) -> None:
    names = statement.of("supplements")

    for name in names:
        reading.mark(statement, "supplements", name)
        if statement.denied(name):
            if not found:
                reading.facts.setdefault("supplements", ())
            continue
        if name.value != "any":
            found.setdefault(name.value, {"product": name.value})

    meals = statement.of("dust")
    there = [name for name in names if name.value != "any" and not statement.denied(name)]

    for name in there:
        pace = statement.pace(name)
        if meals:
            found[name.value]["every_meal"] = True
            reading.mark(statement, "supplements", *meals)
        elif pace is not None and (
            not statement.of("food") or len(statement.paces) > 1 or pace.start > name.end
        ):
            if "other feed" not in statement.text[pace.start : pace.end]:  # that is no day
                found[name.value]["every_days"] = pace.value
            reading.mark(statement, "supplements", statement.take(pace))

    if meals and found and not there:
        last = list(found.values())[-1]
        last.setdefault("every_meal", True)
        reading.mark(statement, "supplements", *meals)
    elif (
        found and not there and not statement.of("food", "moisture") and statement.paces and names
    ):
        last = list(found.values())[-1]
        last.setdefault("every_days", statement.take(statement.paces[0]).value)


def _food(reading: Reading, statement: Statement, foods: dict[str, SaidRange | None]) -> None:
    there = []

    for name in statement.of("food"):
        reading.mark(statement, "food", name)
        if not statement.denied(name):
            there.append(_as_eaten(reading, statement, name))

    for name in there:
        pace = statement.pace(name)
        if foods.get(name.value) is None:
            foods[name.value] = pace.value if pace is not None else None
        for number in [n for n in statement.numbers if 0 <= name.start - n.end <= 10]:
            reading.mark(statement, "food", statement.take(number))

    if there:
        for pace in list(statement.paces):
            reading.mark(statement, "food", statement.take(pace))
            _shared(reading, statement, foods, pace.value)
        return
    speaks = any(word in statement.text for word in FED)

    if not statement.paces or statement.of("moisture", "supplements", "uv", "heat"):
        return

    if speaks or (foods and _follows(reading, statement)):
        pace = statement.take(statement.paces[0])
        reading.facts.setdefault("feeding_days", pace.value)
        reading.mark(statement, "food", pace)


def _as_eaten(reading: Reading, statement: Statement, name: Mention) -> Mention:
    """“Hoppers” are young mice for what eats mice, and locusts for all else."""
    if not statement.text[name.start : name.end].startswith("hopper"):
        return name

    if reading.profile is None or "prey" in reading.profile.foods:
        return name

    return replace(name, value="locust")


def _shared(
    reading: Reading, statement: Statement, foods: dict[str, SaidRange | None], pace: SaidRange
) -> None:
    """“Crickets, locusts and roaches every other day”: insects before it have the pace of the last."""
    if not any(name.value in INSECTS for name in statement.of("food")):
        return
    for name in reading.sentence_of(statement, "food"):
        if name.value in INSECTS and name.value in foods and foods[name.value] is None:
            foods[name.value] = pace


def _follows(reading: Reading, statement: Statement) -> bool:
    """Whether a clause says nothing but how often, in a sentence that spoke of food before."""
    pace = statement.paces[0]
    words = f"{statement.text[: pace.start]} {statement.text[pace.end :]}".split()
    if any(word.strip(".,") not in filling("clause") for word in words if word.isalpha()):
        return False

    return bool(reading.sentence_of(statement, "food"))
