"""How far an enclosure is from one that was read: what its readings told of a spot holds the less, the more
has changed.
"""

import math

from husbandry.documents.enclosure import EnclosureSpec
from husbandry.items.base import ROUNDING_M
from husbandry.items.furnishings import Slab
from husbandry.items.union import Item

LARGE_MOVE_M, LARGE_POWER_LN = 0.12, math.log(1.5)
"""A move of a lamp or of what is lit, and a change of power, that make a place another one (design
choice) [m, 1]."""
REBUILT = 2.0
"""Other panels, lid, vents, substrate or size, over a large move (design choice) [1]."""
OTHER, SMALL = 1.0, 0.2
"""Another heater or stone, and anything else that comes or goes, over a large move (design choice) [1]."""
BUILT = ("panels", "lid", "vents", "substrate", "inside_m")
"""What of an enclosure heat passes through or lies in."""


def changes_between(
    now: tuple[EnclosureSpec, tuple[Item, ...]], then: tuple[EnclosureSpec, tuple[Item, ...]]
) -> float:
    """Large changes between two states of an enclosure; 0 for the same [1]."""
    spec, items = now
    old_spec, old_items = then
    before = {item.id: item for item in old_items}
    after = {item.id: item for item in items}
    of_items = sum(_of_item(before.get(name), after.get(name)) for name in sorted(before | after))
    rebuilt = sum(getattr(spec, name) != getattr(old_spec, name) for name in BUILT)

    return float(of_items + REBUILT * rebuilt)


def _of_item(was: Item | None, is_now: Item | None) -> float:
    """What one thing adds."""
    if was is None or is_now is None or was.kind != is_now.kind:
        item = is_now or was
        return OTHER if item is not None and _decides(item) else SMALL
    if not _decides(was):
        return 0.0

    moved_m = math.dist(was.at_m, is_now.at_m)
    found = moved_m / LARGE_MOVE_M if moved_m > ROUNDING_M else 0.0
    if was.watts and is_now.watts:
        found += abs(math.log(is_now.watts / was.watts)) / LARGE_POWER_LN
    if isinstance(was, Slab) and isinstance(is_now, Slab) and was.material != is_now.material:
        found += OTHER
    return found


def _decides(item: Item) -> bool:
    """Whether a thing decides how warm a spot is: it warms, or is basked on."""
    return item.warms or isinstance(item, Slab)
