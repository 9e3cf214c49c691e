"""Taking a keeper's table into the household: what is new, what is known, and the writing of it.

Everything is written in one transaction and in a number of queries that does not grow with the lines.
"""

import datetime as dt
from collections import Counter
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field
from typing import Any

from django.db import transaction

from husbandry.enclosure.catalogue import CATALOGUE
from husbandry.intake.table import TableLine
from ridgeback.animals.models import Animal, Length, Weighing
from ridgeback.background import ask_for_lives
from ridgeback.collection.specs import shape_spec, sides_spec
from ridgeback.enclosures.models import TOGETHER_MOST, Enclosure, Occupancy, Revision
from ridgeback.households.models import Household, Keeper, Room
from ridgeback.submissions.flows import sent_once

SAME_G = 0.005
"""Two weights nearer than that are one (design choice) [g]."""
Key = tuple[str, str]
"""An animal's name in small letters, and its species."""


@dataclass
class TakenIn:
    """What a table added."""

    animals: int = 0
    enclosures: int = 0
    weights: int = 0
    known: int = 0
    """Animals that were there already."""
    moved_nowhere: list[str] = field(default_factory=list)
    """Animals that live somewhere else than the table says: a move is logged, not imported."""


@transaction.atomic
def take_in(
    household: Household,
    keeper: Keeper,
    lines: Iterable[TableLine],
    *,
    room: Room,
    shape: str,
    now: dt.datetime,
    key: Any = None,
) -> TakenIn:
    """Write the lines that are understood; what is there already is left as it is.

    Parameters
    ----------
    lines : iterable of TableLine
        Of the state “understood”.
    room : Room
        Of enclosures whose room is not named, or is none of the household's.
    shape : str
        Of enclosures whose size is not said: a slug of the catalogue.
    key : UUID, optional
        Of the form: sent twice, it is written once.
    """
    found = TakenIn()
    with sent_once(household.pk, key) as first:
        if not first:
            return found
        Household.objects.select_for_update().get(pk=household.pk)
        lines = list(lines)
        homes = _homes(household, keeper, lines, room=room, shape=shape, now=now, found=found)
        _animals(household, lines, homes, now, found)
    ask_for_lives(household)
    return found


def _homes(
    household: Household,
    keeper: Keeper,
    lines: list[TableLine],
    *,
    room: Room,
    shape: str,
    now: dt.datetime,
    found: TakenIn,
) -> dict[str, Enclosure]:
    """The enclosures that the lines name, by their names; those that are new are made."""
    rooms = {one.name.casefold(): one for one in household.rooms.all()}
    homes = {one.name.casefold(): one for one in household.enclosures.all()}
    new: dict[str, TableLine] = {}
    for line in lines:
        name = line.enclosure.casefold()
        if name and name not in homes:
            new.setdefault(name, line)
    made = Enclosure.objects.bulk_create(
        Enclosure(
            household=household,
            room=rooms.get(line.room.casefold(), room),
            name=line.enclosure,
            shelf=line.shelf,
        )
        for line in new.values()
    )
    revisions = Revision.objects.bulk_create(
        Revision(
            enclosure=enclosure,
            number=1,
            spec={"enclosure": _spec(line, shape), "items": []},
            state=Revision.State.BUILT,
            reason="from a table",
            made_at=now,
            made_by=keeper,
        )
        for enclosure, line in zip(made, new.values(), strict=True)
    )
    for enclosure, revision in zip(made, revisions, strict=True):
        enclosure.head = revision
    Enclosure.objects.bulk_update(made, ["head"])
    found.enclosures = len(made)
    return homes | {one.name.casefold(): one for one in made}


def _spec(line: TableLine, shape: str) -> dict[str, Any]:
    """The enclosure by its sides, where they are said; else of the size that was chosen."""
    return shape_spec(CATALOGUE[shape]) if line.sides_m is None else sides_spec(line.sides_m)


def _animals(
    household: Household,
    lines: list[TableLine],
    homes: Mapping[str, Enclosure],
    now: dt.datetime,
    found: TakenIn,
) -> None:
    today = household.day_of(now)
    kept = household.animals.filter(gone_on__isnull=True).prefetch_related("weighings")
    known = {_key(one.name, one.species): one for one in kept}
    living = dict(
        Occupancy.objects.present()
        .filter(animal__household=household)
        .values_list("animal_id", "enclosure_id")
    )
    new: list[tuple[Animal, TableLine]] = []
    weighed: list[tuple[Animal, TableLine]] = []
    for line in lines:
        for name in _names(line):
            there = known.get(_key(name, line.species))
            if there is None:
                animal = Animal(household=household, name=name, **_facts(line))
                known[_key(name, line.species)] = animal
                new.append((animal, line))
            elif there.pk is not None:
                found.known += 1
                weighed.append((there, line))
                home = homes.get(line.enclosure.casefold())
                if home is not None and living.get(there.pk) not in {None, home.pk}:
                    found.moved_nowhere.append(there.name)
    Animal.objects.bulk_create(animal for animal, _ in new)
    found.animals = len(new)
    _bodies(new, weighed, today, found)
    lodged = Counter(living.values())
    stays = []
    for animal, line in (*new, *weighed):
        if not line.enclosure or animal.pk in living:
            continue
        home = homes[line.enclosure.casefold()]
        lodged[home.pk] += 1
        if lodged[home.pk] > TOGETHER_MOST:  # more than a plan takes: it is named, not put in
            found.moved_nowhere.append(animal.name)
        else:
            stays.append(Occupancy(enclosure=home, animal=animal, since=now))
    Occupancy.objects.bulk_create(stays)
    Enclosure.objects.filter(pk__in={one.enclosure_id for one in stays}).update(looked_on=None)


def _key(name: str, species: str) -> Key:
    return name.casefold(), species


def _names(line: TableLine) -> list[str]:
    """A name for each animal of the line; none for a line of an enclosure alone."""
    if not line.species:
        return []
    if line.count == 1:
        return [line.name]
    return [f"{line.name} {n + 1}" for n in range(line.count)]


def _facts(line: TableLine) -> dict[str, Any]:
    return {
        "species": line.species,
        "sex": line.sex,
        "born_on": line.born_on,
        "came_on": line.came_on,
    }


def _bodies(
    new: list[tuple[Animal, TableLine]],
    known: list[tuple[Animal, TableLine]],
    today: dt.date,
    found: TakenIn,
) -> None:
    """Weights and lengths; of one that is known only a weight that is not there."""
    told = [(animal, line) for animal, line in new if line.mass_g is not None and line.count == 1]
    told += [pair for pair in known if pair[1].mass_g is not None and not _is_known(*pair)]
    masses = [
        Weighing(animal=animal, on=line.weighed_on or today, mass_g=line.mass_g)
        for animal, line in told
        if line.mass_g is not None
    ]
    Weighing.objects.bulk_create(masses)
    found.weights = len(masses)
    Length.objects.bulk_create(
        Length(animal=animal, on=today, kind=line.length_kind, length_mm=line.length_mm)
        for animal, line in new
        if line.length_mm is not None and line.count == 1
    )


def _is_known(animal: Animal, line: TableLine) -> bool:
    """Whether a weight of the table is in the animal's records; one without a day is, on any day."""
    if line.count > 1:
        return True
    return any(
        abs(one.mass_g - (line.mass_g or 0.0)) < SAME_G and line.weighed_on in {None, one.on}
        for one in animal.weighings.all()
    )
