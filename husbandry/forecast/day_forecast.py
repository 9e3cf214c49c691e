"""A day in the enclosure, and what would happen if: temperatures from hour to hour, with the lamps'
timers and thermostats as they are. Method: docs/methods/day-forecast.md.
"""

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from husbandry.climate.heat import ModelReading, SteadyState, solve
from husbandry.climate.room import room_at
from husbandry.climate.transient import (
    Control,
    TransientEnclosure,
    TransientRun,
    WatchedTemperature,
    rise_times_h,
    spot_lag_s,
)
from husbandry.derivation import Derivation, Document, Source, named_value
from husbandry.documents.request import Request
from husbandry.documents.result import NeedState
from husbandry.items.furnishings import Pool
from husbandry.plan.plan import plan_summary, prediction_of
from husbandry.predict.light import spans_of
from husbandry.predict.moisture import HALF_HOURS
from husbandry.predict.predict import Prediction, heat_model_of
from husbandry.species.needs import NeedKey

PREROLL_DAYS = 5
"""Days alike that are run before the one that is shown: the slowest enclosures forget in three
(design choice) [days].
"""
COARSE_S, FINE_S = 300.0, 60.0
"""Steps of the hours that lead up to a day, and of the day (design choice) [s]."""
SHOWN_MIN = 10
"""What is shown is every so many minutes (design choice) [min]."""
COOLING_H = 5.0
"""Time constant with which an unheated room falls towards the cold outside (design choice; houses
take 5 to 50 h) [h].
"""
HEATWAVE_NIGHT_K = 4.0
"""How much cooler than its maximum a room is in a hot night (common practice) [K]."""
FaultSlug = Literal["thermostat failed on", "probe out", "lamp failed", "power cut", "heat wave"]
ADVICE: dict[FaultSlug, str] = {
    "thermostat failed on": (
        "Fit an independent cut-out, or a heater that cannot reach the limit. A thermostat that"
        " switches a heater it is not rated for sticks sooner."
    ),
    "probe out": (
        "Fix the probe where it belongs, and look at it daily: it is the same as sticking on, in a"
        " cooler room."
    ),
    "lamp failed": (
        "Keep a spare of each. A second small heater on its own thermostat carries the night."
    ),
    "power cut": (
        "Wrap the enclosure, close its vents in part, and bring warm bottles in a cloth; never a"
        " flame. Ask an electrician about the circuit."
    ),
    "heat wave": (
        "Dim or shorten the lamp, open vents, shade the room; bring the animal to a cooler room"
        " before its retreat passes the limit."
    ),
}
"""What to do before it comes, and then (common practice, no source)."""
_SOURCE = Source(
    kind="design choice",
    text=(
        "network of heat flows in time, checked against closed forms: docs/methods/day-forecast.md"
    ),
)


class TemperatureSeries(Document):
    """Temperatures from hour to hour [h, °C]."""

    hours: tuple[float, ...]
    surface: tuple[float, ...]
    warm_air: tuple[float, ...]
    cool_air: tuple[float, ...]
    room: tuple[float, ...]


class LimitCrossing(Document):
    """A limit of the animal that is passed."""

    need: NeedKey
    name: str
    limit_c: float
    above: bool
    after_h: float
    """Since the fault [h]."""


class FailureScenario(Document):
    """A fault or a hard day, run through."""

    slug: FaultSlug
    series: TemperatureSeries
    hottest_surface_c: float
    hottest_cool_c: float
    """The retreat at its hottest: what decides in the heat."""
    coldest_warm_c: float
    """The warmest place at its coldest: what decides in the cold."""
    crossings: tuple[LimitCrossing, ...]


class LampDay(Document):
    """What one lamp draws in a usual day."""

    item_id: str
    name: str
    power_w: float
    hours: float
    share: float
    """Of its power while it is on [1]."""
    kwh: float


class ScenarioAssumptions(Document):
    """What the hard days are made of. All may be asked otherwise."""

    cut_h: float = 6.0
    cold_c: float = 8.0
    """What an unheated room falls towards in a power cut [°C]."""
    wave_days: int = 3
    wave_c: float | None = None
    """The room's maximum in a heat wave; None: its summer maximum [°C]."""


class DayForecast(Document):
    """A usual day and the hard ones."""

    series: TemperatureSeries
    lit: tuple[tuple[float, float], ...]
    """When light burns, from and to [h]."""
    warm_up: tuple[Derivation, ...]
    """Hours from switch-on until surface, warm and cool end have made nine tenths of the day's
    rise.
    """
    energy: Derivation
    """Of a day [kWh]."""
    load: Derivation
    """All at once [W]."""
    lamps: tuple[LampDay, ...]
    slowest_h: float
    what_ifs: tuple[FailureScenario, ...]


@dataclass(frozen=True)
class _Enclosure:
    """An enclosure that can be run: everything that warms is in it, whatever the hour."""

    request: Request
    prediction: Prediction
    steady: SteadyState
    clockwork: TransientEnclosure
    needs: tuple[NeedState, ...]

    @property
    def items(self) -> list[str]:
        return [lamp.item_id for lamp in self.steady.heat_model.lamps]

    def lit(self, n: int, hour: float) -> bool:
        return self.request.item(self.steady.heat_model.lamps[n].item_id).lit_at(hour % 24)

    def controls(self, fault: str = "") -> list[Control]:
        found = []
        for n, lamp in enumerate(self.steady.heat_model.lamps):
            held = lamp.thermostat
            if fault == "dark":
                found.append(Control(stuck=0.0))
            elif held is None:
                found.append(Control())
            else:
                spec = self.request.item(lamp.item_id).held
                cut = spec.cut_out_c if spec is not None else None
                if fault == "thermostat failed on" and cut is not None:
                    found.append(Control(cut, self.steady.probe(n), switches=True))
                    continue
                found.append(
                    Control(
                        held.set_c if spec is None else spec.set_at,
                        self.steady.probe(n),
                        switches=spec is not None and spec.control == "on_off",
                        stuck=1.0 if fault == "thermostat failed on" else None,
                        probe_in_room=fault == "probe out",
                    )
                )
        return found


def _enclosure(request: Request) -> _Enclosure:
    prediction = prediction_of(request)
    heat_model = heat_model_of(
        request, None, request.room.day_c, prediction.position, prediction.learned
    )
    same = len(prediction.day.films.slab_convection) == len(heat_model.slabs)
    # Films of the day that is lived, not of one with the night's heaters burning as well.
    steady = (
        solve(heat_model, start=prediction.day.films, iterations=1) if same else solve(heat_model)
    )
    warm = prediction.warm_point
    cool = prediction.cool_point
    slab = prediction.basking_slab
    surface: ModelReading = (
        steady.air(*warm) if slab is None else steady.surface(min(slab, len(heat_model.slabs) - 1))
    )
    lag = 0.0 if slab is None else spot_lag_s(steady, min(slab, len(heat_model.slabs) - 1))
    watches = [
        WatchedTemperature("surface", surface, lag),
        WatchedTemperature("warm_air", steady.air(*warm)),
        WatchedTemperature("cool_air", steady.air(*cool)),
    ]
    return _Enclosure(
        request,
        prediction,
        steady,
        TransientEnclosure(steady, watches),
        plan_summary(request).needs,
    )


def _treatment(run: TransientRun) -> TemperatureSeries:
    each = max(round(SHOWN_MIN * 60 / run.step_s), 1)

    def seen(values: NDArray[np.float64]) -> tuple[float, ...]:
        return tuple(round(float(value), 2) for value in values[each - 1 :: each])

    return TemperatureSeries(
        hours=tuple(round(float(hour), 3) for hour in run.hours[each - 1 :: each]),
        surface=seen(run.values["surface"]),
        warm_air=seen(run.values["warm_air"]),
        cool_air=seen(run.values["cool_air"]),
        room=seen(run.room_c),
    )


def _usual(enclosure: _Enclosure) -> tuple[TransientRun, NDArray[np.float64]]:
    """A day among days alike, from midnight; and the state at its beginning."""
    room = enclosure.request.room

    def room_c(hour: float) -> float:
        return room_at(hour, room.day_c, room.night_c)

    before = enclosure.clockwork.run(
        hours=24 * PREROLL_DAYS,
        room_c=room_c,
        lit=enclosure.lit,
        controls=_dimmed(enclosure.controls()),
        step_s=COARSE_S,
    )
    return (
        enclosure.clockwork.run(
            hours=24,
            room_c=room_c,
            lit=enclosure.lit,
            controls=enclosure.controls(),
            state=before.end,
            step_s=FINE_S,
        ),
        before.end,
    )


def hours_of(request: Request) -> tuple[Prediction, ...]:
    """The enclosure at every half hour of a usual day, midnight first: temperatures as they are
    then, lamps as their timers have them.
    """
    enclosure = _enclosure(request)
    room = request.room

    def room_c(hour: float) -> float:
        return room_at(hour, room.day_c, room.night_c)

    state = enclosure.clockwork.run(
        hours=24 * PREROLL_DAYS,
        room_c=room_c,
        lit=enclosure.lit,
        controls=_dimmed(enclosure.controls()),
        step_s=COARSE_S,
    ).end
    found = []
    for n in range(HALF_HOURS):
        hour = n / 2
        run = enclosure.clockwork.run(
            hours=0.5,
            room_c=room_c,
            lit=enclosure.lit,
            controls=_dimmed(enclosure.controls()),
            start_h=(hour - 0.5) % 24,
            state=state,
            step_s=COARSE_S,
        )
        state = run.end
        powers = (
            run.powers_w[-1]
            if len(run.powers_w)
            else np.zeros(len(enclosure.steady.heat_model.lamps))
        )
        nominal = np.array([lamp.power_w for lamp in enclosure.steady.heat_model.lamps])
        then = replace(
            enclosure.steady,
            temps_c=enclosure.clockwork.modes.to_state(state),
            powers_w=powers,
            duties=powers / np.maximum(nominal, 1e-9),
            _cache={},
        )
        lit = tuple(
            source
            for source in enclosure.prediction.uv
            if request.item(source.item_id).lit_at(hour)
        )
        found.append(replace(enclosure.prediction, day=then, uv=lit))
    return tuple(found)


def _dimmed(controls: Sequence[Control]) -> list[Control]:
    """For long steps: what switches is taken by its mean."""
    return [
        Control(c.set_c, c.probe, stuck=c.stuck, probe_in_room=c.probe_in_room) for c in controls
    ]


def _limits(enclosure: _Enclosure) -> list[tuple[NeedKey, str, float, bool, str]]:
    """Each limit of the animal that a course can pass: need, name, value, whether it is passed
    upwards, series.
    """
    series = {
        NeedKey.SURFACE_DAY: ("surface", ""),
        NeedKey.WARM_AIR_DAY: ("warm_air", ""),
        NeedKey.COOL_AIR_DAY: ("cool_air", ""),
        NeedKey.AIR_NIGHT: ("", "warm_air"),
    }
    found = []
    for need in enclosure.needs:
        hot, cold = series.get(need.key, ("", ""))
        if hot and need.limit_high is not None:
            found.append((need.key, need.name, need.limit_high.value, True, hot))
        if cold and need.limit_low is not None:
            found.append((need.key, need.name, need.limit_low.value, False, cold))
    return found


def _what_if(enclosure: _Enclosure, slug: FaultSlug, run: TransientRun) -> FailureScenario:
    crossings = []
    for key, name, limit, above, series in _limits(enclosure):
        values = run.values[series]
        past = values > limit if above else values < limit
        if past.any():
            crossings.append(
                LimitCrossing(
                    need=key,
                    name=name,
                    limit_c=limit,
                    above=above,
                    after_h=round(float(run.hours[int(np.argmax(past))]), 2),
                )
            )
    return FailureScenario(
        slug=slug,
        series=_treatment(run),
        hottest_surface_c=float(run.values["surface"].max()),
        hottest_cool_c=float(run.values["cool_air"].max()),
        coldest_warm_c=float(np.maximum(run.values["warm_air"], run.values["cool_air"]).min()),
        crossings=tuple(sorted(crossings, key=lambda crossing: crossing.after_h)),
    )


def _hard_days(
    enclosure: _Enclosure, state: NDArray[np.float64], assumed: ScenarioAssumptions
) -> list[FailureScenario]:
    room = enclosure.request.room
    top = assumed.wave_c if assumed.wave_c is not None else room.summer_max_c
    found = []

    def hot(hour: float) -> float:
        return room_at(hour, top, max(top - HEATWAVE_NIGHT_K, min(top, room.night_c)))

    def usual(hour: float) -> float:
        return room_at(hour, room.day_c, room.night_c)

    def run(
        hours: float,
        room_c: Callable[[float], float],
        fault: str,
        start_h: float = 0.0,
        begin: NDArray[np.float64] | None = None,
    ) -> TransientRun:
        controls = enclosure.controls(fault)
        long = hours > 30
        return enclosure.clockwork.run(
            hours=hours,
            room_c=room_c,
            lit=enclosure.lit,
            controls=_dimmed(controls) if long else controls,
            start_h=start_h,
            state=state if begin is None else begin,
            step_s=COARSE_S if long else FINE_S,
        )

    if any(lamp.thermostat for lamp in enclosure.steady.heat_model.lamps):
        found.append(
            _what_if(enclosure, "thermostat failed on", run(24, hot, "thermostat failed on"))
        )
        found.append(_what_if(enclosure, "probe out", run(24, usual, "probe out")))
    if enclosure.steady.heat_model.lamps:
        found.append(_what_if(enclosure, "lamp failed", run(24, usual, "dark")))
    evening = run(18, usual, "")

    def cooling(hour: float) -> float:
        gone = max(hour - 18.0, 0.0)
        start = usual(18.0)
        return assumed.cold_c + (start - assumed.cold_c) * math.exp(-gone / COOLING_H)

    found.append(
        _what_if(enclosure, "power cut", run(assumed.cut_h, cooling, "dark", 18.0, evening.end))
    )
    found.append(_what_if(enclosure, "heat wave", run(24 * assumed.wave_days, hot, "")))
    return found


def day_of(request: Request, assumed: ScenarioAssumptions | None = None) -> DayForecast:
    """Run a usual day of an enclosure, and the hard ones.

    Parameters
    ----------
    assumed : ScenarioAssumptions, optional
        How long the power is cut, how cold the room would fall, how long and how hot a heat wave
        is.
    """
    enclosure = _enclosure(request)
    usual, state = _usual(enclosure)
    names = [request.item(item).name for item in enclosure.items]
    water = _water_heater(enclosure)
    lamps = (*(_lamp_day(n, name, enclosure, usual) for n, name in enumerate(names)), *water)
    lit = _lit(enclosure)
    return DayForecast(
        series=_treatment(usual),
        lit=lit,
        warm_up=_warm_up(usual, lit),
        energy=Derivation(
            value=round(usual.energy_kwh() + sum(one.kwh for one in water), 3),
            unit="kWh",
            rule=(
                "Power of every lamp from minute to minute, after its timer and its thermostat,"
                " over a day among days alike; of a heater in water what its water loses."
            ),
            inputs=tuple(named_value(f"{lamp.name}: a day", lamp.kwh, "kWh") for lamp in lamps),
            sources=(_SOURCE,),
            would_change="The room, the lid, the set points, and a measurement at the plug.",
        ),
        load=Derivation(
            value=float(sum(lamp.power_w for lamp in lamps)),
            unit="W",
            rule="The power of everything that warms or lights, all at once.",
            inputs=tuple(named_value(lamp.name, lamp.power_w, "W") for lamp in lamps),
            sources=(Source(kind="entered", text="powers of the lamps"),),
        ),
        lamps=lamps,
        slowest_h=enclosure.clockwork.modes.slowest_h,
        what_ifs=tuple(_hard_days(enclosure, state, assumed or ScenarioAssumptions())),
    )


def _lamp_day(n: int, name: str, enclosure: _Enclosure, usual: TransientRun) -> LampDay:
    lamp = enclosure.steady.heat_model.lamps[n]
    hours = enclosure.request.item(lamp.item_id).hours_a_day
    kwh = float(usual.powers_w[:, n].sum() * usual.step_s / 3.6e6)
    full = lamp.power_w * hours / 1000
    return LampDay(
        item_id=lamp.item_id,
        name=name,
        power_w=lamp.power_w,
        hours=hours,
        share=kwh / full if full else 0.0,
        kwh=kwh,
    )


def _water_heater(enclosure: _Enclosure) -> tuple[LampDay, ...]:
    """What a heater in the water draws; nothing without one."""
    heated = any(isinstance(item, Pool) and item.heater_w for item in enclosure.request.items)
    pool_day = enclosure.prediction.pool_day if heated else None
    if pool_day is None or not pool_day.pool.heater_w:
        return ()
    kwh = pool_day.day.heater_wh / 1000
    full = pool_day.pool.heater_w * 24 / 1000
    return (
        LampDay(
            item_id=pool_day.item.id,
            name="heater in the water",
            power_w=pool_day.pool.heater_w,
            hours=24.0,
            share=kwh / full,
            kwh=kwh,
        ),
    )


def _lit(enclosure: _Enclosure) -> tuple[tuple[float, float], ...]:
    """When something that gives light burns."""
    light = [
        n for n, lamp in enumerate(enclosure.steady.heat_model.lamps) if lamp.heater.emits_light
    ]
    return spans_of([any(enclosure.lit(n, m / 60) for n in light) for m in range(1440)])


def _warm_up(usual: TransientRun, lit: tuple[tuple[float, float], ...]) -> tuple[Derivation, ...]:
    """From the first light of the day."""
    if not lit or lit[0][1] - lit[0][0] >= 24:
        return ()
    first, last = (round(hour * 3600 / usual.step_s) for hour in lit[0])
    found = []
    for series, name in (
        ("surface", "surface"),
        ("warm_air", "warm end"),
        ("cool_air", "cool end"),
    ):
        values = usual.values[series][first : last - 1]
        if len(values) < 10 or values.max() - values[0] < 0.5:
            continue
        top = int(np.argmax(values)) + 1
        hours = (np.arange(top)) * usual.step_s / 3600
        at = rise_times_h(hours, values[:top], (0.9,))[0]
        found.append(
            Derivation(
                value=at,
                unit="h",
                rule=(
                    f"When the {name} has made nine tenths of its rise of the day, counted from"
                    " switch-on."
                ),
                inputs=(
                    named_value("before switch-on", float(values[0]), "°C"),
                    named_value("at its warmest", float(values.max()), "°C"),
                ),
                sources=(_SOURCE,),
                would_change="Less substrate or a thinner stone warms sooner.",
            )
        )
    return tuple(found)
