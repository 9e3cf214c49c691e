"""Taming on its page and on the round."""

import datetime as dt
import uuid

import pytest
from django.test import Client
from django.utils import timezone

from ridgeback.animals.flows import begin_spell
from ridgeback.animals.models import Animal
from ridgeback.habitats.models import Habitat
from ridgeback.ledger.models import Entry
from ridgeback.rounds.due_tasks import Due, chore_name, gather
from tests import clocks


@pytest.fixture
def scamp(pip: Habitat) -> Animal:
    """The young skink, fed yesterday."""
    return Animal.objects.get(name="Pip")


def due_of(animal: Animal) -> Due:
    return next(one for one in gather(animal.household, timezone.now()) if animal in one.animals)


def tap(client: Client, animal: Animal, outcome: str, **more: str) -> int:
    due = due_of(animal)
    chore = next(one for one in due.chores if one.kind == "tame")
    fields = {"chore": chore_name(due.habitat, animal, chore), "tap": str(uuid.uuid4()), "outcome": outcome, **more}
    return client.post(f"/round/{due.habitat.pk}/tap/", fields, headers={"X-Round": "1"}).status_code


def test_it_begins_and_comes_round(client: Client, scamp: Animal) -> None:
    assert not any(one.kind == "tame" for one in due_of(scamp).chores)
    client.post(f"/animals/{scamp.pk}/handling/begin/")
    assert "Handling: be there, 10 minutes" in client.get("/round/").content.decode()
    assert tap(client, scamp, "calm") == 200
    entry = Entry.objects.get(stem="tame")
    assert (entry.how, entry.outcome) == ("calm", "done")
    page = client.get(f"/animals/{scamp.pk}/handling/").content.decode()
    assert "2 more calm sessions" in page and "handled: calm" in client.get("/log/").content.decode()


def test_how_it_went_has_to_be_said(client: Client, scamp: Animal) -> None:
    client.post(f"/animals/{scamp.pk}/handling/begin/")
    assert tap(client, scamp, "done") == 422 and not Entry.objects.exists()
    assert tap(client, scamp, "skipped", note="visitors") == 200
    assert Entry.objects.get().how == ""


def test_the_step_moves_with_what_was_logged_and_with_its_undoing(client: Client, scamp: Animal) -> None:
    today = clocks.today()
    Animal.objects.filter(pk=scamp.pk).update(taming_since=today - dt.timedelta(days=9))
    home, now = due_of(scamp).habitat, timezone.now()
    for ago in (5, 4, 3):
        Entry.objects.create(
            household=home.household, habitat=home, animal=scamp, stem="tame", chore=f"t{ago}", tap=uuid.uuid4(), how="calm", on=today - dt.timedelta(days=ago),
            at=now - dt.timedelta(hours=ago), touched_at=now,
        )  # fmt: skip
    assert client.get(f"/animals/{scamp.pk}/handling/").context["stands"].step == 1
    last = Entry.objects.order_by("-on").first()
    assert last is not None
    client.post(f"/round/undo/{last.pk}/", {"log": "yes"})
    assert client.get(f"/animals/{scamp.pk}/handling/").context["stands"].step == 0


def test_not_in_shed(client: Client, scamp: Animal) -> None:
    client.post(f"/animals/{scamp.pk}/handling/begin/")
    begin_spell(scamp, kind="shed", since=clocks.today())
    assert "Not today. In shed" in client.get(f"/animals/{scamp.pk}/handling/").content.decode()
    assert not any(one.kind in {"tame", "enrich"} for one in due_of(scamp).chores)


def test_a_frog_is_left_in_peace(client: Client, pip: Habitat) -> None:
    sable = Animal.objects.get(name="Sable")
    page = client.get(f"/animals/{sable.pk}/handling/").content.decode()
    assert "looked at, not handled" in page and "Begin" not in page
    client.post(f"/animals/{sable.pk}/handling/begin/")
    sable.refresh_from_db()
    assert sable.taming_since is None


def test_it_is_left_when_asked(client: Client, scamp: Animal) -> None:
    client.post(f"/animals/{scamp.pk}/handling/begin/")
    client.post(f"/animals/{scamp.pk}/handling/begin/", {"stop": "yes"})
    assert not any(one.kind == "tame" for one in due_of(scamp).chores)


def test_another_household_has_no_such_animal(stranger: Client, scamp: Animal) -> None:
    assert stranger.get(f"/animals/{scamp.pk}/handling/").status_code == 404
    assert stranger.post(f"/animals/{scamp.pk}/handling/begin/").status_code == 404
