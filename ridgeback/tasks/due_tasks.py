"""From rows to what is due: the routines of every enclosure, remembered by content, and what the
log says was done.
"""

import dataclasses
import datetime as dt
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from functools import partial
from typing import Any

from django.db.models import F, Max, Q

from husbandry.documents.request_json import from_data
from husbandry.feeding.upcoming_meals import GivenMeal
from husbandry.handling.taming import HandlingSession
from husbandry.seasons.brumation import Dormancy
from husbandry.species.needs import NeedKey
from husbandry.tasks.due import ahead, due_today
from husbandry.tasks.growing_animals import grown
from husbandry.tasks.routines import Routines, routines
from husbandry.tasks.schedules import OwnPace, OwnTask
from husbandry.tasks.task import Done, Task
from husbandry.tasks.treatments import Treatment
from ridgeback.animals.models import Animal, ConditionPeriod
from ridgeback.calculation import Failed, attempt
from ridgeback.enclosures.models import WALK, Enclosure, Reading
from ridgeback.enclosures.planning import key_of, recall, remember
from ridgeback.households.models import Household
from ridgeback.log.models import LastDone, LogEntry
from ridgeback.seasons.models import dormancies_of
from ridgeback.tasks.meal_history import meals_of, sessions_of
from ridgeback.tasks.models import OWN, KeeperSchedules, TaskSchedule, schedules_of
from ridgeback.treatments.models import treatments_of

SHED_CHECKED_DAYS = 14
"""After a shed toes and tail tip are looked at within that time, or the next shed has come (common
practice) [days].
"""
READ_DAYS = 61
"""No reading is fresh for longer [days]."""


@dataclass(frozen=True)
class Due:
    """An enclosure with what is due in it and what was done today."""

    enclosure: Enclosure
    animals: tuple[Animal, ...]
    routines: Routines | None
    """None where it cannot be calculated: `failed` says why."""
    done: Done | None
    tasks: tuple[Task, ...]
    entries: tuple[LogEntry, ...]
    """Of today, that stand; the latest first."""
    today: dt.date
    failed: Failed | None = None

    def animal_of(self, task: Task) -> Animal | None:
        """Whom a task is for; None for the enclosure itself."""
        return self.animals[task.animal] if task.animal is not None else None

    def weighed_on(self, task: Task) -> dt.date | None:
        """When the animal of a task was weighed last."""
        return (
            self.done.weighed.get(task.animal)
            if self.done is not None and task.animal is not None
            else None
        )

    def still(self, tasks: Iterable[Task]) -> tuple[Task, ...]:
        """Those that nobody has done, refused or put off today."""
        done = {(entry.animal_id, entry.stem) for entry in self.entries}
        return tuple(
            one
            for one in tasks
            if ((animal := self.animal_of(one)) and animal.pk, one.stem) not in done
        )

    def ahead(
        self, days: int, later: Sequence[tuple[int, Routines]] = ()
    ) -> list[tuple[dt.date, tuple[Task, ...]]]:
        """What is due on each of the next days, today's what is still left, if everything is done
        on its day.
        """
        if self.routines is None or self.done is None:
            return []
        look = partial(ahead, self.routines, self.done, self.today, days, later)
        found = attempt(look, "enclosure", self.enclosure.pk)
        if isinstance(found, Failed):
            return []
        return [
            (self.today + dt.timedelta(days=n), self.still(tasks) if n == 0 else tasks)
            for n, tasks in enumerate(found)
        ]


@dataclass(frozen=True)
class AnimalRecords:
    """What is kept of animals, by their keys: meals of late, brumations, treatments,
    sessions of taming, sheds that are over; and the keeper's own schedules.
    """

    fed: dict[int, list[GivenMeal]]
    resting: dict[int, Dormancy]
    treatments: dict[int, list[Treatment]]
    tamed: dict[int, list[HandlingSession]]
    sheds: dict[int, dt.date]
    schedules: KeeperSchedules


def gather(
    household: Household | None, now: dt.datetime, *, only: Sequence[int] | None = None
) -> list[Due]:
    """Every lived-in enclosure of a household in the keeper’s walking order; or only some of them.

    The number of queries does not depend on enclosures, and none of them reads more of the past
    than the last weeks.
    """
    found = Enclosure.objects.of(household).for_round().order_by(*WALK)
    enclosures = [
        enclosure
        for enclosure in (found.filter(pk__in=only) if only is not None else found)
        if enclosure.present
    ]
    if not enclosures:
        return []
    known = _routines_of(enclosures, now)
    days = {enclosure.pk: enclosure.room.day_of(now) for enclosure in enclosures}
    pks = list(days)
    home = {
        occupancy.animal_id: enclosure.pk
        for enclosure in enclosures
        for occupancy in enclosure.present
    }
    lasts: dict[int, dict[tuple[int | None, str], dt.date]] = {}
    known_lasts = LastDone.objects.filter(
        Q(enclosure__in=pks, animal__isnull=True) | Q(animal__in=list(home))
    )
    for enclosure_pk, animal, stem, on in known_lasts.values_list(
        "enclosure", "animal", "stem", "on"
    ):
        # What was done with an animal moves house with it: a dose given in the old enclosure is not
        # given again in the new one.
        mine = lasts.setdefault(home[animal] if animal is not None else enclosure_pk, {})
        mine[animal, stem] = max(on, mine.get((animal, stem), on))
    return _due_of(days, enclosures, home, household, known, lasts, now, pks)


def _due_of(
    days: dict[int, dt.date],
    enclosures: list[Enclosure],
    home: dict[int, int],
    household: Household | None,
    known: dict[int, Routines | Failed],
    lasts: dict[int, dict[tuple[int | None, str], dt.date]],
    now: dt.datetime,
    pks: list[int],
) -> list[Due]:
    """Find what is due in each enclosure, from what its records say."""
    first = min(days.values())
    last = max(days.values())
    tamed = {
        one.animal_id: one.animal.taming_since
        for enclosure in enclosures
        for one in enclosure.present
        if one.animal.taming_since
    }
    book = AnimalRecords(
        meals_of(list(home), first),
        dormancies_of(list(home), first),
        treatments_of(list(home), first),
        sessions_of(tamed),
        _sheds_over(home, first),
        schedules_of(pks, home),
    )
    read: dict[int, dict[NeedKey, dt.date]] = {}
    _add_fresh_readings(enclosures, now, pks, read)
    entries: dict[int, list[LogEntry]] = {}
    of_today = (
        LogEntry.objects.of(household)
        .standing()
        .filter(enclosure__in=pks, on__gte=first, on__lte=last)
        .select_related("by", "animal")
    )
    for entry in of_today:
        if entry.on == days[entry.enclosure_id]:
            entries.setdefault(entry.enclosure_id, []).append(entry)
    return [
        _due(
            enclosure,
            known[enclosure.pk],
            days[enclosure.pk],
            lasts.get(enclosure.pk, {}),
            book,
            read.get(enclosure.pk, {}),
            tuple(entries.get(enclosure.pk, ())),
        )
        for enclosure in enclosures
    ]


def _sheds_over(animals: Iterable[int], today: dt.date) -> dict[int, dt.date]:
    """On which the last shed of each animal was over, of those that ended lately."""
    ended = ConditionPeriod.objects.filter(
        animal__in=list(animals),
        kind=ConditionPeriod.Kind.SHED,
        until__gte=today - dt.timedelta(days=SHED_CHECKED_DAYS),
    )
    days = ended.order_by("until").values_list("animal", "until")
    return {animal: until for animal, until in days if until is not None}


def _own_tasks(
    schedules: KeeperSchedules, enclosure: Enclosure, animals: Sequence[Animal]
) -> tuple[OwnTask, ...]:
    """The tasks that the keeper thought of, for an enclosure and who lives there."""
    listed: list[tuple[int | None, TaskSchedule]] = [
        (None, one) for one in schedules.of_enclosures.get(enclosure.pk, ())
    ]
    listed += [
        (n, one)
        for n, animal in enumerate(animals)
        for one in schedules.of_animals.get(animal.pk, ())
    ]
    return tuple(
        OwnTask(str(one.pk), one.title, one.pace, one.begins_on, n)
        for n, one in listed
        if one.kind == OWN
    )


def _own_paces(
    schedules: KeeperSchedules, enclosure: Enclosure, animals: Sequence[Animal]
) -> dict[tuple[int | None, str], OwnPace]:
    """The keeper's own paces, for an enclosure and who lives there."""
    own: dict[tuple[int | None, str], OwnPace] = {
        (None, one.kind): one.pace for one in schedules.of_enclosures.get(enclosure.pk, ())
    }
    for n, animal in enumerate(animals):
        own |= {(n, one.kind): one.pace for one in schedules.of_animals.get(animal.pk, ())}
    return own


def _add_fresh_readings(
    enclosures: list[Enclosure],
    now: dt.datetime,
    pks: list[int],
    read: dict[int, dict[NeedKey, dt.date]],
) -> None:
    """Note which needs were read lately enough."""
    fresh = Reading.objects.filter(
        enclosure__in=pks,
        revision=F("enclosure__head"),
        at__gte=now - dt.timedelta(days=READ_DAYS),
        at_x_m__isnull=True,
    )
    rooms = {enclosure.pk: enclosure.room for enclosure in enclosures}
    for enclosure_pk, need, at in (
        fresh.values_list("enclosure", "need")
        .annotate(at=Max("at"))
        .values_list("enclosure", "need", "at")
    ):
        read.setdefault(enclosure_pk, {})[NeedKey(need)] = rooms[enclosure_pk].day_of(at)


def done_with(due: Due, entry: LogEntry) -> Due:
    """The same enclosure after an entry was written, without asking the database again."""
    after = dataclasses.replace(due, entries=(entry, *due.entries))
    return dataclasses.replace(after, tasks=after.still(due.tasks))


def _due(
    enclosure: Enclosure,
    known: Routines | Failed,
    today: dt.date,
    lasts: dict[tuple[int | None, str], dt.date],
    book: AnimalRecords,
    read: dict[NeedKey, dt.date],
    entries: tuple[LogEntry, ...],
) -> Due:
    room = enclosure.room
    here = [occupancy.animal for occupancy in enclosure.present]
    if isinstance(known, Failed):
        return Due(enclosure, tuple(here), None, None, (), entries, today, known)
    place = {animal.pk: n for n, animal in enumerate(here)}
    last = {
        (None if who is None else place[who], stem): on
        for (who, stem), on in lasts.items()
        if who is None or who in place
    }
    weighed = {
        n: weights[0].on
        for n, animal in enumerate(here)
        if (weights := list(animal.weighings.all()))
    }
    moved = {
        n: room.day_of(one.moved_in_at)
        for n, one in enumerate(enclosure.present)
        if one.moved_in_at
    }
    done = Done(
        last,
        {n: book.fed.get(animal.pk, []) for n, animal in enumerate(here)},
        weighed,
        read,
        room.day_of(min(one.since for one in enclosure.present)),
        moved,
        room.day_of(enclosure.head.made_at) if enclosure.head else today,
        {n: book.resting[animal.pk] for n, animal in enumerate(here) if animal.pk in book.resting},
        {
            n: book.treatments[animal.pk]
            for n, animal in enumerate(here)
            if animal.pk in book.treatments
        },
        {n: book.tamed[animal.pk] for n, animal in enumerate(here) if animal.pk in book.tamed},
        _own_paces(book.schedules, enclosure, here),
        _own_tasks(book.schedules, enclosure, here),
        {n: book.sheds[animal.pk] for n, animal in enumerate(here) if animal.pk in book.sheds},
    )
    if enclosure.apart(today):
        known = known.model_copy(update={"apart": True})
    found = Due(enclosure, tuple(here), known, done, (), entries, today)
    tasks = attempt(partial(due_today, known, done, today), "enclosure", enclosure.pk)
    if isinstance(tasks, Failed):
        return Due(enclosure, tuple(here), None, None, (), entries, today, tasks)
    return dataclasses.replace(found, tasks=found.still(tasks))


def grown_routines(due_lists: Sequence[Due], now: dt.datetime, days: int) -> dict[int, Routines]:
    """The routines of each enclosure so many days from now, its animals grown along their species’
    curve.
    """
    found = _routines_of(
        [due.enclosure for due in due_lists if due.routines is not None], now, days
    )
    return {pk: known for pk, known in found.items() if not isinstance(known, Failed)}


def _routines_of(
    enclosures: Sequence[Enclosure], now: dt.datetime, days: int = 0
) -> dict[int, Routines | Failed]:
    """The routines of each enclosure, remembered by what they follow from."""
    found: dict[int, Routines | Failed] = {}
    data: dict[int, dict[str, Any]] = {}
    for enclosure in enclosures:
        asked = attempt(partial(enclosure.routines_data, now), "enclosure", enclosure.pk)
        if isinstance(asked, Failed):
            found[enclosure.pk] = asked
        else:
            data[enclosure.pk] = asked
    keys = {pk: key_of("routines", [days, body]) for pk, body in data.items()}
    known = recall(keys.values())
    fresh: dict[str, str] = {}
    for pk, key in keys.items():
        if key in known:
            found[pk] = Routines.model_validate_json(known[key])
            continue
        made = attempt(partial(_calculated, data[pk], days), "enclosure", pk)
        found[pk] = made
        if not isinstance(made, Failed):
            fresh[key] = made.model_dump_json()
    if fresh:
        remember(fresh)
    return found


def _calculated(data: dict[str, Any], days: int) -> Routines:
    """The routines that a request makes, now or so many days of growth from now."""
    request = from_data(data)
    return routines(grown(request, days) if days else request)


def task_name(enclosure: Enclosure, animal: Animal | None, task: Task) -> str:
    """What two people must not do twice: enclosure, animal, stem, and the day it fell due."""
    return f"{enclosure.pk}/{animal.pk if animal else 0}/{task.stem}/{task.due.isoformat()}"
