"""What is asked of a reading before it counts."""

import datetime as dt
from typing import Any

import pytest

from husbandry.commissioning import reading_doubts as doubting
from husbandry.documents.request import ReadingSpec, Request
from husbandry.documents.request_json import from_data, to_data
from husbandry.plan.plan import plan_summary
from husbandry.quantity import Units


def reading_doubts(reading: ReadingSpec, request: Request, **more: Any) -> tuple[str, ...]:
    basking = plan_summary(request).basking
    return doubting.reading_doubts(reading, request, basking=basking, **more)


@pytest.fixture
def enclosure(sample: dict[str, Any]) -> Request:
    return from_data({**sample, "readings": []})


def at(hour: int, minute: int = 0) -> dt.datetime:
    return dt.datetime(2026, 5, 19, hour, minute, tzinfo=dt.timezone(dt.timedelta(hours=2)))


def taken(need: str, value: float, when: dt.datetime, **more: Any) -> ReadingSpec:
    return ReadingSpec.model_validate({"need": need, "value": value, "at": when, **more})


def beside(request: Request, *readings: ReadingSpec) -> Request:
    data = to_data(request)
    data["readings"] = [one.model_dump(mode="json") for one in readings]
    return from_data(data)


def test_what_is_read_at_its_hour_is_not_asked_about(enclosure: Request) -> None:
    assert reading_doubts(taken("surface_day", 40, at(15)), enclosure) == ()
    assert reading_doubts(taken("air_night", 20, at(3)), enclosure) == ()


@pytest.mark.parametrize(
    ("need", "hour", "said"),
    [
        ("surface_day", 2, "off by their own timers"),
        ("uvi_day", 2, "off by their own timers"),
        ("air_night", 14, "belongs to the dark"),
    ],
)
def test_a_lamp_that_is_off_by_its_own_timer(
    enclosure: Request, need: str, hour: int, said: str
) -> None:
    """Common practice, no source: what is under a lamp is read while it burns."""
    (doubt,) = reading_doubts(taken(need, 20 if need != "uvi_day" else 2, at(hour)), enclosure)
    assert said in doubt


def test_a_reading_a_minute_after_it_was_built(enclosure: Request) -> None:
    """Stone and soil follow over hours (docs/methods/heat.md)."""
    built = at(14)
    (doubt,) = reading_doubts(taken("surface_day", 30, at(14, 1)), enclosure, built_at=built)
    assert "built a minute before" in doubt and "6 hours" in doubt
    lit = taken("surface_day", 30, at(14, 1), lamp_on_h=0.5)
    assert reading_doubts(lit, enclosure, built_at=built) == ()  # it is carried on instead
    assert reading_doubts(taken("surface_day", 40, at(19)), enclosure, built_at=at(9)) == ()
    assert reading_doubts(taken("uvi_day", 3, at(14, 1)), enclosure, built_at=built) == ()


def test_two_readings_of_one_place_that_exclude_each_other(enclosure: Request) -> None:
    first = taken("warm_air_day", 24, at(15))
    seen = beside(enclosure, first)
    (doubt,) = reading_doubts(taken("warm_air_day", 33, at(15, 10)), seen)
    assert "10 minutes apart it read 24.0 °C" in doubt
    assert (
        "75 °F"
        in reading_doubts(taken("warm_air_day", 33, at(15, 10)), seen, units=Units("us", "f"))[0]
    )
    assert reading_doubts(taken("warm_air_day", 25, at(15, 10)), seen) == ()
    assert reading_doubts(taken("warm_air_day", 33, at(18)), seen) == ()  # hours apart
    corrected = taken("warm_air_day", 33, at(15, 10), offset=8.5)
    assert reading_doubts(corrected, seen) == ()  # the instrument is known to be off


def test_a_place_that_warms_up_reads_another_value_soon(enclosure: Request) -> None:
    first = taken("surface_day", 24, at(15), lamp_on_h=0.1)
    later = taken("surface_day", 33, at(15, 20), lamp_on_h=0.4)
    assert reading_doubts(later, beside(enclosure, first)) == ()
    settled = taken("surface_day", 33, at(15, 20), lamp_on_h=7)
    assert reading_doubts(settled, beside(enclosure, taken("surface_day", 24, at(15))))


def test_water_is_read_at_any_hour(enclosure: Request) -> None:
    """It follows whole days (docs/methods/heat.md)."""
    assert reading_doubts(taken("water_day", 22, at(2)), enclosure) == ()


def test_a_place_beside_the_lamp_says_nothing_of_the_distance(enclosure: Request) -> None:
    lamp = next(item for item in enclosure.items if item.kind.startswith("t5"))
    x, y, z = lamp.at_m
    assert lamp.long_m is not None
    beyond = [round(x + lamp.long_m / 2 + 0.2, 3), y, round(z - 0.1, 3)]
    weak = taken("uvi_day", 0.3, at(15), at_m=beyond)
    far = taken("uvi_day", 3.0, at(15, 5), at_m=[x, y, round(z - 0.3, 3)])
    assert reading_doubts(far, beside(enclosure, weak)) == ()
    end = [round(x + lamp.long_m / 2 - 0.02, 3), y, round(z - 0.1, 3)]
    dark = taken("uvi_day", 0.3, at(15), at_m=end)
    assert reading_doubts(far, beside(enclosure, dark))


def test_ultraviolet_that_grows_with_the_distance(enclosure: Request) -> None:
    """Inverse square or slower, never a rise (physics of a lamp)."""
    lamp = next(item for item in enclosure.items if item.kind.startswith("t5"))
    x, y, z = lamp.at_m
    near, far = [x, y, round(z - 0.15, 3)], [x, y, round(z - 0.35, 3)]
    weak = taken("uvi_day", 1.2, at(15), at_m=near)
    (doubt,) = reading_doubts(taken("uvi_day", 4.0, at(15, 5), at_m=far), beside(enclosure, weak))
    assert "falls with the distance" in doubt and "(4.0)" in doubt and "(1.2)" in doubt
    right = taken("uvi_day", 6.0, at(15), at_m=near)
    assert (
        reading_doubts(taken("uvi_day", 2.0, at(15, 5), at_m=far), beside(enclosure, right)) == ()
    )
    basking = plan_summary(enclosure).basking
    own = taken("uvi_day", 3.0, at(15, 5))
    above = [basking.x_m, basking.y_m, round((basking.z_m + z) / 2, 3)]
    none = taken("uvi_day", 0.4, at(15), at_m=above)
    assert reading_doubts(own, beside(enclosure, none))
