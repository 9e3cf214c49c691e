"""What to do about findings of lamps and their switches: thermostats, cut-outs, timers, a new lamp, more
light.

Method: docs/methods/judging.md.
"""

import math
from collections.abc import Iterator

from husbandry.advise.context import Patch, Values, added_patch, item_patch
from husbandry.advise.finding_context import FindingContext, FindingProposal
from husbandry.enclosure.equipment import HEATERS
from husbandry.findings.heat_sources import is_dark_heater
from husbandry.items.thermostats import ThermostatSpec
from husbandry.items.timers import hours_of
from husbandry.items.union import read_item
from husbandry.predict.exposure import NIGHT_HOUR, day_times
from husbandry.species.needs import NeedKey
from husbandry.targets.uv_sessions import UvTimes, uv_times

CUT_SURFACE_K, CUT_AIR_K = 4.0, 2.0
"""By how much a cut-out lies above what its thermostat holds (common practice) [K]."""
LIGHT_BAR_W = (10.0, 20.0, 30.0, 40.0)
"""Bars of white light that are tried over a dim basking place (common practice) [W]."""


def thermostats(context: FindingContext) -> Iterator[FindingProposal]:
    """A thermostat on what nothing holds back, set to the middle of the target range."""
    for item in context.request.items:
        if not item.is_heater or item.is_uv or item.held is not None:
            continue
        if not HEATERS[item.kind].dimmable:
            continue
        over = NeedKey.SURFACE_DAY in context.targets and (
            HEATERS[item.kind].beam_deg is not None or item.kind == "heat_mat"
        )
        key = NeedKey.SURFACE_DAY if over else NeedKey.WARM_AIR_DAY
        target = context.targets.get(key)
        if target is None:
            continue
        set_c = round(target.aim() * 2) / 2
        probe = "surface" if over else "warm_air"
        changed = item.model_copy(
            update={"thermostat": ThermostatSpec.model_validate({"set_c": set_c, "probe": probe})}
        )
        patch = item_patch(context.request, changed)
        rule = (
            "Set to the middle of the target range where its probe lies: nothing is warmer then."
        )
        yield FindingProposal("add_thermostat", item, {"set_c": set_c}, "buy", patch, rule)


def cut_outs(context: FindingContext) -> Iterator[FindingProposal]:
    """An independent cut-out on every thermostat that has none."""
    patch: Patch = ()
    held = [
        item
        for item in context.request.items
        if item.held is not None and item.held.cut_out_c is None
    ]
    if not held or any(item.is_heater and item.held is None for item in context.request.items):
        return
    lowest = 99.0
    for item in held:
        if item.held is None:
            continue
        highest = max(item.held.set_c, item.held.night_set_c or item.held.set_c)
        over_k = CUT_SURFACE_K if item.held.probe == "surface" else CUT_AIR_K
        cut = round(highest + over_k, 1)
        lowest = min(lowest, cut)
        thermostat = item.held.model_copy(update={"cut_out_c": cut})
        patch += item_patch(context.request, item.model_copy(update={"thermostat": thermostat}))
    values: Values = {"set_c": lowest, "count": len(held)}
    rule = "A second, independent switch a little over what the thermostat holds."
    yield FindingProposal("cut_out", held[0], values, "buy", patch, rule)


def renewed(context: FindingContext) -> Iterator[FindingProposal]:
    """The same lamp, new."""
    for item in context.request.items:
        if item.is_uv and (item.burned_h or 0) > 0:
            changed = item.model_copy(update={"hours_run": 100})
            patch = item_patch(context.request, changed)
            rule = "The same lamp at 100 hours: ageing gives back what it took."
            values: Values = {"hours": item.burned_h or 0.0}
            yield FindingProposal("uv_new", item, values, "buy", patch, rule)


def timers(context: FindingContext) -> Iterator[FindingProposal]:
    """Every light on for the species' day."""
    span = context.profile.photoperiod_h.span
    hours = round(((span.low or 12.0) + (span.high or 12.0)) / 2)
    on = f"{14 - hours // 2:02d}:00"
    off = f"{14 - hours // 2 + hours:02d}:00"
    patch: Patch = ()
    lights = [
        item
        for item in context.request.items
        if item.is_tube
        or item.is_uv
        or item.kind == "led_bar"
        or (item.kind in HEATERS and HEATERS[item.kind].emits_light)
    ]
    for item in lights:
        times = UvTimes(on, off)
        if item.is_uv and not item.is_heater:
            times = uv_times(context.request, (on, off))
        patch += item_patch(context.request, item.model_copy(update=times._asdict()))
    if lights and patch:
        rule = "The middle of the species' day, around 14:00 when the day is warmest."
        values: Values = {"on": on, "off": off, "hours": float(hours)}
        first = next((item for item in lights if item.lit_at(NIGHT_HOUR)), lights[0])
        yield FindingProposal("timer", first, values, "move", patch, rule)


def uv_timers(context: FindingContext) -> Iterator[FindingProposal]:
    """Ultraviolet by the keeper's approach: with the other lamps, or in sessions. What warms as well is
    left as it is.
    """
    lamps = [item for item in context.request.items if item.is_uv and not item.is_heater]

    if not lamps:
        return
    times = uv_times(context.request, day_times(context.request))
    patch: Patch = ()
    for item in lamps:
        set_so = item.model_copy(update={**times._asdict()})
        patch += item_patch(context.request, set_so)

    spans = ", ".join(f"{on} to {off}" for on, off in times.windows)
    rule = (
        "With the lamps of its day, or two sessions an hour from its ends, by the chosen approach."
    )
    values: Values = {"spans": spans, "hours": hours_of(times.windows)}
    yield FindingProposal("uv_times", lamps[0], values, "move", patch, rule)


def light_bar(context: FindingContext) -> Iterator[FindingProposal]:
    """A bar of white light over the place where it basks."""
    inside = context.request.enclosure.inside_m
    spot = context.prediction.basking
    length = round(min(0.3, 0.5 * inside.length), 3)
    x = min(max(spot.x_m, length / 2 + 0.01), inside.length - length / 2 - 0.01)
    on, off = day_times(context.request)
    for power in LIGHT_BAR_W:
        item = read_item(
            {
                "id": context.free_id("light"),
                "kind": "led_bar",
                "power_w": power,
                "length_m": length,
                "at_m": [
                    round(x, 3),
                    round(0.3 * inside.depth, 3),
                    round(inside.height - 0.035, 3),
                ],
                "on": on,
                "off": off,
            }
        )
        rule = "The weakest bar of white light with which its basking place is bright."
        values: Values = {"to_w": power, "length_m": length}
        yield FindingProposal("light_add", item, values, "buy", added_patch(item), rule)


def sun_lamp(context: FindingContext) -> Iterator[FindingProposal]:
    """A halogen lamp in the place of the dark heater that hangs nearest to where it basks."""
    spot = context.prediction.basking
    dark = [item for item in context.request.items if is_dark_heater(item)]
    if not dark:
        return
    nearest = min(dark, key=lambda item: math.dist(item.at_m[:2], (spot.x_m, spot.y_m)))
    had = nearest.model_dump(mode="json", exclude_none=True)
    stem = {name: had[name] for name in ("id", "at_m", "thermostat", "above_lid") if name in had}
    on, off = day_times(context.request)
    powers = HEATERS["halogen_flood"].watts
    for power in sorted(powers, key=lambda watts: abs(watts - (nearest.watts or 0.0))):
        item = read_item({**stem, "kind": "halogen_flood", "power_w": power, "on": on, "off": off})
        place = f"/items/{context.request.index(nearest.id)}"
        value = item.model_dump(mode="json", exclude_none=True)
        patch: Patch = ({"op": "replace", "path": place, "value": value},)
        rule = "The halogen lamp nearest in power that brings no other fault."
        yield FindingProposal("sun_lamp", nearest, {"to_w": power}, "buy", patch, rule)
