"""Treatments: their days, and that nothing is ever made up."""

import datetime as dt
from typing import Any

from husbandry.documents.request_json import from_data
from husbandry.seasons.brumation import plan_dormancy
from husbandry.species.library import find
from husbandry.tasks.due import ahead, due_today
from husbandry.tasks.routines import routines
from husbandry.tasks.task import NOTHING
from husbandry.tasks.treatments import Treatment

DAY = dt.date(2026, 6, 14)
FIVE = Treatment(7, "one drop on the tongue", "Dr Quill", DAY, DAY + dt.timedelta(days=4))


def given(
    sample: dict[str, Any], treatment: Treatment, today: dt.date, **last: dt.date
) -> list[tuple[str, dt.date | None]]:
    known = {(0, stem.replace("_", " ")): on for stem, on in last.items()}
    done = NOTHING._replace(
        since=DAY - dt.timedelta(days=90), last=known, treatments={0: (treatment,)}
    )
    return [
        (one.stem, one.missed)
        for one in due_today(routines(from_data(sample)), done, today)
        if one.kind == "treatment"
    ]


def test_days_and_doses_of_a_treatment() -> None:
    assert (
        FIVE.doses == 5
        and FIVE.on(DAY)
        and FIVE.on(DAY + dt.timedelta(days=4))
        and not FIVE.on(DAY + dt.timedelta(days=5))
    )
    rare = FIVE._replace(every_days=3, times=2)
    assert rare.doses == 4 and [rare.on(DAY + dt.timedelta(days=n)) for n in range(5)] == [
        True,
        False,
        False,
        True,
        False,
    ]


def test_each_time_of_a_day_is_a_log_request_of_its_own(sample: dict[str, Any]) -> None:
    twice = FIVE._replace(times=2)
    assert [stem for stem, _ in given(sample, twice, DAY)] == ["treatment 7 1", "treatment 7 2"]
    assert [stem for stem, _ in given(sample, twice, DAY, treatment_7_1=DAY)] == ["treatment 7 2"]


def test_a_missed_dose_is_said_and_never_doubled(sample: dict[str, Any]) -> None:
    """A missed dose is asked about, not made up (common practice of every prescription)."""
    found = given(sample, FIVE, DAY + dt.timedelta(days=2), treatment_7_1=DAY)
    assert found == [("treatment 7 1", DAY + dt.timedelta(days=1))]
    assert given(sample, FIVE, DAY + dt.timedelta(days=1), treatment_7_1=DAY) == [
        ("treatment 7 1", None)
    ]
    assert given(sample, FIVE, DAY + dt.timedelta(days=9), treatment_7_1=DAY) == []  # over is over


def test_it_comes_round_in_a_rest_too_and_stands_in_the_weeks(sample: dict[str, Any]) -> None:
    rest = plan_dormancy(find("Lampropeltis californiae"), DAY, 10)
    done = NOTHING._replace(
        since=DAY - dt.timedelta(days=90), treatments={0: (FIVE,)}, resting={0: rest}
    )
    assert any(
        one.kind == "treatment" for one in due_today(routines(from_data(sample)), done, DAY)
    )
    days = ahead(routines(from_data(sample)), done._replace(resting={}), DAY, 7)
    assert [sum(one.kind == "treatment" for one in tasks) for tasks in days] == [
        1,
        1,
        1,
        1,
        1,
        0,
        0,
    ]
    assert all(one.missed is None for tasks in days for one in tasks)
