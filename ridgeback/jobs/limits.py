"""How long work may take, how often it is begun, and who is next: no household holds up another."""

import contextlib
import logging
from typing import Any

from django.db.models import F
from procrastinate.contrib.django import app

from ridgeback.background import deadline
from ridgeback.households.models import Household
from ridgeback.jobs.models import Job

log = logging.getLogger("ridgeback.jobs")
MOST_WAITING = 40
"""Papers, searches and files of one household that wait at once (design choice)."""
MOST_TRIES = 5
"""So often a job is begun: one that kills its worker each time is given up (design choice)."""
MOST_S = {
    Job.Kind.SHEET: 120.0,
    Job.Kind.BUILD: 120.0,
    Job.Kind.PAPER: 120.0,
    Job.Kind.SETUPS: 300.0,
    Job.Kind.ARCHIVE: 900.0,
}
"""A job that takes longer ends with its worker, which is started anew (design choice) [s]."""
URGENCY = {
    Job.Kind.SHEET: 0,
    Job.Kind.BUILD: 0,
    Job.Kind.PAPER: 0,
    Job.Kind.SETUPS: -100,
    Job.Kind.ARCHIVE: -200,
}
"""Priority in the queue of what somebody waits for; alarms are before it, tidying after it."""
FAIR_STEPS = 50
"""A household's next job is one step behind its last, so many steps at the most: the first of each other
household comes before it (design choice)."""
TOO_LONG = "It took too long, again and again, and was given up."


class QueueFullError(Exception):
    """A household has as much waiting as it may."""


def going(household: Household) -> Any:
    """Jobs of a household that wait or run, the oldest first."""
    states = [Job.State.WAITING, Job.State.RUNNING]
    return Job.objects.filter(household=household, state__in=states).order_by("asked_at")


def queue(job: Job, task: str) -> None:
    """Queue a job behind what its household has waiting, in the present transaction.

    A household's searches and files run one at a time, so that they never hold every worker.

    Raises
    ------
    QueueFullError
        When its household has as much waiting as it may; the transaction is rolled back.
    """
    kind = Job.Kind(job.kind)
    ahead = going(job.household).exclude(pk=job.pk).count()
    if ahead >= MOST_WAITING:
        raise QueueFullError
    is_long = URGENCY[kind] < 0
    app.configure_task(
        task,
        priority=URGENCY[kind] - min(ahead, FAIR_STEPS),
        lock=f"long-{job.household_id}" if is_long else None,
    ).defer(job=job.pk)


def begin(pk: int) -> Job | None:
    """A job that is to be made now; None where it is done, stopped, or was begun too often."""
    known = Job.objects.filter(pk=pk, state__in=[Job.State.WAITING, Job.State.RUNNING])
    failed = Job.objects.filter(
        pk=pk, state=Job.State.FAILED
    )  # it is tried once more by the queue
    job = known.first() or failed.first()
    if job is None:
        return None
    if job.tries >= MOST_TRIES:
        Job.objects.filter(pk=pk).update(state=Job.State.FAILED, said=TOO_LONG)
        log.error("job given up", extra={"job": pk, "tries": job.tries})
        return None
    Job.objects.filter(pk=pk).update(tries=F("tries") + 1)

    return job


def limited(job: Job) -> contextlib.AbstractContextManager[None]:
    """End this worker when a job takes too long; the next one tries again."""
    return deadline(MOST_S[Job.Kind(job.kind)], "job", job.pk)
