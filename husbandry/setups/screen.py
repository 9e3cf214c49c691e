"""Thousands of setups scored at once: heat is linear in power once the films are frozen, so a table of responses answers for all."""

import math
from collections.abc import Callable
from dataclasses import dataclass
from typing import Literal, NamedTuple

import numpy as np
from numpy.typing import NDArray

from husbandry.box.equipment import HEATERS, UV_LAMPS
from husbandry.climate.uv import UvSource, uvi_at
from husbandry.planning.patch import ENOUGH, trunk_m
from husbandry.planning.predict import REFLECTOR_GAIN, wire_share_of
from husbandry.planning.request import HEATER_KINDS
from husbandry.setups.ground import APART_M, HEAT_NEEDS, Ground, tube_heat
from husbandry.species.needs import NeedKey

Array = NDArray[np.float64]
Control = Literal["none", "dimming", "on_off"]
Progress = Callable[[float, str], bool]
"""Told how far the search is [1] and with what; answers whether to go on."""
MONTH_DAYS = 30.4
SLACK_K = 0.7
"""What frozen films may err by: setups that miss by less are looked at in full [K]."""
STUCK_MARGIN_K = 10.0
"""A stuck thermostat so far under its limit counts as much headroom as the middle of a band (design choice) [K]."""
NOT_SURFACE_C = 60.0


class Tube(NamedTuple):
    """A UVB tube where its index comes out nearest the middle of the band."""

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
    """To the nearer end, in widths of the band; negative outside [1]."""


class Night(NamedTuple):
    """Dark heat for the night: none, or an emitter on a thermostat."""

    power_w: float
    set_c: float
    duty: float
    air_c: float
    margin: float


class Row(NamedTuple):
    """A setup as it was screened."""

    kind: str
    lamps: int
    power_w: float
    z_m: float
    above_lid: bool
    control: Control
    set_c: float
    tube: Tube | None
    night: Night
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
class Screened:
    """Everything that was looked at: those that may work, and the nearest misses."""

    rows: tuple[Row, ...]
    """Within the slack, unsorted."""
    misses: tuple[Row, ...]
    """The nearest by count of devices, for saying why not."""
    screened: int
    nearest: dict[NeedKey, float]
    """By need: how far the best setup for it alone stays outside its band [need's unit]."""
    stopped: bool


def tubes(ground: Ground) -> list[Tube | None]:
    """Tubes at their best heights; a single None where the animal needs no ultraviolet."""
    band = ground.bands.get(NeedKey.UVI_DAY)
    if band is None or (not band.low and not band.high) or band.high_value <= 0:
        return [None]
    inside, lid = ground.request.box.inside_m, ground.request.box.lid
    back = ground.outcome.basking
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
                    heights = np.array(ground.heights(above_lid=above, x_m=x, y_m=y, half_m=length / 2))
                    if not len(heights):
                        continue
                    source = UvSource(
                        lamp, x, y, 0.0, length, REFLECTOR_GAIN if reflector else 1.0, wire_share_of(ground.request) if above else 0.0
                    )  # fmt: skip
                    # One call for all heights: the tube stays, the animal's back goes down under it.
                    index = uvi_at(source, np.full(len(heights), back.x_m), back.y_m, back.z_m - heights)
                    margin = np.minimum(index - band.low_value, band.high_value - index) / band.width
                    n = int(np.argmax(margin))
                    found.append(
                        Tube(kind, length, watts, float(heights[n]), x, y, reflector, above, float(index[n]), float(margin[n]))
                    )
    return found or [None]


def nights(ground: Ground) -> list[Night]:
    """The weakest dark heat that reaches the band, or none where the room does."""
    band = ground.bands.get(NeedKey.AIR_NIGHT)
    room = ground.request.room.night_c
    if band is None:
        return [Night(0, 0, 0, room, 0.5)]
    if band.shortfall(room) == 0 or band.low is None or room > band.low_value:
        margin = min(room - band.low_value, band.high_value - room) / band.width
        return [Night(0, 0, 0, room, min(margin, 0.5))]
    aim = float(round(band.aim()))
    z = round(max(ground.request.box.inside_m.height - 0.12, ground.outcome.basking.z_m + 0.1), 2)
    gain = float(ground.response(ground.heater(ground.lamps("ceramic_emitter", 1, z, above_lid=False)))[0][1])
    for watts in HEATERS["ceramic_emitter"].watts:
        if room + gain * watts >= aim:
            margin = min(aim - band.low_value, band.high_value - aim) / band.width
            return [Night(watts, aim, (aim - room) / (gain * watts), aim, margin)]
    top = room + gain * HEATERS["ceramic_emitter"].watts[-1]
    return [Night(HEATERS["ceramic_emitter"].watts[-1], aim, 1.0, top, (top - band.low_value) / band.width)]


def _covers(ground: Ground, kind: str, count: int, z_m: float) -> bool:
    """Whether the half-power cones of a row are as long as the body that basks under them, or as what it lies on: no fierce spot on one back."""
    angle = HEATERS[kind].beam_deg
    if angle is None or ground.outcome.stance.perch is not None or NeedKey.SURFACE_DAY not in ground.bands:
        return True
    slab = ground.known.enclosure.slabs[ground.slab]
    cone = 2 * (HEATERS[kind].radius_m + (z_m - slab.top_m) * math.tan(math.radians(angle) / 2)) + (count - 1) * APART_M
    lead = ground.looked.occupants[ground.looked.lead]
    body = min(trunk_m(ground.looked.profile, lead.length_m), max(slab.length_m, slab.depth_m))
    return cone >= ENOUGH * body


def _outside(ground: Ground, key: NeedKey, values: Array) -> Array:
    band = ground.bands.get(key)
    if band is None:
        return np.zeros_like(values)
    return np.maximum(np.maximum(band.low_value - values, values - band.high_value), 0.0)


def _margin(ground: Ground, key: NeedKey, values: Array) -> Array:
    band = ground.bands.get(key)
    if band is None:
        return np.full_like(values, 0.5)
    return np.minimum(np.minimum(values - band.low_value, band.high_value - values) / band.width, 0.5)


def _limit(ground: Ground, key: NeedKey) -> float:
    band = ground.bands.get(key)
    return band.limit_high.value if band is not None and band.limit_high is not None else np.inf


def screen(ground: Ground, progress: Progress = lambda share, said: True) -> Screened:
    """Score every class, count, height, power and control with every tube.

    Needs are judged with the room by day; limits in the hottest room; and with the thermostat stuck there.
    """
    found: list[Row] = []
    misses: dict[int, Row] = {}
    screened = 0
    nearest: dict[NeedKey, float] = {}
    lit = tubes(ground)
    (night,) = nights(ground)
    room = ground.request.room
    held = NeedKey.SURFACE_DAY if NeedKey.SURFACE_DAY in ground.bands else NeedKey.WARM_AIR_DAY
    index = HEAT_NEEDS.index(held)
    set_c = round(ground.bands[held].aim() * 2) / 2 if held in ground.bands else 30.0
    top = ground.request.box.inside_m.height
    warmth = np.array([np.zeros(3) if tube is None else tube_heat(ground, tube.power_w, tube.length_m, min(tube.z_m, top - 0.03)) for tube in lit])  # fmt: skip
    hours = ground.lamps(HEATER_KINDS[0], 1, top, above_lid=False)[0].hours_a_day
    uv_margin = np.array([0.5 if tube is None else min(tube.margin, 0.5) for tube in lit])
    uv_out = np.array([0.0 if tube is None else max(-tube.margin, 0.0) for tube in lit])
    if lit[0] is not None:
        nearest[NeedKey.UVI_DAY] = float(uv_out.min() * ground.bands[NeedKey.UVI_DAY].width)
    if NeedKey.AIR_NIGHT in ground.bands:
        band = ground.bands[NeedKey.AIR_NIGHT]
        nearest[NeedKey.AIR_NIGHT] = band.shortfall(night.air_c) * band.width
    limits = [_limit(ground, NeedKey.SURFACE_DAY), _limit(ground, NeedKey.WARM_AIR_DAY), _limit(ground, NeedKey.COOL_AIR_DAY)]
    limits[0] = min(limits[0], NOT_SURFACE_C)
    open_lid = ground.request.box.lid.mesh is not None
    for step, kind in enumerate(HEATER_KINDS):
        if not progress(step / len(HEATER_KINDS), HEATERS[kind].name):
            return Screened(tuple(found), tuple(misses.values()), screened, nearest, True)
        heater = HEATERS[kind]
        controls: tuple[Control, ...] = ("none", "dimming") if heater.emits_light else ("none", "dimming", "on_off")
        powers = np.array(heater.watts)
        for above in (False, True) if open_lid else (False,):
            for count in (1, 2):
                for z in ground.heights(
                    above_lid=above, x_m=ground.place[0], y_m=ground.place[1], half_m=APART_M / 2 * (count - 1)
                ):
                    if not _covers(ground, kind, count, z):
                        continue
                    gain, _ = ground.response(ground.heater(ground.lamps(kind, count, z, above_lid=above)))
                    rise = powers[:, None] * gain  # (P, 3)
                    full = rise[:, None, :] + warmth[None, :, :]  # (P, V, 3)
                    for control in controls:
                        duty = np.ones(full.shape[:2])
                        summer_duty = duty
                        if control != "none":
                            lift = set_c - warmth[None, :, index]
                            duty = np.clip((lift - room.day_c) / rise[:, None, index], 0, 1)
                            summer_duty = np.clip((lift - room.summer_max_c) / rise[:, None, index], 0, 1)
                        day = room.day_c + warmth[None] + duty[..., None] * rise[:, None, :]
                        hot = room.summer_max_c + warmth[None] + summer_duty[..., None] * rise[:, None, :]
                        stuck = room.summer_max_c + full
                        screened += duty.size
                        out = np.stack([_outside(ground, key, day[..., n]) for n, key in enumerate(HEAT_NEEDS)], axis=-1)
                        for n, key in enumerate(HEAT_NEEDS):
                            if key in ground.bands:
                                nearest[key] = min(nearest.get(key, np.inf), float(out[..., n].min()))
                        widths = [ground.bands[key].width if key in ground.bands else 1.0 for key in HEAT_NEEDS]
                        past = np.maximum(hot - limits, 0).max(axis=-1) + np.maximum(stuck - limits, 0).max(axis=-1)
                        shortfall = (out / widths).sum(axis=-1) + uv_out[None, :] + max(-night.margin, 0.0) + past / 5.0
                        room_left = np.minimum.reduce([
                            *(_margin(ground, key, day[..., n]) for n, key in enumerate(HEAT_NEEDS)),
                            np.minimum(limits[0] - stuck[..., 0], limits[2] - stuck[..., 2]) / (2 * STUCK_MARGIN_K),
                            np.broadcast_to(uv_margin[None, :], duty.shape),
                            np.full(duty.shape, min(night.margin, 0.5)),
                        ])  # fmt: skip
                        devices = count + (control != "none") + (lit[0] is not None) + 2 * (night.power_w > 0)
                        tube_w = np.array([0.0 if tube is None else tube.power_w for tube in lit])
                        kwh = (
                            (duty * powers[:, None] * count + tube_w[None, :]) * hours + night.power_w * night.duty * (24 - hours)
                        ) * MONTH_DAYS / 1000  # fmt: skip
                        good = (
                            (out.max(axis=-1) <= SLACK_K) & (past <= SLACK_K) & (uv_out[None, :] == 0) & (night.margin >= -1e-9)
                        )
                        picks = np.argwhere(good)
                        p_best, v_best = np.unravel_index(int(np.argmin(shortfall)), shortfall.shape)
                        best = (int(p_best), int(v_best))
                        if devices not in misses or shortfall[best] < misses[devices].shortfall:
                            picks = np.vstack([picks, [best]])
                        for p, v in picks:
                            row = Row(
                                kind, count, float(powers[p]), z, above, control, set_c, lit[v], night,
                                (float(day[p, v, 0]), float(day[p, v, 1]), float(day[p, v, 2])), float(duty[p, v]),
                                (float(stuck[p, v, 0]), float(stuck[p, v, 2])), float(shortfall[p, v]), float(room_left[p, v]),
                                float(kwh[p, v]), devices,
                            )  # fmt: skip
                            if good[p, v]:
                                found.append(row)
                            if devices not in misses or row.shortfall < misses[devices].shortfall:
                                misses[devices] = row
    progress(1.0, "looking at the best in full")
    return Screened(tuple(found), tuple(misses.values()), screened, nearest, False)
