"""Find me a setup as a job: asked once, watched, stopped, read, and put in the layout editor."""

import json
from typing import Any

import pytest
from django.test import Client

from husbandry.documents.request_json import from_data
from husbandry.items.foggers import Fogger
from husbandry.quantity import METRIC
from husbandry.setups.search import Missed, NearMiss, Remedy, Setups
from husbandry.species.needs import NeedKey
from ridgeback.enclosures.fitting_words import fitting_words
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
    context = client.get(f"/jobs/{asked.pk}/setups/").context
    assert context["steps"] and not context["steps"][-1]["left"] and "Put everything right" in html
    chances = [offer["chance"] for offer in context["offers"]]
    assert all("1.5 °C colder" in words for words in chances)
    for offer in context["offers"]:
        alone = [float(one["of_a_hundred"]) for one in offer["chances"]]
        assert alone == sorted(alone) and len(alone) >= len(offer["values"])
    assert "measure that one first" in html
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
    context = client.get(f"/jobs/{job.pk}/setups/").context
    assert not context["offers"] and context["misses"] and not context["remedies"]
    assert any("at most" in words for words in context["limits"]) and "Cool air" in html
    begun = client.get(f"/enclosures/{pip.pk}/layout/", {"setup": job.pk, "n": 0}).context["begin"]
    assert begun["offered"]["items"]


def test_other_enclosures_are_tried_when_asked(client: Client, pip: Enclosure) -> None:
    client.post(f"/enclosures/{pip.pk}/setups/", {"vary": "on"})
    job = Job.objects.get(kind=Job.Kind.SETUPS)
    assert job.asked["vary"] is True
    tasks.find_setup(job.pk)
    context = client.get(f"/jobs/{job.pk}/setups/").context
    assert context["varied"] and context["planned"] > 5
    html = client.get(f"/jobs/{job.pk}/setups/").content.decode()
    assert "Search other" not in html


def test_near_misses_and_remedies_are_told_in_words(client: Client, asked: Job) -> None:
    """A need, its value and by how much; a room, a height or an approach that would do."""
    request = from_data(asked.asked["request"])
    missed = Missed(key=NeedKey.COOL_AIR_DAY, direction="above", by=2.04, value=28.0)
    found = Setups(
        offers=(),
        misses=(NearMiss(request=request, parts=("halogen flood, 50 W",), missed=(missed,)),),
        remedies=(
            Remedy(kind="room", part="night", value=19.0),
            Remedy(kind="height", value=0.6, request=request),
            Remedy(kind="approach", question="how-big", approach="room to run"),
        ),
        planned=4,
    )
    body = found.model_dump_json(exclude_none=True).encode()
    Job.objects.filter(pk=asked.pk).update(state=Job.State.DONE, made=body)
    page = client.get(f"/jobs/{asked.pk}/setups/")
    html = " ".join(page.content.decode().split())
    assert page.context["misses"][0]["missed"] == [
        ("above", "Cool air, cool end, at its back: 28.0 °C, 2.0 °C too high")
    ]
    words = [remedy["words"] for remedy in page.context["remedies"]]
    assert words[0].startswith("A room of 19 °C at night instead of") and "60 cm" in words[1]
    assert "n=1" in html and "Change the room" in html and "Choose it" in html


def test_a_broken_search_says_so(
    client: Client, asked: Job, monkeypatch: pytest.MonkeyPatch
) -> None:
    def broken(*_: Any, **__: Any) -> Setups:
        raise RuntimeError("no")

    monkeypatch.setattr(tasks, "find_setups", broken)
    with pytest.raises(RuntimeError):
        tasks.find_setup(asked.pk)
    assert "broke off" in client.get(f"/jobs/{asked.pk}/").content.decode()


def test_every_fitting_of_a_setup_is_told(client: Client, asked: Job) -> None:
    """A fogger among the parts broke the page; a cut-out was not mentioned."""
    data = asked.asked["request"]
    held = {"set_c": 33.0, "probe": "surface", "night_set_c": 24.0, "cut_out_c": 38.0}
    data["items"] = [
        {**item, "thermostat": held} if item["id"] == "lamp-1" else item for item in data["items"]
    ]
    fogger = {"id": "fogger-1", "kind": "fogger", "at_m": [0.9, 0.05, 0.05], "l_per_h": 0.2}
    data["items"].append({**fogger, "on": "00:00", "off": "23:59"})
    request = from_data(data)
    found = Setups(offers=(), misses=(NearMiss(request=request, parts=(), missed=()),), planned=1)
    body = found.model_dump_json(exclude_none=True).encode()
    Job.objects.filter(pk=asked.pk).update(state=Job.State.DONE, made=body)
    parts = " | ".join(client.get(f"/jobs/{asked.pk}/setups/").context["misses"][0]["parts"])
    assert "fogger, 200 ml an hour, all day and night" in parts and "long" in parts
    assert "vents open" in parts
    assert "thermostat at 33.0 °C, 24.0 °C at night, cut-out at 38.0 °C" in parts


def test_a_fogger_is_said_with_its_humidistat_and_its_hours() -> None:
    """Whoever buys and sets it needs all three."""
    fogger = Fogger(
        id="fogger-1",
        at_m=(0.1, 0.1, 0.1),
        l_per_h=0.02,
        humidistat_pct=80,
        on="14:00",
        off="11:00",
    )
    assert str(fitting_words(fogger, METRIC)) == (
        "fogger, 20 ml an hour, humidistat at 80 % with its probe at the cool end,"
        " on from 14:00 to 11:00"
    )
    plain = fogger.model_copy(update={"humidistat_pct": None})
    assert "humidistat" not in str(fitting_words(plain, METRIC))
