"""How food is served, and what is never served alive (common practice)."""

from collections.abc import Iterable

SERVED = {
    "paste": (
        "one part of supplement to two of water by mass, if the label says nothing else; away after"
        " a day"
    ),
    "eggs": (
        "fresh, unwashed and at room temperature, small enough to swallow; one that floats in water is"
        " old: never fed; thrown out when it lies untouched: after days in the warm, after two weeks at the most"
    ),
    "prey": "thawed through and warm, from tongs",
}
UNDER_WATER = "in the water, as much as it takes in five minutes; the rest comes out"
ALIVE = "take out what is left after a quarter of an hour"
_RODENTS = frozenset({"mouse", "mice", "rat", "rodent", "rabbit", "gerbil", "hamster", "chick"})
_LIVING = frozenset({"live", "living", "alive"})


def served(foods: Iterable[str], *, aquatic: bool, live: bool) -> tuple[str, ...]:
    """What is said of a meal of these foods when it is set down."""
    known = set(foods)
    found = [text for food, text in SERVED.items() if food in known]
    return (*found, UNDER_WATER) if aquatic else (*found, ALIVE) if live else tuple(found)


def living_prey(name: str) -> bool:
    """Whether a name means a living mammal or bird as food: those bite and kill, so none is
    planned.
    """
    words = set(name.lower().split())
    return bool(words & _LIVING) and any(word.rstrip("s") in _RODENTS for word in words)
