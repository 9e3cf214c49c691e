"""Which duties of an enclosure are due on a day, from what was done and when. Method: docs/methods/round.md."""

import datetime as dt
from collections.abc import Sequence

from husbandry.chores.chore import Chore, Done
from husbandry.chores.duties import Duties, Kind
from husbandry.chores.of_animal import of_animal
from husbandry.chores.of_box import of_box
from husbandry.diet.feeding import Fed

ORDER: tuple[Kind, ...] = (
    "look",
    "course",
    "read",
    "mist",
    "feed",
    "soak",
    "water",
    "pool",
    "tame",
    "weigh",
    "body",
    "screen",
    "moss",
    "calcium dish",
    "clean",
    "deep clean",
    "filter",
    "lamp",
    "enrich",
    "gutload",
)


def due_today(duties: Duties, done: Done, today: dt.date) -> tuple[Chore, ...]:
    """Everything that is due in an enclosure, in the order in which it is done.

    Notes
    -----
    A duty is due so many days after it was last done, and stays due; it is never counted twice. One that was never done counts from the day on which
    the enclosure came under care.
    """
    found = [*of_box(duties, done, today)]
    for n, animal in enumerate(duties.animals):
        found += of_animal(n, animal, done, today)
    return tuple(sorted(found, key=lambda chore: (ORDER.index(chore.kind), chore.at, chore.animal or 0)))


def ahead(
    duties: Duties, done: Done, today: dt.date, days: int, later: Sequence[tuple[int, Duties]] = ()
) -> list[tuple[Chore, ...]]:
    """What is due on each of the next days, if everything is done on its day.

    Parameters
    ----------
    later : sequence of (int, Duties)
        Duties that take over from a day on, rising: of animals that have grown.
    """
    found = []
    for n in range(days):
        day = today + dt.timedelta(days=n)
        duties = next((then for since, then in later if since == n), duties)
        chores = due_today(duties, done, day)
        found.append(chores)
        done = _after(done, chores, day)
    return found


def _after(done: Done, chores: Sequence[Chore], day: dt.date) -> Done:
    """What will have been done, when all of these are."""
    last, fed, weighed, read = (
        dict(done.last),
        {n: list(meals) for n, meals in done.fed.items()},
        dict(done.weighed),
        dict(done.read),
    )
    for chore in chores:
        last[chore.animal, chore.stem] = day
        if chore.kind == "feed" and chore.animal is not None and chore.meal is not None:
            fed.setdefault(chore.animal, []).append(Fed(day, chore.meal.slug, chore.products))
        elif chore.kind == "weigh" and chore.animal is not None:
            weighed[chore.animal] = day
        read.update(dict.fromkeys(chore.needs, day))
    return done._replace(last=last, fed=fed, weighed=weighed, read=read)
