"""Weighing with a tub or in the arms."""

import random

import pytest

from husbandry import methods
from husbandry.tasks.weighing import FIT, least_change, weigh


def test_a_difference_of_two_readings() -> None:
    found = weigh(74_300, 71_800, 100)
    assert found.mass_g == 2500 and found.off_by_g == 100 and found.coarse
    assert found.shows_g == pytest.approx(80, abs=0.1)


def test_a_gram_scale_is_too_coarse_for_an_eight_gram_frog() -> None:
    """One gram shows only a tenth of it; 0.1 g is needed (source: feeding C7)."""
    assert weigh(8, 0, 1).coarse and weigh(20, 12, 0.1).coarse and not weigh(8, 0, 0.05).coarse
    assert not weigh(318, 0, 1).coarse


def test_the_least_change_holds_nineteen_times_of_twenty() -> None:
    """Two weighings of the same animal, rounded to a step: simulated."""
    rng, step = random.Random(7), 5.0
    rounding = [
        (rng.uniform(-step / 2, step / 2), rng.uniform(-step / 2, step / 2)) for _ in range(20_000)
    ]
    differences = [abs(one - other) for one, other in rounding]
    assert sum(d <= least_change(step) for d in differences) / len(differences) == pytest.approx(
        0.95, abs=0.02
    )


def test_without_a_step_nothing_is_said_of_the_error() -> None:
    assert weigh(100) == (100, 0, 0, False)


def test_the_step_is_judged_against_a_share_of_the_animal() -> None:
    """A scale that shows just a hundredth is fit; one that shows a little more is not."""
    just = FIT * 500
    assert not weigh(500, 0, just).coarse and weigh(500, 0, just * 1.01).coarse
    assert weigh(500, 0, 2).off_by_g == 1 and weigh(900, 400, 2).off_by_g == 2
    assert methods.compute("weighed", {"gross_g": 900, "tare_g": 400}).value == 500


def test_half_a_step_is_not_rounded() -> None:
    assert weigh(300, 0, 3).off_by_g == 1.5
    assert methods.compute("least_change", {"step_g": 100}).value == pytest.approx(80.0, rel=0.001)
