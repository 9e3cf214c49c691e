"""Treatments in the veterinarian's words."""

import datetime as dt

import pytest
from django.test import Client
from django.utils import timezone

from ridgeback.animals.models import Animal
from ridgeback.enclosures.models import Enclosure, Occupancy
from ridgeback.log.models import LogEntry
from ridgeback.tasks.due_tasks import gather, task_name
from ridgeback.treatments.models import Treatment
from tests import clocks

WORDS = "Worming paste as on the syringe, a line on the prey, no more"


@pytest.fixture
def fathom(pip: Enclosure) -> Animal:
    """The kingsnake."""
    return Animal.objects.get(name="Fathom")


def form(**more: str) -> dict[str, str]:
    today = clocks.today()
    last = (today + dt.timedelta(days=4)).isoformat()
    return {
        "words": WORDS,
        "by": "Dr Quill",
        "begins": today.isoformat(),
        "ends": last,
        "times": "1",
        "every_days": "1",
        **more,
    }


def note(client: Client, animal: Animal, **more: str) -> str:
    return client.post(
        f"/animals/{animal.pk}/treatments/", form(**more), follow=True
    ).content.decode()


def log_request(client: Client, animal: Animal) -> None:
    due = next(one for one in gather(animal.household, timezone.now()) if animal in one.animals)
    task = next(one for one in due.tasks if one.kind == "treatment")
    client.post(
        f"/today/{due.enclosure.pk}/log/",
        {
            "task": task_name(due.enclosure, animal, task),
            "log_request": "00000000-0000-0000-0000-000000000009",
        },
    )


def test_a_treatment_comes_round_in_its_own_words(client: Client, fathom: Animal) -> None:
    assert "Saved" in note(client, fathom)
    text = client.get("/today/").content.decode()
    assert WORDS in text and "as Dr Quill prescribed" in text
    log_request(client, fathom)
    assert LogEntry.objects.filter(animal=fathom, stem__startswith="treatment ").count() == 1
    assert "<b>1 of 5</b>" in client.get(f"/animals/{fathom.pk}/treatments/").content.decode()
    assert WORDS not in client.get("/today/").content.decode().split("today-done")[0]
    client.post(f"/animals/{fathom.pk}/illness-signs/", {"other": "limp"})
    assert (
        WORDS in client.get(f"/animals/{fathom.pk}/illness-signs/?noted=yes").content.decode()
    )  # the next veterinarian is told


def test_a_dose_given_in_the_old_enclosure_is_not_given_again_in_the_new_one(
    client: Client, fathom: Animal
) -> None:
    note(client, fathom)
    log_request(client, fathom)
    pips = Enclosure.objects.get(name="Pip’s enclosure")
    Occupancy.objects.filter(animal=fathom).update(until=timezone.now())
    Occupancy.objects.create(animal=fathom, enclosure=pips, since=timezone.now())
    due = next(one for one in gather(fathom.household, timezone.now()) if fathom in one.animals)
    assert not any(task.kind == "treatment" for task in due.tasks)


def test_a_stopped_treatment_comes_no_more(client: Client, fathom: Animal) -> None:
    note(client, fathom)
    treatment = Treatment.objects.get()
    client.post(f"/animals/{fathom.pk}/treatments/stop/", {"treatment": str(treatment.pk)})
    assert WORDS not in client.get("/today/").content.decode()
    assert "Stopped on" in client.get(f"/animals/{fathom.pk}/treatments/").content.decode()


@pytest.mark.parametrize(
    ("more", "why"),
    [
        ({"words": ""}, "required"),
        ({"ends": "2020-01-01"}, "The last day is before the first"),
        ({"begins": "1990-01-01", "ends": "1990-01-03"}, "this day is before"),
        ({"begins": "2999-01-01", "ends": "2999-01-03"}, "three months ahead"),
        ({"ends": "2999-01-03"}, "longer than a year"),
        ({"times": "0"}, "greater than or equal to 1"),
        ({"times": "many"}, "whole number"),
    ],
)
def test_a_treatment_that_cannot_be_is_refused_and_nothing_typed_is_lost(
    client: Client, fathom: Animal, more: dict[str, str], why: str
) -> None:
    text = note(client, fathom, **more)
    assert why in text and "Dr Quill" in text and not Treatment.objects.exists()


def test_another_household_has_no_such_animal(stranger: Client, fathom: Animal) -> None:
    assert stranger.get(f"/animals/{fathom.pk}/treatments/").status_code == 404
    assert stranger.post(f"/animals/{fathom.pk}/treatments/", form()).status_code == 404
