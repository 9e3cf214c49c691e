"""How much of a profile is filled in and on what its values rest, told per profile: its page and
the command show the same numbers.
"""

from collections import Counter
from dataclasses import dataclass

from husbandry.species.profile import Profile
from husbandry.species.values import SourcedValue, StageChoice


@dataclass(frozen=True)
class ProfileCoverage:
    """What a profile holds, by origin."""

    species: str
    values: int
    """Values that have an origin."""
    by_origin: dict[str, int]
    """Of those, how many rest on: a published source, common practice with a named memory, memory
    alone, common practice alone.
    """
    memory_share: float
    """Share that leans on memory, with no published source opened [1]."""
    sources: int
    """Named works."""
    missing: tuple[str, ...]
    """Parts that may be left out and are, by name."""
    approaches: int
    """Values that belong to an approach."""


ORIGINS = ("published", "memory and practice", "memory alone", "practice alone")
OPTIONAL = ("soaks", "explains")
"""Parts that do not apply to every species."""


def _kind(profile: Profile, item: SourcedValue) -> str:
    kinds = {profile.origins[key].kind for key in item.origin}
    if "published" in kinds:
        return ORIGINS[0]
    if "from memory" in kinds:
        return ORIGINS[1] if kinds & {"common practice", "entered"} else ORIGINS[2]
    return ORIGINS[3]


def coverage(profile: Profile) -> ProfileCoverage:
    """Count a profile's values by what they rest on."""
    items = [item for _, item in profile.walk()]
    counted = Counter(_kind(profile, item) for item in items)
    return ProfileCoverage(
        species=profile.species,
        values=len(items),
        by_origin={kind: counted.get(kind, 0) for kind in ORIGINS},
        memory_share=profile.memory_share,
        sources=sum(bool(source.text) for source in profile.origins.values()),
        missing=tuple(name for name in OPTIONAL if not getattr(profile, name)),
        approaches=sum(isinstance(item, StageChoice) and bool(item.approach) for item in items),
    )
