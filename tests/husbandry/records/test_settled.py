"""The last hour of the heat and of the dark, by hand."""

import datetime as dt
from zoneinfo import ZoneInfo

import numpy as np
import pytest

from husbandry.records.settled import settled_values

ZONE = "Europe/Berlin"
BEGIN = int(dt.datetime(2026, 6, 18, tzinfo=ZoneInfo(ZONE)).timestamp())
LIT = ((8.0, 20.0),)


def times(days: float, step_s: int = 600) -> np.ndarray:
    return BEGIN + np.arange(0, int(days * 86_400), step_s, dtype=np.int64)


def warming(at_s: np.ndarray) -> np.ndarray:
    """Rises by a kelvin an hour from 8:00, and is 20 °C at night."""
    hours = ((at_s - BEGIN) % 86_400) / 3600
    return np.where((hours > 8) & (hours <= 20), 20 + (hours - 8), 20.0)


def test_each_day_has_its_two_ends() -> None:
    at_s = times(2)
    found = settled_values(at_s, warming(at_s), LIT, ZONE)
    assert [(one.on.day, one.phase) for one in found] == [
        (18, "night"),
        (18, "day"),
        (19, "night"),
        (19, "day"),
    ]
    day = found[1]
    inside = [20 + h - 8 for h in np.arange(19 + 1 / 6, 20.01, 1 / 6)]
    assert day.value == pytest.approx(np.mean(inside)) and day.lit_h == 12
    assert dt.datetime.fromtimestamp(day.at_s, ZoneInfo(ZONE)).hour == 20
    assert found[0].value == 20 and found[0].lit_h is None


def test_an_hour_in_which_a_door_was_open_is_left_out() -> None:
    at_s = times(1)
    values = warming(at_s)
    hours = (at_s - BEGIN) / 3600
    values[(hours > 19.4) & (hours < 19.7)] -= 6
    assert [one.phase for one in settled_values(at_s, values, LIT, ZONE)] == ["night"]


def test_a_gap_has_no_end() -> None:
    at_s = times(1)
    keep = (at_s - BEGIN) / 3600 < 18
    found = settled_values(at_s[keep], warming(at_s)[keep], LIT, ZONE)
    assert [one.phase for one in found] == ["night"]
    assert settled_values(times(0), np.zeros(0), LIT, ZONE) == []


def test_where_nothing_gives_light_the_afternoon_is_the_day() -> None:
    at_s = times(1)
    found = settled_values(at_s, np.full(len(at_s), 22.0), (), ZONE)
    assert [(one.phase, one.value) for one in found] == [("night", 22.0), ("day", 22.0)]
    always = settled_values(at_s, np.full(len(at_s), 22.0), ((0.0, 24.0),), ZONE)
    assert [one.phase for one in always] == ["day"]


def test_the_day_on_which_the_clock_changes() -> None:
    """25 October 2026: 20:00 is 20:00 by the room's clock, an hour later by UTC than the day before."""
    begin = int(dt.datetime(2026, 10, 24, tzinfo=ZoneInfo(ZONE)).timestamp())
    at_s = begin + np.arange(0, 49 * 3600, 600, dtype=np.int64)
    found = settled_values(at_s, np.full(len(at_s), 22.0), LIT, ZONE)
    days = [one for one in found if one.phase == "day"]
    assert days[1].at_s - days[0].at_s == 25 * 3600
