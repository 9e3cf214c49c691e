"""Find me a setup as a job: asked once, watched, stopped, read, and put in the layout editor."""

import json
from typing import Any

import pytest
from django.test import Client

from husbandry.setups.search import Setups, UnmetNeed
from ridgeback.enclosures.models import Enclosure
from ridgeback.households.models import Room
from ridgeback.jobs import tasks
from ridgeback.jobs.models import Job


@pytest.fixture
def asked(client: Client, pip: Enclosure) -> Job:
    response = client.post(f"/enclosures/{pip.pk}/setups/")
    job = Job.objects.get(kind=Job.Kind.SETUPS)
    assert response["Location"] == f"/jobs/{job.pk}/"
    return job


def test_it_is_asked_once_and_watched(client: Client, pip: Enclosure, asked: Job) -> None:
    client.post(f"/enclosures/{pip.pk}/setups/")
    assert Job.objects.filter(kind=Job.Kind.SETUPS).count() == 1
    html = client.get(f"/jobs/{asked.pk}/").content.decode()
    assert "Setups for Pip’s enclosure" in html and "Stop" in html
    assert client.get(f"/jobs/{asked.pk}/setups/")["Location"] == f"/jobs/{asked.pk}/"
    assert client.get(f"/enclosures/{pip.pk}/setups/")["Location"] == f"/enclosures/{pip.pk}/"


def test_a_stopped_search_stops_and_can_be_asked_again(
    client: Client, pip: Enclosure, asked: Job
) -> None:
    client.post(f"/jobs/{asked.pk}/stop/")
    tasks.find_setup(asked.pk)
    asked.refresh_from_db()
    assert asked.state == Job.State.STOPPED and asked.made is None
    assert "Stopped. Nothing was changed." in client.get(f"/jobs/{asked.pk}/").content.decode()
    client.post(f"/enclosures/{pip.pk}/setups/")
    asked.refresh_from_db()
    assert asked.state == Job.State.WAITING


def test_what_was_found_is_shown_in_either_unit_and_put_on_the_layout(
    client: Client, stranger: Client, pip: Enclosure, asked: Job
) -> None:
    tasks.find_setup(asked.pk)
    asked.refresh_from_db()
    assert asked.state == Job.State.DONE and asked.made is not None
    found = Setups.model_validate_json(bytes(asked.made))
    html = client.get(f"/jobs/{asked.pk}/setups/").content.decode()
    assert (
        html.count('class="offer"') == len(found.offers) >= 3
        and "kWh a month" in html
        and "electrician" in html
    )
    client.post("/preferences/", {"units_system": "us", "units_temperature": "f"})
    html = client.get(f"/jobs/{asked.pk}/setups/").content.decode()
    assert " in above the floor" in html and "°F" in html and " cm above" not in html
    begun = client.get(f"/enclosures/{pip.pk}/layout/", {"setup": asked.pk, "n": 0}).context[
        "begin"
    ]
    assert (
        begun["offered"]["items"]
        == json.loads(found.offers[0].request.model_dump_json(exclude_none=True))["items"]
    )
    for bad in ({"setup": asked.pk, "n": 99}, {"setup": 10**9, "n": 0}, {"setup": "x", "n": 0}):
        assert client.get(f"/enclosures/{pip.pk}/layout/", bad).context["begin"]["offered"] is None
    assert stranger.get(f"/jobs/{asked.pk}/setups/").status_code == 404
    assert stranger.post(f"/jobs/{asked.pk}/stop/").status_code == 404
    assert client.get(f"/jobs/{asked.pk}/sheet.pdf").status_code == 404


def test_where_nothing_can_work_the_page_says_which_need_and_what_would(
    client: Client, pip: Enclosure
) -> None:
    Room.objects.filter(pk=pip.room_id).update(day_c=33, night_c=28, summer_max_c=38)
    client.post(f"/enclosures/{pip.pk}/setups/")
    job = Job.objects.get(kind=Job.Kind.SETUPS)
    tasks.find_setup(job.pk)
    html = client.get(f"/jobs/{job.pk}/setups/").content.decode()
    assert (
        "No setup stays in every target range" in html
        and "Cool air" in html
        and "A room of about" in html
    )


def test_a_broken_search_says_so(
    client: Client, asked: Job, monkeypatch: pytest.MonkeyPatch
) -> None:
    def broken(*_: Any) -> Setups:
        raise RuntimeError("no")

    monkeypatch.setattr(tasks, "find_setups", broken)
    with pytest.raises(RuntimeError):
        tasks.find_setup(asked.pk)
    assert "broke off" in client.get(f"/jobs/{asked.pk}/").content.decode()
    assert UnmetNeed(key="cool_air_day", short=1.0, high=True).high
