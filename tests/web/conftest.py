"""Web tests run on a real PostgreSQL; `./test` starts one and sets DATABASE_URL."""

import datetime as dt
from typing import Any

import pytest
from django.test import Client
from django.utils import timezone

from ridgeback import clock
from ridgeback.demo import household as demo
from ridgeback.demo.visits import delete_visit
from ridgeback.enclosures import planning
from ridgeback.enclosures.models import Enclosure
from ridgeback.households.models import Household, Keeper, Membership
from tests import clocks, emptying

emptying.by_deleting()


def last_lit() -> str:
    """The last moment at which the demo's lamps burned, as it is typed: now, or the last 18:20, after
    every reading of the demo.
    """
    local = clock.local(timezone.now(), demo.ZONE) - dt.timedelta(minutes=1)
    if not 10 <= local.hour < 19:
        local = local.replace(hour=18, minute=20) - dt.timedelta(days=local.hour < 14)
    return local.strftime("%Y-%m-%dT%H:%M")


@pytest.fixture
def forgetful() -> None:
    """No plan is remembered in this process: for tests that count, or make planning fail.

    All others may find one again: a plan is remembered by its content, which no test can change.
    """
    planning._known.cache_clear()


@pytest.fixture(scope="session")
def django_db_setup(django_db_setup: None, django_db_blocker: Any) -> None:
    """The database with the demo household in it, made once: each test rolls back what it did."""
    clock = clocks.chosen()
    patch = pytest.MonkeyPatch()
    with django_db_blocker.unblock(), patch.context() as patched:
        if clock is not None:
            clocks.set_clock(patched, clock)
            patched.setattr(demo, "ZONE", clock.zone)
        for one in Household.objects.all():
            delete_visit(one)
        demo.load(timezone.now(), beginnings=False)


@pytest.fixture(autouse=True)
def run_clock(monkeypatch: pytest.MonkeyPatch) -> None:
    """The clock and the zone that this run was asked for."""
    clock = clocks.chosen()
    if clock is not None:
        clocks.set_clock(monkeypatch, clock)
        monkeypatch.setattr(demo, "ZONE", clock.zone)


@pytest.fixture
def household(db: Any) -> Household:
    """The demo household, without how Bramble's enclosure came to be."""
    return demo.load(timezone.now(), beginnings=False)


@pytest.fixture
def empty(db: Any) -> None:
    """A database without the demo household."""
    for one in Household.objects.all():
        delete_visit(one)


@pytest.fixture
def client(household: Household) -> Client:
    """Signed in to the demo household."""
    browser = Client()
    browser.force_login(Keeper.objects.get(username="demo"))
    return browser


@pytest.fixture
def stranger(db: Any) -> Client:
    """Signed in, with a household of their own."""
    keeper = Keeper.objects.create_user("stranger", password="a-long-passphrase")
    Membership.objects.create(household=Household.objects.create(name="Elsewhere"), keeper=keeper)
    browser = Client()
    browser.force_login(keeper)
    return browser


@pytest.fixture
def pip(household: Household) -> Enclosure:
    """The enclosure that is too cold under its lamp."""
    return Enclosure.objects.for_planning().get(name="Pip’s enclosure")


def fields(client: Client, enclosure: Enclosure, **changes: str) -> dict[str, str]:
    """The layout editor form as the page shows it, with some values typed anew."""
    response = client.get(f"/enclosures/{enclosure.pk}/")
    form = response.context["layout"]
    data: dict[str, str] = {"revision": str(enclosure.head.number if enclosure.head else 0)}
    for bound in form:
        value = bound.value()
        if value in (None, False):
            continue
        if isinstance(value, dt.date):
            value = value.isoformat()
        data[bound.html_name] = "on" if value is True else str(value)
    return data | {name.replace("__", "-"): text for name, text in changes.items()}
