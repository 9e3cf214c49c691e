"""What workers do.

Each task may be killed at any point and run again: it looks first at what is done.
"""

import datetime as dt
import logging
from functools import partial
from typing import Any

from django.conf import settings
from django.db import transaction
from procrastinate.contrib.django import app

from husbandry.documents.request_json import from_data
from husbandry.setups.search import find_setups
from ridgeback import clock
from ridgeback.accounts.flows import close_due
from ridgeback.alarms.flows import end_unwatched, watch_household, watched_households
from ridgeback.alarms.flows import look_again as look_at_channels
from ridgeback.alarms.messages import send_due
from ridgeback.animal_pages.lives import work_out
from ridgeback.animals.models import Animal
from ridgeback.archive.writing import animal_archive, archive_of
from ridgeback.calculation import attempt
from ridgeback.demo.visits import sweep
from ridgeback.digests.flows import write_due
from ridgeback.enclosure_pages.listing import look_again
from ridgeback.enclosures.models import Derived, Enclosure
from ridgeback.enclosures.planning import key_of, planned, recall
from ridgeback.households.models import Household
from ridgeback.jobs.archive_papers import archive_papers
from ridgeback.jobs.limits import begin, limited
from ridgeback.jobs.models import Job
from ridgeback.jobs.sheet import build_html, paper_html, sheet_html, sheet_pdf
from ridgeback.permits import flows as permits
from ridgeback.photos import stores
from ridgeback.photos.flows import make_small
from ridgeback.records.day_readings import read_all
from ridgeback.records.flows import read_waiting
from ridgeback.records.models import Channel
from ridgeback.records.store import drop_months
from ridgeback.reviews.flows import correct, make_photo_small
from ridgeback.submissions.models import Submission
from ridgeback.units import unspelled

log = logging.getLogger("ridgeback.jobs")
KEEP_DERIVED = dt.timedelta(days=14)
ALL_MIN = 10
"""Between two looks at every channel that a device sends (design choice) [min]."""
SILENT_S = 20
"""A worker that has not been heard of for so long is taken for dead, and its work given to another
[s].
"""


def _progress(job: Job, percent: int, said: str) -> None:
    Job.objects.filter(pk=job.pk).update(state=Job.State.RUNNING, progress_pct=percent, said=said)


def _html(job: Job) -> str:
    """The document of a sheet, a build or a paper."""
    units = unspelled(job.units)
    if job.kind == Job.Kind.PAPER:
        return paper_html(job.household, job.asked, units, job.asked_at)
    own = Enclosure.objects.of(job.household).for_planning()
    enclosure = own.get(jobs=job)
    if job.kind == Job.Kind.BUILD:
        return build_html(enclosure, job.asked, units, job.asked_at)
    made = planned(from_data(job.asked))
    _progress(job, 40, "drawing")
    return sheet_html(enclosure, made, units, job.asked_at)


@app.task(name="make_sheet", retry=2)
def make_sheet(job: int) -> None:
    """Set the sheet of an enclosure, of its build, or a paper of the household into PDF.

    A job that is done stays as it is.
    """
    known = begin(job)
    if known is None:
        return
    try:
        with limited(known):
            _progress(known, 10, "planning the enclosure")
            html = _html(known)
            _progress(known, 60, "setting the pages")
            pdf = sheet_pdf(html, known.household)
        with transaction.atomic():
            waiting = Job.objects.select_for_update().filter(pk=job).exclude(state=Job.State.DONE)
            waiting.update(
                state=Job.State.DONE, progress_pct=100, said="", made=pdf, finished_at=clock.now()
            )
    except Exception:
        Job.objects.filter(pk=job).exclude(state=Job.State.DONE).update(
            state=Job.State.FAILED, said="It could not be made."
        )
        log.exception("sheet failed", extra={"job": job})
        raise
    log.info("sheet made", extra={"job": job, "bytes": len(pdf)})


@app.task(name="make_archive", retry=2)
def make_archive(job: int) -> None:
    """Write a household, or one animal of it, into one file. A job that is done stays as it is."""
    known = begin(job)
    if known is None:
        return
    _progress(known, 20, "collecting every row")
    try:
        animal = known.asked.get("animal")
        with limited(known):
            if animal is None:
                units = unspelled(known.units)
                made = archive_of(
                    known.household, archive_papers(known.household, units, known.asked_at)
                )
            else:
                made = animal_archive(Animal.objects.of(known.household).get(pk=animal))
    except Exception:
        Job.objects.filter(pk=job).update(state=Job.State.FAILED, said="It could not be made.")
        log.exception("archive failed", extra={"job": job})
        raise
    done = {"state": Job.State.DONE, "progress_pct": 100, "said": "", "made": made}
    Job.objects.filter(pk=job).update(**done, finished_at=clock.now())


@app.task(name="find_setup", retry=1)
def find_setup(job: int) -> None:
    """Search setups for an enclosure.

    Whoever asked may stop it: it is looked up between the steps of the search.
    """
    known = begin(job)
    if known is None:
        return

    def progress(share: float, said: str) -> bool:
        going = Job.objects.filter(pk=job).exclude(state=Job.State.STOPPED)
        return bool(
            going.update(
                state=Job.State.RUNNING, progress_pct=min(int(100 * share), 99), said=said[:200]
            )
        )

    try:
        asked = known.asked
        with limited(known):
            found = find_setups(from_data(asked["request"]), progress, vary=asked["vary"])
        with transaction.atomic():
            waiting = (
                Job.objects.select_for_update()
                .filter(pk=job)
                .exclude(state__in=[Job.State.DONE, Job.State.STOPPED])
            )
            body = found.model_dump_json(exclude_none=True).encode()
            waiting.update(
                state=Job.State.DONE, progress_pct=100, said="", made=body, finished_at=clock.now()
            )
    except Exception:
        going = Job.objects.filter(pk=job).exclude(state__in=[Job.State.DONE, Job.State.STOPPED])
        going.update(state=Job.State.FAILED, said="The search broke off.")
        log.exception("search failed", extra={"job": job})
        raise
    log.info("setups searched", extra={"job": job, "planned": found.planned})


@app.task(name="shrink_picture", priority=10, retry=2)
def shrink_picture(picture: int) -> None:
    """Make an uploaded photo small."""
    make_small(picture)


@app.task(name="rewrite_scan", priority=10, retry=2)
def rewrite_scan(document: int) -> None:
    """Write a scan that came as PDF anew."""
    permits.rewrite_scan(document)


@app.task(name="shrink_review_photo", priority=10, retry=2)
def shrink_review_photo(review: int) -> None:
    """Make the photo of a review small."""
    make_photo_small(review)


@app.task(name="correct_review", priority=-20, retry=2)
def correct_review(review: int) -> None:
    """Put the enclosure of a review right."""
    correct(review)


@app.task(name="read_logger_file", priority=-20, retry=3)
def read_logger_file(file: int) -> None:
    """Import a logger's file."""
    read_waiting(file)


@app.task(name="make_plans", priority=5)
def make_plans(household: int) -> None:
    """Plan every enclosure of a household whose plan is not remembered, the most urgent first."""
    own = Household.objects.filter(pk=household).first()
    now = clock.now()
    for enclosure in Enclosure.objects.of(own).in_use().for_planning().order_by("-urgency", "pk"):
        if not enclosure.present:
            continue
        attempt(partial(_plan, enclosure, now), "enclosure", enclosure.pk)  # its page says why not
    while own is not None and look_again(own, now):
        pass


def _plan(enclosure: Enclosure, now: dt.datetime) -> None:
    """Plan an enclosure whose plan is not remembered."""
    request = enclosure.request_at(now)
    if not recall([key_of("plan", request.model_dump(mode="json", exclude_none=True))]):
        planned(request)


@app.task(name="work_out_lives", priority=-50)
def work_out_lives(household: int) -> None:
    """Growth, stages and enclosures of every animal whose next year is not remembered: a weight
    came in, a month began.
    """
    own = Household.objects.filter(pk=household).first()
    if own is not None:
        work_out(own, own.day_of(clock.now()))


@app.periodic(cron="* * * * * */15")
@app.task(name="take_over", priority=200, queueing_lock="take_over", pass_context=True)
async def take_over(context: Any, timestamp: int) -> None:
    """Give the work of workers that died to the living."""
    for job in await app.job_manager.get_stalled_jobs(seconds_since_heartbeat=SILENT_S):
        log.warning("taken over", extra={"job": job.id})
        await app.job_manager.retry_job(job)


@app.periodic(cron="47 3 * * *")
@app.task(name="tidy_queue", priority=-300, queueing_lock="tidy_queue", pass_context=True)
async def tidy_queue(context: Any, timestamp: int) -> None:
    """The queue's own rows of finished work go after two days: `take_over` alone leaves thousands a
    day.
    """
    await app.job_manager.delete_old_jobs(nb_hours=48)


@app.periodic(cron="17 3 * * *")
@app.task(name="forget", priority=-300, queueing_lock="forget")
def forget(timestamp: int) -> None:
    """Old memories and old sheets go; both are made again when they are asked for."""
    old = clock.now() - KEEP_DERIVED
    Derived.objects.filter(made_at__lt=old).delete()
    Submission.objects.filter(sent_at__lt=old).delete()
    if settings.SAMPLES_KEPT_MONTHS:
        kept = dt.timedelta(days=31 * settings.SAMPLES_KEPT_MONTHS)
        drop_months((clock.now() - kept).date())
    Job.objects.filter(finished_at__lt=old).delete()


@app.periodic(cron="27 3 * * *")
@app.task(name="sweep_store", queueing_lock="sweep_store", priority=-300)
def sweep_store(timestamp: int) -> None:
    """Take away the pictures in the store that no row names any more."""
    gone = stores.sweep(clock.now())
    if gone:
        log.info("store swept", extra={"objects": gone})


@app.periodic(cron="37 * * * *")
@app.task(name="close_accounts", priority=-300, queueing_lock="close_accounts")
def close_accounts(timestamp: int) -> None:
    """Delete the accounts whose week of grace is over."""
    close_due(clock.now())


@app.task(name="watch_channels", priority=100)
def watch_channels(channels: list[int]) -> None:
    """Look at channels that just got values, and tell of what is wrong."""
    now = clock.now()
    look_at_channels(channels, now)
    send_due(now)


@app.task(name="read_days", priority=-50)
def read_days(enclosures: list[int]) -> None:
    """Turn the last logged days of some enclosures into readings."""
    read_all(enclosures, clock.now())


@app.periodic(cron="11 * * * *")
@app.task(name="read_live_days", priority=-50, queueing_lock="read_live_days")
def read_live_days(timestamp: int) -> None:
    """Each hour the days that devices logged."""
    live = Channel.objects.filter(is_live=True).values_list("enclosure_id", flat=True)
    read_all(sorted(set(live)), clock.now())


@app.periodic(cron="* * * * *")
@app.task(name="watch_everything", priority=100, queueing_lock="watch_everything")
def watch_everything(timestamp: int) -> None:
    """Look at the channels that devices have ceased to send, and every tenth minute at all of them: a
    batch that came while its worker died is not forgotten.
    """
    now = clock.now()
    end_unwatched(now)
    for household in watched_households(now):
        watch_household(household, now, only_quiet=now.minute % ALL_MIN != 0)
    send_due(now)


@app.periodic(cron="23 * * * *")
@app.task(name="sweep_visits", priority=-300, queueing_lock="sweep_visits")
def sweep_visits(timestamp: int) -> None:
    """Delete the demo households of visits that are over."""
    swept = sweep(clock.now())
    if swept:
        log.info("visits swept", extra={"visits": swept})


@app.periodic(cron="*/10 * * * *")
@app.task(name="write_digests", priority=50, queueing_lock="write_digests")
def write_digests(timestamp: int) -> None:
    """The daily emails whose hour has come."""
    written = write_due(clock.now())
    if written:
        log.info("daily emails written", extra={"digests": written})
