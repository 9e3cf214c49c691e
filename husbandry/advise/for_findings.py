"""What to do about a finding: a hide put in, stones set on supports, more substrate, a thermostat.

Each proposal is a patch of the request. Whether it clears its finding, and does no harm, is
decided by planning it again (`plan.finding_changes`); what is proposed here has been tried against
the rules of furniture already. Method: docs/methods/judging.md.
"""

import math
from collections.abc import Callable, Iterator, Sequence
from dataclasses import replace
from typing import Any

from husbandry.advise import lamps_and_timers
from husbandry.advise.context import Patch, Values, added_patch, gone_patch, item_patch
from husbandry.advise.finding_context import FindingContext, FindingProposal
from husbandry.advise.furniture import PLANT_M, dish_size, dripper_over_leaves, grip_m, hide_size
from husbandry.documents.request import Request
from husbandry.documents.request_json import apply_patch, from_data, to_data
from husbandry.documents.result import ChangeKind
from husbandry.enclosure.equipment import MATERIALS
from husbandry.enclosure.plants import PLANTS
from husbandry.errors import DocumentError
from husbandry.findings.dig_boxes import box_sides_m
from husbandry.findings.drinking import NO_DROPS
from husbandry.findings.furnishing import open_stretch, step_m, whole_furnishing
from husbandry.findings.heat_sources import DARK_BASKING
from husbandry.findings.pets import MESH_TOP, OPEN_TOP, new_screen
from husbandry.findings.planting import bites_plastic
from husbandry.findings.substrate_findings import depth_needed_m, rescaled, with_bed
from husbandry.findings.weight import layers_of
from husbandry.items.containers import FILLED, DigBox
from husbandry.items.dividers import Divider
from husbandry.items.drippers import NEW_DRIP_L_H
from husbandry.items.furnishings import Branch, Hide, PlantedItem, Slab
from husbandry.items.union import Item, read_item

PLACES_TRIED = 60
"""Places on the floor at which a new item is tried (design choice)."""
MOVED_FIRST = ("hide", "dish", "plant", "pool", "slab")
"""What is moved out of a bad place, in that order (design choice)."""
SHIFTS_M = (0.01, -0.01, 0.02, -0.02, 0.03, -0.03, 0.05, -0.05)
"""By which something is moved along and across (design choice) [m]."""
DISH_PLACES = 3
"""Places away from lamps at which a dish is tried (design choice)."""
SUBSTRATE_STEP_M = 0.01
"""To which a depth is rounded up (design choice) [m]."""
SIDES_COVERED = ("back", "left", "right")
"""In the order in which sides are covered from outside (common practice)."""
LET_IN = frozenset({"dig_box"})
"""Kinds that are let into the substrate, as far as it goes."""
BOX_M = 0.3
"""Length of the smallest dig box that is offered (common practice) [m]."""


EATEN = ("tussock", "spider_plant")
"""Plants that a tortoise may eat, and that stand its weight (common practice)."""
Proposer = Callable[[FindingContext], Iterator[FindingProposal]]


def proposals(context: FindingContext, slug: str) -> Iterator[FindingProposal]:
    """What may be done about a finding, the simplest first."""
    proposer = _PROPOSERS.get(slug)
    if proposer is not None:
        yield from proposer(context)


def has_proposals(slug: str) -> bool:
    """Whether anything is ever proposed about such a finding."""
    return slug in _PROPOSERS


# --- places -------------------------------------------------------------------------------------


def _put_in(
    context: FindingContext,
    slug: str,
    kind: ChangeKind,
    body: dict[str, Any],
    share: float,
    rule: str,
) -> Iterator[FindingProposal]:
    """A body on the floor, as near as may be to a share of the length, where it clears the finding
    and brings no other.
    """
    for x, y in _floor_places(context, body["size_m"], share):
        floor = _floor_m(context, x, y)
        base = max(floor - body["size_m"][2], 0.0) if body["kind"] in LET_IN else floor
        item = read_item({**body, "at_m": [x, y, round(base, 4)]})
        found = _tried(context, slug, added_patch(item))
        if found is not None:
            sides = dict(zip(("length_m", "depth_m", "height_m"), body["size_m"], strict=True))
            values: Values = {**sides, "x_m": x, **({"moist": 1.0} if body.get("moist") else {})}
            yield FindingProposal(kind, item, values, "buy", found, rule)
            return


def _floor_m(context: FindingContext, x_m: float, y_m: float) -> float:
    inside = context.request.enclosure.inside_m
    substrate = context.request.enclosure.substrate
    return round(substrate.depth_at(x_m / inside.length, y_m / inside.depth), 4)


def _floor_places(
    context: FindingContext, size_m: Sequence[float], share: float
) -> list[tuple[float, float]]:
    """Free places on the floor, the nearest to a share of the length first: by the back wall, by
    the front, and between.
    """
    inside = context.request.enclosure.inside_m
    half_x = size_m[0] / 2
    half_y = size_m[1] / 2
    wanted = context.from_warm(share) * inside.length
    rows = (inside.depth - half_y, half_y, inside.depth / 2)
    columns = [half_x + n * (inside.length - 2 * half_x) / 24 for n in range(25)]
    found = [
        (round(x, 3), round(y, 3))
        for x in sorted(columns, key=lambda x: abs(x - wanted))
        for y in rows
        if _is_free(context.request, x, y, size_m)
    ]

    return found[:PLACES_TRIED]


def _is_free(request: Request, x_m: float, y_m: float, size_m: Sequence[float]) -> bool:
    """Whether no other body stands there, and nothing hangs into it."""
    for other in request.items:
        if other.is_body and other.sides_m is not None and other.kind != "plant":
            apart_x = abs(other.at_m[0] - x_m) - (other.sides_m[0] + size_m[0]) / 2
            apart_y = abs(other.at_m[1] - y_m) - (other.sides_m[1] + size_m[1]) / 2
            over = other.at_m[2] > request.enclosure.substrate.deepest_m + size_m[2]
            if apart_x < 0 and apart_y < 0 and not over:
                return False
    return True


def _tried(context: FindingContext, slug: str, patch: Patch) -> Patch | None:
    """The patch, where by the rules of furniture it clears the finding and brings no other."""
    try:
        other = apply_patch(context.request, patch)
    except DocumentError:
        return None
    before = _slugs(context, context.request)
    after = _slugs(context, other)
    return patch if slug not in after and after <= before else None


def _slugs(context: FindingContext, request: Request) -> frozenset[str]:
    found = whole_furnishing(request, context.animals, context.prediction.warm_left)
    return frozenset(f"furniture {one.slug}" for one in found)


# --- what stands in the wrong place ---------------------------------------------------------------


def _closed_gap(context: FindingContext) -> Iterator[FindingProposal]:
    """What stands beside a gap that holds a body, moved a little: the gap is closed, or wide enough."""
    found = whole_furnishing(context.request, context.animals, context.prediction.warm_left)
    beside = {one.item_id for one in found if one.slug == "gap"}
    movable = [item for item in context.request.items if item.kind in MOVED_FIRST and item.sides_m]
    movable.sort(key=lambda item: (item.id not in beside, MOVED_FIRST.index(item.kind)))
    for item in movable:
        for way in SHIFTS_M:
            for dx, dy in ((way, 0.0), (0.0, way)):
                at = (round(item.at_m[0] + dx, 4), round(item.at_m[1] + dy, 4), item.at_m[2])
                moved = item.model_copy(update={"at_m": at})
                patch = _tried(context, "furniture gap", item_patch(context.request, moved))
                if patch is not None:
                    rule = "The nearest place in whole centimetres where no gap holds its body."
                    yield _as_moved(item, at, patch, rule)
                    return


def _cool_dish(context: FindingContext) -> Iterator[FindingProposal]:
    """A dish that stands under a lamp, in the free places that are furthest from any."""
    lamps = [item.at_m for item in context.request.items if item.is_heater and item.is_hung]
    dishes = [item for item in context.request.items if item.kind == "dish" and item.sides_m]
    if not lamps or not dishes:
        return
    dish = min(dishes, key=lambda one: min(math.dist(one.at_m[:2], at[:2]) for at in lamps))
    bare = context.request.model_copy(
        update={"items": tuple(one for one in context.request.items if one.id != dish.id)}
    )
    around = replace(context, request=bare)
    places = _floor_places(around, dish.sides_m, 0.5)
    places.sort(key=lambda place: -min(math.dist(place, at[:2]) for at in lamps))
    for x, y in places[:DISH_PLACES]:
        at = (x, y, _floor_m(context, x, y))
        patch = item_patch(context.request, dish.model_copy(update={"at_m": at}))
        yield _as_moved(dish, at, patch, "The free place that is furthest from any lamp.")


def _as_moved(
    item: Item, at_m: tuple[float, float, float], patch: Patch, rule: str
) -> FindingProposal:
    """Something that is to stand elsewhere."""
    values: Values = {"to_x_m": at_m[0], "to_y_m": at_m[1]}
    return FindingProposal("move_item", item, values, "move", patch, rule)


# --- hides --------------------------------------------------------------------------------------


def _hide(context: FindingContext, slug: str, place: str) -> Iterator[FindingProposal]:
    size = hide_size(context.profile, context.length_m, context.inside, context.substrate_m)
    body = {
        "id": context.free_id("hide"),
        "kind": "hide",
        "size_m": [round(side, 3) for side in size],
        "moist": place == "moist",
    }
    share = {"warm": 0.35, "moist": 0.6, "cool": 0.85}[place]
    rule = "A hide that its whole body fills, where its species needs one, clear of what stands there."
    yield from _put_in(context, slug, "hide_add", body, share, rule)


def _missing_hides(context: FindingContext) -> Iterator[FindingProposal]:
    """All hides of those that it wants at the same time which are not there."""
    changed = context
    patch: Patch = ()
    first: FindingProposal | None = None
    while len(_hides_in(changed.request)) < len(changed.profile.hides.places):
        new = next(_hide(changed, "hides", _missing_place(changed)), None)
        if new is None:
            return
        first = first or new
        patch = patch + new.patch
        changed = replace(changed, request=apply_patch(changed.request, new.patch))
    if first is not None:
        count = len(_hides_in(changed.request)) - len(_hides_in(context.request))
        moist = sum(hide.moist for hide in _hides_in(changed.request))
        values = {**first.values, "count": count, "moist": float(moist)}
        yield replace(first, patch=patch, values=values)


def _hides_in(request: Request) -> list[Hide]:
    return [item for item in request.items if isinstance(item, Hide)]


def _missing_place(context: FindingContext) -> str:
    hides = _hides_in(context.request)
    places = context.profile.hides.places
    cool = [context.from_warm(hide.at_m[0] / context.inside["length"]) > 0.5 for hide in hides]
    if "moist" in places and not any(hide.moist for hide in hides):
        return "moist"
    if "warm" in places and False not in cool:
        return "warm"
    return "cool"


def _moist_hide(context: FindingContext) -> Iterator[FindingProposal]:
    """Moss into a hide that can be spared, else one more hide."""
    hides = _hides_in(context.request)
    if len(hides) >= len(context.profile.hides.places):
        middle = context.inside["length"] / 2
        one = min(hides, key=lambda hide: abs(hide.at_m[0] - middle))
        patch = item_patch(context.request, one.model_copy(update={"moist": True}))
        rule = "The hide nearest the middle holds wet moss: neither the warmest nor the coolest dries."
        yield FindingProposal("hide_moist", one, {"x_m": one.at_m[0]}, "own", patch, rule)
    else:
        yield from _hide(context, "furniture no moist hide", "moist")


def _larger_hide(context: FindingContext) -> Iterator[FindingProposal]:
    """A hide that it fits into in the place of one that is too small."""
    size = hide_size(context.profile, context.length_m, context.inside, context.substrate_m)
    rule = "A hide that its whole body fills, in the place of the small one."
    for hide in _hides_in(context.request):
        if not _is_smaller(hide, size):
            continue
        changed = _resized(context.request, hide, size)
        patch = item_patch(context.request, changed)
        clears = _tried(context, "furniture hide small", patch)
        if clears is None:
            continue
        values: Values = {"length_m": size[0], "depth_m": size[1]}
        yield FindingProposal("hide_larger", hide, values, "buy", clears, rule)


def _is_smaller(hide: Hide, size_m: Sequence[float]) -> bool:
    """Whether its longer or its shorter side is less than that."""
    have = sorted(hide.size_m[:2])
    wanted = sorted(size_m[:2])
    return have[0] < wanted[0] or have[1] < wanted[1]


def _resized(request: Request, hide: Hide, size_m: Sequence[float]) -> Hide:
    """Of another size in its place, as near as the sides allow."""
    inside = request.enclosure.inside_m
    long, deep, high = size_m
    x, y, z = hide.at_m
    x = min(max(x, long / 2), inside.length - long / 2)
    y = min(max(y, deep / 2), inside.depth - deep / 2)
    place = (round(x, 3), round(y, 3), z)
    size = (round(long, 3), round(deep, 3), round(high, 3))
    return hide.model_copy(update={"size_m": size, "at_m": place})


# --- water, branches, leaves --------------------------------------------------------------------


def _dish(context: FindingContext, slug: str) -> Iterator[FindingProposal]:
    size = dish_size(context.profile, context.length_m, context.inside, context.substrate_m)
    body = {
        "id": context.free_id("dish"),
        "kind": "dish",
        "size_m": [round(side, 3) for side in size],
    }
    rule = "A dish it lies in or drinks from, no deeper than its back stands high, away from the lamps."
    yield from _put_in(context, slug, "dish_add", body, 0.72, rule)


def _branch(context: FindingContext) -> Iterator[FindingProposal]:
    """A branch where its species sits, of a thickness that its foot closes on."""
    inside = context.request.enclosure.inside_m
    perch = context.prediction.position.perch
    branches = [item for item in context.request.items if isinstance(item, Branch)]
    thick = round(grip_m(context.profile, context.length_m), 3)
    z = perch.z_m - thick if perch is not None else context.substrate_m
    if branches:
        z = min(branch.at_m[2] for branch in branches)
    rows = [share * inside.depth for share in (0.5, 0.35, 0.65, 0.25, 0.75)]
    for y in rows:
        item = read_item(
            {
                "id": context.free_id("branch"),
                "kind": "branch",
                "at_m": [round(inside.length / 2, 3), round(y, 3), round(max(z, 0.0), 3)],
                "size_m": [round(0.7 * inside.length, 3), thick, thick],
            }
        )
        slug = "furniture grip" if branches else "no branch"
        patch = _tried(context, slug, added_patch(item)) or _with_leaves(context, item)
        if patch is not None:
            values: Values = {"thick_m": thick, "z_m": item.at_m[2]}
            if len(patch) > 1:
                values["leaves"] = 1.0
            rule = "A branch across the enclosure at the height at which its species sits."
            yield FindingProposal("branch_add", item, values, "buy", patch, rule)


def _with_leaves(context: FindingContext, branch: Item) -> Patch | None:
    """A branch with leaves beside it, for what lives among leaves; None where that does not go."""
    patch = added_patch(branch)
    try:
        changed = replace(context, request=apply_patch(context.request, patch))
    except DocumentError:
        return None
    leaves = next(_leaves(changed), None)
    if leaves is None:
        return None
    both = patch + leaves.patch
    after = _slugs(context, apply_patch(context.request, both))

    return both if after <= _slugs(context, context.request) else None


def _leaves(context: FindingContext) -> Iterator[FindingProposal]:
    """Leaves beside the branch that has none; not alive, so that no light is asked of it."""
    branches = [item for item in context.request.items if isinstance(item, Branch)]
    high = max((branch.at_m[2] for branch in branches), default=0.2)
    body = _plant(context, max(high - context.substrate_m - 0.02, 0.05))
    rule = "Leaves within reach of what sits on the branch, to vanish behind."
    yield from _put_in(context, "furniture no leaves", "plant_add", body, 0.75, rule)


def _cover(context: FindingContext) -> Iterator[FindingProposal]:
    """Something to walk along on the longest open stretch: leaves, or a further hide for what would eat
    plastic ones.
    """
    if bites_plastic(context.profile):
        sides = hide_size(context.profile, context.length_m, context.inside, context.substrate_m)
        size = [round(side, 3) for side in sides]
        body = {"id": context.free_id("hide"), "kind": "hide", "size_m": size}
        rule = "Cover where the open stretch is longest: it bites plastic leaves, so a hide."
        yield from _along(context, "hide_add", body, rule)
        return
    high = min(0.22, 0.5 * (context.inside["height"] - context.substrate_m))
    rule = "Cover where the open stretch is longest, so that it need not be crossed in the open."
    yield from _along(context, "plant_add", _plant(context, high), rule)


def _along(
    context: FindingContext, kind: ChangeKind, body: dict[str, Any], rule: str
) -> Iterator[FindingProposal]:
    """As many of a body as divide the longest open stretch into short ones, evenly along it."""
    slug = "furniture open stretch"
    begin, end, most = open_stretch(context.request, context.length_m)
    wide = body["size_m"][0]
    least = math.ceil((end - begin - most) / (most + wide))
    if least <= 1:
        for share in (
            context.from_warm((begin + end) / 2 / context.inside["length"]),
            0.5,
            0.3,
            0.7,
        ):
            yield from _put_in(context, slug, kind, body, share, rule)
        return
    for count in (least, least + 1):
        step = (end - begin - count * wide) / (count + 1) + wide
        places = [begin - wide / 2 + n * step for n in range(1, count + 1)]
        items = _on_the_floor(context, body, places)
        patch = tuple(one for item in items for one in added_patch(item))
        if len(items) == count and _tried(context, slug, patch) is not None:
            sides = dict(zip(("length_m", "depth_m", "height_m"), body["size_m"], strict=True))
            values: Values = {**sides, "x_m": items[0].at_m[0], "count": float(count)}
            yield FindingProposal(kind, items[0], values, "buy", patch, rule)
            return


def _on_the_floor(
    context: FindingContext, body: dict[str, Any], places_x_m: Sequence[float]
) -> list[Item]:
    """A body at each place along the enclosure, or where it is free nearest to that."""
    changed = context
    found: list[Item] = []
    for x_m in places_x_m:
        share = context.from_warm(x_m / context.inside["length"])
        free = _floor_places(changed, body["size_m"], share)
        if not free:
            break
        x, y = free[0]
        name = changed.free_id(str(body["kind"]))
        item = read_item({**body, "id": name, "at_m": [x, y, _floor_m(context, x, y)]})
        found.append(item)
        changed = replace(changed, request=apply_patch(changed.request, added_patch(item)))
    return found


def _plant(context: FindingContext, high_m: float) -> dict[str, Any]:
    wide = round(min(PLANT_M, 0.28 * context.inside["length"], 0.35 * context.inside["depth"]), 3)
    return {
        "id": context.free_id("plant"),
        "kind": "plant",
        "size_m": [wide, wide, round(high_m, 3)],
        "plant": "artificial",
    }


# --- stones, substrate, sides -------------------------------------------------------------------


def _supports(context: FindingContext) -> Iterator[FindingProposal]:
    """Every stone that a digger can undermine, on supports from the floor."""
    patch: Patch = ()
    stones = [
        item
        for item in context.request.items
        if isinstance(item, Slab) and item.material != "softwood" and not item.supported
    ]
    for stone in stones:
        patch += item_patch(context.request, stone.model_copy(update={"supported": True}))
    if stones:
        rule = "Bricks or legs from the floor carry each stone, set before the substrate goes in."
        yield FindingProposal("supports", stones[0], {"count": len(stones)}, "own", patch, rule)


def _sunk(context: FindingContext) -> Iterator[FindingProposal]:
    """Each stone whose edge tips a tortoise over, let into the substrate."""
    substrate, most = context.substrate_m, step_m(context.length_m)
    patch: Patch = ()
    sunk: list[Slab] = []
    for item in context.request.items:
        if not isinstance(item, Slab) or not most < item.top_m - substrate <= context.length_m:
            continue
        z = round(substrate + most - item.size_m[2], 3)
        if z >= 0:
            place = {"at_m": (*item.at_m[:2], z), "supported": True}
            patch += item_patch(context.request, item.model_copy(update=place))
            sunk.append(item)
    if sunk:
        rule = "On supports from the floor, its edge no higher than a third of the shell."
        values: Values = {"to_m": most, "count": len(sunk)}
        yield FindingProposal("stone_sink", sunk[0], values, "own", patch, rule)


def _live_plant(context: FindingContext) -> Iterator[FindingProposal]:
    """A live plant that may be eaten in the place of a plastic one."""
    for item in context.request.items:
        if not isinstance(item, PlantedItem) or item.plant != "artificial":
            continue
        for name in EATEN:
            live = item_patch(context.request, item.model_copy(update={"plant": name}))
            found = _tried(context, "furniture plant plastic", live)
            if found is not None:
                rule = (
                    "A plant without poison, from untreated soil: what is bitten off does no harm."
                )
                values: Values = {"plant": PLANTS[name].label, "count": 1}
                yield FindingProposal("plant_swap", item, values, "buy", found, rule)
        gone = _tried(context, "furniture plant plastic", gone_patch(context.request, item))
        if gone is not None:
            rule = "What is bitten off and swallowed does harm: out with it."
            yield FindingProposal("plant_out", item, {"count": 1}, "own", gone, rule)
        return


def _deeper(context: FindingContext, slug: str, needed_m: float) -> Iterator[FindingProposal]:
    """As much substrate of the same kind as is asked for; what stands on it rises with it."""
    request = context.request
    substrate = request.enclosure.substrate
    depth = -(-needed_m // SUBSTRATE_STEP_M) * SUBSTRATE_STEP_M
    more = depth - substrate.depth_m
    if more <= 0 or not request.items:
        return
    for lifted in (False, True):
        try:
            other = _with_depth(request, depth, lifted=lifted)
        except DocumentError:
            continue
        patch = _patch_between(request, other)
        values: Values = {"to_m": depth, "more_m": more}
        if lifted:
            values["lifted_m"] = more
        rule = "The depth that its species digs in at this stage; what stands on it rises with it."
        yield FindingProposal("substrate_depth", request.items[0], values, "buy", patch, rule)


def _with_depth(request: Request, depth_m: float, *, lifted: bool) -> Request:
    """The enclosure with so much substrate of the same kind; with its lamps as far over it as they
    are now, where that is asked for. Raises `DocumentError` where it does not fit.
    """
    substrate = request.enclosure.substrate
    layers = layers_of(request)
    more = depth_m - substrate.depth_m
    if layers:
        data = to_data(with_bed(request, rescaled(layers, depth_m), crew=substrate.crew))
    else:
        data = to_data(request)
        data["enclosure"]["substrate"]["depth_m"] = round(depth_m, 4)
        for entry, item in zip(data["items"], request.items, strict=True):
            if item.is_body or item.is_probe:
                entry["at_m"][2] = round(entry["at_m"][2] + more, 4)
    if lifted:
        for entry, item in zip(data["items"], request.items, strict=True):
            if not item.is_body and not item.is_probe and item.kind != "heat_mat":
                entry["at_m"][2] = round(entry["at_m"][2] + more, 4)

    return from_data(data)


def _patch_between(request: Request, other: Request) -> Patch:
    """JSON Patch for another substrate: the new one, and the height of each item that moved."""
    before = to_data(request)
    after = to_data(other)
    found: list[dict[str, Any]] = [
        {"op": "add", "path": "/enclosure/substrate", "value": after["enclosure"]["substrate"]}
    ]
    for n, (one, two) in enumerate(zip(before["items"], after["items"], strict=True)):
        if one["at_m"][2] != two["at_m"][2]:
            found.append({"op": "replace", "path": f"/items/{n}/at_m/2", "value": two["at_m"][2]})

    return tuple(found)


def _covered(context: FindingContext) -> Iterator[FindingProposal]:
    """As few sides as it takes, covered from outside, the back first."""
    enclosure = context.request.enclosure
    covered = list(enclosure.covered)
    new = [
        side
        for side in SIDES_COVERED
        if side not in covered and MATERIALS[getattr(enclosure.panels, side)].passes_light
    ]
    for count in range(1, len(new) + 1):
        sides = [*covered, *new[:count]]
        patch = _tried(
            context,
            "furniture clear sides",
            ({"op": "add", "path": "/enclosure/covered", "value": sides},),
        )
        if patch is not None and context.request.items:
            values: Values = {"count": count, "sides": ", ".join(new[:count])}
            rule = "The fewest sides that it bears to see through, the back first."
            item = context.request.items[0]
            yield FindingProposal("cover_sides", item, values, "own", patch, rule)
            return


def _lay(context: FindingContext) -> Iterator[FindingProposal]:
    """What a grown female buries her eggs in."""
    young = context.profile.young
    if young.lay_depth_m is None:
        return
    if young.lay_in == "substrate":
        yield from _deeper(context, "laying", young.lay_depth_m.ends[0])
        yield from _dig_box(context, "laying", young.lay_depth_m.ends[0])
    else:
        yield from _hide(context, "laying", "moist")


def _dig_box(context: FindingContext, slug: str, depth_m: float) -> Iterator[FindingProposal]:
    """A box of damp substrate, as deep as its species digs and long enough to turn in."""
    inside = context.inside
    room = inside["height"] - context.substrate_m
    filled = -(-depth_m // SUBSTRATE_STEP_M) * SUBSTRATE_STEP_M
    high = filled / FILLED
    long, deep = box_sides_m(context.profile, context.length_m)
    long = max(long, BOX_M)
    deep = max(deep, 0.7 * BOX_M)
    if high > 0.6 * room or long > 0.5 * inside["length"] or deep > 0.6 * inside["depth"]:
        return
    body = {
        "id": context.free_id("box"),
        "kind": "dig_box",
        "size_m": [round(long, 3), round(deep, 3), round(high, 3)],
        "filled_m": round(filled, 3),
    }
    rule = "A box of damp substrate at the cool end, as deep as it digs, with a ramp to its rim."
    yield from _put_in(context, slug, "dig_box_add", body, 0.75, rule)


def _moist_box(context: FindingContext) -> Iterator[FindingProposal]:
    """Water into the dig box whose substrate is dry."""
    for item in context.request.items:
        if isinstance(item, DigBox) and not item.moist:
            patch = item_patch(context.request, item.model_copy(update={"moist": True}))
            rule = "Its substrate is dampened until it holds its shape in the hand."
            yield FindingProposal(
                "moist_box", item, {"filled_m": item.filled_m}, "own", patch, rule
            )


def _dripper(context: FindingContext) -> Iterator[FindingProposal]:
    """A dripper over the leaves that stand highest, else over the middle."""
    item = dripper_over_leaves(context.request)
    rule = "Drops onto leaves for two hours of the morning, caught in a dish below."
    patch = added_patch(item)
    yield FindingProposal("dripper_add", item, {"l_per_h": NEW_DRIP_L_H}, "buy", patch, rule)


def _full_board(context: FindingContext) -> Iterator[FindingProposal]:
    """A board across the whole enclosure in the place of a divider."""
    inside = context.request.enclosure.inside_m
    for item in context.request.items:
        if not isinstance(item, Divider) or item.is_passable:
            continue
        place = (item.at_m[0], inside.depth / 2, 0.0)
        sides = (max(item.size_m[0], Divider.usual_m[0]), inside.depth, inside.height)
        board = item.model_copy(update={"form": "board", "at_m": place, "size_m": sides})
        rule = "A board from front to back, from the floor to the lid: nothing is seen or bitten."
        patch = item_patch(context.request, board)
        values: Values = {"x_m": place[0], "depth_m": sides[1], "height_m": sides[2]}
        yield FindingProposal("divider_board", item, values, "buy", patch, rule)


def _screen(context: FindingContext) -> Iterator[FindingProposal]:
    """A guard screen over the top, where cats or dogs come in."""
    inside = context.request.enclosure.inside_m
    item = new_screen(context.request)
    values: Values = {"length_m": inside.length, "depth_m": inside.depth}
    rule = "Welded wire over the whole top, fixed to it: neither paw nor jaw reaches in."
    yield FindingProposal("screen_add", item, values, "buy", added_patch(item), rule)


def _bed(context: FindingContext) -> Iterator[FindingProposal]:
    needed = depth_needed_m(context.request, context.animals)
    yield from _deeper(context, "furniture substrate shallow", needed)
    if context.profile.habit != "fossorial":
        yield from _dig_box(context, "furniture substrate shallow", needed)


_PROPOSERS: dict[str, Proposer] = {
    "thermostat failed on": lamps_and_timers.cut_outs,
    "no thermostat": lamps_and_timers.thermostats,
    "light at night": lamps_and_timers.timers,
    "length of day": lamps_and_timers.timers,
    "uv hours short": lamps_and_timers.uv_timers,
    "uv session long": lamps_and_timers.uv_timers,
    "uv session short": lamps_and_timers.uv_timers,
    "old lamp": lamps_and_timers.renewed,
    "hides": _missing_hides,
    "furniture no warm hide": lambda c: _hide(c, "furniture no warm hide", "warm"),
    "furniture no cool hide": lambda c: _hide(c, "furniture no cool hide", "cool"),
    "furniture few hides": lambda c: _hide(c, "furniture few hides", "cool"),
    "furniture no moist hide": _moist_hide,
    "furniture hide small": _larger_hide,
    "laying": _lay,
    "furniture box dry": _moist_box,
    NO_DROPS: _dripper,
    OPEN_TOP: _screen,
    MESH_TOP: _screen,
    "divider seen through": _full_board,
    "divider mesh": _full_board,
    "no dish": lambda c: _dish(c, "no dish"),
    "furniture few dishes": lambda c: _dish(c, "furniture few dishes"),
    "furniture gap": _closed_gap,
    "furniture dish hot": _cool_dish,
    "no branch": _branch,
    "furniture grip": _branch,
    "furniture no leaves": _leaves,
    "furniture open stretch": _cover,
    "furniture undermined": _supports,
    "furniture flip": _sunk,
    "furniture plant plastic": _live_plant,
    "furniture substrate shallow": _bed,
    "furniture clear sides": _covered,
    "dim basking": lamps_and_timers.light_bar,
    DARK_BASKING: lamps_and_timers.sun_lamp,
}
