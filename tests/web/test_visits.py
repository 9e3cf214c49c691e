"""The demo: a household of one's own for each visitor, for a day; and none where nobody asked."""

import datetime as dt
import os
import subprocess
import sys
from typing import Any

import pytest
from django.conf import settings as django_settings
from django.core.cache import cache
from django.test import Client

from ridgeback import clock
from ridgeback.demo import visits
from ridgeback.enclosures.models import Enclosure
from ridgeback.households.models import Household, Keeper
from ridgeback.jobs import tasks
from ridgeback.log.models import LogEntry


def visitor() -> Client:
    """Somebody who opened the demo."""
    cache.clear()
    browser = Client()
    assert browser.post("/demo/")["Location"] == "/"
    return browser


def household_of(browser: Client) -> Household:
    found: Household = browser.get("/household/").context["household"]
    return found


def test_two_visitors_share_nothing(household: Household) -> None:
    one, two = visitor(), visitor()
    first, second = household_of(one), household_of(two)
    assert len({household.pk, first.pk, second.pk}) == 3
    own = first.enclosures.get(name="Pip’s enclosure")
    assert one.get(f"/enclosures/{own.pk}/").status_code == 200
    assert two.get(f"/enclosures/{own.pk}/").status_code == 404
    one.post("/household/", {"name": "Changed"})
    names = Household.objects.filter(pk__in=[household.pk, second.pk]).values_list(
        "name", flat=True
    )
    assert set(names) == {"Saltmarsh Lane"}


def test_opening_it_again_opens_the_same_one(household: Household) -> None:
    browser = visitor()
    before = household_of(browser).pk
    browser.post("/demo/")
    assert household_of(browser).pk == before


def test_a_visit_has_all_that_the_template_has(household: Household) -> None:
    keeper = visits.open_visit(clock.now())
    made = Household.objects.get(memberships__keeper=keeper)
    for model, way in visits.TREE:
        rows = [model._default_manager.filter(**{way: one}) for one in (household, made)]
        assert rows[0].count() == rows[1].count(), model
        assert not set(rows[0].values_list("pk", flat=True)) & set(
            rows[1].values_list("pk", flat=True)
        )
    now = clock.now()
    for enclosure in Enclosure.objects.of(household).for_planning():
        copy = Enclosure.objects.of(made).for_planning().get(name=enclosure.name)
        assert copy.request_data(now) == enclosure.request_data(
            now
        )  # so its plan is remembered already
        assert copy.head is not None and copy.head.enclosure_id == copy.pk


def test_a_log_of_the_template_is_the_copys_own(empty: None) -> None:
    template = visits.demo.load(clock.now())
    keeper = visits.open_visit(clock.now())
    made = Household.objects.get(memberships__keeper=keeper)
    entries = LogEntry.objects.of(made)
    assert entries.count() == LogEntry.objects.of(template).count() > 100
    for entry in entries:
        enclosure, animal, *_ = entry.task.split("/")
        assert int(enclosure) == entry.enclosure_id and int(animal) == (entry.animal_id or 0)
        assert entry.enclosure.household_id == made.pk


def test_a_visit_ends_after_a_day_and_takes_nobody_else_along(
    household: Household, stranger: Client
) -> None:
    browser = visitor()
    before = Household.objects.count()
    assert visits.sweep(clock.now()) == 0
    later = clock.now() + dt.timedelta(days=1, minutes=1)
    assert visits.sweep(later) == 1
    assert Household.objects.count() == before - 1
    assert not Keeper.objects.filter(username__startswith="visitor").exists()
    assert Household.objects.filter(pk=household.pk).exists() and household.enclosures.count() == 4
    assert browser.get("/").status_code == 302  # signed out
    assert stranger.get("/").status_code == 200


def test_visits_are_swept_by_a_worker(
    household: Household, monkeypatch: pytest.MonkeyPatch
) -> None:
    visitor()
    Household.objects.filter(visit_ends__isnull=False).update(
        visit_ends=clock.now() - dt.timedelta(hours=1)
    )
    tasks.sweep_visits(0)
    assert not Household.objects.filter(visit_ends__isnull=False).exists()


def test_too_many_visitors_are_told_so(household: Household, settings: Any) -> None:
    settings.RIDGEBACK_DEMO_MOST = 1
    visitor()
    cache.clear()
    answer = Client().post("/demo/", follow=True)
    assert "no room now" in answer.content.decode()
    assert Household.objects.filter(visit_ends__isnull=False).count() == 1


def test_production_has_no_demo_unless_it_is_named() -> None:
    code = "from django.conf import settings; print(settings.RIDGEBACK_DEMO)"
    secret = "k3Yq9" + "pLm2ZxV7wRt" * 5
    base = {
        **os.environ,
        "DJANGO_SETTINGS_MODULE": "ridgeback.settings.production",
        "SECRET_KEY": secret,
        "ALLOWED_HOSTS": "x",
    }
    base.pop("RIDGEBACK_DEMO", None)
    for more, said in (({}, "False"), ({"RIDGEBACK_DEMO": "1"}, "True")):
        run = subprocess.run(
            [sys.executable, "-c", code],
            cwd=django_settings.ROOT,
            env={**base, **more},
            capture_output=True,
            text=True,
        )
        assert run.stdout.strip() == said, run.stderr


@pytest.mark.parametrize("secret", ["", "short"])
def test_production_does_not_start_without_a_secret(secret: str) -> None:
    env = {
        **os.environ,
        "DJANGO_SETTINGS_MODULE": "ridgeback.settings.production",
        "SECRET_KEY": secret,
        "ALLOWED_HOSTS": "x",
    }
    run = subprocess.run(
        [sys.executable, "-c", "from django.conf import settings; settings.DEBUG"],
        cwd=django_settings.ROOT,
        env=env,
        capture_output=True,
        text=True,
    )
    assert (
        run.returncode != 0
        and "SECRET_KEY" in run.stderr
        and "secrets.token_urlsafe" in run.stderr
    )
