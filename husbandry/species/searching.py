"""Finding a species by any of its names, spelled well or badly."""

import unicodedata
from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from rapidfuzz import fuzz, process

from husbandry.species.profile import Profile

CUTOFF = 78.0
"""Likeness from which a misspelled word still counts (design choice) [%]."""
IDENTIFIED_MOST = 5
"""Species that are offered to choose from (design choice)."""
SHORTEST = 4
"""Shorter words are only found as they are written (design choice) [letters]."""


def plain(text: str) -> str:
    """Small letters without accents."""
    return "".join(
        c for c in unicodedata.normalize("NFKD", text.lower()) if not unicodedata.combining(c)
    )


@dataclass(frozen=True)
class Index:
    """The names of many species, ready to be searched."""

    profiles: tuple[Profile, ...]
    names: tuple[str, ...]
    """All names of each, in one line."""
    words: tuple[str, ...]
    """Every word of any name, once."""

    @classmethod
    def of(cls, profiles: Iterable[Profile]) -> "Index":
        """Of these profiles, in their order."""
        kept = tuple(profiles)
        names = tuple(
            plain(
                " | ".join(
                    (
                        profile.name,
                        profile.species,
                        *profile.other_names,
                        profile.group,
                        profile.habit,
                    )
                )
            )
            for profile in kept
        )
        words = sorted(
            {word for line in names for word in line.replace("|", " ").replace("-", " ").split()}
        )
        return cls(kept, names, tuple(words))

    def find(self, query: str) -> Sequence[Profile]:
        """Those that answer to every word of the query, the best first; all of them for an empty
        one.
        """
        asked = plain(query).split()[:6]
        if not asked:
            return self.profiles
        scores = [0.0] * len(self.names)
        alive = set(range(len(self.names)))
        for word in asked:
            alive = self._with(word, alive, scores)
            if not alive:
                return ()
        return [self.profiles[n] for n in sorted(alive, key=lambda n: (-scores[n], self.names[n]))]

    def _with(self, word: str, alive: set[int], scores: list[float]) -> set[int]:
        found = {n for n in alive if word in self.names[n]}
        for n in found:
            begins = self.names[n].startswith(word) or f" {word}" in self.names[n]
            scores[n] += 120 if begins else 100
        if found or len(word) < SHORTEST:
            return found
        near = dict[str, float]()
        for spelled, score, _ in process.extract(
            word, self.words, scorer=fuzz.ratio, score_cutoff=CUTOFF, limit=6
        ):
            near[spelled] = score
        for n in alive:
            best = max(
                (score for spelled, score in near.items() if spelled in self.names[n]), default=0.0
            )
            if best:
                scores[n] += best
                found.add(n)
        return found


def identify(text: str, index: Index) -> Sequence[Profile]:
    """The species that somebody's words mean: one where they are clear, several to choose from where
    they are not, none where nothing answers.
    """
    said = plain(" ".join(text.split()))
    if not said:
        return ()
    singular = said.removesuffix("s")
    for profile in index.profiles:
        names = {plain(name) for name in (profile.name, profile.species, *profile.other_names)}
        if said in names or singular in names:
            return (profile,)
    return tuple(index.find(said))[:IDENTIFIED_MOST]
