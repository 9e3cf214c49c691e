"""The hours after switch-on: what share of a place's rise had been made when a reading was taken. Method: docs/methods/day.md."""

from dataclasses import dataclass, field

import numpy as np

from husbandry.climate.transient import Clockwork, Control, Run, Watch, spot_lag_s
from husbandry.planning.predict import Outcome
from husbandry.species.needs import NeedKey

LONG_H = 14.0
"""What has not come by then does not come in a day [h]."""
STEP_S = 120.0
PLACES = {NeedKey.SURFACE_DAY: "surface", NeedKey.WARM_AIR_DAY: "warm_air", NeedKey.COOL_AIR_DAY: "cool_air"}


@dataclass
class Morning:
    """The first hours of an enclosure's day, run only when they are asked for: from its night's air, with the day's lamps on all at once."""

    outcome: Outcome
    _run: Run | None = field(default=None, repr=False)

    def _ran(self) -> Run:
        if self._run is None:
            outcome = self.outcome
            day, room = outcome.day, outcome.request.room
            slab = outcome.day.hottest_slab()
            warm, cool = outcome.warm_point, outcome.cool_point
            surface = day.air(*warm) if slab is None else day.surface(slab)
            lag = 0.0 if slab is None else spot_lag_s(day, slab)
            clockwork = Clockwork(
                day, [Watch("surface", surface, lag), Watch("warm_air", day.air(*warm)), Watch("cool_air", day.air(*cool))]
            )
            night = np.full(day.nodes.count, outcome.night_air().temp_c)
            controls = [
                Control() if lamp.thermostat is None else Control(lamp.thermostat.set_c, day.probe(n))
                for n, lamp in enumerate(day.enclosure.lamps)
            ]
            self._run = clockwork.run(
                hours=LONG_H, room_c=lambda hour: room.day_c, lit=lambda n, hour: True, controls=controls,
                state=clockwork.modes.of_state(night), step_s=STEP_S,
            )  # fmt: skip
        return self._run

    def share_of_rise(self, key: NeedKey, after_h: float) -> tuple[float, float] | None:
        """Where a place began, and the share of the day's rise that it has made so many hours after switch-on [°C; 1]; None for what is no such place."""
        if key not in PLACES:
            return None
        run = self._ran()
        values = run.values[PLACES[key]]
        begin = self.outcome.night_air().temp_c
        rise = float(values[-1]) - begin
        if rise < 0.5:
            return None
        return begin, min(max((float(np.interp(after_h, run.hours, values)) - begin) / rise, 0.0), 1.0)
