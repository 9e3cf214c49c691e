"""What holds for every reptile, or every amphibian: said once, not in each profile."""

import json
from importlib.resources import files
from types import MappingProxyType

from husbandry.species.profile import Profile

_DATA = MappingProxyType(
    json.loads(files("husbandry.species").joinpath("common.json").read_text(encoding="utf-8"))
)


def _of(profile: Profile, what: str) -> tuple[str, ...]:
    kind = "amphibian" if profile.amphibian else "reptile"
    return (*_DATA[kind][what], *_DATA["all"][what])


def cautions(profile: Profile) -> tuple[str, ...]:
    """The species' own cautions, then those of its species."""
    return (*(caution.text for caution in profile.cautions), *_of(profile, "cautions"))


def signs(profile: Profile) -> tuple[str, ...]:
    """What sends a keeper to a veterinarian: the species' own signs, then those of its species."""
    return (*profile.signs.texts, *_of(profile, "signs"))
