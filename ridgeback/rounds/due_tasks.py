"""From rows to what is due: the duties of every enclosure, remembered by content, and what the ledger says was done."""

import dataclasses
import datetime as dt
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from functools import partial
from typing import Any

from django.db.models import F, Max, Q

from husbandry.chores.chore import Chore, Done
from husbandry.chores.courses import Course
from husbandry.chores.due import ahead, due_today
from husbandry.chores.duties import Duties, duties
from husbandry.chores.growing import grown
from husbandry.diet.feeding import Fed
from husbandry.handling.taming import Session
from husbandry.planning.request import from_data
from husbandry.species.needs import NeedKey
from husbandry.year.rest import Rest
from ridgeback.animals.models import Animal
from ridgeback.calculation import Failed, attempt
from ridgeback.courses.models import courses_of
from ridgeback.habitats.models import WALK, Habitat, Reading
from ridgeback.habitats.planning import key_of, recall, remember
from ridgeback.keepers.models import Household
from ridgeback.ledger.meal_history import meals_of, sessions_of
from ridgeback.ledger.models import Entry, Last
from ridgeback.seasons.models import rests_of

READ_DAYS = 61
"""No reading is fresh for longer [days]."""


@dataclass(frozen=True)
class Due:
    """An enclosure with what is due in it and what was done today."""

    habitat: Habitat
    animals: tuple[Animal, ...]
    duties: Duties | None
    """None where it cannot be calculated: `failed` says why."""
    done: Done | None
    chores: tuple[Chore, ...]
    entries: tuple[Entry, ...]
    """Of today, that stand; the latest first."""
    today: dt.date
    failed: Failed | None = None

    def animal_of(self, chore: Chore) -> Animal | None:
        """Whom a chore is for; None for the enclosure itself."""
        return self.animals[chore.animal] if chore.animal is not None else None

    def weighed_on(self, chore: Chore) -> dt.date | None:
        """When the animal of a chore was weighed last."""
        return self.done.weighed.get(chore.animal) if self.done is not None and chore.animal is not None else None

    def still(self, chores: Iterable[Chore]) -> tuple[Chore, ...]:
        """Those that nobody has done, refused or put off today."""
        done = {(entry.animal_id, entry.stem) for entry in self.entries}
        return tuple(one for one in chores if ((animal := self.animal_of(one)) and animal.pk, one.stem) not in done)

    def ahead(self, days: int, later: Sequence[tuple[int, Duties]] = ()) -> list[tuple[dt.date, tuple[Chore, ...]]]:
        """What is due on each of the next days, today's what is still left, if everything is done on its day."""
        if self.duties is None or self.done is None:
            return []
        look = partial(ahead, self.duties, self.done, self.today, days, later)
        found = attempt(look, "enclosure", self.habitat.pk)
        if isinstance(found, Failed):
            return []
        return [(self.today + dt.timedelta(days=n), self.still(chores) if n == 0 else chores) for n, chores in enumerate(found)]


@dataclass(frozen=True)
class Book:
    """What is kept of animals, by their keys: meals of late, winter rests, courses of treatment, sessions of taming."""

    fed: dict[int, list[Fed]]
    resting: dict[int, Rest]
    courses: dict[int, list[Course]]
    tamed: dict[int, list[Session]]


def gather(household: Household | None, now: dt.datetime, *, only: Sequence[int] | None = None) -> list[Due]:
    """Every lived-in enclosure of a household in the keeper’s walking order; or only some of them.

    The number of queries does not depend on enclosures, and none of them reads more of the past than the last weeks.
    """
    # What is planned only is not walked past: its animal is not here yet.
    found = Habitat.objects.of(household).for_round().filter(head__state="built").order_by(*WALK)
    habitats = [habitat for habitat in (found.filter(pk__in=only) if only is not None else found) if habitat.present]
    if not habitats:
        return []
    known = _duties_of(habitats, now)
    days = {habitat.pk: habitat.room.day_of(now) for habitat in habitats}
    pks = list(days)
    home = {occupancy.animal_id: habitat.pk for habitat in habitats for occupancy in habitat.present}
    lasts: dict[int, dict[tuple[int | None, str], dt.date]] = {}
    known_lasts = Last.objects.filter(Q(habitat__in=pks, animal__isnull=True) | Q(animal__in=list(home)))
    for box, animal, stem, on in known_lasts.values_list("habitat", "animal", "stem", "on"):
        # What was done with an animal moves house with it: a dose given in the old enclosure is not given again in the new one.
        mine = lasts.setdefault(home[animal] if animal is not None else box, {})
        mine[animal, stem] = max(on, mine.get((animal, stem), on))
    first, last = min(days.values()), max(days.values())
    tamed = {one.animal_id: one.animal.taming_since for habitat in habitats for one in habitat.present if one.animal.taming_since}
    book = Book(meals_of(list(home), first), rests_of(list(home), first), courses_of(list(home), first), sessions_of(tamed))
    read: dict[int, dict[NeedKey, dt.date]] = {}
    fresh = Reading.objects.filter(
        habitat__in=pks, revision=F("habitat__head"), at__gte=now - dt.timedelta(days=READ_DAYS), at_x_m__isnull=True
    )
    rooms = {habitat.pk: habitat.room for habitat in habitats}
    for box, need, at in fresh.values_list("habitat", "need").annotate(at=Max("at")).values_list("habitat", "need", "at"):
        read.setdefault(box, {})[NeedKey(need)] = rooms[box].day_of(at)
    entries: dict[int, list[Entry]] = {}
    of_today = (
        Entry.objects.of(household).standing().filter(habitat__in=pks, on__gte=first, on__lte=last).select_related("by", "animal")
    )
    for entry in of_today:
        if entry.on == days[entry.habitat_id]:
            entries.setdefault(entry.habitat_id, []).append(entry)
    return [
        _due(habitat, known[habitat.pk], days[habitat.pk], lasts.get(habitat.pk, {}), book, read.get(habitat.pk, {}), tuple(entries.get(habitat.pk, ())))
        for habitat in habitats
    ]  # fmt: skip


def done_with(due: Due, entry: Entry) -> Due:
    """The same enclosure after an entry was written, without asking the database again."""
    after = dataclasses.replace(due, entries=(entry, *due.entries))
    return dataclasses.replace(after, chores=after.still(due.chores))


def _due(
    habitat: Habitat, known: Duties | Failed, today: dt.date, lasts: dict[tuple[int | None, str], dt.date], book: Book,
    read: dict[NeedKey, dt.date], entries: tuple[Entry, ...],
) -> Due:  # fmt: skip
    room, here = habitat.room, [occupancy.animal for occupancy in habitat.present]
    if isinstance(known, Failed):
        return Due(habitat, tuple(here), None, None, (), entries, today, known)
    place = {animal.pk: n for n, animal in enumerate(here)}
    last = {(None if who is None else place[who], stem): on for (who, stem), on in lasts.items() if who is None or who in place}
    weighed = {n: weights[0].on for n, animal in enumerate(here) if (weights := list(animal.weighings.all()))}
    moved = {n: room.day_of(one.moved_in_at) for n, one in enumerate(habitat.present) if one.moved_in_at}
    done = Done(
        last, {n: book.fed.get(animal.pk, []) for n, animal in enumerate(here)}, weighed, read,
        room.day_of(min(one.since for one in habitat.present)), moved, room.day_of(habitat.head.made_at) if habitat.head else today,
        {n: book.resting[animal.pk] for n, animal in enumerate(here) if animal.pk in book.resting},
        {n: book.courses[animal.pk] for n, animal in enumerate(here) if animal.pk in book.courses},
        {n: book.tamed[animal.pk] for n, animal in enumerate(here) if animal.pk in book.tamed},
    )  # fmt: skip
    found = Due(habitat, tuple(here), known, done, (), entries, today)
    chores = attempt(partial(due_today, known, done, today), "enclosure", habitat.pk)
    if isinstance(chores, Failed):
        return Due(habitat, tuple(here), None, None, (), entries, today, chores)
    return dataclasses.replace(found, chores=found.still(chores))


def grown_duties(dues: Sequence[Due], now: dt.datetime, days: int) -> dict[int, Duties]:
    """The duties of each enclosure so many days from now, its animals grown along their species’ curve."""
    found = _duties_of([due.habitat for due in dues if due.duties is not None], now, days)
    return {pk: known for pk, known in found.items() if not isinstance(known, Failed)}


def _duties_of(habitats: Sequence[Habitat], now: dt.datetime, days: int = 0) -> dict[int, Duties | Failed]:
    """The duties of each enclosure, remembered by what they follow from."""
    found: dict[int, Duties | Failed] = {}
    data: dict[int, dict[str, Any]] = {}
    for habitat in habitats:
        asked = attempt(partial(habitat.duties_data, now), "enclosure", habitat.pk)
        if isinstance(asked, Failed):
            found[habitat.pk] = asked
        else:
            data[habitat.pk] = asked
    keys = {pk: key_of("duties", [days, body]) for pk, body in data.items()}
    known = recall(keys.values())
    fresh: dict[str, str] = {}
    for pk, key in keys.items():
        if key in known:
            found[pk] = Duties.model_validate_json(known[key])
            continue
        made = attempt(partial(_calculated, data[pk], days), "enclosure", pk)
        found[pk] = made
        if not isinstance(made, Failed):
            fresh[key] = made.model_dump_json()
    if fresh:
        remember(fresh)
    return found


def _calculated(data: dict[str, Any], days: int) -> Duties:
    """The duties that a request makes, now or so many days of growth from now."""
    request = from_data(data)
    return duties(grown(request, days) if days else request)


def chore_name(habitat: Habitat, animal: Animal | None, chore: Chore) -> str:
    """What two people must not do twice: enclosure, animal, stem, and the day it fell due."""
    return f"{habitat.pk}/{animal.pk if animal else 0}/{chore.stem}/{chore.due.isoformat()}"
