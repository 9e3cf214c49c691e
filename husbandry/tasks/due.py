"""Which routines of an enclosure are due on a day, from what was done and when.

Method: docs/methods/tasks.md.
"""

import datetime as dt
from collections.abc import Sequence

from husbandry.feeding.upcoming_meals import GivenMeal
from husbandry.tasks.animal_tasks import of_animal
from husbandry.tasks.enclosure_tasks import of_enclosure
from husbandry.tasks.kinds import ORDER
from husbandry.tasks.routines import Routines
from husbandry.tasks.task import Done, Task


def due_today(routines: Routines, done: Done, today: dt.date) -> tuple[Task, ...]:
    """Everything that is due in an enclosure, in the order in which it is done.

    Notes
    -----
    A routine is due so many days after it was last done, and stays due; it is never counted twice.
    One that was never done counts from the day on which
    the enclosure came under care.
    """
    found = [*of_enclosure(routines, done, today)]
    for n, animal in enumerate(routines.animals):
        found += of_animal(n, animal, done, today)
    return tuple(sorted(found, key=lambda task: (ORDER[task.kind], task.at, task.animal or 0)))


def ahead(
    routines: Routines,
    done: Done,
    today: dt.date,
    days: int,
    later: Sequence[tuple[int, Routines]] = (),
) -> list[tuple[Task, ...]]:
    """What is due on each of the next days, if everything is done on its day.

    Parameters
    ----------
    later : sequence of (int, Routines)
        Tasks that take over from a day on, rising: of animals that have grown.
    """
    found = []
    for n in range(days):
        day = today + dt.timedelta(days=n)
        routines = next((then for since, then in later if since == n), routines)
        tasks = due_today(routines, done, day)
        found.append(tasks)
        done = _after(done, tasks, day)
    return found


def _after(done: Done, tasks: Sequence[Task], day: dt.date) -> Done:
    """What will have been done, when all of these are."""
    last, fed, weighed, read = (
        dict(done.last),
        {n: list(meals) for n, meals in done.fed.items()},
        dict(done.weighed),
        dict(done.read),
    )
    for task in tasks:
        last[task.animal, task.stem] = day
        if task.kind == "feed" and task.animal is not None and task.meal is not None:
            fed.setdefault(task.animal, []).append(GivenMeal(day, task.meal.slug, task.products))
        elif task.kind == "weigh" and task.animal is not None:
            weighed[task.animal] = day
        read.update(dict.fromkeys(task.needs, day))
    return done._replace(last=last, fed=fed, weighed=weighed, read=read)
