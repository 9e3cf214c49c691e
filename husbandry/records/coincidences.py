"""What changed before something changed: refusals, a loss of weight, and what was new in the weeks
before. A coincidence is offered, never a diagnosis.

Common practice, no source: look first at what was new.
"""

import datetime as dt
from collections.abc import Sequence
from dataclasses import dataclass

LOOK_BACK_DAYS = 21
"""So long before it something may have begun (design choice) [days]."""
MOST_CHANGES = 4
"""Of the nearest, beside one sign (design choice)."""
REFUSALS = 2
"""Refusals in a row that are a sign: one alone is none (common practice)."""
LOSS_SHARE, LOSS_DAYS = 0.05, 90
"""Loss of weight that is a sign, and within how long (common practice: 5 to 10 %) [1, days]."""


@dataclass(frozen=True)
class DatedChange:
    """Something that was new on a day."""

    on: dt.date
    words: str


@dataclass(frozen=True)
class AnimalSign:
    """Something about the animal that changed."""

    kind: str
    """refusals, weight, or unwell."""
    on: dt.date
    words: str


@dataclass(frozen=True)
class Coincidence:
    """A sign with what was new before it, the nearest first."""

    sign: AnimalSign
    changes: tuple[DatedChange, ...]


def refusal_signs(meals: Sequence[tuple[dt.date, bool]]) -> list[AnimalSign]:
    """Runs of refused meals.

    Parameters
    ----------
    meals : sequence of (date, bool)
        Meals that were offered in order, and whether each was eaten.
    """
    found = []
    run: list[dt.date] = []

    for on, is_eaten in [*meals, (dt.date.max, True)]:
        if not is_eaten:
            run.append(on)
            continue
        if len(run) >= REFUSALS:
            found.append(AnimalSign("refusals", run[0], f"{len(run)} meals refused in a row"))
        run = []

    return found


def loss_signs(weights: Sequence[tuple[dt.date, float]]) -> list[AnimalSign]:
    """A weight that lies a good part below the heaviest of the months before it.

    Parameters
    ----------
    weights : sequence of (date, float)
        In order of their days [g].
    """
    if not weights:
        return []
    on, last = weights[-1]
    near = [one for one in weights if (on - one[0]).days <= LOSS_DAYS]
    top_on, top = max(near, key=lambda one: (one[1], one[0]))
    loss = 1 - last / top
    if loss < LOSS_SHARE:
        return []
    return [
        AnimalSign(
            "weight", top_on, f"lost {loss:.0%} of its weight since then".replace("%", " %")
        )
    ]


def coincidences(signs: Sequence[AnimalSign], changes: Sequence[DatedChange]) -> list[Coincidence]:
    """Put beside each sign what was new in the weeks before it; the latest sign first."""
    found = []

    for sign in sorted(signs, key=lambda one: one.on, reverse=True):
        before = [
            change
            for change in changes
            if dt.timedelta(0) <= sign.on - change.on <= dt.timedelta(days=LOOK_BACK_DAYS)
        ]

        nearest = sorted(before, key=lambda one: one.on, reverse=True)[:MOST_CHANGES]
        found.append(Coincidence(sign, tuple(nearest)))

    return found


def streaks(days: Sequence[tuple[dt.date, float]], least: int = 2) -> list[tuple[dt.date, int]]:
    """Runs of days that were mostly out of range: the first day of each and how many they are.

    Parameters
    ----------
    days : sequence of (date, float)
        In order, each with its share in range; nan is no day [1].
    """
    found: list[tuple[dt.date, int]] = []
    run: list[dt.date] = []

    for on, share in days:
        if share < 0.5 and (not run or (on - run[-1]).days == 1):
            run.append(on)
            continue
        if len(run) >= least:
            found.append((run[0], len(run)))
        run = [on] if share < 0.5 else []

    if len(run) >= least:
        found.append((run[0], len(run)))
    return found
