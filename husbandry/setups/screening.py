"""Thousands of setups scored at once: heat is linear in power once the films are frozen, so a table
of responses answers for all.
"""

import math
from collections.abc import Callable
from dataclasses import dataclass
from typing import Literal, NamedTuple

import numpy as np
from numpy.typing import NDArray

from husbandry.advise.ranking import NOT_SURFACE_C
from husbandry.climate.uv import UvSource, uvi_at
from husbandry.enclosure.equipment import HEATERS, UV_LAMPS
from husbandry.items.heaters import LAMP_KINDS
from husbandry.predict.predict import REFLECTOR_GAIN, wire_share_of
from husbandry.predict.warm_patch import ENOUGH, trunk_m
from husbandry.setups.fitting_out import LAMPS_APART_M, BareEnclosure, tube_heat
from husbandry.species.needs import HEAT_NEEDS, NeedKey
from husbandry.species.stages import DAYS_PER_MONTH

Array = NDArray[np.float64]
Control = Literal["none", "dimming", "on_off"]
Progress = Callable[[float, str], bool]
"""Told how far the search is [1] and with what; answers whether to go on."""
SLACK_K = 0.7
"""What frozen films may err by: setups that miss by less are looked at in full (design choice)
[K].
"""
FAILED_ON_MARGIN_K = 10.0
"""A stuck thermostat so far under its limit counts as much headroom as the middle of a target range
(design choice) [K].
"""


class Tube(NamedTuple):
    """A UVB tube where its index comes out nearest the middle of the target range."""

    kind: str
    length_m: float
    power_w: float
    z_m: float
    x_m: float
    y_m: float
    reflector: bool
    above_lid: bool
    uvi: float
    margin: float
    """To the nearer end, in widths of the target range; negative outside [1]."""


class NightHeat(NamedTuple):
    """Dark heat for the night: none, or an emitter on a thermostat."""

    power_w: float
    set_c: float
    duty: float
    air_c: float
    margin: float


class ScreenedSetup(NamedTuple):
    """A setup as it was screened."""

    kind: str
    lamps: int
    power_w: float
    z_m: float
    above_lid: bool
    control: Control
    set_c: float
    tube: Tube | None
    night: NightHeat
    values: tuple[float, float, float]
    duty: float
    stuck: tuple[float, float]
    shortfall: float
    headroom: float
    month_kwh: float
    devices: int

    @property
    def nature(self) -> tuple[str, str, str]:
        """What makes two setups of one kind."""
        return self.kind, self.control, self.tube.kind if self.tube else ""


@dataclass(frozen=True)
class ScreeningResult:
    """Everything that was looked at: those that may work, and the nearest misses."""

    rows: tuple[ScreenedSetup, ...]
    """Within the slack, unsorted."""
    misses: tuple[ScreenedSetup, ...]
    """The nearest by count of devices, for saying why not."""
    screened: int
    nearest: dict[NeedKey, float]
    """By need: how far the best setup for it alone stays outside its target range [need's unit]."""
    stopped: bool


def tubes(bare: BareEnclosure) -> list[Tube | None]:
    """Tubes at their best heights; a single None where the animal needs no ultraviolet."""
    target = bare.targets.get(NeedKey.UVI_DAY)
    if target is None or (not target.low and not target.high) or target.high_value <= 0:
        return [None]
    inside, lid = bare.request.enclosure.inside_m, bare.request.enclosure.lid
    back = bare.prediction.basking
    found: list[Tube | None] = []
    y = round(min(back.y_m + 0.07, inside.depth - 0.03), 3)
    for kind, lamp in UV_LAMPS.items():
        if not lamp.is_tube:
            continue
        fitting = [pair for pair in lamp.lengths if pair[1] <= inside.length]
        wanted = sorted(fitting, key=lambda pair: abs(pair[1] - 0.55 * inside.length))[:2]
        for watts, length in wanted:
            x = round(min(max(back.x_m, length / 2), inside.length - length / 2), 3)
            for reflector in (False, True):
                for above in (False, True) if lid.mesh else (False,):
                    heights = np.array(
                        bare.heights(above_lid=above, x_m=x, y_m=y, half_m=length / 2)
                    )
                    if not len(heights):
                        continue
                    source = UvSource(
                        lamp,
                        x,
                        y,
                        0.0,
                        length,
                        REFLECTOR_GAIN if reflector else 1.0,
                        wire_share_of(bare.request) if above else 0.0,
                    )
                    # One call for all heights: the tube stays, the animal's back goes down under
                    # it.
                    index = uvi_at(
                        source, np.full(len(heights), back.x_m), back.y_m, back.z_m - heights
                    )
                    margin = (
                        np.minimum(index - target.low_value, target.high_value - index)
                        / target.width
                    )
                    n = int(np.argmax(margin))
                    found.append(
                        Tube(
                            kind,
                            length,
                            watts,
                            float(heights[n]),
                            x,
                            y,
                            reflector,
                            above,
                            float(index[n]),
                            float(margin[n]),
                        )
                    )
    return found or [None]


def nights(bare: BareEnclosure) -> list[NightHeat]:
    """The weakest dark heat that reaches the target range, or none where the room does."""
    target = bare.targets.get(NeedKey.AIR_NIGHT)
    room = bare.request.room.night_c
    if target is None:
        return [NightHeat(0, 0, 0, room, 0.5)]
    if target.shortfall(room) == 0 or target.low is None or room > target.low_value:
        margin = min(room - target.low_value, target.high_value - room) / target.width
        return [NightHeat(0, 0, 0, room, min(margin, 0.5))]
    aim = float(round(target.aim()))
    z = round(
        max(bare.request.enclosure.inside_m.height - 0.12, bare.prediction.basking.z_m + 0.1), 2
    )
    gain = float(
        bare.response(bare.heater(bare.lamps("ceramic_emitter", 1, z, above_lid=False)))[0][1]
    )
    for watts in HEATERS["ceramic_emitter"].watts:
        if room + gain * watts >= aim:
            margin = min(aim - target.low_value, target.high_value - aim) / target.width
            return [NightHeat(watts, aim, (aim - room) / (gain * watts), aim, margin)]
    top = room + gain * HEATERS["ceramic_emitter"].watts[-1]
    return [
        NightHeat(
            HEATERS["ceramic_emitter"].watts[-1],
            aim,
            1.0,
            top,
            (top - target.low_value) / target.width,
        )
    ]


def _covers(bare: BareEnclosure, kind: str, count: int, z_m: float) -> bool:
    """Whether the half-power cones of a row are as long as the body that basks under them, or as
    what it lies on: no fierce spot on one back.
    """
    angle = HEATERS[kind].beam_deg
    if (
        angle is None
        or bare.prediction.position.perch is not None
        or NeedKey.SURFACE_DAY not in bare.targets
    ):
        return True
    slab = bare.known.heat_model.slabs[bare.slab]
    cone = (
        2 * (HEATERS[kind].radius_m + (z_m - slab.top_m) * math.tan(math.radians(angle) / 2))
        + (count - 1) * LAMPS_APART_M
    )
    lead = bare.looked.occupants[bare.looked.lead]
    body = min(trunk_m(bare.looked.profile, lead.length_m), max(slab.length_m, slab.depth_m))
    return cone >= ENOUGH * body


def _outside(bare: BareEnclosure, key: NeedKey, values: Array) -> Array:
    target = bare.targets.get(key)
    if target is None:
        return np.zeros_like(values)
    return np.maximum(np.maximum(target.low_value - values, values - target.high_value), 0.0)


def _margin(bare: BareEnclosure, key: NeedKey, values: Array) -> Array:
    target = bare.targets.get(key)
    if target is None:
        return np.full_like(values, 0.5)
    return np.minimum(
        np.minimum(values - target.low_value, target.high_value - values) / target.width, 0.5
    )


def _limit(bare: BareEnclosure, key: NeedKey) -> float:
    target = bare.targets.get(key)
    return (
        target.limit_high.value if target is not None and target.limit_high is not None else np.inf
    )


def screen(bare: BareEnclosure, progress: Progress = lambda share, said: True) -> ScreeningResult:
    """Score every class, count, height, power and control with every tube.

    Needs are judged with the room by day; limits in the hottest room; and with the thermostat stuck
    there.
    """
    found: list[ScreenedSetup] = []
    misses: dict[int, ScreenedSetup] = {}
    screened = 0
    nearest: dict[NeedKey, float] = {}
    lit = tubes(bare)
    (night,) = nights(bare)
    room = bare.request.room
    held = NeedKey.SURFACE_DAY if NeedKey.SURFACE_DAY in bare.targets else NeedKey.WARM_AIR_DAY
    index = HEAT_NEEDS.index(held)
    set_c = round(bare.targets[held].aim() * 2) / 2 if held in bare.targets else 30.0
    top = bare.request.enclosure.inside_m.height
    warmth = np.array(
        [
            (
                np.zeros(3)
                if tube is None
                else tube_heat(bare, tube.power_w, tube.length_m, min(tube.z_m, top - 0.03))
            )
            for tube in lit
        ]
    )
    hours = bare.lamps(LAMP_KINDS[0], 1, top, above_lid=False)[0].hours_a_day
    uv_margin = np.array([0.5 if tube is None else min(tube.margin, 0.5) for tube in lit])
    uv_out = np.array([0.0 if tube is None else max(-tube.margin, 0.0) for tube in lit])
    if lit[0] is not None:
        nearest[NeedKey.UVI_DAY] = float(uv_out.min() * bare.targets[NeedKey.UVI_DAY].width)
    if NeedKey.AIR_NIGHT in bare.targets:
        target = bare.targets[NeedKey.AIR_NIGHT]
        nearest[NeedKey.AIR_NIGHT] = target.shortfall(night.air_c) * target.width
    limits = [
        _limit(bare, NeedKey.SURFACE_DAY),
        _limit(bare, NeedKey.WARM_AIR_DAY),
        _limit(bare, NeedKey.COOL_AIR_DAY),
    ]
    limits[0] = min(limits[0], NOT_SURFACE_C)
    open_lid = bare.request.enclosure.lid.mesh is not None
    for step, kind in enumerate(LAMP_KINDS):
        if not progress(step / len(LAMP_KINDS), HEATERS[kind].name):
            return ScreeningResult(tuple(found), tuple(misses.values()), screened, nearest, True)
        heater = HEATERS[kind]
        controls: tuple[Control, ...] = (
            ("none", "dimming") if heater.emits_light else ("none", "dimming", "on_off")
        )
        powers = np.array(heater.watts)
        for above in (False, True) if open_lid else (False,):
            for count in (1, 2):
                for z in bare.heights(
                    above_lid=above,
                    x_m=bare.place[0],
                    y_m=bare.place[1],
                    half_m=LAMPS_APART_M / 2 * (count - 1),
                ):
                    if not _covers(bare, kind, count, z):
                        continue
                    gain, _ = bare.response(
                        bare.heater(bare.lamps(kind, count, z, above_lid=above))
                    )
                    rise = powers[:, None] * gain  # (P, 3)
                    full = rise[:, None, :] + warmth[None, :, :]  # (P, V, 3)
                    for control in controls:
                        duty = np.ones(full.shape[:2])
                        summer_routine = duty
                        if control != "none":
                            lift = set_c - warmth[None, :, index]
                            duty = np.clip((lift - room.day_c) / rise[:, None, index], 0, 1)
                            summer_routine = np.clip(
                                (lift - room.summer_max_c) / rise[:, None, index], 0, 1
                            )
                        day = room.day_c + warmth[None] + duty[..., None] * rise[:, None, :]
                        hot = (
                            room.summer_max_c
                            + warmth[None]
                            + summer_routine[..., None] * rise[:, None, :]
                        )
                        stuck = room.summer_max_c + full
                        screened += duty.size
                        out = np.stack(
                            [_outside(bare, key, day[..., n]) for n, key in enumerate(HEAT_NEEDS)],
                            axis=-1,
                        )
                        for n, key in enumerate(HEAT_NEEDS):
                            if key in bare.targets:
                                nearest[key] = min(
                                    nearest.get(key, np.inf), float(out[..., n].min())
                                )
                        widths = [
                            bare.targets[key].width if key in bare.targets else 1.0
                            for key in HEAT_NEEDS
                        ]
                        past = np.maximum(hot - limits, 0).max(axis=-1) + np.maximum(
                            stuck - limits, 0
                        ).max(axis=-1)
                        shortfall = (
                            (out / widths).sum(axis=-1)
                            + uv_out[None, :]
                            + max(-night.margin, 0.0)
                            + past / 5.0
                        )
                        room_left = np.minimum.reduce(
                            [
                                *(
                                    _margin(bare, key, day[..., n])
                                    for n, key in enumerate(HEAT_NEEDS)
                                ),
                                np.minimum(limits[0] - stuck[..., 0], limits[2] - stuck[..., 2])
                                / (2 * FAILED_ON_MARGIN_K),
                                np.broadcast_to(uv_margin[None, :], duty.shape),
                                np.full(duty.shape, min(night.margin, 0.5)),
                            ]
                        )
                        devices = (
                            count
                            + (control != "none")
                            + (lit[0] is not None)
                            + 2 * (night.power_w > 0)
                        )
                        tube_w = np.array([0.0 if tube is None else tube.power_w for tube in lit])
                        kwh = (
                            (
                                (duty * powers[:, None] * count + tube_w[None, :]) * hours
                                + night.power_w * night.duty * (24 - hours)
                            )
                            * DAYS_PER_MONTH
                            / 1000
                        )
                        good = (
                            (out.max(axis=-1) <= SLACK_K)
                            & (past <= SLACK_K)
                            & (uv_out[None, :] == 0)
                            & (night.margin >= -1e-9)
                        )
                        picks = np.argwhere(good)
                        p_best, v_best = np.unravel_index(
                            int(np.argmin(shortfall)), shortfall.shape
                        )
                        best = (int(p_best), int(v_best))
                        if devices not in misses or shortfall[best] < misses[devices].shortfall:
                            picks = np.vstack([picks, [best]])
                        for p, v in picks:
                            row = ScreenedSetup(
                                kind,
                                count,
                                float(powers[p]),
                                z,
                                above,
                                control,
                                set_c,
                                lit[v],
                                night,
                                (float(day[p, v, 0]), float(day[p, v, 1]), float(day[p, v, 2])),
                                float(duty[p, v]),
                                (float(stuck[p, v, 0]), float(stuck[p, v, 2])),
                                float(shortfall[p, v]),
                                float(room_left[p, v]),
                                float(kwh[p, v]),
                                devices,
                            )
                            if good[p, v]:
                                found.append(row)
                            if devices not in misses or row.shortfall < misses[devices].shortfall:
                                misses[devices] = row
    progress(1.0, "looking at the best in full")
    return ScreeningResult(tuple(found), tuple(misses.values()), screened, nearest, False)
