"""An enclosure whose true strengths nobody is told: the model's physics, or other laws, with
parameters drawn by a seed.

The same lamp has the same hidden strength wherever it hangs, so that what readings tell before a
change holds after it.
"""

import functools
import math
import zlib
from dataclasses import dataclass, replace

import numpy as np

from husbandry.climate.heat import SteadyState, solve
from husbandry.climate.laws import LAWS, ModelConstants
from husbandry.climate.uv import total_uvi
from husbandry.documents.request import Request
from husbandry.predict.exposure import DAY_HOUR, NIGHT_HOUR, uv_lit
from husbandry.predict.predict import (
    AnimalPosition,
    EnclosurePoint,
    blockers_of,
    heat_lamp,
    heat_model_of,
    uv_source,
)
from husbandry.predict.strengths import (
    ENCLOSURE_LN_SD,
    ENCLOSURE_STRENGTHS,
    KINSHIP,
    Key,
    KnownStrengths,
    Learned,
    beam_key,
    uv_key,
)

WITHIN = 1.8
"""No hidden strength lies further from usual than so many of its priors: such a lamp would be sent
back (design choice) [1].
"""


def _drawn(seed: int, key: Key, ln_sd: float) -> float:
    """A hidden logarithm, the same for the same seed and key whatever else is drawn."""
    draw = float(
        np.random.default_rng([seed, zlib.crc32("|".join(key).encode())]).standard_normal()
    )
    return ln_sd * max(-WITHIN, min(WITHIN, draw))


@dataclass(frozen=True)
class TrueEnclosure:
    """What is really there."""

    request: Request
    position: AnimalPosition
    seed: int
    laws: ModelConstants = LAWS
    room_c: float | None = None
    """The room by day as it really is; None: as the request has it [°C]."""

    @functools.cached_property
    def hidden(self) -> Learned:
        """The strengths that readings are to tell."""
        warm: dict[Key, float] = {
            key: _drawn(self.seed, key, sd)
            for key, sd in zip(ENCLOSURE_STRENGTHS, ENCLOSURE_LN_SD, strict=True)
        }
        uv: dict[Key, float] = {}
        for item in self.request.items:
            if item.warms:
                # The class of a bulb by its place and kind, the bulb itself besides: as
                # `learned.KINSHIP` believes.
                sd = heat_lamp(item, self.request, self.position).ln_sd
                key = beam_key(item)
                own = math.sqrt(1 - KINSHIP**2)
                warm[key] = KINSHIP * _drawn(self.seed, key[:3], sd) + own * _drawn(
                    self.seed, key, sd
                )
            if item.is_uv:
                uv[uv_key(item)] = _drawn(
                    self.seed, uv_key(item), uv_source(item, self.request).ln_sd
                )

        return Learned(_known(warm), _known(uv))

    def steady(self, *, night: bool = False) -> SteadyState:
        """The settled enclosure by day or by night."""
        return self._night if night else self._day

    @functools.cached_property
    def _day(self) -> SteadyState:
        return self._solved(
            DAY_HOUR, self.room_c if self.room_c is not None else self.request.room.day_c
        )

    @functools.cached_property
    def _night(self) -> SteadyState:
        return self._solved(NIGHT_HOUR, self.request.room.night_c)

    def _solved(self, hour: float, room_c: float) -> SteadyState:
        heat_model = heat_model_of(self.request, hour, room_c, self.position, self.hidden)
        return solve(replace(heat_model, laws=self.laws), iterations=6)

    def surface_c(self, x_m: float, y_m: float) -> float:
        """The face of what lies at a place [°C]."""
        return self._day.value(self._day.surface_at(x_m, y_m))

    def air_c(self, x_m: float, z_m: float, *, night: bool = False) -> float:
        """Shielded air [°C]."""
        steady = self.steady(night=night)
        return steady.value(steady.air(x_m, z_m))

    def uvi(self, point: EnclosurePoint) -> float:
        """The UV index on an upward-looking receiver."""
        lit = tuple(uv_source(item, self.request, self.hidden) for item in uv_lit(self.request))
        return float(
            total_uvi(
                lit, np.array(point.x_m), point.y_m, np.array(point.z_m), blockers_of(self.request)
            )
        )

    def watts(self, item_id: str) -> float:
        """What a lamp draws by day, after its thermostat [W]."""
        for lamp, power in zip(self._day.heat_model.lamps, self._day.powers_w, strict=True):
            if lamp.item_id == item_id:
                return float(power)
        return 0.0


def _known(ln: dict[Key, float]) -> KnownStrengths:
    return KnownStrengths(tuple(ln), np.array(list(ln.values())), np.zeros((len(ln), len(ln))))
