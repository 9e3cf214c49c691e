"""Asking for work. What is asked and what is queued stand or fall together."""

import datetime as dt
import uuid

from django.db import transaction

from husbandry.quantity import Units
from ridgeback.animals.models import Animal
from ridgeback.building.pending_work import works_of
from ridgeback.enclosures.models import Enclosure
from ridgeback.enclosures.planning import key_of
from ridgeback.households.models import Household, Keeper
from ridgeback.jobs.limits import queue
from ridgeback.jobs.models import Job
from ridgeback.units import spelled


@transaction.atomic
def ask_for_sheet(enclosure: Enclosure, keeper: Keeper, units: Units, now: dt.datetime) -> Job:
    """Queue the sheet of an enclosure as it is today; the job that is there when the same was asked
    before. A failed one is tried again.
    """
    state = enclosure.head.state if enclosure.head else ""
    asked = enclosure.request_data(now)
    key = key_of("sheet", [asked, enclosure.pk, enclosure.name, state, spelled(units)])
    job, new = Job.objects.select_for_update().get_or_create(
        household=enclosure.household,
        key=key,
        defaults={
            "enclosure": enclosure,
            "asked": asked,
            "asked_by": keeper,
            "units": spelled(units),
        },
    )
    if new or job.state == Job.State.FAILED:
        _wait(job, "make_sheet")
    return job


@transaction.atomic
def ask_for_build(
    enclosure: Enclosure, keeper: Keeper, units: Units, now: dt.datetime, since: str = ""
) -> Job:
    """Queue the sheet of a build, or of a change (`works_of`), as it is today; the one that is
    there when the same was asked before.
    """
    asked = {"request": enclosure.request_data(now), **works_of(enclosure, since).works.asked_as()}
    money = [enclosure.household.currency, enclosure.household.euro_rate]
    job, new = Job.objects.select_for_update().get_or_create(
        household=enclosure.household,
        key=key_of("build", [asked, enclosure.pk, enclosure.name, money, spelled(units)]),
        defaults={
            "enclosure": enclosure,
            "asked": asked,
            "asked_by": keeper,
            "units": spelled(units),
            "kind": Job.Kind.BUILD,
        },
    )
    if new or job.state == Job.State.FAILED:
        _wait(job, "make_sheet")
    return job


@transaction.atomic
def ask_for_paper(
    household: Household, keeper: Keeper, units: Units, paper: str, asked: dict[str, str]
) -> Job:
    """Queue a paper of the whole household as PDF.

    Parameters
    ----------
    paper : str
        “sitter” or “card”.
    asked : dict
        Its size, and its days.
    """
    job = Job.objects.create(
        household=household,
        key=key_of("paper", [paper, asked, str(uuid.uuid4())]),
        asked={"paper": paper, **asked},
        asked_by=keeper,
        units=spelled(units),
        kind=Job.Kind.PAPER,
    )
    queue(job, "make_sheet")
    return job


@transaction.atomic
def ask_for_archive(household: Household, keeper: Keeper, animal: Animal | None = None) -> Job:
    """Queue the whole household as one file, or one animal with its history; the one before it
    goes.
    """
    asked = {} if animal is None else {"animal": animal.pk, "name": animal.name}
    Job.objects.filter(household=household, kind=Job.Kind.ARCHIVE, asked=asked).delete()
    job = Job.objects.create(
        household=household,
        key=key_of("archive", [str(uuid.uuid4())]),
        asked=asked,
        asked_by=keeper,
        units=spelled(keeper.units),
        kind=Job.Kind.ARCHIVE,
    )
    queue(job, "make_archive")
    return job


@transaction.atomic
def ask_for_setups(
    enclosure: Enclosure, keeper: Keeper, units: Units, now: dt.datetime, *, vary: bool = False
) -> Job:
    """Queue a search for setups of an enclosure as it is today, of other enclosures too where
    `vary`; the one that is there when the same was asked before.
    """
    asked = {"request": enclosure.request_data(now), "vary": vary}
    job, new = Job.objects.select_for_update().get_or_create(
        household=enclosure.household,
        key=key_of("setups", [asked, enclosure.pk]),
        defaults={
            "enclosure": enclosure,
            "asked": asked,
            "asked_by": keeper,
            "units": spelled(units),
            "kind": Job.Kind.SETUPS,
        },
    )
    if new or job.state in {Job.State.FAILED, Job.State.STOPPED}:
        _wait(job, "find_setup")
    return job


def _wait(job: Job, task: str) -> None:
    """Queue a job that is new, or that is asked for once more."""
    anew = {"state": Job.State.WAITING, "progress_pct": 0, "said": "", "tries": 0}
    Job.objects.filter(pk=job.pk).update(**anew)
    queue(job, task)


def stop(job: Job, now: dt.datetime) -> bool:
    """Stop what is not done yet. False when there was nothing to stop."""
    going = Job.objects.filter(pk=job.pk, state__in=[Job.State.WAITING, Job.State.RUNNING])
    return bool(going.update(state=Job.State.STOPPED, said="", finished_at=now))
