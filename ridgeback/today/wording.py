"""A task in words: what, how much, with what, and the verb on its button."""

import datetime as dt
from typing import NamedTuple, cast

from husbandry.errors import ImpossibleStateError
from husbandry.feeding.condition import SCORE_WORDS as CONDITION
from husbandry.feeding.serving import served
from husbandry.handling.taming import HOW, How, steps_for
from husbandry.quantity import Kind, Units, show
from husbandry.species.needs import NEEDS, in_sentence
from husbandry.tasks.kinds import TASK_KINDS
from husbandry.tasks.routines import AnimalRoutine, RoutineMealPart, Routines
from husbandry.tasks.task import Task
from ridgeback.log.models import LogEntry
from ridgeback.sentences import plural, supplement
from ridgeback.tasks.models import every_words


class TaskWording(NamedTuple):
    """A task in words."""

    title: str
    small: str
    verb: str


def helping_text(part: RoutineMealPart, units: Units) -> str:
    """A part of a meal: whole animals by number, the rest by mass."""
    if part.count is None:
        return f"{show(part.grams, Kind.MASS, units)} {part.name}"
    wide = (
        f", at most {show(part.widest_mm / 1000, Kind.LENGTH, units, small=True)} wide"
        if part.widest_mm
        else ""
    )
    return f"{part.count} {part.name if part.count == 1 else plural(part.name)}{wide}"


def _feed(task: Task, units: Units) -> TaskWording:
    if task.meal is None:
        raise ImpossibleStateError("missing: task.meal")
    meal = task.meal
    title = "; ".join(helping_text(part, units) for part in meal.helpings)
    said = []
    if task.products:
        coat = (
            f", {supplement(meal.supplement_mg)} for it all"
            if meal.supplement_mg and task.products == ("calcium",)
            else ""
        )
        said.append(f"dust: {' and '.join(task.products)}, a light even coat{coat}")
        moved = [reason for reason in task.reasons if reason.startswith("due")]
        said += [
            reason.replace("due ", "was due ", 1).replace(
                "moved to the nearest meal", "not given yet"
            )
            for reason in moved
        ]
    elif meal.carries:
        said.append("no supplement today")
    said += served((part.food for part in meal.helpings), aquatic=meal.aquatic, live=meal.live)
    said += meal.because
    if task.quiet:
        said.append("first week: set it down and go")
    whole = [part for part in meal.helpings if part.count is not None]
    verb = (
        f"Fed {whole[0].count}"
        if len(meal.helpings) == 1 and whole
        else "Fed"
        if whole
        else "Given"
    )
    return TaskWording(title[0].upper() + title[1:], " · ".join(said), verb)


def _weigh(
    task: Task, animal: AnimalRoutine, weighed: dt.date | None, today: dt.date, units: Units
) -> TaskWording:
    since = (
        f"{(today - weighed).days} days since {show(animal.mass_g, Kind.MASS, units)}; "
        if weighed and animal.mass_known
        else "never weighed; "
    )
    step = show(animal.steps_g, Kind.MASS, units, digits=1 if animal.steps_g < 10 else 0)
    if task.resting:
        return TaskWording(
            "Weigh, in its rest", f"{since}short and cool, without waking it further", "Weigh"
        )
    return TaskWording(
        "Weigh", f"{since}before food, on a scale with steps of {step} or finer", "Weigh"
    )


def _read(task: Task, units: Units) -> TaskWording:
    names = [
        in_sentence(NEEDS[key].name)
        + (" by night" if NEEDS[key].phase == "night" and "night" not in key else "")
        for key in task.needs
    ]
    title = f"Read {', '.join(dict.fromkeys(names))}"
    return TaskWording(title, "what was read is too old to judge by", "Read")


def _mist(task: Task, units: Units) -> TaskWording:
    amount = show(_amount(task) / 1000, Kind.VOLUME, units, small=True)
    return TaskWording(f"Mist {amount}, at {task.at}", "leaves and walls, never a lamp", "Misted")


def _pool(task: Task, units: Units) -> TaskWording:
    title = f"Change {show(_amount(task), Kind.VOLUME, units)} of the pool"
    return TaskWording(title, "conditioned, and as warm as what stays", "Changed")


def _amount(task: Task) -> float:
    if task.amount is None:
        raise ImpossibleStateError(f"a task of the kind {task.kind!r} has an amount")
    return task.amount


def _treatment(task: Task, units: Units) -> TaskWording:
    given = task.treatment
    if given is None:
        raise ImpossibleStateError("a treatment says what is given")
    missed = (
        f"{task.missed:%-d %B} is not logged: never two at once, ask {given.by}. "
        if task.missed
        else ""
    )
    until = f"{missed}as {given.by} prescribed, until {given.ends:%-d %B}"
    return TaskWording(given.words, until, "Given")


def _enrich(task: Task, units: Units) -> TaskWording:
    title = f"Enrichment: {task.idea[0].lower()}{task.idea[1:]}"
    return TaskWording(title, "watch whether it is used", "Done")


def _soak(animal: AnimalRoutine, units: Units) -> TaskWording:
    soak = animal.soak
    if soak is None:
        raise ImpossibleStateError("one that is soaked says how")
    low, high = soak.minutes
    minutes = f"{low:g} minutes" if low == high else f"{low:g} to {high:g} minutes"
    warm = " to ".join(
        show(end, Kind.TEMPERATURE, units, digits=0, unit=n == 1)
        for n, end in enumerate(soak.water_c)
    )
    deep = show(soak.depth_m, Kind.LENGTH, units, digits=1)
    note = "; ".join(
        part for part in (f"{deep} deep, {warm}", soak.look, "stay beside it") if part
    )

    return TaskWording(f"Soak {minutes}", note, "Soaked")


def _body_check(task: Task, animal: AnimalRoutine) -> TaskWording:
    """A look at toes after a shed, or at claws and beak."""
    if task.kind == "toes":
        note = f"{animal.shed_words}; soften in a moist hide, never pull"
        return TaskWording(TASK_KINDS["toes"].title, note, "Checked")
    return TaskWording(animal.nails, "what is too long is cut by who has learned it", "Checked")


def _tame(task: Task, animal: AnimalRoutine) -> TaskWording:
    if task.step is None:
        raise ImpossibleStateError("a session has its step")
    step = steps_for(whole_prey=animal.whole_prey)[task.step]
    title = f"Handling: {step.name.lower()}, {step.minutes} minutes"
    return TaskWording(title, f"{step.does} Stop before it objects.", "Calm")


def _own(task: Task, units: Units) -> TaskWording:
    pace = f"your own task, {every_words(task.every_days)}" if task.every_days else "your own task"
    return TaskWording(task.title, pace, "Done")


OF_THE_TASK = {
    "read": _read,
    "feed": _feed,
    "mist": _mist,
    "pool": _pool,
    "treatment": _treatment,
    "enrich": _enrich,
    "own": _own,
}
"""Kinds whose words follow from the task alone."""
OF_THE_ANIMAL = frozenset({"soak", "weigh", "tame"})
"""Kinds whose words need its animal."""


def said_of(
    task: Task, routines: Routines, weighed: dt.date | None, today: dt.date, units: Units
) -> TaskWording:
    """A task in words.

    Parameters
    ----------
    weighed : date or None
        On which its animal was weighed last.
    """
    kind = TASK_KINDS[task.kind]
    if task.kind == "look" and routines.moss:
        return TaskWording(kind.title, f"{kind.note}, moist hide still damp", kind.button)
    if task.kind in {"toes", "nails"} and task.animal is not None:
        return _body_check(task, routines.animals[task.animal])
    if kind.title:
        return TaskWording(kind.title, kind.note, kind.button)
    if task.kind in OF_THE_TASK:
        return OF_THE_TASK[task.kind](task, units)
    if task.animal is None:
        raise ImpossibleStateError(f"a task of the kind {task.kind!r} has an animal")
    animal = routines.animals[task.animal]
    match task.kind:
        case "soak":
            return _soak(animal, units)
        case "weigh":
            return _weigh(task, animal, weighed, today, units)
        case "tame":
            return _tame(task, animal)
    raise ImpossibleStateError(f"a task of the kind {task.kind!r} has no words")


DONE = {slug: kind.done for slug, kind in TASK_KINDS.items()} | {
    "sign": "unwell",
    "behaviour": "seen",
}
"""What was done, by the first word of a stem; of two words where that is a task of its own."""


def entry_text(entry: LogEntry, units: Units) -> str:
    """An entry in words, without who and when."""
    word = entry.stem if entry.stem in DONE else entry.stem.split(" ")[0]
    done = DONE.get(word, entry.stem)

    if word == "own":
        done = entry.note

        return (
            f"not today: {done}" if entry.outcome == LogEntry.Outcome.SKIPPED else f"done: {done}"
        )

    if entry.outcome == LogEntry.Outcome.SKIPPED:
        return f"not {done} today: {entry.note}"

    if entry.outcome == LogEntry.Outcome.REFUSED:
        return f"offered food, refused{f': {entry.note}' if entry.note else ''}"

    if word == "mist" and entry.amount:
        done = f"{done} {show(entry.amount / 1000, Kind.VOLUME, units, small=True)}"
    elif word == "pool" and entry.amount:
        done = f"{done}, {show(entry.amount, Kind.VOLUME, units)}"
    elif entry.amount and word in {"feed", "weigh"}:
        done = f"{done} {show(entry.amount, Kind.MASS, units)}"
    elif word == "body" and entry.amount:
        done = f"condition {entry.amount:.0f} of 5, {CONDITION[round(entry.amount)]}"
    elif word == "tame" and entry.how:
        done = f"{done}: {HOW[cast(How, entry.how)]}"
    dusted = f" with {' and '.join(entry.products)}" if entry.products else ""

    return f"{done}{dusted}{f' ({entry.note})' if entry.note else ''}"
