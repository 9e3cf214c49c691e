"""Body condition: five scores by the form of a body, and how feeding follows them and the scale.

Method: docs/methods/condition.md.
"""

import datetime as dt
from collections.abc import Sequence
from typing import Annotated, Literal, NamedTuple

from pydantic import Field, TypeAdapter

from husbandry.derivation import Document, Source
from husbandry.json_text import data_text
from husbandry.species.parts import MealSpec
from husbandry.species.profile import Profile

Form = Literal["snake", "tail", "lizard", "shell", "frog", "salamander"]
SCORES = (1, 2, 3, 4, 5)
"""Five scores of body condition (common practice, no source)."""
RIGHT = 3
"""The score of an ideal body (common practice, no source)."""
SCORE_WORDS = {1: "emaciated", 2: "thin", 3: "ideal", 4: "overweight", 5: "obese"}
SCORE_FRESH_DAYS = 75
"""A score older than that says nothing any more: bodies are looked at monthly (common practice)
[days].
"""
LOOK_DAYS = 30
"""Between two looks at a body (common practice: monthly) [days]."""
PACE = {2: 1 / 1.15, 4: 1.25, 5: 1.5}
"""Interval between meals over the usual, by score (source: feeding C4: fat × 1.25,
thin a tenth to a fifth more) [1].
"""
LEAN_STRETCH = 1.25
"""The longest interval is the profile's long end times this: a lean keeper's (source: feeding C4)
[1].
"""
DAILY_DAYS = 2.0
"""Up to this interval the portion follows, not the interval: a plant eater is not starved for a day
(design choice) [days].
"""
PORTION_ENDS = (0.8, 1.2)
"""Least and most of a portion over the usual (source: feeding C4) [1]."""
TREND_STEP_PCT, TREND_FACTOR, TREND_STEPS = 5.0, 1.1, 2
"""A grown body that gains a twentieth in 90 days is fed a tenth less often, and the other way
round; two steps at most (design choice).
"""
TREND_DAYS, TREND_LEAST_DAYS = 90, 30
"""How far back the trend of the scale looks, and over how long at the least (source: feeding C6)
[days].
"""
CONDITION_SOURCE = Source(
    kind="common practice",
    text=(
        "five scores; fat: interval × 1.25; thin: a tenth to a fifth more, after a veterinarian"
        " looked"
    ),
)


class Condition(Document):
    """A score on a day."""

    score: Annotated[int, Field(ge=1, le=5)]
    on: dt.date


class Scale(NamedTuple):
    """How one form of body is scored."""

    where: str
    """Where to look."""
    scores: tuple[str, ...]
    """What is seen, from 1 to 5."""


class _Row(Document):
    where: str
    scores: Annotated[tuple[str, ...], Field(min_length=5, max_length=5)]


FORMS: dict[Form, Scale] = {
    form: Scale(row.where, row.scores)
    for form, row in (
        TypeAdapter(dict[Form, _Row])
        .validate_json(data_text("husbandry.feeding", "condition.json"))
        .items()
    )
}


def form_of(profile: Profile) -> Form:
    """The form of body by which a species is scored: ground geckos keep their fat in the tail."""
    if profile.group == "snake":
        return "snake"
    if profile.group in {"tortoise", "turtle"}:
        return "shell"
    if profile.group in {"frog", "toad"}:
        return "frog"
    if profile.group == "salamander":
        return "salamander"
    return (
        "tail" if profile.body.outline == "gecko" and profile.habit == "terrestrial" else "lizard"
    )


def trend_pct(weights: Sequence[tuple[dt.date, float]], today: dt.date) -> float | None:
    """Change of mass over the last 90 days, or as many of them as were weighed, at least 30 [%];
    None when too little was, or too long ago.

    Parameters
    ----------
    weights : sequence of (date, float)
        In any order [g].
    """
    known = sorted(weights)
    if not known or (today - known[-1][0]).days > SCORE_FRESH_DAYS:
        return None
    last_on, last = known[-1]
    window = [(on, grams) for on, grams in known if (last_on - on).days <= TREND_DAYS]
    first_on, first = window[0]
    if (last_on - first_on).days < TREND_LEAST_DAYS:
        return None
    return 100 * (last / first - 1)


class ConditionEffect(NamedTuple):
    """What condition makes of the pace of feeding."""

    interval: float
    """Over the usual [1]."""
    because: tuple[str, ...]


def pace_by_condition(
    condition: Condition | None, trend: float | None, *, grown: bool, today: dt.date
) -> ConditionEffect:
    """How far the interval moves for a score and for the scale, and why.

    Parameters
    ----------
    trend : float or None
        Change of mass in 90 days [%]; followed in grown bodies only, for the others are meant to
        gain.
    """
    factor = 1.0
    because = []
    fresh = condition is not None and 0 <= (today - condition.on).days <= SCORE_FRESH_DAYS
    if condition is not None and fresh:
        factor *= PACE.get(condition.score, 1.0)
        if condition.score != RIGHT:
            because.append(_said(condition))
    ill = condition is not None and fresh and condition.score == 1
    seen = (
        condition is not None and fresh and condition.score != RIGHT
    )  # the eye has decided: the scale would count the same fat twice
    if grown and trend is not None and not ill and not seen:
        steps = max(-TREND_STEPS, min(TREND_STEPS, int(trend / TREND_STEP_PCT)))
        if steps:
            factor *= TREND_FACTOR**steps
            change = f"{'gained' if steps > 0 else 'lost'} {abs(trend):.0f} % in three months"
            because.append(f"it {change}: fed {'less' if steps > 0 else 'more'} often")
    return ConditionEffect(factor, tuple(because))


def _said(condition: Condition) -> str:
    day = f"{condition.on:%-d %B}"
    return {
        1: (
            f"emaciated on {day}: a veterinarian today. It is not fattened by hand: much food after"
            " hunger can kill"
        ),
        2: f"thin on {day}: a veterinarian looks at it first, then it is fed a little more often",
        4: f"overweight on {day}: fed less often",
        5: (
            f"obese on {day}: fed clearly less often; a fat liver is an illness, so ask a"
            " veterinarian"
        ),
    }[condition.score]


def applied(factor: float, share: float, every_days: float, spec: MealSpec) -> tuple[float, float]:
    """Share of mass and interval [days] of a meal at a moved pace, inside its approach's limits.

    Notes
    -----
    Between the profile's short end and a lean keeper's long one; what the interval may not do, the
    portion does, within its own ends. What is eaten
    daily or nearly keeps its days: its portion follows alone.
    """
    if factor == 1.0:
        return share, every_days
    wanted = every_days * factor
    interval = (
        every_days
        if every_days <= DAILY_DAYS
        else min(LEAN_STRETCH * spec.every_days[1], max(spec.every_days[0], wanted))
    )
    low, high = PORTION_ENDS
    return share * min(high, max(low, interval / wanted)), interval
