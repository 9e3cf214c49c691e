"""What was new before a sign: by hand."""

import datetime as dt
import math

import pytest

from husbandry.records.coincidences import (
    LOOK_BACK_DAYS,
    AnimalSign,
    DatedChange,
    coincidences,
    loss_signs,
    refusal_signs,
    streaks,
)


def day(n: int) -> dt.date:
    return dt.date(2026, 11, 1) + dt.timedelta(days=n)


def test_one_refusal_is_no_sign() -> None:
    meals = [(day(0), True), (day(3), False), (day(6), True)]
    assert refusal_signs(meals) == []


def test_two_in_a_row_begin_with_the_first() -> None:
    meals = [(day(0), True), (day(3), False), (day(6), False), (day(9), True), (day(12), False)]
    found = refusal_signs([*meals, (day(15), False), (day(18), False)])
    assert [(one.on, one.words) for one in found] == [
        (day(3), "2 meals refused in a row"),
        (day(12), "3 meals refused in a row"),
    ]


@pytest.mark.parametrize(("last", "found"), [(96.0, 0), (95.0, 1), (80.0, 1)])
def test_a_loss_counts_from_the_heaviest(last: float, found: int) -> None:
    weights = [(day(0), 90.0), (day(20), 100.0), (day(40), last)]
    signs = loss_signs(weights)
    assert len(signs) == found and all(one.on == day(20) for one in signs)


def test_a_weight_of_last_year_is_no_loss() -> None:
    assert loss_signs([(day(-200), 200.0), (day(0), 100.0), (day(30), 101.0)]) == []
    assert loss_signs([]) == []


def test_the_nearest_change_comes_first_and_what_came_after_does_not() -> None:
    sign = AnimalSign("refusals", day(0), "2 meals refused in a row")
    changes = [
        DatedChange(day(-LOOK_BACK_DAYS - 1), "too long ago"),
        DatedChange(day(-9), "moved"),
        DatedChange(day(-4), "the cool end fell"),
        DatedChange(day(1), "after it"),
    ]
    found = coincidences([sign], changes)
    assert [one.words for one in found[0].changes] == ["the cool end fell", "moved"]


def test_a_sign_alone_is_told_too() -> None:
    assert coincidences([AnimalSign("weight", day(0), "lost")], [])[0].changes == ()


def test_streaks_of_days_out_of_range() -> None:
    shares = [1.0, 0.2, 0.1, 0.9, 0.3, math.nan, 0.1, 0.2, 0.4]
    days = [(day(n), share) for n, share in enumerate(shares)]
    assert streaks(days) == [(day(1), 2), (day(6), 3)]
    gap = [(day(0), 0.1), (day(2), 0.1)]
    assert streaks(gap) == []
