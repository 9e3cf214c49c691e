"""Behaviour logged with a tap, beside what is predicted where the animal lives."""

import pytest
from django.test import Client

from ridgeback.animals.models import Animal
from ridgeback.enclosures.models import Enclosure
from ridgeback.households.models import Household
from ridgeback.log.models import LogEntry


def test_a_tap_logs_it_and_shows_the_likely_causes(client: Client, pip: Enclosure) -> None:
    animal = pip.present[0].animal
    address = f"/animals/{animal.pk}/behaviour/"
    answer = client.post(address, {"seen": "basks all day"}, follow=True)
    page = answer.content.decode()
    assert "Logged: basks all day" in page and "A veterinarian first" in page
    first = answer.context["causes"][0]
    assert first.fit == "fits" and "too cool" in first.text and "°C" in first.value
    entry = LogEntry.objects.get(animal=animal, stem="behaviour")
    assert entry.note == "Basks all day"
    assert "seen" in client.get("/log/").content.decode()


def test_the_causes_are_in_the_readers_units(client: Client, pip: Enclosure) -> None:
    client.post("/preferences/", {"units_temperature": "f"})
    answer = client.get(f"/animals/{pip.present[0].animal.pk}/behaviour/?seen=basks all day")
    assert "°F" in answer.context["causes"][0].value


@pytest.mark.parametrize("seen", ["", "flies", "\x00", "basks all day' or 1=1"])
def test_what_is_no_behaviour_is_not_logged(client: Client, pip: Enclosure, seen: str) -> None:
    before = LogEntry.objects.count()
    address = f"/animals/{pip.present[0].animal.pk}/behaviour/"
    assert client.post(address, {"seen": seen}).status_code == 404
    assert LogEntry.objects.count() == before
    assert client.get(address, {"seen": seen}).status_code == 200


def test_one_that_lives_nowhere_gets_its_answer_too(
    client: Client, household: Household, stranger: Client
) -> None:
    animal = Animal.objects.create(
        household=household, name="Sorrel", species="Eublepharis macularius"
    )
    address = f"/animals/{animal.pk}/behaviour/"
    answer = client.post(address, {"seen": "hides"}, follow=True)
    assert "lives in no enclosure" in answer.content.decode() and answer.context["causes"]
    assert stranger.get(address).status_code == 404
