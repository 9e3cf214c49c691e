"""One clock: a day is the day of a room or a household, never the server's."""

import datetime as dt
import re
import uuid
from pathlib import Path

import pytest
from django.test import Client
from django.utils import timezone

from ridgeback.demo import household as demo
from ridgeback.enclosures.models import Enclosure
from ridgeback.households.forms import RoomForm
from ridgeback.households.models import Household, Keeper
from ridgeback.households.places import GREENWICH, assumed_place, place_of
from ridgeback.log import flows
from ridgeback.log.models import LastDone, LogEntry
from tests import clocks

WEB = Path(__file__).parents[2] / "ridgeback"
CLOCKS = re.compile(
    r"timezone\.now|localdate|localtime|datetime\.now|date\.today|utcnow|now\(\)\.date|\bnow\.date\(\)|ZoneInfo\("
)
EDGES = {
    "clock.py": "the clock itself",
    "households/models.py": "valid_zone asks whether a zone exists",
    "enclosures/reading_form.py": "what is typed is put into the room's zone",
    "collection/forms.py": "what is typed is put into the room’s zone",
    "demo/household.py": "invented moments in the demo's zone",
    "demo/lives.py": "invented moments in the demo's zone",
    "demo/log_history.py": "invented moments in the demo's zone",
}


def test_nothing_else_reads_a_clock_or_makes_a_date_of_a_moment() -> None:
    found = [
        f"{path.relative_to(WEB)}:{number}: {line.strip()}"
        for path in sorted(WEB.rglob("*.py"))
        if "migrations" not in path.parts and str(path.relative_to(WEB)) not in EDGES
        for number, line in enumerate(path.read_text(encoding="utf-8").splitlines(), 1)
        if CLOCKS.search(line)
    ]
    assert found == []


@pytest.fixture
def sydney(monkeypatch: pytest.MonkeyPatch, request: pytest.FixtureRequest) -> Household:
    """The demo in Sydney at twenty past nine in the morning of 15 July."""
    clocks.set_clock(monkeypatch, clocks.CLOCKS["sydney"])
    monkeypatch.setattr(demo, "ZONE", "Australia/Sydney")
    loaded: Household = request.getfixturevalue("household")
    loaded.rooms.update(time_zone="Australia/Sydney")
    return loaded


def test_a_morning_weight_in_sydney_is_of_today(sydney: Household, client: Client) -> None:
    animal = sydney.animals.get(name="Pip")
    weight = {"mass": f"{animal.mass_g():g} g", "on": "2026-07-15"}
    answer = client.post(f"/animals/{animal.pk}/weigh/", weight)
    assert answer.status_code == 302, answer.context["weighing"].errors
    assert animal.weighings.filter(on=dt.date(2026, 7, 15)).exists()


def test_forms_begin_with_the_day_of_the_room(sydney: Household, client: Client) -> None:
    animal = sydney.animals.get(name="Pip")
    page = client.get(f"/animals/{animal.pk}/growth/")
    assert page.context["weighing"]["on"].value() == dt.date(2026, 7, 15)
    assert client.get("/today/").context["day"] == dt.date(2026, 7, 15)
    assert client.get("/breeding/").context["form"].today == dt.date(2026, 7, 15)


def test_a_log_entry_that_waited_never_moves_a_task_back(sydney: Household) -> None:
    """23:20 UTC on the 14th is the 15th in Sydney: the UTC date made an older entry the last."""
    enclosure = Enclosure.objects.filter(household=sydney).first()
    assert enclosure is not None
    keeper, now = Keeper.objects.get(username="demo"), timezone.now()
    for on in (dt.date(2026, 7, 15), dt.date(2026, 7, 14)):
        log_request = flows.LogRequest(
            uuid.uuid4(), f"clean {on}", "clean", LogEntry.Outcome.DONE, on, now
        )
        flows.write(enclosure, None, log_request, keeper=keeper, now=now)
    assert LastDone.objects.get(enclosure=enclosure, stem="clean").on == dt.date(2026, 7, 15)


def test_the_day_before_there_is_a_room_is_the_browsers(
    stranger: Client, monkeypatch: pytest.MonkeyPatch
) -> None:
    clocks.set_clock(monkeypatch, clocks.CLOCKS["sydney"])
    stranger.cookies["zone"] = "Australia%2FSydney"
    form = stranger.get("/start/animal/").context["form"]
    assert form.today == dt.date(2026, 7, 15)
    stranger.cookies["zone"] = "../../etc/passwd"
    assert stranger.get("/start/animal/").context["form"].today == dt.date(2026, 7, 14)


@pytest.mark.parametrize(
    ("zone", "latitude_deg", "longitude_deg"),
    # geography, from memory: to half a degree
    [
        ("Pacific/Auckland", -36.9, 174.8),
        ("Australia/Sydney", -33.9, 151.2),
        ("Europe/Lisbon", 38.7, -9.1),
        ("America/Los_Angeles", 34.1, -118.2),
        ("America/Argentina/Ushuaia", -54.8, -68.3),
        ("US/Pacific", 34.1, -118.2),
        ("Asia/Calcutta", 22.5, 88.4),
    ],
)
def test_a_zone_has_a_place(zone: str, latitude_deg: float, longitude_deg: float) -> None:
    found = place_of(zone)
    assert found is not None
    assert found.latitude_deg == pytest.approx(latitude_deg, abs=0.5)
    assert found.longitude_deg == pytest.approx(longitude_deg, abs=0.5)


def test_a_zone_that_is_no_place_is_said_to_be_assumed() -> None:
    assert place_of("UTC") is None
    assert assumed_place("UTC") == GREENWICH


def test_every_zone_that_is_offered_has_a_place() -> None:
    assert [zone for zone in RoomForm.zones() if place_of(zone) is None] == []


AIR = {"day_c": "21", "night_c": "18", "summer_max_c": "28", "rh_pct": "50"}


def test_a_room_takes_its_place_from_its_zone_until_somebody_says(
    client: Client, household: Household
) -> None:
    facts = {"name": "Shed", "time_zone": "Pacific/Auckland", **AIR}
    assert client.post("/rooms/new/", facts).status_code == 302
    room = household.rooms.get(name="Shed")
    assert (room.latitude_deg, room.longitude_deg) == place_of("Pacific/Auckland")
    # only the zone is moved: the place goes with it
    kept = {"latitude_deg": str(room.latitude_deg), "longitude_deg": str(room.longitude_deg)}
    client.post(f"/rooms/{room.pk}/", {**facts, **kept, "time_zone": "Europe/Lisbon"})
    room.refresh_from_db()
    assert (room.latitude_deg, room.longitude_deg) == place_of("Europe/Lisbon")
    # what was written stays
    client.post(
        f"/rooms/{room.pk}/",
        {**facts, "latitude_deg": "41.5", "longitude_deg": "-8.4", "time_zone": "Europe/Lisbon"},
    )
    room.refresh_from_db()
    assert (room.latitude_deg, room.longitude_deg) == (41.5, -8.4)
    client.post(
        f"/rooms/{room.pk}/",
        {**facts, "latitude_deg": "41.5", "longitude_deg": "-8.4", "time_zone": "Europe/Madrid"},
    )
    room.refresh_from_db()
    assert (room.latitude_deg, room.longitude_deg) == (41.5, -8.4)
