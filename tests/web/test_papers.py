"""Papers that people hold: the sitter's sheet, the emergency card, and what is written for them."""

import datetime as dt
import re
import uuid
from typing import Any

import pytest
from django.test import Client
from django.utils import timezone

from husbandry.quantity import METRIC, Units
from husbandry.tasks.kinds import TASK_KINDS
from ridgeback.animal_pages.lives import life_of
from ridgeback.animals import wording
from ridgeback.demo.tank import plan_tank
from ridgeback.enclosures.models import Enclosure
from ridgeback.households.models import Household
from ridgeback.jobs.models import PAPERS, Job
from ridgeback.jobs.sheet import paper_html, sheet_pdf
from ridgeback.jobs.tasks import make_sheet
from ridgeback.log.models import LogEntry
from ridgeback.papers.labels import qr_svg
from ridgeback.papers.models import CareNotes, EnclosureNotes
from ridgeback.papers.sheets import emergency_card, hours_words, sitter_sheet
from ridgeback.papers.summary import vet_summary
from ridgeback.photos.flows import add, make_small
from ridgeback.species_guide.flows import profile_of
from ridgeback.tasks.due_tasks import gather
from tests import clocks
from tests.web.test_photos import photo


def day(n: int) -> dt.date:
    return clocks.today() + dt.timedelta(days=n)


def made_pdf() -> bytes:
    """What a worker makes of the only job that waits."""
    job = Job.objects.get()
    make_sheet(job.pk)
    job.refresh_from_db()
    return bytes(job.made or b"")


def noted(client: Client, pip: Enclosure, **typed: str) -> Any:
    page = client.get("/household/notes/")
    keys = [f"e{enclosure.pk}" for enclosure, _ in page.context["rows"]]
    empty = {f"{key}-{name}": "" for key in keys for name in ("normal", "watch")}
    usual = {"call": "1. Ada 555 0100", "vet": "Dr Quill 555 0199", "places": "", "never": ""}
    own = {f"e{pip.pk}-normal": "He hides until noon"}
    return client.post("/household/notes/", {**usual, **empty, **own, **typed}, follow=True)


def test_the_sheet_says_per_day_what_today_would_say_then(household: Household) -> None:
    """Every task of each day is there once: daily ones under “every day”, the rest on its day."""
    now = timezone.now()
    first, last = day(0), day(6)
    sheet = sitter_sheet(household, first, last, now, METRIC)
    due_lists = gather(household, now)
    assert [one.enclosure.pk for one in sheet.enclosures] == [d.enclosure.pk for d in due_lists]
    for one, due in zip(sheet.enclosures, due_lists, strict=True):
        dated = {d.on: len(d.tasks) for d in one.days}
        for on, tasks in due.ahead(7):
            kinds = [task.kind for task in tasks if TASK_KINDS[task.kind].stood_in]
            once = [kind for kind in kinds if kind not in DAILY]
            assert dated.get(on, 0) == len(once), (due.enclosure.name, on)


DAILY = {"look", "mist", "water", "gutload", "dripper"}


def test_the_sheet_holds_limits_in_the_readers_units(household: Household) -> None:
    sheet = sitter_sheet(household, day(0), day(1), timezone.now(), Units("us", "f"))
    limits = [limit for one in sheet.enclosures for limit in one.limits]
    assert limits and all("°C" not in limit.right for limit in limits)
    assert any("°F" in limit.right for limit in limits)
    assert any(limit.never.startswith("below") for limit in limits)


def test_what_a_keeper_writes_stands_on_both_papers(client: Client, pip: Enclosure) -> None:
    noted(client, pip)
    sheet = client.get("/household/sheet/").content.decode()
    assert "Ada 555 0100" in sheet and "He hides until noon" in sheet
    card = client.get("/household/emergency/").content.decode()
    assert "Ada 555 0100" in card and "Dr Quill" in card
    assert EnclosureNotes.objects.count() == 1, "nothing is kept of what nobody wrote"


def test_notes_that_are_too_long_are_refused_whole(client: Client, pip: Enclosure) -> None:
    answer = noted(client, pip, call="x" * 1001)
    assert answer.context["form"].errors["call"]
    assert not CareNotes.objects.exists() and not EnclosureNotes.objects.exists()


@pytest.mark.parametrize(
    ("first", "last", "field"),
    [(-1, 3, "first"), (3, 1, "last"), (0, 400, "last"), (None, 1, "first")],
)
def test_days_that_cannot_be_are_said(
    client: Client, household: Household, first: int | None, last: int, field: str
) -> None:
    asked = {"first": "x" if first is None else str(day(first)), "last": str(day(last))}
    answer = client.get("/household/sheet/", asked)
    assert answer.status_code == 200 and field in answer.context["form"].errors


def test_the_card_is_in_the_order_of_danger(household: Household) -> None:
    card = emergency_card(household, timezone.now(), METRIC)
    lived_in = [d.enclosure.pk for d in gather(household, timezone.now())]
    assert {row.enclosure.pk for row in card.rows} == set(lived_in)
    hours = [row.hours for row in card.rows if row.hours is not None]
    assert hours == sorted(hours)
    tail = [row.hours for row in card.rows][len(hours) :]
    assert all(one is None for one in tail), "those that bear a day come last"


@pytest.mark.parametrize(
    ("hours", "words"), [(0.1, "10 minutes"), (0.7, "40 minutes"), (3.2, "3 hours")]
)
def test_hours_are_said_as_people_say_them(hours: float, words: str) -> None:
    assert hours_words(hours) == words


@pytest.mark.parametrize("size", ["A4", "letter", "wallet"])
@pytest.mark.parametrize("paper", ["sitter", "card"])
def test_papers_are_made_as_pdf(
    client: Client, household: Household, paper: str, size: str
) -> None:
    asked = {"size": size, "first": str(day(0)), "last": str(day(2))}
    answer = client.post(f"/papers/{paper}/", asked)
    job = Job.objects.get()
    assert answer["Location"] == f"/jobs/{job.pk}/" and job.enclosure is None
    make_sheet(job.pk)
    job.refresh_from_db()
    assert job.state == Job.State.DONE and bytes(job.made or b"").startswith(b"%PDF")
    assert client.get(f"/jobs/{job.pk}/").status_code == 200
    assert client.get(f"/jobs/{job.pk}/sheet.pdf")["Content-Type"] == "application/pdf"


def test_another_household_gets_none_of_them(
    client: Client, stranger: Client, household: Household
) -> None:
    client.post("/papers/card/", {"size": "A4"})
    assert stranger.get(f"/jobs/{Job.objects.get().pk}/").status_code == 404
    page = stranger.get("/household/sheet/").content.decode()
    assert "Pip" not in page


def test_a_paper_that_is_none_is_not_found(client: Client) -> None:
    assert client.post("/papers/poster/", {"size": "A4"}).status_code == 404


# --- the veterinarian's summary ------------------------------------------------------------------


def test_the_summary_counts_what_the_log_holds(client: Client, household: Household) -> None:
    animal = household.animals.get(name="Bramble")
    first, last = day(-60), day(0)
    home = animal.occupancies.present().get().enclosure
    for n, outcome in enumerate(("done", "done", "refused", "skipped", "done")):
        LogEntry.objects.create(
            household=household,
            enclosure=home,
            animal=animal,
            stem="feed insects",
            task=f"x/{n}",
            log_request=uuid.uuid4(),
            outcome=outcome,
            note="no",
            on=day(-n - (100 if n == 4 else 0)),
            at=timezone.now(),
            touched_at=timezone.now(),
        )
    answer = client.get(f"/animals/{animal.pk}/summary/", {"first": str(first), "last": str(last)})
    summary = answer.context["summary"]
    meals = LogEntry.objects.standing().filter(
        animal=animal, stem__startswith="feed ", on__range=(first, last)
    )
    offered = meals.exclude(outcome="skipped")
    assert len(summary.meals) == offered.count() == 3, "one was skipped, one is too long ago"
    refused = offered.filter(outcome="refused").count()
    assert summary.refusals == f"{refused} of {offered.count()} refused"
    weighed = animal.weighings.filter(on__range=(first, last)).count()
    assert len(summary.weights) == weighed
    assert {need.name for need in summary.needs} and summary.lamps
    page = answer.content.decode()
    assert "no diagnosis" in page and "<svg" in page


def test_the_summary_is_in_the_readers_units(client: Client, household: Household) -> None:
    animal = household.animals.get(name="Bramble")
    client.post("/preferences/", {"units_temperature": "f"})
    answer = client.get(f"/animals/{animal.pk}/summary/")
    temperatures = [need.needed for need in answer.context["summary"].needs]
    assert any("°F" in one for one in temperatures) and not any(
        "°C" in one for one in temperatures
    )


def test_one_that_lives_nowhere_has_its_summary_too(client: Client, household: Household) -> None:
    animal = household.animals.create(name="Sorrel", species="Eublepharis macularius")
    answer = client.get(f"/animals/{animal.pk}/summary/")
    assert answer.status_code == 200 and answer.context["summary"].needs == ()


@pytest.mark.parametrize(
    ("first", "last", "field"), [(-3, 1, "last"), (-3, -9, "last"), (-4000, 0, "first")]
)
def test_a_period_that_cannot_be_is_said(
    client: Client, household: Household, first: int, last: int, field: str
) -> None:
    animal = household.animals.get(name="Bramble")
    asked = {"first": str(day(first)), "last": str(day(last))}
    answer = client.get(f"/animals/{animal.pk}/summary/", asked)
    assert answer.status_code == 200 and field in answer.context["form"].errors


@pytest.mark.parametrize("paper", ["summary", "care-sheet", "transfer"])
def test_a_paper_of_an_animal_is_made_as_pdf(
    client: Client, household: Household, paper: str
) -> None:
    animal = household.animals.get(name="Bramble")
    asked = {"size": "letter", "first": str(day(-90)), "last": str(day(0))}
    page = client.post(f"/animals/{animal.pk}/{paper}/pdf/", asked, follow=True)
    assert PAPERS[page.context["job"].asked["paper"]] in page.content.decode()
    assert made_pdf().startswith(b"%PDF")


def test_nobody_elses_animal_is_summed_up(stranger: Client, household: Household) -> None:
    animal = household.animals.get(name="Bramble")
    assert stranger.get(f"/animals/{animal.pk}/summary/").status_code == 404
    assert stranger.post(f"/animals/{animal.pk}/summary/pdf/").status_code == 404


# --- the care sheet ------------------------------------------------------------------------------


def test_the_care_sheet_tells_what_its_own_plan_says(client: Client, household: Household) -> None:
    pip = household.animals.get(name="Pip")
    sheet = client.get(f"/animals/{pip.pk}/care-sheet/").context["sheet"]
    needs = dict(sheet.needs)
    life = life_of(pip, day(0), profile_of(household, pip.species))
    assert "Food" not in needs and sheet.food.meals, "told once, by what it weighs"
    for row in life.life_plan.life_rows:
        if row.slug == "food":
            continue
        now_says = next(one.worth for one in row.steps if one.since <= day(0) < one.until)
        name = wording.VERBS.get(row.slug, wording.NAMES[row.slug])
        assert needs[name] == wording.worth_lines(now_says, METRIC), row.slug
    assert sheet.items and sheet.home == "Pip’s enclosure" and sheet.food.never
    assert sheet.apart_days == (30, 90), "common practice, no source"


def test_the_care_sheet_is_in_the_readers_units(client: Client, household: Household) -> None:
    client.post("/preferences/", {"units_temperature": "f"})
    pip = household.animals.get(name="Pip")
    sheet = client.get(f"/animals/{pip.pk}/care-sheet/").context["sheet"]
    assert "°F" in dict(sheet.needs)["Surface"][0] and "°C" not in str(sheet.needs)


def test_one_without_an_enclosure_is_described_too(client: Client, household: Household) -> None:
    animal = household.animals.create(name="Sorrel", species="Eublepharis macularius")
    answer = client.get(f"/animals/{animal.pk}/care-sheet/")
    assert answer.status_code == 200 and "How to keep Sorrel" in answer.content.decode()
    sheet = answer.context["sheet"]
    assert sheet.needs and sheet.items == () and sheet.body == "never weighed here"


def test_nobody_elses_animal_is_described(stranger: Client, household: Household) -> None:
    pip = household.animals.get(name="Pip")
    assert stranger.get(f"/animals/{pip.pk}/care-sheet/").status_code == 404
    assert stranger.post(f"/animals/{pip.pk}/care-sheet/pdf/").status_code == 404


# --- labels --------------------------------------------------------------------------------------


def test_labels_carry_ranges_and_a_code_of_their_page(client: Client, pip: Enclosure) -> None:
    answer = client.get("/household/labels/")
    label = next(one for one in answer.context["labels"] if one.enclosure == pip)
    assert ("Pip", "common blue-tongued skink", "male") in label.animals or label.animals
    assert dict(label.ranges).keys() >= {"basking", "cool end"}
    assert label.code == qr_svg(f"http://testserver/enclosures/{pip.pk}/")
    assert label.code != qr_svg("http://testserver/enclosures/0/")


def test_the_label_of_a_tank_has_its_water(client: Client, household: Household) -> None:
    keeper = household.memberships.get().keeper
    tank = plan_tank(household, household.rooms.all()[0], keeper, timezone.now(), day(0))
    labels = client.get("/household/labels/").context["labels"]
    found = next(one for one in labels if one.enclosure == tank)
    assert dict(found.ranges).keys() >= {"basking", "water"}


def test_labels_are_made_as_pdf(client: Client, household: Household) -> None:
    client.post("/papers/labels/", {"size": "A4"})
    assert made_pdf().startswith(b"%PDF")


def test_photos_are_in_the_pdf_and_nobody_elses_can_be(
    client: Client, household: Household
) -> None:
    bramble = household.animals.get(name="Bramble")
    keeper = household.memberships.get().keeper
    picture = add(bramble, photo(600, 400), keeper=keeper, on=day(0), note="By the water")
    make_small(picture.pk)
    asked = {"first": str(day(-9)), "last": str(day(0))}
    html = paper_html(
        household,
        {"paper": "summary", "size": "A4", "animal": str(bramble.pk), **asked},
        METRIC,
        timezone.now(),
    )
    assert f"photo:{picture.pk}" in html
    with_photo = sheet_pdf(html, household)
    assert b"/DCTDecode" in with_photo, "a JPEG is in it"
    other = Household.objects.create(name="Elsewhere")
    assert b"/DCTDecode" not in sheet_pdf(html, other), "its keys open nothing elsewhere"
    days = {"first": str(day(0)), "last": str(day(1))}
    sheet = {"paper": "sitter", "size": "A4", **days}
    assert f"photo:{picture.pk}" in paper_html(household, sheet, METRIC, timezone.now())


def test_the_printed_chart_carries_its_own_colours(household: Household) -> None:
    """A role without a look is black in a PDF: the page's styles are not there."""
    animal = household.animals.get(name="Bramble")
    rows = household.animals.prefetch_related("weighings", "lengths", "condition_periods")
    made = vet_summary(
        rows.get(pk=animal.pk), day(-90), day(0), timezone.now(), METRIC, printed=True
    )
    shapes = re.findall(r"<(?:path|line|circle|rect|text)\b[^>]*>", made.chart)
    assert shapes and all("fill=" in one or "stroke=" in one for one in shapes)
    assert not any('class="' in one for one in shapes)
