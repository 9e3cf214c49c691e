"""The bed and the weight of an enclosure: arithmetic of litres and bags, masses from densities,
loads against design loads.
"""

import json
from pathlib import Path
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from husbandry.documents.request_json import from_data
from husbandry.enclosure.substrate_layers import (
    LOOSE_MATERIALS,
    SubstrateLayer,
    amount_derivation,
    bags,
    bed_of,
)
from husbandry.errors import DocumentError
from husbandry.findings.substrate_findings import (
    bed_found,
    depth_needed_m,
    judge_bed,
    rescaled,
    wanted,
    why_not,
    with_bed,
)
from husbandry.findings.weight import buried_l, layers_of, weight_of
from husbandry.predict.need_states import look
from husbandry.species.library import library

SAMPLE = Path(__file__).parents[3] / "docs" / "samples" / "request.json"


def data(**substrate: Any) -> dict[str, Any]:
    found: dict[str, Any] = json.loads(SAMPLE.read_text(encoding="utf-8"))
    found["readings"] = []
    found["enclosure"]["substrate"] |= substrate
    return found


def test_the_notes_example_of_a_mix() -> None:
    """90 × 45 cm, 10 cm, 1 : 1 : 0.2, settling 15 %: 21.66, 21.66 and 4.33 l, in bags of 20, 8 and
    12 l two, three and one (source: substrate B1).
    """
    litres = 0.9 * 0.45 * 0.1 * 1000 / (1 - 0.15) / 2.2
    assert litres == pytest.approx(21.66, abs=0.01)
    assert [bags(litres, 20), bags(litres, 8), bags(0.2 * litres, 12)] == [2, 3, 1]
    made = bed_of(
        0.9 * 0.45,
        [SubstrateLayer(0.1, {"topsoil": 1, "coir": 1, "clay_sand": 0.2})],
        bag_l={"topsoil": 20, "coir": 8, "clay_sand": 12},
    )
    by_name = {amount.material.name: amount for amount in made.amounts}
    assert (
        by_name["topsoil"].litres
        == pytest.approx(by_name["coir"].litres)
        == pytest.approx(5 * by_name["clay_sand"].litres)
    )
    assert made.settled_l == pytest.approx(40.5)


def test_exactly_full_bags_are_not_one_more() -> None:
    assert bags(0.8 * 0.5 * 0.1 * 1000, 20) == 2 and bags(40.01, 20) == 3 and bags(0, 20) == 0


@given(
    depth=st.floats(0.01, 0.5),
    area=st.floats(0.05, 4),
    one=st.floats(0.1, 10),
    other=st.floats(0.1, 10),
)
def test_settling_makes_no_mass_and_layers_add_up(
    depth: float, area: float, one: float, other: float
) -> None:
    layer = SubstrateLayer(depth, {"topsoil": one, "moss": other})
    bed = bed_of(area, [layer])
    loose = sum(amount.litres for amount in bed.amounts)
    assert loose * (1 - layer.settling) == pytest.approx(bed.settled_l, rel=1e-9)
    assert bed.dry_kg == pytest.approx(sum(a.litres * a.material.dry_kg_l for a in bed.amounts))
    assert bed.moist_kg == pytest.approx(bed.dry_kg + bed.water_l)
    assert all(0 <= amount.left_l < amount.bag_l + 1e-6 for amount in bed.amounts)
    twice = bed_of(area, [layer, layer])
    assert twice.moist_kg == pytest.approx(2 * bed.moist_kg)


def test_a_drained_layer_holds_its_pores() -> None:
    """90 × 45 × 4 cm of expanded clay: 7.3 l to the brim, 5.1 l at seven tenths (source: substrate
    B1).
    """
    bed = bed_of(
        0.405, [SubstrateLayer(0.04, {"expanded_clay": 1}), SubstrateLayer(0.08, {"topsoil": 1})]
    )
    assert bed.drainage_l == pytest.approx(
        7.3, abs=0.05
    ) and 0.7 * bed.drainage_l == pytest.approx(5.1, abs=0.05)
    assert bed_of(0.405, [SubstrateLayer(0.04, {"topsoil": 1})]).drainage_l == 0


def test_bulk_densities_are_moist_heavier_than_dry_and_in_the_range_of_earths() -> None:
    """Dry loose soils 1.0 to 1.3, sands 1.4 to 1.7 kg/l (handbooks of soil mechanics; from memory)."""
    assert all(one.moist_kg_l > one.dry_kg_l for one in LOOSE_MATERIALS.values())
    assert (
        1.0 <= LOOSE_MATERIALS["topsoil"].dry_kg_l <= 1.3
        and 1.4 <= LOOSE_MATERIALS["sand"].dry_kg_l <= 1.7
    )


# --- the enclosure --------------------------------------------------------------------------------


def test_a_glass_enclosure_weighs_what_its_panes_do() -> None:
    """90 × 45 × 60 cm of glass at 2.5 kg/l: front and back full length, base full; 6 mm weigh 30.2
    kg (source: substrate B2), ours are 5 mm and inner measures.
    """
    bare = data(depth_m=0, material="paper")
    bare["items"] = []
    bare["enclosure"] |= {
        "inside_m": {"length": 0.9, "depth": 0.45, "height": 0.6},
        "panels": dict.fromkeys(("front", "back", "left", "right", "bottom"), "glass"),
        "lid": {"material": "glass", "mesh": "quarter_inch", "mesh_share": 1.0},
    }
    named = dict(weight_of(from_data(bare)).parts)
    assert named["enclosure"] == pytest.approx(30.2 * 5 / 6 * 1.1, rel=0.05)


def test_load_per_area_and_foot() -> None:
    """147 kg on 90 × 45 cm: 3.56 kPa, 0.36 kN a foot (source: substrate B2)."""
    light = data(depth_m=0)
    light["items"] = []
    light["enclosure"]["inside_m"] = {"length": 0.9, "depth": 0.45, "height": 0.5}
    request = from_data(light)
    without = weight_of(request).total.value
    made = weight_of(request, stand_kg=147 - without)
    assert made.pressure.value == pytest.approx(3.56, abs=0.01) and made.foot_kn == pytest.approx(
        0.36, abs=0.005
    )
    assert (
        made.care == "spread"
        and weight_of(request).care == "plain"
        and weight_of(request, stand_kg=400).care == "ask"
    )
    assert weight_of(request, stand_m=1.0).anchored and not weight_of(request).anchored


def test_its_parts_are_the_whole_and_named_layers_replace_the_guess() -> None:
    guessed = weight_of(from_data(data()))
    assert guessed.bed is None and sum(mass for _, mass in guessed.parts) == pytest.approx(
        guessed.total.value
    )
    named = weight_of(from_data(data(layers=[{"depth_m": 0.06, "parts": {"coir": 1}}])))
    assert (
        named.bed is not None
        and dict(named.parts)["substrate, moist"] < 0.6 * dict(guessed.parts)["substrate, moist"]
    )


# --- another bed ----------------------------------------------------------------------------------


def test_what_stands_on_the_substrate_rises_with_it() -> None:
    request = from_data(data())
    made = with_bed(
        request,
        [
            SubstrateLayer(0.04, {"expanded_clay": 1}),
            SubstrateLayer(0.08, {"topsoil": 2, "sand": 1}),
        ],
    )
    assert made.enclosure.substrate.depth_m == pytest.approx(0.12) and layers_of(made)[
        1
    ].parts == {"topsoil": 2, "sand": 1}
    assert made.item("stone-1").at_m[2] == pytest.approx(request.item("stone-1").at_m[2] + 0.06)
    assert made.item("lamp-1").at_m == request.item("lamp-1").at_m
    assert buried_l(made) == 0 and made.enclosure.substrate.material == "soil"
    assert (
        with_bed(
            request, [SubstrateLayer(0.05, {"sand": 4, "topsoil": 1})]
        ).enclosure.substrate.material
        == "sand"
    )


def test_a_bed_that_does_not_fit_is_refused() -> None:
    with pytest.raises(DocumentError):
        with_bed(from_data(data()), [SubstrateLayer(0.5, {"topsoil": 1})])


@pytest.mark.parametrize(
    ("layers", "said"),
    [
        ([{"depth_m": 0.06, "parts": {"moondust": 1}}], "no substrate “moondust”"),
        ([{"depth_m": 0.06, "parts": {"topsoil": 0}}], "at least one part"),
        ([{"depth_m": 0.06, "parts": {"topsoil": -1}}], "at least 0"),
        ([{"depth_m": 0.02, "parts": {"topsoil": 1}}], "layers are 0.02 m together"),
    ],
)
def test_layers_that_cannot_be_are_refused(layers: list[dict[str, Any]], said: str) -> None:
    with pytest.raises(DocumentError, match=said):
        from_data(data(layers=layers))


def test_a_bed_keeps_its_mix_at_another_depth() -> None:
    bed = (SubstrateLayer(0.03, {"expanded_clay": 1}), SubstrateLayer(0.05, {"topsoil": 1}))
    assert [layer.depth_m for layer in rescaled(bed, 0.12)] == [0.03, pytest.approx(0.09)]
    assert sum(layer.depth_m for layer in rescaled(bed, 0.02)) == pytest.approx(0.02, abs=1e-4)
    assert rescaled((), 0.1) == () and rescaled(bed, 0) == ()


def test_a_bed_is_judged_by_the_species_and_by_how_beds_are_laid() -> None:
    request = from_data(data())
    spec = wanted(request, look(request).occupants)
    needed = depth_needed_m(request, look(request).occupants)
    assert spec is not None and spec.depth_m.low == needed

    def said(**substrate: Any) -> list[str]:
        return [one.slug for one in bed_found(from_data(data(**substrate)), needed)]

    assert said(material="soil", depth_m=0.01) == ["substrate shallow"]
    assert (
        said(material="soil", depth_m=needed) == said(material="sand", depth_m=0.95 * needed) == []
    )
    slope = {"deep_at": "left", "rise_m": 0.5 * needed}
    assert (
        said(material="soil", depth_m=0.6 * needed, slope=slope) == []
    )  # its deep end is deep enough
    assert said(material="paper", depth_m=0.002) == ["substrate bare"]
    deep = judge_bed([SubstrateLayer(0.6, {"topsoil": 1})], spec, burrows=False)
    assert {finding.slug for finding in deep} == {"deep"}
    above = [SubstrateLayer(0.1, {"topsoil": 1}), SubstrateLayer(0.03, {"gravel": 1})]
    assert {"drainage above", "swallowed"} <= {
        finding.slug for finding in judge_bed(above, None, burrows=False)
    }
    assert {"no burrow"} <= {
        finding.slug
        for finding in judge_bed([SubstrateLayer(0.2, {"moss": 1})], None, burrows=True)
    }
    sound = [
        SubstrateLayer(0.04, {"expanded_clay": 1}),
        SubstrateLayer(0.15, {"topsoil": 1, "sand": 1}),
        SubstrateLayer(0.02, {"leaves": 1}),
    ]
    assert judge_bed(sound, None, burrows=True) == []


def test_every_substrate_that_a_profile_avoids_says_why() -> None:
    """In its own words, or in the table's."""
    silent = [
        avoided
        for profile in library().values()
        for spec in profile.substrate
        for avoided in spec.avoid
        if not why_not(avoided)
        and not any(said in avoided for said in (":", "whose", "that ", "swallow", "too "))
    ]
    # These say it by themselves: what is on top, or there for good.
    assert set(silent) <= {"gravel on top", "gravel of its mouth's size"}, silent
    assert "clumps" in why_not("calcium sand") and not why_not("peat alone: too sour")


def test_the_working_of_a_material_is_its_sum() -> None:
    layers = [
        SubstrateLayer(0.04, {"expanded_clay": 1}),
        SubstrateLayer(0.10, {"topsoil": 1, "coir": 1, "clay_sand": 0.2}),
    ]
    made = bed_of(0.405, layers, buried_l=2.0)
    soil = next(amount for amount in made.amounts if amount.material.name == "topsoil")
    derivation = amount_derivation(0.405, layers, soil, buried_l=2.0)
    given = {one.name: one.value for one in derivation.inputs}
    area, depth, part = (
        given[name] or 0.0
        for name in (
            "floor",
            "layer 2 from below: depth once settled",
            "layer 2 from below: part of its mix",
        )
    )
    settling, buried = (
        given["layer 2 from below: settling of the mix"] or 0.0,
        given["what stands in the upper layer"] or 0.0,
    )
    assert (
        derivation.value
        == soil.litres
        == pytest.approx((1000 * area * depth - buried) / (1 - settling) * part)
    )
    assert (
        derivation.sources[0].kind == "from memory"
        and "layer 1 from below: part of its mix" not in given
    )
