"""A day in an outdoor pen (common practice, no source, unless said otherwise)."""

import datetime as dt

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from husbandry.documents.room import Place
from husbandry.forecast.outdoor_day import (
    STEPS,
    OutdoorDay,
    PenState,
    Weather,
    outdoor_day,
    pen_numbers,
    why_not,
)
from husbandry.species.library import find, library

SOUTH_GERMANY = Place(lat=48.0, lon=10.0, tz="Europe/Berlin")
MAY, JULY, OCTOBER = dt.date(2026, 5, 20), dt.date(2026, 7, 15), dt.date(2026, 10, 10)


def day_of(species: str, day: dt.date, body_m: float = 0.2, **weather: object) -> OutdoorDay:
    profile = find(species)
    said = Weather.model_validate({"max_c": 24.0, "min_c": 12.0, **weather})
    return outdoor_day(profile, profile.grown.slug, {}, body_m, SOUTH_GERMANY, day, said)


def hours(found: OutdoorDay, state: PenState) -> float:
    return sum(one.end_h - one.begin_h for one in found.spans if one.state == state)


def test_a_land_tortoise_is_out_on_a_sunny_day_of_spring() -> None:
    """Mediterranean tortoises bask from sixteen degrees on when the sun shines."""
    found = day_of("Testudo hermanni", dt.date(2026, 4, 20), max_c=16, min_c=5)
    assert len(found.out) == 1 and hours(found, "fit") > 4
    assert 10 < found.out[0].begin_h < 13 and not hours(found, "hot")


def test_under_clouds_at_the_same_temperature_it_stays_in() -> None:
    found = day_of("Testudo hermanni", dt.date(2026, 4, 20), max_c=12, min_c=5, clouds="overcast")
    assert not found.out and not hours(found, "fit")


def test_in_a_heat_wave_it_is_the_afternoon_that_kills() -> None:
    """Overturned or without shade they die in an hour."""
    found = day_of("Testudo hermanni", JULY, max_c=37, min_c=21)
    assert hours(found, "hot") > 3 and found.out[0].end_h < 15
    assert found.warmest_shade_c > 32 and found.hottest_c > 55


def test_a_desert_agama_needs_a_warmer_day_than_a_tortoise() -> None:
    weather = {"max_c": 15.0, "min_c": 6.0}
    assert hours(day_of("Pogona vitticeps", MAY, **weather), "fit") < hours(
        day_of("Testudo hermanni", MAY, **weather), "fit"
    )


@pytest.mark.parametrize(
    "species", ["Dendrobates tinctorius", "Eublepharis macularius", "Ambystoma mexicanum"]
)
def test_animals_of_damp_and_dusk_are_not_taken_out(species: str) -> None:
    found = day_of(species, JULY)
    assert found.ruled_out and not found.out and not found.spans


def test_every_species_of_the_sun_is_judged() -> None:
    judged = [profile for profile in library().values() if not why_not(profile)]
    assert len(judged) > 20
    for profile in judged:
        found = day_of(profile.species, JULY, max_c=28, min_c=16)
        assert hours(found, "fit") + hours(found, "cold") + hours(found, "hot") > 10
        assert found.pen[0] == "shade" and found.wall_m >= 0.3


def test_a_net_takes_sun_and_ultraviolet() -> None:
    """By its wires: a 13 mm mesh takes about 15 %, a fly screen a third (mesh transmission)."""
    bare, coarse, fine = (
        pen_numbers(SOUTH_GERMANY, JULY, Weather(max_c=26, min_c=15, net=net))
        for net in ("", "half_inch", "fly_screen")
    )
    assert 0.8 < coarse.uvi.max() / bare.uvi.max() < 0.9
    assert 0.6 < fine.uvi.max() / bare.uvi.max() < 0.7
    assert bare.sunny_c.max() > coarse.sunny_c.max() > fine.sunny_c.max()


def test_the_sun_is_strong_for_what_lives_in_shade() -> None:
    """A forest tortoise takes an index of three; the sun of July has more at 48° north."""
    found = day_of("Chelonoidis carbonarius", JULY, max_c=28, min_c=17)
    assert found.strong_uv and found.most_uvi > 7
    assert not day_of("Testudo hermanni", OCTOBER, clouds="overcast").strong_uv


@settings(max_examples=15)
@given(low=st.floats(0, 20), more=st.floats(4, 15), warmer=st.floats(1, 8))
def test_a_warmer_day_is_never_colder(low: float, more: float, warmer: float) -> None:
    plain = day_of("Testudo hermanni", MAY, max_c=low + more, min_c=low)
    hot = day_of("Testudo hermanni", MAY, max_c=low + more + warmer, min_c=low + warmer)
    assert hours(hot, "cold") <= hours(plain, "cold") + 1e-9
    assert hours(hot, "hot") >= hours(plain, "hot") - 1e-9


@pytest.mark.parametrize(
    ("place", "day"),
    [
        (Place(lat=69.0, lon=19.0, tz="Europe/Oslo"), dt.date(2026, 6, 21)),  # midnight sun
        (Place(lat=69.0, lon=19.0, tz="Europe/Oslo"), dt.date(2026, 12, 21)),  # polar night
        (Place(lat=-33.9, lon=151.2, tz="Australia/Sydney"), dt.date(2026, 1, 10)),
        (Place(lat=0.0, lon=-78.5, tz="America/Guayaquil"), dt.date(2026, 3, 20)),
        (Place(lat=40.7, lon=-74.0, tz="America/New_York"), dt.date(2026, 3, 8)),  # clocks change
    ],
)
def test_anywhere_on_earth_a_day_has_its_hours(place: Place, day: dt.date) -> None:
    profile = find("Testudo hermanni")
    weather = Weather(max_c=25, min_c=14)
    found = outdoor_day(profile, profile.grown.slug, {}, 0.2, place, day, weather)
    assert found.spans[0].begin_h == 0 and found.spans[-1].end_h == 24
    assert len(found.air_c) == STEPS and max(found.air_c) <= 25 and min(found.air_c) >= 14
    assert max(found.air_c) == pytest.approx(25, abs=0.2)
