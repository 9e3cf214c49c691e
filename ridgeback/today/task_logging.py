"""Understanding a log request: which task, how it ended, how much; or what is wrong with it."""

import datetime as dt
import uuid
from collections.abc import Mapping
from dataclasses import dataclass

from husbandry.errors import EntryError, ImpossibleStateError
from husbandry.growth.plausibility import BESIDE_WEIGHING
from husbandry.handling.taming import HOW
from husbandry.quantity import Kind, Units, read, show
from husbandry.quantity import QuantityEntry as Typed
from husbandry.species.library import find
from husbandry.tasks.kinds import TASK_KINDS
from husbandry.tasks.task import Task
from husbandry.tasks.weighing import weigh
from ridgeback.animals.models import Animal
from ridgeback.animals.plausibility import doubt_of_mass
from ridgeback.log.flows import LogRequest
from ridgeback.log.models import LogEntry
from ridgeback.posting import plain_words
from ridgeback.tasks.due_tasks import Due, task_name

LATEST = dt.timedelta(hours=24)
"""A log request that waited for the network longer than that is not believed."""


class NotDueError(Exception):
    """The task is not due, or not due any more."""


class WrongError(Exception):
    """Something typed cannot be; says so in a sentence."""


@dataclass(frozen=True)
class ParsedLogRequest:
    """A log request that can be written."""

    task: Task
    animal: Animal | None
    log_request: LogRequest


def find_task(due: Due, name: str) -> tuple[Task, Animal | None]:
    """The due task of that name. Raises `NotDueError`."""
    for task in due.tasks:
        animal = due.animal_of(task)
        if task_name(due.enclosure, animal, task) == name:
            return task, animal
    raise NotDueError


def understand(
    due: Due, posted: Mapping[str, str], units: Units, now: dt.datetime
) -> ParsedLogRequest:
    """Read a log request of a due task.

    Raises
    ------
    NotDueError, WrongError
    """
    try:
        log_request = uuid.UUID(posted.get("log_request", ""))
    except ValueError:
        raise NotDueError from None
    task, animal = find_task(due, posted.get("task", ""))
    outcome = posted.get("outcome", LogEntry.Outcome.DONE)
    how = outcome if task.kind == "tame" and outcome in HOW else ""
    if task.kind == "tame" and outcome != LogEntry.Outcome.SKIPPED:
        if not how:
            raise WrongError("Say how it went: calm, hid, or bit.")
        outcome = LogEntry.Outcome.DONE
    note = plain_words(posted.get("note", ""), 300)
    if outcome not in LogEntry.Outcome.values or (
        outcome == LogEntry.Outcome.REFUSED and task.kind != "feed"
    ):
        raise NotDueError
    if outcome == LogEntry.Outcome.SKIPPED and not note:
        raise WrongError("Say in a word why not today.")
    at = now - age(posted.get("age_s", ""))
    on = min(
        due.enclosure.room.day_of(at), due.today
    )  # a log request that waited over midnight is of the day it was made on
    name = task_name(due.enclosure, animal, task)
    if task.kind == "own":
        note = plain_words(f"{task.title}: {note}" if note else task.title, 300)
    if outcome == LogEntry.Outcome.SKIPPED:
        name = f"{name}/not {on}"
        return ParsedLogRequest(
            task, animal, LogRequest(log_request, name, task.stem, outcome, on, at, note=note)
        )
    amount = _amount(task, due, posted, units) if outcome == LogEntry.Outcome.DONE else None
    products = task.products if outcome == LogEntry.Outcome.DONE else ()
    return ParsedLogRequest(
        task,
        animal,
        LogRequest(log_request, name, task.stem, outcome, on, at, amount, products, note, how),
    )


def age(text: str) -> dt.timedelta:
    """How long the log request has waited in the page: its clock is not trusted, the time between
    is.
    """
    try:
        waited = dt.timedelta(seconds=max(float(text or 0), 0.0))
    except (ValueError, OverflowError):
        return dt.timedelta(0)
    return waited if waited <= LATEST else dt.timedelta(0)


def _quantity(text: str, kind: Kind, units: Units, *, small: bool = False) -> Typed:
    try:
        return read(text, kind, units, small=small)
    except EntryError as why:
        raise WrongError(str(why)) from None


def _amount(task: Task, due: Due, posted: Mapping[str, str], units: Units) -> float | None:
    kind = TASK_KINDS[task.kind]
    if kind.amount is None:
        return None
    text = posted.get("amount", "").strip()[:60]
    if task.kind == "weigh":
        return _weight(task, due, posted, text, units)
    if not text:
        return task.amount
    value = _quantity(text, kind.amount, units, small=task.kind == "mist").value
    if task.kind == "mist":
        value *= 1000
    if value < 0:
        raise WrongError("An amount is counted from nothing up.")
    if task.amount and value > kind.most_times * task.amount:
        raise WrongError(
            f"That is more than {kind.most_times:g} times the usual: look at the unit."
        )
    return value


def _weight(task: Task, due: Due, posted: Mapping[str, str], text: str, units: Units) -> float:
    if task.animal is None or due.routines is None:
        raise ImpossibleStateError("missing: task.animal, due.routines")
    if not text:
        raise WrongError("Write what the scale shows.")
    gross = _quantity(text, Kind.MASS, units)
    tare_text = posted.get("tare", "").strip()[:60]
    tare = _quantity(tare_text, Kind.MASS, units).value if tare_text else 0.0
    step_text = posted.get("step", "").strip()[:60]
    step = _quantity(step_text, Kind.MASS, units).value if step_text else None
    found = weigh(gross.value, tare, step)
    if found.mass_g <= 0:
        raise WrongError("Nothing is left for the animal: are the two exchanged?")
    if found.coarse and posted.get("sure") != "yes":
        least = show(found.shows_g, Kind.MASS, units)
        raise WrongError(
            f"Such a scale shows no change of less than {least}: too coarse for it. Tick “sure” to"
            " log it all the same."
        )
    entry = read(f"{found.mass_g} g", Kind.MASS, units) if tare else gross
    animal = due.animals[task.animal]
    doubt = doubt_of_mass(
        entry, animal, find(animal.species), on=due.today, units=units, beside=BESIDE_WEIGHING
    )
    if doubt is not None and doubt.refused:
        raise WrongError(doubt.sentence)
    if doubt is not None and posted.get("sure") != "yes":
        raise WrongError(f"{doubt.sentence} Tick “sure” if it is so, and look at the animal.")
    return found.mass_g
