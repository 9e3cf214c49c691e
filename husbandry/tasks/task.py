"""A task, what was done before it, and when a routine fell due. Method: docs/methods/tasks.md."""

import datetime as dt
import math
from collections.abc import Mapping, Sequence
from typing import NamedTuple

from husbandry.feeding.upcoming_meals import GivenMeal
from husbandry.handling.taming import HandlingSession
from husbandry.seasons.brumation import Dormancy
from husbandry.species.needs import NeedKey
from husbandry.tasks.routines import MealRoutine
from husbandry.tasks.schedules import OwnPace, OwnTask, kind_of
from husbandry.tasks.treatments import Treatment


class Done(NamedTuple):
    """What was done, and when last. Animals by their place in the routines."""

    last: Mapping[tuple[int | None, str], dt.date]
    """By animal and stem; of the enclosure itself under None."""
    fed: Mapping[int, Sequence[GivenMeal]]
    weighed: Mapping[int, dt.date]
    read: Mapping[NeedKey, dt.date]
    since: dt.date
    """From which the enclosure is looked after: what was never done counts from there."""
    moved_in: Mapping[int, dt.date]
    """Of animals that arrived, and when."""
    lamps_on: dt.date
    """On which the lamps' hours were written down."""
    resting: Mapping[int, Dormancy] = {}  # never written to
    """Brumations, of those that have one."""
    treatments: Mapping[int, Sequence[Treatment]] = {}  # never written to
    """Of treatment, by animal."""
    tamed: Mapping[int, Sequence[HandlingSession]] = {}  # never written to
    """Sessions of those whose taming goes on."""
    own: Mapping[tuple[int | None, str], OwnPace] = {}  # never written to
    """The keeper's own pace, by animal and kind of task."""
    own_tasks: Sequence[OwnTask] = ()
    """Tasks that the keeper thought of."""
    shed_over: Mapping[int, dt.date] = {}  # never written to
    """On which the last shed of an animal was over, where that is not long ago."""

    def paced(self, animal: int | None, kind: str, every_days: float) -> float:
        """Days between two of them in the mean: the keeper's own pace, else the usual one."""
        own = self.own.get((animal, kind))
        return own.mean_days if own is not None else every_days


NOTHING = Done({}, {}, {}, {}, dt.date(2000, 1, 1), {}, dt.date(2000, 1, 1))


class Task(NamedTuple):
    """Something to do today."""

    kind: str
    """A slug of husbandry/tasks/kinds.py."""
    stem: str
    """Its name within the enclosure: what is remembered of it."""
    animal: int | None
    due: dt.date
    """On which it fell due; before today when it was left."""
    at: str = ""
    """A time of day, for what has one."""
    meal: MealRoutine | None = None
    products: tuple[str, ...] = ()
    reasons: tuple[str, ...] = ()
    amount: float | None = None
    """As it is usual [ml of mist, l of a pool, g of a meal]."""
    needs: tuple[NeedKey, ...] = ()
    every_days: float | None = None
    quiet: bool = False
    """The animal is in its first week."""
    resting: bool = False
    """Of an animal in its brumation."""
    never: bool = False
    """It was never logged: since when it is due is a guess."""
    treatment: Treatment | None = None
    missed: dt.date | None = None
    """A day of its treatment before this one, on which nothing is logged."""
    step: int | None = None
    """Of taming."""
    idea: str = ""
    title: str = ""
    """Of a task that the keeper thought of."""


def when(
    done: Done, stem: str, every_days: float, today: dt.date, animal: int | None = None
) -> dt.date | None:
    """The day on which a routine fell due, by the keeper's own pace where there is one; None while
    it is not.
    """
    own = done.own.get((animal, kind_of(stem)))
    if own is not None:
        last = done.last.get((animal, stem), done.since - dt.timedelta(days=1))
        due = own.next_after(last)
        return due if due <= today else None
    last = done.last.get(
        (animal, stem), done.since - dt.timedelta(days=1 if every_days <= 1 else 0)
    )
    due = last + dt.timedelta(days=max(1, math.floor(every_days + 0.5)))
    return due if due <= today else None
