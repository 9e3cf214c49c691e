"""A meal or a refusal is logged on any day, whether it was due or not."""

import datetime as dt
import uuid
from typing import Any

import pytest
from django.test import Client

from ridgeback import clock
from ridgeback.animals.models import Animal
from ridgeback.enclosures.models import Enclosure
from ridgeback.log.models import LastDone, LogEntry
from ridgeback.supplies.models import Stock
from ridgeback.tasks.due_tasks import gather


@pytest.fixture
def fathom(pip: Enclosure) -> Animal:
    """The kingsnake."""
    return Animal.objects.get(name="Fathom")


def home_of(animal: Animal) -> Enclosure:
    return Enclosure.objects.select_related("household").get(
        occupancies__animal=animal, occupancies__until__isnull=True
    )


def day(animal: Animal, ago: int = 0) -> dt.date:
    return animal.day_of(clock.now()) - dt.timedelta(days=ago)


def typed(client: Client, animal: Animal, **more: Any) -> dict[str, Any]:
    form = client.get(f"/animals/{animal.pk}/feeding/").context["meal"]
    values = {bound.html_name: bound.value() for bound in form}
    meal = form.fields["meal"].choices[0][0]
    shown = {name: value for name, value in values.items() if value not in (None, "")}
    return {**shown, "meal": meal, **more}


def feeds_due(animal: Animal) -> list[str]:
    home = home_of(animal)
    due = next(iter(gather(home.household, clock.now(), only=[home.pk])))
    return [task.stem for task in due.tasks if task.kind == "feed"]


def fed_last(animal: Animal, ago: int) -> None:
    """It ate so many days ago, and nothing since."""
    home = home_of(animal)
    LogEntry.objects.filter(animal=animal, stem__startswith="feed ").delete()
    LastDone.objects.filter(animal=animal, stem__startswith="feed ").delete()
    LogEntry.objects.create(
        household=home.household,
        enclosure=home,
        animal=animal,
        stem="feed prey",
        task="before",
        log_request=uuid.uuid4(),
        outcome="done",
        on=day(animal, ago),
        at=clock.now(),
        touched_at=clock.now(),
    )


@pytest.mark.parametrize("outcome", ["done", "refused"])
def test_what_is_not_due_can_be_logged(client: Client, fathom: Animal, outcome: str) -> None:
    """A refusal could be logged only while the meal was due."""
    fed_last(fathom, 1)
    assert not feeds_due(fathom)
    answer = client.post(
        f"/animals/{fathom.pk}/feeding/meal/",
        typed(client, fathom, outcome=outcome, note="second offer"),
        follow=True,
    )
    assert "Logged:" in answer.content.decode()
    entry = LogEntry.objects.filter(animal=fathom, note="second offer").get()
    assert (entry.outcome, entry.on) == (outcome, day(fathom))
    assert (entry.amount is not None) is (outcome == "done")
    html = client.get("/log/").content.decode()
    assert "second offer" in html


def test_the_task_list_leads_to_it(client: Client, fathom: Animal) -> None:
    fed_last(fathom, 1)
    assert f'href="/animals/{fathom.pk}/feeding/#log"' in client.get("/today/").content.decode()


def test_one_that_is_due_is_answered_by_it(client: Client, fathom: Animal) -> None:
    fed_last(fathom, 40)
    due = feeds_due(fathom)
    assert due
    client.post(f"/animals/{fathom.pk}/feeding/meal/", typed(client, fathom))
    assert not feeds_due(fathom)
    again = client.post(f"/animals/{fathom.pk}/feeding/meal/", typed(client, fathom), follow=True)
    assert LogEntry.objects.filter(animal=fathom, stem=due[0]).count() == 3
    assert "Logged:" in again.content.decode()  # a second meal of one day is one of its own


def test_sent_twice_is_one(client: Client, fathom: Animal) -> None:
    sent = typed(client, fathom, note="once")
    for _ in range(2):
        client.post(f"/animals/{fathom.pk}/feeding/meal/", sent)
    assert LogEntry.objects.filter(animal=fathom, note="once").count() == 1


def test_an_earlier_day_is_logged_and_what_it_ate_leaves_the_supplies(
    client: Client, fathom: Animal
) -> None:
    fed_last(fathom, 1)
    before = {
        stock.name: stock.amount for stock in Stock.objects.filter(household=fathom.household)
    }
    past = day(fathom, 12)
    client.post(
        f"/animals/{fathom.pk}/feeding/meal/",
        typed(client, fathom, on=past.isoformat(), note="then"),
    )
    entry = LogEntry.objects.get(animal=fathom, note="then")
    assert entry.on == past
    last = LastDone.objects.filter(animal=fathom, stem=entry.stem).order_by("-on").first()
    assert last is None or last.on >= past
    after = {
        stock.name: stock.amount for stock in Stock.objects.filter(household=fathom.household)
    }
    assert all(after[name] <= amount for name, amount in before.items())


@pytest.mark.parametrize(
    ("field", "wrong", "said"),
    [
        ("on", "2999-01-01", "still to come"),
        ("on", "2001-01-01", "this day is before"),
        ("on", "yesterday", "valid date"),
        ("amount", "900 kg", "not possible"),
        ("amount", "a mouse", "cannot be read as a mass"),
        ("meal", "cheese", "not one of the available choices"),
        ("outcome", "fled", "not one of the available choices"),
    ],
)
def test_a_wrong_entry_is_said_beside_its_field_and_kept(
    client: Client, fathom: Animal, field: str, wrong: str, said: str
) -> None:
    count = LogEntry.objects.count()
    sent = typed(client, fathom, note="kept", **{field: wrong})
    html = client.post(f"/animals/{fathom.pk}/feeding/meal/", sent).content.decode()
    assert said in html and 'value="kept"' in html
    assert LogEntry.objects.count() == count


def test_it_belongs_to_its_household(stranger: Client, fathom: Animal) -> None:
    assert (
        stranger.post(f"/animals/{fathom.pk}/feeding/meal/", {"meal": "prey"}).status_code == 404
    )


def test_what_no_plan_follows_any_more_is_refused(client: Client, fathom: Animal) -> None:
    html = client.post(
        f"/animals/{fathom.pk}/feeding/meal/",
        typed(client, fathom, on=day(fathom, 71).isoformat()),
    ).content.decode()
    assert "Meals of the last 70 days are followed" in html
