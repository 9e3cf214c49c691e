"""Plain taps on sealed tasks: written at once, and never more than what was shown."""

import datetime as dt
import re
import uuid
from typing import Any

import pytest
from django.core import signing
from django.db import connection
from django.test import Client
from django.test.utils import CaptureQueriesContext
from django.utils import timezone

from husbandry.quantity import METRIC
from husbandry.tasks.task import Task
from ridgeback.animals.flows import depart
from ridgeback.enclosures.models import Enclosure
from ridgeback.households.models import Household
from ridgeback.log.flows import LogRequest, write
from ridgeback.log.models import LastDone, LogEntry
from ridgeback.supplies.models import Stock
from ridgeback.tasks.due_tasks import Due, gather, task_name
from ridgeback.today.presenting import amount_text
from ridgeback.today.sealing import SALT, seal
from tests import clocks


@pytest.fixture
def due(household: Household, pip: Enclosure) -> Due:
    """Pip's enclosure, its animal hungry."""
    household.animals.update(fed_on=clocks.today() - dt.timedelta(days=30))
    return gather(household, timezone.now(), only=[pip.pk])[0]


def fields(due: Due, kind: str, **more: str) -> dict[str, str]:
    task = next(one for one in due.tasks if one.kind == kind)
    who = due.animal_of(task)
    shown = amount_text(task.kind, task.amount, METRIC)
    told = {
        "task": task_name(due.enclosure, who, task),
        "log_request": str(uuid.uuid4()),
        "outcome": "done",
        "amount": shown,
        "note": "",
    }
    return {**told, "sealed": seal(due, task, who, shown), **more}


def log_request(client: Client, due: Due, sent: dict[str, str]) -> Any:
    return client.post(f"/today/{due.enclosure.pk}/log/", sent, headers={"X-Today": "1"})


def task_of(due: Due, kind: str) -> Task:
    return next(one for one in due.tasks if one.kind == kind)


def test_a_plain_log_request_is_answered_with_its_line_alone(client: Client, due: Due) -> None:
    log_request(client, due, fields(due, "look"))  # warm
    with CaptureQueriesContext(connection) as seen:
        answer = log_request(client, due, fields(due, "water"))
    assert (
        answer["X-Today-Part"] == "entry"
        and "water changed" in answer.content.decode()
        and "<form" in answer.content.decode()
    )
    assert (
        LogEntry.objects.filter(stem="water").count() == 1
        and LastDone.objects.filter(stem="water").exists()
    )
    assert len(seen) <= 9, [one["sql"][:80] for one in seen]


def test_it_writes_what_the_long_way_writes(
    client: Client, due: Due, household: Household
) -> None:
    sent = fields(due, "feed")
    meal = task_of(due, "feed").meal
    assert meal is not None
    for part in meal.helpings:
        Stock.objects.get_or_create(
            household=household,
            name=part.name,
            defaults={"amount": 500, "came_on": clocks.today()},
        )
    log_request(client, due, sent)
    entry = LogEntry.objects.get(stem__startswith="feed ")
    assert (
        entry.amount == pytest.approx(meal.grams)
        and entry.products == list(task_of(due, "feed").products)
        and entry.animal_id == due.animals[0].pk
    )
    assert Stock.objects.get(name=meal.helpings[0].name).amount < 500
    client.post(f"/today/undo/{entry.pk}/", {}, headers={"X-Today": "1"})
    assert Stock.objects.get(name=meal.helpings[0].name).amount == 500


def test_sent_twice_it_is_one_and_tapped_by_two_it_is_the_firsts(client: Client, due: Due) -> None:
    sent = fields(due, "water")
    assert (
        log_request(client, due, sent)["X-Today-Part"] == "entry"
        and log_request(client, due, sent)["X-Today-Part"] == "entry"
    )
    other = log_request(client, due, {**sent, "log_request": str(uuid.uuid4())})
    assert other["X-Today-Part"] == "entry" and "was logged already" in other.content.decode()
    assert LogEntry.objects.filter(stem="water").count() == 1


@pytest.mark.parametrize(
    "change", [{"amount": "3 g"}, {"note": "left half of it"}, {"outcome": "refused"}]
)
def test_what_is_more_than_a_log_request_goes_the_long_way(
    client: Client, due: Due, change: dict[str, str]
) -> None:
    answer = log_request(client, due, fields(due, "feed", **change))
    assert answer.status_code == 200 and "X-Today-Part" not in answer
    entry = LogEntry.objects.get(stem__startswith="feed ")
    assert entry.note == change.get("note", "") and entry.outcome == (
        "refused" if "outcome" in change else "done"
    )


@pytest.mark.parametrize("how", ["forged", "stale", "moved", "renamed"])
def test_a_seal_that_is_not_ours_is_read_the_long_way(
    client: Client, due: Due, household: Household, how: str
) -> None:
    sent = fields(due, "water")
    told = signing.loads(sent["sealed"], salt=SALT)
    match how:
        case "forged":
            sent["sealed"] = signing.dumps(told, salt=SALT, key="another key")
        case "stale":
            sent["sealed"] = signing.dumps({**told, "d": "2020-01-01"}, salt=SALT)
        case "moved":
            sent["sealed"] = signing.dumps(
                {**told, "w": [told["w"][0], told["w"][1] + 1, None]}, salt=SALT
            )
        case "renamed":
            sent["sealed"] = signing.dumps({**told, "c": "9/9/water/2020-01-01"}, salt=SALT)
    answer = log_request(client, due, sent)
    assert answer.status_code == 200 and "X-Today-Part" not in answer
    assert (
        LogEntry.objects.get().enclosure_id == due.enclosure.pk
    )  # the task itself is due, and written once


def test_a_seal_serves_its_own_household_only(stranger: Client, due: Due) -> None:
    assert (
        log_request(stranger, due, fields(due, "water")).status_code == 404
        and not LogEntry.objects.exists()
    )


def test_who_is_gone_meanwhile_is_not_fed(client: Client, due: Due) -> None:
    sent = fields(due, "feed")
    depart(due.animals[0], gone="sold", on=clocks.today(), now=timezone.now())
    assert log_request(client, due, sent).status_code == 404 and not LogEntry.objects.exists()


def test_a_log_request_that_waited_keeps_its_minute(client: Client, due: Due) -> None:
    log_request(client, due, fields(due, "water", age_s="90"))
    waited = timezone.now() - LogEntry.objects.get().at
    assert dt.timedelta(seconds=85) < waited < dt.timedelta(seconds=120)


def test_weights_and_readings_carry_no_seal(client: Client, due: Due) -> None:
    page = client.get("/today/").content.decode()
    forms = re.findall(r'<form method="post" action="/today/\d+/log/".*?</form>', page, re.S)
    for form in forms:
        plain = not any(word in form for word in ("The scale shows", "Score<", ">Read<"))
        assert ('name="sealed"' in form) == plain


def test_a_card_can_be_asked_for(client: Client, stranger: Client, due: Due) -> None:
    assert "today-card" in client.get(f"/today/{due.enclosure.pk}/card/").content.decode()
    assert stranger.get(f"/today/{due.enclosure.pk}/card/").status_code == 404


def test_a_late_log_request_never_moves_a_routine_back(due: Due, client: Client) -> None:
    today, keeper = due.today, due.enclosure.household.memberships.get().keeper
    for on in (today, today - dt.timedelta(days=1), today - dt.timedelta(days=3)):
        written = LogRequest(uuid.uuid4(), f"x/{on}", "treatment 1 1", "done", on, timezone.now())
        write(due.enclosure, due.animals[0], written, keeper=keeper, now=timezone.now())
    assert LastDone.objects.get(stem="treatment 1 1").on == today
