"""The daily email, and the order in which the room is walked."""

import datetime as dt
import uuid
from typing import Any

import pytest
from allauth.account.models import EmailAddress
from django.core import mail
from django.test import Client
from django.utils import timezone

from ridgeback import clock
from ridgeback.animals.models import Animal
from ridgeback.demo import household as demo
from ridgeback.digests import flows
from ridgeback.digests.models import Digest, DigestSubscription
from ridgeback.enclosures.models import Enclosure
from ridgeback.households.models import Household, Keeper, Membership
from ridgeback.log.models import LogEntry
from ridgeback.seasons.models import Brumation
from ridgeback.tasks.due_tasks import gather
from tests import clocks


@pytest.fixture
def member(household: Household) -> Membership:
    """The demo's keeper, with a confirmed address."""
    Keeper.objects.filter(username="demo").update(email="keeper@example.org")
    keeper = Keeper.objects.get(username="demo")
    EmailAddress.objects.create(user=keeper, email=keeper.email, verified=True)
    return Membership.objects.select_related("household", "keeper").get(household=household)


def at(hour: int) -> dt.datetime:
    """An hour of the household's day."""
    return clock.local(timezone.now(), demo.ZONE).replace(hour=hour, minute=5)


def local_hour(member: Membership, now: dt.datetime) -> int:
    return clock.local(now, member.household.time_zone).hour


def test_a_digest_comes_once_a_day_at_its_hour(client: Client, member: Membership) -> None:
    hour = local_hour(member, at(12))
    client.post("/daily-email/", {"hour": str(hour), "keep": "yes"})
    assert DigestSubscription.objects.get().hour == hour
    assert flows.write_due(at(12) - dt.timedelta(hours=2)) == 0 and not mail.outbox
    assert (
        flows.write_due(at(12)) == 1 and flows.write_due(at(12)) == 0
    )  # two workers, one daily email
    assert len(mail.outbox) == 1 and mail.outbox[0].to == ["keeper@example.org"]
    digest = Digest.objects.get()
    assert (
        digest.mailed_at
        and "Pip’s enclosure" in digest.text
        and "Saltmarsh Lane" in digest.subject
    )
    assert "Visual check" not in digest.text  # that comes every day
    assert digest.text.strip() in client.get("/daily-email/").content.decode().replace(
        "&#x27;", "'"
    )
    assert flows.write_due(at(12) + dt.timedelta(days=1)) == 1 and len(mail.outbox) == 2


def test_nothing_is_mailed_to_an_address_that_nobody_confirmed(
    client: Client, member: Membership
) -> None:
    EmailAddress.objects.update(verified=False)
    client.post("/daily-email/", {"hour": "0", "keep": "yes"})
    assert (
        flows.write_due(at(12)) == 1 and not mail.outbox and Digest.objects.get().mailed_at is None
    )


def test_without_an_address_it_stands_on_the_page(client: Client, household: Household) -> None:
    client.post("/daily-email/", {"now": "yes"})
    text = client.get("/daily-email/").content.decode()
    assert "Saltmarsh Lane" in text and "shown here and not sent" in text and not mail.outbox
    client.post("/daily-email/", {"now": "yes"})  # written anew
    assert Digest.objects.count() == 1


def test_a_mail_server_that_is_away_loses_no_digest(
    client: Client, member: Membership, monkeypatch: Any
) -> None:
    def away(*args: Any, **kwargs: Any) -> None:
        raise ConnectionRefusedError

    monkeypatch.setattr(flows, "send", away)
    digest = flows.write(member, at(12))
    assert digest is not None and digest.mailed_at is None and Digest.objects.exists()


def test_one_that_cannot_be_written_keeps_no_other_back(
    client: Client, member: Membership, monkeypatch: Any
) -> None:
    client.post("/daily-email/", {"hour": "0", "keep": "yes"})
    other = Household.objects.create(name="Elsewhere")
    DigestSubscription.objects.create(
        membership=Membership.objects.create(household=other, keeper=member.keeper), hour=0
    )
    known = flows.compose

    def broken(household: Household, *args: Any) -> Any:
        if household == member.household:
            raise RuntimeError
        return known(household, *args)

    monkeypatch.setattr(flows, "compose", broken)
    assert flows.write_due(at(12)) == 1 and Digest.objects.get().membership.household == other


def test_a_refusal_that_worries_stands_in_the_digest_even_if_a_rest_is_planned(
    client: Client, member: Membership
) -> None:
    snake = member.household.animals.get(name="Bramble")
    home, today = Enclosure.objects.get(occupancies__animal=snake), clocks.today()
    Brumation.objects.create(
        animal=snake, begins_on=today + dt.timedelta(days=200), weeks=8, kept_at=timezone.now()
    )
    Animal.objects.filter(pk=snake.pk).update(species="Lampropeltis californiae")
    for ago in (65, 40, 20, 5):
        LogEntry.objects.create(
            household=home.household,
            enclosure=home,
            animal=snake,
            stem="feed prey",
            task=f"r{ago}",
            log_request=uuid.uuid4(),
            on=today - dt.timedelta(days=ago),
            outcome="done" if ago == 65 else "refused",
            at=timezone.now(),
            touched_at=timezone.now(),
        )
    digest = flows.write(member, at(12))
    assert digest is not None and "! Bramble: Ate nothing for 65 days" in digest.text


def test_no_digests_when_nobody_wants_them(client: Client, member: Membership) -> None:
    client.post("/daily-email/", {"hour": "0", "keep": "yes"})
    client.post("/daily-email/", {"stop": "yes"})
    assert flows.write_due(at(12)) == 0
    assert (
        "Select a valid choice"
        in client.post("/daily-email/", {"hour": "25", "keep": "yes"}).content.decode()
    )


def test_the_digest_is_in_its_readers_units(client: Client, member: Membership) -> None:
    client.post("/preferences/", {"units_system": "us", "units_temperature": "f", "next": "/"})
    member.keeper.refresh_from_db()
    member.household.animals.update(fed_on=clocks.today() - dt.timedelta(days=40))
    us = flows.write(member, at(12))
    assert us is not None and " in wide" in us.text and " mm wide" not in us.text


# --- walking order --------------------------------------------------------------------------------


def walked(household: Household) -> list[str]:
    return [due.enclosure.name for due in gather(household, timezone.now())]


def test_the_round_walks_as_the_keeper_says(client: Client, household: Household) -> None:
    first = walked(household)
    enclosures = {enclosure.name: enclosure.pk for enclosure in Enclosure.objects.of(household)}
    client.post(
        "/today/order/", {f"place-{enclosures[name]}": str(10 - n) for n, name in enumerate(first)}
    )
    assert walked(household) == list(reversed(first))
    client.post("/today/order/", {"down": str(enclosures[first[-1]])})
    assert walked(household)[:2] == [first[-2], first[-1]]
    client.post("/today/order/", {"up": str(enclosures[first[-2]])})  # it is the first already
    assert walked(household)[0] == first[-2]
    page = client.get("/today/").content.decode()
    assert page.index(first[-2]) < page.index(first[0])


def test_what_is_no_number_keeps_its_place(client: Client, household: Household) -> None:
    first = walked(household)
    enclosures = {enclosure.name: enclosure.pk for enclosure in Enclosure.objects.of(household)}
    client.post(
        "/today/order/",
        {f"place-{enclosures[first[0]]}": "last", f"place-{enclosures[first[1]]}": "1e999"},
    )
    assert walked(household) == first


def test_another_households_enclosures_stay_as_they_are(
    stranger: Client, household: Household
) -> None:
    first = walked(household)
    pk = Enclosure.objects.of(household).order_by("pk").values_list("pk", flat=True)[0]
    stranger.post("/today/order/", {f"place-{pk}": "99"})
    stranger.post("/today/order/", {"down": str(pk)})
    assert walked(household) == first and not Enclosure.objects.filter(walk__isnull=False).exists()


@pytest.mark.parametrize(
    "address",
    [
        "/today/",
        "/today/order/",
        "/today/week/",
        "/daily-email/",
        "/breeding/",
        "/supplies/",
        "/seasons/",
        "/log/",
    ],
)
def test_a_household_without_anything_has_its_pages(stranger: Client, address: str) -> None:
    assert stranger.get(address).status_code == 200
    if address == "/daily-email/":
        stranger.post(address, {"now": "yes"})
        assert "0 tasks in 0 enclosures today" in stranger.get(address).content.decode()
