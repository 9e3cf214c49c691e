"""Calendars of the day's tasks: an address that is shown once, read by another parser, and taken
away.
"""

import datetime as dt
import re

import pytest
import vobject
from django.test import Client

from ridgeback.enclosures.models import Enclosure
from ridgeback.households.models import Household, Room
from ridgeback.today.models import CalendarFeed
from tests import clocks


def address(client: Client, **more: str) -> str:
    page = client.post(
        "/today/calendars/", {"name": "the sitter", "room": "", **more}
    ).content.decode()
    found = re.search(r"http://[^<]+\.ics", page)
    assert found is not None
    return found.group(0).removeprefix("http://testserver")


def test_a_calendar_is_read_by_another_parser(
    client: Client, household: Household, pip: Enclosure
) -> None:
    """vobject reads what icalendar wrote (RFC 5545)."""
    household.animals.update(fed_on=clocks.today() - dt.timedelta(days=30))
    answer = Client().get(address(client))  # nobody signed in
    assert answer["Content-Type"].startswith("text/calendar")
    calendar = vobject.readOne(answer.content.decode())
    events = calendar.vevent_list
    assert len(events) > 30 and len({event.uid.value for event in events}) == len(events)
    days = [event.dtstart.value for event in events]
    assert min(days) >= clocks.today() and max(days) <= clocks.today() + dt.timedelta(days=28)
    assert any(
        "Pip’s enclosure: mixed bowl" in event.summary.value and "dust:" in event.description.value
        for event in events
    )
    assert all(len(line.encode()) <= 75 for line in answer.content.decode().split("\r\n"))


def test_what_comes_every_day_is_left_out(client: Client) -> None:
    text = Client().get(address(client)).content.decode()
    assert "Visual check" not in text and "Fresh water" not in text


def test_an_address_is_shown_once_and_kept_as_its_hash(client: Client) -> None:
    where = address(client)
    secret = where.removeprefix("/calendar/").removesuffix(".ics")
    assert secret not in client.get("/today/calendars/").content.decode()
    assert (
        secret not in str(list(CalendarFeed.objects.values()))
        and len(CalendarFeed.objects.get().secret_hash) == 64
    )


def test_taken_away_it_is_empty(client: Client) -> None:
    where = address(client)
    client.post(f"/today/calendars/{CalendarFeed.objects.get().pk}/delete/")
    assert Client().get(where).status_code == 404 and not CalendarFeed.objects.exists()


def test_a_room_has_its_own_enclosures_only(
    client: Client, household: Household, pip: Enclosure
) -> None:
    other = Room.objects.create(
        household=household,
        name="Attic",
        time_zone="Europe/London",
        day_c=20,
        night_c=17,
        summer_max_c=30,
        rh_pct=50,
    )
    Enclosure.objects.filter(pk=pip.pk).update(room=other)
    attic = Client().get(address(client, room=str(other.pk))).content.decode()
    assert "Pip’s enclosure" in attic.replace("\r\n ", "") and "Bramble" not in attic


@pytest.mark.parametrize("secret", ["x", "a" * 200, "%00", "..%2F..%2Fetc"])
def test_other_secrets_are_nobodys(db: None, secret: str) -> None:
    assert Client().get(f"/calendar/{secret}.ics").status_code == 404


def test_a_stranger_cannot_take_it_away_and_a_room_of_others_is_refused(
    client: Client, stranger: Client, pip: Enclosure
) -> None:
    address(client)
    assert (
        stranger.post(f"/today/calendars/{CalendarFeed.objects.get().pk}/delete/").status_code
        == 404
    )
    wrong = stranger.post(
        "/today/calendars/", {"name": "mine", "room": str(pip.room_id)}
    ).content.decode()
    assert (
        "Select a valid choice" in wrong
        and 'value="mine"' in wrong
        and CalendarFeed.objects.count() == 1
    )


def test_without_a_name_it_is_asked_for(client: Client) -> None:
    assert (
        "required" in client.post("/today/calendars/", {"name": " ", "room": ""}).content.decode()
    )
    assert not CalendarFeed.objects.exists()
