"""The page that verifies an enclosure: readings, looks, the signature, and what a change asks for
again.
"""

import datetime as dt
from collections.abc import Callable

import pytest
from django.test import Client
from django.utils import timezone

from husbandry.commissioning.readings import CHECKS
from ridgeback import clock
from ridgeback.animals.models import Animal
from ridgeback.demo import household as demo
from ridgeback.enclosures import flows
from ridgeback.enclosures.models import Commissioning, Enclosure
from ridgeback.households.models import Household, Keeper

RIGHT = {
    "surface_day": 40.0,
    "warm_air_day": 30.0,
    "cool_air_day": 24.5,
    "air_night": 20.0,
    "uvi_day": 3.4,
    "humidity_day": 50.0,
}
ALL = list(CHECKS)


def read_all(pip: Enclosure) -> None:
    keeper = Keeper.objects.get(username="demo")
    for need, value in RIGHT.items():
        flows.add_reading(
            pip,
            need=need,
            value=value,
            offset=0.0,
            at=timezone.now(),
            instrument="probe",
            lamp_on_h=8.0,
            keeper=keeper,
            room_c=21.0,
        )


def page(client: Client, pip: Enclosure) -> str:
    return client.get(f"/enclosures/{pip.pk}/commissioning/").content.decode()


def test_it_lists_what_is_to_be_read_and_leads_to_the_form(client: Client, pip: Enclosure) -> None:
    html = page(client, pip)
    assert (
        "after six hours of lamps" in html
        and f"/enclosures/{pip.pk}/?next=check#reading" in html
        and 'aria-label="Night air, read now"' in html
        and "Approve for move-in" in html
    )
    assert (
        client.get(f"/enclosures/{pip.pk}/?need=air_night").context["reading"]["need"].value()
        == "air_night"
    )


def test_what_is_expected_opens_to_its_working(client: Client, pip: Enclosure) -> None:
    lines = client.get(f"/enclosures/{pip.pk}/commissioning/").context["lines"]
    opened = [line.derivation_at for line in lines if line.expected]
    assert opened and all(opened)
    for pointer in opened:
        assert client.get(f"/enclosures/{pip.pk}/calculation/", {"at": pointer}).status_code == 200


def test_it_is_signed_once_everything_is_proven(client: Client, pip: Enclosure) -> None:
    said = client.post(
        f"/enclosures/{pip.pk}/commissioning/", {"revision": 1, "checks": ALL}, follow=True
    ).content.decode()
    assert "look at it again" in said and not Commissioning.objects.exists()  # nothing read yet
    read_all(pip)
    assert [
        line.direction
        for line in client.get(f"/enclosures/{pip.pk}/commissioning/").context["lines"]
    ] == ["right"] * len(RIGHT)
    said = client.post(
        f"/enclosures/{pip.pk}/commissioning/", {"revision": 1, "checks": ALL}, follow=True
    ).content.decode()
    assert "Signed." in said and "quiet week" in said
    commissioning = Commissioning.objects.get()
    assert (
        commissioning.enclosure == pip
        and commissioning.checks == ALL
        and set(commissioning.readings) == set(RIGHT)
    )


def test_too_low_points_down(client: Client, pip: Enclosure) -> None:
    lines = {
        line.key: line
        for line in client.get(f"/enclosures/{pip.pk}/commissioning/").context["lines"]
    }
    assert lines["surface_day"].direction == "below" and "too low" in lines["surface_day"].words


def test_what_is_left_out_needs_a_word(client: Client, pip: Enclosure) -> None:
    read_all(pip)
    said = client.post(
        f"/enclosures/{pip.pk}/commissioning/", {"revision": 1, "checks": ALL[:3]}
    ).content.decode()
    assert (
        "of what is left out, say why" in said
        and not Commissioning.objects.exists()
        and said.count("checked") == 3
    )
    client.post(
        f"/enclosures/{pip.pk}/commissioning/",
        {"revision": 1, "checks": ALL[:3], "note": "no thermostat in it"},
    )
    assert Commissioning.objects.get().note == "no thermostat in it"


def test_a_change_makes_the_commissioning_one_of_then(client: Client, pip: Enclosure) -> None:
    read_all(pip)
    client.post(f"/enclosures/{pip.pk}/commissioning/", {"revision": 1, "checks": ALL})
    enclosure = Enclosure.objects.for_planning().get(pk=pip.pk)
    spec = flows.spec_of(enclosure.request_at(timezone.now()))
    spec["items"][1]["hours_run"] = 350
    tried = enclosure.request_at(timezone.now(), spec)
    flows.keep_layout(
        enclosure, tried, seen=1, keeper=Keeper.objects.get(username="demo"), now=timezone.now()
    )
    html = page(client, pip)
    assert "changed since" in html
    lines = client.get(f"/enclosures/{pip.pk}/commissioning/").context["lines"]
    assert {line.key for line in lines if line.direction != "right"} == {"uvi_day"}


@pytest.mark.parametrize("revision", ["", "7", "x"])
def test_another_state_is_not_signed(client: Client, pip: Enclosure, revision: str) -> None:
    read_all(pip)
    client.post(f"/enclosures/{pip.pk}/commissioning/", {"revision": revision, "checks": ALL})
    assert not Commissioning.objects.exists()


def test_the_demos_instruments_read_a_whole_round(client: Client, pip: Enclosure) -> None:
    frog = Enclosure.objects.get(name__startswith="Sable")
    said = client.post(f"/enclosures/{frog.pk}/simulate/", {"next": "check"}, follow=True)
    assert "humidity" in said.content.decode() and said.redirect_chain[-1][0].endswith(
        "/commissioning/"
    )


def test_moving_in_waits_for_the_signature_and_begins_a_quiet_week(
    client: Client, pip: Enclosure
) -> None:
    said = client.post(f"/enclosures/{pip.pk}/settle-in/", follow=True).content.decode()
    assert "not verified yet" in said and pip.occupancies.get().moved_in_at is None
    read_all(pip)
    client.post(f"/enclosures/{pip.pk}/commissioning/", {"revision": 1, "checks": ALL})
    assert "Pip moves in now" in page(client, pip)
    said = client.post(f"/enclosures/{pip.pk}/settle-in/", follow=True).content.decode()
    assert "7 quiet days" in said and "quiet until" in said and "moves in now" not in said
    assert "Quiet week until" in client.get(f"/enclosures/{pip.pk}/").content.decode()
    stay = pip.occupancies.get()
    stay.moved_in_at = timezone.now() - dt.timedelta(days=9)
    stay.save()
    assert "Quiet week" not in client.get(f"/enclosures/{pip.pk}/").content.decode()


def test_who_comes_with_the_move_is_in_quarantine(
    client: Client, household: Household, pip: Enclosure
) -> None:
    read_all(pip)
    client.post(f"/enclosures/{pip.pk}/commissioning/", {"revision": 1, "checks": ALL})
    client.post(f"/enclosures/{pip.pk}/settle-in/")
    animal = Animal.objects.get(name="Pip")
    assert animal.came_on is None  # its enclosure stood from the first day: it is no arrival
    pip.occupancies.update(moved_in_at=None)
    pip.revisions.update(state="planned")
    flows.settle_in(pip, now=timezone.now())
    assert Animal.objects.get(name="Pip").came_on is None  # it was weighed here for months
    pip.occupancies.update(moved_in_at=None)
    animal.weighings.all().delete()
    flows.settle_in(pip, now=timezone.now())
    assert Animal.objects.get(name="Pip").came_on == pip.room.day_of(timezone.now())
    assert (
        "in quarantine until" in page(client, pip)
        and "In quarantine until" in client.get(f"/enclosures/{pip.pk}/").content.decode()
    )
    assert "tend it last" in client.get(f"/animals/{animal.pk}/").content.decode()
    pip.revisions.update(state="built")  # what is only planned is not among the day's tasks
    assert "Pip is in quarantine" in client.get("/today/").content.decode()


def test_who_moves_in_unproven_leaves_a_reason(
    client: Client, household: Household, pip: Enclosure
) -> None:
    other = pip.present[0].animal
    flows.move_out(pip, other, now=timezone.now() - dt.timedelta(minutes=5))
    asked = client.post(f"/enclosures/{pip.pk}/move-in/", {"animal": other.pk}).content.decode()
    assert "has no commissioning check" in asked and not pip.occupancies.present().exists()
    client.post(
        f"/enclosures/{pip.pk}/move-in/",
        {"animal": other.pk, "because": "  its own   enclosure leaks "},
    )
    stay = pip.occupancies.present().get(animal=other)
    assert stay.unproven_because == "its own enclosure leaks" and stay.moved_in_at is not None
    assert (
        "moved in without a commissioning check: its own enclosure leaks"
        in client.get(f"/enclosures/{pip.pk}/animals/").content.decode()
    )


@pytest.fixture
def at_hour(monkeypatch: pytest.MonkeyPatch) -> Callable[[int], None]:
    """Sets the clock of the page to an hour of yesterday, in the rooms' own time."""

    def sets(hour: int) -> None:
        day = clock.local(timezone.now(), demo.ZONE) - dt.timedelta(days=1)
        monkeypatch.setattr(
            "ridgeback.building.commissioning.now",
            lambda: day.replace(hour=hour, minute=5).astimezone(dt.UTC),
        )

    return sets


def beside(
    client: Client, enclosure: Enclosure, need: str, value: str, **more: str
) -> tuple[str, list[str]]:
    """What a number typed beside a line answers: the page, and where it led."""
    answer = client.post(
        f"/enclosures/{enclosure.pk}/commissioning/read/",
        {"need": need, "value": value, **more},
        follow=True,
    )
    return answer.content.decode(), [to for to, _ in answer.redirect_chain]


def test_a_number_is_typed_beside_its_line(
    client: Client, pip: Enclosure, at_hour: Callable[[int], None]
) -> None:
    at_hour(13)
    html, led = beside(client, pip, "cool_air_day", "23.8")
    assert led == [f"/enclosures/{pip.pk}/commissioning/"] and "Logged: cool air" in html
    logged = pip.readings.order_by("-pk").first()
    assert logged is not None and (logged.value, logged.instrument, logged.moment) == (
        23.8,
        "probe",
        "",
    )


def test_what_cannot_be_true_is_asked_about_and_stays(
    client: Client, pip: Enclosure, at_hour: Callable[[int], None]
) -> None:
    at_hour(13)
    count = pip.readings.count()
    html, led = beside(client, pip, "surface_day", "104")
    assert not led and 'value="104"' in html and "Yes, " in html and pip.readings.count() == count
    html, led = beside(client, pip, "air_night", "20")
    assert (
        not led
        and "Its lamps are on now" in html
        and 'value="20"' in html
        and pip.readings.count() == count
    )
    html, _ = beside(client, pip, "air_night", "warm")
    assert (
        'value="warm"' in html and 'aria-invalid="true"' in html and pip.readings.count() == count
    )
    html, led = beside(client, pip, "humidity_night", "70")
    assert "not asked for any more" in html and pip.readings.count() == count


def test_by_night_only_what_belongs_to_the_night_is_read(
    client: Client, pip: Enclosure, at_hour: Callable[[int], None]
) -> None:
    at_hour(3)
    html, led = beside(client, pip, "cool_air_day", "23.8")
    assert not led and "Its lamps are off now" in html
    html, led = beside(client, pip, "air_night", "20.5")
    assert led and "Logged: night air" in html
    logged = pip.readings.order_by("-pk").first()
    assert logged is not None and logged.lamp_on_h is None


def damp(client: Client) -> Enclosure:
    """An enclosure of the demo that is misted, for an animal that wants a wave."""
    return next(
        enclosure
        for enclosure in Enclosure.objects.for_planning()
        if enclosure.head
        and (enclosure.head.spec["enclosure"].get("wetting") or {}).get("mistings")
    )


def test_a_misted_enclosure_is_read_before_and_after_its_misting(
    client: Client, pip: Enclosure
) -> None:
    enclosure = damp(client)
    lines = {
        (line.key, line.moment): line
        for line in client.get(f"/enclosures/{enclosure.pk}/commissioning/").context["lines"]
    }
    before, after = lines["humidity_day", "before misting"], lines["humidity_day", "after misting"]
    assert before.expected and after.expected and "before the misting at" in before.when
    html, _ = beside(client, enclosure, "humidity_day", after.expected, moment="after misting")
    assert "Logged: humidity after misting" in html
    logged = enclosure.readings.order_by("-pk").first()
    assert logged is not None and logged.moment == "after misting"
    page_html = client.get(f"/enclosures/{enclosure.pk}/").content.decode()
    assert "after misting" in page_html  # among its last readings
    wrong = client.post(
        f"/enclosures/{enclosure.pk}/readings/",
        {
            "need": "air_night",
            "value": "20",
            "at": "2026-01-01T10:00",
            "instrument": "probe",
            "moment": "after misting",
        },
    )
    assert "Only the humidity of the day" in wrong.content.decode()


def test_the_demos_instruments_read_the_wave_too(client: Client, pip: Enclosure) -> None:
    enclosure = damp(client)
    client.post(f"/enclosures/{enclosure.pk}/simulate/", {"next": "check"})
    assert set(enclosure.readings.values_list("moment", flat=True)) >= {
        "before misting",
        "after misting",
    }


def test_another_stage_asks_again_for_what_it_moves(client: Client, pip: Enclosure) -> None:
    read_all(pip)
    client.post(f"/enclosures/{pip.pk}/commissioning/", {"revision": 1, "checks": ALL})
    commissioning = Commissioning.objects.get()
    assert (
        commissioning.targets["surface_day"]
        and not client.get(f"/enclosures/{pip.pk}/commissioning/").context["stale"]
    )
    commissioning.targets["surface_day"] = [31.0, 34.0]
    commissioning.readings["surface_day"] = 33.0  # signed for a younger one, which wanted less
    commissioning.save()
    html = page(client, pip)
    assert "need something else now: surface" in html
    said = client.post(f"/enclosures/{pip.pk}/settle-in/", follow=True).content.decode()
    assert "not verified yet" in said


def test_an_enclosure_proven_for_one_kind_is_not_proven_for_another(
    client: Client, household: Household, pip: Enclosure
) -> None:
    read_all(pip)
    client.post(f"/enclosures/{pip.pk}/commissioning/", {"revision": 1, "checks": ALL})
    client.post(f"/enclosures/{pip.pk}/move-out/", {"animal": pip.occupancies.get().animal_id})
    other = (
        household.animals.exclude(occupancies__enclosure=pip)
        .exclude(species="Tiliqua scincoides")
        .first()
    )
    assert other is not None
    assert (
        "no commissioning check for it"
        in client.post(f"/enclosures/{pip.pk}/move-in/", {"animal": other.pk}).content.decode()
    )


def test_every_record_is_kept_with_its_readings(client: Client, pip: Enclosure) -> None:
    read_all(pip)
    client.post(
        f"/enclosures/{pip.pk}/commissioning/",
        {"revision": 1, "checks": ALL[:-1], "note": "no bowl yet"},
    )
    client.post(f"/enclosures/{pip.pk}/commissioning/", {"revision": 1, "checks": ALL})
    records = client.get(f"/enclosures/{pip.pk}/commissioning/").context["records"]
    assert (
        len(records) == 2
        and records[1].left_out
        and records[1].note == "no bowl yet"
        and not records[0].left_out
    )
    assert ("Surface", "40.0 °C", "38.0 to 43.0 °C") in records[0].readings
    assert "Not ticked: Water stands" in page(client, pip)


def test_the_boxs_page_says_how_far_its_commissioning_is(client: Client, pip: Enclosure) -> None:
    assert "Commissioning check, 3 of 6" in client.get(f"/enclosures/{pip.pk}/").content.decode()
    read_all(pip)
    assert "Commissioning check, 6 of 6" in client.get(f"/enclosures/{pip.pk}/").content.decode()
    client.post(f"/enclosures/{pip.pk}/commissioning/", {"revision": 1, "checks": ALL})
    assert ">Verified</a>" in client.get(f"/enclosures/{pip.pk}/").content.decode()


def test_what_is_only_planned_cannot_be_read_yet(client: Client, pip: Enclosure) -> None:
    assert pip.head is not None
    pip.head.state = "planned"
    pip.head.save()
    html = page(client, pip)
    assert (
        "readings can be logged once it is built" in html
        and "read now" not in html
        and "simulated instruments" not in html
    )
    count = pip.readings.count()
    html, _ = beside(client, pip, "uvi_day", "3.1")
    assert "readings can be logged once it is built" in html and pip.readings.count() == count
    led = client.post(
        f"/enclosures/{pip.pk}/built/", {"revision": pip.head.number, "next": "check"}
    )
    assert led["Location"].endswith("/commissioning/")


def test_beside_the_enclosure_an_instrument_is_as_far_off_as_it_was_last_said_to_be(
    client: Client, pip: Enclosure, at_hour: Callable[[int], None]
) -> None:
    at_hour(13)
    keeper = Keeper.objects.get(username="demo")
    flows.add_reading(
        pip,
        need="cool_air_day",
        value=25.0,
        offset=1.4,
        at=timezone.now(),
        instrument="probe",
        lamp_on_h=8.0,
        keeper=keeper,
        room_c=21.0,
    )
    for system, typed in (("metric", "25.2"), ("us", "77.4")):
        client.post(
            "/preferences/", {"units_temperature": "f" if system == "us" else "c", "next": "/"}
        )
        beside(client, pip, "cool_air_day", typed)
        logged = pip.readings.order_by("-pk").first()
        assert (
            logged is not None
            and logged.offset == pytest.approx(1.4, abs=0.06)
            and logged.value == pytest.approx(25.2, abs=0.1)
        )


def test_heat_for_the_night_is_no_day(
    client: Client, pip: Enclosure, at_hour: Callable[[int], None]
) -> None:
    assert pip.head is not None
    night = {
        "id": "night-heat-1",
        "kind": "ceramic_emitter",
        "power_w": 40,
        "at_m": [0.4, 0.25, 0.42],
        "on": "20:00",
        "off": "08:00",
        "thermostat": {"set_c": 20, "probe": "warm_air"},
    }
    pip.head.spec["items"].append(night)
    pip.head.save()
    at_hour(3)
    html, led = beside(client, pip, "air_night", "20.5")
    assert led and "Logged: night air" in html
