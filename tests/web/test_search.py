"""One box finds animals, enclosures, species, tasks, log, calculators and help."""

import pytest
from django.test import Client

from ridgeback.enclosures.models import Enclosure
from ridgeback.help.topics import TOPICS
from ridgeback.search.matching import Entry, find, words_of


def names(client: Client, text: str) -> list[str]:
    groups = client.get("/search/", {"q": text}).context["groups"]
    return [entry.name for _, entries in groups for entry in entries]


@pytest.mark.parametrize(
    ("typed", "found"),
    [
        ("pip", "Pip’s enclosure"),
        ("bramble", "Bramble"),
        ("gekco", "African fat-tailed gecko"),
        ("pogona", "Bearded dragon"),
        ("dew poimt", "Dew point"),
        ("veterinarian sick", "My animal seems unwell"),
        ("coming", "Coming up"),
    ],
)
def test_it_is_found_by_name_by_a_part_and_with_a_slip(
    client: Client, pip: Enclosure, typed: str, found: str
) -> None:
    shown = names(client, typed)
    assert any(found.lower() in name.lower() for name in shown), shown


def test_every_address_that_is_found_answers(client: Client, pip: Enclosure) -> None:
    seen = set()
    for text in ("pip", "bramble", "fathom", "feeding", "help", "log", "tube", "marks"):
        for _, entries in client.get("/search/", {"q": text}).context["groups"]:
            seen |= {entry.url for entry in entries}
    assert len(seen) > 10
    assert {client.get(url).status_code for url in seen} == {200}


def test_another_household_is_not_found(client: Client, stranger: Client, pip: Enclosure) -> None:
    assert "Pip’s enclosure" in names(client, "pip")
    assert "Pip’s enclosure" not in names(stranger, "pip")


@pytest.mark.parametrize("text", ["", "  ", "\x00", "%%%", "<b>", "x" * 500])
def test_odd_texts_are_answered(client: Client, text: str) -> None:
    assert client.get("/search/", {"q": text}).status_code == 200


def test_the_part_under_the_box_is_only_the_results(client: Client) -> None:
    html = client.get("/search/", {"q": "pip"}, headers={"HX-Request": "true"}).content.decode()
    assert "<html" not in html and "Pip" in html


def test_words_match_without_accents_and_short_ones_exactly() -> None:
    assert words_of("Chamæleo Müller’s") == ["cham", "leo", "muller", "s"]
    entries = [Entry("Animals", "Pip", "/1/"), Entry("Animals", "Pap", "/2/")]
    assert [entry.name for entry in find("pip", entries)] == ["Pip"]


@pytest.mark.parametrize("topic", TOPICS, ids=lambda topic: topic.slug)
def test_each_help_page_leads_to_pages_that_answer(client: Client, topic: object) -> None:
    page = client.get(f"/help/{topic.slug}/")  # type: ignore[attr-defined]
    assert page.status_code == 200
    assert client.get("/help/").status_code == 200
    assert client.get("/help/nothing/").status_code == 404


def test_whatever_is_not_due_is_logged_from_one_page(client: Client, pip: Enclosure) -> None:
    page = client.get("/log/new/")
    assert {row["animal"].name for row in page.context["animals"]} >= {"Pip", "Bramble"}
    assert f"/enclosures/{pip.pk}/#reading" in page.content.decode()
