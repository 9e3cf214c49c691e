"""One tap for a whole shelf: the same task in every enclosure that stands there.

Whoever refused or was passed over is logged first; the tap then covers the rest. An animal in
quarantine is tended last and with its own tools, so no tap for the others covers it.
"""

import uuid
from collections.abc import Iterator, Sequence

from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import redirect
from django.views.decorators.http import require_POST

from husbandry.tasks.kinds import TASK_KINDS
from husbandry.tasks.supplies import taken
from husbandry.tasks.task import Task
from ridgeback.clock import now
from ridgeback.households.middleware import KeeperRequest
from ridgeback.log import flows
from ridgeback.log.models import LogEntry
from ridgeback.posting import plain_words, posted_key
from ridgeback.supplies import flows as stock
from ridgeback.tasks.due_tasks import Due, gather, task_name
from ridgeback.today.presenting import TOGETHER
from ridgeback.today.task_logging import NotDueError, WrongError, understand


def _due_of_shelf(
    due_lists: Sequence[Due], room: int, shelf: str, kind: str
) -> Iterator[tuple[Due, Task]]:
    for due in due_lists:
        here = due.enclosure.room_id == room and due.enclosure.shelf == shelf
        if here and not due.enclosure.apart(due.today):
            yield from ((due, task) for task in due.tasks if task.kind == kind)


@require_POST
def log_shelf(request: KeeperRequest) -> HttpResponse:
    """Log a task as done in every enclosure of a shelf where it is still due."""
    kind = plain_words(request.POST.get("kind", ""), 20)
    shelf = plain_words(request.POST.get("shelf", ""), 80)
    count = 0
    if kind in TOGETHER:
        due_lists = gather(request.household, now())
        for due, task in list(_due_of_shelf(due_lists, posted_key(request, "room"), shelf, kind)):
            count += _log(request, due, task)
    if count:
        messages.success(request, f"{TASK_KINDS[kind].done.capitalize()}: {count} logged.")
    else:
        messages.info(request, "Nothing of that is due there any more.")
    return redirect("today:page")


def _log(request: KeeperRequest, due: Due, task: Task) -> bool:
    """Log one of them as its own button would. False where somebody was faster."""
    at = now()
    animal = due.animal_of(task)
    posted = {
        "task": task_name(due.enclosure, animal, task),
        "log_request": str(uuid.uuid4()),
        "outcome": LogEntry.Outcome.DONE.value,
    }
    try:
        understood = understand(due, posted, request.units, at)
    except (NotDueError, WrongError):
        return False

    def off_the_stock(written: LogEntry) -> None:
        wants = taken(understood.task, written.amount)
        stock.take(due.enclosure.household_id, written, wants, request.user, at)

    _, mine = flows.write(
        due.enclosure,
        understood.animal,
        understood.log_request,
        keeper=request.user,
        now=at,
        also=off_the_stock if task.kind == "feed" else None,
    )
    return mine
