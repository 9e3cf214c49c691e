"""Compare two versions of an enclosure: what has to be changed by hand.

What was only said, measured or read off a data sheet does not count. Method: docs/methods/build.md.
"""

import math
from typing import Any, NamedTuple

from husbandry.planning.request import BoxSpec, Earlier, Ground, Lid, Request, Thing, Wetting

SIDES = ("front", "back", "left", "right", "bottom", "lid", "vents")
MOVED_M = 0.01
"""What was moved by less stands where it stood (design choice: a finger's breadth) [m]."""
SETTINGS = ("thermostat", "on", "off", "held_c")
"""What is set, not handled."""
FITTED = ("heater_w", "filter_l_h", "moist")
"""What is fitted to a thing or put into it."""
TOLD = ("entrance", "sheer", "beam_deg", "hours_run")
"""What somebody says of a thing that stands as it stood: true of it before as well."""


class Difference(NamedTuple):
    """What sets two states of an enclosure apart."""

    size: bool
    """Another enclosure."""
    sides: tuple[str, ...]
    """Of `SIDES`, those that are made anew."""
    ground: bool
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
    gone: tuple[Thing, ...]
    come: tuple[Thing, ...]
    moved: tuple[Thing, ...]
    fitted: tuple[Thing, ...]
    """To which a thermostat, a heater, a filter or moss was fitted, or from which it was taken."""

    @property
    def any(self) -> bool:
        """Whether they differ at all."""
        return any(self)

    @property
    def handled(self) -> tuple[Thing, ...]:
        """Every thing that a hand touches."""
        return (*self.gone, *self.come, *self.moved, *self.fitted)


def difference(old: Earlier, request: Request) -> Difference:
    """What sets an earlier state of an enclosure apart from the one that is asked for."""
    was, box = old.box, request.box
    before, after = ({thing.id: thing for thing in listed} for listed in (old.things, request.things))
    gone = [thing for thing in old.things if thing.id not in after]
    come = [thing for thing in request.things if thing.id not in before]
    moved, fitted = list[Thing](), list[Thing]()
    settings = _times(was.wetting) != _times(box.wetting)
    for thing_id in before.keys() & after.keys():
        one, other = before[thing_id], after[thing_id]
        if is_another(one, other):
            gone.append(one)
            come.append(other)
            continue
        if math.dist(one.at_m, other.at_m) > MOVED_M or one.above_lid != other.above_lid:
            moved.append(other)
        if any(getattr(one, name) != getattr(other, name) for name in FITTED) or (one.thermostat is None) != (
            other.thermostat is None
        ):
            fitted.append(other)
        elif any(getattr(one, name) != getattr(other, name) for name in SETTINGS):
            settings = True
    topped = _is_topped(was.ground, box.ground)
    ground = not same_bed(was.ground, box.ground) and not topped
    kept = was.wetting.ground if was.wetting else None, box.wetting.ground if box.wetting else None
    return Difference(
        size=was.inside_m != box.inside_m,
        sides=tuple(side for side in SIDES if _side(was, side) != _side(box, side)),
        ground=ground,
        topped=topped,
        dampness=not ground
        and kept[0] != kept[1]
        and kept[1] is not None
        and (kept[0] is not None or kept[1] in {"damp", "wet"}),
        crew=box.ground.crew and not was.ground.crew,
        mister=bool(_mister(box.wetting) - _mister(was.wetting)),
        settings=settings,
        gone=_sorted(gone),
        come=_sorted(come),
        moved=_sorted(moved),
        fitted=_sorted(fitted),
    )


def _sorted(things: list[Thing]) -> tuple[Thing, ...]:
    return tuple(sorted(things, key=lambda thing: thing.id))


def is_another(one: Thing, other: Thing) -> bool:
    """Another thing in its stead: of another make, or a lamp that has burned fewer hours than the one before."""
    put_aside = dict.fromkeys((*SETTINGS, *FITTED, *TOLD, "at_m", "above_lid"))
    bare: dict[str, Any] = {name: getattr(other, name) for name in put_aside}
    if one.model_copy(update=bare) != other:
        return True
    if one.beam_deg is not None and other.beam_deg is not None and one.beam_deg != other.beam_deg:
        return True
    return one.hours_run is not None and other.hours_run is not None and other.hours_run < one.hours_run


def same_thing(one: Thing, other: Thing) -> bool:
    """The same thing, set and placed as it was, whatever somebody has said of it since."""
    return not is_another(one, other) and one.model_copy(update={name: getattr(other, name) for name in TOLD}) == other


def same_wetting(one: Wetting | None, other: Wetting | None) -> bool:
    """Kept as damp and misted as before; what a log told of it, or what nozzles were measured to give, is no change."""
    if one is None or other is None:
        return one is other
    return _times(one) == _times(other) and _mister(one) == _mister(other) and one.ground == other.ground


def as_made(box: BoxSpec) -> BoxSpec:
    """An enclosure without what moves no warmth: its approaches, its water, what its mesh was measured to pass."""
    bare: dict[str, Any] = {"wetting": None, "schools": {}, "lid": box.lid.model_copy(update={"mesh_passes": None})}
    return box.model_copy(update=bare)


def _side(box: BoxSpec, side: str) -> object:
    if side == "lid":
        return _lid(box.lid)
    return box.vents if side == "vents" else getattr(box.panels, side)


def _lid(lid: Lid) -> object:
    return lid.material, lid.mesh, lid.mesh_share


def same_bed(one: Ground, other: Ground) -> bool:
    """The same substrate; layers that somebody only now described lay there before as well."""
    described = not (one.layers and other.layers) or one.layers == other.layers
    return described and (one.material, one.depth_m, one.slope) == (other.material, other.depth_m, other.slope)


def _is_topped(one: Ground, other: Ground) -> bool:
    """Deeper, of the same materials in the same order."""
    if (one.material, one.slope) != (other.material, other.slope) or other.depth_m <= one.depth_m:
        return False
    if not (one.layers and other.layers):
        return True
    alike = len(one.layers) == len(other.layers)
    return alike and all(a.parts == b.parts and b.depth_m >= a.depth_m for a, b in zip(one.layers, other.layers, strict=True))


def same_box(one: BoxSpec, other: BoxSpec) -> bool:
    """Made and filled as it was, as far as that moves warmth."""
    bare: dict[str, Any] = {"ground": Ground()}
    return same_bed(one.ground, other.ground) and as_made(one).model_copy(update=bare) == as_made(other).model_copy(update=bare)


def _times(wetting: Wetting | None) -> object:
    return (wetting.mistings, wetting.fogger) if wetting is not None else ((), None)


def _mister(wetting: Wetting | None) -> set[str]:
    if wetting is None:
        return set()
    return {name for name in ("nozzles_ml_s", "fogger") if getattr(wetting, name) is not None}
