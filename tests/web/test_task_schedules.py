"""A keeper's own paces and tasks: set on their page, followed by today's tasks, the log, the week."""

import datetime as dt
from typing import Any

import pytest
from django.db import IntegrityError, transaction
from django.test import Client
from django.utils import timezone

from ridgeback.animals.models import Animal, ConditionPeriod
from ridgeback.enclosures.models import Enclosure
from ridgeback.households.models import Household
from ridgeback.log.models import LogEntry
from ridgeback.tasks.due_tasks import gather
from ridgeback.tasks.models import TaskSchedule
from tests import clocks


def address(enclosure: Enclosure, act: str = "") -> str:
    return f"/enclosures/{enclosure.pk}/tasks/{act}"


def paced(client: Client, enclosure: Enclosure, task: str, **typed: Any) -> Any:
    return client.post(address(enclosure, "pace/"), {"task": task, **typed}, follow=True)


def added(client: Client, enclosure: Enclosure, **typed: Any) -> Any:
    key = str(client.get(address(enclosure)).context["form"]["form_key"].value())
    usual = {"form_key": key, "title": "Empty the ant trap", "how": "days", "every_days": "10"}
    first = {"begins_on": clocks.today().isoformat(), "animal": ""}
    return client.post(address(enclosure, "add/"), usual | first | typed, follow=True)


def due(household: Household, enclosure: Enclosure) -> dict[str, Any]:
    (found,) = gather(household, timezone.now(), only=[enclosure.pk])
    return {task.stem: task for task in found.tasks}


def test_the_page_names_each_routine_with_its_usual_pace(client: Client, pip: Enclosure) -> None:
    answer = client.get(address(pip))
    rows = {row.kind: row for row in answer.context["rows"]}
    assert rows["clean"].usual == "every 7 days" and rows["clean"].own == ""
    assert {"weigh", "body", "deep clean"} <= set(rows)


def test_an_own_pace_is_followed_and_taken_back(
    client: Client, household: Household, pip: Enclosure
) -> None:
    assert "clean" in due(household, pip)
    answer = paced(client, pip, "0-clean", how="weekdays", weekdays=["0", "3"])
    row = next(row for row in answer.context["rows"] if row.kind == "clean")
    assert row.own == "Mon and Thu"
    paced(client, pip, "0-clean", how="days", every_days="500")
    assert "clean" not in due(household, pip)
    answer = paced(client, pip, "0-clean", how="usual")
    assert "clean" in due(household, pip) and not TaskSchedule.objects.exists()


def test_a_pace_far_more_seldom_than_usual_is_remarked_on(client: Client, pip: Enclosure) -> None:
    answer = paced(client, pip, "0-clean", how="days", every_days="60")
    row = next(row for row in answer.context["rows"] if row.kind == "clean")
    assert row.remark == "Much more seldom than usual."


def test_the_pace_of_an_animal_moves_with_it(client: Client, pip: Enclosure) -> None:
    animal = pip.present[0].animal
    paced(client, pip, f"{animal.pk}-weigh", how="days", every_days="5")
    kept = TaskSchedule.objects.get()
    assert kept.animal == animal and kept.enclosure is None


@pytest.mark.parametrize(
    ("typed", "field", "said"),
    [
        ({"how": "days", "every_days": ""}, "every_days", "how many days"),
        ({"how": "days", "every_days": "0"}, "every_days", "At least 1"),
        ({"how": "days", "every_days": "1e9"}, "every_days", "whole days"),
        ({"how": "weekdays"}, "weekdays", "at least one day"),
        ({"how": "weekdays", "weekdays": ["9"]}, "weekdays", ""),
        ({"how": "never"}, "how", ""),
    ],
)
def test_a_wrong_pace_is_answered_beside_its_field(
    client: Client, pip: Enclosure, typed: dict[str, Any], field: str, said: str
) -> None:
    answer = paced(client, pip, "0-clean", **typed)
    row = next(row for row in answer.context["rows"] if row.kind == "clean")
    assert row.is_open and said in str(row.form.errors[field])
    assert not TaskSchedule.objects.exists()


def test_a_task_of_ones_own_is_due_logged_and_removed(
    client: Client, household: Household, pip: Enclosure
) -> None:
    added(client, pip)
    own = TaskSchedule.objects.get()
    assert f"own {own.pk}" in due(household, pip)
    page = client.get("/today/")
    cards = [card for shelf in page.context["part"].shelves for card in shelf.cards]
    card = next(one for one in cards if one.enclosure == pip)
    task = next(one for one in card.tasks if one.title == "Empty the ant trap")
    sent = {"task": task.name, "log_request": task.log_request, "sealed": task.sealed}
    client.post(f"/today/{pip.pk}/log/", sent | {"outcome": "done"})
    entry = LogEntry.objects.get(stem=f"own {own.pk}")
    assert entry.note == "Empty the ant trap" and f"own {own.pk}" not in due(household, pip)
    assert "done: Empty the ant trap" in client.get("/log/").content.decode()
    client.post(address(pip, "remove/"), {"own": own.pk})
    assert not TaskSchedule.objects.exists() and LogEntry.objects.filter(pk=entry.pk).exists()


@pytest.mark.parametrize(
    ("typed", "field"),
    [
        ({"title": " \x00 "}, "title"),
        ({"begins_on": "2020-01-01"}, "begins_on"),
        ({"begins_on": "2999-01-01"}, "begins_on"),
        ({"animal": "999999"}, "animal"),
    ],
)
def test_a_wrong_task_keeps_what_was_typed(
    client: Client, pip: Enclosure, typed: dict[str, str], field: str
) -> None:
    answer = added(client, pip, **typed)
    assert field in answer.context["form"].errors and not TaskSchedule.objects.exists()


def test_the_same_task_twice_is_added_once(client: Client, pip: Enclosure) -> None:
    key = str(client.get(address(pip)).context["form"]["form_key"].value())
    for _ in range(2):
        added(client, pip, form_key=key)
    assert TaskSchedule.objects.count() == 1


def test_a_shed_that_is_over_asks_for_a_look_at_the_toes(
    client: Client, household: Household, pip: Enclosure
) -> None:
    today = clocks.today()
    animal = pip.present[0].animal
    ConditionPeriod.objects.create(
        animal=animal, kind="shed", since=today - dt.timedelta(days=9), until=today
    )
    assert due(household, pip)["toes"].due == today


def test_another_household_reaches_none_of_it(
    client: Client, stranger: Client, pip: Enclosure
) -> None:
    added(client, pip)
    own = TaskSchedule.objects.get()
    assert stranger.get(address(pip)).status_code == 404
    for act in ("pace/", "add/", "remove/"):
        assert stranger.post(address(pip, act), {"own": own.pk}).status_code == 404
    assert TaskSchedule.objects.exists()


def test_an_animal_of_elsewhere_is_no_one_to_pace(
    client: Client, household: Household, pip: Enclosure
) -> None:
    other = Animal.objects.create(
        household=household, name="Sorrel", species="Eublepharis macularius"
    )
    answer = client.post(address(pip, "pace/"), {"task": f"{other.pk}-weigh", "how": "usual"})
    assert answer.status_code == 404


def test_an_empty_enclosure_says_when_tasks_begin(client: Client, household: Household) -> None:
    room = household.rooms.first()
    empty = Enclosure.objects.create(household=household, room=room, name="Spare")
    assert "Tasks begin when an animal lives here" in client.get(address(empty)).content.decode()


def test_the_database_holds_one_pace_a_task(pip: Enclosure) -> None:
    today = clocks.today()
    TaskSchedule.objects.create(enclosure=pip, kind="clean", every_days=9, begins_on=today)
    wrong: list[dict[str, Any]] = [
        {"enclosure": pip, "kind": "clean", "every_days": 3},
        {"enclosure": pip, "kind": "moss"},
        {"enclosure": pip, "kind": "moss", "every_days": 3, "weekdays": "1"},
        {"enclosure": pip, "kind": "own", "every_days": 3},
        {"kind": "moss", "every_days": 3},
    ]
    for values in wrong:
        with pytest.raises(IntegrityError), transaction.atomic():
            TaskSchedule.objects.create(**values, begins_on=today)


def test_an_enclosure_for_quarantine_is_disinfected_and_tended_last(
    client: Client, household: Household, pip: Enclosure
) -> None:
    pip.purpose = Enclosure.Purpose.QUARANTINE
    pip.save(update_fields=["purpose"])
    stems = due(household, pip)
    assert "disinfect" in stems and "deep clean" not in stems
    page = client.get("/today/")
    cards = [card for shelf in page.context["part"].shelves for card in shelf.cards]
    assert next(card for card in cards if card.enclosure == pip).apart == "Pip"


@pytest.mark.parametrize("kind", ["look", "feed", "own", "treatment", "", "x" * 60])
def test_the_daily_look_and_meals_have_no_own_pace(
    client: Client, pip: Enclosure, kind: str
) -> None:
    paced(client, pip, f"0-{kind}", how="days", every_days="300")
    assert not TaskSchedule.objects.exists()
