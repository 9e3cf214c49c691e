"""The sun over a place, against geometry, other models and the day lengths that a library checked."""

import datetime as dt
import math

import numpy as np
import pytest

from husbandry.climate.air import STEFAN_BOLTZMANN_W_M2K4, ZERO_C_K
from husbandry.climate.daylight import day_length, sun_of
from husbandry.climate.outdoor_ground import (
    ALIKE_DAYS,
    GROUND_EMISSIVITY,
    GROUNDS,
    LAYERS,
    STEPS,
    Ground,
    OutdoorForcing,
    film_w_m2k,
    ground_course,
    sky_c,
)
from husbandry.climate.sun import (
    clear_sky_irradiance,
    clear_sky_uvi,
    cloud_share,
    solar_elevation,
    solar_hour,
)


@pytest.mark.parametrize("lat", [-60.0, -35.0, 0.0, 23.0, 48.0, 60.0])
@pytest.mark.parametrize("date", ["2026-03-20", "2026-06-21", "2026-10-05", "2026-12-21"])
def test_the_sun_sets_when_the_day_ends(lat: float, date: str) -> None:
    """Day lengths agree with pvlib's solar position algorithm (uv 13): the sun's middle stands 0.83°
    under the horizon then.
    """
    half = day_length(lat, date) / 2
    assert solar_elevation(lat, date, 12 + half) == pytest.approx(-0.833, abs=0.01)


def test_at_the_equinox_it_passes_overhead_at_the_equator() -> None:
    assert solar_elevation(0, "2026-03-20", 12) == pytest.approx(90, abs=0.5)


@pytest.mark.parametrize(
    ("day", "minutes"),
    [(dt.date(2026, 2, 11), -14.2), (dt.date(2026, 11, 3), 16.4), (dt.date(2026, 4, 15), 0.0)],
)
def test_a_sundial_is_ahead_or_behind_by_the_equation_of_time(
    day: dt.date, minutes: float
) -> None:
    """Extremes and a zero of the equation of time (Astronomical Almanac, from memory)."""
    assert 60 * sun_of(day).ahead_h == pytest.approx(minutes, abs=0.4)


def test_noon_by_the_sun_is_late_in_the_west_of_a_zone() -> None:
    """At 10° east of Greenwich, in summer time, half past one on the dial is noon: four minutes a
    degree, and the sundial six minutes behind in July.
    """
    at = dt.datetime(2026, 7, 20, 13, 26, tzinfo=dt.timezone(dt.timedelta(hours=2)))
    assert solar_hour((48.0, 10.0), at) == pytest.approx(12.0, abs=0.03)


@pytest.mark.parametrize(
    ("zenith", "tuv", "libradtran"),
    [(0, 12.9, 12.2), (20, 10.9, 10.4), (40, 6.5, 6.0), (60, 2.25, 2.05)],
)
def test_the_clear_sky_uv_index_lies_with_transfer_models(
    zenith: float, tuv: float, libradtran: float
) -> None:
    """TUV and libRadtran at 300 DU (notes on ultraviolet, rows read from their output)."""
    found = clear_sky_uvi(90 - zenith, 300)
    assert 0.95 * libradtran <= found <= 1.12 * tuv


def test_clear_sky_irradiance_lies_with_the_reference_spectrum() -> None:
    """ASTM G173 (AM 1.5): direct 900 W/m² at 48.2° from the zenith, about 100 of sky (from memory)."""
    level = 900 * math.cos(math.radians(48.2)) + 100
    assert clear_sky_irradiance(90 - 48.2) == pytest.approx(level, rel=0.08)
    assert clear_sky_irradiance(-5) == 0


def test_clouds_leave_a_quarter_to_all() -> None:
    shares = [cloud_share(n) for n in range(9)]
    assert shares[0] == 1 and shares[8] == pytest.approx(0.25)
    assert shares == sorted(shares, reverse=True)


def steady(air_c: float, sun_w_m2: float, sky: float, wind: float = 1.0) -> OutdoorForcing:
    """A day without hours."""
    return OutdoorForcing(
        np.full(STEPS, air_c), np.full(STEPS, sky), np.full(STEPS, sun_w_m2), wind
    )


def test_without_sun_under_a_sky_as_warm_as_the_air_it_has_the_airs_temperature() -> None:
    for ground in GROUNDS.values():
        face = ground_course(ground, steady(17.0, 0.0, 17.0))
        assert face == pytest.approx(np.full(STEPS, 17.0), abs=1e-6)


def test_a_thin_insulated_face_has_the_sol_air_temperature() -> None:
    """T = T_air + (α G − ε σ (T⁴ − T_sky⁴)) / h: the sol-air temperature of ASHRAE's handbook (from
    memory), here with the film of this model.
    """
    insulated = Ground("foam", "foam", 0.9, 1e-6, 1e3, 0.0)
    air, sun, sky, wind = 25.0, 700.0, 10.0, 2.0
    face = float(ground_course(insulated, steady(air, sun, sky, wind))[-1])
    lost = (
        GROUND_EMISSIVITY
        * STEFAN_BOLTZMANN_W_M2K4
        * ((face + ZERO_C_K) ** 4 - (sky + ZERO_C_K) ** 4)
    )
    assert face == pytest.approx(air + (0.9 * sun - lost) / film_w_m2k(wind), abs=0.3)


def test_a_day_repeats_itself(monkeypatch: pytest.MonkeyPatch) -> None:
    hours = np.arange(STEPS) * 24 / STEPS
    air = 20 + 8 * np.sin((hours - 9) * np.pi / 12)
    sun = np.maximum(900 * np.sin((hours - 6) * np.pi / 12), 0)
    forcing = OutdoorForcing(air, sky_c(air, 0.2), sun, 1.5)
    for slab in (False, True):
        usual = ground_course(GROUNDS["soil"], forcing, slab=slab)
        with monkeypatch.context() as patched:
            patched.setattr("husbandry.climate.outdoor_ground.ALIKE_DAYS", 3 * ALIKE_DAYS)
            longer = ground_course(GROUNDS["soil"], forcing, slab=slab)
        assert np.abs(usual - longer).max() < 0.5
    assert LAYERS > 8


def test_dry_dark_ground_is_hotter_than_grass_and_shade_is_near_the_air() -> None:
    """Dry sand burns bare feet at thirty degrees, a meadow does not (common practice, no source)."""
    hours = np.arange(STEPS) * 24 / STEPS
    air = 23 + 7 * np.sin((hours - 9) * np.pi / 12)
    sun = np.maximum(950 * np.sin((hours - 6) * np.pi / 12), 0)
    forcing = OutdoorForcing(air, sky_c(air, 0.0), sun, 0.5)
    hottest = {slug: ground_course(one, forcing).max() for slug, one in GROUNDS.items()}
    assert hottest["sand"] > 52 and hottest["grass"] < 46 < hottest["soil"]
    shade = ground_course(GROUNDS["grass"], forcing, shaded=True)
    assert np.abs(shade - air).max() < 6 and shade.max() < air.max()


def test_a_clear_sky_is_colder_than_a_covered_one() -> None:
    """Swinbank: some twenty kelvins under air of 20 °C (from memory)."""
    air = np.array([20.0])
    assert 12 < 20 - sky_c(air, 0.0)[0] < 25
    assert 20 - sky_c(air, 1.0)[0] < 5
