"""What a climber, a frog and a snake need that a lizard on the ground does not."""

import copy
from typing import Any

import pytest

from husbandry.documents.request_json import from_data
from husbandry.documents.result import Plan
from husbandry.plan.plan import plan, plan_with_prediction
from husbandry.species.needs import NeedKey

ROOM = {"day_c": 21, "night_c": 18, "summer_max_c": 26, "rh_pct": 55}


def request(
    species: str, enclosure: tuple[float, float, float], items: list[dict[str, Any]], **animal: Any
) -> dict[str, Any]:
    return {
        "format": "ridgeback-request/2",
        "now": "2026-11-24T12:00:00Z",
        "room": ROOM,
        "animals": [{"species": species, **animal}],
        "enclosure": {
            "inside_m": dict(zip(("length", "depth", "height"), enclosure, strict=True)),
            "lid": {"mesh": "fly_screen", "mesh_share": 0.4},
            "substrate": {"material": "soil", "depth_m": 0.06},
        },
        "items": items,
    }


def body(slug: str, kind: str, at: list[float], size: list[float]) -> dict[str, Any]:
    return {"id": slug, "kind": kind, "at_m": at, "size_m": size}


TUBE = {
    "id": "tube-1",
    "kind": "t5_6",
    "at_m": [0.3, 0.22, 0.71],
    "length_m": 0.55,
    "power_w": 24,
    "hours_run": 100,
}
FROG = request(
    "Dryophytes cinereus",
    (0.6, 0.45, 0.75),
    [TUBE, body("branch-1", "branch", [0.3, 0.24, 0.42], [0.42, 0.03, 0.03])],
    mass_g=9.5,
    length_mm={"snout_vent": 52},
)
SNAKE = request(
    "Lampropeltis californiae",
    (1.2, 0.6, 0.5),
    [],
    mass_g=390,
    length_mm={"total": 1020},
    born_on="2023-08-01",
)


def slugs(made: Plan) -> set[str]:
    return {note.slug for note in made.notes}


def test_a_climber_is_planned_on_its_highest_branch() -> None:
    made, prediction = plan_with_prediction(from_data(FROG))
    assert made.basking.z_m == pytest.approx(0.45 + 0.4 * 0.052) and prediction.warm_point[
        1
    ] == pytest.approx(made.basking.z_m)
    higher = copy.deepcopy(FROG)
    higher["items"].append(body("branch-2", "branch", [0.3, 0.2, 0.55], [0.3, 0.02, 0.02]))
    nearer = plan(from_data(higher))
    assert nearer.predictions["uvi_day"].value > made.predictions["uvi_day"].value
    assert "no branch" not in slugs(made)


def test_a_climber_without_a_branch_is_told_so() -> None:
    bare = copy.deepcopy(FROG)
    bare["items"] = bare["items"][:1]
    made = plan(from_data(bare))
    assert {"no branch", "no dish", "treated water"} <= slugs(made)
    assert made.basking.z_m == pytest.approx(0.06 + 0.6 * 0.69 + 0.4 * 0.052)


def test_an_animal_without_a_hot_spot_gets_warm_air_instead() -> None:
    cold = copy.deepcopy(FROG)
    cold["room"] = ROOM | {"day_c": 19, "summer_max_c": 22}
    made = plan(from_data(cold))
    assert NeedKey.SURFACE_DAY not in {need.key for need in made.needs}
    heat = next(change for change in made.changes if change.kind == "air_heat")
    warm = next(effect for effect in heat.effects if effect.need == NeedKey.WARM_AIR_DAY)
    assert 23 <= warm.after <= 27
    cold["room"]["summer_max_c"] = 30  # stuck on, it would cook the frog then: not offered
    assert "air_heat" not in {change.kind for change in plan(from_data(cold)).changes}


def test_a_frog_gets_preformed_vitamin_a_and_never_with_its_multivitamin() -> None:
    """Preformed vitamin A for amphibians every one to two weeks: K. M. Wright & B. R. Whitaker 2001
    (from memory); common practice.
    """
    diet = plan(from_data(FROG)).animals[0].diet
    with_a = [meal for meal in diet.meals if "vitamin A" in meal.dusted_with]
    assert 2 <= len(with_a) <= 4
    assert not any("multivitamin" in meal.dusted_with for meal in with_a)


def test_a_snake_eats_whole_prey_and_no_supplement() -> None:
    diet = plan(from_data(SNAKE)).animals[0].diet
    portion = diet.plans[0].portions[0]
    assert portion.food == "prey" and portion.count == 1 and "mouse" in portion.name
    assert (
        diet.rules == ()
        and not any(meal.dusted_with for meal in diet.meals)
        and diet.plans[0].calcium_mg is None
    )
    assert diet.energy_verdict == "inside"


def test_a_snake_fed_by_width_gets_what_is_no_wider() -> None:
    by_width = copy.deepcopy(SNAKE)
    by_width["animals"][0]["approaches"] = {"rodent-size": "width"}
    portion = plan(from_data(by_width)).animals[0].diet.plans[0].portions[0]
    eater = next(
        item.value for item in portion.derivation.inputs if item.name == "width of the eater"
    )
    assert portion.widest_mm is not None and eater is not None and portion.widest_mm <= eater
    assert portion.derivation.approach == "as wide as its widest part"


def test_without_ultraviolet_by_choice_there_is_no_need_of_it() -> None:
    without = copy.deepcopy(SNAKE)
    without["animals"][0]["approaches"] = {"uvb-dusk": "none"}
    assert NeedKey.UVI_DAY in {need.key for need in plan(from_data(SNAKE)).needs}
    assert NeedKey.UVI_DAY not in {need.key for need in plan(from_data(without)).needs}


def test_missing_hides_are_counted() -> None:
    made = plan(from_data(SNAKE))
    note = next(note for note in made.notes if note.slug == "hides")
    assert note.values == {"there": 0, "wanted": 2}


def test_frogs_live_together_up_to_their_number_and_kingsnakes_never() -> None:
    frogs = copy.deepcopy(FROG)
    frogs["animals"] = frogs["animals"] * 4
    assert "company" not in slugs(plan(from_data(frogs)))
    frogs["animals"] = frogs["animals"][:1] * 7
    crowded = next(n for n in plan(from_data(frogs)).notes if n.slug == "company")
    assert "at most 6" in crowded.text
    snakes = copy.deepcopy(SNAKE)
    snakes["animals"] = snakes["animals"] * 2
    assert "company" in slugs(plan(from_data(snakes)))


def test_two_heaters_on_one_probe_share_the_work() -> None:
    """Their answers cannot be told apart; the interval must still be finite."""
    lamp = {
        "kind": "ceramic_emitter",
        "at_m": [0.25, 0.3, 0.44],
        "power_w": 60,
        "thermostat": {"set_c": 31, "probe": "surface"},
    }
    twice = request(
        "Lampropeltis californiae",
        (1.2, 0.6, 0.5),
        [{**lamp, "id": "a"}, {**lamp, "id": "b"}],
        mass_g=390,
        length_mm={"total": 1020},
    )
    surface = plan(from_data(twice)).predictions["surface_day"]
    assert surface.low is not None and surface.high is not None
    assert 25 < surface.low <= surface.value <= surface.high < 37
