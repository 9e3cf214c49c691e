"""Times of the day: one window, several, over midnight; and how people write them."""

import json
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from husbandry.documents.request_json import from_data
from husbandry.errors import DocumentError
from husbandry.items.timers import clock_of, hour_of, hours_of, read_spans


@pytest.mark.parametrize(
    ("windows", "hours"),
    [
        ([("08:00", "20:00")], 12.0),
        ([("20:00", "07:30")], 11.5),
        ([("08:00", "08:30"), ("17:00", "17:30")], 1.0),
        ([("08:00", "10:00"), ("09:00", "11:00")], 3.0),  # what overlaps counts once
        ([("22:00", "01:00"), ("00:30", "02:00")], 4.0),
        ([], 0.0),
    ],
)
def test_hours_of_windows(windows: list[tuple[str, str]], hours: float) -> None:
    """By hand."""
    assert hours_of(windows) == pytest.approx(hours)


@given(st.integers(0, 1439))
def test_a_clock_and_its_hour_are_one(minute: int) -> None:
    assert round(hour_of(clock_of(minute / 60)) * 60) == minute


@pytest.mark.parametrize(
    ("typed", "spans"),
    [
        ("", ()),
        ("17:00–18:00", ("17:00-18:00",)),
        ("7:30-8:00, 17:00 to 18:00", ("07:30-08:00", "17:00-18:00")),
        (" 17:00 — 18:00 ; 20:00-20:30\n", ("17:00-18:00", "20:00-20:30")),
    ],
)
def test_spans_as_people_write_them(typed: str, spans: tuple[str, ...]) -> None:
    assert read_spans(typed) == spans


@pytest.mark.parametrize(
    "typed", ["evening", "17:00", "25:00-26:00", "17:00-17:00", "17:61-18:00"]
)
def test_what_is_no_span_is_refused_with_a_sentence(typed: str) -> None:
    with pytest.raises(ValueError, match=r"span of a day|ends as it begins"):
        read_spans(typed)


def with_windows(sample: dict[str, Any], **times: Any) -> dict[str, Any]:
    data: dict[str, Any] = json.loads(json.dumps(sample))
    tube = next(item for item in data["items"] if item["kind"].startswith("t5"))
    for name in ("on", "off", "also_on"):
        tube.pop(name, None)
    tube |= times
    return data


def test_an_item_has_any_number_of_windows(sample: dict[str, Any]) -> None:
    times = {"on": "08:00", "off": "08:30", "also_on": ["17:00-17:30", "19:00-19:10"]}
    request = from_data(with_windows(sample, **times))
    tube = next(item for item in request.items if item.is_tube)
    assert tube.hours_a_day == pytest.approx(70 / 60)
    lit = [tube.lit_at(hour) for hour in (8.1, 8.6, 17.2, 18.0, 19.1, 13.0)]
    assert lit == [True, False, True, False, True, False]


def test_further_times_need_the_first(sample: dict[str, Any]) -> None:
    with pytest.raises(DocumentError, match="the first time"):
        from_data(with_windows(sample, also_on=["17:00-17:30"]))
