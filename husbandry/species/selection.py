"""Which of a profile's values speak for an animal: those of its stage and of its keeper's approaches; and what the other approaches say."""

from collections.abc import Iterable, Mapping
from typing import TypeVar

from husbandry.species.needs import NEEDS, NeedKey
from husbandry.species.parts import NeedSpec
from husbandry.species.schools import QUESTIONS, School
from husbandry.species.values import Chosen
from husbandry.worked import Otherwise

HUMIDITIES = (NeedKey.HUMIDITY_DAY, NeedKey.HUMIDITY_NIGHT)
Value = TypeVar("Value", bound=Chosen)


def speaking(values: Iterable[Value], stage: str, schools: Mapping[str, str]) -> list[Value]:
    """The values of that stage that belong to no approach or to the chosen one."""
    return [value for value in values if value.at(stage) and _speaks(value, schools)]


def _speaks(value: Chosen, schools: Mapping[str, str]) -> bool:
    return not value.school or QUESTIONS[value.question].chosen(schools).slug == value.school


def others(values: Iterable[Value], stage: str, schools: Mapping[str, str]) -> list[tuple[School, Value]]:
    """The values of that stage that belong to approaches which were not chosen, with those approaches."""
    return [
        (QUESTIONS[value.question].schools[value.school], value)
        for value in values
        if value.at(stage) and value.school and not _speaks(value, schools)
    ]


CONSTANT_HALF_WIDTH = 5.0
"""Half width of the band that a humidistat holds around the middle of the day's and the night's (common practice) [%]."""


def at_one_value(needs: Iterable[NeedSpec]) -> tuple[float, float]:
    """The band of one constant humidity for a day and a night: the middle of both, give or take what a humidistat swings [%]."""
    ends = [(need.low, need.high if need.high is not None else 100.0) for need in needs if need.low is not None]
    middle = sum((low + high) / 2 for low, high in ends) / len(ends)
    return max(middle - CONSTANT_HALF_WIDTH, 0.0), min(middle + CONSTANT_HALF_WIDTH, 100.0)


def need_of(needs: Iterable[NeedSpec], key: NeedKey, stage: str, schools: Mapping[str, str]) -> NeedSpec | None:
    """The need of that quantity for an animal, as its keeper's approaches hold it; None when it has none."""
    needs = list(needs)
    found = next((need for need in speaking(needs, stage, schools) if need.need == key), None)
    if found is None or key not in HUMIDITIES or QUESTIONS["humidity-figure"].chosen(schools).slug != "constant":
        return found
    low, high = at_one_value(need for need in speaking(needs, stage, schools) if need.need in HUMIDITIES)
    limits = {
        "limit_low": min(found.limit_low, low) if found.limit_low is not None else None,
        "limit_high": max(found.limit_high, high) if found.limit_high is not None else None,
    }
    return found.model_copy(
        update={"low": low, "high": high, "question": "humidity-figure", "school": "constant", "note": "", **limits}
    )


def _range(need: NeedSpec, school: School, question: str) -> Otherwise:
    return Otherwise(
        question=question, school=school.name, why=school.why, low=need.low, high=need.high, unit=NEEDS[need.need].unit,
        text=need.note,
    )  # fmt: skip


def need_otherwise(
    needs: Iterable[NeedSpec], key: NeedKey, stage: str, schools: Mapping[str, str], *, constant: bool
) -> tuple[Otherwise, ...]:
    """What the other approaches say of a need.

    Parameters
    ----------
    constant : bool
        Whether one constant humidity is an approach for this species: not for amphibians.
    """
    mine = [need for need in needs if need.need == key]
    found = [_range(need, school, need.question) for school, need in others(mine, stage, schools)]
    dusk = QUESTIONS["uvb-dusk"]
    if any(need.question == dusk.slug for need in mine) and dusk.chosen(schools).slug != "none":
        none = dusk.schools["none"]
        found.append(
            Otherwise(question=dusk.slug, school=none.name, why=none.why, text="no ultraviolet; vitamin D3 with its food")
        )
    if constant and key in HUMIDITIES:
        figure = QUESTIONS["humidity-figure"]
        chosen = figure.chosen(schools)
        other = "wave" if chosen.slug == "constant" else "constant"
        theirs = need_of(needs, key, stage, {**schools, figure.slug: other})
        if theirs is not None:
            found.append(_range(theirs, figure.schools[other], figure.slug))
    return tuple(found)
