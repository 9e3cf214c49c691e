"""Brumation on its page and among the day's tasks; the year overview."""

import datetime as dt
from typing import Any

import pytest
from django.test import Client
from django.utils import timezone

from ridgeback.animals.models import Animal, Weighing
from ridgeback.enclosures.models import Enclosure
from ridgeback.households.models import Household
from ridgeback.log.models import LogEntry
from ridgeback.seasons.models import Brumation
from ridgeback.tasks.due_tasks import gather
from tests import clocks


@pytest.fixture
def snake(household: Household) -> Animal:
    """The demo's kingsnake: grown, weighed, long in care."""
    animal = household.animals.get(name="Fathom")
    animal.weighings.all().delete()
    animal.born_on, animal.sex = clocks.today() - dt.timedelta(days=2500), "male"
    animal.save()
    animal.lengths.update(length_mm=1150)
    for ago in (200, 30):
        Weighing.objects.create(
            animal=animal, on=clocks.today() - dt.timedelta(days=ago), mass_g=600
        )
    animal.fed_on = clocks.today() - dt.timedelta(days=5)
    animal.save()
    animal.occupancies.update(since=timezone.now() - dt.timedelta(days=800))
    return animal


def keep(client: Client, animal: Animal, begins: dt.date, weeks: str = "10", **more: str) -> Any:
    return client.post(
        f"/animals/{animal.pk}/brumation/",
        {"begins": begins.isoformat(), "weeks": weeks, "keep": "yes", **more},
        follow=True,
    )


def kinds(household: Household, animal: Animal, day: dt.datetime) -> set[str]:
    pk = animal.occupancies.get(until__isnull=True).enclosure_id
    return {task.kind for task in gather(household, day, only=[pk])[0].tasks}


def test_a_fit_snake_is_offered_its_rest_with_every_day(client: Client, snake: Animal) -> None:
    page = client.get(f"/animals/{snake.pk}/brumation/").content.decode()
    assert (
        "Nothing recorded here speaks against it" in page
        and "Last meal" in page
        and "Full brumation: dark, at 12 °C" in page
    )
    assert "540 g the rest is ended" in page and "First meal" in page


def test_a_rest_that_is_kept_stops_the_food_and_keeps_the_scale(
    client: Client, household: Household, snake: Animal
) -> None:
    begins = clocks.today() + dt.timedelta(days=60)
    assert "Saved" in keep(client, snake, begins).content.decode()
    rest = Brumation.objects.get().plan()
    noon = timezone.now().replace(hour=12)
    awake = noon + dt.timedelta(days=(rest.last_meal - noon.date()).days - 1)
    asleep = noon + dt.timedelta(days=(rest.begins - noon.date()).days + 20)
    up = noon + dt.timedelta(days=(rest.first_meal - noon.date()).days)
    assert "feed" in kinds(household, snake, awake) and "feed" in kinds(household, snake, up)
    assert {"feed", "soak", "gutload"}.isdisjoint(
        kinds(household, snake, asleep)
    ) and "weigh" in kinds(household, snake, asleep)


def test_a_loss_in_rest_is_said_at_the_scale(
    client: Client, household: Household, snake: Animal
) -> None:
    today = clocks.today()
    Animal.objects.filter(pk=snake.pk).update(fed_on=today - dt.timedelta(days=90))
    keep(client, snake, today - dt.timedelta(days=20))
    rest = Brumation.objects.get().plan()
    Weighing.objects.create(animal=snake, on=rest.last_meal, mass_g=600)
    enclosure = Enclosure.objects.get(pk=snake.occupancies.get(until__isnull=True).enclosure_id)
    due = gather(household, timezone.now(), only=[enclosure.pk])[0]
    weigh = next(task for task in due.tasks if task.kind == "weigh")
    from ridgeback.tasks.due_tasks import task_name

    fields = {
        "task": task_name(enclosure, snake, weigh),
        "log_request": "0b3f6a5e-6a0b-4c63-9d6e-0d9a5a3f1a11",
        "amount": "530 g",
    }
    told = client.post(
        f"/today/{enclosure.pk}/log/", fields, headers={"X-Today": "1"}
    ).content.decode()
    assert "has lost 12% since its last meal: end the rest today" in told


def test_what_speaks_against_a_rest_is_overruled_by_a_veterinarian_only(
    client: Client, snake: Animal
) -> None:
    enclosure = Enclosure.objects.get(pk=snake.occupancies.get(until__isnull=True).enclosure_id)
    now = timezone.now()
    LogEntry.objects.create(
        household=snake.household,
        enclosure=enclosure,
        animal=snake,
        stem="sign",
        task="x",
        log_request="0b3f6a5e-6a0b-4c63-9d6e-0d9a5a3f1a12",
        on=now.date(),
        at=now,
        note="wheezing",
        touched_at=now,
    )
    begins = clocks.today() + dt.timedelta(days=60)
    page = keep(client, snake, begins).content.decode()
    assert (
        "a sick animal dies in its rest" in page
        and "only a veterinarian’s word" in page
        and not Brumation.objects.exists()
    )
    assert f'value="{begins.isoformat()}"' in page
    keep(client, snake, begins, agreed="Dr Ellis, 3 November")
    assert Brumation.objects.get().agreed == "Dr Ellis, 3 November"


@pytest.mark.parametrize(
    ("weeks", "begins", "words"),
    [
        ("40", 60, "rests 8 to 12 weeks"),
        ("nan", 60, "Enter a number"),
        ("10", 900, "of this winter"),
        ("", 60, "required"),
    ],
)
def test_a_rest_that_cannot_be_is_said_beside_the_field(
    client: Client, snake: Animal, weeks: str, begins: int, words: str
) -> None:
    page = keep(client, snake, clocks.today() + dt.timedelta(days=begins), weeks).content.decode()
    assert words in page and not Brumation.objects.exists()


def test_a_kind_that_does_not_rest_is_refused_kindly(client: Client, household: Household) -> None:
    gecko = household.animals.get(name="Bramble")
    page = client.get(f"/animals/{gecko.pk}/brumation/").content.decode()
    assert "does not rest in winter" in page and 'name="keep"' not in page
    assert (
        keep(client, gecko, clocks.today()).status_code == 200 and not Brumation.objects.exists()
    )


def test_another_rest_replaces_the_first_and_it_can_be_ended(
    client: Client, snake: Animal
) -> None:
    begins = clocks.today() + dt.timedelta(days=60)
    keep(client, snake, begins)
    keep(client, snake, begins, "9")
    assert Brumation.objects.going().count() == 1 and Brumation.objects.count() == 2
    client.post(f"/brumations/{Brumation.objects.going().get().pk}/stop/")
    assert not Brumation.objects.going().exists()


def test_rests_are_private(stranger: Client, client: Client, snake: Animal) -> None:
    keep(client, snake, clocks.today() + dt.timedelta(days=60))
    assert stranger.get(f"/animals/{snake.pk}/brumation/").status_code == 404
    assert stranger.post(f"/brumations/{Brumation.objects.get().pk}/stop/").status_code == 404
    assert "Fathom" not in stranger.get("/seasons/").content.decode()


def test_the_year_overview_shows_each_animal_with_its_timers(
    client: Client, household: Household, snake: Animal
) -> None:
    year = clocks.today().year
    page = client.get("/seasons/").content.decode()
    assert (
        page.count("year-overview-strip") == household.animals.count()
        and f"Light &amp; seasons {year}" in page
        and "clocks go forward" in page
    )
    assert "This species usually brumates; no brumation is planned." in page
    Animal.objects.filter(pk=snake.pk).update(fed_on=dt.date(year, 11, 1))
    keep(client, snake, dt.date(year, 12, 20), "8")
    later = client.get("/seasons/", {"year": str(year + 1)}).content.decode()
    assert "first meal" in later
    assert client.get("/seasons/", {"year": "9999", "light": "moon"}).status_code == 200


def test_light_by_the_sun_outside_differs_from_its_kinds_own(client: Client) -> None:
    own, place = (
        client.get("/seasons/", {"light": way}).context["rooms"][0].strips[0].timers
        for way in ("own", "place")
    )
    assert [one.hours for one in own] != [one.hours for one in place]


def test_a_rest_does_not_begin_on_a_full_gut(
    client: Client, household: Household, snake: Animal
) -> None:
    """Food rots in a cold gut: three weeks without, then three of shorter days (its species’ own
    longest fast).
    """
    told = keep(client, snake, clocks.today() + dt.timedelta(days=10)).content.decode()
    assert "its gut empties first" in told and not Brumation.objects.exists()
    earliest = snake.fed_on + dt.timedelta(days=42)  # type: ignore[operator]  # set above
    assert f"from {earliest:%-d %B %Y} at the earliest" in told
    assert "Saved" in keep(client, snake, earliest).content.decode()


def test_the_enclosure_of_an_animal_at_rest_says_so(
    client: Client, household: Household, snake: Animal
) -> None:
    pk = snake.occupancies.get(until__isnull=True).enclosure_id
    assert "when it is awake" not in client.get(f"/enclosures/{pk}/").content.decode()
    Animal.objects.filter(pk=snake.pk).update(fed_on=clocks.today() - dt.timedelta(days=90))
    keep(client, snake, clocks.today() - dt.timedelta(days=10))
    page = client.get(f"/enclosures/{pk}/").content.decode()
    assert "Fathom is brumating" in page and "when it is awake" in page


# --- summer, and what earlier years leave ---------------------------------------------------------


@pytest.fixture
def tortoise(household: Household, snake: Animal) -> Animal:
    """A grown tortoise in the snake's place."""
    snake.species, snake.name = "Testudo hermanni", "Bracken"
    snake.save()
    snake.lengths.update(kind="shell", length_mm=170)
    Weighing.objects.filter(animal=snake).update(mass_g=900)
    return snake


def test_a_summer_rest_is_kept_and_followed(
    client: Client, household: Household, tortoise: Animal
) -> None:
    page = client.get(f"/animals/{tortoise.pk}/brumation/?season=summer").content.decode()
    assert (
        "Aestivation of Bracken" in page
        and "never cool it down" in page
        and "Full brumation: dark" not in page
    )
    begins = clocks.today() + dt.timedelta(days=4)
    answer = client.post(
        f"/animals/{tortoise.pk}/brumation/?season=summer",
        {"begins": begins.isoformat(), "weeks": "4", "keep": "yes", "agreed": "Dr Quill"},
        follow=True,
    )
    assert answer.redirect_chain[0][0].endswith("?season=summer")
    kept = Brumation.objects.get()
    assert kept.season == "summer" and "Saved." in answer.content.decode()
    assert "feed" not in str(kinds(household, tortoise, timezone.now() + dt.timedelta(days=10)))
    assert (
        "Its species rests"
        not in client.get("/seasons/").content.decode().split("Bracken")[1][:3000]
    )


def test_a_summer_rest_of_a_hundred_weeks(client: Client, tortoise: Animal) -> None:
    begins = (clocks.today() + dt.timedelta(days=4)).isoformat()
    answer = client.post(
        f"/animals/{tortoise.pk}/brumation/?season=summer",
        {"begins": begins, "weeks": "100", "keep": "yes"},
    )
    assert "2 to 10 weeks" in answer.content.decode() and not Brumation.objects.exists()


def test_no_summer_rest_for_what_knows_none(client: Client, snake: Animal) -> None:
    page = client.get(f"/animals/{snake.pk}/brumation/?season=summer").content.decode()
    assert "does not rest in summer" in page
    assert "?season=summer" not in client.get(f"/animals/{snake.pk}/brumation/").content.decode()


def test_last_winters_rest_stays_in_the_year_overview(client: Client, snake: Animal) -> None:
    today = clocks.today()
    Brumation.objects.create(
        animal=snake, begins_on=today - dt.timedelta(days=340), weeks=10, kept_at=timezone.now()
    )
    keep(client, snake, today + dt.timedelta(days=60))
    assert Brumation.objects.going().count() == 2


def test_the_boxs_weeks_hold_no_meal_of_a_rest(
    client: Client, household: Household, snake: Animal
) -> None:
    today = clocks.today()
    home = Enclosure.objects.get(occupancies__animal=snake, occupancies__until__isnull=True)
    before = client.get(f"/enclosures/{home.pk}/animals/").content.decode().count('class="meal"')
    keep(client, snake, today + dt.timedelta(days=50))
    after = client.get(f"/enclosures/{home.pk}/animals/").content.decode().count('class="meal"')
    assert before > 0 and after < before


def test_the_year_overview_tells_warmth_and_the_lean_weeks(
    client: Client, household: Household, snake: Animal
) -> None:
    page = client.get("/seasons/").content.decode()
    assert "Air, night" in page or "night" in page
    assert "Fed less often from 16 November" in page
    room = household.rooms.get()
    assert client.get("/seasons/", {"room": str(room.pk)}).content.decode().count(
        "year-overview-strip"
    ) == page.count("year-overview-strip")
    assert "year-overview-strip" not in client.get("/seasons/", {"room": "0"}).content.decode()
