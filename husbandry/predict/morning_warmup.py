"""The hours after switch-on: what share of a place's rise had been made when a reading was taken.

Method: docs/methods/day-forecast.md.
"""

from dataclasses import dataclass, field

import numpy as np

from husbandry.climate.transient import (
    Control,
    TransientEnclosure,
    TransientRun,
    WatchedTemperature,
    spot_lag_s,
)
from husbandry.predict.predict import Prediction
from husbandry.species.needs import NeedKey

LONG_H = 14.0
"""What has not come by then does not come in a day (design choice) [h]."""
WARMUP_STEP_S = 120.0
"""Step of the warming-up (design choice) [s]."""
WARMUP_PLACES = {
    NeedKey.SURFACE_DAY: "surface",
    NeedKey.WARM_AIR_DAY: "warm_air",
    NeedKey.COOL_AIR_DAY: "cool_air",
}


@dataclass
class MorningWarmup:
    """The first hours of an enclosure's day, run only when they are asked for: from its night's
    air, with the day's lamps on all at once.
    """

    prediction: Prediction
    _run: TransientRun | None = field(default=None, repr=False)

    def _ran(self) -> TransientRun:
        if self._run is None:
            prediction = self.prediction
            day = prediction.day
            room = prediction.request.room
            slab = prediction.basking_slab
            warm = prediction.warm_point
            cool = prediction.cool_point
            surface = day.air(*warm) if slab is None else day.surface(slab)
            lag = 0.0 if slab is None else spot_lag_s(day, slab)
            clockwork = TransientEnclosure(
                day,
                [
                    WatchedTemperature("surface", surface, lag),
                    WatchedTemperature("warm_air", day.air(*warm)),
                    WatchedTemperature("cool_air", day.air(*cool)),
                ],
            )
            night = np.full(day.nodes.count, prediction.night_air().temp_c)
            controls = [
                (
                    Control()
                    if lamp.thermostat is None
                    else Control(lamp.thermostat.set_c, day.probe(n))
                )
                for n, lamp in enumerate(day.heat_model.lamps)
            ]
            self._run = clockwork.run(
                hours=LONG_H,
                room_c=lambda hour: room.day_c,
                lit=lambda n, hour: True,
                controls=controls,
                state=clockwork.modes.of_state(night),
                step_s=WARMUP_STEP_S,
            )
        return self._run

    def share_of_rise(self, key: NeedKey, after_h: float) -> tuple[float, float] | None:
        """Where a place began, and the share of the day's rise that it has made so many hours after
        switch-on [°C; 1]; None for what is no such place.
        """
        if key not in WARMUP_PLACES:
            return None
        run = self._ran()
        values = run.values[WARMUP_PLACES[key]]
        begin = self.prediction.night_air().temp_c
        rise = float(values[-1]) - begin
        if rise < 0.5:
            return None
        return begin, min(
            max((float(np.interp(after_h, run.hours, values)) - begin) / rise, 0.0), 1.0
        )
