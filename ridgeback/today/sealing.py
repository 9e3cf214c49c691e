"""A task as it was shown, signed: a plain log request on it is written without asking the database
what is due. The same idea as the layout editor's seal.

What makes it safe: the signature is ours, it names household and day, and the database lets a task
of a day stand once.
"""

import datetime as dt
import uuid
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from django.core import signing

from husbandry.handling.taming import HOW
from husbandry.tasks.kinds import TASK_KINDS
from husbandry.tasks.supplies import taken
from husbandry.tasks.task import Task
from ridgeback import clock
from ridgeback.animals.models import Animal
from ridgeback.log.flows import EntrySubject, LogRequest
from ridgeback.log.models import LogEntry
from ridgeback.tasks.due_tasks import Due, task_name

SALT = "ridgeback.today.task"
KEPT_S = 26 * 3600
"""A page stays open over a day's round, and a log request may wait a day for its network [s]."""


@dataclass(frozen=True)
class SealedTask:
    """What a plain log request needs, read back."""

    where: EntrySubject
    log_request: LogRequest
    wants: dict[str, float]
    """What a meal takes from the food supplies."""
    who: str
    zone: str


def seal(due: Due, task: Task, animal: Animal | None, shown: str) -> str:
    """A task as it is shown today, signed; empty for what a log request alone cannot say.

    Parameters
    ----------
    shown : str
        Its amount as the field shows it: typed otherwise, the log request is read the long way.
    """
    if not TASK_KINDS[task.kind].plain:
        return ""
    return signing.dumps(
        {
            "w": [due.enclosure.household_id, due.enclosure.pk, animal.pk if animal else None],
            "c": task_name(due.enclosure, animal, task),
            "s": task.stem,
            "k": task.kind,
            "d": due.today.isoformat(),
            "a": task.amount,
            "t": shown,
            "p": list(task.products),
            "l": taken(task),
            "n": animal.name if animal is not None and len(due.animals) > 1 else "",
            "z": due.enclosure.room.time_zone,
            "o": task.title,
        },
        salt=SALT,
    )


def unseal(posted: Mapping[str, str], household: int | None, at: dt.datetime) -> SealedTask | None:
    """A plain log request on a sealed task of this household and day; None for anything else, which
    is then read the long way.

    Parameters
    ----------
    at : datetime
        When it was tapped.
    """
    outcome = posted.get("outcome", "done")
    if (
        posted.get("note", "").strip()
        or not posted.get("sealed")
        or (outcome != "done" and outcome not in HOW)
    ):
        return None
    try:
        told: dict[str, Any] = signing.loads(posted["sealed"], salt=SALT, max_age=KEPT_S)
        log_request = uuid.UUID(posted.get("log_request", ""))
    except (signing.BadSignature, ValueError):
        return None
    home, enclosure_pk, animal = told["w"]
    on = clock.day_in(told["z"], at)
    tamed = told["k"] == "tame"
    if (
        home != household
        or told["c"] != posted.get("task")
        or on.isoformat() != told["d"]
        or tamed != (outcome in HOW)
    ):
        return None
    if posted.get("amount", told["t"]).strip() != told["t"]:
        return None
    written = LogRequest(
        log_request,
        told["c"],
        told["s"],
        LogEntry.Outcome.DONE,
        on,
        at,
        told["a"],
        tuple(told["p"]),
        note=told["o"],
        how=outcome if tamed else "",
    )
    return SealedTask(
        EntrySubject(home, enclosure_pk, animal), written, told["l"], told["n"], told["z"]
    )
