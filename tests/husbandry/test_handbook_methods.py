"""Single relations that can be asked for by name, against reference libraries, independent numerics
and published numbers.
"""

import math

import ht
import numpy as np
import psychrolib
import pytest
from scipy.integrate import solve_bvp, solve_ivp

from husbandry.calibration.single_reading import likeliest_strength
from husbandry.climate.light import photon_flux_from_lux
from husbandry.climate.panels import (
    excess_along,
    panel_transmittance,
    plate_nusselt,
    slab_on_base_excess,
)
from husbandry.climate.probes import dimmer_share, lagged_reading
from husbandry.climate.salt_check import humidity_over_salt, salt_check_offset
from husbandry.climate.skin_loss import skin_water_loss
from husbandry.climate.tube import tube_distance, tube_distance_quantile
from husbandry.climate.uv import lamp_days_left
from husbandry.climate.vapour import humidity_ratio, water_to_raise
from husbandry.climate.ventilation import air_changes_from_drying
from husbandry.enclosure.tanks import glass_mass
from husbandry.errors import NoSolutionError
from husbandry.feeding.calcium import calcium_left, salad_calcium_ratio
from husbandry.feeding.energy import food_energy, meal_cover
from husbandry.feeding.prey import prey_width
from husbandry.forecast.power import schedule_energy
from husbandry.growth.condition_index import scaled_mass_index


@pytest.mark.parametrize("rayleigh", [1e2, 1e5, 1e8, 1e10, 1e12])
def test_the_plate_is_that_of_a_reference_library(rayleigh: float) -> None:
    """`ht`, Churchill and Chu for an upright plate; Grashof = Rayleigh / Prandtl."""
    reference = ht.conv_free_immersed.Nu_vertical_plate_Churchill(0.71, rayleigh / 0.71)
    assert plate_nusselt(rayleigh) == pytest.approx(reference, rel=1e-6)


@pytest.mark.parametrize(("temp_c", "rh_pct"), [(10, 30), (20, 60), (25, 50), (32, 85)])
def test_the_humidity_ratio_is_that_of_a_reference_library(temp_c: float, rh_pct: float) -> None:
    """PsychroLib, ASHRAE Handbook Fundamentals 2017."""
    psychrolib.SetUnitSystem(psychrolib.SI)
    reference = 1000 * psychrolib.GetHumRatioFromRelHum(temp_c, rh_pct / 100, 101_325)
    assert humidity_ratio(temp_c, rh_pct) == pytest.approx(reference, rel=0.005)


def test_the_air_along_an_enclosure_solves_its_equation() -> None:
    """θ″ = θ/λ², θ(0) = 10, θ′(L) = 0, by scipy's collocation."""
    length, decay = 1.2, 0.55
    x = np.linspace(0, length, 60)
    solved = solve_bvp(
        lambda _, y: np.vstack((y[1], y[0] / decay**2)),
        lambda a, b: np.array((a[0] - 10, b[1])),
        x,
        np.vstack((10 * np.exp(-x / decay), np.zeros_like(x))),
    )
    for at in (0.0, 0.4, 0.9, 1.2):
        assert excess_along(10, length, decay, at) == pytest.approx(solved.sol(at)[0], rel=1e-3)
    assert excess_along(10, length, decay, 5.0) == excess_along(10, length, decay, length)


def test_a_probe_follows_its_differential_equation() -> None:
    """dT/dt = (T_true − T)/τ, by scipy's Runge-Kutta."""
    run = solve_ivp(lambda _, t: (38 - t) / 90, (0, 300), [21], t_eval=[30, 120, 300], rtol=1e-8)
    for seconds, shown in zip(run.t, run.y[0], strict=True):
        assert lagged_reading(21, 38, 90, seconds) == pytest.approx(shown, rel=1e-5)


def test_a_dimmer_gives_all_below_its_band_and_nothing_above() -> None:
    """Common practice, no source."""
    assert dimmer_share(30, 20, 2) == 1 and dimmer_share(30, 35, 2) == 0
    assert dimmer_share(30, 30, 2) == 0.5
    felt = np.linspace(28, 32, 30)
    assert np.all(np.diff([dimmer_share(30, c, 2) for c in felt]) <= 0)


def test_layers_add_up_as_resistances() -> None:
    """ISO 6946: two layers are their resistances in a row; nothing but air films gives 1/0.26."""
    assert panel_transmittance(0, 1) == pytest.approx(1 / 0.26)
    both = 1 / panel_transmittance(0.01, 0.1, 0.02, 0.04)
    assert both == pytest.approx(0.26 + 0.1 + 0.5)
    assert slab_on_base_excess(300, 15, 0.02, 0.3) == pytest.approx(300 / 30)


def test_a_salt_says_what_its_table_says_and_an_instrument_is_told_its_offset() -> None:
    """Greenspan 1977 (from memory): 75.3 % over table salt, 32.8 % over magnesium chloride at 25 °C."""
    assert humidity_over_salt("table salt", 25) == pytest.approx(75.3, abs=0.05)
    assert humidity_over_salt("magnesium chloride", 25) == pytest.approx(32.8, abs=0.05)
    assert humidity_over_salt("table salt", 22.5) == pytest.approx(75.38, abs=0.01)
    assert salt_check_offset(80, "table salt", 25) < 0


def test_air_changes_bring_back_the_decay_they_come_from() -> None:
    """ASTM E741: what decays by e in an hour changes once an hour."""
    assert air_changes_from_drying(5, 5 / math.e, 1) == pytest.approx(1.0)
    assert air_changes_from_drying(5, 6, 1) == 0
    left = 8 * math.exp(-3.0 * 0.7)
    assert air_changes_from_drying(8, left, 0.7) == pytest.approx(3.0)


def test_water_for_damp_air_is_little() -> None:
    """Saturated air of 25 °C holds 23.0 g/m³ (steam tables)."""
    assert water_to_raise(1000, 25, 0, 100) == pytest.approx(23.05, rel=0.005)
    assert water_to_raise(1000, 25, 70, 50) == 0


def test_a_reading_pulls_by_how_well_it_is_known() -> None:
    """The mode of prior times likelihood, found by scanning."""
    predicted, reading, prior, error = 5.0, 3.2, 0.35, 0.15
    grid = np.linspace(-1.5, 1.5, 300_001)
    misfit = (grid / prior) ** 2 + ((math.log(reading / predicted) - grid) / error) ** 2
    scanned = math.exp(grid[int(np.argmin(misfit))])
    assert likeliest_strength(predicted, reading, prior, error) == pytest.approx(scanned, rel=1e-4)
    assert likeliest_strength(5, 5, prior, error) == 1


def test_a_frog_dries_by_area_deficit_and_resistance() -> None:
    """An ordinary frog of 10 g loses several per cent of its mass in an hour of half-dry air (Wygoda
    1984, from memory); a waxy tree frog a tenth of it; none in air that is full.
    """
    ordinary = skin_water_loss(10, 25, 25, 50)
    assert 0.02 * 10 < ordinary < 0.08 * 10
    assert skin_water_loss(10, 25, 25, 50, 20.0) == pytest.approx(ordinary / 10)
    assert skin_water_loss(10, 25, 25, 100) == 0
    assert skin_water_loss(80, 25, 25, 50) / 80 < ordinary / 10  # the small dry out first


def test_the_interval_of_a_distance_brackets_its_middle() -> None:
    """A strong tube reaches further: the quantiles are ordered and meet at the middle."""
    ends = [tube_distance_quantile(2.7, 0.3, 1.1, 2.0, 0.25, q) for q in (0.05, 0.5, 0.95)]
    assert ends == sorted(ends) and ends[1] == pytest.approx(tube_distance(2.7, 0.3, 1.1, 2.0))
    assert tube_distance_quantile(2.7, 0.3, 1.1, 2.0, 0.0, 0.95) == pytest.approx(ends[1])
    with pytest.raises(NoSolutionError):
        tube_distance_quantile(2.7, 0.3, 1.1, 0.01, 0.25, 0.95)


def test_tanks_lamps_and_timers() -> None:
    """Common practice, no source: an empty 80 l tank of 6 mm glass weighs 11 to 15 kg."""
    assert 11 < glass_mass(0.8, 0.3, 0.35, 6) < 16
    assert lamp_days_left(5000, 4000, 12) == 0
    assert schedule_energy(75, 12, 1, 365) == pytest.approx(328.5)
    assert photon_flux_from_lux(10_000, "filament") > photon_flux_from_lux(10_000, "tube")


def test_food_by_its_parts() -> None:
    """FAO 2003; stoichiometry; common practice, no source: spinach leaves no calcium."""
    assert food_energy(0, 1) == 37 and food_energy(1, 0) == food_energy(0, 0, 1) == 17
    assert calcium_left(82, 592) == 0  # spinach: IFCT 2017
    assert calcium_left(100, 0) == 100
    assert salad_calcium_ratio(50, 150, 50, 0, 0.25) == pytest.approx((75 + 100.1) / 25, rel=1e-3)
    assert salad_calcium_ratio(100, 82, 30, 592) == 0


def test_a_night_at_another_temperature_counts_by_itself() -> None:
    """The rate is convex in temperature: day and night apart cost more than their mean (Jensen)."""
    apart = meal_cover(50, 200, 32, 20)
    at_the_mean = meal_cover(50, 200, 26, 26)
    assert apart < at_the_mean
    assert meal_cover(50, 200, 32, 20, 24) == pytest.approx(meal_cover(50, 200, 32, 32))


def test_girth_is_not_width_and_a_standard_length_compares() -> None:
    """Common practice, no source; Peig and Green 2009 (from memory)."""
    assert prey_width(126) == pytest.approx(40.1, abs=0.05)
    assert prey_width(126, 1.25) == pytest.approx(50.1, abs=0.05)
    assert scaled_mass_index(52, 110, 100) == pytest.approx(39.1, abs=0.05)
    assert scaled_mass_index(52, 100, 100, 2.7) == 52
