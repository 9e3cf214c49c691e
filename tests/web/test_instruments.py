"""Instruments: kept once, their error goes where they measure, they come up when they are due."""

import datetime as dt

import numpy as np
import pytest
from django.test import Client

from husbandry.records.channels import Quantity
from ridgeback.clock import now
from ridgeback.enclosures.models import Enclosure
from ridgeback.instruments.models import Instrument
from ridgeback.records.flows import channel_for
from ridgeback.records.models import Channel
from ridgeback.records.reading import values_of
from ridgeback.records.store import ensure_months, write_samples
from tests import clocks


def day(n: int) -> dt.date:
    return clocks.today() + dt.timedelta(days=n)


@pytest.fixture
def warm(pip: Enclosure) -> Channel:
    """A day at the warm end."""
    channel = channel_for(pip, Quantity.TEMPERATURE, "warm", "A")
    end = int(now().timestamp())
    at_s = np.arange(end - 86_400, end, 600, dtype=np.int64)
    ensure_months(at_s)
    write_samples(channel, at_s, np.full(len(at_s), 26.0), None)
    return channel


def send(client: Client, **more: object) -> object:
    facts = {
        "name": "Blue probe",
        "kind": "probe",
        "resolution": "0.1 °C",
        "offset": "",
        "way": "",
        "checked_on": "",
        "every_months": "12",
        "battery_on": "",
        "place": "drawer",
        **more,
    }
    return client.post("/household/instruments/", facts)


def test_its_error_is_taken_off_where_it_measures(client: Client, warm: Channel) -> None:
    send(client, offset="1,4", way="ice", checked_on=str(day(-3)), channels=[warm.pk])
    warm.refresh_from_db()
    assert warm.offset == 1.4
    _, values = values_of(warm, now() - dt.timedelta(days=2), now())
    assert values == pytest.approx([24.6] * len(values))
    own = Instrument.objects.get()
    page = client.get(f"/household/instruments/{own.pk}/").content.decode()
    assert "1.4" in page and "checked" in page


def test_one_channel_has_one_instrument(client: Client, warm: Channel) -> None:
    send(client, channels=[warm.pk])
    answer = send(client, name="Red probe", channels=[warm.pk])
    assert "Blue probe already" in answer.context["form"].errors["channels"][0]  # type: ignore[attr-defined]


@pytest.mark.parametrize(
    ("more", "field"),
    [
        ({"offset": "warm"}, "offset"),
        ({"offset": "999"}, "offset"),
        ({"way": "ice"}, "checked_on"),
        ({"checked_on": str(day(-30))}, "way"),
        ({"way": "ice", "checked_on": str(day(30))}, "checked_on"),
        ({"battery_on": str(day(30))}, "battery_on"),
        ({"every_months": "0"}, "every_months"),
        ({"name": ""}, "name"),
        ({"kind": "rod"}, "kind"),
    ],
)
@pytest.mark.usefixtures("pip")
def test_what_cannot_be_is_said(client: Client, more: dict[str, str], field: str) -> None:
    answer = send(client, **more)
    assert list(answer.context["form"].errors) == [field]  # type: ignore[attr-defined]
    assert not Instrument.objects.exists()


def test_a_name_is_there_once(client: Client, pip: Enclosure) -> None:
    send(client)
    answer = send(client, name="blue PROBE")
    assert "name" in answer.context["form"].errors  # type: ignore[attr-defined]


@pytest.mark.parametrize(("ago", "is_now"), [(370, True), (355, True), (100, False)])
def test_it_comes_up_when_it_is_due(
    client: Client, pip: Enclosure, ago: int, is_now: bool
) -> None:
    send(client, way="ice", checked_on=str(day(-ago)))
    page = client.get("/coming-up/").context
    now_rows = [row["title"] for row in page["now"]]
    later = [row["title"] for month in page["months"] for row in month["rows"]]
    assert any("Check Blue probe" in one for one in (now_rows if is_now else later))


def test_an_error_that_is_far_off_is_said(client: Client, pip: Enclosure) -> None:
    facts = {"offset": "3", "way": "ice", "checked_on": str(day(0))}
    send(client, **facts)
    page = client.get("/household/instruments/").content.decode()
    assert "use another instrument" in page


def test_another_household_sees_and_takes_nothing(
    client: Client, stranger: Client, warm: Channel
) -> None:
    send(client)
    own = Instrument.objects.get()
    assert stranger.get(f"/household/instruments/{own.pk}/").status_code == 404
    assert stranger.post(f"/household/instruments/{own.pk}/delete/").status_code == 404
    answer = send(stranger, name="Mine", channels=[warm.pk])
    assert "channels" in answer.context["form"].errors  # type: ignore[attr-defined]
    client.post(f"/household/instruments/{own.pk}/delete/")
    assert not Instrument.objects.exists()
