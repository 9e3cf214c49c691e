"""Twelve days of rounds in the demo household: what was due was done in the evening, with one meal
refused. Invented.
"""

import datetime as dt
import uuid
import zoneinfo

from husbandry.errors import ImpossibleStateError
from husbandry.feeding.upcoming_meals import GivenMeal
from husbandry.tasks.due import ahead
from ridgeback.households.models import Household, Keeper
from ridgeback.log.models import LastDone, LogEntry
from ridgeback.supplies.models import Stock
from ridgeback.tasks.due_tasks import gather, task_name

DAYS = 12
HOUR, MINUTE = 18, 40
LEFT = frozenset({"weigh", "read", "lamp", "screen", "body", "tame", "enrich"})
"""Not logged here: weights and readings have their own stories."""


def log_rounds(household: Household, keeper: Keeper, now: dt.datetime, today: dt.date) -> None:
    """Write the entries, and what they say together."""
    lasts: dict[tuple[int, int | None, str], LastDone] = {}
    entries: list[LogEntry] = []
    for n, due in enumerate(gather(household, now)):
        if due.routines is None or due.done is None:
            raise ImpossibleStateError("missing: due.routines, due.done")
        zone = zoneinfo.ZoneInfo(due.enclosure.room.time_zone)
        first = today - dt.timedelta(days=DAYS)
        fed = {
            k: [GivenMeal(first - dt.timedelta(days=1), meal.slug) for meal in animal.meals]
            for k, animal in enumerate(due.routines.animals)
        }
        begun = due.done._replace(
            fed=fed,
            since=first - dt.timedelta(days=n),
            last={(None, "deep clean"): first - dt.timedelta(days=6 * n)},
        )
        for ago, tasks in zip(
            range(DAYS, 0, -1), ahead(due.routines, begun, first, DAYS), strict=True
        ):
            day = today - dt.timedelta(days=ago)
            for k, task in enumerate(tasks):
                if task.kind in LEFT:
                    continue
                animal = due.animal_of(task)
                at = dt.datetime(
                    day.year, day.month, day.day, HOUR, MINUTE, tzinfo=zone
                ) + dt.timedelta(minutes=3 * n, seconds=20 * k)
                refused = task.kind == "feed" and not any(
                    entry.outcome == LogEntry.Outcome.REFUSED for entry in entries
                )
                entries.append(
                    LogEntry(
                        household=household,
                        enclosure=due.enclosure,
                        animal=animal,
                        stem=task.stem,
                        task=task_name(due.enclosure, animal, task),
                        log_request=uuid.uuid4(),
                        outcome=LogEntry.Outcome.REFUSED if refused else LogEntry.Outcome.DONE,
                        on=day,
                        at=at,
                        amount=None if refused else task.amount,
                        products=[] if refused else list(task.products),
                        note="pale all over: in shed" if refused else "",
                        by=keeper,
                        touched_at=at,
                    )
                )
                lasts[due.enclosure.pk, animal.pk if animal else None, task.stem] = LastDone(
                    enclosure=due.enclosure, animal=animal, stem=task.stem, on=day
                )
    _fill_supplies(household, today)
    LogEntry.objects.bulk_create(entries)
    LastDone.objects.bulk_create(lasts.values())


SUPPLIES = (
    ("adult cricket", "shelf", 90, 4, None, None),
    ("mixed leaves", "fridge", 120, 2, None, None),
    ("adult mouse", "freezer", 5, 80, None, None),
    ("calcium supplement", "shelf", 1, 200, 190, -40),
    ("multivitamin supplement", "shelf", 1, 420, 400, 12),
    ("vitamin A supplement", "shelf", 1, 175, 168, -200),
)
"""Name, place, amount, days since it came, since it was opened, and since its date (negative: to
come).
"""


def _fill_supplies(household: Household, today: dt.date) -> None:
    def back(days: int | None) -> dt.date | None:
        return None if days is None else today - dt.timedelta(days=days)

    Stock.objects.bulk_create(
        Stock(
            household=household,
            name=name,
            place=place,
            amount=amount,
            came_on=today - dt.timedelta(days=came),
            opened_on=back(opened),
            best_before=back(best),
        )
        for name, place, amount, came, opened, best in SUPPLIES
    )
