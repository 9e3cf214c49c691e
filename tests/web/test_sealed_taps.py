"""Plain taps on sealed chores: written at once, and never more than what was shown."""

import datetime as dt
import re
import uuid
from typing import Any

import pytest
from django.core import signing
from django.db import connection
from django.test import Client
from django.test.utils import CaptureQueriesContext
from django.utils import timezone

from husbandry.chores.chore import Chore
from husbandry.quantity import METRIC
from ridgeback.animals.flows import depart
from ridgeback.habitats.models import Habitat
from ridgeback.keepers.models import Household
from ridgeback.larder.models import Stock
from ridgeback.ledger.flows import Tap, write
from ridgeback.ledger.models import Entry, Last
from ridgeback.rounds.due_tasks import Due, chore_name, gather
from ridgeback.rounds.presenting import amount_text
from ridgeback.rounds.sealing import SALT, seal
from tests import clocks


@pytest.fixture
def due(household: Household, pip: Habitat) -> Due:
    """Pip's enclosure, its animal hungry."""
    household.animals.update(fed_on=clocks.today() - dt.timedelta(days=30))
    return gather(household, timezone.now(), only=[pip.pk])[0]


def fields(due: Due, kind: str, **more: str) -> dict[str, str]:
    chore = next(one for one in due.chores if one.kind == kind)
    who = due.animal_of(chore)
    shown = amount_text(chore.kind, chore.amount, METRIC)
    told = {
        "chore": chore_name(due.habitat, who, chore),
        "tap": str(uuid.uuid4()),
        "outcome": "done",
        "amount": shown,
        "note": "",
    }
    return {**told, "sealed": seal(due, chore, who, shown), **more}


def tap(client: Client, due: Due, sent: dict[str, str]) -> Any:
    return client.post(f"/round/{due.habitat.pk}/tap/", sent, headers={"X-Round": "1"})


def chore_of(due: Due, kind: str) -> Chore:
    return next(one for one in due.chores if one.kind == kind)


def test_a_plain_tap_is_answered_with_its_line_alone(client: Client, due: Due) -> None:
    tap(client, due, fields(due, "look"))  # warm
    with CaptureQueriesContext(connection) as seen:
        answer = tap(client, due, fields(due, "water"))
    assert answer["X-Round-Part"] == "entry" and "water changed" in answer.content.decode() and "<form" in answer.content.decode()
    assert Entry.objects.filter(stem="water").count() == 1 and Last.objects.filter(stem="water").exists()
    assert len(seen) <= 9, [one["sql"][:80] for one in seen]


def test_it_writes_what_the_long_way_writes(client: Client, due: Due, household: Household) -> None:
    sent = fields(due, "feed")
    meal = chore_of(due, "feed").meal
    assert meal is not None
    for part in meal.helpings:
        Stock.objects.get_or_create(household=household, name=part.name, defaults={"amount": 500, "came_on": clocks.today()})
    tap(client, due, sent)
    entry = Entry.objects.get(stem__startswith="feed ")
    assert (
        entry.amount == pytest.approx(meal.grams)
        and entry.products == list(chore_of(due, "feed").products)
        and entry.animal_id == due.animals[0].pk
    )
    assert Stock.objects.get(name=meal.helpings[0].name).amount < 500
    client.post(f"/round/undo/{entry.pk}/", {}, headers={"X-Round": "1"})
    assert Stock.objects.get(name=meal.helpings[0].name).amount == 500


def test_sent_twice_it_is_one_and_tapped_by_two_it_is_the_firsts(client: Client, due: Due) -> None:
    sent = fields(due, "water")
    assert tap(client, due, sent)["X-Round-Part"] == "entry" and tap(client, due, sent)["X-Round-Part"] == "entry"
    other = tap(client, due, {**sent, "tap": str(uuid.uuid4())})
    assert other["X-Round-Part"] == "entry" and "was logged already" in other.content.decode()
    assert Entry.objects.filter(stem="water").count() == 1


@pytest.mark.parametrize("change", [{"amount": "3 g"}, {"note": "left half of it"}, {"outcome": "refused"}])
def test_what_is_more_than_a_tap_goes_the_long_way(client: Client, due: Due, change: dict[str, str]) -> None:
    answer = tap(client, due, fields(due, "feed", **change))
    assert answer.status_code == 200 and "X-Round-Part" not in answer
    entry = Entry.objects.get(stem__startswith="feed ")
    assert entry.note == change.get("note", "") and entry.outcome == ("refused" if "outcome" in change else "done")


@pytest.mark.parametrize("how", ["forged", "stale", "moved", "renamed"])
def test_a_seal_that_is_not_ours_is_read_the_long_way(client: Client, due: Due, household: Household, how: str) -> None:
    sent = fields(due, "water")
    told = signing.loads(sent["sealed"], salt=SALT)
    match how:
        case "forged":
            sent["sealed"] = signing.dumps(told, salt=SALT, key="another key")
        case "stale":
            sent["sealed"] = signing.dumps({**told, "d": "2020-01-01"}, salt=SALT)
        case "moved":
            sent["sealed"] = signing.dumps({**told, "w": [told["w"][0], told["w"][1] + 1, None]}, salt=SALT)
        case "renamed":
            sent["sealed"] = signing.dumps({**told, "c": "9/9/water/2020-01-01"}, salt=SALT)
    answer = tap(client, due, sent)
    assert answer.status_code == 200 and "X-Round-Part" not in answer
    assert Entry.objects.get().habitat_id == due.habitat.pk  # the chore itself is due, and written once


def test_a_seal_serves_its_own_household_only(stranger: Client, due: Due) -> None:
    assert tap(stranger, due, fields(due, "water")).status_code == 404 and not Entry.objects.exists()


def test_who_is_gone_meanwhile_is_not_fed(client: Client, due: Due) -> None:
    sent = fields(due, "feed")
    depart(due.animals[0], gone="sold", on=clocks.today(), now=timezone.now())
    assert tap(client, due, sent).status_code == 404 and not Entry.objects.exists()


def test_a_tap_that_waited_keeps_its_minute(client: Client, due: Due) -> None:
    tap(client, due, fields(due, "water", age_s="90"))
    waited = timezone.now() - Entry.objects.get().at
    assert dt.timedelta(seconds=85) < waited < dt.timedelta(seconds=120)


def test_weights_and_readings_carry_no_seal(client: Client, due: Due) -> None:
    page = client.get("/round/").content.decode()
    forms = re.findall(r'<form method="post" action="/round/\d+/tap/".*?</form>', page, re.S)
    for form in forms:
        plain = not any(word in form for word in ("The scale shows", "Score<", ">Read<"))
        assert ('name="sealed"' in form) == plain


def test_a_card_can_be_asked_for(client: Client, stranger: Client, due: Due) -> None:
    assert "round-card" in client.get(f"/round/{due.habitat.pk}/card/").content.decode()
    assert stranger.get(f"/round/{due.habitat.pk}/card/").status_code == 404


def test_a_late_tap_never_moves_a_duty_back(due: Due, client: Client) -> None:
    today, keeper = due.today, due.habitat.household.memberships.get().keeper
    for on in (today, today - dt.timedelta(days=1), today - dt.timedelta(days=3)):
        written = Tap(uuid.uuid4(), f"x/{on}", "course 1 1", "done", on, timezone.now())
        write(due.habitat, due.animals[0], written, keeper=keeper, now=timezone.now())
    assert Last.objects.get(stem="course 1 1").on == today
