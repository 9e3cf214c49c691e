"""What a colony of feeders can give and still last: from two counts and what was taken between.

Method: docs/methods/supplies.md.
"""

import math

from husbandry.derivation import Derivation, Source, named_value
from husbandry.errors import NoSolutionError
from husbandry.methods import Argument, Example, method

COUNTS_APART_DAYS = 14
"""Between two counts, or nothing is known of its growth (source: feeding C8: count
two weeks first) [days].
"""
KEEP_SHARE = 0.5
"""Of the colony that stays as breeders (source: feeding C8) [1]."""
COLONY_SOURCE = Source(
    kind="common practice",
    text=(
        "a population gives most at half of what its enclosure holds: growth × capacity / 4"
        " (logistic growth; note, C8)"
    ),
)


@method(
    arguments={
        "before": Argument("1", 1, 1_000_000),
        "now": Argument("1", 0, 1_000_000),
        "taken": Argument("1", 0, 1_000_000),
        "days": Argument("days", COUNTS_APART_DAYS, 400),
    },
    unit="1/week",
    rule=(
        "Growth r = ln((now + taken) / before) / days. Half of the colony stays as breeders; of it"
        " r × half is taken, week by week."
    ),
    source=COLONY_SOURCE,
    example=Example(
        {"before": 200, "now": 300, "taken": 100, "days": 28},
        26.0,
        0.01,
        "by hand: ln 2 / 28 a day, times 150, times 7",
    ),
    validity="Of a colony that has room; a full one grows no more, whatever is calculated.",
)
def colony_harvest(before: float, now: float, taken: float, days: float) -> float:
    """Animals that can be taken each week while the colony stays [1/week].

    Raises
    ------
    NoSolutionError
        It does not grow.
    """
    growth = math.log((now + taken) / before) / days if now + taken > 0 else -math.inf
    if growth <= 0:
        raise NoSolutionError(
            "It does not grow: nothing can be taken. More warmth, food or egg boxes first."
        )
    return growth * KEEP_SHARE * now * 7


def harvest_derivation(before: float, now: float, taken: float, days: float) -> Derivation:
    """The same with its derivation. Raises as `colony_harvest`."""
    return Derivation(
        value=colony_harvest(before, now, taken, days),
        unit="1/week",
        rule=(
            "Growth between two counts, with what was taken; half of the colony stays as breeders,"
            " and of it its growth is taken week by week."
        ),
        inputs=(
            named_value("counted before", before, ""),
            named_value("counted now", now, ""),
            named_value("taken between", taken, ""),
            named_value("days between", days, "days"),
        ),
        sources=(COLONY_SOURCE,),
        would_change="Another count, two weeks on.",
    )
