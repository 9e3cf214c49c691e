"""What a search stands on: the enclosure without its lamps, its frozen network, and the places that decide. Method: docs/methods/setups.md."""

import math
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray
from scipy.linalg import cho_solve

from husbandry.box.equipment import HEATERS
from husbandry.climate.enclosure import HeatLamp
from husbandry.climate.heat import Reading, Steady, solve
from husbandry.climate.network import deposit
from husbandry.planning.changes.bench import HEADROOM_M, MIN_LAMP_M
from husbandry.planning.hazards import REACH_M, STOOD_ON
from husbandry.planning.judge import Band
from husbandry.planning.need_states import Looked, look
from husbandry.planning.predict import DAY_HOUR, TUBE_HEAT_KIND, Outcome, enclosure_of, heat_lamp, predict
from husbandry.planning.request import Request, Thing, from_data, to_data
from husbandry.planning.starter import furniture_of
from husbandry.species.needs import NeedKey

Array = NDArray[np.float64]
HEAT_NEEDS = (NeedKey.SURFACE_DAY, NeedKey.WARM_AIR_DAY, NeedKey.COOL_AIR_DAY)
STEP_M = 0.02
"""Heights of lamps that are tried [m]."""
ABOVE_MESH_M = 0.24
"""How far above a mesh a lamp is tried [m]."""
APART_M = 0.18
"""Between two lamps of a row [m]."""
FILM_POWER_W = 60.0


@dataclass(frozen=True)
class Ground:
    """An enclosure to be fitted out."""

    request: Request
    """Bodies only."""
    looked: Looked
    outcome: Outcome
    """With a lamp of a middling power, whose films are frozen."""
    known: Steady
    outputs: tuple[Reading, Reading, Reading]
    """Surface, warm air, cool air of the frozen network."""
    slab: int
    place: tuple[float, float]
    """Where lamps hang (x, y) [m]."""
    times: dict[str, str]

    @property
    def bands(self) -> dict[NeedKey, Band]:
        """What the animals need."""
        return self.looked.bands

    def heights(self, *, above_lid: bool, x_m: float, y_m: float, half_m: float = 0.0) -> list[float]:
        """Where a lamp of that place and half length may hang: out of reach of whatever can be stood on under it [m]."""
        high = self.request.box.inside_m.height
        tops = [
            t.at_m[2] + t.size_m[2]
            for t in self.request.things
            if t.size_m and t.kind in STOOD_ON and _under(t, x_m, y_m, half_m)
        ]
        low = max([self.outcome.basking.z_m + MIN_LAMP_M, *(top + REACH_M + 0.001 for top in tops)])
        span = (high + 0.01, high + ABOVE_MESH_M) if above_lid else (low, high - HEADROOM_M)
        return [round(math.ceil(100 * float(z) - 1e-6) / 100, 2) for z in np.arange(span[0], span[1] + 1e-9, STEP_M)]

    def lamps(self, kind: str, count: int, z_m: float, *, above_lid: bool, power_w: float = 1.0) -> list[Thing]:
        """A row of lamps of a class over the basking place."""
        x, y = self.place
        length = self.request.box.inside_m.length
        return [
            Thing.model_validate(
                {
                    "id": f"lamp-{n + 1}",
                    "kind": kind,
                    "power_w": power_w,
                    "at_m": [round(min(max(x + (n - (count - 1) / 2) * APART_M, 0.05), length - 0.05), 3), round(y, 3), z_m],
                    "above_lid": above_lid,
                    **self.times,
                }
            )
            for n in range(count)
        ]

    def response(self, lamps: list[HeatLamp]) -> tuple[Array, float]:
        """What a watt in each of these lamps does to surface, warm and cool air [K/W], and what share of it stays in the enclosure."""
        landed = [deposit(self.known.enclosure, self.known.nodes, lamp) for lamp in lamps]
        heat = np.sum([d.heat for d in landed], axis=0)
        temps = cho_solve(self.known.factor, heat, check_finite=False)
        lit = replace(
            self.known, enclosure=replace(self.known.enclosure, lamps=tuple(lamps)), deposits=tuple(landed),
            powers_w=np.ones(len(lamps)), duties=np.ones(len(lamps)), temps_c=temps, _cache={},
        )  # fmt: skip
        surface = lit.surface(self.slab)
        return np.array(
            [float(surface.nodes @ temps + surface.lamps.sum()), *(float(r.nodes @ temps) for r in self.outputs[1:])]
        ), 1 - sum(d.lost for d in landed) / len(landed)

    def heater(self, things: list[Thing]) -> list[HeatLamp]:
        """Lamps as the heat model sees them."""
        return [heat_lamp(thing, self.request, self.outcome.stance, self.outcome.learned) for thing in things]


def _under(thing: Thing, x_m: float, y_m: float, half_m: float) -> bool:
    assert thing.size_m is not None
    return abs(thing.at_m[0] - x_m) < thing.size_m[0] / 2 + half_m and abs(thing.at_m[1] - y_m) < thing.size_m[1] / 2


def ground_of(request: Request) -> Ground:
    """The enclosure of a request without its lamps, with the furniture that its animal needs where it has none to bask on."""
    looked = look(request)
    bodies = [thing for thing in to_data(request)["things"] if Thing.model_validate(thing).is_body]
    if not any(thing["kind"] == "slab" for thing in bodies):
        wanted = furniture_of(request)
        bodies = [*bodies, *(thing for thing in wanted if thing["kind"] == "slab")] if bodies else wanted
    timed = next((t for t in request.things if t.on and t.off and t.lit_at(DAY_HOUR)), None)
    times = {"on": timed.on or "", "off": timed.off or ""} if timed else {"on": "08:00", "off": "20:00"}
    bare = from_data({**to_data(request), "things": bodies, "readings": []})
    stance = looked.stance(bare)
    slabs = [thing for thing in bare.things if thing.kind == "slab"]
    if stance.perch is not None:
        x, y = stance.perch.x_m, stance.perch.y_m
    elif slabs:
        x, y = slabs[0].at_m[0], slabs[0].at_m[1]
    else:
        x, y = 0.2 * bare.box.inside_m.length, 0.5 * bare.box.inside_m.depth
    top = bare.box.inside_m.height
    lamp = Thing.model_validate(
        {"id": "film", "kind": "halogen_flood", "power_w": FILM_POWER_W, "at_m": [x, y, round(top - 0.06, 3)]}
    )
    lit = bare.model_copy(update={"things": (*bare.things, lamp)})
    outcome = predict(lit, looked.stance(lit))
    known = solve(enclosure_of(lit, None, lit.room.day_c, outcome.stance), start=outcome.day.films)
    slab = outcome.day.hottest_slab() or 0
    outputs = (known.surface(slab), known.air(*outcome.warm_point), known.air(*outcome.cool_point))
    return Ground(bare, looked, outcome, known, outputs, slab, (x, y), times)


def tube_heat(ground: Ground, power_w: float, length_m: float, z_m: float) -> Array:
    """What a tube's own warmth adds to surface, warm and cool air [K]."""
    x = min(max(ground.place[0], length_m / 2), ground.request.box.inside_m.length - length_m / 2)
    tube = HeatLamp("tube", HEATERS[TUBE_HEAT_KIND], power_w, x, ground.place[1], z_m)
    return ground.response([tube])[0] * power_w
