"""Two levels of navigation, the same on every page, that say where one is."""

from types import SimpleNamespace

import pytest
from django.test import Client
from django.urls import reverse

from ridgeback.enclosures.models import Enclosure
from ridgeback.households.models import Household
from ridgeback.households.navigation import ANIMAL, ENCLOSURE, MAIN, TOOLS, entries


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
        ("enclosures:page", "Enclosures"),
        ("layout:page", "Enclosures"),
        ("feeding:page", "Animals"),
        ("animals:page", "Animals"),
        ("today:week", "Today"),
        ("species_guide:page", "Species"),
        ("breeding:clutch", "Breeding"),
        ("households:room", "Household"),
        ("rooms:power", "Household"),
    ],
)
def test_a_page_within_a_place_marks_it(view: str, label: str) -> None:
    assert current(view) == {label: "true"}


def test_a_page_that_leads_nowhere_marks_nothing() -> None:
    assert all(not entry.current for level in entries(None) for entry in level)


def test_both_levels_are_on_every_page(client: Client, pip: Enclosure) -> None:
    for address in ("/", f"/enclosures/{pip.pk}/", "/today/", "/supplies/"):
        html = client.get(address).content.decode()
        assert all(f'href="{reverse(place.view)}"' in html for place in (*MAIN, *TOOLS))


def test_no_two_places_share_a_key() -> None:
    keys = [place.key for place in (*MAIN, *TOOLS) if place.key]
    assert len(keys) == len(set(keys))


def test_every_page_of_an_enclosure_has_its_tabs(client: Client, pip: Enclosure) -> None:
    for tab in ENCLOSURE:
        for part in tab.parts:
            page = client.get(reverse(part.view, args=[pip.pk]))
            assert page.status_code == 200
            found = page.context["local"]
            assert (found.label, found.tab) == ("This enclosure", tab)
            html = page.content.decode()
            assert all(
                f'href="{reverse(one.parts[0].view, args=[pip.pk])}"' in html for one in ENCLOSURE
            )


def test_every_page_of_an_animal_has_its_tabs(client: Client, household: Household) -> None:
    animal = household.animals.get(name="Pip")
    for tab in ANIMAL:
        for part in tab.parts:
            page = client.get(reverse(part.view, args=[animal.pk]))
            assert page.status_code == 200 and page.context["local"].tab == tab
            assert "This animal" in page.content.decode()


def test_a_page_of_somebody_elses_has_no_tabs(stranger: Client, pip: Enclosure) -> None:
    page = stranger.get(f"/enclosures/{pip.pk}/")
    assert page.status_code == 404 and "This enclosure" not in page.content.decode()
