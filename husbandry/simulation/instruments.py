"""Instruments that read a hidden enclosure as the household's own do: an offset that stays, a noise
that does not, a place that is a little off.

Figures of the errors are common practice: what such instruments are sold as, no source.
"""

import functools
from dataclasses import dataclass, field
from typing import Protocol

import numpy as np

from husbandry.documents.request import ReadingSpec
from husbandry.errors import ImpossibleStateError
from husbandry.predict.daily_humidity import HumidityExtreme
from husbandry.predict.predict import EnclosurePoint, Prediction
from husbandry.simulation.logger import HiddenDamp
from husbandry.simulation.truth import TrueEnclosure
from husbandry.simulation.water import water_c
from husbandry.species.needs import NeedKey


class HiddenPlaces(Protocol):
    """What is really there, as instruments meet it."""

    def surface_c(self, x_m: float, y_m: float) -> float:
        """The face of what lies at a place [°C]."""

    def air_c(self, x_m: float, z_m: float, *, night: bool = False) -> float:
        """Shielded air [°C]."""

    def uvi(self, point: EnclosurePoint) -> float:
        """The UV index on an upward-looking receiver."""


PLACING_M = 0.015
"""How far from the place that was meant a hand reads (design choice) [m]."""
DECIMALS = {NeedKey.UVI_DAY: 2}
"""Decimals that an instrument shows, where not one (common practice, no source)."""


@dataclass
class InstrumentSet:
    """One household's instruments.

    Their offsets are drawn once, from the seed; each reading has its own noise.
    """

    seed: int
    infrared_sd_k: float = 0.7
    infrared_noise_k: float = 0.4
    probe_sd_k: float = 0.4
    probe_noise_k: float = 0.2
    uv_ln_sd: float = 0.095
    uv_noise: float = 0.03
    plug_sd: float = 0.015
    taken: int = field(default=0)

    @functools.cached_property
    def _offsets(self) -> tuple[float, float, float, float]:
        draw = np.random.default_rng([self.seed, 7]).standard_normal(4)
        return (
            float(draw[0]) * self.infrared_sd_k,
            float(draw[1]) * self.probe_sd_k,
            float(np.exp(draw[2] * self.uv_ln_sd)),
            float(1 + draw[3] * self.plug_sd),
        )

    def _noise(self, count: int = 1) -> np.ndarray:
        self.taken += 1
        return np.random.default_rng([self.seed, 11, self.taken]).standard_normal(count)

    def infrared_c(self, truth: HiddenPlaces, x_m: float, y_m: float) -> float:
        """An infrared thermometer aimed at a surface: the mean of a spot, near where it was meant
        [°C].
        """
        noise = self._noise(3)
        x = x_m + PLACING_M * float(noise[0])
        y = y_m + PLACING_M * float(noise[1])
        spot = [
            truth.surface_c(x + dx, y + dy) for dx in (-0.015, 0.015) for dy in (-0.015, 0.015)
        ]
        return float(np.mean(spot)) + self._offsets[0] + self.infrared_noise_k * float(noise[2])

    def probe_c(
        self, truth: HiddenPlaces, x_m: float, z_m: float, *, night: bool = False
    ) -> float:
        """A shielded air probe [°C]."""
        noise = self._noise(3)
        there = truth.air_c(
            x_m + PLACING_M * float(noise[0]), z_m + PLACING_M * float(noise[1]), night=night
        )
        return there + self._offsets[1] + self.probe_noise_k * float(noise[2])

    def uv_index(self, truth: HiddenPlaces, point: EnclosurePoint) -> float:
        """A UV index meter that looks up."""
        noise = self._noise(2)
        near = EnclosurePoint(point.x_m + PLACING_M * float(noise[0]), point.y_m, point.z_m)
        return truth.uvi(near) * self._offsets[2] * (1 + self.uv_noise * float(noise[1]))

    def plug_w(self, truth: TrueEnclosure, item_id: str) -> float:
        """A meter in the socket [W]."""
        return truth.watts(item_id) * self._offsets[3]

    def turn(
        self, truth: TrueEnclosure, believed: Prediction, turn: HumidityExtreme
    ) -> ReadingSpec:
        """What a keeper logs of the daily wave, before a misting or after it."""
        if believed.damp is None:
            raise ImpossibleStateError("only what is misted has a wave")
        value = HiddenDamp(believed.damp, truth.seed).pct_at(turn.n, float(self._noise()[0]))
        return ReadingSpec(
            need=NeedKey.HUMIDITY_DAY,
            value=round(value, 1),
            at=truth.request.now,
            instrument="hygrometer",
            moment=turn.moment,
            revision=truth.request.revision,
            room_c=round(truth.request.room.day_c, 1),
        )

    def read(
        self,
        truth: TrueEnclosure,
        need: NeedKey,
        believed: Prediction,
        at_m: tuple[float, float, float] | None = None,
    ) -> ReadingSpec:
        """What a keeper logs for a need: aimed where the need counts by the plan, or at another
        place of the enclosure.

        Raises
        ------
        ValueError
            For what no instrument here shows.
        """
        place = EnclosurePoint(*at_m) if at_m is not None else None
        if need is NeedKey.SURFACE_DAY:
            spot = place or believed.basking
            value = self.infrared_c(truth, spot.x_m, spot.y_m)
            instrument = "infrared"
        elif need in {NeedKey.WARM_AIR_DAY, NeedKey.COOL_AIR_DAY, NeedKey.AIR_NIGHT}:
            own = believed.cool_point if need is NeedKey.COOL_AIR_DAY else believed.warm_point
            x, z = (place.x_m, place.z_m) if place else own
            value = self.probe_c(truth, x, z, night=need is NeedKey.AIR_NIGHT)
            instrument = "shaded_probe"
        elif need is NeedKey.UVI_DAY:
            value = self.uv_index(truth, place or believed.basking)
            instrument = "uv"
        elif (
            need in {NeedKey.HUMIDITY_DAY, NeedKey.HUMIDITY_NIGHT}
            and believed.damp is not None
            and place is None
        ):
            value, instrument = (
                HiddenDamp(believed.damp, truth.seed).pct(need, float(self._noise()[0])),
                "hygrometer",
            )
        elif need is NeedKey.WATER_DAY and believed.pool_day is not None and place is None:
            value, instrument = (
                water_c(believed.pool_day, truth.seed)
                + self._offsets[1]
                + self.probe_noise_k * float(self._noise()[0]),
                "probe",
            )
        else:
            raise ValueError(f"no simulated instrument shows {need.value}")
        night = need in {NeedKey.AIR_NIGHT, NeedKey.HUMIDITY_NIGHT}
        room = truth.request.room.night_c if night else truth.steady().heat_model.room_c
        return ReadingSpec(
            need=need,
            value=round(value, DECIMALS.get(need, 1)),
            at=truth.request.now,
            instrument=instrument,
            lamp_on_h=None if night else 8.0,
            revision=truth.request.revision,
            room_c=round(room, 1),
            at_m=at_m,
        )
