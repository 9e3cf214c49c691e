"""What is remembered is what would be found again, and nobody can write into it."""

from dataclasses import replace

import numpy as np
import pytest

from husbandry.climate.heat import solve
from husbandry.climate.network import deposit
from husbandry.documents.request import Request
from husbandry.memory import forget, remembered
from husbandry.plan.plan import plan
from husbandry.predict.exposure import DAY_HOUR
from husbandry.predict.predict import AnimalPosition, heat_model_of


def test_the_last_answers_are_kept_until_all_are_forgotten() -> None:
    asked: list[int] = []

    @remembered(2)
    def double(number: int) -> int:
        """Twice the number."""
        asked.append(number)
        return 2 * number

    assert [double(n) for n in (1, 1, 2, 3, 1)] == [2, 2, 4, 6, 2]
    assert asked == [1, 2, 3, 1]
    forget()
    assert double(1) == 2
    assert asked == [1, 2, 3, 1, 1]


def test_a_plan_is_the_same_with_and_without_memory(request_: Request) -> None:
    forget()
    afresh = plan(request_)
    assert plan(request_) == afresh


def test_a_lamps_watts_land_alike_in_every_room_and_at_every_power(request_: Request) -> None:
    model = heat_model_of(request_, DAY_HOUR, 21.0, AnimalPosition(0.04))
    lamp = model.lamps[0]
    forget()
    warm = deposit(replace(model, room_c=30.0), replace(lamp, power_w=150.0))
    forget()
    assert deposit(model, lamp).heat == pytest.approx(warm.heat, abs=0)


def test_what_is_remembered_cannot_be_written_into(request_: Request) -> None:
    steady = solve(heat_model_of(request_, DAY_HOUR, 21.0, AnimalPosition(0.04)))
    for array in (steady.temps_c, steady.powers_w, steady.deposits[0].heat):
        with pytest.raises(ValueError, match="read-only"):
            np.add(array, 1.0, out=array)
