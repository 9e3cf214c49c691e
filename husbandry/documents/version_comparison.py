"""Compare two versions of an enclosure: what has to be changed by hand.

What was only said, measured or read off a data sheet does not count. Method:
docs/methods/build-plan.md.
"""

import math
from typing import Any, NamedTuple

from husbandry.documents.enclosure import EnclosureSpec, Lid, MoistureControl, Substrate
from husbandry.documents.request import EarlierState, Request
from husbandry.items.union import Item

SIDE_NAMES = ("front", "back", "left", "right", "bottom", "lid", "vents")
MOVED_M = 0.01
"""What was moved by less stands where it stood (design choice: a finger's breadth) [m]."""
SETTINGS = ("thermostat", "on", "off", "also_on", "held_c")
"""What is set, not handled."""
FITTED = ("heater_w", "filter_l_h", "moist")
"""What is fitted to an item or put into it."""
TOLD = ("entrance", "sheer", "beam_deg", "hours_run")
"""What somebody says of an item that stands as it stood: true of it before as well."""


class Difference(NamedTuple):
    """What sets two states of an enclosure apart."""

    size: bool
    """Another enclosure."""
    sides: tuple[str, ...]
    """Of `SIDE_NAMES`, those that are made anew."""
    substrate: bool
    """Other substrate, or less of it."""
    topped: bool
    """More of the same substrate."""
    dampness: bool
    """How damp its substrate is kept, and nothing of what it is made."""
    crew: bool
    """A clean-up crew that was not there."""
    mister: bool
    """Nozzles or a fogger that were not there."""
    settings: bool
    """Set points and times of the clock."""
    gone: tuple[Item, ...]
    come: tuple[Item, ...]
    moved: tuple[Item, ...]
    fitted: tuple[Item, ...]
    """To which a thermostat, a heater, a filter or moss was fitted, or from which it was taken."""

    @property
    def any(self) -> bool:
        """Whether they differ at all."""
        return any(self)

    @property
    def handled(self) -> tuple[Item, ...]:
        """Every item that a hand touches."""
        return (*self.gone, *self.come, *self.moved, *self.fitted)


def difference(old: EarlierState, request: Request) -> Difference:
    """What sets an earlier state of an enclosure apart from the one that is asked for."""
    was = old.enclosure
    enclosure = request.enclosure
    before, after = ({item.id: item for item in listed} for listed in (old.items, request.items))
    gone = [item for item in old.items if item.id not in after]
    come = [item for item in request.items if item.id not in before]
    moved = list[Item]()
    fitted = list[Item]()
    settings = _times(was.wetting) != _times(enclosure.wetting)
    for item_id in before.keys() & after.keys():
        one = before[item_id]
        other = after[item_id]
        if is_another(one, other):
            gone.append(one)
            come.append(other)
            continue
        if (
            math.dist(one.at_m, other.at_m) > MOVED_M
            or one.hangs_above_lid != other.hangs_above_lid
        ):
            moved.append(other)
        if _only(one, FITTED) != _only(other, FITTED) or (one.held is None) != (
            other.held is None
        ):
            fitted.append(other)
        elif _only(one, SETTINGS) != _only(other, SETTINGS):
            settings = True
    topped = _is_topped(was.substrate, enclosure.substrate)
    substrate = not same_bed(was.substrate, enclosure.substrate) and not topped
    kept = (
        was.wetting.substrate if was.wetting else None,
        (enclosure.wetting.substrate if enclosure.wetting else None),
    )

    return Difference(
        size=was.inside_m != enclosure.inside_m,
        sides=tuple(side for side in SIDE_NAMES if _side(was, side) != _side(enclosure, side)),
        substrate=substrate,
        topped=topped,
        dampness=not substrate
        and kept[0] != kept[1]
        and kept[1] is not None
        and (kept[0] is not None or kept[1] in {"damp", "wet"}),
        crew=enclosure.substrate.crew and not was.substrate.crew,
        mister=bool(_mister(enclosure.wetting) - _mister(was.wetting)),
        settings=settings,
        gone=_sorted(gone),
        come=_sorted(come),
        moved=_sorted(moved),
        fitted=_sorted(fitted),
    )


def _sorted(items: list[Item]) -> tuple[Item, ...]:
    return tuple(sorted(items, key=lambda item: item.id))


def is_another(one: Item, other: Item) -> bool:
    """Another item in its stead: of another make, or a lamp that has burned fewer hours than the
    one before.
    """
    put_aside = (*SETTINGS, *FITTED, *TOLD, "at_m", "above_lid")
    if _without(one, put_aside) != _without(other, put_aside):
        return True
    if one.cone_deg is not None and other.cone_deg is not None and one.cone_deg != other.cone_deg:
        return True
    return (
        one.burned_h is not None and other.burned_h is not None and other.burned_h < one.burned_h
    )


def same_item(one: Item, other: Item) -> bool:
    """The same item, set and placed as it was, whatever somebody has said of it since."""
    return not is_another(one, other) and _without(one, TOLD) == _without(other, TOLD)


def _only(item: Item, names: tuple[str, ...]) -> dict[str, Any]:
    """The values of those names, of the kinds that have them."""
    return {name: value for name, value in item.model_dump().items() if name in names}


def _without(item: Item, names: tuple[str, ...]) -> dict[str, Any]:
    """Everything of an item but the values of those names."""
    return {name: value for name, value in item.model_dump().items() if name not in names}


def same_wetting(one: MoistureControl | None, other: MoistureControl | None) -> bool:
    """Kept as damp and misted as before; what a log told of it, or what nozzles were measured to
    give, is no change.
    """
    if one is None or other is None:
        return one is other
    return (
        _times(one) == _times(other)
        and _mister(one) == _mister(other)
        and one.substrate == other.substrate
    )


def as_made(enclosure: EnclosureSpec) -> EnclosureSpec:
    """An enclosure without what moves no warmth: its approaches, its water, what its mesh was
    measured to pass.
    """
    bare: dict[str, Any] = {
        "wetting": None,
        "approaches": {},
        "lid": enclosure.lid.model_copy(update={"mesh_passes": None}),
    }
    return enclosure.model_copy(update=bare)


def _side(enclosure: EnclosureSpec, side: str) -> object:
    if side == "lid":
        return _lid(enclosure.lid)
    return enclosure.vents if side == "vents" else getattr(enclosure.panels, side)


def _lid(lid: Lid) -> object:
    return lid.material, lid.mesh, lid.mesh_share


def same_bed(one: Substrate, other: Substrate) -> bool:
    """The same substrate; layers that somebody only now described lay there before as well."""
    described = not (one.layers and other.layers) or one.layers == other.layers
    return described and (one.material, one.depth_m, one.slope) == (
        other.material,
        other.depth_m,
        other.slope,
    )


def _is_topped(one: Substrate, other: Substrate) -> bool:
    """Deeper, of the same materials in the same order."""
    if (one.material, one.slope) != (other.material, other.slope) or other.depth_m <= one.depth_m:
        return False
    if not (one.layers and other.layers):
        return True
    alike = len(one.layers) == len(other.layers)

    return alike and all(
        a.parts == b.parts and b.depth_m >= a.depth_m
        for a, b in zip(one.layers, other.layers, strict=True)
    )


def same_enclosure(one: EnclosureSpec, other: EnclosureSpec) -> bool:
    """Made and filled as it was, as far as that moves warmth."""
    bare: dict[str, Any] = {"substrate": Substrate()}
    return same_bed(one.substrate, other.substrate) and as_made(one).model_copy(
        update=bare
    ) == as_made(other).model_copy(update=bare)


def _times(wetting: MoistureControl | None) -> object:
    return wetting.mistings if wetting is not None else ()


def _mister(wetting: MoistureControl | None) -> set[str]:
    if wetting is None:
        return set()
    return {"nozzles_ml_s"} if wetting.nozzles_ml_s is not None else set()
