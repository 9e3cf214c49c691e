"""Which of a profile's values speak for an animal: those of its stage and of its keeper's
approaches; and what the other approaches say.
"""

from collections.abc import Iterable, Mapping
from typing import TypeVar

from husbandry.derivation import OtherApproach
from husbandry.species.approaches import QUESTIONS, Approach
from husbandry.species.needs import NEEDS, NeedKey
from husbandry.species.parts import NeedSpec
from husbandry.species.values import StageChoice

HUMIDITIES = (NeedKey.HUMIDITY_DAY, NeedKey.HUMIDITY_NIGHT)
Value = TypeVar("Value", bound=StageChoice)


def speaking(values: Iterable[Value], stage: str, approaches: Mapping[str, str]) -> list[Value]:
    """The values of that stage that belong to no approach or to the chosen one."""
    return [value for value in values if value.at(stage) and _speaks(value, approaches)]


def _speaks(value: StageChoice, approaches: Mapping[str, str]) -> bool:
    return (
        not value.approach or QUESTIONS[value.question].chosen(approaches).slug == value.approach
    )


def others(
    values: Iterable[Value], stage: str, approaches: Mapping[str, str]
) -> list[tuple[Approach, Value]]:
    """The values of that stage that belong to approaches which were not chosen, with those
    approaches.
    """
    return [
        (QUESTIONS[value.question].approaches[value.approach], value)
        for value in values
        if value.at(stage) and value.approach and not _speaks(value, approaches)
    ]


CONSTANT_HALF_WIDTH = 5.0
"""Half width of the target range that a humidistat holds around the middle of the day's and the
night's (common practice) [%].
"""


def at_one_value(needs: Iterable[NeedSpec]) -> tuple[float, float]:
    """The target range of one constant humidity for a day and a night: the middle of both, give or
    take what a humidistat swings [%].
    """
    ends = [
        (need.low, need.high if need.high is not None else 100.0)
        for need in needs
        if need.low is not None
    ]
    middle = sum((low + high) / 2 for low, high in ends) / len(ends)
    return max(middle - CONSTANT_HALF_WIDTH, 0.0), min(middle + CONSTANT_HALF_WIDTH, 100.0)


def need_of(
    needs: Iterable[NeedSpec], key: NeedKey, stage: str, approaches: Mapping[str, str]
) -> NeedSpec | None:
    """The need of that quantity for an animal, as its keeper's approaches hold it; None when it has
    none.
    """
    needs = list(needs)
    found = next((need for need in speaking(needs, stage, approaches) if need.need == key), None)
    if (
        found is None
        or key not in HUMIDITIES
        or QUESTIONS["humidity-figure"].chosen(approaches).slug != "constant"
    ):
        return found
    low, high = at_one_value(
        need for need in speaking(needs, stage, approaches) if need.need in HUMIDITIES
    )
    limits = {
        "limit_low": min(found.limit_low, low) if found.limit_low is not None else None,
        "limit_high": max(found.limit_high, high) if found.limit_high is not None else None,
    }
    return found.model_copy(
        update={
            "low": low,
            "high": high,
            "question": "humidity-figure",
            "approach": "constant",
            "note": "",
            **limits,
        }
    )


def _range(need: NeedSpec, approach: Approach, question: str) -> OtherApproach:
    return OtherApproach(
        question=question,
        approach=approach.name,
        why=approach.why,
        low=need.low,
        high=need.high,
        unit=NEEDS[need.need].unit,
        text=need.note,
    )


def need_otherwise(
    needs: Iterable[NeedSpec],
    key: NeedKey,
    stage: str,
    approaches: Mapping[str, str],
    *,
    constant: bool,
) -> tuple[OtherApproach, ...]:
    """What the other approaches say of a need.

    Parameters
    ----------
    constant : bool
        Whether one constant humidity is an approach for this species: not for amphibians.
    """
    mine = [need for need in needs if need.need == key]
    found = [
        _range(need, approach, need.question) for approach, need in others(mine, stage, approaches)
    ]
    dusk = QUESTIONS["uvb-dusk"]
    if any(need.question == dusk.slug for need in mine) and dusk.chosen(approaches).slug != "none":
        none = dusk.approaches["none"]
        found.append(
            OtherApproach(
                question=dusk.slug,
                approach=none.name,
                why=none.why,
                text="no ultraviolet; vitamin D3 with its food",
            )
        )
    if constant and key in HUMIDITIES:
        figure = QUESTIONS["humidity-figure"]
        chosen = figure.chosen(approaches)
        other = "wave" if chosen.slug == "constant" else "constant"
        theirs = need_of(needs, key, stage, {**approaches, figure.slug: other})
        if theirs is not None:
            found.append(_range(theirs, figure.approaches[other], figure.slug))
    return tuple(found)
