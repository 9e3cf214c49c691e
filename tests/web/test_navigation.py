"""Two levels of navigation, the same on every page, that say where one is."""

from types import SimpleNamespace

import pytest
from django.test import Client
from django.urls import reverse

from ridgeback.habitats.models import Habitat
from ridgeback.keepers.navigation import MAIN, TOOLS, entries


def current(view: str) -> dict[str, str]:
    """What is marked on a page, by label."""
    app = view.split(":")[0]
    match = SimpleNamespace(view_name=view, app_name=app)
    return {
        entry.place.label: entry.current
        for level in entries(match)  # type: ignore[arg-type]
        for entry in level
        if entry.current
    }


@pytest.mark.parametrize("place", [*MAIN, *TOOLS], ids=lambda place: place.label)
def test_each_place_marks_itself(client: Client, place: object) -> None:
    view = place.view  # type: ignore[attr-defined]
    assert current(view) == {place.label: "page"}  # type: ignore[attr-defined]
    html = client.get(reverse(view)).content.decode()
    assert html.count('aria-current="page"') >= 1


@pytest.mark.parametrize(
    ("view", "label"),
    [
        ("habitats:page", "Enclosures"),
        ("bench:page", "Enclosures"),
        ("food:page", "Animals"),
        ("animals:page", "Animals"),
        ("rounds:week", "Today"),
        ("library:page", "Species"),
        ("eggs:clutch", "Breeding"),
        ("keepers:room", "Household"),
        ("habitats:room-power", "Household"),
    ],
)
def test_a_page_within_a_place_marks_it(view: str, label: str) -> None:
    assert current(view) == {label: "true"}


def test_a_page_that_leads_nowhere_marks_nothing() -> None:
    assert all(not entry.current for level in entries(None) for entry in level)


def test_both_levels_are_on_every_page(client: Client, pip: Habitat) -> None:
    for address in ("/", f"/habitats/{pip.pk}/", "/round/", "/larder/"):
        html = client.get(address).content.decode()
        assert all(f'href="{reverse(place.view)}"' in html for place in (*MAIN, *TOOLS))


def test_no_two_places_share_a_key() -> None:
    keys = [place.key for place in (*MAIN, *TOOLS) if place.key]
    assert len(keys) == len(set(keys))
