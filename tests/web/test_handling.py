"""Taming on its page and among the day's tasks."""

import datetime as dt
import uuid

import pytest
from django.test import Client
from django.utils import timezone

from ridgeback.animals.flows import begin_condition_period
from ridgeback.animals.models import Animal
from ridgeback.enclosures.models import Enclosure
from ridgeback.log.models import LogEntry
from ridgeback.tasks.due_tasks import Due, gather, task_name
from tests import clocks


@pytest.fixture
def scamp(pip: Enclosure) -> Animal:
    """The young skink, fed yesterday."""
    return Animal.objects.get(name="Pip")


def due_of(animal: Animal) -> Due:
    return next(one for one in gather(animal.household, timezone.now()) if animal in one.animals)


def log_request(client: Client, animal: Animal, outcome: str, **more: str) -> int:
    due = due_of(animal)
    task = next(one for one in due.tasks if one.kind == "tame")
    fields = {
        "task": task_name(due.enclosure, animal, task),
        "log_request": str(uuid.uuid4()),
        "outcome": outcome,
        **more,
    }
    return client.post(
        f"/today/{due.enclosure.pk}/log/", fields, headers={"X-Today": "1"}
    ).status_code


def test_it_begins_and_comes_round(client: Client, scamp: Animal) -> None:
    assert not any(one.kind == "tame" for one in due_of(scamp).tasks)
    client.post(f"/animals/{scamp.pk}/handling/begin/")
    assert "Handling: be there, 10 minutes" in client.get("/today/").content.decode()
    assert log_request(client, scamp, "calm") == 200
    entry = LogEntry.objects.get(stem="tame")
    assert (entry.how, entry.outcome) == ("calm", "done")
    page = client.get(f"/animals/{scamp.pk}/handling/").content.decode()
    assert (
        "2 more calm sessions" in page and "handled: calm" in client.get("/log/").content.decode()
    )


def test_how_it_went_has_to_be_said(client: Client, scamp: Animal) -> None:
    client.post(f"/animals/{scamp.pk}/handling/begin/")
    assert log_request(client, scamp, "done") == 422 and not LogEntry.objects.exists()
    assert log_request(client, scamp, "skipped", note="visitors") == 200
    assert LogEntry.objects.get().how == ""


def test_the_step_moves_with_what_was_logged_and_with_its_undoing(
    client: Client, scamp: Animal
) -> None:
    today = clocks.today()
    Animal.objects.filter(pk=scamp.pk).update(taming_since=today - dt.timedelta(days=9))
    home, now = due_of(scamp).enclosure, timezone.now()
    for ago in (5, 4, 3):
        LogEntry.objects.create(
            household=home.household,
            enclosure=home,
            animal=scamp,
            stem="tame",
            task=f"t{ago}",
            log_request=uuid.uuid4(),
            how="calm",
            on=today - dt.timedelta(days=ago),
            at=now - dt.timedelta(hours=ago),
            touched_at=now,
        )
    assert client.get(f"/animals/{scamp.pk}/handling/").context["stands"].step == 1
    last = LogEntry.objects.order_by("-on").first()
    assert last is not None
    client.post(f"/today/undo/{last.pk}/", {"log": "yes"})
    assert client.get(f"/animals/{scamp.pk}/handling/").context["stands"].step == 0


def test_not_in_shed(client: Client, scamp: Animal) -> None:
    client.post(f"/animals/{scamp.pk}/handling/begin/")
    begin_condition_period(scamp, kind="shed", since=clocks.today())
    assert "Not today. In shed" in client.get(f"/animals/{scamp.pk}/handling/").content.decode()
    assert not any(one.kind in {"tame", "enrich"} for one in due_of(scamp).tasks)


def test_a_frog_is_left_in_peace(client: Client, pip: Enclosure) -> None:
    sable = Animal.objects.get(name="Sable")
    page = client.get(f"/animals/{sable.pk}/handling/").content.decode()
    assert "looked at, not handled" in page and "Begin" not in page
    client.post(f"/animals/{sable.pk}/handling/begin/")
    sable.refresh_from_db()
    assert sable.taming_since is None


def test_it_is_left_when_asked(client: Client, scamp: Animal) -> None:
    client.post(f"/animals/{scamp.pk}/handling/begin/")
    client.post(f"/animals/{scamp.pk}/handling/begin/", {"stop": "yes"})
    assert not any(one.kind == "tame" for one in due_of(scamp).tasks)


def test_another_household_has_no_such_animal(stranger: Client, scamp: Animal) -> None:
    assert stranger.get(f"/animals/{scamp.pk}/handling/").status_code == 404
    assert stranger.post(f"/animals/{scamp.pk}/handling/begin/").status_code == 404
