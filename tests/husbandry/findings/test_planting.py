"""Plants, crews, substrate for eggs and slopes (common practice, no source, unless said otherwise)."""

import json
from typing import Any

import pytest

from husbandry.documents.request import Request
from husbandry.documents.request_json import from_data
from husbandry.enclosure.plants import PLANTS
from husbandry.errors import DocumentError
from husbandry.findings.egg_laying import laying
from husbandry.findings.light_notes import light_notes
from husbandry.findings.planting import crew_text, wrong_plants
from husbandry.plan.plan import plan, prediction_of
from husbandry.predict.need_states import look
from husbandry.setups.placing import clashes
from husbandry.species.library import library


def enclosure(
    sample: dict[str, Any], plant: str = "", species: str = "Tiliqua scincoides", **substrate: Any
) -> dict[str, Any]:
    data: dict[str, Any] = json.loads(json.dumps(sample))
    data["animals"] = [{"species": species, "born_on": "2020-02-01"}]
    data["enclosure"]["substrate"] |= substrate
    if plant:
        depth = data["enclosure"]["substrate"]["depth_m"]
        data["items"].append(
            {
                "id": "plant-1",
                "kind": "plant",
                "plant": plant,
                "at_m": [1.3, 0.3, depth],
                "size_m": [0.15, 0.15, 0.2],
            }
        )
    return data


def slugs(data: dict[str, Any]) -> set[str]:
    request = from_data(data)
    return {
        one.slug for one in wrong_plants(request, request.profiles[request.animals[0].species])
    }


def test_every_row_of_the_table_can_be_read() -> None:
    assert len(PLANTS) >= 20
    for plant in PLANTS.values():
        assert plant.likes in {"damp", "dry", "any", "water"} and plant.harm in {
            "none",
            "irritant",
            "poisonous",
        }
        least_mol = 0 if plant.name == "artificial" else 0.5
        assert least_mol <= plant.light_mol <= 20 and 0 <= plant.root_m <= 0.4


def test_what_poisons_is_named_whoever_lives_there(sample: dict[str, Any]) -> None:
    """Oleander, dumb cane, lilies and ivy stand on every veterinary list of poisonous plants."""
    for name in ("oleander", "dumb_cane", "lily", "ivy"):
        assert "plant poisonous" in slugs(enclosure(sample, name, "Lampropeltis californiae"))


def test_what_burns_the_mouth_matters_to_who_eats_leaves(sample: dict[str, Any]) -> None:
    assert "plant irritant" in slugs(enclosure(sample, "pothos"))
    assert "plant irritant" not in slugs(enclosure(sample, "pothos", "Lampropeltis californiae"))


def test_roots_and_wet_feet(sample: dict[str, Any]) -> None:
    assert "plant roots" in slugs(enclosure(sample, "hibiscus", depth_m=0.06))
    assert "plant roots" not in slugs(enclosure(sample, "bromeliad", depth_m=0.06))
    wet = enclosure(sample, "haworthia")
    wet["enclosure"]["wetting"] = {"substrate": "wet"}
    assert "plant wet" in slugs(wet)
    dry = enclosure(sample, "fern_small")
    dry["enclosure"]["wetting"] = {"substrate": "dry"}
    assert "plant dry" in slugs(dry)
    assert "plant water" in slugs(enclosure(sample, "water_weed"))


def test_roots_are_judged_where_it_stands(sample: dict[str, Any]) -> None:
    """On a slope that is deep on the right, where it stands."""
    deep = enclosure(sample, "hibiscus", depth_m=0.12)
    assert "plant roots" in slugs(deep)
    deep["enclosure"]["substrate"]["slope"] = {"deep_at": "right", "rise_m": 0.1}
    deep["items"][-1]["at_m"][2] = 0.2
    assert "plant roots" not in slugs(deep)


def test_each_kind_has_its_own_least_light(sample: dict[str, Any]) -> None:
    def dark(name: str) -> bool:
        request = from_data(enclosure(sample, name))
        return any(
            note.slug == "plant plant-1"
            for note in light_notes(prediction_of(request), request.profiles["Tiliqua scincoides"])
        )

    leaf = plan(from_data(enclosure(sample, "moss"))).predictions["leaf_plant-1"].value
    assert dark("hibiscus") == (leaf < 12)
    assert dark("moss") == (leaf < 1)


def test_a_crew_needs_substrate_damp_and_litter(sample: dict[str, Any]) -> None:
    assert "crew no substrate" in slugs(
        enclosure(sample, crew=True, material="tile", depth_m=0.0, layers=[])
    )
    dry = enclosure(sample, crew=True)
    dry["enclosure"]["wetting"] = {"substrate": "dry"}
    assert "crew dry" in slugs(dry)
    bare = enclosure(
        sample, crew=True, depth_m=0.06, layers=[{"depth_m": 0.06, "parts": {"topsoil": 1}}]
    )
    assert "crew no litter" in slugs(bare)
    good = enclosure(
        sample,
        crew=True,
        depth_m=0.06,
        layers=[
            {"depth_m": 0.05, "parts": {"topsoil": 1}},
            {"depth_m": 0.01, "parts": {"leaves": 1}},
        ],
    )
    assert not {slug for slug in slugs(good) if slug.startswith("crew")}
    assert (
        "leaf litter" in crew_text(from_data(good))
        and crew_text(from_data(enclosure(sample))) == ""
    )


def said(data: dict[str, Any]) -> dict[str, float] | None:
    request: Request = from_data(data)
    found = laying(request, look(request).occupants)
    return dict(found[0].values) if found else None


def test_a_grown_female_finds_substrate_for_her_clutches(sample: dict[str, Any]) -> None:
    data = enclosure(sample, species="Pogona vitticeps", depth_m=0.06)
    data["animals"][0]["sex"] = "female"
    assert said(data) == {"there": 0.06, "needed": 0.2}
    data["enclosure"]["substrate"]["depth_m"] = 0.14
    data["enclosure"]["substrate"]["slope"] = {"deep_at": "left", "rise_m": 0.07}
    for item in data["items"]:
        if item["kind"] in {"slab", "hide", "dish"}:
            item["at_m"][2] = 0.2
    assert said(data) is None  # 21 cm at the deep end
    assert (
        said(enclosure(sample, species="Pogona vitticeps", depth_m=0.06)) is None
    )  # nobody knows that it is one


def test_a_laying_enclosure_is_a_moist_hide_and_live_bearers_need_none(
    sample: dict[str, Any],
) -> None:
    snake = enclosure(sample, species="Lampropeltis californiae")
    snake["animals"][0]["sex"] = "female"
    assert said(snake) is not None
    next(item for item in snake["items"] if item["kind"] == "hide")["moist"] = True
    assert said(snake) is None
    skink = enclosure(sample)
    skink["animals"][0]["sex"] = "female"
    assert said(skink) is None


def test_who_lays_on_land_says_how_deep() -> None:
    """All that bury eggs on land; who glues them to a leaf or a tube does not."""
    without = {
        species
        for species, p in library().items()
        if p.young.bears == "eggs" and p.young.lay_depth_m is None
    }
    assert without == {"Phelsuma grandis"}
    assert all(
        p.young.bears == "eggs" for p in library().values() if p.young.lay_depth_m is not None
    )


def test_a_slope_keeps_its_mean_and_lies_above_the_floor(sample: dict[str, Any]) -> None:
    data = enclosure(sample, depth_m=0.1, slope={"deep_at": "right", "rise_m": 0.06})
    substrate = from_data(data).enclosure.substrate
    assert substrate.depth_at(0, 0.5) == pytest.approx(0.04) and substrate.depth_at(
        1, 0.5
    ) == pytest.approx(0.16)
    assert substrate.depth_at(0.5, 0.1) == pytest.approx(
        0.1
    ) and substrate.deepest_m == pytest.approx(0.16)
    with pytest.raises(DocumentError) as why:
        from_data(enclosure(sample, depth_m=0.05, slope={"deep_at": "right", "rise_m": 0.06}))
    assert why.value.problems[0].pointer == "/enclosure/substrate/slope/rise_m"


def test_a_body_on_the_low_side_is_not_sunk(sample: dict[str, Any]) -> None:
    data = enclosure(sample, depth_m=0.1, slope={"deep_at": "left", "rise_m": 0.06})
    data["items"] = [
        {"id": "hide-1", "kind": "hide", "at_m": [1.2, 0.3, 0.06], "size_m": [0.3, 0.2, 0.1]}
    ]
    assert not [p for p in clashes(from_data(data)) if "sunk" in p.reason]
    data["items"][0]["at_m"] = [0.2, 0.3, 0.06]
    assert [p for p in clashes(from_data(data)) if "sunk" in p.reason]


def test_a_stone_on_a_slope_is_as_far_from_its_lamp_as_it_stands(sample: dict[str, Any]) -> None:
    """Lowered with its substrate it is cooler, as a stone lowered on level substrate is."""
    level = enclosure(sample, depth_m=0.1)
    for item in level["items"]:
        if item["kind"] in {"slab", "hide", "dish"}:
            item["at_m"][2] = 0.1
    sloping = json.loads(json.dumps(level))
    sloping["enclosure"]["substrate"]["slope"] = {"deep_at": "right", "rise_m": 0.08}
    stone = next(item for item in sloping["items"] if item["kind"] == "slab")
    substrate = from_data(sloping).enclosure.substrate
    inside = sloping["enclosure"]["inside_m"]
    stone["at_m"][2] = round(substrate.depth_at(stone["at_m"][0] / inside["length"], 0.5), 4)
    high, low = plan(from_data(level)), plan(from_data(sloping))
    dropped = high.basking.z_m - low.basking.z_m
    assert dropped == pytest.approx(0.1 - stone["at_m"][2], abs=1e-6)
    assert low.predictions["surface_day"].value < high.predictions["surface_day"].value - 0.5
