"""Fixed points and due days, by hand."""

import datetime as dt

import pytest

from husbandry.records.instrument_checks import METHODS, advice, next_check


def test_fixed_points() -> None:
    """0 °C is the ice point by definition; 75.3 % over salt is of Greenspan 1977 (from memory)."""
    fixed = {one.way: one.fixed for one in METHODS}
    assert fixed["ice"] == 0 and fixed["salt"] == pytest.approx(75.3, abs=0.3)
    assert fixed["other"] is None and all(one.steps for one in METHODS)


@pytest.mark.parametrize(
    ("on", "months", "due"),
    [
        (dt.date(2026, 1, 31), 1, dt.date(2026, 2, 28)),
        (dt.date(2026, 11, 30), 12, dt.date(2027, 11, 30)),
        (dt.date(2024, 2, 29), 12, dt.date(2025, 2, 28)),
        (dt.date(2026, 12, 5), 3, dt.date(2027, 3, 5)),
        (None, 12, None),
    ],
)
def test_when_it_is_due(on: dt.date | None, months: int, due: dt.date | None) -> None:
    assert next_check(on, months) == due


def test_what_is_far_off_is_replaced() -> None:
    assert advice("ice", 1.4) == "" and "another instrument" in advice("ice", -2.5)
    assert advice("", 50) == ""
