"""Dishes, pools and soaks against the body (common practice, no source, unless said otherwise)."""

import json
from typing import Any

import pytest

from husbandry.documents.request_json import from_data
from husbandry.findings.water import baths, least_depth_m, litres_of, pools_of, wrong_waters
from husbandry.plan.plan import plan
from husbandry.species.library import find

POOL = {"id": "pool-1", "kind": "pool", "at_m": [1.2, 0.3, 0.0], "size_m": [0.5, 0.5, 0.2]}


def frog(
    sample: dict[str, Any], *pools: dict[str, Any], species: str = "Ranoidea aurea"
) -> dict[str, Any]:
    data: dict[str, Any] = json.loads(json.dumps(sample))
    data["animals"] = [{"species": species, "born_on": "2020-02-01"}]
    data["enclosure"]["substrate"] = {"material": "soil", "depth_m": 0.06}
    data["items"] = [item for item in data["items"] if item["kind"] != "dish"] + list(pools)
    return data


def slugs(data: dict[str, Any], length_m: float = 0.08) -> set[str]:
    request = from_data(data)
    return {
        one.slug
        for one in wrong_waters(request, request.profiles[request.animals[0].species], length_m)
    }


def test_what_lives_half_in_water_has_a_pool_large_and_deep_enough(sample: dict[str, Any]) -> None:
    assert "no pool" in slugs(frog(sample))
    small = {**POOL, "size_m": [0.2, 0.2, 0.05]}
    assert {"pool small", "pool shallow"} <= slugs(frog(sample, small))
    fit = {**POOL, "at_m": [1.0, 0.3, 0.0], "size_m": [0.7, 0.58, 0.2]}
    assert not {"no pool", "pool small", "pool shallow", "pool deep"} & slugs(frog(sample, fit))
    assert "pool deep" in slugs(frog(sample, {**fit, "size_m": [0.7, 0.58, 0.42]}))


def test_a_deep_basin_wants_a_way_out_for_who_cannot_swim(sample: dict[str, Any]) -> None:
    lizard = frog(sample, POOL, species="Tiliqua scincoides")
    assert "pool deep" in slugs(lizard, 0.5)
    bank = {
        "id": "bank",
        "kind": "slab",
        "at_m": [0.92, 0.3, 0.06],
        "size_m": [0.1, 0.2, 0.14],
        "material": "stone",
    }
    lizard["items"].append(bank)
    assert "pool deep" not in slugs(lizard, 0.5)


def test_a_high_rim_keeps_a_swimmer_in(sample: dict[str, Any]) -> None:
    high = {**POOL, "size_m": [0.7, 0.58, 0.42]}
    assert "no way out" in slugs(
        frog(sample, high), 0.04
    )  # 4 cm of rim over its water, for a back of 2 cm
    assert "no way out" not in slugs(frog(sample, POOL), 0.08)


def test_litres_are_those_of_the_outline_and_the_level(sample: dict[str, Any]) -> None:
    """0.5 × 0.5 × 0.18 m is 45 l, 11.9 US gallons of 231 cubic inches."""
    request = from_data(frog(sample, POOL))
    assert litres_of(request.item("pool-1")) == pytest.approx(45.0)
    assert pytest.approx(11.89, abs=0.01) == 45.0 / 3.785411784


def test_a_filter_lengthens_the_interval_and_is_judged(sample: dict[str, Any]) -> None:
    bare = plan(from_data(frog(sample, POOL)))
    request = from_data(frog(sample, {**POOL, "filter_l_h": 60}))
    kept = plan(request)
    assert kept.predictions["pool_litres_pool-1"].value == pytest.approx(45.0)
    assert bare.predictions["pool_change_pool-1"].value <= 7
    assert (
        kept.predictions["pool_change_pool-1"].value > bare.predictions["pool_change_pool-1"].value
    )
    seen = pools_of(request, kept.animals)[0]
    assert seen.filter_verdict == "right"
    weak = from_data(frog(sample, {**POOL, "filter_l_h": 5}))
    assert pools_of(weak, kept.animals)[0].filter_verdict == "weak"
    strong = from_data(frog(sample, {**POOL, "filter_l_h": 500}))
    assert pools_of(strong, kept.animals)[0].filter_verdict == "strong"


def test_two_pools_share_what_is_eaten(sample: dict[str, Any]) -> None:
    other = {**POOL, "id": "pool-2", "at_m": [0.5, 0.3, 0.0]}
    request = from_data(frog(sample, POOL, other))
    animals = plan(request).animals
    alone = pools_of(from_data(frog(sample, POOL)), animals)[0].nitrogen.value
    assert [pool.nitrogen.value for pool in pools_of(request, animals)] == pytest.approx(
        [alone / 2, alone / 2]
    )


def test_hatchling_tortoises_are_soaked_nearly_daily_and_grown_ones_seldom(
    sample: dict[str, Any],
) -> None:
    data = frog(sample, species="Testudo hermanni")
    data["animals"] = [
        {"species": "Testudo hermanni", "mass_g": 20},
        {"species": "Testudo hermanni", "mass_g": 1500},
    ]
    request = from_data(data)
    young, grown = baths(request, plan(request).animals)
    assert young.per_week[0] >= 3 and grown.per_week[1] <= 1
    assert 0.003 < young.depth_m < 0.02 < grown.depth_m < 0.08
    assert young.water_c == (28.0, 32.0)
    assert baths(from_data(frog(sample)), plan(from_data(frog(sample))).animals) == ()


def test_water_weighs_and_dampens(sample: dict[str, Any]) -> None:
    from husbandry.findings.weight import weight_of

    bare, full = from_data(frog(sample)), from_data(frog(sample, POOL))
    assert dict(weight_of(full).parts)["water"] == pytest.approx(0.85 * 50)
    substrate = [dict(weight_of(one).parts)["substrate, moist"] for one in (bare, full)]
    assert substrate[0] - substrate[1] == pytest.approx(
        1.4 * 0.25 * 60
    )  # what it is let into is not there: 6 cm of soil
    damp = {"substrate": "dry"}
    pairs = []
    for data in (frog(sample), frog(sample, POOL)):
        data["enclosure"]["wetting"] = damp
        pairs.append(plan(from_data(data)).predictions["humidity_day"].value)
    assert pairs[1] > pairs[0] + 2


def test_only_a_pool_has_a_filter(sample: dict[str, Any]) -> None:
    from husbandry.errors import DocumentError

    data = frog(sample, POOL)
    data["items"][0]["filter_l_h"] = 100
    with pytest.raises(DocumentError) as why:
        from_data(data)
    assert why.value.problems[0].pointer == "/items/0/filter_l_h"


def test_profiles_that_want_water_say_how_deep() -> None:
    for species in (
        "Ranoidea aurea",
        "Bombina orientalis",
        "Ambystoma mexicanum",
        "Sternotherus odoratus",
    ):
        needs = find(species).enclosure
        assert needs.water_share[1] > 0 and needs.water_depth_m is not None


def test_a_young_swimmer_is_not_asked_for_the_water_of_a_grown_one() -> None:
    """A hatchling python bathes in a deep bowl; a turtle's hatchling is kept in water of twice its
    shell's width or so (common practice, no source).
    """
    python, turtle = find("Python bivittatus"), find("Trachemys scripta")
    assert 0.05 <= least_depth_m(python, 0.6) < 0.08
    assert least_depth_m(python, 3.0) == 0.2
    assert 2 * 0.03 * 0.8 < least_depth_m(turtle, 0.035) < 0.1
    assert least_depth_m(turtle, 0.2) == 0.2
    assert least_depth_m(find("Eublepharis macularius"), 0.2) == 0.0


def test_a_tall_vessel_wants_a_way_in(sample: dict[str, Any]) -> None:
    """Seventeen centimetres of wall for a frog of eight; a root up to the rim, or substrate as
    deep, leads in.
    """
    tall = {**POOL, "at_m": [1.0, 0.3, 0.0], "size_m": [0.7, 0.58, 0.25]}
    assert "no way in" in slugs(frog(sample, tall), 0.08)
    low_stone = frog(sample, tall)
    low_stone["items"].append(
        {
            "id": "low",
            "kind": "slab",
            "at_m": [0.6, 0.3, 0.06],
            "size_m": [0.1, 0.2, 0.03],
            "material": "stone",
        }
    )
    assert "no way in" in slugs(low_stone, 0.08)
    root = frog(sample, tall)
    root["items"].append(
        {"id": "root", "kind": "branch", "at_m": [0.6, 0.3, 0.06], "size_m": [0.12, 0.06, 0.19]}
    )
    assert not {"no way in", "no way out"} & slugs(root, 0.08)
