"""One row that cannot be calculated takes no page, calendar, email or job down with it."""

import datetime as dt
import json
from typing import Any

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client

from husbandry.errors import CannotCalculateError
from husbandry.quantity import METRIC
from ridgeback.animal_pages.lives import coming_up, work_out
from ridgeback.animals.models import Animal
from ridgeback.calculation import BROKE_OFF, Failed, attempt
from ridgeback.clock import now
from ridgeback.digests.composing import compose
from ridgeback.enclosures.models import Enclosure, Revision
from ridgeback.households.models import Household
from ridgeback.jobs import tasks
from ridgeback.tasks.due_tasks import gather
from ridgeback.today.calendar_feeds import calendar_of

PAGES = (
    "/",
    "/today/",
    "/today/week/",
    "/supplies/",
    "/animals/",
    "/coming-up/",
    "/seasons/",
    "/daily-email/",
    "/breeding/",
)


@pytest.fixture
def broken(pip: Enclosure) -> Enclosure:
    """An enclosure whose saved layout is none."""
    assert pip.head is not None
    Revision.objects.filter(pk=pip.head.pk).update(
        spec={"enclosure": {"inside_m": {"length": 1e300}}, "items": "none"}
    )
    return Enclosure.objects.for_planning().get(pk=pip.pk)


@pytest.fixture
def unborn(pip: Enclosure) -> Animal:
    """An animal whose birthday lies at the end of all calendars."""
    animal = pip.present[0].animal
    Animal.objects.filter(pk=animal.pk).update(born_on=dt.date(9999, 12, 31), came_on=None)
    return Animal.objects.get(pk=animal.pk)


def html(client: Client, address: str) -> str:
    answer = client.get(address, follow=True)
    assert answer.status_code == 200, address
    return answer.content.decode()


def test_every_shared_page_shows_the_others(client: Client, broken: Enclosure) -> None:
    for page in PAGES:
        html(client, page)
    listed = html(client, "/")
    assert "Cannot be calculated" in listed and "Bramble’s enclosure" in listed
    round_ = html(client, "/today/")
    assert "Cannot be calculated" in round_ and "Correct or delete it" in round_
    assert "Cannot be calculated" in html(client, "/today/week/")
    assert "Cannot be calculated" in html(client, "/supplies/")


def test_its_own_pages_lead_to_what_can_be_corrected(client: Client, broken: Enclosure) -> None:
    for part in (
        "",
        "layout/",
        "build/",
        "substrate/",
        "day/",
        "commissioning/",
        "drawing.svg",
        "request.json",
        "moisture-year/",
    ):
        page = html(client, f"/enclosures/{broken.pk}/{part}")
        assert "cannot be calculated" in page and f"/enclosures/{broken.pk}/records/" in page, part
    assert "Delete this enclosure" in html(client, f"/enclosures/{broken.pk}/records/")


def test_a_calendar_and_an_email_say_so(household: Household, broken: Enclosure) -> None:
    due_lists = gather(household, now())
    made = calendar_of(due_lists, "all", METRIC).to_ical().decode()
    assert "Pip’s enclosure: cannot be calculated" in made and "Bramble’s enclosure" in made
    _, text, _ = compose(household, METRIC, now())
    assert "Cannot be calculated" in text and "Bramble’s enclosure" in text


def test_jobs_plan_the_others(client: Client, household: Household, broken: Enclosure) -> None:
    tasks.make_plans(household.pk)
    tasks.work_out_lives(household.pk)
    rows = {row.enclosure.name: row.problem for row in client.get("/").context["enclosures"].rows}
    assert rows["Pip’s enclosure"].startswith("Cannot be calculated")
    assert all(
        not problem.startswith("Cannot")
        for name, problem in rows.items()
        if name != "Pip’s enclosure"
    )


def test_a_birthday_that_cannot_be_is_corrected_on_its_page(
    client: Client, unborn: Animal
) -> None:
    """The animal's own page answered 500, so that nobody could correct it."""
    for page in PAGES:
        html(client, page)
    assert "Cannot be calculated" in html(client, f"/animals/{unborn.pk}/")
    page = html(client, f"/animals/{unborn.pk}/facts/")
    assert 'name="born_on"' in page
    facts = client.get(f"/animals/{unborn.pk}/facts/").context["facts"]
    posted = {bound.html_name: str(bound.value() or "") for bound in facts}
    answer = client.post(f"/animals/{unborn.pk}/facts/", {**posted, "born_on": "2025-12-01"})
    assert answer.status_code == 302, answer.context["facts"].errors
    assert "Cannot be calculated" not in html(client, f"/animals/{unborn.pk}/")


def test_an_animal_that_cannot_be_projected_is_named(household: Household, unborn: Animal) -> None:
    today = household.day_of(now())
    work_out(household, today)
    failed = {one.animal.name: one.failed for one in coming_up(household, today) if one.failed}
    assert set(failed) <= {unborn.name}
    assert work_out(household, today) == 0  # and is not tried again and again


def test_a_reading_is_deleted(client: Client, stranger: Client, pip: Enclosure) -> None:
    reading = pip.readings.all()[0]
    address = f"/enclosures/{pip.pk}/records/reading/"
    assert stranger.post(address, {"reading": reading.pk}).status_code == 404
    assert "Deleted" in client.post(address, {"reading": reading.pk}, follow=True).content.decode()
    assert not pip.readings.model.objects.filter(pk=reading.pk).exists()
    assert (
        "deleted already"
        in client.post(address, {"reading": reading.pk}, follow=True).content.decode()
    )


def test_an_enclosure_is_deleted_by_its_name_and_its_animals_stay(
    client: Client, broken: Enclosure
) -> None:
    animal = broken.present[0].animal
    wrong = client.post(f"/enclosures/{broken.pk}/delete/", {"name": "another"})
    assert (
        "to delete it" in wrong.content.decode()
        and Enclosure.objects.filter(pk=broken.pk).exists()
    )
    client.post(f"/enclosures/{broken.pk}/delete/", {"name": broken.name})
    assert not Enclosure.objects.filter(pk=broken.pk).exists()
    assert Animal.objects.filter(pk=animal.pk).exists()


def test_anything_that_breaks_is_a_result(caplog: pytest.LogCaptureFixture) -> None:
    def fail() -> None:
        raise ZeroDivisionError

    def refuse() -> None:
        raise CannotCalculateError("too hot")

    assert attempt(fail, "enclosure", 1) == Failed((BROKE_OFF,))
    assert "not calculated" in caplog.text
    assert attempt(refuse, "enclosure", 1) == Failed(("too hot",))
    assert attempt(lambda: 3, "enclosure", 1) == 3


# --- imports --------------------------------------------------------------------------------------


def sent(client: Client, document: dict[str, Any], **more: str) -> Any:
    file = SimpleUploadedFile("request.json", json.dumps(document).encode())
    return client.post("/import/", {"file": file, "name": "Taken in", "room": "Garret", **more})


def exported(client: Client, enclosure: Enclosure) -> dict[str, Any]:
    document: dict[str, Any] = json.loads(
        client.get(f"/enclosures/{enclosure.pk}/request.json").content
    )
    return document


def test_an_impossible_import_names_its_place(client: Client, pip: Enclosure) -> None:
    document = exported(client, pip)
    document["readings"][0]["value"] = 1e308
    answer = sent(client, document)
    assert (
        "/readings/0/value" in answer.content.decode()
        and not Enclosure.objects.filter(name="Taken in").exists()
    )


def test_an_unlikely_import_is_asked_about_and_not_chosen_again(
    client: Client, pip: Enclosure
) -> None:
    document = exported(client, pip)
    document["animals"][0]["mass_g"] = 60_000
    asked = sent(client, document)
    text = asked.content.decode()
    assert "Unlikely values" in text and "/animals/0/mass_g" in text
    assert not Enclosure.objects.filter(name="Taken in").exists()
    kept = asked.context["form"]["document"].value()
    again = {"document": kept, "name": "Taken in", "room": "Garret", "confirmed": "on"}
    assert client.post("/import/", again).status_code == 302
    assert (
        Enclosure.objects.get(name="Taken in")
        .household.animals.filter(weighings__mass_g=60_000)
        .exists()
    )


def test_a_taken_name_does_not_lose_the_file(client: Client, pip: Enclosure) -> None:
    answer = sent(client, exported(client, pip), name=pip.name)
    kept = answer.context["form"]["document"].value()
    assert kept and "already" in answer.content.decode()
    assert (
        client.post(
            "/import/", {"document": kept, "name": "Taken in", "room": "Garret"}
        ).status_code
        == 302
    )
