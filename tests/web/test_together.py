"""Several animals at once: found, ticked, fed, moved, treated, photographed, written out."""

import csv
import io
from typing import Any

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client

from ridgeback import clock
from ridgeback.animals.models import Animal
from ridgeback.collection.together_views import ACTS
from ridgeback.demo import household as demo
from ridgeback.enclosures.models import Enclosure, Occupancy
from ridgeback.households.models import Household, SavedFilter
from ridgeback.log.models import LogEntry
from ridgeback.photos.models import Picture
from ridgeback.spreadsheets import safe_cell
from ridgeback.treatments.models import Treatment
from tests import clocks
from tests.web.test_photos import photo


def here(household: Household) -> list[Animal]:
    return list(household.animals.filter(occupancies__in=Occupancy.objects.present()).distinct())


def sent(client: Client, act: str, animals: list[Animal], **typed: Any) -> Any:
    keys = [str(animal.pk) for animal in animals]
    address = f"/animals/together/{act}/"
    page = client.get(address, {"animal": keys})
    key = str(page.context["form"]["form_key"].value())
    return client.post(
        address, {"form_key": key, "animal": keys, "shown": keys, **typed}, follow=True
    )


@pytest.mark.parametrize(
    ("query", "found"),
    [
        ("bramble", {"Bramble"}),
        ("gecko", {"Bramble"}),
        ("BRAMBLE fat", {"Bramble"}),
        ("zz", set()),
    ],
)
def test_animals_are_found_by_any_word(
    client: Client, pip: Enclosure, query: str, found: set[str]
) -> None:
    rows = client.get("/animals/", {"query": query}).context["rows"]
    assert {row["animal"].name for row in rows} == found


def test_animals_are_shown_by_where_they_are(client: Client, household: Household) -> None:
    Animal.objects.create(
        household=household, name="Sorrel", species="Eublepharis macularius", whereabouts="wanted"
    )
    for state in ("nowhere", "away"):
        rows = client.get("/animals/", {"state": state}).context["rows"]
        assert "Sorrel" in {row["animal"].name for row in rows}
    rows = client.get("/animals/", {"state": "quarantine"}).context["rows"]
    assert "Sorrel" not in {row["animal"].name for row in rows}


def test_a_filter_is_saved_used_and_removed(client: Client, household: Household) -> None:
    typed = {"page": "animals", "name": "Geckos", "query": "gecko", "state": ""}
    client.post("/filters/save/", typed)
    client.post("/filters/save/", typed | {"query": "fat-tailed"})
    kept = SavedFilter.objects.get()
    assert kept.query == "fat-tailed", "one of the same name is replaced"
    page = client.get(f"/animals/?{kept.address}")
    assert [row["animal"].name for row in page.context["rows"]] == ["Bramble"]
    assert "Geckos" in page.content.decode()
    client.post("/filters/remove/", {"filter": kept.pk})
    assert not SavedFilter.objects.exists()


@pytest.mark.parametrize(
    "typed", [{"name": " "}, {"page": "household"}, {"name": "x" * 41}, {"query": "\x00"}]
)
def test_a_wrong_filter_is_not_saved(client: Client, typed: dict[str, str]) -> None:
    usual = {"page": "animals", "name": "Geckos", "query": "gecko", "state": ""}
    assert client.post("/filters/save/", usual | typed).status_code == 302
    assert not SavedFilter.objects.exists()


def test_nobody_removes_the_filter_of_another(
    client: Client, stranger: Client, household: Household
) -> None:
    client.post("/filters/save/", {"page": "animals", "name": "Mine", "query": "x", "state": ""})
    kept = SavedFilter.objects.get()
    assert stranger.post("/filters/remove/", {"filter": kept.pk}).status_code == 404
    assert SavedFilter.objects.exists()


def test_all_that_are_ticked_are_fed_by_their_own_plans(
    client: Client, household: Household
) -> None:
    animals = here(household)
    sent(client, "meal", animals, outcome="done", on=clocks.today().isoformat(), note="")
    fed = LogEntry.objects.filter(stem__startswith="feed ", on=clocks.today(), outcome="done")
    assert {entry.animal_id for entry in fed} >= {animal.pk for animal in animals}
    assert len({entry.amount for entry in fed}) > 1, "each by its own plan"


def test_one_that_lives_nowhere_is_named_and_left_out(
    client: Client, household: Household
) -> None:
    lost = Animal.objects.create(
        household=household, name="Sorrel", species="Eublepharis macularius"
    )
    answer = sent(
        client, "meal", [*here(household)[:1], lost], outcome="done", on=clocks.today().isoformat()
    )
    said = answer.content.decode()
    assert "Logged for 1 animal" in said and "Sorrel" in said
    assert not LogEntry.objects.filter(animal=lost).exists()


def test_one_treatment_is_noted_for_each(client: Client, household: Household) -> None:
    animals = here(household)[:2]
    today = clocks.today().isoformat()
    sent(
        client,
        "treatment",
        animals,
        words="0.1 ml by mouth",
        by="Dr Reed",
        begins=today,
        ends=today,
        times="1",
        every_days="1",
    )
    assert {one.animal_id for one in Treatment.objects.all()} >= {one.pk for one in animals}


def test_one_photo_is_kept_for_each(client: Client, household: Household) -> None:
    animals = here(household)[:2]
    before = Picture.objects.count()
    file = SimpleUploadedFile("two.jpg", photo(600, 400), "image/jpeg")
    sent(client, "photos", animals, file=file, on=clocks.today().isoformat(), note="Both")
    assert Picture.objects.count() == before + 2


def test_a_move_of_several_is_judged_together_and_confirmed(
    client: Client, household: Household, pip: Enclosure
) -> None:
    animals = [one for one in here(household) if one.name in {"Bramble", "Fathom"}]
    at = clock.local(clock.now(), demo.ZONE).strftime("%Y-%m-%dT%H:%M")
    typed = {"to": str(pip.pk), "at": at, "reason": "cleaning"}
    answer = sent(client, "move", animals, **typed)
    assert answer.context["move"].danger and "Move all the same" in answer.content.decode()
    assert all(one.occupancies.present().get().enclosure != pip for one in animals)
    confirm = answer.context["form"].data["confirm"]
    other = sent(client, "move", animals[:1], **typed, confirm=confirm)
    assert other.context["move"].asks, "confirmed for others"
    keys = [str(animal.pk) for animal in animals]
    form = {"animal": keys, "shown": keys, "confirm": confirm} | typed
    client.post("/animals/together/move/", form)
    for animal in animals:
        assert animal.occupancies.present().get().enclosure == pip


def test_the_table_of_the_ticked_is_read_by_a_spreadsheet(
    client: Client, household: Household
) -> None:
    animals = here(household)
    animals[0].name = "=1+1"
    animals[0].save()
    answer = client.get("/animals/together/table/", {"animal": [one.pk for one in animals]})
    rows = list(csv.DictReader(io.StringIO(answer.content.decode("utf-8-sig"))))
    assert len(rows) == len(animals) and "'=1+1" in {row["name"] for row in rows}


@pytest.mark.parametrize(
    ("value", "written"),
    [("=cmd", "'=cmd"), ("-3", "'-3"), (-3, -3), ("a=b", "a=b"), (None, None)],
)
def test_no_cell_is_a_formula(value: object, written: object) -> None:
    """OWASP, CSV injection."""
    assert safe_cell(value) == written


@pytest.mark.parametrize("act", sorted(ACTS))
def test_nothing_ticked_or_somebody_elses_leads_back(
    client: Client, stranger: Client, household: Household, act: str
) -> None:
    assert client.get(f"/animals/together/{act}/").status_code == 302
    key = here(household)[0].pk
    assert stranger.get(f"/animals/together/{act}/", {"animal": key}).status_code in {302, 404}
    wrong = {"animal": ["999999", "x", "1" * 30, "-1"]}
    assert client.get(f"/animals/together/{act}/", wrong).status_code == 302


def test_unticking_all_of_them_is_said(client: Client, household: Household) -> None:
    animal = here(household)[0]
    typed = {"shown": [animal.pk], "outcome": "done", "on": clocks.today().isoformat()}
    answer = client.post("/animals/together/meal/", typed)
    assert "Tick at least one animal." in answer.content.decode()


def test_an_act_that_is_none_is_not_found(client: Client) -> None:
    assert client.get("/animals/together/sell/").status_code == 404


def test_an_expected_animal_comes_up_on_its_day(client: Client, household: Household) -> None:
    Animal.objects.create(
        household=household,
        name="Sorrel",
        species="Eublepharis macularius",
        whereabouts="arriving",
        expected_on=clocks.today(),
    )
    assert "Sorrel is expected on" in client.get("/coming-up/").content.decode()
