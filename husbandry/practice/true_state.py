"""What is really so in an enclosure: every need as a perfect instrument would read it."""

import functools
from dataclasses import dataclass

from husbandry.documents.request import Request
from husbandry.plan.plan import prediction_of
from husbandry.predict.need_states import AnimalNeeds, look
from husbandry.predict.predict import Prediction
from husbandry.simulation.logger import HiddenDamp
from husbandry.simulation.truth import TrueEnclosure
from husbandry.species.needs import NeedKey
from husbandry.targets.verdicts import TargetRange

RIGHT_MARGIN = 0.05
"""Of a range's width by which a good enclosure stays inside (design choice) [1]."""
HUMIDITIES = (NeedKey.HUMIDITY_DAY, NeedKey.HUMIDITY_NIGHT)


@dataclass(frozen=True)
class TrueState:
    """A hidden enclosure."""

    request: Request
    seed: int
    """Of its hidden strengths."""
    uv_share: float = 1.0
    """Of the UVB that comes through the mesh under its lamps as it is [1]."""

    @functools.cached_property
    def needs(self) -> AnimalNeeds:
        """What its animal needs."""
        return look(self.request)

    @functools.cached_property
    def believed(self) -> Prediction:
        """What the model says of it: where its places are."""
        return prediction_of(self.request)

    @functools.cached_property
    def truth(self) -> TrueEnclosure:
        """The enclosure itself."""
        return TrueEnclosure(self.request, self.needs.position(self.request), self.seed)

    @functools.cached_property
    def values(self) -> dict[NeedKey, float]:
        """Each need's true value [the need's unit]."""
        return {key: value for key in self.needs.targets if (value := self.value(key)) is not None}

    @functools.cached_property
    def _known(self) -> dict[NeedKey, float | None]:
        return {}

    def value(self, key: NeedKey) -> float | None:
        """One need's true value [the need's unit]; None where it has none."""
        if key not in self._known:
            self._known[key] = self._value(key)
        return self._known[key]

    def off(self, key: NeedKey) -> float:
        """How far one need is outside its range [range widths]."""
        value = self.value(key) if key in self.needs.targets else None
        return off_by(self.needs.targets[key], value) if value is not None else 0.0

    def _value(self, key: NeedKey) -> float | None:
        believed = self.believed

        if key is NeedKey.SURFACE_DAY:
            return self.truth.surface_c(believed.basking.x_m, believed.basking.y_m)

        if key is NeedKey.WARM_AIR_DAY:
            return self.truth.air_c(*believed.warm_point)

        if key is NeedKey.COOL_AIR_DAY:
            return self.truth.air_c(*believed.cool_point)

        if key is NeedKey.AIR_NIGHT:
            return self.truth.air_c(*believed.warm_point, night=True)

        if key is NeedKey.UVI_DAY:
            return self.uv_share * self.truth.uvi(believed.basking)

        if key in HUMIDITIES and believed.damp is not None:
            return HiddenDamp(believed.damp, self.seed).pct(key, 0.0)

        return None


def off_by(target: TargetRange, value: float) -> float:
    """How far a value lies outside a range: below it negative, in widths of the range [1]."""
    if value < target.low_value:
        return (value - target.low_value) / target.width

    if value > target.high_value:
        return (value - target.high_value) / target.width
    return 0.0


def is_right(state: TrueState) -> bool:
    """Whether every need lies inside its range, with a margin."""
    for key, value in state.values.items():
        target = state.needs.targets[key]
        margin = RIGHT_MARGIN * target.width
        if not target.low_value + margin <= value <= target.high_value - margin:
            return False
    return True
