"""Work for a worker, queued by the name of its task: an app need not know the module that does it."""

import contextlib
import logging
import os
import threading
from collections.abc import Iterator
from typing import Any

from django.db import transaction
from procrastinate.contrib.django import app
from procrastinate.exceptions import AlreadyEnqueued

from ridgeback.households.models import Household

log = logging.getLogger("ridgeback.jobs")


def defer(task: str, *, lock: str | None = None, **arguments: Any) -> None:
    """Queue a task in the present transaction; those of one lock run one after another."""
    app.configure_task(task, lock=lock).defer(**arguments)


@contextlib.contextmanager
def deadline(seconds: float, what: str, pk: int) -> Iterator[None]:
    """End this worker when a piece of work takes too long; whoever runs it starts another.

    Nothing else stops a thread that computes. What it was at is taken over as after a power cut, so
    the work must know how often it was begun.
    """
    timer = threading.Timer(seconds, end_worker, [what, pk])
    timer.daemon = True
    timer.start()
    try:
        yield
    finally:
        timer.cancel()


def end_worker(what: str, pk: int) -> None:
    """End this process at once."""
    log.error("took too long", extra={"what": what, "key": pk})
    os._exit(70)


def _defer_once(task: str, name: str, household: Household) -> None:
    """Queue a task of a household: one waiting at the most, and one at work."""
    lock = f"{name}-{household.pk}"
    with contextlib.suppress(AlreadyEnqueued), transaction.atomic():
        app.configure_task(task, lock=lock, queueing_lock=lock).defer(household=household.pk)


def ask_for_correction(review: int, household: int) -> None:
    """Queue the corrected enclosure of a review; once, however many ask, and one at a time of a
    household.
    """
    once, share = f"correction-{review}", f"corrections-{household}"
    with contextlib.suppress(AlreadyEnqueued), transaction.atomic():
        app.configure_task("correct_review", lock=share, queueing_lock=once).defer(review=review)


def ask_for_plans(household: Household) -> None:
    """Queue the plans that the list still misses; once, however many pages ask."""
    _defer_once("make_plans", "plans", household)


def ask_for_lives(household: Household) -> None:
    """Queue what the forecast misses of this household's animals; once, however many ask."""
    _defer_once("work_out_lives", "lives", household)
