"""Water of pools: free ammonia, nitrogen from food, and how often it is changed."""

import pytest

from husbandry.climate.pool import AMMONIA_MG_L, change_interval, free_ammonia_share, nitrogen_load


@pytest.mark.parametrize(
    ("temp_c", "ph", "percent"),
    [(25, 8.0, 5.38), (20, 7.0, 0.396), (15, 7.5, 0.859), (25, 7.0, 0.566), (30, 8.5, 20.3)],
)
def test_free_ammonia_is_that_of_the_published_table(
    temp_c: float, ph: float, percent: float
) -> None:
    """Emerson et al. 1975, table of un-ionised ammonia in fresh water (from memory)."""
    assert 100 * free_ammonia_share(temp_c, ph) == pytest.approx(percent, rel=0.01)


def test_warm_and_alkaline_water_is_changed_sooner() -> None:
    """Ten times the free ammonia for each step of pH while there is little of it: the equation's
    own slope.
    """
    assert free_ammonia_share(24, 8) / free_ammonia_share(24, 7) == pytest.approx(10, rel=0.06)
    assert free_ammonia_share(30, 7.5) > 1.9 * free_ammonia_share(20, 7.5)


def test_an_axolotl_in_eighty_litres() -> None:
    """Common practice, no source: a third of filtered water every week or two; without a filter
    nearly all within the week.
    """
    load = nitrogen_load(1.5, 0.105, 1.0)
    assert 7 <= change_interval(80, load, 9.0, 0.3) <= 21
    unfiltered = AMMONIA_MG_L / free_ammonia_share(18, 7.5)
    assert 2 <= change_interval(80, load, unfiltered, 1.0) <= 10


def test_equal_changes_hold_the_peak() -> None:
    """Mass balance, run day by day: the highest concentration is never passed, and is reached."""
    litres, load, most, share = 40.0, 30.0, 9.0, 0.3
    days = change_interval(litres, load, most, share)
    held, peak = 0.0, 0.0
    for _ in range(60):
        held += load * days
        peak = max(peak, held / litres)
        held *= 1 - share
    assert peak == pytest.approx(most, rel=1e-6)


def test_nothing_eaten_waits_four_weeks() -> None:
    assert change_interval(10, 0, 9, 0.3) == 28
