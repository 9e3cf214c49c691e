"""Whole prey for a body without limbs."""

import json
from importlib.resources import files
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from husbandry.diet.feeders import FEEDERS
from husbandry.diet.prey import WIDEST_TAKEN, body_width, prey_for
from husbandry.errors import DocumentError
from husbandry.species.library import find
from husbandry.species.profile import parse


def test_a_cylinder_has_the_width_of_its_volume() -> None:
    """Geometry: π·r²·l of water, 1 g/cm³."""
    assert body_width(314.159265, 1.0, 1.0) == pytest.approx(20.0)
    assert body_width(400, 1.0, 0.5) == pytest.approx(body_width(400, 1.0, 1.0) * 2**0.5)


def test_widths_of_kingsnakes_are_those_of_the_trade() -> None:
    """Common practice, no source: an adult of 1.1 m and 500 g is about as thick as a broom handle to a thumb and a half, 25 to 38 mm;
    a hatchling of 9 g and 28 cm about as a pencil, 7 to 10 mm."""
    share = find("Lampropeltis californiae").body.wide_share
    assert share is not None
    assert 25 <= body_width(500, 1.1, share) <= 38
    assert 7 <= body_width(9, 0.28, share) <= 10


def test_hatchlings_begin_with_pink_mice_and_adults_take_grown_ones() -> None:
    """Common practice, no source."""
    assert prey_for(1.1, 8, "mass").name == "pink mouse"
    assert prey_for(30, 29, "mass").name in {"adult mouse", "large mouse"}


@given(grams=st.floats(0.3, 200), width=st.floats(5, 60), school=st.sampled_from(["mass", "width"]))
def test_prey_is_never_wider_than_the_eater_allows(grams: float, width: float, school: str) -> None:
    chosen = prey_for(grams, width, school)
    smallest = min((f for f in FEEDERS.values() if f.food == "prey"), key=lambda f: f.mass_g)
    assert chosen.width_mm is not None
    assert chosen == smallest or chosen.width_mm <= (WIDEST_TAKEN if school == "mass" else 1.0) * width


def _file(name: str) -> dict[str, Any]:
    data: dict[str, Any] = json.loads(files("husbandry.species").joinpath("profiles", name).read_text(encoding="utf-8"))
    return data


def test_a_snake_without_its_shape_and_a_frog_without_treated_water_are_refused() -> None:
    snake, frog = _file("lampropeltis-californiae.json"), _file("dryophytes-cinereus.json")
    snake["body"].pop("wide_share")
    frog["water"]["treated"] = False
    for data, reason in ((snake, "wide_share"), (frog, "through its skin")):
        with pytest.raises(DocumentError, match=reason):
            parse(json.dumps(data))
