"""A hygrometer's log on its page: read, told, used, forgotten, and refused."""

import datetime as dt

import pytest
from django.test import Client

from husbandry.records.channels import Quantity
from husbandry.simulation.loggers import SimulatedLoggers
from ridgeback.clock import now
from ridgeback.enclosures.models import Enclosure
from ridgeback.records.flows import channel_for
from ridgeback.records.models import Channel
from ridgeback.records.store import ensure_months, write_samples


@pytest.fixture
def frog(pip: Enclosure) -> Enclosure:
    """A frog's enclosure, with eight days of a logger at its cool end."""
    found = Enclosure.objects.for_planning().get(name__startswith="Sable")
    loggers = SimulatedLoggers(found.request_at(now()), 184, found.room.time_zone)
    end_s = int(now().timestamp())
    for one in loggers.log(end_s - 8 * 86_400, end_s):
        if one.place == "cool":
            ensure_months(one.at_s)
            channel = channel_for(found, one.quantity, one.place, "shelf logger")
            write_samples(channel, one.at_s, one.values, None)
    return found


@pytest.fixture
def hygrometer(frog: Enclosure) -> Channel:
    """The demo's hygrometer at the cool end."""
    return Channel.objects.get(enclosure=frog, quantity="humidity", place="cool")


def told(client: Client, frog: Enclosure) -> tuple[str, str]:
    """The page after the demo's log was read, and its seal."""
    own = Channel.objects.get(enclosure=frog, quantity="humidity", place="cool")
    page = client.post(f"/enclosures/{frog.pk}/humidity-log/", {"channel": own.pk, "days": "7"})
    return page.content.decode(), page.context["seal"]


def test_the_demos_log_is_told_used_and_forgotten(client: Client, frog: Enclosure) -> None:
    page, seal = told(client, frog)
    assert "Result" in page and "times an hour by day, not" in page
    frog.refresh_from_db()
    assert frog.head is not None and frog.head.number == 1  # reading keeps nothing
    wide = client.get(f"/enclosures/{frog.pk}/").context["view"].moisture
    said = client.post(
        f"/enclosures/{frog.pk}/humidity-log/use/", {"seal": seal, "revision": 1}, follow=True
    ).content.decode()
    assert "by what the log told" in said
    kept = Enclosure.objects.get(pk=frog.pk).head
    assert (
        kept is not None
        and kept.number == 2
        and kept.spec["enclosure"]["wetting"]["logged"]["air"] > 0
    )
    assert client.get(f"/enclosures/{frog.pk}/").context["view"].moisture.chart != wide.chart
    assert "is in use" in client.get(f"/enclosures/{frog.pk}/humidity-log/").content.decode()
    client.post(f"/enclosures/{frog.pk}/humidity-log/use/", {"forget": "yes", "revision": 2})
    last = Enclosure.objects.get(pk=frog.pk).head
    assert last is not None and "logged" not in last.spec["enclosure"]["wetting"]


def test_what_a_log_told_stays_when_the_page_is_kept(client: Client, frog: Enclosure) -> None:
    _, seal = told(client, frog)
    client.post(f"/enclosures/{frog.pk}/humidity-log/use/", {"seal": seal, "revision": 1})
    page = client.get(f"/enclosures/{frog.pk}/")
    form = {
        field.html_name: field.value()
        for field in page.context["layout"]
        if field.value() not in (None, False)
    }
    client.post(f"/enclosures/{frog.pk}/save/", {**form, "wet-substrate": "wet", "revision": 2})
    kept = Enclosure.objects.get(pk=frog.pk).head
    assert (
        kept is not None
        and kept.spec["enclosure"]["wetting"]["substrate"] == "wet"
        and "logged" in kept.spec["enclosure"]["wetting"]
    )


@pytest.mark.parametrize("seal", ["", "nonsense"])
def test_without_its_seal_nothing_is_used(client: Client, frog: Enclosure, seal: str) -> None:
    said = client.post(
        f"/enclosures/{frog.pk}/humidity-log/use/", {"seal": seal, "revision": 1}, follow=True
    ).content.decode()
    assert "read it again" in said
    kept = Enclosure.objects.get(pk=frog.pk).head
    assert kept is not None and kept.number == 1


def test_another_boxs_seal_is_not_used(client: Client, frog: Enclosure, pip: Enclosure) -> None:
    _, seal = told(client, frog)
    assert (
        "read it again"
        in client.post(
            f"/enclosures/{pip.pk}/humidity-log/use/", {"seal": seal, "revision": 1}, follow=True
        ).content.decode()
    )


def asked(client: Client, enclosure: Enclosure, channel: object, days: str = "7") -> str:
    address = f"/enclosures/{enclosure.pk}/humidity-log/"
    return client.post(address, {"channel": str(channel), "days": days}).content.decode()


def test_a_short_log_is_refused_with_its_length(
    client: Client, frog: Enclosure, hygrometer: Channel
) -> None:
    begin = hygrometer.last_at
    assert begin is not None
    hygrometer.samples.filter(at__lt=begin - dt.timedelta(hours=20)).delete()
    page = asked(client, frog, hygrometer.pk)
    assert "This log cannot be used" in page and "two days at the least" in page


def test_humidity_without_a_temperature_at_its_place_is_refused(
    client: Client, frog: Enclosure, hygrometer: Channel
) -> None:
    Channel.objects.filter(enclosure=frog, quantity="temperature", place="cool").delete()
    assert "no temperature is logged at its place" in asked(client, frog, hygrometer.pk)


@pytest.mark.parametrize(("channel", "days"), [("", "7"), ("x", "7"), ("99999999", "7")])
def test_what_is_no_hygrometer_of_it_is_refused(
    client: Client, frog: Enclosure, channel: str, days: str
) -> None:
    assert "Choose one of the hygrometers." in asked(client, frog, channel, days)


def test_days_that_are_none_are_refused(
    client: Client, frog: Enclosure, hygrometer: Channel
) -> None:
    assert 'role="alert"' in asked(client, frog, hygrometer.pk, "400")


def test_another_enclosures_hygrometer_is_refused(
    client: Client, frog: Enclosure, pip: Enclosure
) -> None:
    theirs = channel_for(pip, Quantity.HUMIDITY, "cool", "B")
    assert "Choose one of the hygrometers." in asked(client, frog, theirs.pk)


def test_without_a_hygrometer_the_page_leads_to_an_import(client: Client, pip: Enclosure) -> None:
    Channel.objects.filter(enclosure=pip).delete()
    page = client.get(f"/enclosures/{pip.pk}/humidity-log/").content.decode()
    assert "No hygrometer has logged" in page and f"/enclosures/{pip.pk}/logger-files/" in page


def test_an_enclosure_of_which_nothing_was_said_asks_for_it_first(
    client: Client, pip: Enclosure
) -> None:
    own = channel_for(pip, Quantity.HUMIDITY, "cool", "B")
    Channel.objects.filter(pk=own.pk).update(last_at=now())
    assert "Say first" in asked(client, pip, own.pk)
