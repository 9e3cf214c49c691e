"""What a watt of each candidate does to surface and air while the films of one solution are frozen:
then every output is linear in power.
"""

from collections.abc import Sequence
from typing import Any

import numpy as np
from numpy.typing import NDArray
from scipy.linalg import cho_solve

from husbandry.climate.heat import SteadyState
from husbandry.climate.mats import peak_map
from husbandry.climate.network import deposit
from husbandry.climate.slab import excess_map
from husbandry.enclosure.equipment import EMISSIVITY
from husbandry.errors import ImpossibleStateError
from husbandry.items.union import read_item
from husbandry.predict.predict import Prediction, heat_lamp
from husbandry.setups.candidates import HeaterCandidate, UvCandidate
from husbandry.species.needs import NeedKey

Array = NDArray[np.float64]
Candidate = HeaterCandidate | UvCandidate
OUTPUTS = (NeedKey.SURFACE_DAY, NeedKey.WARM_AIR_DAY, NeedKey.COOL_AIR_DAY)
"""What lamps move by day; night air is looked at on the network of the night."""


class Responses:
    """Responses of candidates on frozen networks; where a watt lands is kept between rounds."""

    def __init__(self) -> None:
        """Know nothing yet."""
        self._landed: dict[Any, tuple[Array, tuple[Array, ...]]] = {}
        self.lamps_in_a_row = 1
        """The fewest that warmed the whole body in an earlier fit of the same site."""

    def warmed_by(self, lamps: int) -> None:
        """Remember that so many in a row warmed the whole body."""
        known = self.lamps_in_a_row
        self.lamps_in_a_row = lamps if known == 1 else min(known, lamps)

    def gains(
        self,
        prediction: Prediction,
        steady: SteadyState,
        basking_id: str,
        candidates: Sequence[Candidate],
    ) -> Array:
        """What a watt of each does [K/W], shape (3, candidates): surface of the basking place, warm
        and cool air; all lamps of a pair together.
        """
        if not candidates:
            return np.zeros((3, 0))
        model = steady.heat_model
        slab = next((n for n, one in enumerate(model.slabs) if one.item_id == basking_id), None)
        if slab is None:
            raise ImpossibleStateError(f"{basking_id} is no surface of this enclosure")
        reading = steady.surface(slab)
        film = steady.films.slab_convection[slab] + steady.films.slab_radiation[slab] * EMISSIVITY
        places = list(dict.fromkeys(one.place for one in candidates))
        first = {one.place: one for one in reversed(candidates)}
        heats = []
        direct = []
        spot = reading.spot
        # The spreading of heat in a slab is its own adjoint: the spot is spread once, not each map.
        seen_by_spot = None if spot is None else excess_map(spot, model.slabs[slab], film)
        for place in places:
            heat, maps = self._landing(prediction, steady, first[place])
            heats.append(heat)
            if spot is None or seen_by_spot is None:
                direct.append(0.0)
            elif first[place].kind == "heat_mat":
                peak = self._mat_peak(prediction, steady, first[place], slab, float(film))
                direct.append(float((peak * spot).sum()))
            else:
                direct.append(float((maps[slab] * seen_by_spot).sum()))
        temps = cho_solve(steady.factor, np.array(heats).T, check_finite=False)
        rows = np.array(
            [
                reading.nodes @ temps + np.array(direct),
                steady.air(*prediction.warm_point).nodes @ temps,
                steady.air(*prediction.cool_point).nodes @ temps,
            ]
        )
        column = {place: n for n, place in enumerate(places)}
        return np.asarray(rows[:, [column[one.place] for one in candidates]])

    def _landing(
        self, prediction: Prediction, steady: SteadyState, candidate: Candidate
    ) -> tuple[Array, tuple[Array, ...]]:
        """Where a watt of a candidate lands: nodes, and faces."""
        key = (steady.heat_model.slabs, candidate.place)
        if key not in self._landed:
            landed = [
                deposit(
                    steady.heat_model,
                    heat_lamp(read_item(item), prediction.request, prediction.position),
                )
                for item in candidate.items("watt", 1.0)
            ]
            heat = np.sum([one.heat for one in landed], axis=0)
            maps = tuple(
                np.sum([one.maps[n] for one in landed], axis=0)
                for n in range(len(steady.heat_model.slabs))
            )
            self._landed[key] = (heat, maps)
        return self._landed[key]

    @staticmethod
    def _mat_peak(
        prediction: Prediction, steady: SteadyState, candidate: Candidate, slab: int, film: float
    ) -> Array:
        (item,) = candidate.items("watt", 1.0)
        mat = heat_lamp(read_item(item), prediction.request, prediction.position)
        return peak_map(steady.heat_model, steady.heat_model.slabs[slab], mat, film)
