"""A day outdoors: for an animal of the household or any species, in either unit, with wrong input."""

from typing import Any

import pytest
from django.test import Client

from ridgeback.animals.models import Animal
from ridgeback.households.models import Room

ADDRESS = "/calculators/outdoors/"
SUNNY = {"warmest": "26 °C", "coldest": "14 °C", "clouds": "clear", "on": "2026-07-15"}


def asked(client: Client, **typed: str) -> Any:
    return client.get(ADDRESS, {**SUNNY, **typed})


@pytest.fixture
def here(household: Any) -> None:
    """The rooms stand where summer is in July."""
    Room.objects.filter(household=household).update(
        latitude_deg=48.0, longitude_deg=10.0, time_zone="Europe/Berlin"
    )


def test_a_usual_day_is_judged_without_anything_typed(client: Client) -> None:
    page = client.get(ADDRESS)
    assert page.status_code == 200 and page.context["form"].is_valid()
    assert page.context["found"].air_c and "<svg" in page.content.decode()


def test_a_tortoise_is_out_on_a_summers_day(client: Client, here: None) -> None:
    page = asked(client, who="species-testudo-hermanni")
    assert len(page.context["out"]) == 1 and page.context["strong_uv"] is not None
    assert any("shade" in words for words in page.context["pen"])
    assert "can be out from" in page.content.decode()


def test_on_a_cold_day_it_stays_in_and_the_page_says_why(client: Client, here: None) -> None:
    page = asked(
        client, who="species-testudo-hermanni", warmest="9", coldest="2", clouds="overcast"
    )
    assert not page.context["out"]
    (kept,) = page.context["kept_in"]
    assert kept.direction == "below" and "29 °C" in kept.why
    assert "stays in on this day" in page.content.decode()


def test_in_a_heat_wave_the_limit_is_named(client: Client, here: None) -> None:
    page = asked(client, who="species-testudo-hermanni", warmest="38", coldest="22")
    hot = [one for one in page.context["kept_in"] if one.direction == "above"]
    assert hot and "32 °C" in hot[0].why and page.context["burns"]


def test_it_reads_and_says_fahrenheit(client: Client, here: None) -> None:
    client.post("/preferences/", {"units_system": "us", "units_temperature": "f"})
    page = asked(client, who="species-testudo-hermanni", warmest="79", coldest="57 °F")
    assert page.context["out"] and page.context["facts"][0][1].endswith("°F")
    assert " in high" in page.content.decode()


def test_an_animal_of_dusk_is_not_taken_out(client: Client) -> None:
    page = asked(client, who="species-eublepharis-macularius")
    assert page.context["ruled_out"] and "found" not in page.context


@pytest.mark.parametrize(
    ("typed", "field"),
    [
        ({"warmest": "hot"}, "warmest"),
        ({"warmest": "26", "coldest": "30"}, "coldest"),
        ({"on": "yesterday"}, "on"),
        ({"who": "animal-999999"}, "who"),
        ({"who": "species-dragon"}, "who"),
        ({"clouds": "green"}, "clouds"),
        ({"warmest": "200 °C"}, "warmest"),
    ],
)
def test_wrong_entry_is_said_beside_its_field_and_stays(
    client: Client, typed: dict[str, str], field: str
) -> None:
    page = asked(client, **typed)
    assert page.status_code == 200 and page.context["form"].errors[field]
    assert "found" not in page.context
    if field in {"warmest", "coldest"}:
        assert f'value="{typed[field]}"' in page.content.decode()


def test_own_animals_come_first_and_others_animals_never(client: Client, stranger: Client) -> None:
    mine = Animal.objects.get(name="Pip")
    assert asked(client, who=f"animal-{mine.pk}").context["form"].is_valid()
    assert not asked(stranger, who=f"animal-{mine.pk}").context["form"].is_valid()
    assert stranger.get(ADDRESS).context["form"].is_valid()
