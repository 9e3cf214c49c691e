"""Clutches from laying to hatchlings with their own books."""

import datetime as dt

import icalendar
import pytest
from django.test import Client

from ridgeback.animals.flows import begin_condition_period
from ridgeback.animals.models import Animal
from ridgeback.breeding.models import Clutch, EggLook
from ridgeback.enclosures.models import Enclosure
from tests import clocks


def ago(n: int) -> dt.date:
    return clocks.today() - dt.timedelta(days=n)


@pytest.fixture
def bramble(pip: Enclosure) -> Animal:
    """The female gecko."""
    return Animal.objects.get(name="Bramble")


def lay(client: Client, whose: Animal | None, /, **more: str) -> str:
    facts = {
        "mother": str(whose.pk) if whose else "",
        "species": "",
        "laid_on": ago(40).isoformat(),
        "count": "2",
        "set_c": "",
        "where": "",
        **more,
    }
    return client.post("/breeding/", facts, follow=True).content.decode()


def test_a_clutch_has_a_window_and_ends_her_carrying(client: Client, bramble: Animal) -> None:
    begin_condition_period(bramble, kind="gravid", since=ago(70))
    text = lay(client, bramble)
    clutch = Clutch.objects.get()
    assert clutch.set_c == pytest.approx(29.5) and "Hatch about" in text and "29.5 °C" in text
    assert bramble.condition_periods.get().until == ago(40)
    assert "Candle it" in text  # nobody looked yet
    assert "Bramble’s eggs" in client.get("/today/").content.decode()


def test_a_look_answers_the_round_and_a_reading_moves_the_window(
    client: Client, bramble: Animal
) -> None:
    lay(client, bramble)
    clutch = Clutch.objects.get()
    before = clutch.window(ago(0)).usual
    answer = client.post(
        f"/breeding/{clutch.pk}/look/", {"on": ago(0).isoformat(), "back": "round"}
    )
    assert answer.status_code == 302 and answer["Location"] == "/today/"
    assert "Looked at" not in client.get("/today/").content.decode()
    client.post("/preferences/", {"units_temperature": "f", "next": "/"})
    client.post(
        f"/breeding/{clutch.pk}/look/", {"on": ago(39).isoformat(), "temp_c": "81", "good": "1"}
    )
    assert EggLook.objects.get(good=1).temp_c == pytest.approx((81 - 32) / 1.8, abs=0.01)
    assert Clutch.objects.get().window(ago(0)).usual > before  # it was cooler
    assert "1 still good" in client.get(f"/breeding/{clutch.pk}/").content.decode()


def test_hatchlings_become_animals_with_a_path(client: Client, bramble: Animal) -> None:
    lay(client, bramble, laid_on=ago(60).isoformat())
    clutch = Clutch.objects.get()
    client.post(
        f"/breeding/{clutch.pk}/hatch/",
        {"on": ago(1).isoformat(), "number": "2", "name": "Burr", "last": "on"},
    )
    young = Animal.objects.filter(hatched__clutch=clutch).order_by("name")
    assert (
        [one.name for one in young] == ["Burr 1", "Burr 2"]
        and young[0].born_on == ago(1)
        and young[0].species == bramble.species
    )
    clutch.refresh_from_db()
    assert clutch.ended_on == ago(1)
    assert client.get(f"/animals/{young[0].pk}/life-plan/").status_code == 200
    assert client.get(f"/animals/{young[0].pk}/feeding/").status_code == 200
    assert (
        "Bramble’s of" in client.get("/breeding/").content.decode()
        or "Bramble’s" in client.get("/breeding/").content.decode()
    )


def test_young_born_alive_are_counted_from_mating(client: Client, pip: Enclosure) -> None:
    text = lay(client, None, species="Boa imperator", count="")
    assert "Birth about" in text and "Candle" not in text
    clutch = Clutch.objects.get()
    assert (
        clutch.set_c is None and 120 <= (clutch.window(ago(40)).usual - clutch.laid_on).days <= 150
    )


@pytest.mark.parametrize(
    ("more", "why"),
    [
        ({"mother": "", "species": ""}, "Say whose they are"),
        ({"laid_on": "2999-01-01"}, "still to come"),
        ({"laid_on": "2001-01-01"}, "long over"),
        ({"count": "-3"}, "greater than or equal to 1"),
        ({"set_c": "45"}, "45"),
        ({"set_c": "20"}, "is incubated at 27 to 32"),
        ({"mother": "", "species": "Boa imperator", "set_c": "29"}, "nothing is incubated"),
    ],
)
def test_a_clutch_that_cannot_be_is_refused_and_what_was_typed_stays(
    client: Client, bramble: Animal, more: dict[str, str], why: str
) -> None:
    text = lay(client, bramble, **{"where": "hall cupboard", **more})
    assert why in text and "hall cupboard" in text and not Clutch.objects.exists()


def test_a_look_and_a_hatching_that_cannot_be(client: Client, bramble: Animal) -> None:
    lay(client, bramble)
    pk = Clutch.objects.get().pk
    assert (
        "2 were laid"
        in client.post(
            f"/breeding/{pk}/look/", {"on": ago(0).isoformat(), "good": "3"}
        ).content.decode()
    )
    assert (
        "this day is before"
        in client.post(f"/breeding/{pk}/look/", {"on": ago(60).isoformat()}).content.decode()
    )
    assert (
        "sooner than they can be"
        in client.post(
            f"/breeding/{pk}/hatch/", {"on": ago(39).isoformat(), "number": "1", "name": "x"}
        ).content.decode()
    )
    assert (
        "2 were laid"
        in client.post(
            f"/breeding/{pk}/hatch/", {"on": ago(0).isoformat(), "number": "5", "name": "x"}
        ).content.decode()
    )
    assert (
        not EggLook.objects.exists() and not Animal.objects.filter(hatched__isnull=False).exists()
    )


def test_another_household_has_no_such_clutch(
    client: Client, stranger: Client, bramble: Animal
) -> None:
    lay(client, bramble)
    pk = Clutch.objects.get().pk
    assert stranger.get(f"/breeding/{pk}/").status_code == 404
    for part in ("look", "hatch", "end"):
        assert (
            stranger.post(f"/breeding/{pk}/{part}/", {"on": ago(0).isoformat()}).status_code == 404
        )
    answer = stranger.post(
        "/breeding/", {"mother": str(bramble.pk), "laid_on": ago(1).isoformat()}
    )
    assert (
        answer.status_code == 200 and Clutch.objects.count() == 1
    )  # no mother of another's household


def test_the_window_stands_in_the_calendar(client: Client, bramble: Animal) -> None:
    lay(client, bramble)
    shown = client.post("/today/calendars/", {"name": "phone", "room": ""}).context["shown"]
    feed = icalendar.Calendar.from_ical(client.get("/" + shown.split("/", 3)[3]).content)
    event = next(one for one in feed.walk("VEVENT") if str(one["uid"]).startswith("clutch-"))
    found = Clutch.objects.get().window(ago(0))
    assert event.decoded("dtstart") == found.early and event.decoded(
        "dtend"
    ) == found.late + dt.timedelta(days=1)


def test_an_ended_clutch_comes_round_no_more(client: Client, bramble: Animal) -> None:
    lay(client, bramble)
    pk = Clutch.objects.get().pk
    client.post(f"/breeding/{pk}/end/")
    assert "Candle it" not in client.get("/today/").content.decode()
    assert (
        "has ended"
        in client.post(
            f"/breeding/{pk}/hatch/",
            {"on": ago(0).isoformat(), "number": "1", "name": "x"},
            follow=True,
        ).content.decode()
    )


def test_a_clutch_of_years_ago_is_kept_as_it_ended(client: Client, bramble: Animal) -> None:
    long_ago = {"laid_on": ago(400).isoformat()}
    assert "State now" in lay(client, bramble, **long_ago) and not Clutch.objects.exists()
    over = {"state": "over", "ended_on": ago(340).isoformat(), "hatched": "2"}
    text = lay(client, bramble, **long_ago, **over)
    kept = Clutch.objects.get()
    assert kept.ended_on == ago(340) and kept.hatched == 2 and "2 hatched" in text


@pytest.mark.parametrize(
    ("typed", "said"),
    [
        ({"state": "over"}, "when it was over"),
        ({"state": "over", "ended_on": "2999-01-01"}, "still to come"),
        ({"state": "over", "ended_on": "2000-01-01"}, "only after it was laid"),
        ({"state": "over", "ended_on": "today", "hatched": "5"}, "2 were laid"),
        ({"laid_from": "2000-01-01"}, "tell nothing"),
        ({"laid_from": "2999-01-01"}, "before the other"),
    ],
)
def test_what_cannot_have_been_is_said(
    client: Client, bramble: Animal, typed: dict[str, str], said: str
) -> None:
    if typed.get("ended_on") == "today":
        typed = typed | {"ended_on": ago(0).isoformat()}
    assert said in lay(client, bramble, **typed) and not Clutch.objects.exists()


def test_found_eggs_have_a_wider_window(client: Client, bramble: Animal) -> None:
    lay(client, bramble)
    known = Clutch.objects.get().window(ago(0))
    Clutch.objects.all().delete()
    text = lay(client, bramble, laid_from=ago(54).isoformat())
    found = Clutch.objects.get().window(ago(0))
    assert found.late == known.late and found.early < known.early and "between" in text


def test_the_box_says_how_much_water_it_takes_and_has_lost(
    client: Client, bramble: Animal
) -> None:
    lay(client, bramble)
    clutch = Clutch.objects.get()
    box = {"medium": "vermiculite", "medium_g": "150 g", "box_g": "812 g"}
    answer = client.post(f"/breeding/{clutch.pk}/box/", box, follow=True)
    assert "150 g of water to 150 g" in " ".join(answer.context["box_words"])
    client.post(f"/breeding/{clutch.pk}/look/", {"on": ago(0).isoformat(), "box_g": "790 g"})
    words = client.get(f"/breeding/{clutch.pk}/").context["box_words"]
    assert any("has lost 22 g" in one and "beside the eggs" in one for one in words)
    wrong = client.post(f"/breeding/{clutch.pk}/box/", box | {"box_g": "heavy"})
    assert wrong.status_code == 200 and wrong.context["box"].errors["box_g"]


def test_nobody_sets_the_box_of_another_household(
    client: Client, stranger: Client, bramble: Animal
) -> None:
    lay(client, bramble)
    clutch = Clutch.objects.get()
    answer = stranger.post(f"/breeding/{clutch.pk}/box/", {"medium": "moss"})
    assert answer.status_code == 404
