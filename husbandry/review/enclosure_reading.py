"""The enclosure's kind and lid, and its size."""

from husbandry.review.description import EnclosureKind
from husbandry.review.description_reading import Reading
from husbandry.review.size_reading import read_size
from husbandry.species.library import library

KINDS: tuple[EnclosureKind, ...] = ("mesh", "tub", "open table", "board", "timber", "glass")
"""The most telling word first: “tank” is said of anything (common practice)."""


def read_enclosure(reading: Reading) -> None:
    """Fill in kind, lid, sides and volume."""
    kinds: set[str] = set()

    for statement in reading.statements:
        if statement.clause.wished:
            continue
        for name in statement.of("enclosure", "cage"):
            if statement.denied(name):
                continue
            reading.mark(statement, "enclosure", name)
            if name.fact == "enclosure":
                kinds.add(name.value)
        for name in statement.of("lid"):
            reading.facts["lid"] = name.value
            reading.mark(statement, "lid", name)

    if kinds:
        reading.facts["enclosure"] = _kind(reading, kinds)

    read_size(reading)
    caged = reading.facts.pop("enclosure_is_mesh", False)
    if caged and not kinds and "lid" not in reading.facts:
        reading.facts["enclosure"] = "mesh"


def _kind(reading: Reading, kinds: set[str]) -> EnclosureKind:
    """The kind that the words tell; a tank holds water for what lives in water."""
    animal = reading.facts.get("animal")
    profile = library().get(getattr(animal, "species", None) or "")
    swims = profile is not None and profile.habit in {"aquatic", "semi-aquatic"}

    for kind in KINDS:
        if kind in kinds and not (kind == "glass" and swims):
            return kind

    return "tank of water" if swims else "glass"
