"""Furniture against the body that lives there (common practice, no source, unless a profile says
so).
"""

import json
from typing import Any

import pytest

from husbandry.documents.request_json import from_data
from husbandry.errors import DocumentError
from husbandry.findings.furnishing import furnishing
from husbandry.plan.plan import plan, prediction_of
from husbandry.predict.need_states import look


def slugs(data: dict[str, Any]) -> dict[str, str]:
    """What is said of an enclosure, with the item it is said of."""
    request = from_data(data)
    looked = look(request)
    lead = looked.occupants[looked.lead]
    found = furnishing(
        request, request.profiles[lead.species], lead.length_m, prediction_of(request).warm_left
    )
    return {one.slug: one.item_id for one in found}


def bent(
    sample: dict[str, Any], species: str = "Tiliqua scincoides", **items: dict[str, Any]
) -> dict[str, Any]:
    data: dict[str, Any] = json.loads(json.dumps(sample))
    data["animals"][0] |= {"species": species}
    if species != "Tiliqua scincoides":
        data["animals"][0] = {"species": species, "born_on": "2022-02-01"}
    for item in data["items"]:
        item |= items.get(item["id"].replace("-", "_"), {})
    return data


def test_hides_that_do_not_fit_are_said_of_the_hide(sample: dict[str, Any]) -> None:
    assert "hide small" not in slugs(bent(sample))
    assert slugs(bent(sample, hide_1={"size_m": [0.1, 0.1, 0.06]}))["hide small"] == "hide-1"
    snake = bent(sample, "Lampropeltis californiae", hide_1={"size_m": [0.45, 0.45, 0.1]})
    assert slugs(snake)["hide roomy"] == "hide-1"


def test_hides_in_one_half_leave_the_other_without(sample: dict[str, Any]) -> None:
    assert {"no warm hide", "no cool hide"}.isdisjoint(
        slugs(bent(sample))
    )  # near the middle it counts for both
    assert "no warm hide" in slugs(bent(sample, hide_1={"at_m": [1.2, 0.3, 0.06]}))
    assert "no cool hide" in slugs(bent(sample, hide_1={"at_m": [0.6, 0.35, 0.06]}))


def test_a_moist_hide_is_missed_where_the_profile_asks_for_one(sample: dict[str, Any]) -> None:
    species = "Hemitheconyx caudicinctus"
    assert "no moist hide" in slugs(bent(sample, species))
    assert "no moist hide" not in slugs(bent(sample, species, hide_1={"moist": True}))
    damp = bent(sample, species)
    damp["enclosure"]["wetting"] = {"substrate": "damp"}
    assert "no moist hide" not in slugs(damp)


def test_water_deeper_than_it_stands_wants_a_way_out(sample: dict[str, Any]) -> None:
    deep = {"size_m": [0.3, 0.3, 0.12]}
    assert slugs(bent(sample, dish_1=deep))["dish deep"] == "dish-1"
    data = bent(sample, dish_1=deep)
    data["items"].append(
        {"id": "stone-9", "kind": "slab", "at_m": [1.28, 0.3, 0.06], "size_m": [0.08, 0.08, 0.1]}
    )
    assert "dish deep" not in slugs(data)


def test_a_dish_under_a_lamp_and_one_that_holds_half_a_body(sample: dict[str, Any]) -> None:
    assert slugs(bent(sample, dish_1={"at_m": [0.3, 0.35, 0.06]}))["dish hot"] == "dish-1"
    assert (
        slugs(bent(sample, "Lampropeltis californiae", dish_1={"size_m": [0.08, 0.08, 0.03]}))[
            "dish small"
        ]
        == "dish-1"
    )


def test_a_high_stone_needs_a_step(sample: dict[str, Any]) -> None:
    high = bent(
        sample,
        stone_1={"at_m": [0.3, 0.3, 0.06], "size_m": [0.3, 0.3, 0.3]},
        lamp_1={"at_m": [0.3, 0.3, 0.55]},
    )
    young = {
        **high,
        "animals": [{"species": "Tiliqua scincoides", "mass_g": 20, "length_mm": {"total": 140}}],
    }
    assert slugs(young)["fall"] == "stone-1"
    stairs = [
        {
            "id": f"step-{n}",
            "kind": "slab",
            "at_m": [0.55 + 0.2 * n, 0.3, 0.06],
            "size_m": [0.18, 0.2, 0.2 - 0.1 * n],
        }
        for n in range(2)
    ]
    young["items"] += stairs
    assert "fall" not in slugs(young)


def test_stones_on_loose_substrate_are_told_to_diggers_only(sample: dict[str, Any]) -> None:
    assert "undermined" in slugs(bent(sample))
    tiled = bent(sample)
    tiled["enclosure"]["substrate"] = {"material": "tile", "depth_m": 0.01}
    for item in tiled["items"]:
        if "size_m" in item:
            item["at_m"][2] = 0.01
    assert "undermined" not in slugs(tiled)


def test_a_plan_notes_each_kind_once_with_its_measures(sample: dict[str, Any]) -> None:
    data = bent(sample, hide_1={"size_m": [0.1, 0.1, 0.06]})
    data["items"].append(
        {"id": "hide-2", "kind": "hide", "at_m": [1.0, 0.3, 0.06], "size_m": [0.1, 0.1, 0.06]}
    )
    notes = [note for note in plan(from_data(data)).notes if note.slug == "furniture hide small"]
    assert len(notes) == 1 and notes[0].values["there"] < notes[0].values["needed"]


def test_animals_that_share_want_a_hide_each(sample: dict[str, Any]) -> None:
    two = bent(sample)
    two["animals"].append({**two["animals"][0], "name": "Other"})
    assert "few hides" in slugs(two) and "few hides" not in slugs(bent(sample))


def test_sides_it_sees_through_are_counted(sample: dict[str, Any]) -> None:
    glass = bent(sample)
    glass["enclosure"]["panels"] = dict.fromkeys(("front", "back", "left", "right"), "glass")
    asked = from_data(glass).profiles["Tiliqua scincoides"].enclosure.opaque_sides
    assert ("clear sides" in slugs(glass)) is (asked > 0) and "clear sides" not in slugs(
        bent(sample)
    )


def climber(sample: dict[str, Any], thick_m: float) -> dict[str, Any]:
    data = bent(sample, "Chamaeleo calyptratus")
    data["enclosure"]["inside_m"]["height"] = 1.0
    data["items"] = [
        {
            "id": "branch-1",
            "kind": "branch",
            "at_m": [0.8, 0.3, 0.5],
            "size_m": [0.8, thick_m, thick_m],
        }
    ]
    return data


def test_a_branch_is_of_the_thickness_that_a_foot_closes_on(sample: dict[str, Any]) -> None:
    """About two centimetres for a grown chameleon of thirty."""
    assert "grip" not in slugs(climber(sample, 0.02))
    assert slugs(climber(sample, 0.004))["grip"] == "branch-1"
    assert slugs(climber(sample, 0.08))["grip"] == "branch-1"
    both = climber(sample, 0.08)
    both["items"].append(
        {"id": "branch-2", "kind": "branch", "at_m": [0.8, 0.2, 0.4], "size_m": [0.8, 0.02, 0.02]}
    )
    assert "grip" not in slugs(both)


def test_a_gap_that_lets_a_head_in_and_holds_a_body_is_marked(sample: dict[str, Any]) -> None:
    """A newborn skink of 14 cm is about 16 mm wide."""
    young = bent(sample)
    young["animals"][0] = {
        "species": "Tiliqua scincoides",
        "mass_g": 20,
        "length_mm": {"total": 140},
    }
    deep = young["enclosure"]["inside_m"]["depth"]
    hide = {
        "id": "hide-9",
        "kind": "hide",
        "at_m": [1.0, deep - 0.1 - 0.013, 0.06],
        "size_m": [0.2, 0.2, 0.1],
    }
    young["items"] = [hide]
    assert slugs(young)["gap"] == "hide-9"
    for gap in (0.0, 0.004, 0.05):
        hide["at_m"] = [1.0, round(deep - 0.1 - gap, 4), 0.06]
        assert "gap" not in slugs(young), gap


def test_a_slit_under_a_platform_and_between_two_stones(sample: dict[str, Any]) -> None:
    young = bent(sample)
    young["animals"][0] = {
        "species": "Tiliqua scincoides",
        "mass_g": 20,
        "length_mm": {"total": 140},
    }
    slab = {
        "id": "stone-9",
        "kind": "slab",
        "at_m": [0.7, 0.3, 0.06 + 0.01],
        "size_m": [0.2, 0.2, 0.03],
    }
    young["items"] = [slab]
    assert slugs(young)["gap"] == "stone-9"  # 10 mm for a back of 12.6
    slab["at_m"][2] = 0.06
    assert "gap" not in slugs(young)
    young["items"].append({**slab, "id": "stone-8", "at_m": [0.913, 0.3, 0.06]})
    assert slugs(young)["gap"] == "stone-8"


def test_a_long_open_stretch_is_said_of_what_lives_on_the_substrate(
    sample: dict[str, Any],
) -> None:
    small = bent(sample, "Hemitheconyx caudicinctus")
    small["enclosure"]["inside_m"]["length"] = 3.0
    assert "open stretch" in slugs(small)
    for n in range(4):
        small["items"].append(
            {
                "id": f"plant-{n}",
                "kind": "plant",
                "at_m": [1.4 + 0.4 * n, 0.2, 0.06],
                "size_m": [0.1, 0.1, 0.1],
            }
        )
    assert "open stretch" not in slugs(small)
    assert "open stretch" not in slugs(bent(sample, "Ranoidea caerulea"))


def test_several_animals_have_dishes_and_females_enough(sample: dict[str, Any]) -> None:
    """Three females to a male of this tortoise: the profile's own rule."""
    data = bent(sample)
    data["animals"] = [
        {"species": "Testudo hermanni", "mass_g": 900, "sex": sex}
        for sex in ("male", "female", "female")
    ]
    assert "few dishes" in slugs(data)
    texts = [note.text for note in plan(from_data(data)).notes if note.slug == "company"]
    assert any("2 females to 1 male" in text for text in texts)
    data["animals"].append({"species": "Testudo hermanni", "mass_g": 900, "sex": "female"})
    assert not any("females to" in note.text for note in plan(from_data(data)).notes)
    data["animals"][3]["sex"] = "unknown"  # nobody counts what nobody knows
    assert not any("females to" in note.text for note in plan(from_data(data)).notes)


def test_a_hide_with_one_small_entrance_is_dark_and_an_open_one_is_not(
    sample: dict[str, Any],
) -> None:
    """One entrance the width of its body, opaque sides (common practice, no source)."""
    assert "hide light" not in slugs(bent(sample))  # nobody said what of it stands open
    assert "hide light" not in slugs(bent(sample, hide_1={"entrance": "hole"}))
    assert slugs(bent(sample, hide_1={"entrance": "open ends"}))["hide light"] == "hide-1"
    assert (
        slugs(bent(sample, hide_1={"entrance": "hole", "sheer": True}))["hide light"] == "hide-1"
    )


def test_light_in_a_hide_is_that_around_it_by_its_entrance(sample: dict[str, Any]) -> None:
    """The factor of an opening in a cavity: E = Φ / (A (1 − ρ)), textbooks of photometry."""
    made = plan(from_data(bent(sample, hide_1={"entrance": "open side"})))
    seen = made.predictions["hide_hide-1"]
    long, deep, high = 0.26, 0.20, 0.11
    share = 0.5 * 0.9 * long * high / (2 * (long * deep + long * high + deep * high) * 0.8)
    around = next(given.value for given in seen.inputs if given.name == "light around it")
    assert around is not None and seen.value == pytest.approx(around * share)
    assert 200 < around < 20_000 and seen.unit == "lx"


@pytest.mark.parametrize("more", [{"entrance": "hole"}, {"sheer": True}])
def test_only_hides_have_entrances(sample: dict[str, Any], more: dict[str, Any]) -> None:
    with pytest.raises(DocumentError):
        from_data(bent(sample, dish_1=more))


def test_what_lives_in_branches_has_leaves_within_reach(sample: dict[str, Any]) -> None:
    data = climber(sample, 0.02)
    assert slugs(data)["no leaves"] == "branch-1"
    data["items"].append(
        {"id": "plant-1", "kind": "plant", "at_m": [0.9, 0.4, 0.45], "size_m": [0.3, 0.2, 0.3]}
    )
    assert "no leaves" not in slugs(data)
    data["items"][-1]["at_m"] = [0.9, 0.4, 0.06]
    assert "no leaves" not in slugs(data)  # reaches up to within its length
    data["items"][-1]["size_m"] = [0.3, 0.2, 0.05]
    assert slugs(data)["no leaves"] == "branch-1"


def test_over_the_stone_of_a_sky_watcher_nothing_hangs(sample: dict[str, Any]) -> None:
    """A clear view for animals that watch the sky (common practice, no source)."""
    agama = bent(sample, "Pogona vitticeps")
    agama["items"].append(
        {"id": "plant-1", "kind": "plant", "at_m": [0.3, 0.3, 0.2], "size_m": [0.2, 0.2, 0.1]}
    )
    assert slugs(agama)["view shut"] == "plant-1"
    agama["items"][-1]["at_m"] = [0.6, 0.3, 0.2]
    assert "view shut" not in slugs(agama)


def test_substrate_too_shallow_is_among_the_notes(sample: dict[str, Any]) -> None:
    data = bent(sample)
    data["enclosure"]["substrate"] = {"material": "soil", "depth_m": 0.03}
    notes = {note.slug: note for note in plan(from_data(data)).notes}
    shallow = notes["furniture substrate shallow"]
    assert shallow.values["there"] == 0.03 < shallow.values["needed"]


def test_what_several_bask_on_holds_all_of_them(sample: dict[str, Any]) -> None:
    """One basking place for each, or the weaker stays cold (common practice, no source)."""
    one = bent(sample, stone_1={"size_m": [0.3, 0.2, 0.03]})
    assert "few stones" not in slugs(one)
    four = json.loads(json.dumps(one))
    four["animals"] = [{**one["animals"][0], "name": str(n)} for n in range(6)]
    assert slugs(four)["few stones"] == "stone-1"
    four["items"].append(
        {"id": "stone-2", "kind": "slab", "at_m": [0.8, 0.15, 0.06], "size_m": [0.6, 0.25, 0.03]}
    )
    assert "few stones" not in slugs(four)
