"""A review tapped together from pictures."""

from typing import Any

import pytest
from django.test import Client

from husbandry.quantity import Units
from ridgeback.drawing.tiles import tile
from ridgeback.reviews.models import EnclosureReview
from ridgeback.reviews.sketch_form import HEATERS, SUBSTRATES, SketchForm

pytestmark = pytest.mark.usefixtures("pip")
URL = "/second-look/sketch/"
LEOPARD = {
    "species": "Eublepharis macularius",
    "enclosure": "glass",
    "size": "60x45x45",
    "heat": ["heat_mat"],
    "power_heat_mat": "14",
    "uv": "none",
    "inside": ["hide", "dish"],
    "substrate": ["calcium sand"],
    "food": ["mealworm"],
    "pace": "1",
    "supplements": ["none"],
}


def said(**more: Any) -> Any:
    """The description of a form in metric units."""
    form = SketchForm({**LEOPARD, **more}, units=Units())
    assert form.is_valid(), form.errors
    return form.said


def test_what_was_tapped_is_said_and_the_rest_is_not() -> None:
    made = said()
    assert made.animal.species == "Eublepharis macularius"
    assert made.sides_m == (0.6, 0.45, 0.45)
    assert [(one.kind, one.power_w) for one in made.heat or ()] == [("heat_mat", 14)]
    assert made.uv == ()
    assert made.supplements == ()
    assert made.hides == 1
    assert made.thermostat is None
    assert made.climbing is None
    assert made.instruments is None


def test_none_and_nothing_tapped_differ() -> None:
    assert said(heat=["none"]).heat == ()
    assert said(heat=[]).heat is None
    assert said(inside=["no hide"]).hides == 0
    assert said(inside=[]).hides is None


def test_another_size_may_be_written_in_the_words_of_the_trade() -> None:
    sides = said(size="", size_words="40 gallon breeder").sides_m
    assert sides is not None
    assert [round(side, 2) for side in sides] == [0.91, 0.46, 0.41]


@pytest.mark.parametrize(
    ("field", "value"),
    [
        ("heat_distance", "far"),
        ("heat_distance", "9 m"),
        ("size_words", "as big as a cupboard"),
        ("power_heat_mat", "0"),
        ("uv_age", "-3"),
    ],
)
def test_what_cannot_be_is_said_beside_its_field(client: Client, field: str, value: str) -> None:
    answer = client.post(URL, {**LEOPARD, field: value})
    assert answer.status_code == 200
    assert field in answer.context["form"].errors
    assert f'value="{value}"' in answer.content.decode()
    assert not EnclosureReview.objects.exists()


def test_it_is_drawn_while_it_grows_and_nothing_is_kept(client: Client) -> None:
    answer = client.post(f"{URL}drawn/", LEOPARD)
    assert answer.context["drawn"].svg
    assert answer.context["worst"].slug == "no supplements"
    empty = client.post(f"{URL}drawn/", {"enclosure": "glass"})
    assert "Choose the animal" in empty.context["problem"]
    assert not EnclosureReview.objects.exists()


def test_it_becomes_a_review_once(client: Client) -> None:
    key = client.get(URL).context["form"]["form_key"].value()
    for _ in range(2):
        answer = client.post(URL, {**LEOPARD, "form_key": key})
    own = EnclosureReview.objects.get()
    assert answer["Location"] == f"/second-look/{own.pk}/"
    assert own.title == "Leopard gecko, 60 × 45 × 45 cm"
    assert client.get(answer["Location"]).status_code == 200


def test_an_empty_sketch_is_no_review(client: Client) -> None:
    answer = client.post(URL, {})
    assert answer.context["form"].non_field_errors()


def test_what_is_tapped_has_a_picture() -> None:
    assert all(tile(name) for name in (*HEATERS, *SUBSTRATES, "hide", "two hides", "t5_12"))
