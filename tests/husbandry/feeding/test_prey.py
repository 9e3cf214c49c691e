"""Whole prey for a body without limbs."""

import json
from importlib.resources import files
from typing import Any

import pytest
from hypothesis import example, given
from hypothesis import strategies as st

from husbandry.errors import DocumentError
from husbandry.feeding.feeders import FEEDERS
from husbandry.feeding.meals import meal_plans
from husbandry.feeding.prey import WIDEST_TAKEN, MealRange, body_width, prey_for
from husbandry.growth.expected import expected
from husbandry.species.library import find
from husbandry.species.profile import parse


def test_a_cylinder_has_the_width_of_its_volume() -> None:
    """Geometry: π·r²·l of water, 1 g/cm³."""
    assert body_width(314.159265, 1.0, 1.0) == pytest.approx(20.0)
    assert body_width(400, 1.0, 0.5) == pytest.approx(body_width(400, 1.0, 1.0) * 2**0.5)


def test_widths_of_kingsnakes_are_those_of_the_trade() -> None:
    """Common practice, no source: an adult of 1.1 m and 500 g is about as thick as a broom handle
    to a thumb and a half, 25 to 38 mm;
    a hatchling of 9 g and 28 cm about as a pencil, 7 to 10 mm.
    """
    share = find("Lampropeltis californiae").body.wide_share
    assert share is not None
    assert 25 <= body_width(500, 1.1, share) <= 38
    assert 7 <= body_width(9, 0.28, share) <= 10


def test_hatchlings_begin_with_pink_mice_and_adults_take_grown_ones() -> None:
    """Common practice, no source."""
    assert prey_for(meal(1.1), 8, "mass", RODENTS).feeder.name == "pink mouse"
    assert prey_for(meal(30), 29, "mass", RODENTS).feeder.name in {"adult mouse", "large mouse"}


RODENTS = ("mouse", "rat")


def meal(aim_g: float, low: float = 0.75, high: float = 1.3) -> MealRange:
    return MealRange(low * aim_g, aim_g, high * aim_g)


WAYS = st.sampled_from(["mass", "width"])
KINDS = st.sampled_from([("mouse",), ("mouse", "rat"), ("mouse", "rat", "rabbit")])


@given(grams=st.floats(0.3, 4000), width=st.floats(5, 160), approach=WAYS, kinds=KINDS)
def test_prey_is_never_wider_than_the_eater_allows(
    grams: float, width: float, approach: str, kinds: tuple[str, ...]
) -> None:
    chosen = prey_for(meal(grams), width, approach, kinds).feeder
    smallest = min((f for f in FEEDERS.values() if f.food == "prey"), key=lambda f: f.mass_g)
    assert chosen.width_mm is not None
    assert (
        chosen == smallest
        or chosen.width_mm <= (WIDEST_TAKEN if approach == "mass" else 1.0) * width
    )
    assert chosen.kind.split("_")[0] in kinds


@example(grams=2.4375, width=5.0, approach="mass", kinds=("mouse",))  # two pinks are too much
@given(grams=st.floats(0.3, 4000), width=st.floats(5, 160), approach=WAYS, kinds=KINDS)
def test_prey_never_leaves_the_range_of_the_meal_upwards(
    grams: float, width: float, approach: str, kinds: tuple[str, ...]
) -> None:
    """A monitor with a meal of 43 g was once offered a rabbit of 1,600 g, for it is as wide."""
    asked = meal(grams)
    chosen = prey_for(asked, width, approach, kinds)
    lightest = min(f.mass_g for f in FEEDERS.values() if f.food == "prey")
    assert chosen.grams <= asked.high_g * 1.0001 or chosen.grams == lightest


@pytest.mark.parametrize(
    "species",
    [
        "Varanus exanthematicus",
        "Python regius",
        "Boa imperator",
        "Malayopython reticulatus",
        "Eryx colubrinus",
    ],
)
@pytest.mark.parametrize("way", ["mass", "width"])
def test_every_meal_of_whole_prey_stays_in_the_profiles_share(species: str, way: str) -> None:
    profile = find(species)
    for stage in profile.stages:
        for share in (0.7, 1.0, 1.6):
            mass_g = share * sum(stage.mass_g.ends) / 2
            length_m = expected(profile, "unknown").length_mm(mass_g) / 1000
            plans = meal_plans(
                profile,
                stage.slug,
                mass_g=mass_g,
                body_length_m=length_m,
                approaches={"rodent-size": way},
            )
            for plan in plans:
                for part in plan.portions:
                    if part.food != "prey":
                        continue
                    high = max(
                        one.share_of_mass[1]
                        for one in profile.meals
                        if one.slug == plan.slug and one.at(stage.slug)
                    )
                    assert part.grams <= 1.001 * high * mass_g or part.name == "pink mouse", (
                        stage.slug,
                        mass_g,
                        part,
                    )


def _file(name: str) -> dict[str, Any]:
    data: dict[str, Any] = json.loads(
        files("husbandry.species").joinpath("profiles", name).read_text(encoding="utf-8")
    )
    return data


def test_a_snake_without_its_shape_and_a_frog_without_treated_water_are_refused() -> None:
    snake, frog = _file("lampropeltis-californiae.json"), _file("dryophytes-cinereus.json")
    snake["body"].pop("wide_share")
    frog["water"]["treated"] = False
    for data, reason in ((snake, "wide_share"), (frog, "through its skin")):
        with pytest.raises(DocumentError, match=reason):
            parse(json.dumps(data))
