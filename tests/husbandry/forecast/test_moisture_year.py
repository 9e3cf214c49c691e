"""Humidity through the months (common practice, no source, unless said otherwise)."""

import json
from typing import Any

import pytest

from husbandry.climate.vapour import rh_elsewhere
from husbandry.documents.request_json import from_data
from husbandry.documents.room import Room
from husbandry.forecast.moisture_year import moist_year, room_in, summerness


def damp(sample: dict[str, Any], lat: float = 52.0, **room: float) -> dict[str, Any]:
    data: dict[str, Any] = json.loads(json.dumps(sample))
    data["place"]["lat"] = lat
    data["room"] |= room
    data["enclosure"]["wetting"] = {
        "substrate": "dry top",
        "mistings": [{"at": "08:00", "ml": 60}],
    }
    return data


def test_summer_lies_in_july_north_and_in_january_south_of_the_equator() -> None:
    assert summerness(7, 52) == pytest.approx(1) and summerness(1, 52) == pytest.approx(-1)
    assert summerness(7, -34) == pytest.approx(-1) and summerness(1, -34) == pytest.approx(1)
    assert abs(summerness(4, 10)) < 1e-9


def test_a_room_goes_from_its_winter_over_its_usual_day_to_its_summer() -> None:
    room = Room(
        day_c=21,
        night_c=18,
        summer_max_c=29,
        rh_pct=50,
        winter_day_c=19,
        winter_rh_pct=28,
        summer_rh_pct=62,
    )
    winter, spring, summer = (room_in(room, month, 48) for month in (1, 4, 7))
    assert (winter.day_c, winter.night_c, winter.rh_pct) == pytest.approx((19, 16, 28))
    assert (spring.day_c, spring.rh_pct) == pytest.approx((21, 50))
    assert (summer.day_c, summer.rh_pct) == pytest.approx((25, 62))
    bare = Room(day_c=21, night_c=18, summer_max_c=29, rh_pct=20)
    assert room_in(bare, 1, 48).rh_pct == pytest.approx(
        20
    )  # no assumption dries what is dry already


def test_winter_air_of_outside_is_dry_in_a_heated_room() -> None:
    """Outdoors 0 °C at 85 % is 22 % at 21 °C: the same vapour, saturation by psychrometric tables."""
    assert rh_elsewhere(85, 0, 21) == pytest.approx(21, abs=2)


def test_a_dry_winter_room_takes_more_water_or_stays_below(sample: dict[str, Any]) -> None:
    seen = moist_year(from_data(damp(sample, winter_rh_pct=25, summer_rh_pct=65)))
    assert seen is not None and len(seen.months) == 12
    winter, summer = seen.months[0], seen.months[6]
    assert winter.low_pct < summer.low_pct and winter.high_pct < summer.high_pct
    assert winter.below_h >= summer.below_h
    assert seen.driest in {12, 1, 2} and seen.dampest in {6, 7, 8}
    south = moist_year(from_data(damp(sample, lat=-35.0, winter_rh_pct=25, summer_rh_pct=65)))
    assert south is not None
    assert south.months[6].low_pct == pytest.approx(winter.low_pct) and south.driest in {6, 7, 8}


def test_a_room_that_never_changes_gives_twelve_equal_months(sample: dict[str, Any]) -> None:
    level = {
        "day_c": 21.0,
        "night_c": 18.0,
        "summer_max_c": 21.0,
        "rh_pct": 50.0,
        "winter_rh_pct": 50.0,
        "summer_rh_pct": 50.0,
    }
    seen = moist_year(from_data(damp(sample, **level)))
    assert seen is not None
    assert {round(one.low_pct, 6) for one in seen.months} == {round(seen.months[0].low_pct, 6)}


def test_nothing_said_nothing_told(sample: dict[str, Any]) -> None:
    assert moist_year(from_data(sample)) is None
