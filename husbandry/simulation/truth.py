"""A habitat whose true strengths nobody is told: the model's physics, or other laws, with parameters drawn by a seed.

The same lamp has the same hidden strength wherever it hangs, so that what readings tell before a change holds after it.
"""

import functools
import math
import zlib
from dataclasses import dataclass, replace

import numpy as np

from husbandry.climate.heat import Steady, solve
from husbandry.climate.laws import LAWS, Laws
from husbandry.climate.uv import total_uvi
from husbandry.planning.predict import DAY_HOUR, NIGHT_HOUR, Point, Stance, blockers_of, enclosure_of, heat_lamp, uv_source
from husbandry.planning.request import Request
from husbandry.planning.strengths import BOX, BOX_LN_SD, KINSHIP, Key, Known, Learned, beam_key, uv_key

WITHIN = 1.8
"""No hidden strength lies further from usual than so many of its priors: such a lamp would be sent back [1]."""


def _drawn(seed: int, key: Key, ln_sd: float) -> float:
    """A hidden logarithm, the same for the same seed and key whatever else is drawn."""
    draw = float(np.random.default_rng([seed, zlib.crc32("|".join(key).encode())]).standard_normal())
    return ln_sd * max(-WITHIN, min(WITHIN, draw))


@dataclass(frozen=True)
class Truth:
    """What is really there."""

    request: Request
    stance: Stance
    seed: int
    laws: Laws = LAWS
    room_c: float | None = None
    """The room by day as it really is; None: as the request has it [°C]."""

    @functools.cached_property
    def hidden(self) -> Learned:
        """The strengths that readings are to tell."""
        warm: dict[Key, float] = {key: _drawn(self.seed, key, sd) for key, sd in zip(BOX, BOX_LN_SD, strict=True)}
        uv: dict[Key, float] = {}
        for thing in self.request.things:
            if thing.warms:
                # The class of a bulb by its place and kind, the bulb itself besides: as `learned.KINSHIP` believes.
                sd = heat_lamp(thing, self.request, self.stance).ln_sd
                key = beam_key(thing)
                own = math.sqrt(1 - KINSHIP**2)
                warm[key] = KINSHIP * _drawn(self.seed, key[:3], sd) + own * _drawn(self.seed, key, sd)
            if thing.is_uv:
                uv[uv_key(thing)] = _drawn(self.seed, uv_key(thing), uv_source(thing, self.request).ln_sd)
        return Learned(_known(warm), _known(uv))

    def steady(self, *, night: bool = False) -> Steady:
        """The settled enclosure by day or by night."""
        return self._night if night else self._day

    @functools.cached_property
    def _day(self) -> Steady:
        return self._solved(DAY_HOUR, self.room_c if self.room_c is not None else self.request.room.day_c)

    @functools.cached_property
    def _night(self) -> Steady:
        return self._solved(NIGHT_HOUR, self.request.room.night_c)

    def _solved(self, hour: float, room_c: float) -> Steady:
        enclosure = enclosure_of(self.request, hour, room_c, self.stance, self.hidden)
        return solve(replace(enclosure, laws=self.laws), rounds=6)

    def surface_c(self, x_m: float, y_m: float) -> float:
        """The face of what lies at a place [°C]."""
        return self._day.value(self._day.surface_at(x_m, y_m))

    def air_c(self, x_m: float, z_m: float, *, night: bool = False) -> float:
        """Shielded air [°C]."""
        steady = self.steady(night=night)
        return steady.value(steady.air(x_m, z_m))

    def uvi(self, point: Point) -> float:
        """The UV index on an upward-looking receiver."""
        lit = tuple(uv_source(t, self.request, self.hidden) for t in self.request.things if t.is_uv and t.lit_at(DAY_HOUR))
        return float(total_uvi(lit, np.array(point.x_m), point.y_m, np.array(point.z_m), blockers_of(self.request)))

    def watts(self, thing_id: str) -> float:
        """What a lamp draws by day, after its thermostat [W]."""
        for lamp, power in zip(self._day.enclosure.lamps, self._day.powers_w, strict=True):
            if lamp.thing_id == thing_id:
                return float(power)
        return 0.0


def _known(ln: dict[Key, float]) -> Known:
    return Known(tuple(ln), np.array(list(ln.values())), np.zeros((len(ln), len(ln))))
