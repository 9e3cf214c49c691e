"""A hygrometer's log on its page: read, told, used, forgotten, and refused."""

import pytest
from django.test import Client

from ridgeback.enclosures.models import Enclosure


@pytest.fixture
def frog(pip: Enclosure) -> Enclosure:
    return Enclosure.objects.for_planning().get(name__startswith="Sable")


def told(client: Client, frog: Enclosure) -> tuple[str, str]:
    """The page after the demo's log was read, and its seal."""
    text = (
        client.get(f"/enclosures/{frog.pk}/humidity-log/?simulated=1")
        .context["form"]["pasted"]
        .value()
    )
    page = client.post(f"/enclosures/{frog.pk}/humidity-log/", {"pasted": text, "place": "cool"})
    return page.content.decode(), page.context["seal"]


def test_the_demos_log_is_told_used_and_forgotten(client: Client, frog: Enclosure) -> None:
    page, seal = told(client, frog)
    assert "Result" in page and "times an hour by day, not" in page
    frog.refresh_from_db()
    assert frog.head is not None and frog.head.number == 1  # reading keeps nothing
    wide = client.get(f"/enclosures/{frog.pk}/").context["view"].moisture
    said = client.post(
        f"/enclosures/{frog.pk}/humidity-log/use/", {"seal": seal, "revision": 1}, follow=True
    ).content.decode()
    assert "by what the log told" in said
    kept = Enclosure.objects.get(pk=frog.pk).head
    assert (
        kept is not None
        and kept.number == 2
        and kept.spec["enclosure"]["wetting"]["logged"]["air"] > 0
    )
    assert client.get(f"/enclosures/{frog.pk}/").context["view"].moisture.chart != wide.chart
    assert "is in use" in client.get(f"/enclosures/{frog.pk}/humidity-log/").content.decode()
    client.post(f"/enclosures/{frog.pk}/humidity-log/use/", {"forget": "yes", "revision": 2})
    last = Enclosure.objects.get(pk=frog.pk).head
    assert last is not None and "logged" not in last.spec["enclosure"]["wetting"]


def test_what_a_log_told_stays_when_the_page_is_kept(client: Client, frog: Enclosure) -> None:
    _, seal = told(client, frog)
    client.post(f"/enclosures/{frog.pk}/humidity-log/use/", {"seal": seal, "revision": 1})
    page = client.get(f"/enclosures/{frog.pk}/")
    form = {
        field.html_name: field.value()
        for field in page.context["layout"]
        if field.value() not in (None, False)
    }
    client.post(f"/enclosures/{frog.pk}/save/", {**form, "wet-substrate": "wet", "revision": 2})
    kept = Enclosure.objects.get(pk=frog.pk).head
    assert (
        kept is not None
        and kept.spec["enclosure"]["wetting"]["substrate"] == "wet"
        and "logged" in kept.spec["enclosure"]["wetting"]
    )


@pytest.mark.parametrize("seal", ["", "nonsense"])
def test_without_its_seal_nothing_is_used(client: Client, frog: Enclosure, seal: str) -> None:
    said = client.post(
        f"/enclosures/{frog.pk}/humidity-log/use/", {"seal": seal, "revision": 1}, follow=True
    ).content.decode()
    assert "read it again" in said
    kept = Enclosure.objects.get(pk=frog.pk).head
    assert kept is not None and kept.number == 1


def test_another_boxs_seal_is_not_used(client: Client, frog: Enclosure, pip: Enclosure) -> None:
    _, seal = told(client, frog)
    assert (
        "read it again"
        in client.post(
            f"/enclosures/{pip.pk}/humidity-log/use/", {"seal": seal, "revision": 1}, follow=True
        ).content.decode()
    )


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ("", "Choose a file"),
        ("2026-11-01 08:00,60,22", "two days at the least"),
        ("2026-11-01 08:00,wet,22", "line 1"),
    ],
)
def test_a_log_that_cannot_be_used_is_refused_and_stays(
    client: Client, frog: Enclosure, text: str, said: str
) -> None:
    page = client.post(
        f"/enclosures/{frog.pk}/humidity-log/", {"pasted": text, "place": "cool"}
    ).content.decode()
    assert said in page and text in page


def test_an_enclosure_of_which_nothing_was_said_asks_for_it_first(
    client: Client, pip: Enclosure
) -> None:
    page = client.post(
        f"/enclosures/{pip.pk}/humidity-log/",
        {"pasted": "2026-11-01 08:00,60,22", "place": "cool"},
    ).content.decode()
    assert "Say first" in page
