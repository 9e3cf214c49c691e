"""The balance of an enclosure's water: against psychrolib, an independent solver, closed forms, and
its own ledger.
"""

import itertools
import math
from dataclasses import replace

import numpy as np
import psychrolib
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.integrate import solve_ivp

from husbandry.climate.misting import (
    HumidityBounds,
    even_marks,
    half_life_h,
    humidity,
    misted,
    timetable,
    wave_of,
)
from husbandry.climate.moisture import (
    Forcing,
    MoistureModel,
    WaterStores,
    evaporation_coefficient,
    run,
    saturation,
    settle,
)
from husbandry.climate.vapour import GAS_VAPOUR_J_KGK, dew_point

psychrolib.SetUnitSystem(psychrolib.SI)
L, W, H = 0.45, 0.45, 0.60
TALL = MoistureModel(
    L * W * H, L * W + H * (L + W), 2 * H * (L + W), 0.55, L * W, 0.15, 10.0, 0.02
)
DRY = MoistureModel(0.12, 1e-9, 1e-9, 0.5, 0.0, 0.0, 0.0, 1e-12)


def day(
    changes: float,
    *,
    steps: int = 48,
    room_c: float = 20.0,
    room_pct: float = 50.0,
    swing: float = 3.0,
) -> Forcing:
    air = (23 + swing * math.sin(2 * math.pi * (24 * n / steps - 9) / 24) for n in range(steps))
    room = room_pct / 100 * saturation(room_c)
    return Forcing(
        86400 / steps,
        tuple(air),
        (room_c,) * steps,
        (room,) * steps,
        (changes,) * steps,
        (0.0,) * steps,
        (0.0,) * steps,
    )


@pytest.mark.parametrize("temp", [5, 15, 24, 30, 40])
def test_saturation_and_dew_point_agree_with_psychrolib(temp: float) -> None:
    assert saturation(temp) == pytest.approx(psychrolib.GetSatVapPres(temp), rel=5e-4)
    for pct in (75, 85, 95):  # above ice: below it psychrolib's saturation is that over ice
        assert dew_point(pct, temp) == pytest.approx(
            psychrolib.GetTDewPointFromRelHum(temp, pct / 100), abs=0.02
        )


def test_a_litre_of_damp_air_holds_little() -> None:
    """Source: humidity A2: the air of a 200 l enclosure at 25 °C takes 1.84 g from 50 to 90 %;
    psychrolib's vapour densities say the same.
    """
    grams = 200 * (saturation(25) * 0.4) / (GAS_VAPOUR_J_KGK * 298.15)
    assert grams == pytest.approx(1.84, abs=0.01)
    ratios = [psychrolib.GetHumRatioFromRelHum(25, pct, 101325) for pct in (0.5, 0.9)]
    densities = [w / psychrolib.GetMoistAirVolume(25, w, 101325) for w in ratios]
    assert grams == pytest.approx(200 * (densities[1] - densities[0]), rel=0.01)


@pytest.mark.parametrize(
    ("temp", "film", "known"),
    [(15, 3, 45), (20, 3, 40), (25, 3, 34), (30, 3, 30), (25, 1.5, 21), (25, 6, 56), (25, 10, 82)],
)
def test_evaporation_by_temperature_and_film(temp: float, film: float, known: float) -> None:
    """Source: humidity A2, its table in g/(m² h kPa)."""
    assert evaporation_coefficient(temp, film) == pytest.approx(known, abs=0.8)


def test_uncooled_evaporation_is_that_of_the_pool_formula() -> None:
    """(0.089 + 0.0782 v)/Y in still air, Y = 2442 kJ/kg, half of it for undisturbed water: 66 g/(m²
    h kPa) (handbooks of air conditioning; from memory).
    """
    uncooled = 3.0 / (1.19 * 1006 * 0.911) / (GAS_VAPOUR_J_KGK * 298.15) * 3.6e9
    assert uncooled == pytest.approx(0.5 * 0.089 / 2442 * 3.6e6, rel=0.15)


def test_air_alone_dries_by_its_closed_form() -> None:
    """80 to 60 % at 24 °C, room 21 °C 45 %, three changes an hour: 12.7 minutes (source: humidity
    A3).
    """
    room = 0.45 * saturation(21)
    forcing = Forcing(
        60, (24.0,) * 30, (21.0,) * 30, (room,) * 30, (3.0,) * 30, (0.0,) * 30, (0.0,) * 30
    )
    values = humidity(run(DRY, forcing, WaterStores(0.8 * saturation(24))), forcing.air_c)
    minutes = float(np.interp(-60, -np.array(values), np.arange(1, 31)))
    closed = math.log((0.8 * saturation(24) - room) / (0.6 * saturation(24) - room)) / 3 * 60
    assert closed == pytest.approx(12.7, abs=0.1)
    assert minutes == pytest.approx(closed, abs=0.15)


def test_half_of_what_the_room_lacks_is_gone_after_a_half_life() -> None:
    assert half_life_h(2, 1) == pytest.approx(0.3466, abs=1e-4) and half_life_h(
        2, 3
    ) == pytest.approx(3 * half_life_h(2, 1))


def test_a_settled_enclosure_stands_at_its_closed_form() -> None:
    """(G_v e_r + G e_s)/(G_v + G) for open water alone (source: humidity A3)."""
    wet = MoistureModel(0.12, 1e-9, 1e-9, 0.0, 0.0, 0.0, 0.0, 0.05)
    forcing = day(2.0, swing=0.0)
    per_pa = 1 / (GAS_VAPOUR_J_KGK * 296.15)
    vent, water = 0.12 * 2 / 3600 * per_pa, evaporation_coefficient(23, 3) / 3.6e9 * 0.05
    closed = (vent * forcing.room_pa[0] + water * saturation(23)) / (vent + water)
    assert run(wet, forcing).vapour_pa[-1] == pytest.approx(closed, rel=1e-6)


@pytest.mark.parametrize("pool_c", [15.0, 23.0, 26.0])
def test_over_a_pool_of_known_warmth_it_stands_at_its_closed_form(pool_c: float) -> None:
    """(G_v e_r + G e_s(T_w))/(G_v + G), G by the handbooks' uncooled transfer: the pool's own
    warmth has what evaporation takes in it.
    """
    over = MoistureModel(0.12, 1e-9, 1e-9, 0.0, 0.0, 0.0, 0.0, 1e-12, pool_m2=0.05)
    forcing = replace(day(2.0, swing=0.0), pool_c=[pool_c] * 48)
    vent = 0.12 * 2 / 3600 / (GAS_VAPOUR_J_KGK * 296.15)
    pool = 3.0 / (1.19 * 1006 * 0.911) * 0.05 / (GAS_VAPOUR_J_KGK * (pool_c + 273.15))
    closed = (vent * forcing.room_pa[0] + pool * saturation(pool_c)) / (vent + pool)
    series = run(over, forcing)
    assert (
        series.vapour_pa[-1] == pytest.approx(closed, rel=1e-6) and abs(series.residual_kg) < 1e-12
    )
    given = series.ledger.from_dishes  # among days alike what it gives is what the air carries off
    alike = run(over, forcing, series.end).ledger
    assert (
        alike.from_dishes == pytest.approx(alike.to_room - alike.from_room, rel=1e-9)
        and given > alike.from_dishes * 0.9
    )


def test_warm_water_fogs_cold_panes_and_adds_up() -> None:
    over = replace(TALL, pool_m2=0.1)
    forcing = replace(misted(day(1.0), (8,), 0.1), pool_c=(27.0,) * 48)
    series = settle(over, forcing)
    cooler = settle(over, replace(forcing, pool_c=(18.0,) * 48))
    assert abs(series.residual_kg) < 1e-12 and max(series.dew_kg) > 0
    assert all(warm > cold for warm, cold in zip(series.vapour_pa, cooler.vapour_pa, strict=True))
    # without its own warmth it is open water like any other
    plain = run(replace(TALL, water_m2=TALL.water_m2 + 0.1), misted(day(1.0), (8,), 0.1))
    assert run(over, misted(day(1.0), (8,), 0.1)).vapour_pa == pytest.approx(plain.vapour_pa)


@pytest.mark.parametrize("changes", [0.3, 2, 6, 20])
def test_water_adds_up(changes: float) -> None:
    series = run(TALL, misted(day(changes), (7, 18), 0.3))
    assert abs(series.residual_kg) < 1e-12
    assert series.ledger.misted == pytest.approx(0.6)


@given(
    changes=st.floats(0.05, 60),
    wetness=st.floats(0, 1),
    each=st.floats(0, 2),
    room=st.floats(1, 100),
    drop=st.floats(0, 0.9),
    buffer=st.floats(1, 8),
    fog=st.floats(0, 3e-4),
)
@settings(max_examples=60, deadline=None)
def test_it_always_adds_up_and_stays_between_nothing_and_full(
    changes: float,
    wetness: float,
    each: float,
    room: float,
    drop: float,
    buffer: float,
    fog: float,
) -> None:
    interior = MoistureModel(L * W * H, 0.7, 1.0, drop, L * W, wetness, 4.0, 0.01, buffer=buffer)
    forcing = misted(day(changes, room_pct=room), (6, 20), each)
    series = run(
        interior,
        Forcing(
            *(
                forcing.step_s,
                forcing.air_c,
                forcing.room_c,
                forcing.room_pa,
                forcing.changes_per_h,
                forcing.mist_kg,
                (fog,) * 48,
            )
        ),
    )
    assert abs(series.residual_kg) < 1e-9
    assert all(0 <= value <= 100 for value in humidity(series, forcing.air_c))
    assert min(*series.film_kg, *series.dew_kg, *series.substrate_kg) > -1e-9


@pytest.mark.parametrize("changes", [2.0, 6.0, 20.0])
def test_it_agrees_with_an_independent_solver(changes: float) -> None:
    """The same equations by scipy's LSODA, film and dew included, without the exact steps: within a
    point and a half at half hours.
    """
    steps, days = 48, 2
    forcing = misted(day(changes), (7, 15), 0.047)
    air = np.array(forcing.air_c)

    def rates(t: float, y: np.ndarray) -> list[float]:
        vapour, film, dew = y
        temp = air[int(t // forcing.step_s) % steps]
        per_pa = 1 / (GAS_VAPOUR_J_KGK * (temp + 273.15))
        wet = evaporation_coefficient(temp, 3) / 3.6e9
        full, pane = saturation(temp), saturation(temp - 0.55 * (temp - 20))
        cover = min(max(film, 0) / TALL.most_film_kg, 1)
        from_film = wet * TALL.film_m2 * cover * (full - vapour)
        from_pane = (
            3.0 / (1.19 * 1006 * 0.911) * per_pa * TALL.pane_m2 * (pane - vapour)
            if dew > 1e-7 or vapour > pane
            else 0.0
        )
        rest = wet * (L * W * 0.15 + 0.02) * (full - vapour)
        vent = L * W * H * changes / 3600 * per_pa * (forcing.room_pa[0] - vapour)
        return [
            (from_film + from_pane + rest + vent) / (L * W * H * per_pa),
            -from_film if film > 0 or from_film < 0 else 0.0,
            -from_pane,
        ]

    state, found = np.array([forcing.room_pa[0], 0.0, 0.0]), []
    for n in range(days * steps):
        state[1] = min(max(state[1], 0.0) + forcing.mist_kg[n % steps], TALL.most_film_kg)
        state[2] = max(state[2], 0.0)
        piece = solve_ivp(
            rates,
            (n * forcing.step_s, (n + 1) * forcing.step_s),
            state,
            method="LSODA",
            max_step=60,
            rtol=1e-7,
        )
        state = piece.y[:, -1]
        found.append(min(100 * state[0] / saturation(air[n % steps]), 100.0))
    ours = humidity(settle(TALL, forcing, 2), forcing.air_c)
    assert np.abs(np.array(found[-steps:]) - ours).max() < 1.5


def test_more_air_is_drier_and_takes_more_water() -> None:
    days = [settle(TALL, misted(day(changes), (7, 18), 0.05), 4) for changes in (1, 3, 10, 30)]
    means = [sum(one.vapour_pa) for one in days]
    assert all(a > b for a, b in itertools.pairwise(means))
    lost = [one.ledger.to_room - one.ledger.from_room for one in days]
    assert lost[0] < lost[-1]


def test_a_finer_step_tells_nothing_new() -> None:
    coarse, fine = (
        settle(TALL, misted(day(6, steps=steps), (7, 15), 0.047), 3) for steps in (48, 288)
    )
    at = [
        humidity(series, day(6, steps=steps).air_c)
        for series, steps in ((coarse, 48), (fine, 288))
    ]
    assert max(abs(a - b) for a, b in zip(at[0], at[1][5::6], strict=True)) < 3


@pytest.mark.parametrize(("room_c", "fogs_at"), [(23, 90.6), (20, 82), (16, 72)])
def test_panes_fog_at_their_own_humidity(room_c: float, fogs_at: float) -> None:
    """Air of 26 °C, panes at 0.55 of the way to the room. Source: humidity A2."""
    pane = 26 - 0.55 * (26 - room_c)
    assert 100 * saturation(pane) / saturation(26) == pytest.approx(fogs_at, abs=0.6)
    for pct, dew in ((fogs_at - 2, False), (fogs_at + 2, True)):
        forcing = Forcing(
            60,
            (26.0,) * 2,
            (room_c,) * 2,
            (pct / 100 * saturation(26),) * 2,
            (5.0,) * 2,
            (0.0,) * 2,
            (0.0,) * 2,
        )
        interior = MoistureModel(0.12, 1e-9, 1.0, 0.55, 0.0, 0.0, 0.0, 1e-12)
        assert (run(interior, forcing).dew_kg[-1] > 1e-6) is dew


# --- timetables -----------------------------------------------------------------------------------


def test_the_notes_example_of_a_timetable() -> None:
    """121 l, room 20 °C 50 %, 20 to 26 °C, marks 60 and 90 %: half a change an hour too wet, two
    need nothing, six take two mistings, twenty are out of reach.
    """
    found = {}
    for changes in (0.5, 2, 6, 20):
        forcing = day(changes)
        found[changes] = timetable(TALL, forcing, forcing.air_c, even_marks(60, 90, 48), (7, 22))
    assert [found[c].verdict for c in (0.5, 2, 6, 20)] == [
        "too wet",
        "not needed",
        "holds",
        "out of reach",
    ]
    six = found[6]
    assert len(six.hours) == 2 and six.hours[0] == 7 and 0.04 < six.each_kg < 0.055
    assert (
        six.wave.lowest_pct > 58.5
        and six.wave.highest_pct == pytest.approx(90, abs=0.2)
        and six.wave.falls
    )
    assert min(b - a for a, b in itertools.pairwise(found[20].hours)) >= 1.5


def test_marks_may_differ_by_day_and_by_night() -> None:
    marks = HumidityBounds((40.0,) * 24 + (70.0,) * 24, (60.0,) * 24 + (95.0,) * 24)
    values = [50.0] * 24 + [80.0] * 24
    assert wave_of(values, marks).in_range_h == 24 and marks.under(values) == []
    assert marks.over([50.0] * 24 + [97.0] * 24) == pytest.approx(2)
    assert not wave_of([50.0] * 48, even_marks(40, 70, 48)).falls  # a line is no wave


def test_a_day_too_short_to_mist_in_has_its_first_hour() -> None:
    forcing = day(6)
    made = timetable(TALL, forcing, forcing.air_c, even_marks(60, 90, 48), (12, 11.5))
    assert made.hours == (12,) or made.verdict != "holds"


@pytest.mark.parametrize("strong", [1.0, 5.0])
def test_a_humidistat_holds_the_air_where_it_is_set(strong: float) -> None:
    """Settled, what is fogged makes up what the air change takes: G_v (e - e_r), whatever the fogger
    could give (balance of vapour in closed form).
    """
    plain = day(4.0, swing=0.0)
    stop = 0.8 * saturation(23)
    vent = 0.12 * 4 / 3600 / (GAS_VAPOUR_J_KGK * 296.15)
    lost_kg_s = vent * (stop - plain.room_pa[0])
    steps = len(plain.air_c)
    held = replace(plain, held_kg_s=(1.5 * strong * lost_kg_s,) * steps, held_pa=(stop,) * steps)
    seen = run(DRY, held)
    assert seen.vapour_pa[-1] == pytest.approx(stop, rel=1e-6)
    later = run(DRY, held, seen.end)
    assert later.ledger.fogged == pytest.approx(86400 * lost_kg_s, rel=1e-6)
    assert later.residual_kg == pytest.approx(0, abs=1e-12)


def test_a_fogger_that_never_reaches_its_humidistat_runs_through() -> None:
    plain = day(4.0)
    steps = len(plain.air_c)
    weak = (1e-6,) * steps
    held = replace(plain, held_kg_s=weak, held_pa=(saturation(40),) * steps)
    by_clock = replace(plain, fog_kg_s=weak)
    assert run(DRY, held) == run(DRY, by_clock)
