"""A keeper's own pace of a task, in place of the usual one: so many days apart, or on weekdays.

Method: docs/methods/tasks.md.
"""

import datetime as dt
from typing import NamedTuple

from husbandry.feeding.condition import LOOK_DAYS
from husbandry.tasks.kinds import TASK_KINDS
from husbandry.tasks.routines import (
    BOX_DAYS,
    CLEAN_DAYS,
    DISH_DAYS,
    DISINFECT_DAYS,
    FILTER_DAYS,
    MOSS_DAYS,
    NAIL_DAYS,
    Routines,
)

PACED = frozenset(
    {
        "clean",
        "deep clean",
        "disinfect",
        "water",
        "moss",
        "dig box",
        "calcium dish",
        "pool",
        "filter",
        "lamp",
        "soak",
        "weigh",
        "body",
        "nails",
    }
)
"""Kinds of task whose pace a keeper may set (design choice): never the daily look, nor a meal."""
LONGEST_DAYS = 730
"""Longer apart than that nothing is remembered as a routine (design choice) [days]."""


class OwnPace(NamedTuple):
    """How often a keeper does something."""

    every_days: int | None
    """Days apart; None where weekdays were chosen."""
    weekdays: frozenset[int] = frozenset()
    """Monday is 0."""

    def next_after(self, last: dt.date) -> dt.date:
        """The first day after `last` on which it is due."""
        if self.every_days is not None:
            return last + dt.timedelta(days=self.every_days)
        days = (last + dt.timedelta(days=n) for n in range(1, 8))
        return next(day for day in days if day.weekday() in self.weekdays)

    @property
    def mean_days(self) -> float:
        """Days between two of them in the mean [days]."""
        if self.every_days is not None:
            return float(self.every_days)
        return 7 / len(self.weekdays)


class OwnTask(NamedTuple):
    """A task that a keeper thought of."""

    key: str
    """Unlike that of any other; its stem is “own”, a space and the key."""
    title: str
    pace: OwnPace
    begins: dt.date
    """The first day on which it is due."""
    animal: int | None = None
    """Whom it is for, by the place in the routines; None for the enclosure."""


class UsualPace(NamedTuple):
    """A task whose pace a keeper may set, with the usual one."""

    animal: int | None
    kind: str
    every_days: float


def kind_of(stem: str) -> str:
    """The kind of task that a stem is of: “pool pool-1” is of the kind “pool”."""
    return stem if stem in TASK_KINDS else stem.partition(" ")[0]


def usual_paces(routines: Routines) -> tuple[UsualPace, ...]:
    """Every routine of an enclosure whose pace a keeper may set, with its usual pace.

    Never the daily look, nor a meal: those follow from the animals' stage and approach.
    """
    deep = ("disinfect", DISINFECT_DAYS) if routines.apart else ("deep clean", routines.deep_days)
    here: list[tuple[str, float]] = [("clean", CLEAN_DAYS), deep]
    here += [("water", 1.0)] * routines.dishes
    here += [("moss", MOSS_DAYS)] * routines.moss
    here += [("dig box", BOX_DAYS)] * routines.dig_box
    here += [("calcium dish", DISH_DAYS)] * routines.calcium_dish
    here += [("pool", min(pool.every_days for pool in routines.pools))] if routines.pools else []
    here += [("filter", FILTER_DAYS)] * routines.filtered
    lamps = [lamp.left_days + lamp.burned_days for lamp in routines.lamps]
    here += [("lamp", min(lamps))] if lamps else []
    found = [UsualPace(None, kind, float(days)) for kind, days in here]

    for n, animal in enumerate(routines.animals):
        if animal.soak is not None:
            found.append(UsualPace(n, "soak", animal.soak.every_days))
        found.append(UsualPace(n, "weigh", animal.weigh_days))
        found.append(UsualPace(n, "body", LOOK_DAYS))

        if animal.nails:
            found.append(UsualPace(n, "nails", NAIL_DAYS))

    return tuple(found)
