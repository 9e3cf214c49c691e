import pytest

from husbandry.enclosure.equipment import HEATERS, MATERIALS, MESHES, UV_LAMPS
from husbandry.enclosure.geometry import Interior, tank_volume
from husbandry.enclosure.sizing import judge_size
from husbandry.species.library import find


# US trade tanks by outer inches against the gallons of their names' arithmetic (231 cubic inches,
# NIST Handbook 44).
@pytest.mark.parametrize(
    ("inches", "gallons"), [((36, 18, 16), 44.88), ((48, 24, 24), 119.69), ((30, 12, 12), 18.70)]
)
def test_tank_volumes(inches: tuple[float, float, float], gallons: float) -> None:
    assert tank_volume(*inches) == pytest.approx(gallons, abs=0.01)


def test_an_enclosure_in_litres_and_gallons() -> None:
    interior = Interior(0.60, 0.45, 0.45, 0.05)
    assert interior.volume_l == pytest.approx(121.5) and interior.volume_us_gal == pytest.approx(
        32.1, abs=0.05
    )  # source: substrate B2
    assert interior.air_height_m == pytest.approx(0.40)


def test_four_by_two_by_two_feet_is_the_dragons_least_enclosure() -> None:
    """120 × 60 × 60 cm = 4 × 2 × 2 ft (common practice, no source)."""
    dragon = find("Pogona vitticeps")
    found = judge_size(Interior(1.2, 0.6, 0.66, 0.05), dragon, "juvenile", 0.30, {})
    assert found.enough
    assert [s.needed_m for s in found.sides] == [1.2, 0.6, 0.6]
    assert not judge_size(Interior(0.9, 0.45, 0.45, 0.05), dragon, "juvenile", 0.30, {}).enough


def test_an_enclosure_may_stand_either_way_round() -> None:
    skink = find("Tiliqua scincoides")
    long, turned = (
        judge_size(Interior(a, b, 0.6, 0.05), skink, "adult", 0.5, {})
        for a, b in ((1.5, 0.6), (0.6, 1.5))
    )
    assert long.sides == turned.sides


def test_the_other_approach_is_named_with_its_number() -> None:
    skink = find("Tiliqua scincoides")
    room = judge_size(Interior(1.2, 0.5, 0.5, 0.05), skink, "adult", 0.5, {})
    minimum = judge_size(
        Interior(1.2, 0.5, 0.5, 0.05), skink, "adult", 0.5, {"how-big": "minimum"}
    )
    assert not room.enough and minimum.enough
    assert (
        room.other_approach == minimum.approach
        and room.other_needed_m is not None
        and room.other_needed_m[0] < room.sides[0].needed_m
    )


@pytest.mark.parametrize("heater", HEATERS.values(), ids=lambda h: h.kind)
def test_each_watt_of_a_heater_goes_somewhere(heater: object) -> None:
    assert heater.beam_share + heater.diffuse_share + heater.convective_share == pytest.approx(1)  # type: ignore[attr-defined]
    assert heater.source.text  # type: ignore[attr-defined]


# Plausible ranges by use: textbook property tables (from memory).
RANGES = {
    "panel": ((0.02, 1.2), (20, 2700)),
    "slab": ((0.08, 4), (300, 3000)),
    "substrate": ((0.05, 2.5), (100, 2500)),
}


@pytest.mark.parametrize("material", MATERIALS.values(), ids=lambda m: m.name)
def test_materials_row_by_row(material: object) -> None:
    k, density = RANGES[material.use]  # type: ignore[attr-defined]
    assert (
        k[0] <= material.conductivity_w_mk <= k[1]
        and density[0] <= material.density_kg_m3 <= density[1]
    )  # type: ignore[attr-defined]
    least_m = 0.0005 if material.open_share else 0.001  # type: ignore[attr-defined]
    assert 500 <= material.heat_capacity_j_kgk <= 2000 and least_m <= material.thickness_m <= 0.1  # type: ignore[attr-defined]


@pytest.mark.parametrize("lamp", UV_LAMPS.values(), ids=lambda lamp: lamp.kind)
def test_uv_classes_row_by_row(lamp: object) -> None:
    assert 0.2 <= lamp.uvi_low < lamp.uvi_mid < lamp.uvi_high <= 12  # type: ignore[attr-defined]
    assert 2000 <= lamp.t70_h <= 5500  # type: ignore[attr-defined]


def test_the_stronger_name_is_the_stronger_lamp_and_t8_is_weaker_than_t5() -> None:
    """Percent is a class, not an amount: T5 high output and T8 of one name differ two- to threefold
    (from memory).
    """
    assert UV_LAMPS["t5_6"].uvi_mid < UV_LAMPS["t5_12"].uvi_mid < UV_LAMPS["t5_14"].uvi_mid
    assert 2 <= UV_LAMPS["t5_12"].uvi_mid / UV_LAMPS["t8_12"].uvi_mid <= 3
    assert all(0 < mesh.wire_share < 0.3 for mesh in MESHES.values())
