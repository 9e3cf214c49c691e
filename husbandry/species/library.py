"""The library: every profile that ships, read once.

A file that cannot be used is named with its reasons, and the rest still loads.
"""

import functools
from collections.abc import Iterable
from dataclasses import dataclass
from importlib.resources import files
from importlib.resources.abc import Traversable
from pathlib import Path

from husbandry.errors import DocumentError, Problem, UnknownNameError
from husbandry.species.profile import Profile, parse


@dataclass(frozen=True)
class Refused:
    """A file that cannot be used."""

    file: str
    problems: tuple[Problem, ...]

    def __str__(self) -> str:
        return "; ".join(
            f"{self.file}: {problem.pointer or '/'}: {problem.reason}" for problem in self.problems
        )


@dataclass(frozen=True)
class LoadedProfiles:
    """What a folder of profiles holds."""

    profiles: dict[str, Profile]
    """By scientific name."""
    refused: tuple[Refused, ...]


def load(folder: Traversable | Path) -> LoadedProfiles:
    """Read every profile of a folder; the files in the order of their names.

    A file that is no sound profile, and a second one for a species that is there already, is
    refused and named.
    """
    entries = sorted(
        (entry for entry in folder.iterdir() if entry.name.endswith(".json")),
        key=lambda entry: entry.name,
    )
    return _read((entry.name, entry) for entry in entries)


def _read(entries: "Iterable[tuple[str, Traversable | Path]]") -> LoadedProfiles:
    profiles: dict[str, Profile] = {}
    refused: list[Refused] = []
    for name, entry in entries:
        try:
            profile = parse(entry.read_text(encoding="utf-8"), name)
        except DocumentError as why:
            refused.append(Refused(name, tuple(why.problems)))
            continue
        except UnicodeDecodeError:
            refused.append(Refused(name, (Problem("", "this is not UTF-8 text"),)))
            continue
        if profile.species in profiles:
            refused.append(
                Refused(
                    name,
                    (Problem("/species", f"there is a profile of {profile.species} already"),),
                )
            )
            continue
        profiles[profile.species] = profile
    return LoadedProfiles(profiles, tuple(refused))


@functools.cache
def shipped() -> LoadedProfiles:
    """The profiles that come with the core."""
    return load(files("husbandry.species").joinpath("profiles"))


def library() -> dict[str, Profile]:
    """Every shipped profile by scientific name."""
    return shipped().profiles


def find(species: str) -> Profile:
    """The shipped profile of that scientific name.

    Raises
    ------
    UnknownNameError
    """
    profiles = library()
    if species not in profiles:
        raise UnknownNameError(
            f"There is no profile of “{species}” yet; there are {', '.join(profiles)}."
        )
    return profiles[species]


@functools.cache
def _by_slug() -> dict[str, Profile]:
    return {profile.slug: profile for profile in library().values()}


def by_slug(slug: str) -> Profile | None:
    """The shipped profile of an address such as pogona-vitticeps; None when there is none."""
    return _by_slug().get(slug)
