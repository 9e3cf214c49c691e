"""At the purchase (facts of the trade: common practice, no source)."""

import pytest

from husbandry.species.library import find, library
from husbandry.tasks.purchase import purchase_guide


@pytest.mark.parametrize("species", sorted(library()))
def test_every_species_has_its_guide(species: str) -> None:
    profile = find(species)
    guide = purchase_guide(profile)
    assert guide.healthy and guide.unwell and guide.papers and len(guide.questions) >= 5
    days = [day.since for day in guide.first_days]
    assert days == sorted(days) and all(day.since <= day.until for day in guide.first_days)
    low, high = guide.travel_c
    assert 2 <= low < high <= 35


def test_a_snake_is_left_in_peace_for_most_of_a_week_and_a_tortoise_is_not() -> None:
    first = {
        species: next(
            day.since for day in purchase_guide(find(species)).first_days if "first" in day.text
        )
        for species in ("Python regius", "Testudo hermanni")
    }
    assert first["Python regius"] >= 5 > first["Testudo hermanni"] + 2


def test_questions_follow_from_the_species() -> None:
    snake = " ".join(purchase_guide(find("Python regius")).questions)
    frog = " ".join(purchase_guide(find("Dendrobates tinctorius")).questions)
    assert "last three meals" in snake and "Which insects" in frog
    assert "Was its last shed whole" in snake and "Was its last shed whole" not in frog


def test_a_salamander_travels_cool() -> None:
    assert purchase_guide(find("Salamandra salamandra")).travel_c[1] <= 20
