"""Acceptance checks (source: uv 13; source: humidity A1): quadrature, ISO/CIE 17166, steam tables,
reference libraries.
"""

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy import integrate

from husbandry.climate.daylight import day_length
from husbandry.climate.mesh import mesh_transmission, oblique_transmission
from husbandry.climate.spectrum import erythema_weight
from husbandry.climate.tube import (
    line_factor,
    line_factor_mesh,
    tube_distance,
    tube_geometry,
    tube_uvi,
)
from husbandry.climate.uv import (
    UvSource,
    coverage,
    total_uvi,
    uv_age_share,
    uvi_at,
    uvi_with_spread,
)
from husbandry.climate.vapour import dew_point, rh_elsewhere, saturation_vapour_pressure
from husbandry.enclosure.equipment import UV_LAMPS
from husbandry.errors import NoSolutionError


# Source: uv 13: adaptive quadrature.
@pytest.mark.parametrize(
    ("x1", "x2", "h", "y", "g"),
    [
        (-0.55, 0.55, 0.3, 0, 4.97277),
        (0, 1.1, 0.3, 0, 2.59732),
        (-0.55, 0.55, 0.3, 0.3, 2.32894),
        (-0.95, 0.15, 0.25, 0, 5.08237),
        (-0.55, 0.55, 0.02, 0, 78.5382),
    ],
)
def test_line_factor(x1: float, x2: float, h: float, y: float, g: float) -> None:
    assert float(line_factor(x1, x2, h, y)) == pytest.approx(g, rel=1e-4)


@given(
    x1=st.floats(-1, 0), length=st.floats(0.1, 1.5), h=st.floats(0.08, 1), y=st.floats(-0.5, 0.5)
)
def test_line_factor_equals_quadrature(x1: float, length: float, h: float, y: float) -> None:
    """Lambert: intensity per length ∝ sin of the angle from the axis; receiver cosine h/r; so the
    kernel is h ρ / r⁴.
    """
    rho = math.hypot(h, y)
    expected, _ = integrate.quad(lambda x: h * rho / (rho * rho + x * x) ** 2, x1, x1 + length)
    assert float(line_factor(x1, x1 + length, h, y)) == pytest.approx(expected, rel=1e-6)


def test_near_and_far_limits_of_a_tube() -> None:
    assert float(line_factor(-1, 1, 0.01)) == pytest.approx(math.pi / 0.02, rel=1e-3)
    assert float(line_factor(-0.5, 0.5, 20)) == pytest.approx(1 / 400, rel=1e-2)


def test_through_a_mesh_at_right_angles_to_the_tube() -> (
    None
):  # source: uv 13: k .1, L 1.1, h .3: share .79408 by closed form
    one = np.array([-0.55]), np.array([0.55]), np.array([0.3])
    assert float(line_factor_mesh(*one, 0.0, 0.1)[0] / line_factor(*one)[0]) == pytest.approx(
        0.79408, rel=1e-4
    )
    assert float(line_factor_mesh(*one, 0.0, 0.0)[0]) == pytest.approx(
        float(line_factor(*one)[0]), rel=1e-6
    )


# Source: uv 3, mesh table: ray casting.
@pytest.mark.parametrize(
    ("wire", "pitch", "shares"),
    [
        (0.28, 1.49, (0.66, 0.64, 0.60, 0.51)),
        (0.63, 6.35, (0.81, 0.80, 0.77, 0.72)),
        (1.0, 12.7, (0.85, 0.84, 0.82, 0.78)),
    ],
)
def test_mesh_at_angles(wire: float, pitch: float, shares: tuple[float, ...]) -> None:
    found = [
        float(oblique_transmission(wire / pitch, math.tan(math.radians(a)), 0.0))
        for a in (0, 30, 45, 60)
    ]
    assert found == pytest.approx(shares, abs=0.006)
    assert mesh_transmission(wire, pitch) == pytest.approx(shares[0], abs=0.006)


def test_a_common_lid_costs_about_a_third() -> None:
    """“A common lid costs about 30 %, so 10 % acts like 7 %” (common practice, no source)."""
    assert 0.62 < mesh_transmission(0.28, 1.49) < 0.75


def test_tube_distance_bare_and_in_a_reflector() -> (
    None
):  # source: uv 13: K .54296; 2.6 at .3102 m bare, .5002 m with 1.8 times the strength
    assert 2.7 / tube_geometry(1.1, 0.3) == pytest.approx(0.54296, rel=1e-3)
    assert tube_distance(2.7, 0.3, 1.1, 2.6) == pytest.approx(0.3102, rel=1e-3)
    assert tube_distance(2.7 * 1.8, 0.3, 1.1, 2.6) == pytest.approx(0.5002, rel=1e-3)
    with pytest.raises(NoSolutionError):
        tube_distance(0.2, 0.3, 1.1, 29)


@given(d=st.floats(0.1, 1), target=st.floats(0.3, 6))
def test_distance_inverts_uvi(d: float, target: float) -> None:
    uvi = tube_uvi(target, 0.3, 0.85, d)
    assert tube_distance(target, 0.3, 0.85, uvi) == pytest.approx(d, rel=1e-6)


def tube(**changes: object) -> UvSource:
    given_: dict[str, object] = {
        "lamp": UV_LAMPS["t5_12"],
        "x_m": 0.6,
        "y_m": 0.3,
        "z_m": 0.5,
        "length_m": 1.15,
    }
    return UvSource(**{**given_, **changes})  # type: ignore[arg-type]


def test_the_class_table_is_met_at_its_reference() -> None:
    assert float(uvi_at(tube(), np.array(0.6), 0.3, np.array(0.2))) == pytest.approx(2.7, rel=1e-6)
    assert float(
        uvi_at(tube(reflector_gain=1.8), np.array(0.6), 0.3, np.array(0.2))
    ) == pytest.approx(4.86, rel=1e-6)


# Source: uv 4: distances for UVI 1 / 2 / 3 / 4.5 below a 1.15 m T5 tube of 10-12 %, bare: 65
# / 39 / 27 / 19 cm.
@pytest.mark.parametrize(("uvi", "cm"), [(1, 65), (2, 39), (3, 27), (4.5, 19)])
def test_distances_of_the_lamp_table(uvi: float, cm: float) -> None:
    assert 100 * tube_distance(2.7, 0.3, 1.1, uvi) == pytest.approx(cm, abs=0.6)


def flood(**changes: object) -> UvSource:
    given_: dict[str, object] = {"lamp": UV_LAMPS["uv_flood"], "x_m": 0.6, "y_m": 0.3, "z_m": 1.0}
    return UvSource(**{**given_, **changes})  # type: ignore[arg-type]


# Source: uv 4: distances for UVI 1 / 2 / 3 / 4.5 under a metal halide flood, half angle 20°,
# source 5 cm behind its face: 81 / 56 / 45 / 35 cm.
@pytest.mark.parametrize(("uvi", "cm"), [(1, 81), (2, 56), (3, 45), (4.5, 35)])
def test_distances_under_a_flood(uvi: float, cm: float) -> None:
    assert float(uvi_at(flood(), np.array(0.6), 0.3, np.array(1 - cm / 100))) == pytest.approx(
        uvi, rel=0.04
    )


def test_half_of_a_floods_index_lies_at_a_known_radius() -> None:
    """s50 = H √(0.5^(−2/(m+3)) − 1), H from the source point (Source: uv 2)."""
    exponent = math.log(0.5) / math.log(math.cos(math.radians(20)))
    depth = 0.3 + 0.05
    s50 = depth * math.sqrt(0.5 ** (-2 / (exponent + 3)) - 1)
    middle, side = uvi_at(flood(), np.array([0.6, 0.6 + s50]), 0.3, np.full(2, 0.7))
    assert side / middle == pytest.approx(0.5, rel=1e-9)


def test_a_mesh_dims_a_flood_by_its_open_area_on_the_axis() -> None:
    bare, meshed = (
        float(uvi_at(flood(wire_share=k), np.array(0.6), 0.3, np.array(0.6))) for k in (0.0, 0.19)
    )
    assert meshed / bare == pytest.approx((1 - 0.19) ** 2)


def test_lamps_add_and_nothing_shines_upwards() -> None:
    x, z = np.linspace(0, 1.2, 7), np.full(7, 0.2)
    both = total_uvi((tube(), tube(x_m=0.3)), x, 0.3, z)
    assert both == pytest.approx(uvi_at(tube(), x, 0.3, z) + uvi_at(tube(x_m=0.3), x, 0.3, z))
    assert float(uvi_at(tube(), np.array(0.6), 0.3, np.array(0.55))) == 0


def test_a_mesh_dims_more_towards_the_ends() -> None:
    bare, meshed = (
        uvi_at(
            tube(length_m=0.9, x_m=0.0, wire_share=k), np.array([0.0, 0.9]), 0.3, np.full(2, 0.2)
        )
        for k in (0.0, 0.19)
    )
    middle, end = meshed / bare
    assert middle == pytest.approx(0.637, abs=0.006) and end == pytest.approx(
        0.43, abs=0.02
    )  # Source: uv 3: 0.637 and 0.43


def test_spread_is_that_of_the_class() -> None:
    assert uvi_with_spread((tube(),), 0.6, 0.3, 0.2).ln_sd == pytest.approx(math.hypot(0.45, 0.15))
    assert uvi_with_spread((), 0.6, 0.3, 0.2).uvi == 0
    two = uvi_with_spread((tube(), tube()), 0.6, 0.3, 0.2)
    assert two.ln_sd == pytest.approx(math.hypot(0.45, 0.15) / math.sqrt(2))


def test_coverage_of_a_tube_over_half_of_the_length() -> None:
    found = coverage((tube(length_m=0.85, x_m=0.45),), 1.5, 0.3, 0.2, 1.5, 4.0)
    assert 0.3 < found.in_range < 0.65 and found.shade > 0.2 and found.strongest_uvi < 4


@pytest.mark.parametrize(
    ("nm", "weight"),
    [
        (298, 1),
        (300, 0.64863),
        (310, 0.074473),
        (320, 0.0085507),
        (328, 0.00151356),
        (340, 0.001),
        (400, 0.000125893),
        (249, 0),
        (401, 0),
    ],
)
def test_erythema_weight(nm: float, weight: float) -> None:  # ISO/CIE 17166:2019
    assert erythema_weight(nm) == pytest.approx(weight, rel=1e-5)


def test_ageing() -> None:
    assert (
        uv_age_share(100, 4500) == 1
        and uv_age_share(4500, 4500) == pytest.approx(0.7)
        and uv_age_share(0, 4500) == pytest.approx(1.12)
    )


# Source: uv 13: pvlib solar position algorithm.
@pytest.mark.parametrize(
    ("lat", "date", "minutes"),
    [
        (0, "2026-06-21", 727.4),
        (-23.5, "2026-12-21", 815.3),
        (35, "2026-02-10", 646.6),
        (45, "2026-08-15", 845.0),
        (55, "2026-12-21", 430.1),
    ],
)
def test_day_length(lat: float, date: str, minutes: float) -> None:
    assert 60 * day_length(lat, date) == pytest.approx(minutes, abs=1)


def test_polar_day_and_night_are_results() -> None:
    assert day_length(80, "2026-06-21") == 24 and day_length(80, "2026-12-21") == 0


@pytest.mark.parametrize(
    ("kind", "cm"), [("compact_5", (17, 11, 8, 6)), ("compact_10", (28, 19, 15, 11))]
)
def test_compact_lamps_at_the_distances_of_the_lamp_table(kind: str, cm: tuple[int, ...]) -> None:
    """UVI 1, 2, 3 and 4 below a bare compact lamp of the middle of its class (science note on
    ultraviolet, table of classes; from memory).
    """
    source = UvSource(UV_LAMPS[kind], 0.5, 0.3, 0.5)
    for wanted, distance in zip(
        (1, 2, 3, 4), cm, strict=True
    ):  # the table's are whole centimetres
        found = [
            float(uvi_at(source, np.array(0.5), 0.3, np.array(0.5 - (distance + off) / 100)))
            for off in (-1.3, 1.3)
        ]
        assert found[0] > wanted > found[1]


def test_a_compact_lamp_leaves_most_of_an_enclosure_dark() -> None:
    """Coil lamps leave most of a 120 cm enclosure dark, a tube covers it (common practice, no
    source).
    """
    coil, tube = (
        UvSource(UV_LAMPS["compact_10"], 0.3, 0.3, 0.5),
        UvSource(UV_LAMPS["t5_12"], 0.5, 0.3, 0.5, length_m=0.85),
    )
    shares = [coverage((source,), 1.2, 0.3, 0.2, 1.0, 4.0).in_range for source in (coil, tube)]
    assert shares[0] < 0.3 < 0.6 < shares[1]


# Steam tables (IAPWS): saturation pressure over water.
@pytest.mark.parametrize(("t", "pa"), [(5, 872.6), (15, 1705.8), (25, 3169.9), (35, 5628.6)])
def test_saturation(t: float, pa: float) -> None:
    assert saturation_vapour_pressure(t) == pytest.approx(pa, rel=5e-4)


# Source: humidity A1: psychrolib.
@pytest.mark.parametrize(
    ("rh", "t", "there", "result"),
    [
        (65, 24, 33, 38.5),
        (65, 24, 35, 34.5),
        (40, 24, 33, 23.7),
        (80, 24, 28, 63.1),
        (90, 22, 26, 70.8),
    ],
)
def test_rh_elsewhere(rh: float, t: float, there: float, result: float) -> None:
    assert rh_elsewhere(rh, t, there) == pytest.approx(result, abs=0.3)


def test_condensing_air_is_saturated_not_more() -> None:
    assert rh_elsewhere(50, 35, 22) == 100


@given(rh=st.floats(5, 100), t=st.floats(0, 45))
def test_dew_point_inverts_saturation(rh: float, t: float) -> None:
    assert saturation_vapour_pressure(dew_point(rh, t)) == pytest.approx(
        rh / 100 * saturation_vapour_pressure(t), rel=1e-6
    )
