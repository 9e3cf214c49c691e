"""What a search stands on: the enclosure without its lamps, its frozen network, and the places that
decide. Method: docs/methods/setup-search.md.
"""

import math
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray
from scipy.linalg import cho_solve

from husbandry.advise.context import HEADROOM_M, MIN_LAMP_M
from husbandry.climate.heat import ModelReading, SteadyState, solve
from husbandry.climate.heat_model import HeatSource
from husbandry.climate.network import deposit
from husbandry.documents.request import Request
from husbandry.documents.request_json import from_data, to_data
from husbandry.enclosure.equipment import HEATERS
from husbandry.errors import ImpossibleStateError
from husbandry.findings.hazards import REACH_M, STOOD_ON
from husbandry.items.furnishings import Slab
from husbandry.items.union import Item, read_item
from husbandry.predict.need_states import AnimalNeeds, look
from husbandry.predict.predict import (
    DAY_HOUR,
    TUBE_HEAT_KIND,
    Prediction,
    heat_lamp,
    heat_model_of,
    predict,
)
from husbandry.setups.first_setup import furniture_of
from husbandry.species.needs import NeedKey
from husbandry.targets.verdicts import TargetRange

Array = NDArray[np.float64]
HEIGHT_STEP_M = 0.02
"""Heights of lamps that are tried (design choice) [m]."""
ABOVE_MESH_M = 0.24
"""How far above a mesh a lamp is tried (design choice) [m]."""
LAMPS_APART_M = 0.18
"""Between two lamps of a row (design choice) [m]."""
FILM_POWER_W = 60.0
"""Power at which films are frozen while places are tried (design choice) [W]."""


@dataclass(frozen=True)
class BareEnclosure:
    """An enclosure to be fitted out."""

    request: Request
    """Bodies only."""
    looked: AnimalNeeds
    prediction: Prediction
    """With a lamp of a middling power, whose films are frozen."""
    known: SteadyState
    outputs: tuple[ModelReading, ModelReading, ModelReading]
    """Surface, warm air, cool air of the frozen network."""
    slab: int
    place: tuple[float, float]
    """Where lamps hang (x, y) [m]."""
    times: dict[str, str]

    @property
    def targets(self) -> dict[NeedKey, TargetRange]:
        """What the animals need."""
        return self.looked.targets

    def heights(
        self, *, above_lid: bool, x_m: float, y_m: float, half_m: float = 0.0
    ) -> list[float]:
        """Where a lamp of that place and half length may hang: out of reach of whatever can be
        stood on under it [m].
        """
        high = self.request.enclosure.inside_m.height
        tops = [
            t.at_m[2] + t.sides_m[2]
            for t in self.request.items
            if t.sides_m and t.kind in STOOD_ON and _under(t, x_m, y_m, half_m)
        ]
        low = max(
            [self.prediction.basking.z_m + MIN_LAMP_M, *(top + REACH_M + 0.001 for top in tops)]
        )
        span = (high + 0.01, high + ABOVE_MESH_M) if above_lid else (low, high - HEADROOM_M)
        return [
            round(math.ceil(100 * float(z) - 1e-6) / 100, 2)
            for z in np.arange(span[0], span[1] + 1e-9, HEIGHT_STEP_M)
        ]

    def lamps(
        self, kind: str, count: int, z_m: float, *, above_lid: bool, power_w: float = 1.0
    ) -> list[Item]:
        """A row of lamps of a class over the basking place."""
        x, y = self.place
        length = self.request.enclosure.inside_m.length
        return [
            read_item(
                {
                    "id": f"lamp-{n + 1}",
                    "kind": kind,
                    "power_w": power_w,
                    "at_m": [
                        round(
                            min(
                                max(x + (n - (count - 1) / 2) * LAMPS_APART_M, 0.05), length - 0.05
                            ),
                            3,
                        ),
                        round(y, 3),
                        z_m,
                    ],
                    "above_lid": above_lid,
                    **self.times,
                }
            )
            for n in range(count)
        ]

    def response(self, lamps: list[HeatSource]) -> tuple[Array, float]:
        """What a watt in each of these lamps does to surface, warm and cool air [K/W], and what
        share of it stays in the enclosure.
        """
        landed = [deposit(self.known.heat_model, self.known.nodes, lamp) for lamp in lamps]
        heat = np.sum([d.heat for d in landed], axis=0)
        temps = cho_solve(self.known.factor, heat, check_finite=False)
        lit = replace(
            self.known,
            heat_model=replace(self.known.heat_model, lamps=tuple(lamps)),
            deposits=tuple(landed),
            powers_w=np.ones(len(lamps)),
            duties=np.ones(len(lamps)),
            temps_c=temps,
            _cache={},
        )
        surface = lit.surface(self.slab)
        return np.array(
            [
                float(surface.nodes @ temps + surface.lamps.sum()),
                *(float(r.nodes @ temps) for r in self.outputs[1:]),
            ]
        ), 1 - sum(d.lost for d in landed) / len(landed)

    def heater(self, items: list[Item]) -> list[HeatSource]:
        """Lamps as the heat model sees them."""
        return [
            heat_lamp(item, self.request, self.prediction.position, self.prediction.learned)
            for item in items
        ]


def _under(item: Item, x_m: float, y_m: float, half_m: float) -> bool:
    if item.sides_m is None:
        raise ImpossibleStateError("missing: item.sides_m")
    return (
        abs(item.at_m[0] - x_m) < item.sides_m[0] / 2 + half_m
        and abs(item.at_m[1] - y_m) < item.sides_m[1] / 2
    )


def bare_enclosure_of(request: Request) -> BareEnclosure:
    """The enclosure of a request without its lamps, with the furniture that its animal needs where
    it has none to bask on.
    """
    looked = look(request)
    bodies = [item for item in to_data(request)["items"] if read_item(item).is_body]
    if not any(item["kind"] == "slab" for item in bodies):
        wanted = furniture_of(request)
        bodies = (
            [*bodies, *(item for item in wanted if item["kind"] == "slab")] if bodies else wanted
        )
    timer = next((t.timer for t in request.items if t.timer and t.lit_at(DAY_HOUR)), None)
    on, off = timer or ("08:00", "20:00")
    times = {"on": on, "off": off}
    bare = from_data({**to_data(request), "items": bodies, "readings": []})
    position = looked.position(bare)
    slabs = [item for item in bare.items if isinstance(item, Slab)]
    if position.perch is not None:
        x, y = position.perch.x_m, position.perch.y_m
    elif slabs:
        x, y = slabs[0].at_m[0], slabs[0].at_m[1]
    else:
        x, y = 0.2 * bare.enclosure.inside_m.length, 0.5 * bare.enclosure.inside_m.depth
    top = bare.enclosure.inside_m.height
    lamp = read_item(
        {
            "id": "film",
            "kind": "halogen_flood",
            "power_w": FILM_POWER_W,
            "at_m": [x, y, round(top - 0.06, 3)],
        }
    )
    lit = bare.model_copy(update={"items": (*bare.items, lamp)})
    prediction = predict(lit, looked.position(lit))
    known = solve(
        heat_model_of(lit, None, lit.room.day_c, prediction.position), start=prediction.day.films
    )
    slab = prediction.basking_slab or 0
    outputs = (
        known.surface(slab),
        known.air(*prediction.warm_point),
        known.air(*prediction.cool_point),
    )
    return BareEnclosure(bare, looked, prediction, known, outputs, slab, (x, y), times)


def tube_heat(substrate: BareEnclosure, power_w: float, length_m: float, z_m: float) -> Array:
    """What a tube's own warmth adds to surface, warm and cool air [K]."""
    x = min(
        max(substrate.place[0], length_m / 2),
        substrate.request.enclosure.inside_m.length - length_m / 2,
    )
    tube = HeatSource("tube", HEATERS[TUBE_HEAT_KIND], power_w, x, substrate.place[1], z_m)
    return substrate.response([tube])[0] * power_w
