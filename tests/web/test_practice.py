"""Practice: a case is begun, measured, answered and judged; a run belongs to its person."""

import itertools
import math
from typing import Any

import pytest
from django.test import Client

from husbandry.practice.lessons import lessons
from husbandry.practice.solver import solved
from ridgeback.drawing.place_marks import TAP_RADIUS, place_marks
from ridgeback.drawing.primitives import Group, Text
from ridgeback.drawing.sheet import NARROW, fit
from ridgeback.practice.models import PracticeRun
from ridgeback.practice.presenting import MARKS, marked_places

pytestmark = pytest.mark.usefixtures("pip")


def begun(client: Client, level: int = 1, number: int = 7, lesson: str = "") -> PracticeRun:
    """A case that was begun."""
    sent = {"lesson": lesson, "level": level, "number": number}
    assert client.post("/practice/begin/", sent).status_code == 302
    return PracticeRun.objects.latest("pk")


def measured(client: Client, run: PracticeRun, **changed: Any) -> Any:
    """An instrument is used."""
    sent = {"instrument": "infrared", "place": "basking", "moment": "six_hours", "held": "care"}
    return client.post(f"/practice/{run.pk}/measure/", sent | changed)


def test_the_overview_names_lessons_a_case_of_the_day_and_a_free_one(client: Client) -> None:
    page = client.get("/practice/").content.decode()
    for one in lessons().values():
        assert one.title in page
    assert "Case of the day" in page
    assert "A free case" in page


def test_a_case_shows_what_its_keeper_says_and_nothing_that_is_predicted(client: Client) -> None:
    run = begun(client)
    page = client.get(f"/practice/{run.pk}/").content.decode()
    assert "What its keeper says" in page
    assert "isotherm" not in page
    assert 'data-layer="heat"' not in page


def test_the_places_on_the_drawing_can_be_told_apart(client: Client) -> None:
    for level in range(1, 6):
        for number in range(1, 6):
            case = begun(client, level, number).case
            marks = [
                one
                for one in place_marks(list(marked_places(case)), fit(case.shown, NARROW))
                if isinstance(one, Group)
            ]
            at = [one.parts[-1] for one in marks]
            found = [(one.x, one.y) for one in at if isinstance(one, Text)]
            assert [one.item for one in marks] == list(MARKS)
            for one, other in itertools.combinations(found, 2):
                assert math.dist(one, other) >= 2 * TAP_RADIUS
            assert all(y > TAP_RADIUS for _, y in found)


def test_measuring_costs_minutes_and_carelessness_is_kept(client: Client) -> None:
    run = begun(client)
    measured(client, run, held="usual")
    measured(client, run, instrument="probe", place="cool", moment="night")
    page = client.get(f"/practice/{run.pk}/").content.decode()
    assert '<option value="night" selected>' in page  # the next begins with the last one's choices
    assert "through the glass" in page
    assert "48 of 210 min" in page
    run.refresh_from_db()
    assert [one.careless for one in run.done] == [True, False]


def test_an_instrument_that_shows_nothing_there_says_so(client: Client) -> None:
    page = measured(client, begun(client), instrument="uv", moment="night")
    assert page.status_code == 200
    assert "only under a lit lamp" in page.content.decode()


def test_when_the_time_is_up_nothing_more_is_measured(client: Client) -> None:
    run = begun(client)
    for _ in range(20):
        answer = measured(client, run, instrument="probe", place="warm")
    assert "no time left" in answer.content.decode()
    run.refresh_from_db()
    assert sum(one.minutes for one in run.done) <= 210


def test_who_measures_with_care_is_told_what_was_found(client: Client) -> None:
    run = begun(client, level=4, number=3)
    done, believed, remedy = solved(run.case)
    run.measured = [one.model_dump(mode="json") for one in done]
    run.save()
    client.post(f"/practice/{run.pk}/answer/", {"believed": list(believed), "remedy": remedy})
    run.refresh_from_db()
    assert run.score == 100
    page = client.get(f"/practice/{run.pk}/").content.decode()
    assert "Found:" in page
    assert "Two weeks later" in page
    assert "100 of 100" in client.get("/practice/").content.decode()


def test_a_wrong_answer_says_what_would_have_shown_it(client: Client) -> None:
    run = begun(client, level=4, number=3)
    client.post(f"/practice/{run.pk}/answer/", {"believed": ["room_hot"], "remedy": "room_hot"})
    page = client.get(f"/practice/{run.pk}/").content.decode()
    assert "0 of 100" in page
    assert "It would have shown with" in page
    assert "Believed, and not so" in page


@pytest.mark.parametrize(
    ("sent", "sentence"),
    [
        ({"remedy": "nothing"}, "Say what is wrong, or that nothing is."),
        ({"believed": ["nothing", "uv_old"], "remedy": "nothing"}, "Either nothing is wrong"),
        ({"believed": ["magic"], "remedy": "nothing"}, "magic"),
    ],
)
def test_an_answer_that_cannot_be_is_said_and_the_case_goes_on(
    client: Client, sent: dict[str, Any], sentence: str
) -> None:
    run = begun(client)
    page = client.post(f"/practice/{run.pk}/answer/", sent)
    assert sentence in page.content.decode()
    run.refresh_from_db()
    assert run.finished_at is None


def test_an_answer_counts_once(client: Client) -> None:
    run = begun(client, level=4, number=3)
    for cause in ("room_hot", *run.case.causes):
        client.post(f"/practice/{run.pk}/answer/", {"believed": [cause], "remedy": cause})
    run.refresh_from_db()
    assert run.score == 0
    page = measured(client, run)
    assert "is answered" in page.content.decode()


def test_a_case_that_was_left_is_gone_on_with(client: Client) -> None:
    first = begun(client)
    assert begun(client).pk == first.pk


@pytest.mark.parametrize(
    "sent",
    [
        {"level": 9, "number": 1},
        {"level": 1, "number": 0},
        {"level": 1, "number": "x"},
        {"lesson": "temperatures", "level": 1, "number": 999_999},
        {"lesson": "alchemy", "level": 1, "number": 1},
    ],
)
def test_a_case_that_is_not_there_is_refused(client: Client, sent: dict[str, Any]) -> None:
    page = client.post("/practice/begin/", sent, follow=True)
    assert "That case is not there" in page.content.decode()
    assert not PracticeRun.objects.exists()


def test_a_set_is_named_by_its_address(client: Client) -> None:
    page = client.get("/practice/set/", {"cases": "1-7,3-12"}).content.decode()
    assert "Case 1-7" in page
    assert "Case 3-12" in page
    assert "names no cases" in client.get("/practice/set/", {"cases": "x"}).content.decode()
    assert "names no cases" in client.get("/practice/set/").content.decode()


def test_another_persons_run_is_not_found(client: Client, stranger: Client) -> None:
    run = begun(client)
    assert stranger.get(f"/practice/{run.pk}/").status_code == 404
    assert measured(stranger, run).status_code == 404
    assert stranger.post(f"/practice/{run.pk}/answer/", {}).status_code == 404


def test_a_look_at_the_feeding_book_is_told_in_words(client: Client) -> None:
    run = begun(client, lesson="feeding", level=6, number=488)
    measured(client, run, instrument="feeding_book")
    text = client.get(f"/practice/{run.pk}/").content.decode()
    assert "Waxworms every other day" in text
    assert "Supplements, on its food" in text
