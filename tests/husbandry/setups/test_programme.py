"""The programme against choosing by trying everything."""

import itertools

import numpy as np
import pytest

from husbandry.documents.room import Room
from husbandry.setups.candidates import HeaterCandidate
from husbandry.setups.closure import RoomCase, data_of
from husbandry.setups.programme import (
    GOALS,
    ChoiceProblem,
    Linearised,
    choose,
    linear_values,
    without,
)
from husbandry.setups.responses import OUTPUTS
from husbandry.setups.starter import start
from husbandry.species.library import find
from husbandry.species.needs import NeedKey

ROOM = Room(day_c=21, night_c=18, summer_max_c=28, rh_pct=50)


@pytest.fixture(scope="module")
def targets():
    """What a leopard gecko needs, without ultraviolet."""
    room = RoomCase(21, 18, 28, 50)
    needs = start(data_of(find("Eublepharis macularius"), "adult", room), choices=[]).needs
    return {key: value for key, value in needs.targets.items() if key is not NeedKey.UVI_DAY}


def lamp(kind, probe, x, watts=(20.0, 35.0, 50.0, 75.0, 100.0)):
    return HeaterCandidate(kind, watts[-1], x, 0.2, 0.4, probe=probe, sold_w=watts)


def problem(targets, gains, **more):
    heaters = (lamp("halogen_flood", "surface", 0.2), lamp("ceramic_emitter", "warm_air", 0.4))
    linear = Linearised(np.array(gains).T, np.array([0.0, 0.05]), np.zeros((3, 0)))
    return ChoiceProblem(heaters, (), targets, ROOM, linear, GOALS["balanced"], False, **more)


GAINS = [(0.24, 0.10, 0.04), (0.05, 0.12, 0.09)]


def test_the_choice_keeps_every_range_that_can_be_kept(targets):
    answer = choose(problem(targets, GAINS))
    assert answer is not None and not answer.missed(0.05)
    heaters = problem(targets, GAINS).heaters
    linear = problem(targets, GAINS).linear
    values = dict(
        zip(
            (*OUTPUTS, NeedKey.AIR_NIGHT),
            linear_values(answer, heaters, (), ROOM, linear),
            strict=True,
        )
    )
    for key, value in values.items():
        if key in targets:
            assert targets[key].shortfall(float(value)) < 0.02, key


def test_no_set_of_powers_misses_less(targets):
    """By trying every pair of powers in steps of a watt: the reference is the arithmetic itself."""
    gains = np.array([(0.30, 0.05, 0.12), (0.05, 0.06, 0.09)])  # cannot meet all
    answer = choose(problem(targets, gains.tolist()))
    assert answer is not None
    missed = sum(
        by / targets[key].width for (key, word), by in answer.slacks.items() if word != "failed on"
    )

    def miss(pair):
        values = 21 + np.array(pair) @ gains
        return sum(
            targets[key].shortfall(float(value))
            for key, value in zip(OUTPUTS, values, strict=True)
            if key in targets
        )

    best = min(miss(pair) for pair in itertools.product(range(101), repeat=2))
    assert missed <= best + 0.35  # the firm distance inside each range comes on top


def test_a_power_that_is_sold_is_taken():
    one = lamp("halogen_flood", "surface", 0.2)
    assert [one.sized(watts).power_w for watts in (3, 20, 20.5, 99, 140)] == [20, 20, 35, 100, 100]


def test_leaving_a_bound_out_never_misses_more(targets):
    hard = problem(targets, [(0.30, 0.05, 0.12), (0.05, 0.06, 0.09)])
    whole = choose(hard)
    assert whole is not None
    for bound in whole.missed():
        loose = without(hard, dropped=frozenset({bound}))
        assert loose is not None and bound not in loose.slacks
        assert loose.cost_eur <= whole.cost_eur * 1.09  # the programme stops within 8 %
