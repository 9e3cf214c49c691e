"""The enclosure in time, against closed forms, the matrix exponential and fine layers: sections 2.4
and 7 of the science note of heat.
"""

import math

import numpy as np
import pytest
from scipy.linalg import expm
from scipy.linalg import solve as linear

from husbandry.climate.heat import end_points, solve
from husbandry.climate.heat_model import Thermostat
from husbandry.climate.transient import (
    BED_SHARE,
    HYSTERESIS_K,
    Control,
    NetworkModes,
    Stepper,
    TransientEnclosure,
    WatchedTemperature,
    rise_times_h,
    spot_lag_s,
)
from husbandry.enclosure.geometry import Interior
from husbandry.errors import CannotCalculateError
from tests.husbandry.climate.test_heat import build, ends, surface


def two_nodes():
    """Two nodes 5e3 and 60e3 J/K, 20 W/K between them, 2 and 10 W/K to a room."""
    matrix = np.array([[22.0, -20.0], [-20.0, 30.0]])
    return matrix, np.array([5e3, 60e3]), np.array([2.0, 10.0])


def test_a_network_that_rounding_lets_gain_heat_is_refused():
    """A conductance that a part's mass drowns in rounding: the sum of a row is no longer positive."""
    matrix = np.array([[1.0, -1.0 - 1e-6], [-1.0 - 1e-6, 1.0]])
    with pytest.raises(CannotCalculateError, match="differ too much in mass"):
        NetworkModes.of(matrix, np.array([1e-6, 1e3]))


def stepped(step_s, count):
    matrix, capacity, room = two_nodes()
    modes = NetworkModes.of(matrix, capacity)
    inputs = np.column_stack([room, np.array([1.0, 0.0])])
    stepper = Stepper.of(modes, inputs, np.eye(2), step_s)
    state = stepper.begin(np.array([20.0, 20.0]))
    given = np.array([20.0, 80.0])
    for _ in range(count):
        state = stepper.decay * state + stepper.gain @ given
    return stepper.rows @ state + stepper.through @ given


def test_two_nodes_after_an_hour_are_those_of_the_matrix_exponential():
    """Check 17: 26.0958 and 22.8494 °C after 3600 s at 80 W in a 20 °C room (scipy expm); 29.2308
    and 26.1538 in the end.
    """
    matrix, capacity, room = two_nodes()
    rate = -matrix / capacity[:, None]
    force = (room * 20 + np.array([80.0, 0.0])) / capacity
    rest = linear(-rate, force)
    reference = rest + expm(rate * 3600) @ (np.array([20.0, 20.0]) - rest)
    assert reference == pytest.approx([26.0958, 22.8494], abs=1e-4)
    assert stepped(3600, 1) == pytest.approx(reference, abs=1e-6)
    assert stepped(1e6, 3) == pytest.approx([29.2308, 26.1538], abs=1e-4)


def test_forty_short_steps_are_one_long_step():
    """Check 18: exact for constant inputs."""
    assert stepped(30, 40) == pytest.approx(stepped(1200, 1), abs=1e-9)


def test_an_on_off_cycle_takes_the_times_of_the_closed_form():
    """Check 16: C 60e3 J/K, 12 W/K, 84 W, room 22 °C, set 27 ± 0.5 °C: 2554 s on, 1003 s off
    (closed form of one node).
    """
    capacity, loss, power, room = 60e3, 12.0, 84.0, 22.0
    tau, high = capacity / loss, room + power / loss
    on = tau * math.log((high - 26.5) / (high - 27.5))
    off = tau * math.log((27.5 - room) / (26.5 - room))
    assert (on, off) == (pytest.approx(2554, rel=0.02), pytest.approx(1003, rel=0.02))
    modes = NetworkModes.of(np.array([[loss]]), np.array([capacity]))
    stepper = Stepper.of(modes, np.array([[loss, 1.0]]), np.eye(1), 10.0)
    state, heating, switched = stepper.begin(np.array([27.0])), 1.0, []
    for step in range(3000):
        state = stepper.decay * state + stepper.gain @ np.array([room, power * heating])
        temp = float((stepper.rows @ state)[0])
        if heating and temp > 27 + HYSTERESIS_K:
            heating = 0.0
            switched.append(step * 10)
        elif not heating and temp < 27 - HYSTERESIS_K:
            heating = 1.0
            switched.append(step * 10)
    gaps = np.diff(switched)
    assert gaps[0::2].mean() == pytest.approx(off, rel=0.02) and gaps[
        1::2
    ].mean() == pytest.approx(on, rel=0.02)


def test_a_bead_follows_its_time_constant():
    """Check 22: a thermocouple of τ = 1 s from 25 to 199 °C in 200 °C air takes 5.16 s (textbook of
    heat transfer, from memory).
    """
    modes = NetworkModes.of(np.array([[1.0]]), np.array([1.0]))
    stepper = Stepper.of(modes, np.array([[1.0]]), np.eye(1), 0.01)
    state, count = stepper.begin(np.array([25.0])), 0
    while float((stepper.rows @ state)[0]) < 199:
        state = stepper.decay * state + stepper.gain @ np.array([200.0])
        count += 1
    assert count * 0.01 == pytest.approx(5.16, rel=0.005)


def test_rise_times_of_an_exponential():
    hours = np.linspace(0, 40, 4001)
    assert rise_times_h(hours, 1 - np.exp(-hours / 2)) == pytest.approx(
        (0.5754, 1.3863, 4.6052), rel=1e-2
    )


def column(bed):
    """Stone 3 cm in two nodes, contact 0.02 m²K/W, soil 5 cm shared between the stone's underside
    and the floor, 0.24 m²K/W to the room, film 11.
    """
    stone, soil = 2600 * 850 * 0.03, 1300 * 1200 * 0.05
    capacity = np.array([stone / 2, stone / 2 + bed * soil, (1 - bed) * soil])
    through, below, film, out = 2.2 / 0.03, 1 / (0.02 + 0.05 / 0.5), 11.0, 1 / 0.24
    matrix = np.array(
        [
            [through + film, -through, 0],
            [-through, through + below, -below],
            [0, -below, below + out],
        ]
    )
    modes = NetworkModes.of(matrix, capacity)
    stepper = Stepper.of(modes, np.eye(3)[:, :1], np.eye(1, 3), 60.0)
    state, found = stepper.begin(np.zeros(3)), [0.0]
    for _ in range(3000):
        state = stepper.decay * state + stepper.gain @ np.array([100.0])
        found.append(float((stepper.rows @ state + stepper.through @ np.array([100.0]))[0]))
    return rise_times_h(np.arange(3001) / 60, np.array(found), (0.25, 0.5, 0.9))


def test_a_stone_on_soil_warms_as_fine_layers_do():
    """Check 27: 0.37, 1.27 and 5.9 h to 25, 50 and 90 % of the surface's rise (20 + 40 fine
    layers), within 10 %.
    """
    assert column(BED_SHARE) == pytest.approx((0.37, 1.27, 5.9), rel=0.10)


def clock(substrate=0.05, thermostat=None):
    solved = solve(build(interior=Interior(1.2, 0.6, 0.6, substrate), thermostat=thermostat))
    left, right = end_points(solved.heat_model, 0.05)
    watches = [
        WatchedTemperature("surface", solved.surface(0), spot_lag_s(solved, 0)),
        WatchedTemperature("warm", solved.air(*left)),
        WatchedTemperature("cool", solved.air(*right)),
    ]
    return TransientEnclosure(solved, watches)


def always(n, hour):
    return True


def by_day(n, hour):
    return 8 <= hour % 24 < 20


def test_run_long_enough_it_is_the_steady_state():
    interior = clock()
    run = interior.run(
        hours=120, room_c=lambda hour: 21.0, lit=always, controls=[Control()], step_s=600
    )
    assert run.values["surface"][-1] == pytest.approx(surface(interior.steady), abs=0.01)
    assert (run.values["warm"][-1], run.values["cool"][-1]) == pytest.approx(
        ends(interior.steady), abs=0.01
    )


def test_without_heat_it_stays_at_the_rooms_temperature():
    run = clock().run(
        hours=24,
        room_c=lambda hour: 19.0,
        lit=lambda n, hour: False,
        controls=[Control()],
        step_s=300,
    )
    assert all(
        values == pytest.approx(np.full(len(values), 19.0), abs=1e-9)
        for values in run.values.values()
    )
    assert run.energy_kwh() == 0


def test_a_run_in_two_parts_is_one_run_whatever_the_steps():
    interior = clock()
    whole = interior.run(
        hours=30, room_c=lambda hour: 20.0, lit=by_day, controls=[Control()], step_s=60
    )
    first = interior.run(
        hours=10, room_c=lambda hour: 20.0, lit=by_day, controls=[Control()], step_s=60
    )
    second = interior.run(
        hours=20,
        room_c=lambda hour: 20.0,
        lit=by_day,
        controls=[Control()],
        step_s=120,
        start_h=10,
        state=first.end,
    )
    assert second.values["cool"][-1] == pytest.approx(whole.values["cool"][-1], abs=0.01)


def test_deep_substrate_is_slow_and_thin_substrate_is_not():
    """The note: the slowest mode 3.4 h with 5 cm of soil; air makes half of its rise within the
    first hours; less substrate, less wait.
    """
    assert clock().modes.slowest_h == pytest.approx(3.4, rel=0.05)
    halves = []
    for substrate in (0.05, 0.01):
        run = clock(substrate).run(
            hours=48, room_c=lambda hour: 21.0, lit=always, controls=[Control()], step_s=300
        )
        half, most = rise_times_h(run.hours, run.values["warm"], (0.5, 0.9))
        halves.append(half)
        assert 0.4 < half < 1.6 and 2.5 < most < 7
    assert halves[1] < halves[0]


@pytest.mark.parametrize("switches", [False, True])
def test_a_thermostat_holds_the_surface_by_day(switches):
    interior = clock(thermostat=Thermostat(38, "surface"))
    control = Control(38, interior.steady.probe(0), switches=switches)
    run = interior.run(hours=24, room_c=lambda hour: 21.0, lit=by_day, controls=[control])
    evening = run.values["surface"][18 * 120 : 20 * 120 - 2]
    assert evening.mean() == pytest.approx(38, abs=0.2)
    assert np.ptp(evening) < (2.5 if switches else 0.2)
    assert run.energy_kwh() == pytest.approx(0.9, abs=0.1)


def test_faults_stick_and_a_fallen_probe_heats_like_a_stuck_one():
    interior = clock(thermostat=Thermostat(38, "surface"))
    probe = interior.steady.probe(0)
    common = {"hours": 12, "room_c": lambda hour: 21.0, "lit": always, "step_s": 120}
    stuck = interior.run(controls=[Control(38, probe, stuck=1.0)], **common)
    fallen = interior.run(controls=[Control(38, probe, probe_in_room=True)], **common)
    dead = interior.run(controls=[Control(38, probe, stuck=0.0)], **common)
    assert stuck.values["surface"][-1] > 41 and fallen.values["surface"][-1] == pytest.approx(
        stuck.values["surface"][-1]
    )
    assert dead.values["surface"][-1] == pytest.approx(21)
