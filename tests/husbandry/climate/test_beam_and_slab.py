"""Acceptance checks 1 to 7, 9 to 12 and 21 (source: heat 7): against quadrature, closed forms,
finite volumes and the package ht.
"""

import math

import numpy as np
import pytest
from ht.conv_free_immersed import Nu_horizontal_plate_McAdams
from hypothesis import given
from hypothesis import strategies as st
from scipy import integrate
from scipy.fft import dctn

from husbandry.climate.air import air_at, plate_convection, surface_balance
from husbandry.climate.beam import beam_of, flood_irradiance, lobe_exponent
from husbandry.climate.slab import (
    CELLS,
    HeatedSlab,
    SlabLayer,
    admittance,
    cosines,
    excess_map,
    spot_weights,
    surface_from_infrared,
    wave_numbers,
)
from husbandry.enclosure.equipment import HEATERS

FLOOD = beam_of(HEATERS["halogen_flood"])


def test_lobe_exponents() -> None:  # definition of the half-maximum beam angle
    assert lobe_exponent(60) == pytest.approx(4.818842, abs=1e-6)
    assert lobe_exponent(30) == pytest.approx(19.993727, abs=1e-6)


@pytest.mark.parametrize(
    "kind", ["halogen_flood", "halogen_spot", "ceramic_emitter", "infrared_panel"]
)
def test_the_beam_integrates_to_its_power(kind: str) -> None:  # conservation, scipy quadrature
    beam = beam_of(HEATERS[kind])
    total, _ = integrate.quad(
        lambda r: 2 * math.pi * r * float(beam.irradiance(0.3, np.array([r]))[0]),
        0,
        60,
        limit=400,
        points=[0.1, 0.5, 2],
    )
    assert 100 * total == pytest.approx(
        100 * HEATERS[kind].beam_share, rel=1e-4
    )  # beyond 60 m lies less than that


# Source: heat 7, checks 3 and 4: independent scipy quadrature of the lobe.
@pytest.mark.parametrize(
    ("d", "r", "e"),
    [
        (0.25, 0, 449.557),
        (0.28, 0, 378.991),
        (0.30, 0, 340.792),
        (0.34, 0, 279.880),
        (0.40, 0, 215.115),
        (0.28, 0.1, 286.271),
        (0.28, 0.2, 136.861),
    ],
)
def test_irradiance_under_a_hundred_watt_flood(d: float, r: float, e: float) -> None:
    assert flood_irradiance(100, "halogen_flood", d, r) == pytest.approx(e, rel=1e-4)


def test_power_on_a_stone() -> None:  # scipy dblquad, source: heat 7, check 4
    total, _ = integrate.dblquad(
        lambda y, x: float(FLOOD.irradiance(0.28, np.array([math.hypot(x, y)]))[0]),
        -0.15,
        0.15,
        -0.15,
        0.15,
    )
    assert 100 * total == pytest.approx(23.405, rel=5e-3)


def test_far_field_is_the_inverse_square() -> None:
    near, far = (float(FLOOD.irradiance(d, np.array([0.0]))[0]) for d in (20.0, 40.0))
    assert math.log(far / near) / math.log(2) == pytest.approx(-1.994, abs=0.002)


def test_element_to_disc_view_factor() -> None:  # dblquad of the kernel, source: heat 7, check 6
    from husbandry.climate.beam import Beam

    disc = Beam(1.0, None, 0.15)
    assert math.pi * 0.15**2 * float(disc.irradiance(0.3, np.array([0.2]))[0]) == pytest.approx(
        0.11662116, abs=1e-6
    )


@given(d=st.floats(0.1, 2), r=st.floats(0, 1))
def test_irradiance_falls_with_distance_on_the_axis_and_sideways(d: float, r: float) -> None:
    on_axis = FLOOD.irradiance(d, np.array([0.0]))[0]
    assert FLOOD.irradiance(d * 1.1, np.array([0.0]))[0] < on_axis
    assert (
        FLOOD.irradiance(d, np.array([r + 0.01]))[0]
        < FLOOD.irradiance(d, np.array([r]))[0]
        <= on_axis
    )


@pytest.mark.parametrize(
    ("surface", "air", "length"), [(42, 27, 0.075), (60, 25, 0.3), (20, 26, 0.1)]
)
def test_plate_convection_is_mcadams(
    surface: float, air: float, length: float
) -> None:  # Python package ht 1.2
    film = (surface + air) / 2
    fluid = air_at(film)
    grashof = 9.80665 / (film + 273.15) * abs(surface - air) * length**3 / fluid.viscosity_m2_s**2
    nusselt = Nu_horizontal_plate_McAdams(Pr=0.71, Gr=grashof, buoyancy=surface >= air)
    assert plate_convection(surface, air, length) == pytest.approx(
        nusselt * fluid.conductivity_w_mk / length, rel=0.02
    )


def test_surface_balance_closes() -> None:
    t = surface_balance(300, 0.75, 28, 27, 0.93, 0.075)
    out = plate_convection(t, 28, 0.075) * (t - 28) + 0.93 * 5.670374419e-8 * (
        (t + 273.15) ** 4 - 300.15**4
    )
    assert out == pytest.approx(225, rel=1e-6)


def _slab(material: tuple[float, float], thickness: float, base: float = 50.0) -> HeatedSlab:
    k, alpha = material
    return HeatedSlab(0.15, 0.15, 0.08, 0.3, 0.3, thickness, k, 2600, 850, alpha, 0.93, (), base)


# Source: heat 7, checks 10 and 11: three-dimensional finite volumes, h 11 on top, 50 W/m²K to 26 °C
# below, air and walls at 28 °C.
@pytest.mark.parametrize(
    ("material", "thickness", "peak", "mean", "tolerance"),
    [((2.2, 0.75), 0.03, 32.89, 31.33, 0.3), ((0.13, 0.65), 0.04, 44.82, 39.60, 0.4)],
)
def test_slab_map_against_finite_volumes(
    material: tuple[float, float], thickness: float, peak: float, mean: float, tolerance: float
) -> None:
    slab = _slab(material, thickness)
    x, y = slab.cells()
    absorbed = (
        material[1] * 100 * FLOOD.irradiance(0.28, np.hypot(x[:, None] - 0.15, y[None, :] - 0.15))
    )
    uniform = 1 / (1 / 50 + thickness / material[0])
    average = (absorbed.mean() + 11 * 28 + uniform * 26) / (11 + uniform)
    field = average + excess_map(absorbed, slab, 11.0)
    assert average == pytest.approx(mean, abs=tolerance)
    assert field.max() == pytest.approx(peak, abs=tolerance)
    assert field.mean() == pytest.approx(average, abs=1e-9)


def test_the_cosine_transform_is_that_of_scipy() -> None:
    """Reference library: scipy.fft."""
    flux = np.random.default_rng(1).random((3, CELLS, CELLS))
    waves = cosines(CELLS)
    assert waves @ flux @ waves.T == pytest.approx(dctn(flux, norm="ortho", axes=(-2, -1)))
    assert waves.T @ waves == pytest.approx(np.eye(CELLS), abs=1e-12)


def test_a_deep_slab_under_a_disc_source_is_carslaw_and_jaeger(
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    """Mean over the disc 8 q a / (3 π k), peak q a / k (H.

    S. Carslaw & J. C. Jaeger, Conduction of Heat in Solids, 1959; from memory).
    """
    monkeypatch.setattr(
        "husbandry.climate.slab.CELLS", 300
    )  # the product's 24 cells cannot show a disc of 10 cm on a slab this wide
    k, a, q, side, deep = 2.0, 0.05, 1006.0, 1.5, 0.5
    slab = HeatedSlab(side / 2, side / 2, deep, side, side, deep, k, 1, 1, 1, 1, (), 1e6)
    x, y = slab.cells()
    r = np.hypot(x[:, None] - side / 2, y[None, :] - side / 2)
    share = np.clip((a - r) / (side / 300) + 0.5, 0, 1)
    share *= math.pi * a**2 / (share.sum() * (side / 300) ** 2)
    rise = excess_map(q * share, slab, 1e-6) + q * (share.mean() * deep / k)
    # A cold base half a metre down takes q a² ln 2 / (4 k t) off both, by the images of the disc.
    base = q * a**2 * math.log(2) / (4 * k * deep)
    assert rise.max() == pytest.approx(q * a / k - base, rel=0.03)
    assert (rise * share).sum() / share.sum() == pytest.approx(
        8 * q * a / (3 * math.pi * k) - base, rel=0.03
    )


def test_layers_in_series_add_their_resistances_in_the_uniform_mode() -> None:
    layers = (SlabLayer(0.5, 0.05, 0.02), SlabLayer(0.13, 0.018))
    slab = HeatedSlab(0, 0, 0.1, 0.3, 0.3, 0.03, 2.2, 1, 1, 1, 1, layers, 1 / 0.17)
    uniform = admittance(wave_numbers(slab), slab)[0, 0]
    assert 1 / uniform == pytest.approx(0.03 / 2.2 + 0.02 + 0.05 / 0.5 + 0.018 / 0.13 + 0.17)


def test_the_spot_is_a_mean_at_the_hottest_place() -> None:
    slab = _slab((2.2, 0.75), 0.03)
    field = np.zeros((CELLS, CELLS))
    field[10, 14] = 5.0
    weights = spot_weights(slab, field, 0.05)
    assert weights.sum() == pytest.approx(1)
    assert weights[10, 14] > 0 and weights[0, 0] == 0


def test_an_infrared_thermometer_set_too_high_reads_low() -> (
    None
):  # grey-body arithmetic, source: heat 7, check 21
    assert surface_from_infrared(44.13, 0.95, 0.90, 27) == pytest.approx(45.0, abs=0.02)
    assert surface_from_infrared(40, 0.93, 0.93, 21) == pytest.approx(40)
