"""The programme's own short cuts give the answers of a plain search of all variables."""

import numpy as np
import pytest
from scipy.optimize import Bounds, LinearConstraint, milp

from husbandry.setups.mixed_integer import GAP, MixedInteger


def knapsack(seed: int, places: int) -> MixedInteger:
    """Devices with prices and two gains that have to be reached, by at most so many of them."""
    rng = np.random.default_rng(seed)
    model = MixedInteger()
    bought = [model.variable(float(rng.uniform(5, 60)), 0, 1, whole=True) for _ in range(places)]
    for _ in range(2):
        gains = dict(zip(bought, rng.uniform(0.2, 3.0, places).tolist(), strict=True))
        short = model.variable(500.0, 0, 10)
        model.row({**gains, short: 1.0}, 6.0, np.inf)
    model.row(dict.fromkeys(bought, 1.0), 0, 5)
    return model


@pytest.mark.parametrize("seed", range(12))
@pytest.mark.parametrize("places", [10, 60, 150])
def test_what_is_left_out_could_not_have_been_better(seed: int, places: int) -> None:
    """scipy's HiGHS over all variables, to its end."""
    model = knapsack(seed, places)
    relaxed = model.relaxed()
    assert relaxed is not None
    found = model.solve(relaxed)
    assert found is not None
    matrix, low, high = model._table()
    plain = milp(
        np.array(model.cost),
        integrality=np.array(model.whole),
        bounds=Bounds(np.array(model.low), np.array(model.high)),
        constraints=LinearConstraint(matrix, low, high),
    )
    assert relaxed.cost - 1e-6 <= plain.fun <= found.cost + 1e-6
    assert found.cost <= plain.fun * 1.15 + 1e-6, (found.cost, plain.fun)
    assert GAP < 0.15
