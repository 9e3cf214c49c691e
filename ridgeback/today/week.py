"""The week to come, enclosure by enclosure: meals with their supplements, and what does not come
round every day.
"""

import datetime as dt
from dataclasses import dataclass
from functools import partial

from husbandry.tasks.kinds import TASK_KINDS
from husbandry.tasks.task import Task
from ridgeback.calculation import Failed, attempt
from ridgeback.tasks.due_tasks import Due

DAYS = 7


@dataclass(frozen=True)
class WeekRow:
    """An enclosure."""

    due: Due
    cells: tuple[tuple[tuple[str, str], ...], ...]
    """For each day what is due: role and words."""


@dataclass(frozen=True)
class Week:
    """Days and rows."""

    days: tuple[dt.date, ...]
    rows: tuple[WeekRow, ...]
    failed: tuple[tuple[Due, Failed], ...] = ()
    """Enclosures that cannot be calculated."""


def words_of(task: Task, due: Due) -> tuple[str, str]:
    """A task in a few words, with its role."""
    animal = due.animal_of(task)
    who = f"{animal.name}: " if animal is not None and len(due.animals) > 1 else ""
    if task.kind == "feed" and task.meal is not None:
        supplement = f" + {' and '.join(task.products)}" if task.products else ""
        return "food", f"{who}{task.meal.name}{supplement}"
    kind = TASK_KINDS[task.kind]
    return "care", f"{who}{kind.short or kind.done}"


def week_of(due_lists: list[Due], first: dt.date) -> Week:
    """Seven days from the first, if everything is done on its day."""
    rows = []
    failed = [(due, due.failed) for due in due_lists if due.failed is not None]
    for due in due_lists:
        cells = attempt(partial(_cells, due), "enclosure", due.enclosure.pk)
        if isinstance(cells, Failed):
            failed.append((due, cells))
        elif cells:
            rows.append(WeekRow(due, cells))
    days = tuple(first + dt.timedelta(days=n) for n in range(DAYS))
    return Week(days, tuple(rows), tuple(failed))


def _cells(due: Due) -> tuple[tuple[tuple[str, str], ...], ...]:
    """What is due in an enclosure on each day, but for what is due every day."""
    return tuple(
        tuple(words_of(task, due) for task in tasks if not TASK_KINDS[task.kind].daily)
        for _, tasks in due.ahead(DAYS)
    )
