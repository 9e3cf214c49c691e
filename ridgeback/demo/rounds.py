"""Twelve days of rounds in the demo household: what was due was done in the evening, with one meal refused. Invented."""

import datetime as dt
import uuid
import zoneinfo

from husbandry.chores.due import ahead
from husbandry.diet.feeding import Fed
from ridgeback.keepers.models import Household, Keeper
from ridgeback.larder.models import Stock
from ridgeback.ledger.models import Entry, Last
from ridgeback.rounds.due_tasks import chore_name, gather

DAYS = 12
HOUR, MINUTE = 18, 40
LEFT = frozenset({"weigh", "read", "lamp", "screen", "body", "tame", "enrich"})
"""Not logged here: weights and readings have their own stories."""


def log_rounds(household: Household, keeper: Keeper, now: dt.datetime, today: dt.date) -> None:
    """Write the entries, and what they say together."""
    lasts: dict[tuple[int, int | None, str], Last] = {}
    entries: list[Entry] = []
    for n, due in enumerate(gather(household, now)):
        assert due.duties is not None and due.done is not None
        zone = zoneinfo.ZoneInfo(due.habitat.room.time_zone)
        first = today - dt.timedelta(days=DAYS)
        fed = {
            k: [Fed(first - dt.timedelta(days=1), meal.slug) for meal in animal.meals]
            for k, animal in enumerate(due.duties.animals)
        }
        begun = due.done._replace(
            fed=fed, since=first - dt.timedelta(days=n), last={(None, "deep clean"): first - dt.timedelta(days=6 * n)}
        )
        for ago, chores in zip(range(DAYS, 0, -1), ahead(due.duties, begun, first, DAYS), strict=True):
            day = today - dt.timedelta(days=ago)
            for k, chore in enumerate(chores):
                if chore.kind in LEFT:
                    continue
                animal = due.animal_of(chore)
                at = dt.datetime(day.year, day.month, day.day, HOUR, MINUTE, tzinfo=zone) + dt.timedelta(
                    minutes=3 * n, seconds=20 * k
                )
                refused = chore.kind == "feed" and not any(entry.outcome == Entry.Outcome.REFUSED for entry in entries)
                entries.append(
                    Entry(
                        household=household, habitat=due.habitat, animal=animal, stem=chore.stem, chore=chore_name(due.habitat, animal, chore), tap=uuid.uuid4(),
                        outcome=Entry.Outcome.REFUSED if refused else Entry.Outcome.DONE, on=day, at=at, amount=None if refused else chore.amount,
                        products=[] if refused else list(chore.products), note="pale all over: in shed" if refused else "", by=keeper, touched_at=at,
                    )
                )  # fmt: skip
                lasts[due.habitat.pk, animal.pk if animal else None, chore.stem] = Last(
                    habitat=due.habitat, animal=animal, stem=chore.stem, on=day
                )
    _fill_larder(household, today)
    Entry.objects.bulk_create(entries)
    Last.objects.bulk_create(lasts.values())


LARDER = (
    ("adult cricket", "shelf", 90, 4, None, None), ("mixed leaves", "fridge", 120, 2, None, None), ("adult mouse", "freezer", 5, 80, None, None),
    ("calcium supplement", "shelf", 1, 200, 190, -40), ("multivitamin supplement", "shelf", 1, 420, 400, 12), ("vitamin A supplement", "shelf", 1, 175, 168, -200),
)  # fmt: skip
"""Name, place, amount, days since it came, since it was opened, and since its date (negative: to come)."""


def _fill_larder(household: Household, today: dt.date) -> None:
    def back(days: int | None) -> dt.date | None:
        return None if days is None else today - dt.timedelta(days=days)

    Stock.objects.bulk_create(
        Stock(household=household, name=name, place=place, amount=amount, came_on=today - dt.timedelta(days=came), opened_on=back(opened), best_before=back(best))
        for name, place, amount, came, opened, best in LARDER
    )  # fmt: skip
