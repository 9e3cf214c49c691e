"""Water of a pool through its day, against an independent solver, steady balances and common
practice of tanks.
"""

import math

import pytest
from psychrolib import SI, GetSatVapPres, SetUnitSystem
from scipy.integrate import solve_ivp

from husbandry.climate.moisture import saturation
from husbandry.climate.pool_heat import (
    WATER_J_LK,
    PoolBody,
    PoolSurroundings,
    tank_heater_w,
    water_day,
    water_heater_w,
)

STEPS = 48
DAY = tuple(16 <= n < 40 for n in range(STEPS))
AIR = tuple(28.0 if on else 19.0 for on in DAY)
ROOM = tuple(21.0 if on else 18.0 for on in DAY)
VAPOUR = tuple(0.7 * saturation(t) for t in AIR)
BEAM = tuple(12.0 if on else 0.0 for on in DAY)
AROUND = PoolSurroundings(1800.0, AIR, VAPOUR, ROOM, BEAM)


def still(air: float, rh: float, room: float) -> PoolSurroundings:
    """The same all day."""
    return PoolSurroundings(
        1800.0, (air,) * STEPS, (rh * saturation(air),) * STEPS, (room,) * STEPS, (0.0,) * STEPS
    )


@pytest.mark.parametrize(
    ("litres", "substrate", "room"), [(8.0, 0.4, 1.3), (30.0, 1.5, 2.5), (140.0, 0.0, 10.0)]
)
def test_a_day_agrees_with_an_independent_solver(
    litres: float, substrate: float, room: float
) -> None:
    """scipy's LSODA on the same balance, saturation by psychrolib, ten days to settle: within 0.15
    K at every hour.
    """
    SetUnitSystem(SI)
    pool = PoolBody(litres, 0.2, substrate, room)
    mean = sum(AIR) / STEPS
    wet = 3.0 / (1.19 * 1006 * 0.911) * 2.45e6 / 461.52

    def slope(t: float, state: list[float]) -> list[float]:
        n, temp = int(t // 1800) % STEPS, state[0]
        evaporates = wet / (temp + 273.15) * 0.2 * (GetSatVapPres(temp) - VAPOUR[n])
        flow = (
            8.0 * 0.2 * (AIR[n] - temp)
            + substrate * (mean - temp)
            + room * (ROOM[n] - temp)
            + BEAM[n]
            - evaporates
        )
        return [flow / (litres * WATER_J_LK)]

    ends = [9 * 86400 + 1800 * (n + 1) for n in range(STEPS)]
    solved = solve_ivp(slope, (0, 10 * 86400), [mean], t_eval=ends, max_step=600, rtol=1e-7)
    found = water_day(pool, AROUND).water_c
    assert max(abs(a - b) for a, b in zip(found, solved.y[0], strict=True)) < 0.15


def test_a_pool_in_still_air_cools_below_it() -> None:
    """A pan of water in dry air stands between its wet bulb and the air (psychrometry: the wet-bulb
    temperature is the least it can reach).
    """
    from psychrolib import GetTWetBulbFromRelHum

    SetUnitSystem(SI)
    wet_bulb = GetTWetBulbFromRelHum(25, 0.4, 101325)
    alone = water_day(PoolBody(5, 0.1, 0, 0), still(25, 0.4, 25)).water_c[-1]
    assert wet_bulb < alone < 24
    assert water_day(PoolBody(5, 0.1, 0, 0), still(25, 1.0, 25)).water_c[-1] == pytest.approx(
        25, abs=0.02
    )


def test_a_heater_gives_what_the_steady_balance_asks() -> None:
    pool = PoolBody(150, 0.36, 0, 6.5, heater_w=200, held_c=25)
    day = water_day(pool, still(21, 0.7, 20))
    assert day.heater_wh / 24 == pytest.approx(water_heater_w(0.36, 6.5, 25, 21, 70, 20), rel=1e-3)
    assert set(day.water_c) == {25.0}


def test_the_watts_of_a_tank_are_those_that_keepers_buy() -> None:
    """Half a watt to one and a half for each litre at five kelvin over the room (common practice,
    no source).
    """
    for litres, surface, other in ((60, 0.18, 3.6), (140, 0.48, 8.0), (240, 0.6, 11.0)):
        assert 0.4 < water_heater_w(surface, other, 25, 21, 75, 20) / litres < 1.6


def test_a_weak_heater_is_on_all_day_and_does_not_hold() -> None:
    day = water_day(PoolBody(150, 0.36, 0, 6.5, heater_w=25, held_c=25), still(21, 0.7, 20))
    assert day.heater_wh == pytest.approx(25 * 24) and max(day.water_c) < 24
    stuck = water_day(PoolBody(150, 0.36, 0, 6.5, heater_w=200), still(21, 0.7, 20))
    assert min(stuck.water_c) > 30


def test_more_water_swings_less() -> None:
    swings = []
    for litres in (5, 20, 100):
        found = water_day(PoolBody(litres, 0.15, 0.5, 1.5), AROUND).water_c
        swings.append(max(found) - min(found))
    assert swings == sorted(swings, reverse=True) and swings[0] > 2 * swings[-1]


def test_its_time_constant_is_capacity_over_losses() -> None:
    """Exponential decay towards its surroundings, after evaporation is taken out by full air
    (textbook: lumped capacity).
    """
    pool, air = PoolBody(50, 0.2, 0.0, 4.0), still(20.0, 1.0, 20.0)
    first = PoolSurroundings(
        1800.0, (20.0,) * STEPS, air.vapour_pa, (20.0,) * STEPS, (200.0,) + (0.0,) * (STEPS - 1)
    )
    found = water_day(pool, first).water_c
    slope = 10 * (saturation(20.05) - saturation(19.95))
    loss = 8 * 0.2 + 4 + 3.0 / (1.19 * 1006 * 0.911) * 2.45e6 / (461.52 * 293.15) * 0.2 * slope
    expected = math.exp(-3600 * 5 * loss / (50 * WATER_J_LK))
    assert (found[20] - 20) / (found[10] - 20) == pytest.approx(expected, rel=0.01)


@pytest.mark.parametrize(
    ("length", "depth", "water"), [(0.6, 0.3, 0.25), (1.0, 0.4, 0.3), (1.2, 0.5, 0.4)]
)
def test_a_tanks_heater_is_about_a_watt_a_litre_at_ten_kelvin(
    length: float, depth: float, water: float
) -> None:
    """A watt for each litre lifts a tank by some seven to twelve kelvin (common practice, no
    source).
    """
    litres = 1000 * length * depth * water
    assert 0.6 < tank_heater_w(length, depth, water, 28, 18) / litres < 2.4
    assert tank_heater_w(length, depth, water, 20, 20) < 0.25 * tank_heater_w(
        length, depth, water, 28, 18
    )
