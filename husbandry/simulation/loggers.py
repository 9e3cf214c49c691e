"""Loggers and devices in a hidden enclosure, minute by minute: what probes, hygrometers, plugs, a
thermostat, a misting pump and a scale would send, with their offsets, their noise, the room's weather,
and faults that begin and end when they are told to.

How warm it gets by day and how cool by night is the hidden truth's (`truth.py`); how it goes from one
to the other follows the model's day.
"""

import functools
import math
import zlib
from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from husbandry.climate.laws import LAWS, ModelConstants
from husbandry.documents.request import Request
from husbandry.forecast.day_forecast import DayForecast, LampDay, day_of
from husbandry.plan.plan import prediction_of
from husbandry.predict.moisture import DayMoisture
from husbandry.predict.need_states import look
from husbandry.predict.predict import Prediction
from husbandry.records.channels import Quantity, SensorPlace
from husbandry.records.moments import DAY_S, local_offsets
from husbandry.simulation.devices import pump_log, scale_log, thermostat_states
from husbandry.simulation.logger import HiddenDamp
from husbandry.simulation.truth import TrueEnclosure

Values = NDArray[np.float64]
Seconds = NDArray[np.int64]
FaultKind = Literal[
    "heater stuck",
    "lamp failed",
    "pump failed",
    "pump stuck",
    "power cut",
    "silent",
    "flat",
    "jumps",
]
STUCK_TAU_H, DARK_TAU_H = 1.5, 1.0
"""Time constants of an enclosure whose heater sticks, and whose lamp is out (design choice) [h]."""
DRIED_TAU_H = 1.5
"""In which an enclosure dries that is not misted any more (design choice) [h]."""
WEATHER_K, WEATHER_H = 0.6, 9.0
"""The room's weather from hour to hour, and how long it lasts (design choice) [K, h]."""
NOISE: dict[Quantity, float] = {
    Quantity.TEMPERATURE: 0.08,
    Quantity.HUMIDITY: 0.6,
    Quantity.POWER: 0.3,
    Quantity.UVI: 0.04,
}
"""From value to value; of ultraviolet a share (common practice: what such loggers are sold as)
[°C, %, W, 1]."""
OFFSET_SD: dict[Quantity, float] = {
    Quantity.TEMPERATURE: 0.25,
    Quantity.HUMIDITY: 1.5,
    Quantity.POWER: 0.3,
    Quantity.UVI: 0.02,
}
"""Of an instrument, that stays; of ultraviolet a share (common practice) [°C, %, W, 1]."""
TELLS_OF_ITSELF = (SensorPlace.THERMOSTAT, SensorPlace.PUMP, SensorPlace.SCALE)
"""Places of devices that tell of themselves, and not of the enclosure."""
STEP_SHOWN = 0.1
"""A logger shows tenths (common practice) [°C, %, W, UVI]."""
JUMP = 9.0
"""What a loose wire throws a value by (design choice) [°C]."""
JUMP_SHARE = 0.15
"""Share of the values that a loose wire throws up or down by `JUMP` (design choice) [1]."""


@dataclass(frozen=True)
class Fault:
    """Something that goes wrong for a time."""

    kind: FaultKind
    begin_s: int
    """Seconds since 1970."""
    end_s: int
    rise_k: float = 12.0
    """Of a heater that sticks: how far above its usual day it would settle [K]."""

    def since_h(self, at_s: Seconds) -> Values:
        """Hours since it began; negative before it and after its end [h]."""
        since = (at_s - self.begin_s) / 3600.0

        return np.where(at_s < self.end_s, since, -1.0)


@dataclass(frozen=True)
class LoggedSeries:
    """What one logger wrote."""

    quantity: Quantity
    place: SensorPlace
    at_s: Seconds
    values: Values


@dataclass(frozen=True)
class SimulatedLoggers:
    """Loggers of one enclosure.

    Parameters
    ----------
    request : Request
        The enclosure as it is planned.
    seed : int
        Draws what is hidden: the enclosure, the instruments, the weather.
    zone : str
        Of the room, by its IANA name.
    laws : ModelConstants
        Of what is really there: the model's own, or others.
    """

    request: Request
    seed: int
    zone: str
    laws: ModelConstants = LAWS

    @functools.cached_property
    def _believed(self) -> Prediction:
        return prediction_of(self.request)

    @functools.cached_property
    def _day(self) -> DayForecast:
        return day_of(self.request)

    @functools.cached_property
    def _truth(self) -> TrueEnclosure:
        position = look(self.request).position(self.request)
        return TrueEnclosure(self.request, position, self.seed, self.laws)

    @property
    def places(self) -> tuple[tuple[Quantity, SensorPlace], ...]:
        """What is logged."""
        found = [
            (Quantity.TEMPERATURE, place)
            for place in (SensorPlace.SURFACE, SensorPlace.WARM, SensorPlace.COOL)
        ]

        if self._believed.damp is not None:
            found.append((Quantity.HUMIDITY, SensorPlace.COOL))
        if any(item.is_uv for item in self.request.items):
            found.append((Quantity.UVI, SensorPlace.SURFACE))
        found.append((Quantity.POWER, SensorPlace.PLUG))
        if self._held is not None:
            found.append((Quantity.HEATING, SensorPlace.THERMOSTAT))
        wetting = self.request.enclosure.wetting
        if wetting is not None and wetting.nozzles_ml_s is not None and wetting.mistings:
            found.append((Quantity.POWER, SensorPlace.PUMP))
        if len(self.request.animals) == 1 and self.request.animals[0].mass_g is not None:
            found.append((Quantity.MASS, SensorPlace.SCALE))
        return tuple(found)

    @functools.cached_property
    def _held(self) -> LampDay | None:
        """The heater with a thermostat that tells its state, the strongest; None without one."""
        held = [
            lamp
            for lamp in self._day.lamps
            if self.request.item(lamp.item_id).held is not None and lamp.share > 0
        ]

        return max(held, key=lambda one: one.power_w, default=None)

    def _ends(self, place: SensorPlace) -> tuple[float, float]:
        """True temperature of a place at the end of the day and of the night [°C]."""
        believed, truth = self._believed, self._truth

        if place is SensorPlace.SURFACE:
            spot = believed.basking
            series = self._day.series.surface
            by_night = min(series)

            return truth.surface_c(spot.x_m, spot.y_m), by_night

        x, z = believed.warm_point if place is SensorPlace.WARM else believed.cool_point

        return truth.air_c(x, z), truth.air_c(x, z, night=True)

    def _usual(self, quantity: Quantity, place: SensorPlace, hours: Values) -> Values:
        """What is true on a day like the others at some hours of the room's clock."""
        if quantity is Quantity.HUMIDITY and self._believed.damp is not None:
            return self._damp_wave(self._believed.damp, hours)

        if quantity is Quantity.POWER:
            return self._power(hours)

        if quantity is Quantity.UVI:
            return self._truth.uvi(self._believed.basking) * self._uv_lit(hours)

        name = {SensorPlace.SURFACE: "surface", SensorPlace.WARM: "warm_air"}.get(
            place, "cool_air"
        )
        line = np.array(getattr(self._day.series, name))
        low, high = float(line.min()), float(line.max())
        share = (line - low) / max(high - low, 0.1)
        warm, cool = self._ends(place)
        whole = cool + share * (warm - cool) if high - low > 0.1 else np.full(len(line), warm)

        return np.interp(hours, self._day.series.hours, whole, period=24)

    def _damp_wave(self, believed: DayMoisture, hours: Values) -> Values:
        damp = HiddenDamp(believed, self.seed)
        wave = [damp.pct_at(n, 0.0) for n in range(48)]

        return np.interp(hours, (np.arange(48) + 1) / 2, wave, period=24)

    def _dry(
        self, hours: Values, faults: Sequence[Fault], at_s: Seconds, values: Values
    ) -> Values:
        """Humidity while the misting pump does not run."""
        believed = self._believed.damp
        failed = [one for one in faults if one.kind == "pump failed"]
        if believed is None or not failed:
            return values
        forcing = replace(believed.forcing, mist_kg=(0.0,) * len(believed.forcing.mist_kg))
        dry = self._damp_wave(replace(believed, forcing=forcing), hours)

        for fault in failed:
            since = np.maximum(fault.since_h(at_s), 0.0)
            share = 1 - np.exp(-since / DRIED_TAU_H)
            during = fault.since_h(at_s) >= 0
            values = np.where(during, np.minimum(values, values + (dry - values) * share), values)
        return values

    def _uv_lit(self, hours: Values) -> Values:
        """Share of the ultraviolet lamps that are on at some hours of the room's clock [1]."""
        lamps = [item for item in self.request.items if item.is_uv]
        lit = [[item.lit_at(float(hour)) for hour in hours] for item in lamps]
        shares: Values = np.asarray(lit, dtype=np.float64).mean(axis=0)

        return shares

    def _power(self, hours: Values) -> Values:
        """What everything draws at some hours of the room's clock: each as long as it is lit, by its
        mean of the day [W]."""
        found = np.zeros(len(hours))

        for lamp in self._day.lamps:
            item = self.request.item(lamp.item_id)
            lit = np.array([item.lit_at(float(hour)) for hour in hours])
            found += np.where(lit, lamp.power_w * lamp.share, 0.0)
        return found

    def log(
        self, begin_s: int, end_s: int, *, step_s: int = 600, faults: Sequence[Fault] = ()
    ) -> list[LoggedSeries]:
        """What every logger writes from one second to another.

        Parameters
        ----------
        step_s : int
            Between two values [s].
        """
        at_s = np.arange(-(-begin_s // step_s) * step_s, end_s, step_s, dtype=np.int64)

        return [
            self._told(place, (begin_s, end_s), at_s, faults)
            if place in TELLS_OF_ITSELF
            else self._logged(quantity, place, at_s, faults)
            for quantity, place in self.places
        ]

    def _told(
        self, place: SensorPlace, span_s: tuple[int, int], at_s: Seconds, faults: Sequence[Fault]
    ) -> LoggedSeries:
        """What a thermostat, a misting pump or a scale tells of itself."""
        step_s = int(at_s[1] - at_s[0]) if len(at_s) > 1 else 600
        quantity, values = Quantity.HEATING, np.zeros(0)
        wetting, mass_g = self.request.enclosure.wetting, self.request.animals[0].mass_g

        if place is SensorPlace.PUMP and wetting is not None:
            quantity = Quantity.POWER
            at_s, values = pump_log(wetting, self.zone, span_s, step_s, faults)
        elif place is SensorPlace.SCALE and mass_g is not None:
            at_s, values = scale_log(mass_g, self.seed, self.zone, span_s)

            return LoggedSeries(Quantity.MASS, place, at_s, values)
        elif self._held is not None:
            item = self.request.item(self._held.item_id)
            hours = ((at_s + local_offsets(at_s, self.zone)) % DAY_S) / 3600.0
            lit = np.array([item.lit_at(float(hour)) for hour in hours], dtype=bool)
            shares = np.where(lit, self._held.share, 0.0)
            switches = item.held is not None and item.held.control == "on_off"
            values = thermostat_states(
                at_s, shares, switches=switches, faults=faults, seed=self.seed
            )

        kept = np.ones(len(at_s), dtype=bool)

        for fault in faults:
            if fault.kind in {"silent", "power cut"}:
                kept &= fault.since_h(at_s) < 0

        return LoggedSeries(quantity, place, at_s[kept], np.round(values, 3)[kept])

    def _logged(
        self, quantity: Quantity, place: SensorPlace, at_s: Seconds, faults: Sequence[Fault]
    ) -> LoggedSeries:
        hours = ((at_s + local_offsets(at_s, self.zone)) % DAY_S) / 3600.0
        values = self._usual(quantity, place, hours)

        if quantity is Quantity.TEMPERATURE:
            values = values + self._weather(at_s)

            for fault in faults:
                values = self._happens(fault, place, at_s, values)

        if quantity is Quantity.HUMIDITY:
            values = self._dry(hours, faults, at_s, values)

        channel = zlib.crc32(f"{quantity}|{place}".encode())
        draw = np.random.default_rng([self.seed, channel])
        offset = OFFSET_SD[quantity] * float(draw.standard_normal())
        spread = NOISE[quantity] * self._noise(channel, at_s)
        if quantity is Quantity.UVI:  # a meter in the dark shows nothing
            values = values * (1 + offset) * (1 + spread)
        else:
            values = values + offset + spread

        kept = np.ones(len(at_s), dtype=bool)

        for fault in faults:
            values, kept = self._misread(fault, at_s, values, kept)

        if quantity in {Quantity.POWER, Quantity.UVI}:
            for fault in faults:
                if fault.kind in {"lamp failed", "power cut"}:
                    values = np.where(fault.since_h(at_s) >= 0, 0.0, values)
            values = np.maximum(values, 0.0)

        if quantity is Quantity.HUMIDITY:
            values = np.clip(values, 1.0, 100.0)
        shown = np.round(values / STEP_SHOWN) * STEP_SHOWN

        return LoggedSeries(quantity, place, at_s[kept], np.round(shown, 1)[kept])

    def _noise(self, channel: int, at_s: Seconds) -> Values:
        """Standard normal, of each channel its own: the same for the same minute, however it is asked."""
        minutes = DAY_S // 60
        days, row = np.unique(at_s // DAY_S, return_inverse=True)
        drawn = [
            np.random.default_rng([self.seed, 31, channel, int(day)]).standard_normal(minutes)
            for day in days
        ]

        return np.array(drawn).reshape(-1, minutes)[row, at_s % DAY_S // 60]

    def _weather(self, at_s: Seconds) -> Values:
        """The room against its usual day: the same for the same hour, however it is asked [K]."""
        if not len(at_s):
            return np.zeros(0)
        first, last = int(at_s[0]) // 3600 - 72, int(at_s[-1]) // 3600 + 2
        drawn = np.array(
            [
                np.random.default_rng([self.seed, 17, hour]).standard_normal()
                for hour in range(first, last)
            ]
        )

        stays = math.exp(-1 / WEATHER_H)
        weather = np.empty(len(drawn))
        value = 0.0

        for n, one in enumerate(drawn):
            value = stays * value + math.sqrt(1 - stays**2) * float(one)
            weather[n] = value

        return WEATHER_K * np.interp(at_s / 3600.0, np.arange(first, last), weather)

    def _happens(self, fault: Fault, place: SensorPlace, at_s: Seconds, values: Values) -> Values:
        """What a fault does to the enclosure."""
        since = fault.since_h(at_s)
        during = since >= 0

        if fault.kind == "heater stuck":
            share = {SensorPlace.SURFACE: 1.0, SensorPlace.WARM: 0.8}.get(place, 0.45)
            top = self._ends(place)[0] + share * fault.rise_k
            gained = 1 - np.exp(-np.maximum(since, 0) / STUCK_TAU_H)

            return np.where(during, values + (top - values) * gained, values)

        if fault.kind in {"lamp failed", "power cut"}:
            room = (
                self.request.room.day_c
                if fault.kind == "lamp failed"
                else self.request.room.night_c
            )

            lost = 1 - np.exp(-np.maximum(since, 0) / DARK_TAU_H)
            low = np.minimum(values, room)

            return np.where(during, values + (low - values) * lost, values)

        return values

    def _misread(
        self, fault: Fault, at_s: Seconds, values: Values, kept: NDArray[np.bool_]
    ) -> tuple[Values, NDArray[np.bool_]]:
        """What a fault does to the instrument."""
        during = fault.since_h(at_s) >= 0
        if fault.kind in {"silent", "power cut"}:
            return values, kept & ~during
        if fault.kind == "flat" and during.any():
            return np.where(during, values[int(np.argmax(during))], values), kept
        if fault.kind == "jumps":
            draw = np.random.default_rng([self.seed, 23, fault.begin_s])
            thrown = (draw.random(len(at_s)) < JUMP_SHARE) * np.sign(
                draw.standard_normal(len(at_s))
            )

            return np.where(during, values + JUMP * thrown, values), kept

        return values, kept
