"""The week to come, enclosure by enclosure: meals with their supplements, and what does not come round every day."""

import datetime as dt
from dataclasses import dataclass
from functools import partial

from husbandry.chores.chore import Chore
from ridgeback.calculation import Failed, attempt
from ridgeback.rounds.due_tasks import Due
from ridgeback.rounds.wording import VERBS

DAYS = 7
DAILY = frozenset({"look", "water", "mist", "gutload"})
"""Left out of the week: they come every day."""
WORDS = {
    "read": "read",
    "soak": "soak",
    "pool": "pool",
    "weigh": "weigh",
    "screen": "screen",
    "moss": "moss",
    "calcium dish": "calcium dish",
    "clean": "glass",
    "deep clean": "clean through",
    "filter": "filter",
    "lamp": "UV lamp",
    "body": "look at its body",
    "course": "treatment",
    "tame": "handling",
    "enrich": "something new",
}


@dataclass(frozen=True)
class Row:
    """An enclosure."""

    due: Due
    cells: tuple[tuple[tuple[str, str], ...], ...]
    """For each day what is due: role and words."""


@dataclass(frozen=True)
class Week:
    """Days and rows."""

    days: tuple[dt.date, ...]
    rows: tuple[Row, ...]
    failed: tuple[tuple[Due, Failed], ...] = ()
    """Enclosures that cannot be calculated."""


def words_of(chore: Chore, due: Due) -> tuple[str, str]:
    """A chore in a few words, with its role."""
    animal = due.animal_of(chore)
    who = f"{animal.name}: " if animal is not None and len(due.animals) > 1 else ""
    if chore.kind == "feed" and chore.meal is not None:
        powder = f" + {' and '.join(chore.products)}" if chore.products else ""
        return "food", f"{who}{chore.meal.name}{powder}"
    return "care", f"{who}{WORDS.get(chore.kind, VERBS.get(chore.kind, chore.kind))}"


def week_of(dues: list[Due], first: dt.date) -> Week:
    """Seven days from the first, if everything is done on its day."""
    rows, failed = [], [(due, due.failed) for due in dues if due.failed is not None]
    for due in dues:
        cells = attempt(partial(_cells, due), "enclosure", due.habitat.pk)
        if isinstance(cells, Failed):
            failed.append((due, cells))
        elif cells:
            rows.append(Row(due, cells))
    days = tuple(first + dt.timedelta(days=n) for n in range(DAYS))
    return Week(days, tuple(rows), tuple(failed))


def _cells(due: Due) -> tuple[tuple[tuple[str, str], ...], ...]:
    """What is due in an enclosure on each day, but for what is due every day."""
    return tuple(tuple(words_of(chore, due) for chore in chores if chore.kind not in DAILY) for _, chores in due.ahead(DAYS))
