"""The day's tasks: what is due, one tap, undo, two people at once, taps that come late or twice,
and what cannot be.
"""

import datetime as dt
import re
import threading
import uuid
import zoneinfo
from typing import Any

import pytest
from django.db import connection, connections
from django.test import Client
from django.test.utils import CaptureQueriesContext
from django.utils import timezone

from husbandry.quantity import METRIC
from husbandry.tasks.kinds import TASK_KINDS
from ridgeback.animals.models import Animal, Weighing
from ridgeback.demo.log_history import log_rounds
from ridgeback.enclosures import flows as enclosure_flows
from ridgeback.enclosures.models import Enclosure
from ridgeback.households.models import Household, Keeper
from ridgeback.log import flows
from ridgeback.log.models import LastDone, LogEntry
from ridgeback.tasks.due_tasks import gather
from ridgeback.today import presenting, wording
from ridgeback.today.presenting import TaskView, card
from tests import clocks


@pytest.fixture(autouse=True)
def hungry(household: Household) -> None:
    """Fed a month ago, and nothing logged since."""
    household.animals.update(fed_on=clocks.today() - dt.timedelta(days=30))


def tasks(household: Household, enclosure: Enclosure) -> dict[str, TaskView]:
    """The tasks of an enclosure by kind, as its card shows them."""
    due = gather(household, timezone.now(), only=[enclosure.pk])[0]
    return {task.kind: task for task in card(due, METRIC).tasks}


def log_request(client: Client, enclosure: Enclosure, task: TaskView, **more: str) -> Any:
    return sent(
        client,
        enclosure,
        {"task": task.name, "log_request": task.log_request, "outcome": "done", **more},
    )


def sent(client: Client, enclosure: Enclosure, fields: dict[str, str]) -> Any:
    return client.post(f"/today/{enclosure.pk}/log/", fields, headers={"X-Today": "1"})


def test_the_round_lists_every_lived_in_enclosure_in_walking_order(
    client: Client, household: Household, pip: Enclosure
) -> None:
    page = client.get("/today/").content.decode()
    names = re.findall(r"<b>([^<]+ enclosure)</b>", page)
    rows = household.enclosures.order_by("room__name", "shelf", "name").values_list(
        "name", flat=True
    )
    assert names == list(rows) and "Visual check" in page and "left</em>" in page
    enclosure_flows.move_out(pip, pip.present[0].animal, now=timezone.now())
    assert "Pip’s enclosure" not in client.get("/today/").content.decode()


def test_a_meal_says_what_how_much_and_with_what(household: Household, pip: Enclosure) -> None:
    feed = tasks(household, pip)["feed"]
    assert "medium" in feed.title or "roach" in feed.title or "cricket" in feed.title
    assert "dust: " in feed.small and feed.amount.endswith("g") and feed.refusable


def test_one_log_request_is_an_entry_and_the_task_is_gone(
    client: Client, household: Household, pip: Enclosure
) -> None:
    feed = tasks(household, pip)["feed"]
    html = log_request(client, pip, feed).content.decode()
    assert "fed " in html and "undo" in html and feed.name not in html
    entry = LogEntry.objects.get()
    assert entry.outcome == "done" and entry.amount and entry.products and entry.by is not None
    assert LastDone.objects.get().stem == entry.stem and "feed" not in tasks(household, pip)


def test_the_same_log_request_sent_twice_is_one(
    client: Client, household: Household, pip: Enclosure
) -> None:
    look = tasks(household, pip)["look"]
    first, second = log_request(client, pip, look), log_request(client, pip, look)
    assert first.status_code == second.status_code == 200 and LogEntry.objects.count() == 1
    assert "already" not in second.content.decode()


def test_what_somebody_else_did_is_said_and_not_done_twice(
    client: Client, household: Household, pip: Enclosure
) -> None:
    feed = tasks(household, pip)["feed"]
    log_request(client, pip, feed)
    told = log_request(client, pip, feed, log_request=str(uuid.uuid4())).content.decode()
    assert (
        "did that already" in told
        and "Nothing was done twice" in told
        and LogEntry.objects.count() == 1
    )


def test_undo_takes_back_and_it_can_be_done_again(
    client: Client, household: Household, pip: Enclosure
) -> None:
    water = tasks(household, pip)["water"]
    log_request(client, pip, water)
    entry = LogEntry.objects.get()
    html = client.post(f"/today/undo/{entry.pk}/", headers={"X-Today": "1"}).content.decode()
    assert "Fresh water" in html and not LastDone.objects.exists()
    assert log_request(client, pip, tasks(household, pip)["water"]).status_code == 200
    assert LogEntry.objects.standing().count() == 1 and LogEntry.objects.count() == 2


def test_undo_leaves_the_day_before_standing(household: Household, pip: Enclosure) -> None:
    keeper, now = Keeper.objects.get(username="demo"), timezone.now()
    made = []
    for days in (3, 0):
        at = now - dt.timedelta(days=days)
        made.append(
            flows.write(
                pip,
                None,
                flows.LogRequest(uuid.uuid4(), f"c{days}", "clean", "done", at.date(), at),
                keeper=keeper,
                now=now,
            )[0]
        )
    assert flows.undo(made[1], keeper=keeper, now=now)
    assert LastDone.objects.get(stem="clean").on == made[0].on
    assert not flows.undo(made[1], keeper=keeper, now=now)  # once
    assert not flows.undo(made[0], keeper=keeper, now=now)  # history


def test_not_today_needs_a_word_and_comes_back_tomorrow(
    client: Client, household: Household, pip: Enclosure
) -> None:
    feed = tasks(household, pip)["feed"]
    wrong = log_request(client, pip, feed, outcome="skipped")
    assert (
        wrong.status_code == 422
        and "why not today" in wrong.content.decode()
        and not LogEntry.objects.exists()
    )
    done = log_request(client, pip, feed, outcome="skipped", note="in shed").content.decode()
    assert "not fed today: in shed" in done and "feed" not in tasks(household, pip)
    tomorrow = gather(household, timezone.now() + dt.timedelta(days=1), only=[pip.pk])[0]
    assert "feed" in {task.kind for task in tomorrow.tasks}


def test_refused_food_counts_as_offered_and_carries_no_supplement(
    client: Client, household: Household, pip: Enclosure
) -> None:
    log_request(client, pip, tasks(household, pip)["feed"], outcome="refused", note="blue eyes")
    entry = LogEntry.objects.get()
    assert entry.products == [] and entry.amount is None and entry.outcome == "refused"
    assert "feed" not in tasks(household, pip)


def test_a_weighing_becomes_a_weight_and_its_undoing_takes_it_back(
    client: Client, household: Household, pip: Enclosure
) -> None:
    pip.present[0].animal.weighings.all().delete()
    weigh = tasks(household, pip)["weigh"]
    assert log_request(client, pip, weigh).status_code == 422  # what does the scale show?
    far = log_request(client, pip, weigh, amount="410 g", tare="92 g")
    assert (
        far.status_code == 422 and "contradicts" in far.content.decode()
    )  # its length speaks against 318 g, as on its own page
    html = log_request(client, pip, weigh, amount="198 g", tare="92 g").content.decode()
    assert "weighed 106 g" in html
    kept = Weighing.objects.get(animal=pip.present[0].animal)
    assert kept.mass_g == 106 and "weigh" not in tasks(household, pip)
    client.post(f"/today/undo/{LogEntry.objects.get().pk}/", headers={"X-Today": "1"})
    assert not Weighing.objects.filter(pk=kept.pk).exists()


@pytest.mark.parametrize(
    ("typed", "words"),
    [
        ({"amount": "much"}, "cannot be read"),
        ({"amount": "92 g", "tare": "410 g"}, "exchanged"),
        ({"amount": "1000 g", "tare": "1000 g"}, "exchanged"),
        ({"amount": "318 kg"}, "sure"),
        ({"amount": "318 g", "step": "100 g"}, "too coarse"),
    ],
)
def test_a_weight_that_cannot_be_is_asked_about_and_stays_typed(
    client: Client, household: Household, pip: Enclosure, typed: dict[str, str], words: str
) -> None:
    animal = pip.present[0].animal
    animal.weighings.all().delete()
    Weighing.objects.create(animal=animal, on=clocks.today() - dt.timedelta(days=60), mass_g=318)
    weigh = tasks(household, pip)["weigh"]
    answer = log_request(client, pip, weigh, **typed)
    html = answer.content.decode()
    assert answer.status_code == 422 and words in html and f'value="{typed["amount"]}"' in html
    assert not LogEntry.objects.exists()


def test_an_amount_beyond_all_measure_is_a_slip(
    client: Client, household: Household, pip: Enclosure
) -> None:
    feed = tasks(household, pip)["feed"]
    assert "look at the unit" in log_request(client, pip, feed, amount="40 kg").content.decode()
    assert log_request(client, pip, feed, amount="-3 g").status_code == 422
    assert (
        "fed 3.0 g" in log_request(client, pip, feed, amount="3 g").content.decode()
        or LogEntry.objects.get().amount == 3
    )


def test_a_log_request_that_waited_is_logged_at_its_own_minute(
    client: Client, household: Household, pip: Enclosure
) -> None:
    log_request(client, pip, tasks(household, pip)["look"], age_s="90")
    assert 80 < (timezone.now() - LogEntry.objects.get().at).total_seconds() < 110
    log_request(client, pip, tasks(household, pip)["water"], age_s="-4000")  # never in the future
    assert LogEntry.objects.get(stem="water").at <= timezone.now()
    log_request(client, pip, tasks(household, pip)["clean"], age_s="nan")
    assert LogEntry.objects.filter(stem="clean").exists()


def test_a_log_request_that_waited_over_midnight_is_of_the_day_before(
    client: Client, household: Household, pip: Enclosure
) -> None:
    room = pip.room
    now = timezone.now().astimezone(zoneinfo.ZoneInfo(room.time_zone))
    since = now - now.replace(hour=0, minute=0, second=0, microsecond=0)
    waited = since.total_seconds() + 600
    if waited > 23 * 3600:
        pytest.skip("a day's end: the tap would be too old to be believed")
    log_request(client, pip, tasks(household, pip)["look"], age_s=f"{waited:.0f}")
    assert LogEntry.objects.get().on == now.date() - dt.timedelta(days=1)
    assert "look" in tasks(household, pip)  # today's is still to come


def test_an_animal_that_left_is_not_fed(
    client: Client, household: Household, pip: Enclosure
) -> None:
    feed = tasks(household, pip)["feed"]
    enclosure_flows.move_out(pip, pip.present[0].animal, now=timezone.now())
    assert log_request(client, pip, feed).status_code == 404 and not LogEntry.objects.exists()


def test_nonsense_is_answered_with_the_card(
    client: Client, household: Household, pip: Enclosure
) -> None:
    look = tasks(household, pip)["look"]
    for fields in (
        {"task": "x"},
        {"log_request": "x"},
        {"outcome": "eaten"},
        {"outcome": "refused"},
    ):
        answer = sent(
            client,
            pip,
            {"task": look.name, "log_request": look.log_request, "outcome": "done", **fields},
        )
        assert answer.status_code == 200 and "not due in this enclosure" in answer.content.decode()
    assert not LogEntry.objects.exists()


def test_others_see_it_within_seconds(
    client: Client, household: Household, pip: Enclosure
) -> None:
    before = client.get("/today/").context["latest"]
    assert client.get("/today/changes/", {"after": before}).json()["cards"] == {}
    log_request(client, pip, tasks(household, pip)["look"])
    told = client.get("/today/changes/", {"after": before}).json()
    assert list(told["cards"]) == [str(pip.pk)] and "checked" in told["cards"][str(pip.pk)]
    assert client.get("/today/changes/", {"after": told["latest"]}).json()["cards"] == {}
    assert client.get("/today/changes/", {"after": "yesterday"}).json()["cards"] == {}


def test_another_household_neither_sees_nor_log_requests(
    client: Client, stranger: Client, household: Household, pip: Enclosure
) -> None:
    look = tasks(household, pip)["look"]
    assert "Pip" not in stranger.get("/today/").content.decode()
    assert log_request(stranger, pip, look).status_code == 404
    log_request(client, pip, look)
    assert stranger.post(f"/today/undo/{LogEntry.objects.get().pk}/").status_code == 404
    assert "Pip" not in stranger.get("/log/").content.decode()


def test_the_log_has_everything_and_strikes_what_was_taken_back(
    client: Client, household: Household, pip: Enclosure
) -> None:
    log_request(client, pip, tasks(household, pip)["look"])
    page = client.get("/log/").content.decode()
    assert "checked" in page and "Pip’s enclosure" in page
    client.post(f"/today/undo/{LogEntry.objects.get().pk}/", {"log": "yes"})
    assert 'class="undone"' in client.get("/log/", {"enclosure": str(pip.pk)}).content.decode()


def test_the_week_has_meals_with_their_supplements(
    client: Client, household: Household, pip: Enclosure
) -> None:
    page = client.get("/today/week/").content.decode()
    assert (
        page.count('<th scope="row">') == household.enclosures.count()
        and "calcium" in page
        and "glass" in page
    )


def test_without_scripts_a_log_request_is_a_form(
    client: Client, household: Household, pip: Enclosure
) -> None:
    look = tasks(household, pip)["look"]
    answer = client.post(
        f"/today/{pip.pk}/log/",
        {"task": look.name, "log_request": look.log_request, "outcome": "done"},
    )
    assert (
        answer.status_code == 302
        and answer["Location"] == f"/today/?at={pip.pk}#enclosure-{pip.pk}"
    )
    again = client.post(
        f"/today/{pip.pk}/log/",
        {"task": look.name, "log_request": str(uuid.uuid4()), "outcome": "done"},
    )
    assert "did that already" in again.content.decode()


def test_queries_of_the_round_do_not_grow(
    client: Client, household: Household, pip: Enclosure
) -> None:
    def asked() -> int:
        client.get("/today/")  # routines are remembered
        with CaptureQueriesContext(connection) as seen:
            assert client.get("/today/").status_code == 200
        return len(seen)

    few = asked()
    assert pip.head is not None
    keeper, species = Keeper.objects.get(username="demo"), pip.present[0].animal.species
    for n in range(8):
        other = Animal.objects.create(household=household, name=f"A{n}", species=species)
        enclosure = Enclosure.objects.create(
            household=household, room=pip.room, name=f"Enclosure {n}"
        )
        enclosure_flows.begin(enclosure, pip.head.spec, keeper=keeper, now=timezone.now())
        enclosure_flows.move_in(enclosure, other, now=timezone.now())
    assert asked() == few


@pytest.mark.django_db(transaction=True)
def test_eight_people_log_request_at_once_and_it_is_done_once(
    client: Client, household: Household, pip: Enclosure
) -> None:
    feed = tasks(household, pip)["feed"]
    keeper = Keeper.objects.get(username="demo")
    gate, answers = threading.Barrier(8), []

    def go() -> None:
        own = Client()
        own.force_login(keeper)
        gate.wait()
        answers.append(log_request(own, pip, feed, log_request=str(uuid.uuid4())).status_code)
        connections.close_all()

    people = [threading.Thread(target=go) for _ in range(8)]
    for one in people:
        one.start()
    for one in people:
        one.join()
    assert answers == [200] * 8 and LogEntry.objects.filter(stem__startswith="feed").count() == 1


def test_the_boxs_own_weeks_follow_what_was_logged(
    client: Client, household: Household, pip: Enclosure
) -> None:
    """What the day's tasks says of tomorrow and what the enclosure's page says are one."""
    log_request(client, pip, tasks(household, pip)["feed"])
    week = client.get("/today/week/").context["week"]
    row = next(row for row in week.rows if row.due.enclosure.pk == pip.pk)
    fed = [
        day
        for day, cell in zip(week.days, row.cells, strict=True)
        if any(role == "food" for role, _ in cell)
    ]
    weeks = client.get(f"/enclosures/{pip.pk}/").context["view"].animals[0].weeks
    planned = [day.day for week_ in weeks for day in week_ if day.meals]
    assert fed and planned[: len(fed)] == fed and clocks.today() not in planned


def test_the_demo_has_twelve_days_behind_it(household: Household) -> None:
    log_rounds(household, Keeper.objects.get(username="demo"), timezone.now(), clocks.today())
    entries = LogEntry.objects.of(household)
    assert entries.count() > 100 and entries.filter(outcome="refused").exists()
    latest = {
        (one.enclosure_id, one.animal_id, one.stem): one.on for one in entries.order_by("on")
    }
    assert {
        (last.enclosure_id, last.animal_id, last.stem): last.on for last in LastDone.objects.all()
    } == latest
    assert any(due.tasks for due in gather(household, timezone.now()))


def test_an_animal_that_is_not_well_leads_to_a_veterinarian_with_the_facts(
    client: Client, household: Household, pip: Enclosure
) -> None:
    animal = pip.present[0].animal
    log_request(client, pip, tasks(household, pip)["feed"], outcome="refused")
    page = client.get(f"/animals/{animal.pk}/illness-signs/").content.decode()
    assert "Wheezing, bubbles at the nose." in page and "no dose" in page
    empty = client.post(f"/animals/{animal.pk}/illness-signs/", {}).content.decode()
    assert "Tick what you see" in empty and not LogEntry.objects.filter(stem="sign").exists()
    told = client.post(
        f"/animals/{animal.pk}/illness-signs/",
        {"seen": ["1"], "other": "since Monday"},
        follow=True,
    ).content.decode()
    assert "Call a veterinarian" in told and "Wheezing, bubbles at the nose; since Monday" in told
    for fact in (
        "common blue-tongued skink",
        "offered food, refused",
        "Measured in Pip’s enclosure",
        "g</dd>",
    ):
        assert fact in told, fact
    assert "unwell (Wheezing" in client.get("/log/").content.decode()


def test_signs_of_another_households_animal_are_not_shown(
    stranger: Client, pip: Enclosure
) -> None:
    assert stranger.get(f"/animals/{pip.present[0].animal.pk}/illness-signs/").status_code == 404


def test_who_lives_in_a_planned_enclosure_has_tasks_and_who_will_has_none(
    client: Client, pip: Enclosure
) -> None:
    """“Planned” is a state of the enclosure; “lives there” is one of the animal."""
    assert pip.head is not None
    pip.head.state = "planned"
    pip.head.save()
    assert pip.name in client.get("/today/").content.decode()
    pip.occupancies.update(is_planned=True, moved_in_at=None)
    assert pip.name not in client.get("/today/").content.decode()


def test_every_kind_of_task_has_words() -> None:
    spoken = {slug for slug, kind in TASK_KINDS.items() if kind.title}
    told = set(wording.OF_THE_TASK) | wording.OF_THE_ANIMAL

    assert not spoken & told and spoken | told == set(TASK_KINDS)


def shelf_of(client: Client, kind: str) -> tuple[dict[str, str], int]:
    """The form of a shelf on which a task is due more than once, and how often."""
    for shelf in client.get("/today/").context["part"].shelves:
        for one in shelf.together:
            if one.kind == kind:
                form = {"room": str(shelf.room_pk), "shelf": shelf.shelf, "kind": kind}
                return form, one.count
    raise AssertionError(f"{kind} is due on no shelf twice")


def test_one_tap_waters_a_shelf(client: Client, household: Household) -> None:
    form, count = shelf_of(client, "water")
    before = LogEntry.objects.filter(household=household).count()
    answer = client.post("/today/shelf/", form, follow=True)
    assert f"Water changed: {count} logged" in answer.content.decode()
    assert LogEntry.objects.filter(household=household).count() == before + count
    again = client.post("/today/shelf/", form, follow=True)
    assert "Nothing of that is due there" in again.content.decode()
    assert LogEntry.objects.filter(household=household).count() == before + count


def test_who_was_passed_over_is_left_out_of_the_tap(client: Client, household: Household) -> None:
    """“Fed all but three”: the three are logged first."""
    form, _ = shelf_of(client, "look")
    shelf = next(
        shelf
        for shelf in client.get("/today/").context["part"].shelves
        if (str(shelf.room_pk), shelf.shelf) == (form["room"], form["shelf"])
    )
    card = shelf.cards[0]
    task = next(task for task in card.tasks if task.kind == "look")
    client.post(
        f"/today/{card.enclosure.pk}/log/",
        {
            "task": task.name,
            "log_request": task.log_request,
            "outcome": "skipped",
            "note": "asleep",
        },
    )
    client.post("/today/shelf/", form)
    done = LogEntry.objects.filter(household=household, stem="look", outcome="done")
    assert done.filter(enclosure=card.enclosure, on=clocks.today()).count() == 0


@pytest.mark.parametrize(
    "form",
    [
        {},
        {"kind": "treatment", "room": "1", "shelf": ""},
        {"kind": "water", "room": "999999", "shelf": "nowhere"},
        {"kind": "water", "room": "x", "shelf": "\x00"},
    ],
)
def test_a_tap_for_what_is_not_there_does_nothing(client: Client, form: dict[str, str]) -> None:
    before = LogEntry.objects.count()
    assert client.post("/today/shelf/", form).status_code == 302
    assert LogEntry.objects.count() == before


def test_a_stranger_waters_no_shelf_of_another_household(client: Client, stranger: Client) -> None:
    form, _ = shelf_of(client, "water")
    before = LogEntry.objects.count()
    stranger.post("/today/shelf/", form)
    assert LogEntry.objects.count() == before


# --- many enclosures -------------------------------------------------------------------------------


def test_many_enclosures_come_in_parts(
    client: Client, household: Household, monkeypatch: pytest.MonkeyPatch
) -> None:
    whole = client.get("/today/").context["part"]
    keys = [one.enclosure.pk for shelf in whole.shelves for one in shelf.cards]
    assert len(keys) >= 3 and whole.rest == 0
    monkeypatch.setattr(presenting, "MOST_CARDS", 2)
    page = client.get("/today/")
    part = page.context["part"]
    shown = [one.enclosure.pk for shelf in part.shelves for one in shelf.cards]
    assert shown == keys[:2] and part.rest == len(keys) - 2
    assert page.context["tasks"].left == part.after.left + sum(
        len(one.tasks) for shelf in part.shelves for one in shelf.cards
    )
    found = list(shown)
    while part.rest:
        address = f"/today/?from={part.next_first}"
        answer = client.get(address, headers={"HX-Request": "true"})
        assert b"<main" not in answer.content
        part = answer.context["part"]
        found += [one.enclosure.pk for shelf in part.shelves for one in shelf.cards]
    assert found == keys


def test_a_part_is_found_by_its_enclosure(client: Client, monkeypatch: pytest.MonkeyPatch) -> None:
    whole = client.get("/today/").context["part"]
    last = whole.shelves[-1].cards[-1].enclosure.pk
    monkeypatch.setattr(presenting, "MOST_CARDS", 2)
    part = client.get(f"/today/?at={last}").context["part"]
    assert last in [one.enclosure.pk for shelf in part.shelves for one in shelf.cards]
    for wrong in ("from=-3", "from=99999", "from=x", "at=0", "at=y"):
        assert client.get(f"/today/?{wrong}").status_code == 200
