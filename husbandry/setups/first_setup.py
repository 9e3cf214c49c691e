"""A first outfit for an empty enclosure: furniture by what the species needs, then heat and light
found by planning.

Nothing here is a rule of its own: places are usual ones, powers and heights come from the same
search as the changes of a plan.
"""

from dataclasses import dataclass
from typing import Any

from husbandry.advise.panels_and_mats import laid_mat
from husbandry.documents.enclosure import InsideMeasures
from husbandry.documents.request import Request
from husbandry.documents.request_json import apply_patch, from_data, to_data
from husbandry.documents.result import target_width
from husbandry.enclosure.equipment import UV_LAMPS
from husbandry.errors import DocumentError, ImpossibleStateError
from husbandry.plan.plan import plan, plan_summary
from husbandry.predict.pool_water import POOL_SHARE
from husbandry.species.needs import NeedKey
from husbandry.species.profile import Profile

_LIGHT, _HEAT = ("uv_add",), ("heat_add", "air_heat")
_REST = ("uv_height", "height", "power_and_height", "night_heat", "water_heater", "water_set")
ORDERS = ((_LIGHT, _HEAT, _REST), (_HEAT, _LIGHT, _REST))
"""Kinds of change that fit light and heat into an empty enclosure.

Which comes first matters, for a tube warms too: both are tried.
"""
SETUP_ROUNDS = 6
"""Times that a suggestion is bettered at the most (design choice)."""
WARM_END = 0.2
"""Where along the enclosure the warm end has its lamp and its stone (common practice) [1]."""


def _body(
    slug: str,
    kind: str,
    x: float,
    y: float,
    z: float,
    size: tuple[float, float, float],
    **more: Any,
) -> dict[str, Any]:
    place = [round(x, 3), round(y, 3), round(z, 3)]
    return {
        "id": slug,
        "kind": kind,
        "at_m": place,
        "size_m": [round(side, 3) for side in size],
        **more,
    }


def furniture(
    profile: Profile,
    length_m: float,
    enclosure: dict[str, float],
    substrate_m: float,
    *,
    stone: bool = True,
) -> list[dict[str, Any]]:
    """What lies and stands in the enclosure: a stone to bask on, the hides it needs, a dish, a
    branch for a climber.

    Parameters
    ----------
    length_m : float
        Of the body [m].
    enclosure : dict
        Inside length, depth and height [m].
    substrate_m : float
        Depth of the substrate [m].
    """
    return _furniture_beside(enclosure, length_m, profile, stone, substrate_m)


def _furniture_beside(
    enclosure: dict[str, float], length_m: float, profile: Profile, stone: bool, substrate_m: float
) -> list[dict[str, Any]]:
    """Place hides, dishes and branches beside the stone."""
    long, deep, high = enclosure["length"], enclosure["depth"], enclosure["height"]
    air = high - substrate_m
    items: list[dict[str, Any]] = []
    basks = any(need.need is NeedKey.SURFACE_DAY for need in profile.needs)
    if basks and stone:
        side = min(0.3 * long, max(0.14, 0.8 * length_m))
        items.append(
            _body(
                "stone-1",
                "slab",
                WARM_END * long,
                0.5 * deep,
                substrate_m,
                (side, min(side * 0.8, 0.7 * deep), 0.03),
            )
        )
    places = profile.hides.places
    wide = min(0.17 * long, max(0.08, 0.7 * length_m))
    hide = (wide, min(0.9 * wide, 0.4 * deep), min(max(0.05, 0.4 * wide), 0.3 * air))
    for n in range(len(places)):
        x = long * (0.48 + 0.42 * (n / max(len(places) - 1, 1)))
        items.append(
            _body(f"hide-{n + 1}", "hide", min(x, long - wide / 2), 0.7 * deep, substrate_m, hide)
        )
    if profile.enclosure.water_depth_m and profile.habit == "aquatic":
        items.append(_tank(profile, enclosure, items))
    elif profile.enclosure.water_share[0] and profile.enclosure.water_depth_m:
        items += _pool(profile, enclosure, substrate_m)
    else:
        dish = min(0.18 * long, max(0.07, 0.4 * length_m), 0.35 * deep)
        items.append(
            _body(
                "dish-1",
                "dish",
                0.72 * long,
                0.22 * deep,
                substrate_m,
                (dish, dish, min(0.04, 0.2 * air)),
            )
        )
    if profile.body.perch_share:
        z = substrate_m + profile.body.perch_share * air
        thick = (
            min(max((profile.body.grip_bl or 0.0) * length_m, 0.006), 0.08)
            if profile.body.grip_bl
            else 0.03
        )
        items.append(
            _body("branch-1", "branch", 0.5 * long, 0.5 * deep, z, (0.7 * long, thick, thick))
        )
    return items


TANK_FULL = 0.7
"""Of a tank's height that its water takes at the most: what swims climbs out over less (design
choice) [1].
"""
JUST = 1.15
"""Of the least depth that its species swims in: a first pool is filled and carried by hand (design
choice) [1].
"""
FRONT = 0.48
"""Of the depth that a pool takes, in front of the hides (design choice) [1]."""


def _tank(
    profile: Profile, enclosure: dict[str, float], items: list[dict[str, Any]]
) -> dict[str, Any]:
    """Water over the floor, as deep as its species swims in; less of the length where a stone
    stands out of it.
    """
    if profile.enclosure.water_depth_m is None:
        raise ImpossibleStateError("missing: profile.enclosure.water_depth_m")
    low, high = profile.enclosure.water_depth_m.ends
    tall = round(min((low + high) / 2 / POOL_SHARE, TANK_FULL * enclosure["height"]), 3)
    stones = [item for item in items if item["kind"] == "slab"]
    dry = 0.0
    for stone in stones:  # a landing beside the water, its top just over it
        dry = max(dry, stone["size_m"][0])
        stone["at_m"] = [round(stone["size_m"][0] / 2, 3), stone["at_m"][1], round(tall, 3)]
    share = max(1 - dry / enclosure["length"], profile.enclosure.water_share[0])
    reach = round(share * enclosure["length"], 3)
    return _body(
        "pool-1",
        "pool",
        enclosure["length"] - reach / 2,
        enclosure["depth"] / 2,
        0.0,
        (reach, enclosure["depth"], tall),
    )


def _pool(
    profile: Profile, enclosure: dict[str, float], substrate_m: float
) -> list[dict[str, Any]]:
    """Water to swim in along the front, from the cool end on, let into the substrate as far as that
    goes; and a root that leads up to its rim.
    """
    if profile.enclosure.water_depth_m is None:
        raise ImpossibleStateError("missing: profile.enclosure.water_depth_m")
    long, deep = enclosure["length"], enclosure["depth"]
    reach = min(profile.enclosure.water_share[0] / FRONT, 0.98) * long
    tall = min(
        JUST * profile.enclosure.water_depth_m.ends[0] / POOL_SHARE, 0.4 * enclosure["height"]
    )
    under, edge = max(substrate_m - tall, 0.0), long - reach
    pool = _body(
        "pool-1",
        "pool",
        long - reach / 2,
        FRONT / 2 * deep + 0.005,
        under,
        (reach, FRONT * deep, tall),
    )
    rise = under + tall - substrate_m
    if rise < 0.02:
        return [pool]
    size = (min(0.12, 2 * edge), 0.06, rise)
    return [
        pool,
        _body(
            "root-1",
            "branch",
            max(edge - size[0] / 2 + 0.02, size[0] / 2),
            FRONT / 2 * deep,
            substrate_m,
            size,
        ),
    ]


def furniture_of(request: Request) -> list[dict[str, Any]]:
    """The furniture of a request's enclosure, for its first animal."""
    occupant = plan_summary(request).animals[0]
    sides = request.enclosure.inside_m
    enclosure = {"length": sides.length, "depth": sides.depth, "height": sides.height}
    return furniture(
        request.profiles[occupant.species],
        occupant.length_m,
        enclosure,
        request.enclosure.substrate.depth_m,
    )


@dataclass(frozen=True)
class HeatingWishes:
    """What a keeper says of heat, light and stone, without where along the enclosure it goes; None
    for what is not fitted.
    """

    heat: tuple[str, float, float, float | None] | None
    """Kind, power [W], face above the floor [m], thermostat's set point [°C] or None."""
    tube: tuple[str, float, float] | None
    """Kind, nominal length [m], axis above the floor [m]."""
    stone: tuple[str, float, float, float] | None
    """Material, length, depth, thickness [m]."""
    night: tuple[str, float, float] | None
    """Kind, power [W], set point [°C]."""
    on: str
    off: str


def placed(request: Request, fitting: HeatingWishes) -> list[dict[str, Any]]:
    """Everything in the enclosure: furniture, and what is fitted at its usual place: heat over the
    stone at a fifth of the length, the tube from
    that end, heat for the night beside it (design choice; moved in the layout editor later). What
    is higher than the enclosure stands on its mesh.
    """
    inside, substrate = request.enclosure.inside_m, request.enclosure.substrate.depth_m
    x, y = round(WARM_END * inside.length, 3), round(0.5 * inside.depth, 3)
    times = {"on": fitting.on, "off": fitting.off}
    items: list[dict[str, Any]] = []
    if fitting.heat:
        kind, watts, z, set_c = fitting.heat
        basks = any(
            need.need is NeedKey.SURFACE_DAY
            for need in request.profiles[request.animals[0].species].needs
        )
        held = (
            {"set_c": set_c, "probe": "surface" if basks else "warm_air"}
            if set_c is not None
            else None
        )
        if kind == "heat_mat":  # on by its thermostat alone
            items.append(
                {**laid_mat(watts, inside, at_left=True), "id": "lamp-1", "thermostat": held}
            )
        else:
            lamp = {"id": "lamp-1", "kind": kind, "power_w": watts, "at_m": [x, y, z]}
            items.append({**lamp, "above_lid": z > inside.height, "thermostat": held, **times})
    _add_tube(fitting, inside, items, substrate, times, x, y)
    items += [item for item in furniture_of(request) if item["kind"] != "slab"]
    if fitting.night:
        kind, watts, set_c = fitting.night
        held = {"set_c": set_c, "probe": "warm_air"}
        if kind == "heat_mat":
            mat = laid_mat(watts, inside, at_left=True)
            return [*items, {**mat, "id": "night-heat-1", "thermostat": held}]
        place = [
            round(0.35 * inside.length, 3),
            y,
            round(max(inside.height - 0.13, substrate + 0.1), 3),
        ]
        night = {
            "id": "night-heat-1",
            "kind": kind,
            "power_w": watts,
            "at_m": place,
            "on": fitting.off,
            "off": fitting.on,
        }
        items.append({**night, "thermostat": held})
    return items


def _add_tube(
    fitting: HeatingWishes,
    inside: InsideMeasures,
    items: list[dict[str, Any]],
    substrate: float,
    times: dict[str, str],
    x: float,
    y: float,
) -> None:
    """Add the tube and the stone, where they are wanted."""
    if fitting.tube:
        kind, length, z = fitting.tube
        middle = min(max(0.35 * inside.length, length / 2), max(inside.length - length / 2, 0.0))
        tube = {
            "id": "tube-1",
            "kind": kind,
            "length_m": length,
            "power_w": UV_LAMPS[kind].nearest(length)[0],
            "hours_run": 0,
        }
        place = [round(middle, 3), round(0.55 * inside.depth, 3), z]
        items.append({**tube, "at_m": place, "above_lid": z > inside.height, **times})
    if fitting.stone:
        material, *size = fitting.stone
        items.append(
            _body(
                "stone-1",
                "slab",
                max(x, size[0] / 2),
                y,
                substrate,
                (size[0], size[1], size[2]),
                material=material,
            )
        )


def suggest(request: Request) -> Request:
    """The same enclosure with furniture and with the heat and light that its animal needs, each
    fitted where the search finds it right.

    What cannot be put right by fitting something (a room that is too warm) is left to the plan that
    follows.
    """
    items = furniture_of(request)
    found = from_data({**to_data(request), "items": items, "readings": []})
    return min((_fitted(found, order) for order in ORDERS), key=_left_wrong)


def _fitted(request: Request, order: tuple[tuple[str, ...], ...]) -> Request:
    """The enclosure with one offered change after another made, those of the first kinds first."""
    for _ in range(SETUP_ROUNDS):
        made = plan(request)
        offered = [
            c for kinds in order for c in made.changes if c.kind in kinds and c.puts_right >= 0
        ]
        if not offered:
            return request
        try:
            request = apply_patch(request, offered[0].patch)
        except DocumentError:
            return request
    return request


def _left_wrong(request: Request) -> tuple[int, int, float]:
    """Limits passed, needs missed, and how far in target range widths."""
    needs = plan_summary(request).needs
    wrong = [need for need in needs if need.verdict.direction in {"below", "above"}]
    return (
        sum(n.verdict.limit == "breached" for n in needs),
        len(wrong),
        sum(n.verdict.by / target_width(n) for n in wrong),
    )
