"""What the daily email says: by room and enclosure, without what comes every day, in the reader's
units.
"""

import datetime as dt
from functools import partial

from husbandry.errors import ImpossibleStateError
from husbandry.quantity import Units
from husbandry.tasks.kinds import TASK_KINDS
from ridgeback.breeding.views import clutches_of
from ridgeback.calculation import Failed, attempt
from ridgeback.households.models import Household
from ridgeback.supplies.presenting import food_rows, meal_needs
from ridgeback.tasks.due_tasks import Due, gather
from ridgeback.today.alerts import worries_of
from ridgeback.today.wording import said_of

MOST_LINES = 8
"""Of one enclosure: the page has them all."""


def _lines(due: Due, units: Units) -> list[str]:
    if due.failed is not None:
        return [f"! {due.failed.text}. Its page says how to correct it."]
    found = attempt(partial(_tasks, due, units), "enclosure", due.enclosure.pk)
    return [f"! {found.text}."] if isinstance(found, Failed) else found


def _tasks(due: Due, units: Units) -> list[str]:
    """An enclosure's warnings and tasks, as lines."""
    if due.routines is None:
        raise ImpossibleStateError("calculated, as its lines are asked for")
    found = [f"! {animal.name}: {told.text}" for animal, told in worries_of(due)]
    for task in due.tasks:
        if not TASK_KINDS[task.kind].daily:
            whose = due.animal_of(task)
            who = f"{whose.name}: " if whose is not None and len(due.animals) > 1 else ""
            found.append(
                f"- {who}{said_of(task, due.routines, due.weighed_on(task), due.today, units).title}"
            )
    return found


def compose(household: Household, units: Units, now: dt.datetime) -> tuple[str, str, dt.date]:
    """Subject, text and day of a household's daily email."""
    due_lists = gather(household, now)
    today = household.day_of(now)
    parts: list[str] = []
    left = 0
    for due in due_lists:
        lines = _lines(due, units)
        left += len(due.tasks)
        if lines:
            more = [f"  and {len(lines) - MOST_LINES} more"] if len(lines) > MOST_LINES else []
            parts.append(
                "\n".join(
                    [
                        f"{due.enclosure.name} ({due.enclosure.room.name})",
                        *(f"  {line}" for line in lines[:MOST_LINES]),
                        *more,
                    ]
                )
            )
    eggs = [
        f"  {one.title}: {one.when}" + (f". {one.says}" if one.says else "")
        for one in clutches_of(household, today)
    ]
    if eggs:
        parts.append("\n".join(["Breeding", *eggs]))
    rows = food_rows(household, due_lists, meal_needs(due_lists, now), now, units)
    orders = [f"  Order {row.order.text}" for row in rows if row.order is not None] + [
        f"  Past its date: {row.name}" for row in rows if row.late
    ]
    if orders:
        parts.append("\n".join(["Food and supplies", *orders]))
    head = (
        f"{left} task{'s' if left != 1 else ''} in {len(due_lists)}"
        f" enclosure{'s' if len(due_lists) != 1 else ''} today. Daily tasks are left out here."
    )
    subject = f"{household.name}, {today:%A %-d %B}: {left} to do"
    return subject, "\n\n".join([head, *parts, "All of them are under Today."]) + "\n", today
