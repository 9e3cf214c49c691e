"""Writes about practice."""

import datetime as dt

from django.db import transaction

from husbandry.practice.cases import BUDGET_MIN
from husbandry.practice.judging import judge
from husbandry.practice.measuring import Moment, PlaceName, measure, minutes_of
from ridgeback.households.models import Keeper
from ridgeback.practice.models import PracticeRun

MEASURED_MOST = 40
"""Of a case (design choice)."""


class NotMeasuredError(ValueError):
    """Nothing was measured, and a sentence why."""


@transaction.atomic
def begin(
    keeper: Keeper, *, lesson: str, level: int, number: int, now: dt.datetime
) -> PracticeRun:
    """Begin a case, or go on with it where it was left."""
    rows = PracticeRun.objects.of(keeper).filter(lesson=lesson, level=level, number=number)
    left = rows.filter(finished_at__isnull=True).first()

    if left is not None:
        return left

    return PracticeRun.objects.create(
        keeper=keeper, lesson=lesson, level=level, number=number, started_at=now
    )


@transaction.atomic
def add_measurement(
    run: PracticeRun, instrument: str, place: PlaceName, moment: Moment, *, careless: bool
) -> None:
    """Use an instrument. `run` is locked.

    Raises
    ------
    NotMeasuredError
        Where the time is up, the case is answered, or the instrument shows nothing there.
    """
    done = run.done

    if run.finished_at is not None:
        raise NotMeasuredError("This case is answered.")
    spent = sum(one.minutes for one in done)

    if spent + minutes_of(done, instrument, moment) > BUDGET_MIN or len(done) >= MEASURED_MOST:
        raise NotMeasuredError("There is no time left for that. Answer with what you know.")

    try:
        made = measure(run.case, done, instrument, place, moment, careless=careless)
    except ValueError as why:
        raise NotMeasuredError(str(why)) from None

    run.measured = [*run.measured, made.model_dump(mode="json")]
    run.save(update_fields=["measured"])


@transaction.atomic
def answer(run: PracticeRun, believed: list[str], remedy: str, now: dt.datetime) -> None:
    """Answer a case, once. `run` is locked."""
    if run.finished_at is not None:
        return
    result = judge(run.case, run.done, tuple(believed), remedy)
    run.believed = believed
    run.remedy = remedy
    run.score = result.score
    run.finished_at = now
    run.save(update_fields=["believed", "remedy", "score", "finished_at"])
