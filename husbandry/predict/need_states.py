"""What every answer begins from: who lives in the enclosure, what they need, and what the numbers
of one outcome say of it.
"""

from collections.abc import Mapping
from dataclasses import dataclass

from husbandry.derivation import Derivation
from husbandry.documents.request import Request
from husbandry.documents.result import NeedState, Occupant
from husbandry.predict.morning_warmup import MorningWarmup
from husbandry.predict.predict import AnimalPosition, Prediction, position_of
from husbandry.species.needs import NeedKey
from husbandry.species.profile import Profile
from husbandry.species.stages import stage_of
from husbandry.targets.verdicts import TargetRange, state, targets


@dataclass(frozen=True)
class AnimalNeeds:
    """Who lives in an enclosure, and what they need together."""

    profiles: dict[str, Profile]
    occupants: tuple[Occupant, ...]
    lead: int
    """Index of the largest animal: the enclosure is judged by it."""
    targets: dict[NeedKey, TargetRange]

    @property
    def profile(self) -> Profile:
        """Of the largest animal."""
        return self.profiles[self.occupants[self.lead].species]

    def position(self, request: Request) -> AnimalPosition:
        """How the largest animal stands in an enclosure."""
        return position_of(request, self.profile, self.occupants[self.lead].length_m)


def look(request: Request) -> AnimalNeeds:
    """Find the stages, the largest animal and the target ranges that all share."""
    profiles = request.profiles
    occupants = []
    for animal in request.animals:
        profile = profiles[animal.species]
        stage = stage_of(
            profile,
            today=request.today,
            born_on=animal.born_on,
            mass_g=animal.mass_g,
            length_mm=animal.length_mm or None,
        )
        body = animal.body(profile, stage.slug)
        occupants.append(
            Occupant(
                name=animal.name,
                species=animal.species,
                common_name=profile.name,
                stage=stage,
                length_m=body.length.value / 1000,
                body=body,
            )
        )
    lead = max(range(len(occupants)), key=lambda n: occupants[n].length_m)
    shared = targets(
        occupants, profiles, tuple(request.approaches_of(n) for n in range(len(request.animals)))
    )
    return AnimalNeeds(profiles, tuple(occupants), lead, shared)


def need_states(
    request: Request,
    prediction: Prediction,
    shared: dict[NeedKey, TargetRange],
    predicted: Mapping[str, Derivation],
) -> tuple[NeedState, ...]:
    """Each need with its marks: what is needed, predicted and measured."""
    morning = MorningWarmup(prediction)
    return tuple(
        state(
            target,
            predicted.get(key.value),
            prediction.uvi().ln_sd if key is NeedKey.UVI_DAY else 0.0,
            request,
            predicted.get("humidity_floor") if key is NeedKey.HUMIDITY_DAY else None,
            morning.share_of_rise,
        )
        for key, target in shared.items()
    )
