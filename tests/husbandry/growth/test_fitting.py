"""Curves through weights: known curves are found again, and an end that the weights do not show is
not named.
"""

import datetime as dt
import math

import numpy as np
import pytest

from husbandry.growth.fitting import WeightRecord, fit

START = dt.date(2026, 1, 1)


def series(mass, days, noise=0.0, seed=1):
    """Weights of a known curve, with noise of the scale and the stomach."""
    chance = np.random.default_rng(seed)
    return [
        WeightRecord(
            on=START + dt.timedelta(days=int(day)),
            mass_g=float(mass(day) * math.exp(noise * chance.normal())),
        )
        for day in days
    ]


def bertalanffy(day):
    return 500 * (1 - 0.75 * math.exp(-0.006 * day)) ** 3


def gompertz(day):
    return 500 * math.exp(-4 * math.exp(-0.006 * day))


def logistic(day):
    return 500 / (1 + 30 * math.exp(-0.012 * day))


@pytest.mark.parametrize(
    ("curve", "family"),
    [(bertalanffy, "von Bertalanffy"), (gompertz, "Gompertz"), (logistic, "logistic")],
)
def test_a_known_curve_is_found_again(curve, family):
    """Three textbook equations (von Bertalanffy 1938, Gompertz 1825, Verhulst 1838; from memory),
    sampled without noise.
    """
    found = fit(series(curve, range(0, 900, 30)))
    assert found is not None
    assert found.family == family
    assert found.asymptote_g == pytest.approx(500, rel=1e-3)
    assert found.mass_g(START + dt.timedelta(days=450)) == pytest.approx(curve(450), rel=1e-3)


def test_weights_of_three_percent_noise_show_the_end():
    """24 weights over two years, 3 % noise: 500 g within the science note's 1 % or so, and the
    right family far ahead.
    """
    found = fit(series(bertalanffy, np.linspace(0, 900, 24), 0.03))
    assert found is not None and found.asymptote_g == pytest.approx(500, rel=0.05)
    assert found.family == "von Bertalanffy"
    assert found.scatter == pytest.approx(0.03, rel=0.5)


@pytest.mark.parametrize("seed", range(6))
def test_half_a_year_of_a_young_animal_does_not_show_its_end(seed):
    """180 days of the same curve: no asymptote is named, whichever noise falls."""
    found = fit(series(bertalanffy, np.linspace(0, 180, 10), 0.03, seed))
    assert found is None or found.asymptote_g is None


@pytest.mark.parametrize("days", [range(0, 150, 30), range(0, 60, 5)])
def test_too_few_weights_or_too_short_a_time_fit_nothing(days):
    assert fit(series(bertalanffy, days)) is None


def test_two_weighings_of_one_day_count_once():
    once = series(bertalanffy, range(0, 300, 30))
    found = fit([*once, *once])
    assert found is not None and found.count == 10


def test_order_does_not_matter():
    weights = series(bertalanffy, range(0, 600, 30), 0.02)
    assert fit(weights) == fit(list(reversed(weights)))


def test_the_target_covers_nine_of_ten():
    """Weights to come, four months ahead of a fit, lie in the 90 % interval about nine times in
    ten.
    """
    inside = total = 0
    for seed in range(40):
        found = fit(series(bertalanffy, range(0, 720, 30), 0.04, seed))
        assert found is not None
        chance = np.random.default_rng(1000 + seed)
        for day in (750, 840):
            true = bertalanffy(day) * math.exp(0.04 * chance.normal())
            on = START + dt.timedelta(days=day)
            inside += abs(math.log(true / found.mass_g(on))) <= 1.645 * found.sd(on)
            total += 1
    assert 0.8 <= inside / total <= 0.98


def test_the_same_as_the_reference_solver():
    """scipy's curve_fit on the bare equation, started at the truth, gives the same curve."""
    from scipy.optimize import curve_fit

    weights = series(bertalanffy, range(0, 900, 30), 0.03)
    days = np.array([(w.on - START).days for w in weights], dtype=float)
    logs = np.log([w.mass_g for w in weights])
    reference, _ = curve_fit(
        lambda t, grown, b, k: np.log(grown) + 3 * np.log(1 - b * np.exp(-k * t)),
        days,
        logs,
        p0=(500, 0.75, 0.006),
    )
    found = fit(weights)
    assert found is not None
    assert found.grown_g["von Bertalanffy"] == pytest.approx(reference[0], rel=1e-3)
