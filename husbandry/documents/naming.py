"""What items in an enclosure are called."""

from itertools import pairwise

from husbandry.documents.request import Request
from husbandry.items.union import Item

NAMES_APART_M = 0.05
"""Items closer than that along a side are not told apart by it (design choice) [m]."""
_SIDES = (("left", "middle", "right"), ("front", "middle", "back"), ("lower", "middle", "upper"))


def names(request: Request) -> dict[str, str]:
    """Name every item of an enclosure so that no two have one name.

    Returns
    -------
    dict
        By id: “halogen flood”; of two “left halogen flood” and “right halogen flood”; of items
        that stand in one place, or of more than three, “halogen flood 1”, counted from the left.
    """
    alike: dict[str, list[Item]] = {}
    for item in request.items:
        alike.setdefault(item.name, []).append(item)
    found: dict[str, str] = {}
    for name, items in alike.items():
        found |= {items[0].id: name} if len(items) == 1 else _told_apart(name, items)
    return found


def _told_apart(name: str, items: list[Item]) -> dict[str, str]:
    for axis, words in enumerate(_SIDES):
        order = sorted(items, key=lambda item: item.at_m[axis])
        apart = all(
            after.at_m[axis] - before.at_m[axis] >= NAMES_APART_M
            for before, after in pairwise(order)
        )
        if apart and len(items) <= len(words):
            said = words if len(items) == 3 else (words[0], words[-1])
            return {item.id: f"{word} {name}" for item, word in zip(order, said, strict=True)}
    order = sorted(items, key=lambda item: item.at_m)
    return {item.id: f"{name} {n}" for n, item in enumerate(order, start=1)}
