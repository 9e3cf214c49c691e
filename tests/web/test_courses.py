"""Courses of treatment in the veterinarian's words."""

import datetime as dt

import pytest
from django.test import Client
from django.utils import timezone

from ridgeback.animals.models import Animal
from ridgeback.courses.models import Course
from ridgeback.habitats.models import Habitat, Occupancy
from ridgeback.ledger.models import Entry
from ridgeback.rounds.due_tasks import chore_name, gather
from tests import clocks

WORDS = "Worming paste as on the syringe, a line on the prey, no more"


@pytest.fixture
def fathom(pip: Habitat) -> Animal:
    """The kingsnake."""
    return Animal.objects.get(name="Fathom")


def form(**more: str) -> dict[str, str]:
    today = clocks.today()
    last = (today + dt.timedelta(days=4)).isoformat()
    return {"words": WORDS, "by": "Dr Quill", "begins": today.isoformat(), "ends": last, "times": "1", "every_days": "1", **more}


def note(client: Client, animal: Animal, **more: str) -> str:
    return client.post(f"/animals/{animal.pk}/treatments/", form(**more), follow=True).content.decode()


def tap(client: Client, animal: Animal) -> None:
    due = next(one for one in gather(animal.household, timezone.now()) if animal in one.animals)
    chore = next(one for one in due.chores if one.kind == "course")
    client.post(
        f"/round/{due.habitat.pk}/tap/",
        {"chore": chore_name(due.habitat, animal, chore), "tap": "00000000-0000-0000-0000-000000000009"},
    )


def test_a_course_comes_round_in_its_own_words(client: Client, fathom: Animal) -> None:
    assert "Noted" in note(client, fathom)
    text = client.get("/round/").content.decode()
    assert WORDS in text and "as Dr Quill prescribed" in text
    tap(client, fathom)
    assert Entry.objects.filter(animal=fathom, stem__startswith="course ").count() == 1
    assert "<b>1 of 5</b>" in client.get(f"/animals/{fathom.pk}/treatments/").content.decode()
    assert WORDS not in client.get("/round/").content.decode().split("round-done")[0]
    client.post(f"/animals/{fathom.pk}/signs/", {"other": "limp"})
    assert WORDS in client.get(f"/animals/{fathom.pk}/signs/?noted=yes").content.decode()  # the next veterinarian is told


def test_a_dose_given_in_the_old_box_is_not_given_again_in_the_new_one(client: Client, fathom: Animal) -> None:
    note(client, fathom)
    tap(client, fathom)
    pips = Habitat.objects.get(name="Pip’s enclosure")
    Occupancy.objects.filter(animal=fathom).update(until=timezone.now())
    Occupancy.objects.create(animal=fathom, habitat=pips, since=timezone.now())
    due = next(one for one in gather(fathom.household, timezone.now()) if fathom in one.animals)
    assert not any(chore.kind == "course" for chore in due.chores)


def test_a_stopped_course_comes_no_more(client: Client, fathom: Animal) -> None:
    note(client, fathom)
    course = Course.objects.get()
    client.post(f"/animals/{fathom.pk}/treatments/stop/", {"course": str(course.pk)})
    assert WORDS not in client.get("/round/").content.decode()
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
def test_a_course_that_cannot_be_is_refused_and_nothing_typed_is_lost(
    client: Client, fathom: Animal, more: dict[str, str], why: str
) -> None:
    text = note(client, fathom, **more)
    assert why in text and "Dr Quill" in text and not Course.objects.exists()


def test_another_household_has_no_such_animal(stranger: Client, fathom: Animal) -> None:
    assert stranger.get(f"/animals/{fathom.pk}/treatments/").status_code == 404
    assert stranger.post(f"/animals/{fathom.pk}/treatments/", form()).status_code == 404
