"""How far an enclosure is from one that was read: what its readings told of a spot holds the less, the more
has changed of what decides there.
"""

import math
from typing import NamedTuple

from husbandry.documents.enclosure import EnclosureSpec
from husbandry.items.base import ROUNDING_M
from husbandry.items.furnishings import Slab
from husbandry.items.union import Item
from husbandry.species.needs import NeedKey


class LargeChange(NamedTuple):
    """What makes a spot another one."""

    move_m: float
    """Of what decides how warm it is there [m]."""
    power_ln: float
    """Of a heater [ln]."""
    other_slab: float
    rebuilt: float
    """Another stone, and other panels, lid, vents, substrate or size, over a large change [1]."""


OTHER, SMALL = 1.0, 0.2
"""Another heater, and anything else that comes or goes, over a large change (design choice) [1]."""
LARGE = {
    NeedKey.SURFACE_DAY: LargeChange(0.2, math.log(1.5), OTHER, 0.5),
    NeedKey.WARM_AIR_DAY: LargeChange(0.12, math.log(3), 0.1, 1.5),
    NeedKey.UVI_DAY: LargeChange(0.2, math.log(2), 0.1, 0.2),
}
AWAY_FROM_LAMPS = LargeChange(0.3, math.log(3), 0.1, 1.5)
"""By need; the last of the air at the cool end and by night. A face under a lamp is another one on another
stone; air hardly knows what the stone is of, but knows the lid; the air over the warm end moves with the
lamp, that of the cool end is far from it; a lid tells ultraviolet little (design choice)."""
BUILT = ("panels", "lid", "vents", "substrate", "inside_m")
"""What of an enclosure heat passes through or lies in."""


def changes_between(
    now: tuple[EnclosureSpec, tuple[Item, ...]],
    then: tuple[EnclosureSpec, tuple[Item, ...]],
    need: NeedKey,
) -> float:
    """Large changes between two states of an enclosure, for a need's own place; 0 for the same [1].

    What is moved together, as a lamp with the stone under it, is one move.
    """
    spec, items = now
    old_spec, old_items = then
    large = LARGE.get(need, AWAY_FROM_LAMPS)
    decides = _gives_uv if need is NeedKey.UVI_DAY else _decides_warmth
    before = {item.id: item for item in old_items}
    after = {item.id: item for item in items}
    kept = sorted(name for name in before.keys() & after.keys() if decides(before[name]))
    moved_m = max((_moved_m(before[name], after[name]) for name in kept), default=0.0)
    of_items = sum(_of_item(before[name], after[name], large) for name in kept)
    came_or_went = [before.get(name) or after[name] for name in before.keys() ^ after.keys()]
    lone = sum(_lone(item, large) if decides(item) else SMALL for item in came_or_went)
    rebuilt = sum(getattr(spec, name) != getattr(old_spec, name) for name in BUILT)

    return float(moved_m / large.move_m + of_items + lone + large.rebuilt * rebuilt)


def _decides_warmth(item: Item) -> bool:
    """Whether an item decides how warm a spot is: it warms, or is basked on."""
    return item.warms or isinstance(item, Slab)


def _gives_uv(item: Item) -> bool:
    """Whether an item decides how much ultraviolet a spot gets: a lamp, or what is basked on."""
    return item.is_uv or isinstance(item, Slab)


def _moved_m(was: Item, is_now: Item) -> float:
    """How far an item was moved [m]."""
    moved_m = math.dist(was.at_m, is_now.at_m)
    return moved_m if moved_m > ROUNDING_M else 0.0


def _of_item(was: Item, is_now: Item, large: LargeChange) -> float:
    """What one item adds that is still there."""
    if was.kind != is_now.kind:
        return OTHER
    found = 0.0
    if was.watts and is_now.watts:
        found += abs(math.log(is_now.watts / was.watts)) / large.power_ln
    if isinstance(was, Slab) and isinstance(is_now, Slab) and was.material != is_now.material:
        found += large.other_slab
    return found


def _lone(item: Item, large: LargeChange) -> float:
    """What one item adds that came or went, of those that decide."""
    return large.other_slab if isinstance(item, Slab) else OTHER
