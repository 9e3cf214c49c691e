"""The day's tasks as a page shows it: a card for each enclosure, its tasks and what is done."""

import datetime as dt
import itertools
import uuid
from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import NamedTuple

from husbandry.errors import ImpossibleStateError
from husbandry.quantity import Kind, Units, show
from husbandry.tasks.kinds import TASK_KINDS
from husbandry.tasks.task import Task
from ridgeback import clock
from ridgeback.animals.models import Animal
from ridgeback.calculation import Failed, attempt
from ridgeback.enclosures.models import Enclosure
from ridgeback.log.models import LogEntry
from ridgeback.tasks.due_tasks import Due, task_name
from ridgeback.today.alerts import worries_of
from ridgeback.today.sealing import seal
from ridgeback.today.wording import entry_text, said_of


@dataclass(frozen=True)
class TaskView:
    """One task of a card."""

    name: str
    log_request: str
    sealed: str
    kind: str
    who: str
    """The animal, where several live together."""
    title: str
    small: str
    verb: str
    late: str
    amount: str
    """As it is usual, to be edited; empty where there is none."""
    link: str
    """For what is done elsewhere."""
    refusable: bool
    ways: tuple[tuple[str, str], ...] = ()
    """How it can have gone beside the first, with the values of their buttons."""
    error: str = ""
    typed: tuple[tuple[str, str], ...] = ()
    """What was typed, when it was wrong."""

    def was(self) -> dict[str, str]:
        """What was typed, by field."""
        return dict(self.typed)


@dataclass(frozen=True)
class EntryView:
    """Something that was done today."""

    pk: int
    who: str
    text: str
    by: str
    clock: str


@dataclass(frozen=True)
class EnclosureCard:
    """An enclosure among the day's tasks."""

    enclosure: Enclosure
    animals: str
    each_animal: tuple[Animal, ...]
    tasks: tuple[TaskView, ...]
    entries: tuple[EntryView, ...]
    failed: str
    """Why it cannot be calculated; empty where it can."""
    worries: tuple[tuple[str, str, int], ...] = ()
    """Refusals worth a word: severity, sentence, the animal."""
    said: str = ""
    """What the last log request came to, when it was not simply done."""
    apart: str = ""
    """Who of it is in quarantine, and is tended last."""


def amount_text(kind: str, amount: float | None, units: Units) -> str:
    """An amount as its field shows it."""
    measured_as = TASK_KINDS[kind].amount
    if amount is None or measured_as is None or kind == "weigh":
        return ""
    if kind == "mist":
        return show(amount / 1000, Kind.VOLUME, units, small=True)
    return show(amount, measured_as, units)


def _late(task: Task, today: dt.date) -> str:
    """Since when, for what was left; said once and quietly, and not of what comes every day."""
    days = (today - task.due).days
    if days < 1 or task.never or (task.every_days or 99) <= 1 or task.kind == "read":
        return ""
    return f"since {task.due:%A}" if days < 7 else f"since {task.due:%-d %B}"


def _task(
    due: Due, task: Task, units: Units, wrong: "tuple[str, str, dict[str, str]] | None"
) -> TaskView:
    if due.routines is None or due.done is None:
        raise ImpossibleStateError("missing: due.routines, due.done")
    animal = due.animal_of(task)
    said = said_of(task, due.routines, due.weighed_on(task), due.today, units)
    name = task_name(due.enclosure, animal, task)
    link = _link(due, task, animal)
    error, typed = (
        (wrong[1], tuple(wrong[2].items())) if wrong is not None and wrong[0] == name else ("", ())
    )
    shown = amount_text(task.kind, task.amount, units)
    who = animal.name if animal is not None and len(due.animals) > 1 else ""
    return TaskView(
        name,
        str(uuid.uuid4()),
        seal(due, task, animal, shown),
        task.kind,
        who,
        said.title,
        said.small,
        said.verb,
        _late(task, due.today),
        shown,
        link,
        task.kind == "feed",
        _ways(task),
        error,
        typed,
    )


def _ways(task: Task) -> tuple[tuple[str, str], ...]:
    return (("hid", "Hid or fled"), ("bit", "Bit or struck")) if task.kind == "tame" else ()


def _link(due: Due, task: Task, animal: Animal | None) -> str:
    """Where a task is done that is more than a log request."""
    if task.kind == "read":
        return f"/enclosures/{due.enclosure.pk}/?need={task.needs[0].value}#reading"
    return (
        f"/animals/{animal.pk}/feeding/#condition"
        if task.kind == "body" and animal is not None
        else ""
    )


def entry_view(
    entry: LogEntry, zone: str, units: Units, *, several: bool = False, who: str = ""
) -> EntryView:
    """An entry as a line; `several` names its animal, `who` names it without asking for it."""
    who = who or (entry.animal.name if several and entry.animal is not None else "")
    return EntryView(
        entry.pk, who, entry_text(entry, units), entry.who, f"{clock.local(entry.at, zone):%H:%M}"
    )


def card(
    due: Due,
    units: Units,
    *,
    said: str = "",
    wrong: "tuple[str, str, dict[str, str]] | None" = None,
) -> EnclosureCard:
    """An enclosure with its tasks.

    `wrong` is a task's name, what is wrong with it, and what was typed.
    """
    if due.failed is None:
        made = attempt(
            lambda: _whole_card(due, units, said=said, wrong=wrong), "enclosure", due.enclosure.pk
        )
        if not isinstance(made, Failed):
            return made
        due = replace(due, routines=None, done=None, tasks=(), failed=made)
    return _whole_card(due, units, said=said)


def _whole_card(
    due: Due,
    units: Units,
    *,
    said: str = "",
    wrong: "tuple[str, str, dict[str, str]] | None" = None,
) -> EnclosureCard:
    animals = ", ".join(_animal(n, animal, due, units) for n, animal in enumerate(due.animals))
    zone = due.enclosure.room.time_zone
    several = len(due.animals) > 1
    return EnclosureCard(
        due.enclosure,
        animals,
        due.animals,
        tuple(_task(due, task, units, wrong) for task in due.tasks),
        tuple(entry_view(entry, zone, units, several=several) for entry in due.entries),
        due.failed.text if due.failed else "",
        _worries(due),
        said,
        " and ".join(animal.name for animal in due.enclosure.apart(due.today)),
    )


def _worries(due: Due) -> tuple[tuple[str, str, int], ...]:
    several = len(due.animals) > 1
    return tuple(
        (told.severity, f"{animal.name}: {told.text}" if several else told.text, animal.pk)
        for animal, told in worries_of(due)
    )


def _animal(n: int, animal: Animal, due: Due, units: Units) -> str:
    if due.routines is None:
        return animal.name
    known = due.routines.animals[n]
    mass = f" {show(known.mass_g, Kind.MASS, units)}" if known.mass_known else ""
    return f"{animal.name}, {known.common_name}{mass}"


@dataclass(frozen=True)
class TogetherTask:
    """A task that is due in several enclosures of a shelf."""

    kind: str
    done: str
    """What is said when it is done."""
    count: int


@dataclass(frozen=True)
class Shelf:
    """Enclosures that stand together."""

    room: str
    name: str
    cards: tuple[EnclosureCard, ...]
    together: tuple[TogetherTask, ...] = ()

    @property
    def room_pk(self) -> int:
        """The key of its room."""
        return self.cards[0].enclosure.room_id

    @property
    def shelf(self) -> str:
        """Its name as the enclosures have it."""
        return self.cards[0].enclosure.shelf


TOGETHER = ("look", "mist", "feed", "water", "moss", "calcium dish", "clean", "filter", "gutload")
"""Kinds of task that one tap may cover: doses, lamps and droppings are each a thing of its own."""
LEAST = 2
"""From so many enclosures on a tap for all of them is offered (design choice)."""


def together(due_lists: Sequence[Due]) -> tuple[TogetherTask, ...]:
    """What is due more than once on a shelf; enclosures in quarantine are left out."""
    others = [due for due in due_lists if not due.enclosure.apart(due.today)]
    counted = Counter(task.kind for due in others for task in due.tasks)
    return tuple(
        TogetherTask(kind, TASK_KINDS[kind].done, counted[kind])
        for kind in TOGETHER
        if counted[kind] >= LEAST
    )


def shelves(due_lists: Sequence[Due]) -> list[list[Due]]:
    """Enclosures by room and shelf, in walking order."""

    def where(due: Due) -> tuple[str, str]:
        return due.enclosure.room.name, due.enclosure.shelf

    return [list(group) for _, group in itertools.groupby(due_lists, where)]


MOST_CARDS = 30
"""Enclosures that are sent at once; further ones come as the reader gets there (design choice)."""


class TaskCount(NamedTuple):
    """Tasks of some enclosures."""

    left: int
    all: int


@dataclass(frozen=True)
class DayPart:
    """So many enclosures of the day's tasks, in walking order."""

    shelves: tuple[Shelf, ...]
    first: int
    """Its first enclosure, counted from 0."""
    rest: int
    """Enclosures after it."""
    before: TaskCount
    after: TaskCount
    """Tasks of enclosures before and after it."""

    @property
    def next_first(self) -> int:
        """Where the next part begins."""
        return self.first + MOST_CARDS


def part_of(due_lists: Sequence[Due], first: int, units: Units) -> DayPart:
    """The part of the day's tasks that begins with an enclosure; what is done for a whole shelf
    stands where the shelf begins. Cards of other parts are not made.
    """
    last = first + MOST_CARDS
    shown = []
    at = 0

    for shelf in shelves(due_lists):
        here = shelf[max(first - at, 0) : max(last - at, 0)]
        if here:
            offered = together(shelf) if at >= first else ()
            enclosure = here[0].enclosure
            cards = tuple(card(due, units) for due in here)
            shown.append(Shelf(enclosure.room.name, enclosure.shelf, cards, offered))
        at += len(shelf)

    before, after = (counted(part) for part in (due_lists[:first], due_lists[last:]))
    return DayPart(tuple(shown), first, len(due_lists[last:]), before, after)


def counted(due_lists: Sequence[Due]) -> TaskCount:
    """Tasks of enclosures: those that are left, and all of the day."""
    left = sum(len(due.tasks) for due in due_lists)
    return TaskCount(left, left + sum(len(due.entries) for due in due_lists))


def beginning_of(due_lists: Sequence[Due], enclosure: int) -> int:
    """Where the part begins that holds an enclosure; 0 for none."""
    keys = [due.enclosure.pk for due in due_lists]
    at = keys.index(enclosure) if enclosure in keys else 0
    return at // MOST_CARDS * MOST_CARDS
