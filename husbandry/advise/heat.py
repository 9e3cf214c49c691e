"""Candidates that change the warmth by day: height, power, thermostat, lid, a first lamp."""

import math
from collections.abc import Iterator

from husbandry.advise.context import (
    HEADROOM_M,
    MIN_LAMP_M,
    Candidate,
    ChangeContext,
    Effort,
    Values,
    added_patch,
    at_height,
    half_of_the_mesh,
    item_patch,
)
from husbandry.advise.panels_and_mats import (
    brings_hazard,
    first_that_reaches,
    gentle,
    heater_stem,
    mats,
    panels,
)
from husbandry.documents.request import Request
from husbandry.enclosure.equipment import HEATERS
from husbandry.items.furnishings import Slab
from husbandry.items.thermostats import ThermostatSpec
from husbandry.items.union import Item, read_item
from husbandry.predict.exposure import DAY_HOUR
from husbandry.predict.predict import predict
from husbandry.species.needs import HEAT_NEEDS, NeedKey

WORTH_MOVING_M = 0.03
"""With another lamp, a smaller move is not worth the sentence (design choice) [m]."""


def candidates(context: ChangeContext) -> Iterator[Candidate]:
    """Everything that could put a temperature by day right."""
    yield from _first_lamp(context)
    if not any(context.wrong(key) for key in HEAT_NEEDS if key in context.targets):
        return
    yield from _air_heat(context)
    surface = context.wrong(NeedKey.SURFACE_DAY)
    for item in basking_lamps(context)[:2]:
        span = _height_range(context, item)
        if surface and span is not None:
            yield from _raised(context, item, item, span, {}, "height", "move")
        yield from _other_power(context, item, span)
        if HEATERS[item.kind].dimmable and (
            surface > 0 or (surface < 0 and item.held is not None)
        ):
            yield _dimmed(context, item)
    if context.wrong(NeedKey.WARM_AIR_DAY) < 0 or context.wrong(NeedKey.COOL_AIR_DAY) < 0:
        yield from half_of_the_mesh(context, "warm")


def basking_lamps(context: ChangeContext) -> list[Item]:
    """Beam lamps that are on by day, the one that matters most first."""
    day = context.prediction.day
    slab = context.prediction.basking_slab
    if slab is None:
        return []
    landed = [
        float(d.heat[day.nodes.slab_top[slab]]) * p
        for d, p in zip(day.deposits, day.powers_w, strict=True)
    ]
    order = sorted(zip(landed, day.heat_model.lamps, strict=True), key=lambda pair: -pair[0])
    items = [context.request.item(lamp.item_id) for _, lamp in order]

    return [item for item in items if not item.is_tube and HEATERS[item.kind].beam_share > 0]


def _height_range(context: ChangeContext, item: Item) -> tuple[float, float] | None:
    """Heights in which a lamp may hang [m]; None when it cannot be moved."""
    height = context.request.enclosure.inside_m.height
    if item.hangs_above_lid:
        return height + 0.01, height + 0.40
    lowest = context.prediction.basking.z_m + MIN_LAMP_M
    highest = height - HEADROOM_M
    return (lowest, highest) if highest - lowest > 0.02 else None


def _raised(
    context: ChangeContext,
    item: Item,
    changed: Item,
    span: tuple[float, float],
    values: Values,
    kind: str,
    effort: Effort,
) -> Iterator[Candidate]:
    """Hang a lamp where the surface comes out right, to whole centimetres."""
    found = (
        context.solve_height(changed, NeedKey.SURFACE_DAY, span)
        if NeedKey.SURFACE_DAY in context.targets
        else None
    )
    if found is None:
        return
    z, near = found
    other_lamp = changed is not item
    if abs(z - item.at_m[2]) < (WORTH_MOVING_M if other_lamp else 0.0099):
        return
    aim = context.aim(NeedKey.SURFACE_DAY)
    yield Candidate(
        kind,
        item,
        {
            **values,
            "from_m": item.at_m[2],
            "to_m": z,
            "distance_m": z - (context.prediction.basking.z_m - context.prediction.back_m),
        },
        effort,
        item_patch(context.request, at_height(changed, z)),
        f"The height at which the surface is predicted at {aim:.1f} °C, by halving on the heat"
        " model, to whole centimetres.",
        abs(z - item.at_m[2]) + (1.0 if other_lamp else 0.0),
        near,
    )


def _other_power(
    context: ChangeContext, item: Item, span: tuple[float, float] | None
) -> Iterator[Candidate]:
    """The powers it is sold in: as it hangs, and hung anew."""
    now_w = item.watts or 0.0
    sold = HEATERS[item.kind].watts
    for watts in (w for w in sold if w != now_w):
        changed = item.model_copy(update={"power_w": watts})
        yield Candidate(
            "power",
            item,
            {"from_w": now_w, "to_w": watts},
            "buy",
            item_patch(context.request, changed),
            f"Each power this lamp is commonly sold in ({', '.join(f'{w:g}' for w in sold)} W) in"
            " the heat model; the one that misses least.",
            abs(watts - now_w) / 100,
            context.score_of(context.near(changed)),
        )
    if span is None:
        return
    closest = sorted(
        (w for w in sold if w != now_w), key=lambda w: abs(math.log(w / max(now_w, 1.0)))
    )
    for watts in closest[:3]:
        changed = item.model_copy(update={"power_w": watts})
        yield from _raised(
            context,
            item,
            changed,
            span,
            {"from_w": now_w, "to_w": watts},
            "power_and_height",
            "buy",
        )


def _dimmed(context: ChangeContext, item: Item) -> Candidate:
    """Hold the surface at the target range's middle by a thermostat: a new set point, or a new
    thermostat.
    """
    aim = round(context.aim(NeedKey.SURFACE_DAY) * 2) / 2
    held = item.held
    only_set = held is not None and held.probe in {"surface", "placed"}
    control = held.control if held is not None and only_set else "dimming"
    changed = item.model_copy(
        update={"thermostat": ThermostatSpec(set_c=aim, probe="surface", control=control)}
    )
    if (
        held is not None and held.probe_id is not None
    ):  # what its own probe feels when the surface is right
        probe = context.request.item(held.probe_id)
        aim = round(context.near(changed).felt_by(probe).temp_c * 2) / 2
        changed = item.model_copy(update={"thermostat": held.model_copy(update={"set_c": aim})})

    return Candidate(
        "set_point" if only_set else "add_thermostat",
        item,
        {"set_c": aim},
        "move" if only_set else "buy",
        item_patch(context.request, changed),
        "A dimming thermostat with its probe on the basking surface, set to the middle of the target range;"
        " it gives the lamp the share of its power that holds it.",
        abs(aim - held.set_c) / 10 if held is not None and only_set else 1.0,
        context.score_of(context.near(changed)),
    )


def _air_heat(context: ChangeContext) -> Iterator[Candidate]:
    """Heat by day for an animal that needs warm air but no hot spot: the weakest emitter that
    reaches the target range, on a thermostat.
    """
    if NeedKey.SURFACE_DAY in context.targets or context.wrong(NeedKey.WARM_AIR_DAY) >= 0:
        return
    if any(
        t.is_heater and t.held is not None and t.lit_at(DAY_HOUR) for t in context.request.items
    ):
        return
    enclosure = context.request.enclosure.inside_m
    point = context.prediction.warm_point
    low, aim = (
        context.targets[NeedKey.WARM_AIR_DAY].low_value,
        float(round(context.aim(NeedKey.WARM_AIR_DAY))),
    )
    stem = heater_stem(
        context,
        "air-heat",
        (point[0], enclosure.depth / 2, enclosure.height - 0.12),
        thermostat={"set_c": aim, "probe": "warm_air"},
        **context.day_times(),
    )

    def reached(request: Request) -> float | None:
        return predict(request, context.prediction.position, context.prediction.learned).centre(
            NeedKey.WARM_AIR_DAY
        )

    heater = first_that_reaches(context.prediction, gentle(context, stem), reached, low)
    if heater is None:
        return
    yield Candidate(
        "air_heat",
        heater,
        {"to_w": heater.watts or 0.0, "set_c": aim},
        "buy",
        added_patch(heater),
        "The weakest heater that is safe there and whose full power reaches the target range of warm air, "
        "held by a thermostat with its probe there.",
        (heater.watts or 0.0) / 100,
    )


def _first_lamp(context: ChangeContext) -> Iterator[Candidate]:
    """A basking lamp for an enclosure that has none, at one end."""
    items = context.request.items
    if NeedKey.SURFACE_DAY not in context.targets or any(
        t.is_heater and not t.is_tube and t.lit_at(DAY_HOUR) for t in items
    ):
        return
    enclosure, substrate = (
        context.request.enclosure.inside_m,
        context.request.enclosure.substrate.depth_m,
    )
    slab = next((t for t in items if isinstance(t, Slab)), None)
    low, high = (
        substrate + context.prediction.back_m + MIN_LAMP_M + 0.03,
        enclosure.height - HEADROOM_M,
    )
    x = slab.at_m[0] if slab else round(enclosure.length / 5, 2)
    safe = False
    for watts in HEATERS["halogen_flood"].watts if high - low >= 0.05 else ():
        lamp = read_item(
            {
                "id": context.free_id("lamp"),
                "kind": "halogen_flood",
                "power_w": watts,
                **context.day_times(),
                "at_m": [x, round(context.prediction.basking.y_m, 3), high],
            }
        )
        z = context.solve_added(lamp, NeedKey.SURFACE_DAY, (low, high))
        if (
            z is None or not low + 0.02 < z < high - 0.02
        ):  # at an end it is too weak or too strong, not right
            continue
        surface = substrate + (slab.size_m[2] if slab and slab.size_m else 0.0)
        hung = at_height(lamp, z)
        if brings_hazard(context.prediction, hung):
            continue
        safe = True
        yield Candidate(
            "heat_add",
            hung,
            {"to_w": watts, "to_m": z, "distance_m": z - surface},
            "buy",
            added_patch(hung),
            "The powers a halogen flood is sold in, each at the height that brings the surface to"
            " the middle of the target range.",
            watts / 100,
        )
    y = round(context.prediction.basking.y_m, 3)
    aim = float(round(context.aim(NeedKey.SURFACE_DAY)))
    held = {"set_c": aim, "probe": "surface"}
    stem = heater_stem(context, "panel", (x, y, high), thermostat=held, **context.day_times())
    yield from _gentle_heat(context, panels(context, stem), "A flat infrared panel under the lid")
    if not safe and all(
        brings_hazard(context.prediction, panel) for panel in panels(context, stem)
    ):
        stem = heater_stem(context, "mat", (x, y, 0.0), thermostat=held)
        yield from _gentle_heat(context, mats(context, stem), "A mat under the substrate")


def _gentle_heat(
    context: ChangeContext, heaters: Iterator[Item], what: str
) -> Iterator[Candidate]:
    """Panels and mats on a thermostat: for enclosures so low that the weakest flood is too strong."""
    substrate = context.request.enclosure.substrate.depth_m
    for heater in heaters:
        if brings_hazard(context.prediction, heater):
            continue
        watts = heater.watts or 0.0
        z = heater.at_m[2]
        set_c = heater.held.set_c if heater.held else 0.0
        hung: Values = {"to_m": z, "distance_m": z - substrate} if z > substrate else {}
        yield Candidate(
            "heat_add",
            heater,
            {"to_w": watts, "set_c": set_c, **hung},
            "buy",
            added_patch(heater),
            f"{what}, held by a thermostat with its probe on the basking surface.",
            1.0 + watts / 100,
        )
