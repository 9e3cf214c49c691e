"""What the letter says: by room and enclosure, without what comes every day, in the reader's units."""

import datetime as dt
from functools import partial

from husbandry.quantity import Units
from ridgeback.calculation import Failed, attempt
from ridgeback.eggs.views import clutches_of
from ridgeback.keepers.models import Household
from ridgeback.larder.presenting import food_rows
from ridgeback.rounds.alerts import worries_of
from ridgeback.rounds.due_tasks import Due, gather
from ridgeback.rounds.week import DAILY
from ridgeback.rounds.wording import said_of

MOST_LINES = 8
"""Of one enclosure: the page has them all."""


def _lines(due: Due, units: Units) -> list[str]:
    if due.failed is not None:
        return [f"! {due.failed.text}. Its page says how to correct it."]
    found = attempt(partial(_tasks, due, units), "enclosure", due.habitat.pk)
    return [f"! {found.text}."] if isinstance(found, Failed) else found


def _tasks(due: Due, units: Units) -> list[str]:
    """An enclosure's warnings and tasks, as lines."""
    assert due.duties is not None  # calculated, as its lines are asked for
    found = [f"! {animal.name}: {told.text}" for animal, told in worries_of(due)]
    for chore in due.chores:
        if chore.kind not in DAILY:
            whose = due.animal_of(chore)
            who = f"{whose.name}: " if whose is not None and len(due.animals) > 1 else ""
            found.append(f"- {who}{said_of(chore, due.duties, due.weighed_on(chore), due.today, units).title}")
    return found


def compose(household: Household, units: Units, now: dt.datetime) -> tuple[str, str, dt.date]:
    """Subject, text and day of a household's letter."""
    dues = gather(household, now)
    today = household.day_of(now)
    parts: list[str] = []
    left = 0
    for due in dues:
        lines = _lines(due, units)
        left += len(due.chores)
        if lines:
            more = [f"  and {len(lines) - MOST_LINES} more"] if len(lines) > MOST_LINES else []
            parts.append(
                "\n".join([f"{due.habitat.name} ({due.habitat.room.name})", *(f"  {line}" for line in lines[:MOST_LINES]), *more])
            )
    eggs = [f"  {one.title}: {one.when}" + (f". {one.says}" if one.says else "") for one in clutches_of(household, today)]
    if eggs:
        parts.append("\n".join(["Breeding", *eggs]))
    rows = food_rows(household, dues, now, units)
    orders = [f"  Order {row.order.text}" for row in rows if row.order is not None] + [
        f"  Past its date: {row.name}" for row in rows if row.late
    ]
    if orders:
        parts.append("\n".join(["Food and supplies", *orders]))
    head = f"{left} task{'s' if left != 1 else ''} in {len(dues)} enclosure{'s' if len(dues) != 1 else ''} today. Daily tasks are left out here."
    subject = f"{household.name}, {today:%A %-d %B}: {left} to do"
    return subject, "\n\n".join([head, *parts, "All of them are under Today."]) + "\n", today
