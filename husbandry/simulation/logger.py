"""A simulated hygrometer in a hidden enclosure: other air exchange, other substrate, other walls
than the model believes, and its own noise.
"""

import functools
import math
from dataclasses import dataclass, replace

import numpy as np

from husbandry.climate.hygrometer import LOG_PRIOR_LN_SD, SENSOR_PCT
from husbandry.climate.moisture import Forcing, MoistureModel, MoistureSeries, run, saturation
from husbandry.predict.moisture import DayMoisture
from husbandry.simulation.truth import WITHIN
from husbandry.species.needs import NeedKey

NOISE_PCT = 0.8
"""From reading to reading, beside the sensor's own offset of up to half of what it may be off
(design choice) [%]."""


@dataclass(frozen=True)
class HiddenDamp:
    """What is really true of the water of an enclosure: drawn by a seed, the same whatever else is
    done to it.
    """

    believed: DayMoisture
    seed: int

    @functools.cached_property
    def _drawn(self) -> tuple[MoistureModel, Forcing, float]:
        draw = np.random.default_rng([self.seed, 7])
        air, substrate, buffer = (
            math.exp(sd * float(np.clip(draw.standard_normal(), -WITHIN, WITHIN)))
            for sd in LOG_PRIOR_LN_SD
        )
        offset = float(draw.uniform(-0.5, 0.5)) * SENSOR_PCT
        told = self.believed.wetting.logged
        enclosure = self.believed.enclosure
        forcing = self.believed.forcing
        # The truth does not move with what a log made the model believe.
        plain = replace(
            enclosure,
            wetness=enclosure.wetness / (told.substrate if told else 1.0),
            buffer=1.0 if told else enclosure.buffer,
        )
        true = replace(
            plain, wetness=plain.wetness * substrate, buffer=max(plain.buffer * buffer, 1.0)
        )
        share = air / (told.air if told else 1.0)
        return (
            true,
            replace(forcing, changes_per_h=tuple(v * share for v in forcing.changes_per_h)),
            offset,
        )

    def days(self, count: int) -> list[MoistureSeries]:
        """Days after one to settle."""
        enclosure, forcing, _ = self._drawn
        series = run(enclosure, forcing)
        found = []
        for _ in range(count):
            series = run(
                enclosure, forcing, replace(series.end, substrate_kg=enclosure.substrate_kg)
            )
            found.append(series)
        return found

    def pct(self, need: NeedKey, noise: float) -> float:
        """What a hygrometer shows at the cool end, at the end of the day or of the night [%]."""
        return self.pct_at(
            self.believed.night_n if need is NeedKey.HUMIDITY_NIGHT else self.believed.day_n, noise
        )

    def pct_at(self, n: int, noise: float) -> float:
        """And at the end of any half hour of the day [%]."""
        full = saturation(self.believed.places.cool[n])
        value = 100 * self.days(3)[-1].vapour_pa[n] / full + self._drawn[2] + NOISE_PCT * noise
        return float(min(max(value, 1.0), 100.0))
