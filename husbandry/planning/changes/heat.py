"""Candidates that change the warmth by day: height, power, thermostat, lid, a first lamp."""

import math
from collections.abc import Iterator

from husbandry.box.equipment import HEATERS
from husbandry.planning.changes.bench import (
    HEADROOM_M,
    MIN_LAMP_M,
    Bench,
    Candidate,
    Effort,
    Values,
    added_patch,
    at_height,
    half_of_the_mesh,
    thing_patch,
)
from husbandry.planning.changes.gentle import (
    brings_hazard,
    first_that_reaches,
    gentle,
    heater_stem,
    mats,
    panels,
)
from husbandry.planning.predict import DAY_HOUR, predict
from husbandry.planning.request import Request, ThermostatSpec, Thing
from husbandry.species.needs import NeedKey

HEAT_NEEDS = (NeedKey.SURFACE_DAY, NeedKey.WARM_AIR_DAY, NeedKey.COOL_AIR_DAY)
WORTH_MOVING_M = 0.03
"""With another lamp, a smaller move is not worth the sentence [m]."""


def candidates(bench: Bench) -> Iterator[Candidate]:
    """Everything that could put a temperature by day right."""
    yield from _first_lamp(bench)
    if not any(bench.wrong(key) for key in HEAT_NEEDS if key in bench.bands):
        return
    yield from _air_heat(bench)
    surface = bench.wrong(NeedKey.SURFACE_DAY)
    for thing in basking_lamps(bench)[:2]:
        span = _height_range(bench, thing)
        if surface and span is not None:
            yield from _raised(bench, thing, thing, span, {}, "height", "move")
        yield from _other_power(bench, thing, span)
        if HEATERS[thing.kind].dimmable and (surface > 0 or (surface < 0 and thing.thermostat is not None)):
            yield _dimmed(bench, thing)
    if bench.wrong(NeedKey.WARM_AIR_DAY) < 0 or bench.wrong(NeedKey.COOL_AIR_DAY) < 0:
        yield from half_of_the_mesh(bench, "warm")


def basking_lamps(bench: Bench) -> list[Thing]:
    """Beam lamps that are on by day, the one that matters most first."""
    day = bench.outcome.day
    slab = day.hottest_slab()
    if slab is None:
        return []
    landed = [float(d.heat[day.nodes.slab_top[slab]]) * p for d, p in zip(day.deposits, day.powers_w, strict=True)]
    order = sorted(zip(landed, day.enclosure.lamps, strict=True), key=lambda pair: -pair[0])
    things = [bench.request.thing(lamp.thing_id) for _, lamp in order]
    return [thing for thing in things if not thing.is_tube and HEATERS[thing.kind].beam_share > 0]


def _height_range(bench: Bench, thing: Thing) -> tuple[float, float] | None:
    """Heights in which a lamp may hang [m]; None when it cannot be moved."""
    height = bench.request.box.inside_m.height
    if thing.above_lid:
        return height + 0.01, height + 0.40
    lowest, highest = bench.outcome.basking.z_m + MIN_LAMP_M, height - HEADROOM_M
    return (lowest, highest) if highest - lowest > 0.02 else None


def _raised(
    bench: Bench, thing: Thing, changed: Thing, span: tuple[float, float], values: Values, kind: str, effort: Effort
) -> Iterator[Candidate]:
    """Hang a lamp where the surface comes out right, to whole centimetres."""
    found = bench.solve_height(changed, NeedKey.SURFACE_DAY, span) if NeedKey.SURFACE_DAY in bench.bands else None
    if found is None:
        return
    z, near = found
    other_lamp = changed is not thing
    if abs(z - thing.at_m[2]) < (WORTH_MOVING_M if other_lamp else 0.0099):
        return
    aim = bench.aim(NeedKey.SURFACE_DAY)
    yield Candidate(
        kind,
        thing,
        {**values, "from_m": thing.at_m[2], "to_m": z, "distance_m": z - (bench.outcome.basking.z_m - bench.outcome.back_m)},
        effort,
        thing_patch(bench.request, at_height(changed, z)),
        f"The height at which the surface is predicted at {aim:.1f} °C, by halving on the heat model, to whole centimetres.",
        abs(z - thing.at_m[2]) + (1.0 if other_lamp else 0.0),
        near,
    )


def _other_power(bench: Bench, thing: Thing, span: tuple[float, float] | None) -> Iterator[Candidate]:
    """The powers it is sold in: as it hangs, and hung anew."""
    now_w = thing.power_w or 0.0
    sold = HEATERS[thing.kind].watts
    for watts in (w for w in sold if w != now_w):
        changed = thing.model_copy(update={"power_w": watts})
        yield Candidate(
            "power",
            thing,
            {"from_w": now_w, "to_w": watts},
            "buy",
            thing_patch(bench.request, changed),
            f"Each power this lamp is commonly sold in ({', '.join(f'{w:g}' for w in sold)} W) in the heat model; the one that misses least.",
            abs(watts - now_w) / 100,
            bench.score_of(bench.near(changed)),
        )
    if span is None:
        return
    closest = sorted((w for w in sold if w != now_w), key=lambda w: abs(math.log(w / max(now_w, 1.0))))
    for watts in closest[:3]:
        changed = thing.model_copy(update={"power_w": watts})
        yield from _raised(bench, thing, changed, span, {"from_w": now_w, "to_w": watts}, "power_and_height", "buy")


def _dimmed(bench: Bench, thing: Thing) -> Candidate:
    """Hold the surface at the band's middle by a thermostat: a new set point, or a new thermostat."""
    aim = round(bench.aim(NeedKey.SURFACE_DAY) * 2) / 2
    held = thing.thermostat
    only_set = held is not None and held.probe in {"surface", "placed"}
    control = held.control if held is not None and only_set else "dimming"
    changed = thing.model_copy(update={"thermostat": ThermostatSpec(set_c=aim, probe="surface", control=control)})
    if held is not None and held.probe_id is not None:  # what its own probe feels when the surface is right
        probe = bench.request.thing(held.probe_id)
        aim = round(bench.near(changed).felt_by(probe).temp_c * 2) / 2
        changed = thing.model_copy(update={"thermostat": held.model_copy(update={"set_c": aim})})
    return Candidate(
        "set_point" if only_set else "add_thermostat",
        thing,
        {"set_c": aim},
        "move" if only_set else "buy",
        thing_patch(bench.request, changed),
        "A dimming thermostat with its probe on the basking surface, set to the middle of the band; it gives the lamp the share of its power that holds it.",
        abs(aim - held.set_c) / 10 if held is not None and only_set else 1.0,
        bench.score_of(bench.near(changed)),
    )


def _air_heat(bench: Bench) -> Iterator[Candidate]:
    """Heat by day for an animal that needs warm air but no hot spot: the weakest emitter that reaches the band, on a thermostat."""
    if NeedKey.SURFACE_DAY in bench.bands or bench.wrong(NeedKey.WARM_AIR_DAY) >= 0:
        return
    if any(t.is_heater and t.thermostat is not None and t.lit_at(DAY_HOUR) for t in bench.request.things):
        return
    box, point = bench.request.box.inside_m, bench.outcome.warm_point
    low, aim = bench.bands[NeedKey.WARM_AIR_DAY].low_value, float(round(bench.aim(NeedKey.WARM_AIR_DAY)))
    stem = heater_stem(
        bench,
        "air-heat",
        (point[0], box.depth / 2, box.height - 0.12),
        thermostat={"set_c": aim, "probe": "warm_air"},
        **bench.day_times(),
    )

    def reached(request: Request) -> float | None:
        return predict(request, bench.outcome.stance, bench.outcome.learned).centre(NeedKey.WARM_AIR_DAY)

    heater = first_that_reaches(bench.outcome, gentle(bench, stem), reached, low)
    if heater is None:
        return
    yield Candidate(
        "air_heat",
        heater,
        {"to_w": heater.power_w or 0.0, "set_c": aim},
        "buy",
        added_patch(heater),
        "The weakest heater that is safe there and whose full power reaches the band of warm air, "
        "held by a thermostat with its probe there.",
        (heater.power_w or 0.0) / 100,
    )


def _first_lamp(bench: Bench) -> Iterator[Candidate]:
    """A basking lamp for an enclosure that has none, at one end."""
    things = bench.request.things
    if NeedKey.SURFACE_DAY not in bench.bands or any(t.is_heater and not t.is_tube and t.lit_at(DAY_HOUR) for t in things):
        return
    box, ground = bench.request.box.inside_m, bench.request.box.ground.depth_m
    slab = next((t for t in things if t.kind == "slab" and t.size_m), None)
    low, high = ground + bench.outcome.back_m + MIN_LAMP_M + 0.03, box.height - HEADROOM_M
    x = slab.at_m[0] if slab else round(box.length / 5, 2)
    safe = False
    for watts in HEATERS["halogen_flood"].watts if high - low >= 0.05 else ():
        lamp = Thing.model_validate(
            {
                "id": bench.free_id("lamp"),
                "kind": "halogen_flood",
                "power_w": watts,
                **bench.day_times(),
                "at_m": [x, round(bench.outcome.basking.y_m, 3), high],
            }
        )
        z = bench.solve_added(lamp, NeedKey.SURFACE_DAY, (low, high))
        if z is None or not low + 0.02 < z < high - 0.02:  # at an end it is too weak or too strong, not right
            continue
        surface = ground + (slab.size_m[2] if slab and slab.size_m else 0.0)
        hung = at_height(lamp, z)
        if brings_hazard(bench.outcome, hung):
            continue
        safe = True
        yield Candidate(
            "heat_add",
            hung,
            {"to_w": watts, "to_m": z, "distance_m": z - surface},
            "buy",
            added_patch(hung),
            "The powers a halogen flood is sold in, each at the height that brings the surface to the band's middle.",
            watts / 100,
        )
    y = round(bench.outcome.basking.y_m, 3)
    aim = float(round(bench.aim(NeedKey.SURFACE_DAY)))
    held = {"set_c": aim, "probe": "surface"}
    stem = heater_stem(bench, "panel", (x, y, high), thermostat=held, **bench.day_times())
    yield from _gentle_heat(bench, panels(bench, stem), "A flat infrared panel under the lid")
    if not safe and all(brings_hazard(bench.outcome, panel) for panel in panels(bench, stem)):
        stem = heater_stem(bench, "mat", (x, y, 0.0), thermostat=held)
        yield from _gentle_heat(bench, mats(bench, stem), "A mat under the substrate")


def _gentle_heat(bench: Bench, heaters: Iterator[Thing], what: str) -> Iterator[Candidate]:
    """Panels and mats on a thermostat: for enclosures so low that the weakest flood is too strong."""
    ground = bench.request.box.ground.depth_m
    for heater in heaters:
        if brings_hazard(bench.outcome, heater):
            continue
        watts, z = heater.power_w or 0.0, heater.at_m[2]
        set_c = heater.thermostat.set_c if heater.thermostat else 0.0
        hung: Values = {"to_m": z, "distance_m": z - ground} if z > ground else {}
        yield Candidate(
            "heat_add",
            heater,
            {"to_w": watts, "set_c": set_c, **hung},
            "buy",
            added_patch(heater),
            f"{what}, held by a thermostat with its probe on the basking surface.",
            1.0 + watts / 100,
        )
