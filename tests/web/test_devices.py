"""Devices: a token shown once, batches row by row, idempotent, refused with reasons, revoked at once."""

import datetime as dt
import json
from typing import Any

import pytest
from django.core.cache import cache
from django.test import Client

from husbandry.records.channels import Quantity, SensorPlace
from ridgeback.clock import now
from ridgeback.devices import flows
from ridgeback.devices.models import Device
from ridgeback.enclosures.models import Enclosure
from ridgeback.records.models import Channel, Sample

pytestmark = pytest.mark.usefixtures("pip")


@pytest.fixture(autouse=True)
def no_counts(db: None) -> None:
    """Each test counts its own requests."""
    cache.clear()


@pytest.fixture
def token(client: Client, pip: Enclosure) -> str:
    """Of a device with a thermometer and a hygrometer."""
    page = client.post("/household/devices/", {"name": "Shelf"}, follow=True)
    shown = page.context["token"]
    device = Device.objects.get(name="Shelf")
    for quantity, place in (("temperature", "warm"), ("humidity", "cool")):
        client.post(
            f"/household/devices/{device.pk}/",
            {"enclosure": pip.pk, "quantity": quantity, "place": place},
        )
    return str(shown)


def post(token: str, body: Any, *, kind: str = "json", path: str = "readings") -> Any:
    sent = json.dumps(body) if kind == "json" else body
    return Client().post(
        f"/api/v1/{path}",
        sent,
        content_type="application/json" if kind == "json" else "text/csv",
        headers={"authorization": f"Bearer {token}"},
    )


def reading(value: Any = 24.5, minutes: float = 1, **more: Any) -> dict[str, Any]:
    at = now() - dt.timedelta(minutes=minutes)
    return {"channel": "temperature-warm", "at": at.isoformat(), "value": value, **more}


def test_a_token_is_shown_once_and_kept_as_a_hash(client: Client, token: str) -> None:
    device = Device.objects.get()
    assert token.startswith("rb_") and token not in device.token_hash
    assert device.token_hash == flows.hash_of(token)
    page = client.get(f"/household/devices/{device.pk}/").content.decode()
    assert token not in page and "temperature-warm" in page
    post(token, {"readings": [reading(24.5)]})
    assert "last 24.5 °C at" in client.get(f"/household/devices/{device.pk}/").content.decode()


def test_a_number_beyond_all_numbers_is_a_refused_row(token: str) -> None:
    told = post(token, {"readings": [reading(10**400), reading(24.0, 2)]}).json()
    assert told["new"] == 1 and "no number" in told["refused"][0]["reason"]


def test_a_device_at_a_plug_knows_its_unit(client: Client, token: str, pip: Enclosure) -> None:
    device = Device.objects.get(name="Shelf")
    bound = {"enclosure": pip.pk, "quantity": "power", "place": "plug"}
    client.post(f"/household/devices/{device.pk}/", bound)
    told = Client().get("/api/v1/device", headers={"authorization": f"Bearer {token}"}).json()
    assert {one["unit"] for one in told["channels"]} == {"C", "%", "W"}


def test_a_device_knows_itself(token: str, pip: Enclosure) -> None:
    answer = Client().get("/api/v1/device", headers={"authorization": f"Bearer {token}"})
    told = answer.json()
    assert told["name"] == "Shelf"
    assert [(one["code"], one["unit"]) for one in told["channels"]] == [
        ("temperature-warm", "C"),
        ("humidity-cool", "%"),
    ]
    assert told["channels"][0]["enclosure"] == pip.name


def test_readings_are_taken_once(token: str) -> None:
    batch = {"readings": [reading(24.5, 3), reading(25.0, 2), reading(76.1, 1, unit="F")]}
    assert post(token, batch).json() == {"new": 3, "known": 0, "refused": []}
    assert post(token, batch).json() == {"new": 0, "known": 3, "refused": []}
    values = list(Sample.objects.order_by("at").values_list("value", flat=True))
    assert values == pytest.approx([24.5, 25.0, 24.5])
    channel = Channel.objects.get(quantity="temperature", is_live=True)
    assert channel.last_value == pytest.approx(24.5) and Device.objects.get().seen_at is not None


@pytest.mark.parametrize(
    ("row", "said"),
    [
        ({"channel": "roof"}, "no channel “roof”; it has temperature-warm, humidity-cool"),
        ({"value": "NaN"}, "no number"),
        ({"value": None}, "no number"),
        ({"value": True}, "no number"),
        ({"value": 250}, "no temperature that can be"),
        ({"unit": "K"}, "“K” is no unit"),
        ({"at": "yesterday"}, "no time"),
        ({"at": "2026-11-25T14:30:00"}, "no zone"),
        ({"at": 1e300}, "no time"),
        ({"at": None}, "no time"),
        ({"at": "2019-01-01T00:00:00Z"}, "400 days ago"),
    ],
)
def test_a_row_that_cannot_be_is_answered_and_the_rest_taken(
    token: str, row: dict[str, Any], said: str
) -> None:
    told = post(token, {"readings": [reading(24, 5), {**reading(), **row}, reading(25, 2)]}).json()
    assert told["new"] == 2
    assert [one["row"] for one in told["refused"]] == [2] and said in told["refused"][0]["reason"]
    assert Device.objects.get().problem.startswith("1 rows refused")


def test_a_clock_that_is_ahead_is_told_by_how_much(token: str) -> None:
    told = post(token, {"readings": [reading(24, -90)]}).json()
    assert "90 minutes ahead" in told["refused"][0]["reason"]


def test_csv_is_taken_too(token: str) -> None:
    at = (now() - dt.timedelta(minutes=4)).isoformat()
    later = int((now() - dt.timedelta(minutes=3)).timestamp())
    text = f"channel,at,value,unit\ntemperature-warm,{at},24.5\n\nhumidity-cool,{later},61.5,%\nx,{at},1\n"
    told = post(token, text, kind="csv", path="readings.csv").json()
    assert told["new"] == 2 and [one["row"] for one in told["refused"]] == [3]


def test_ten_thousand_rows_at_once(token: str) -> None:
    rows = [
        {"channel": "temperature-warm", "at": int(now().timestamp()) - n, "value": 20 + n % 5}
        for n in range(10_000)
    ]
    told = post(token, {"readings": rows}).json()
    assert told["new"] == flows.MOST_ROWS and len(told["refused"]) == 10_000 - flows.MOST_ROWS
    assert told["refused"][0]["row"] == flows.MOST_ROWS + 1


@pytest.mark.parametrize("bad", ["", "rb_wrong", "x" * 300])
def test_a_wrong_token_opens_nothing(token: str, bad: str) -> None:
    assert post(bad, {"readings": [reading()]}).status_code == 401
    assert Client().get("/api/v1/device").status_code == 401
    assert not Sample.objects.exists()


def test_a_revoked_token_opens_nothing_and_its_values_stay(client: Client, token: str) -> None:
    post(token, {"readings": [reading()]})
    device = Device.objects.get()
    client.post(f"/household/devices/{device.pk}/remove/")
    assert post(token, {"readings": [reading(25, 0.5)]}).status_code == 401
    assert Sample.objects.count() == 1 and not Channel.objects.filter(is_live=True).exists()
    again = client.post("/household/devices/", {"name": "Shelf"}, follow=True)
    assert again.context["token"] != token, "the name is free again"


def test_a_new_token_ends_the_old_one(client: Client, token: str) -> None:
    device = Device.objects.get()
    page = client.post(f"/household/devices/{device.pk}/token/", follow=True)
    assert post(token, {"readings": [reading()]}).status_code == 401
    assert post(page.context["token"], {"readings": [reading()]}).json()["new"] == 1


def test_what_is_no_batch_is_refused(token: str) -> None:
    for body in ([], {}, {"readings": 5}):
        assert post(token, body).status_code == 422, body
    assert post(token, "{", kind="csv", path="readings").status_code == 400
    assert post(token, b"\xff\xfe\x00", kind="csv", path="readings.csv").status_code == 400


def test_it_is_limited_in_rate(token: str) -> None:
    codes = [post(token, {"readings": []}).status_code for _ in range(62)]
    assert codes[:60] == [200] * 60 and codes[-1] == 429


def test_it_is_described(client: Client) -> None:
    told = Client().get("/api/v1/openapi.json").json()
    assert told["openapi"].startswith("3.") and "/api/v1/readings" in told["paths"]
    assert told["components"]["securitySchemes"]["DeviceToken"]["scheme"] == "bearer"


def test_forms_say_what_is_wrong(client: Client, token: str, pip: Enclosure) -> None:
    device = Device.objects.get()
    twice = client.post("/household/devices/", {"name": "shelf"})
    assert "Another device" in twice.context["form"].errors["name"][0]
    asked = {"enclosure": pip.pk, "quantity": "uvi", "place": "water"}
    wrong = client.post(f"/household/devices/{device.pk}/", asked)
    assert "basking surface" in wrong.context["form"].errors["place"][0]
    asked = {"enclosure": 999_999, "quantity": "uvi", "place": "surface"}
    other = client.post(f"/household/devices/{device.pk}/", asked)
    assert "enclosure" in other.context["form"].errors


def test_another_household_sees_and_takes_nothing(stranger: Client, token: str) -> None:
    device = Device.objects.get()
    binding = device.bindings.first()
    assert binding is not None
    for way in ("", "token/", "remove/"):
        assert stranger.post(f"/household/devices/{device.pk}/{way}").status_code == 404
    gone = stranger.post(f"/household/device-channels/{binding.pk}/remove/")
    assert gone.status_code == 404
    assert (
        device.bindings.count() == 2 and post(token, {"readings": [reading()]}).json()["new"] == 1
    )


def test_two_enclosures_of_one_kind_have_two_codes(
    client: Client, token: str, pip: Enclosure
) -> None:
    device = Device.objects.get()
    other = pip.household.enclosures.exclude(pk=pip.pk).order_by("pk")[0]
    asked = {"enclosure": other.pk, "quantity": "temperature", "place": "warm"}
    for _ in range(2):
        client.post(f"/household/devices/{device.pk}/", asked)
    codes = list(device.bindings.values_list("code", flat=True))
    assert codes == ["temperature-warm", "humidity-cool", f"temperature-warm-{other.pk}"]


def test_keys_made_and_closed_are_in_the_log(
    client: Client, token: str, caplog: pytest.LogCaptureFixture
) -> None:
    device = Device.objects.get()
    client.post(f"/household/devices/{device.pk}/token/")
    client.post(f"/household/devices/{device.pk}/remove/")
    said = [one for one in caplog.records if one.name == "ridgeback.security"]
    assert [one.message for one in said][-2:] == ["device key changed", "device key closed"]
    assert all(token not in str(one.__dict__) and "Shelf" not in str(one.__dict__) for one in said)


def test_the_places_of_an_enclosure_are_letters_on_its_drawing(
    client: Client, stranger: Client, pip: Enclosure
) -> None:
    page = client.get(f"/household/device-places/?enclosure={pip.pk}").content.decode()
    assert 'data-item="warm"' in page and 'data-item="surface"' in page
    assert 'data-item="room"' not in page, "the room is no place in it"
    for asked in ("", "x", "0", "99999999999999"):
        assert client.get(f"/household/device-places/?enclosure={asked}").status_code == 404
    assert stranger.get(f"/household/device-places/?enclosure={pip.pk}").status_code == 404


def test_a_plug_sends_its_power(pip: Enclosure) -> None:
    device, token = flows.add(pip.household, name="Plug", keeper=None, now=now())
    own = flows.bind(device, pip, Quantity.POWER, SensorPlace.PLUG)
    at = int(now().timestamp())
    rows = [
        {"channel": own.code, "at": at - 60, "value": 61.5, "unit": "W"},
        {"channel": own.code, "at": at, "value": 62, "unit": "kW"},
    ]
    answer = post(token, {"readings": rows})
    assert "no unit of power" in answer.content.decode()
    assert [one.value for one in Sample.objects.filter(channel=own.channel_id)] == [61.5]
