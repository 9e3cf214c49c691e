"""A first setup in an enclosure that is there already: what was typed of it, at its usual place, or
all that the solver suggests.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from husbandry.advise.furniture import WARM_END, furniture
from husbandry.advise.panels_and_mats import laid_mat
from husbandry.documents.enclosure import InsideMeasures
from husbandry.documents.request import Request
from husbandry.documents.request_json import to_data
from husbandry.enclosure.equipment import UV_LAMPS
from husbandry.plan.plan import plan_summary
from husbandry.setups.candidates import ANYTHING, Means
from husbandry.setups.owned_use import OwnedUse, means_of, with_owned
from husbandry.setups.owned_words import OwnedFitting
from husbandry.setups.starter import Starter, start


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
    inside = request.enclosure.inside_m
    substrate = request.enclosure.substrate.depth_m
    x = round(WARM_END * inside.length, 3)
    y = round(0.5 * inside.depth, 3)
    times = {"on": fitting.on, "off": fitting.off}
    items: list[dict[str, Any]] = []
    if fitting.heat:
        kind, watts, z, set_c = fitting.heat
        basks = request.profiles[request.animals[0].species].basks
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
    """The same enclosure with furniture, heat, light and moisture for its animals, found jointly and
    judged by the plan. Its vents and its mesh may be set differently; its sides stay.

    What cannot be put right there (a room that is too warm) is left to the plan that follows.
    """
    best = suggested(request).best
    return request if best is None else best.judged.request


def suggest_with(
    request: Request, owned: Sequence[OwnedFitting]
) -> tuple[Request, tuple[OwnedUse, ...]]:
    """The same with as much of what the keeper has as keeps every range, and what is said of it."""
    found, said = with_owned(suggested(request, means_of(owned)), owned)
    return (request if found.best is None else found.best.judged.request), said


def suggested(request: Request, means: Means = ANYTHING) -> Starter:
    """The same with what was tried, and what the room rules out."""
    data = to_data(request)
    spec = data.pop("enclosure")
    data |= {"items": [], "readings": []}
    return start(data, enclosure=spec, means=means)
