"""What every answer begins from: who lives in the enclosure, what they need, and what the numbers of one outcome say of it."""

from collections.abc import Mapping
from dataclasses import dataclass

from husbandry.planning.judge import Band, bands, state
from husbandry.planning.morning import Morning
from husbandry.planning.predict import Outcome, Stance, stance_of
from husbandry.planning.request import Request
from husbandry.planning.result import NeedState, Occupant
from husbandry.species.needs import NeedKey
from husbandry.species.profile import Profile
from husbandry.species.stages import stage_of
from husbandry.worked import Worked


@dataclass(frozen=True)
class Looked:
    """Who lives in an enclosure, and what they need together."""

    profiles: dict[str, Profile]
    occupants: tuple[Occupant, ...]
    lead: int
    """Index of the largest animal: the enclosure is judged by it."""
    bands: dict[NeedKey, Band]

    @property
    def profile(self) -> Profile:
        """Of the largest animal."""
        return self.profiles[self.occupants[self.lead].species]

    def stance(self, request: Request) -> Stance:
        """How the largest animal stands in an enclosure."""
        return stance_of(request, self.profile, self.occupants[self.lead].length_m)


def look(request: Request) -> Looked:
    """Find the stages, the largest animal and the bands that all share."""
    profiles = request.profiles
    occupants = []
    for animal in request.animals:
        profile = profiles[animal.species]
        stage = stage_of(
            profile, today=request.today, born_on=animal.born_on, mass_g=animal.mass_g, length_mm=animal.length_mm or None
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
    shared = bands(occupants, profiles, tuple(request.schools_of(n) for n in range(len(request.animals))))
    return Looked(profiles, tuple(occupants), lead, shared)


def need_states(
    request: Request, outcome: Outcome, shared: dict[NeedKey, Band], predicted: Mapping[str, Worked]
) -> tuple[NeedState, ...]:
    """Each need with its marks: what is needed, predicted and measured."""
    morning = Morning(outcome)
    return tuple(
        state(
            band,
            predicted.get(key.value),
            outcome.uvi().ln_sd if key is NeedKey.UVI_DAY else 0.0,
            request,
            predicted.get("humidity_floor") if key is NeedKey.HUMIDITY_DAY else None,
            morning.share_of_rise,
        )
        for key, band in shared.items()
    )
