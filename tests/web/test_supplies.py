"""The food supplies: put in, counted, taken off by a meal, given back by its undoing, and what is
to be ordered.
"""

import datetime as dt
import uuid
from typing import Any

import pytest
from django.db import IntegrityError, transaction
from django.test import Client
from django.utils import timezone

from husbandry.tasks.supplies import counted
from ridgeback.enclosures.models import Enclosure
from ridgeback.households.models import Household
from ridgeback.log.models import LogEntry
from ridgeback.supplies.models import FoodRecipe, Stock, StockMovement
from ridgeback.tasks.due_tasks import gather, task_name
from tests import clocks


@pytest.fixture(autouse=True)
def hungry(household: Household) -> None:
    """Fed a month ago, and nothing logged since."""
    household.animals.update(fed_on=clocks.today() - dt.timedelta(days=30))


def put_in(client: Client, name: str, amount: str, **more: str) -> Any:
    return client.post("/supplies/", {"name": name, "amount": amount, **more}, follow=True)


def meal(client: Client, household: Household, enclosure: Enclosure, **more: str) -> Any:
    due = gather(household, timezone.now(), only=[enclosure.pk])[0]
    task = next(one for one in due.tasks if one.kind == "feed")
    fields = {
        "task": task_name(enclosure, due.animals[0], task),
        "log_request": str(uuid.uuid4()),
        "outcome": "done",
        **more,
    }
    client.post(f"/today/{enclosure.pk}/log/", fields, headers={"X-Today": "1"})
    return task.meal


def insects_of(household: Household, enclosure: Enclosure) -> Any:
    """The insects of the next meal."""
    due = gather(household, timezone.now(), only=[enclosure.pk])[0]
    known = next(one for one in due.tasks if one.kind == "feed").meal
    assert known is not None
    return next(part for part in known.helpings if part.count)


def test_it_lists_what_the_meals_to_come_take(client: Client) -> None:
    page = client.get("/supplies/").content.decode()
    assert "Mixed leaves" in page and "not counted yet" in page and "To order" in page


def test_a_meal_is_taken_off_and_comes_back_when_it_is_undone(
    client: Client, household: Household, pip: Enclosure
) -> None:
    insect = insects_of(household, pip)
    put_in(client, insect.name, "100")
    put_in(client, "mixed leaves", "500 g")
    taken = meal(client, household, pip)
    assert insect.count is not None
    assert Stock.objects.get(name=insect.name).amount == 100 - insect.count
    greens = next(part for part in taken.helpings if part.name == "mixed leaves")
    assert Stock.objects.get(name="mixed leaves").amount == pytest.approx(500 - greens.grams)
    client.post(f"/today/undo/{LogEntry.objects.get().pk}/", headers={"X-Today": "1"})
    assert Stock.objects.get(name=insect.name).amount == 100 and Stock.objects.get(
        name="mixed leaves"
    ).amount == pytest.approx(500)


def test_refused_food_and_a_meal_left_out_take_nothing(
    client: Client, household: Household, pip: Enclosure
) -> None:
    put_in(client, "mixed leaves", "500 g")
    meal(client, household, pip, outcome="refused")
    assert Stock.objects.get().amount == 500


def test_the_books_never_go_below_nothing(
    client: Client, household: Household, pip: Enclosure
) -> None:
    put_in(client, "mixed leaves", "0.1 g")
    meal(client, household, pip)
    stock = Stock.objects.get()
    assert stock.amount == 0 and StockMovement.objects.filter(entry__isnull=False).get().short > 0
    client.post(f"/today/undo/{LogEntry.objects.get().pk}/", headers={"X-Today": "1"})
    assert Stock.objects.get().amount == pytest.approx(0.1)
    with pytest.raises(IntegrityError), transaction.atomic():
        Stock.objects.update(amount=-1)


def test_a_meal_sent_twice_takes_once(
    client: Client, household: Household, pip: Enclosure
) -> None:
    put_in(client, "mixed leaves", "500 g")
    due = gather(household, timezone.now(), only=[pip.pk])[0]
    task = next(one for one in due.tasks if one.kind == "feed")
    fields = {
        "task": task_name(pip, due.animals[0], task),
        "log_request": str(uuid.uuid4()),
        "outcome": "done",
    }
    for _ in range(2):
        client.post(f"/today/{pip.pk}/log/", fields, headers={"X-Today": "1"})
    assert StockMovement.objects.filter(entry__isnull=False).count() == 1


def test_counting_and_bringing(client: Client) -> None:
    put_in(
        client,
        "adult mouse",
        "10",
        best_before=(clocks.today() + dt.timedelta(days=100)).isoformat(),
    )
    stock = Stock.objects.get()
    assert stock.place == "freezer" and stock.amount == 10
    client.post(f"/supplies/{stock.pk}/", {"amount": "5", "bring": "yes"})
    client.post(f"/supplies/{stock.pk}/", {"amount": "12", "count": "yes"})
    assert Stock.objects.get().amount == 12 and [
        m.change for m in StockMovement.objects.order_by("pk")
    ] == [10, 5, -3]
    client.post(f"/supplies/{stock.pk}/", {"away": "yes"})
    assert not Stock.objects.exists()


@pytest.mark.parametrize(
    ("name", "amount", "words"),
    [
        ("adult mouse", "-3", "counted from nothing up"),
        ("adult mouse", "some", "is no number"),
        ("mixed leaves", "much", "cannot be read"),
        ("mixed leaves", "-5 g", "nothing"),
        ("adult mouse", "9e99", "any household"),
        ("adult mouse", "nan", "any household"),
        ("", "3", "required"),
    ],
)
def test_what_cannot_be_is_said_and_stays_typed(
    client: Client, name: str, amount: str, words: str
) -> None:
    page = put_in(client, name, amount).content.decode()
    assert words in page and f'value="{amount}"' in page and not Stock.objects.exists()


def test_two_lines_of_one_kind_are_refused(client: Client) -> None:
    put_in(client, "adult mouse", "10")
    assert (
        "in stock already" in put_in(client, "adult mouse", "3").content.decode()
        and Stock.objects.get().amount == 10
    )


def test_a_wrong_count_is_said_with_what_was_typed(client: Client) -> None:
    put_in(client, "adult mouse", "10")
    page = client.post(
        f"/supplies/{Stock.objects.get().pk}/", {"amount": "-4", "count": "yes"}, follow=True
    ).content.decode()
    assert (
        "counted from nothing up" in page and "“-4”" in page and Stock.objects.get().amount == 10
    )


def test_what_is_past_its_date_is_named(client: Client) -> None:
    yesterday = clocks.today() - dt.timedelta(days=1)
    page = put_in(
        client,
        "ammonia test kit",
        "1",
        opened_on=yesterday.isoformat(),
        best_before=yesterday.isoformat(),
    ).content.decode()
    assert "Past its date: ammonia test kit" in page
    tomorrow = (clocks.today() + dt.timedelta(days=1)).isoformat()
    assert (
        "still to come"
        in put_in(client, "calcium supplement", "1", opened_on=tomorrow).content.decode()
    )


def test_another_households_supplies_is_its_own(client: Client, stranger: Client) -> None:
    put_in(client, "adult mouse", "10")
    assert "Adult mouse" not in stranger.get("/supplies/").content.decode()
    assert (
        stranger.post(f"/supplies/{Stock.objects.get().pk}/", {"away": "yes"}).status_code == 404
    )


def test_in_ounces_too(client: Client) -> None:
    client.post("/preferences/", {"units_system": "us", "units_temperature": "f"})
    put_in(client, "mixed leaves", "10 oz")
    assert Stock.objects.get().amount == pytest.approx(283.5, abs=0.1)
    assert not counted("mixed leaves") and "oz" in client.get("/supplies/").content.decode()


# --- supplements, colonies, what is refused -------------------------------------------------------


def test_supplements_that_plans_ask_for_are_named(client: Client) -> None:
    assert "Calcium supplement" in client.get("/supplies/").content.decode()
    put_in(
        client,
        "multivitamin supplement",
        "1",
        opened_on=(clocks.today() - dt.timedelta(days=200)).isoformat(),
    )
    assert (
        "Past its date: multivitamin supplement" in client.get("/supplies/").content.decode()
    )  # half a year after opening


@pytest.mark.parametrize("name", ["live mouse", "Living rats", "10 live Mice"])
def test_no_living_rodents(client: Client, name: str) -> None:
    text = put_in(client, name, "3").content.decode()
    assert (
        "they bite and kill" in text
        and "value=" in text
        and not Stock.objects.filter(name=name).exists()
    )


def test_a_colony_is_counted_twice_before_it_promises(
    client: Client, household: Household
) -> None:
    put_in(client, "medium roach", "200", place="colony")
    stock = Stock.objects.get(name="medium roach")
    assert (
        stock.place == "colony" and "count it twice" in client.get("/supplies/").content.decode()
    )
    client.post(f"/supplies/{stock.pk}/", {"amount": "200", "count": "yes"})
    StockMovement.objects.filter(stock=stock).update(at=timezone.now() - dt.timedelta(days=28))
    client.post(f"/supplies/{stock.pk}/", {"amount": "400", "count": "yes"})
    assert "A colony: about 35 a week can be taken" in client.get("/supplies/").content.decode()
    client.post(f"/supplies/{stock.pk}/", {"amount": "90", "count": "yes"})
    assert "does not grow" in client.get("/supplies/").content.decode()


def test_how_long_it_takes_to_come_is_the_households(client: Client) -> None:
    put_in(client, "adult mouse", "1", lead_days="14")
    assert Stock.objects.get(name="adult mouse").lead_days == 14
    assert (
        "less than or equal to 90"
        in put_in(client, "small mouse", "1", lead_days="900").content.decode()
    )


# --- stand-ins, mixes, prices, freezer -------------------------------------------------------------


def test_a_meal_takes_what_stands_in_for_its_food(
    client: Client, household: Household, pip: Enclosure
) -> None:
    insect = insects_of(household, pip)
    put_in(client, insect.name, "1")
    put_in(client, "crickets from Ben", "50", stands_for=insect.name)
    page = client.get("/supplies/").content.decode()
    assert "plus 50 fed as this" in page and f"fed as {insect.name}" in page
    meal(client, household, pip)
    left = {stock.name: stock.amount for stock in Stock.objects.all()}
    assert left[insect.name] == 0
    assert left["crickets from Ben"] == 51 - (insect.count or 0)


SALAD = {"name": "Salad", "stands_for": "mixed leaves", "parts": "60 g dandelion\n40 g endive"}


def test_a_mix_is_taken_from_its_parts_and_comes_back(
    client: Client, household: Household, pip: Enclosure
) -> None:
    assert client.post("/supplies/mixes/new/", SALAD)["Location"] == "/supplies/"
    page = client.get("/supplies/").content.decode()
    assert "Dandelion" in page and "fed as mixed leaves" in page
    put_in(client, "dandelion", "500 g")
    put_in(client, "endive", "500 g")
    known = meal(client, household, pip)
    greens = next(part for part in known.helpings if part.name == "mixed leaves")
    left = {stock.name: stock.amount for stock in Stock.objects.all()}
    assert left["dandelion"] == pytest.approx(500 - 0.6 * greens.grams)
    assert left["endive"] == pytest.approx(500 - 0.4 * greens.grams)
    entry = LogEntry.objects.latest("pk")
    client.post(f"/today/{pip.pk}/undo/", {"entry": entry.pk}, headers={"X-Today": "1"})


@pytest.mark.parametrize(
    ("changed", "words"),
    [
        ({"parts": "dandelion"}, "write a weight and a name"),
        ({"parts": ""}, "required"),
        ({"parts": "5 g rocket", "water": "95 g"}, "nine tenths"),
        ({"stands_for": "adult cricket"}, "not one of the available choices"),
    ],
)
def test_what_is_no_mix_is_said_beside_its_field(
    client: Client, changed: dict[str, str], words: str
) -> None:
    answer = client.post("/supplies/mixes/new/", {**SALAD, **changed})
    assert words in str(answer.context["form"].errors)
    assert answer.context["form"]["name"].value() == "Salad"
    assert not FoodRecipe.objects.exists()


def test_a_mix_is_changed_and_removed_and_one_is_fed_as_a_food(client: Client) -> None:
    client.post("/supplies/mixes/new/", SALAD)
    again = client.post("/supplies/mixes/new/", {**SALAD, "name": "Other"})
    assert "Another mix" in str(again.context["form"].errors)
    own = FoodRecipe.objects.get()
    page = client.get(f"/supplies/mixes/{own.pk}/").content.decode()
    assert "60 g dandelion" in page
    client.post(f"/supplies/mixes/{own.pk}/", {**SALAD, "parts": "1 oz rocket", "water": "10 g"})
    own.refresh_from_db()
    assert own.parts == {"rocket": pytest.approx(28.35, abs=0.01)} and own.water_g == 10
    client.post(f"/supplies/mixes/{own.pk}/", {"away": "yes"})
    assert not FoodRecipe.objects.exists()


def test_details_are_kept_and_orders_are_priced(client: Client) -> None:
    put_in(client, "adult cricket", "2")
    stock = Stock.objects.get()
    sent = {"place": "shelf", "lead_days": "2", "price": "0.25", "piece_g": "0.5 g"}
    assert client.post(f"/supplies/{stock.pk}/details/", sent)["Location"] == "/supplies/"
    stock.refresh_from_db()
    assert (stock.lead_days, stock.price, stock.piece_g) == (2, 0.25, 0.5)
    orders = client.get("/supplies/").context["orders"]
    priced = next(one for one in orders if "adult crickets" in one.text)
    assert "EUR" in priced.text and ("your price of one", "0.25 EUR") in priced.inputs
    for food, words in (("a unicorn", "No meal uses"), ("adult mouse", "already use this name")):
        wrong = client.post(f"/supplies/{stock.pk}/details/", {**sent, "stands_for": food})
        assert words in str(wrong.context["form"].errors)
    put_in(client, "a tin of mice", "3")
    tin = Stock.objects.get(name="a tin of mice")
    mixed = client.post(f"/supplies/{tin.pk}/details/", {"stands_for": "mixed leaves"})
    assert "weighed and this is counted" in str(mixed.context["form"].errors)


def test_frozen_food_takes_room(client: Client, household: Household) -> None:
    put_in(client, "adult mouse", "40")
    client.post("/supplies/freezer/", {"freezer": "1 l"})
    seen = client.get("/supplies/").context["freezer"]
    assert seen.is_full and "1.9" in seen.taken.text
    client.post("/supplies/freezer/", {"freezer": "20 l"})
    assert not client.get("/supplies/").context["freezer"].is_full
    page = client.post("/supplies/freezer/", {"freezer": "-3 l"}, follow=True)
    assert page.status_code == 200
    household.refresh_from_db()
    assert household.freezer_l == 20


def test_mixes_and_details_are_the_households_own(client: Client, stranger: Client) -> None:
    client.post("/supplies/mixes/new/", SALAD)
    put_in(client, "adult mouse", "10")
    for path in (
        f"/supplies/mixes/{FoodRecipe.objects.get().pk}/",
        f"/supplies/{Stock.objects.get().pk}/details/",
    ):
        assert stranger.get(path).status_code == 404
        assert stranger.post(path, {"away": "yes"}).status_code == 404
