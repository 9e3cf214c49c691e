"""Heat where no lamp or emitter hangs safely: flat panels under the lid and mats under the
substrate.

Each is held by a thermostat. What would bring a hazard is skipped here, so that the next gentler
heater is tried; `ranking` refuses it again when it is planned in full.
"""

from collections.abc import Callable, Iterable, Iterator
from dataclasses import replace
from typing import Any

from husbandry.advise.context import HEADROOM_M, ChangeContext
from husbandry.documents.enclosure import InsideMeasures
from husbandry.documents.request import Request
from husbandry.enclosure.equipment import HEATERS
from husbandry.findings.hazards import hazards, within_reach
from husbandry.items.heaters import HeatMat
from husbandry.items.union import Item, read_item
from husbandry.predict.predict import Prediction, restanced
from husbandry.species.needs import NeedKey

PANEL_M = 0.30
"""Side of a flat panel, and the height over the substrate that one needs (common practice) [m]."""
PANELS_MOST = 2
"""Only the weakest are tried: stronger ones are for enclosures that lamps fit into (design
choice).
"""
MATS_M: dict[float, tuple[float, float]] = {
    4.0: (0.20, 0.15),
    7.0: (0.28, 0.15),
    14.0: (0.28, 0.28),
    20.0: (0.42, 0.28),
    28.0: (0.53, 0.28),
    45.0: (0.65, 0.28),
}
"""Sizes in which mats of each power [W] are sold (common practice, no source) [m]."""
MAT_SHARE_MOST = 0.5
"""Of the floor that a mat may lie under: the animal must be able to leave it (common practice) [1]."""

MAT_MOST_C = 36.0
"""What lies on a mat feels its heat late: none is set hotter (common practice) [°C]."""
ON_THE_SUBSTRATE = frozenset({"terrestrial", "fossorial", "saxicolous", "semi-arboreal"})


def brings_hazard(known: Prediction, item: Item) -> bool:
    """Tell whether an item, added as it is, would burn, melt or light something.

    A climber lives on its perch; what lives on the ground is taken to bask below what is added.
    """
    request = known.request
    had = {hazard.key for hazard in hazards(request)}
    added = request.model_copy(update={"items": (*request.items, item)})
    if any(hazard.key not in had for hazard in hazards(added)):
        return True
    position = restanced(added, known.position)
    back = replace(known.basking, x_m=item.at_m[0])
    if position.perch is not None:
        back = replace(position.perch, z_m=position.perch.z_m + position.back_m)
    return within_reach(item, back)


def first_that_reaches(
    known: Prediction,
    heaters: Iterable[Item],
    reached_c: Callable[[Request], float | None],
    low_c: float,
) -> Item | None:
    """Choose the first heater that is safe where it hangs and whose full power reaches a target
    range.

    Parameters
    ----------
    known : Prediction
        The enclosure without it.
    heaters : iterable of Item
        From the one that is preferred to the one that is tried last; thermostats are left out
        while its full power is looked at.
    reached_c : callable
        The temperature that a request reaches [°C].
    low_c : float
        The lower end of the target range [°C].
    """
    for heater in heaters:
        if brings_hazard(known, heater):
            continue
        request = known.request
        full = heater.model_copy(update={"thermostat": None})
        reached = reached_c(request.model_copy(update={"items": (*request.items, full)}))
        if reached is not None and reached >= low_c:
            return heater
    return None


def emitters(stem: dict[str, Any]) -> Iterator[Item]:
    """The powers of a ceramic emitter, the weakest first, hung and held as `stem` is."""
    for watts in HEATERS["ceramic_emitter"].watts:
        yield read_item({**stem, "kind": "ceramic_emitter", "power_w": watts})


def panels(context: ChangeContext, stem: dict[str, Any]) -> Iterator[Item]:
    """The weak flat panels, under the lid; none where they do not fit."""
    enclosure, substrate = (
        context.request.enclosure.inside_m,
        context.request.enclosure.substrate.depth_m,
    )
    if min(enclosure.length, enclosure.depth, enclosure.height - substrate) < PANEL_M:
        return
    margin = PANEL_M / 2
    x = min(max(stem["at_m"][0], margin), enclosure.length - margin)
    y = min(max(stem["at_m"][1], margin), enclosure.depth - margin)
    place = (round(x, 3), round(y, 3), round(enclosure.height - HEADROOM_M, 3))
    for watts in HEATERS["infrared_panel"].watts[:PANELS_MOST]:
        yield read_item({**stem, "kind": "infrared_panel", "at_m": place, "power_w": watts})


def mats(context: ChangeContext, stem: dict[str, Any]) -> Iterator[Item]:
    """Mats under the substrate at the end where `stem` hangs, the weakest first; on by thermostat
    alone.

    None for what climbs or swims, where one lies already, or hotter than a belly may lie on.
    """
    request = context.request
    held = stem.get("thermostat")
    habits = {request.profiles[animal.species].habit for animal in request.animals}
    there = any(isinstance(item, HeatMat) for item in request.items)
    if there or held is None or held["set_c"] > MAT_MOST_C or not habits <= ON_THE_SUBSTRATE:
        return
    enclosure = request.enclosure.inside_m
    for watts, size in MATS_M.items():
        fits = mat_sides(size, enclosure) is not None
        if fits and size[0] * size[1] <= MAT_SHARE_MOST * enclosure.length * enclosure.depth:
            laid = laid_mat(watts, enclosure, at_left=stem["at_m"][0] < enclosure.length / 2)
            yield read_item({**laid, "id": stem["id"], "thermostat": held})


def mat_sides(size: tuple[float, float], enclosure: InsideMeasures) -> tuple[float, float] | None:
    """Turn a mat so that it takes as little of the length as can be: the other end stays cool [m].

    Returns
    -------
    (float, float) or None
        Along the length and the depth; None where it is larger than the floor.
    """
    either_way = (size, (size[1], size[0]))
    return min(
        (s for s in either_way if s[0] <= enclosure.length and s[1] <= enclosure.depth),
        default=None,
    )


def laid_mat(watts: float, enclosure: InsideMeasures, *, at_left: bool) -> dict[str, Any]:
    """Lay a mat of the size that its power is sold in under the substrate at one end.

    Returns
    -------
    dict
        As an item of a request, without its id and thermostat.
    """
    sold = min(MATS_M, key=lambda power: abs(power - watts))
    long, deep = mat_sides(MATS_M[sold], enclosure) or (enclosure.length / 2, enclosure.depth)
    x = long / 2 if at_left else enclosure.length - long / 2
    return {
        "kind": "heat_mat",
        "at_m": [round(x, 3), round(enclosure.depth / 2, 3), 0.0],
        "size_m": [round(long, 3), round(deep, 3), 0.002],
        "power_w": watts,
    }


def gentle(context: ChangeContext, stem: dict[str, Any]) -> Iterator[Item]:
    """Every heater for the air, the usual one first: ceramic emitters, flat panels, mats.

    Where the surface is too cold as well a mat for it is offered, and one is enough.
    """
    yield from emitters(stem)
    yield from panels(context, stem)
    if context.wrong(NeedKey.SURFACE_DAY) >= 0:
        yield from mats(context, stem)


def lamp_place(prediction: Prediction) -> tuple[float, float, float]:
    """Where an emitter usually hangs: over the basking place, as far from it as the height allows."""
    point = prediction.basking
    top = prediction.request.enclosure.inside_m.height
    return point.x_m, point.y_m, min(max(point.z_m + 0.25, top - 0.12), top - HEADROOM_M)


def heater_stem(
    context: ChangeContext, name: str, at_m: Iterable[float], **more: Any
) -> dict[str, Any]:
    """What heaters for one purpose share: their id, place, times and thermostat."""
    place = [round(metres, 3) for metres in at_m]
    return {"id": context.free_id(name), "at_m": place, **more}
