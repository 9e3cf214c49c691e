"""Out and in again: an enclosure exports as a request and imports to the same plan; what is no
request is refused in words.
"""

import json
from typing import Any

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client

from husbandry.documents.request_json import from_text, to_data
from husbandry.plan.plan import plan
from ridgeback.animals.flows import begin_condition_period
from ridgeback.clock import now
from ridgeback.enclosures.models import Enclosure
from ridgeback.households.models import Household, Room
from tests import clocks


def sent(client: Client, content: bytes | str, **names: str) -> Any:
    file = SimpleUploadedFile(
        "enclosure.json",
        content.encode() if isinstance(content, str) else content,
        "application/json",
    )
    return client.post("/import/", {"file": file, "name": "Taken in", "room": "Garret", **names})


@pytest.mark.parametrize(
    "name", ["Pip’s enclosure", "Sable’s enclosure", "Fathom’s enclosure", "Bramble’s enclosure"]
)
def test_an_enclosure_imports_to_the_plan_it_had(
    client: Client, stranger: Client, household: Household, name: str
) -> None:
    pip = Enclosure.objects.for_planning().get(name=name)
    view = client.get(f"/enclosures/{pip.pk}/").context["view"]
    if view.first.kind:  # so that there is a second revision, and readings of before it
        client.post(
            f"/enclosures/{pip.pk}/apply/",
            {"change": f"{view.first.kind}/{view.first.item_id}", "revision": "1"},
        )
    file = client.get(f"/enclosures/{pip.pk}/request.json").content.decode()
    answer = sent(stranger, file)
    assert answer.status_code == 302, answer.context["form"].errors
    made = Enclosure.objects.for_planning().get(name="Taken in")
    assert made.household.name == "Elsewhere" and made.head is not None
    again = made.request_at(now())
    assert (
        plan(again) == plan(from_text(file))
        and to_data(again)["items"] == json.loads(file)["items"]
    )
    assert stranger.get(answer["Location"]).status_code == 200


@pytest.mark.parametrize(
    ("content", "said"),
    [
        ("", "empty"),
        ("{", "the file: this is not JSON"),
        ("[]", "not a request"),
        (b"\xff\xfe\x00", "not UTF-8"),
        ("[" * 100_000, ""),
        ('{"format": "ridgeback-request/2"}', "/room"),
        ("🦎", "not a request"),
        ('{"format": "<script>alert(1)</script>"}', ""),
        ('{"a": 1e999}', ""),
        ("nan", ""),
    ],
)
def test_what_is_no_request_is_refused_in_words(
    client: Client, content: bytes | str, said: str
) -> None:
    response = sent(client, content)
    html = response.content.decode()
    assert (
        response.status_code == 200
        and 'role="alert"' in html
        and said in html
        and "<script>alert" not in html
    )
    assert 'value="Taken in"' in html and not Enclosure.objects.filter(name="Taken in").exists()
    assert not Room.objects.filter(name="Garret").exists()


def test_fifty_megabytes_are_refused_without_being_kept(client: Client) -> None:
    response = sent(client, b" " * 50_000_000)
    assert response.status_code == 200 and "larger than 1 MB" in response.content.decode()


def test_a_form_of_fifty_megabytes_gets_a_page_of_ours(client: Client) -> None:
    response = client.post("/household/", {"name": "x" * 50_000_000})
    assert response.status_code == 400 or (
        response.status_code == 200 and b"at most 80" in response.content
    )
    urlencoded = client.post(
        "/household/",
        b"name=" + b"x" * 50_000_000,
        content_type="application/x-www-form-urlencoded",
    )
    assert urlencoded.status_code == 400 and "could not be taken" in urlencoded.content.decode()


def test_names_that_are_taken_are_said(client: Client, pip: Enclosure) -> None:
    file = client.get(f"/enclosures/{pip.pk}/request.json").content
    html = sent(client, file, name="Pip’s enclosure", room="Back room").content.decode()
    assert "enclosure of this name" in html and "room of this name" in html
    negative = json.loads(file) | {"revision": -3}
    assert "/revision: " in sent(client, json.dumps(negative)).content.decode()
    assert not Room.objects.filter(name="Garret").exists()


def test_own_values_travel_with_an_enclosure_and_never_overwrite(
    client: Client, stranger: Client, pip: Enclosure
) -> None:
    """An enclosure planned by values of its keeper's own imports to the same plan; where the other
    household has its own, they stay and are named.
    """
    client.post(
        "/species/tiliqua-scincoides/edit/?at=/needs/0/low",
        {"value": "36 °C", "reason": "my veterinarian says so"},
    )
    file = client.get(f"/enclosures/{pip.pk}/request.json").content
    assert b"my veterinarian says so" in file
    sent(stranger, file)
    made = Enclosure.objects.for_planning().get(name="Taken in")
    assert (
        plan(made.request_at(now())).profiles
        == plan(Enclosure.objects.for_planning().get(pk=pip.pk).request_at(now())).profiles
    )
    stranger.post(
        "/species/tiliqua-scincoides/edit/?at=/needs/0/low",
        {"value": "37 °C", "reason": "so says mine"},
    )
    page = stranger.post(
        "/import/",
        {
            "file": SimpleUploadedFile("b.json", file, "application/json"),
            "name": "Second",
            "room": "Loft",
        },
        follow=True,
    )
    assert "your own value kept" in page.content.decode()


@pytest.mark.parametrize(
    ("change", "says"),
    [({"name": "a\x00b"}, "character zero"), ({"mass_g": float("nan")}, "a number is finite")],
)
def test_what_no_database_keeps_is_refused_in_words(
    client: Client, pip: Enclosure, change: dict[str, object], says: str
) -> None:
    data = client.get(f"/enclosures/{pip.pk}/request.json").json()
    data["animals"][0] |= change
    response = sent(client, json.dumps(data))
    assert response.status_code == 200 and says in response.content.decode()


def test_condition_and_condition_periods_travel_with_an_enclosure(
    client: Client, stranger: Client, household: Household
) -> None:
    snake = household.animals.get(name="Fathom")
    snake.condition, snake.condition_on = 4, clocks.today()
    snake.save()
    begin_condition_period(snake, kind="shed", since=clocks.today())
    home = Enclosure.objects.get(occupancies__animal=snake)
    sent(stranger, client.get(f"/enclosures/{home.pk}/request.json").content.decode())
    made = Enclosure.objects.for_planning().get(name="Taken in").present[0].animal
    assert (
        made.condition == 4
        and made.condition_periods.get().kind == "shed"
        and made.weighings.count() == 2
    )
