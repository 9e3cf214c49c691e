"""Lamps and heaters that may hang in an enclosure: by class, by a power or length that is sold, at
places out of reach. What is within reach is never a candidate.
"""

import itertools
import math
from collections.abc import Iterable, Iterator
from dataclasses import dataclass, replace
from typing import Any, Literal

import numpy as np
from numpy.typing import NDArray

from husbandry.advise.furniture import WARM_END
from husbandry.advise.panels_and_mats import MATS_M
from husbandry.build_plan.shopping import PRICES_EUR
from husbandry.climate.uv import UvSource, coverage, uvi_at
from husbandry.enclosure.equipment import HEATERS, UV_LAMPS, UvLampClass
from husbandry.findings.reach import UNDER_MESH_M
from husbandry.items.union import read_item
from husbandry.items.uv_lamps import COMPACT_KINDS
from husbandry.plan.notes import MAT_SUBSTRATE_M
from husbandry.predict.chance import NO_UVI
from husbandry.predict.light import lux_of
from husbandry.predict.predict import REFLECTOR_GAIN, EnclosurePoint, wire_share_of
from husbandry.setups.site import CLEAR_M, Site
from husbandry.species.approaches import QUESTIONS
from husbandry.targets.uv_sessions import UvTimes, uv_times
from husbandry.targets.verdicts import TargetRange

Probe = Literal["surface", "warm_air", "cool_air", ""]
DAY, NIGHT = ("08:00", "20:00"), ("20:00", "08:00")
"""When lamps burn in a first setup, and when they do not (common practice)."""
ALL_DAY = UvTimes(*DAY)
COIL_MOST_M = 0.35
"""Length up to which a coil lamp is taken beside a tube by whoever wants a tube: it leaves a longer
enclosure dark (common practice) [m].
"""
BAR_CLEAR_M = 0.06
"""Of a light bar over a back: it is warm to the hand, and burns nobody (design choice) [m]."""
BAR_HUNG_M = 0.4
"""Over a back, where a light bar hangs that would be far above it under the lid (common practice) [m]."""
BAR_BEFORE_M = 0.06
"""Before the lamps over a basking place, where such a bar hangs (design choice) [m]."""
LAMP_KINDS = (
    "halogen_flood",
    "halogen_spot",
    "incandescent_reflector",
    "infrared_projector",
    "ceramic_emitter",
    "infrared_panel",
)
APART_M = 0.18
"""Between two lamps of a pair (design choice) [m]."""
PAIR_FROM_M = 0.8
"""Enclosures of that length and more may have a pair (design choice) [m]."""
BANKS_FROM_M = {2: 1.6, 4: 1.6, 6: 3.0}
"""Length of enclosure from which so many air heaters may hang in a bank (design choice) [1: m]."""
TUBE_STRONG_FROM_M = 1.6
"""Length of enclosure from which a tube heater for rooms may lie in it (design choice) [m]."""
ALONG = (1 / 6, 0.35, 0.5, 0.66, 5 / 6)
"""Where along the enclosure air heaters are tried, from the warm end (design choice) [1]."""
NIGHT_ALONG = 0.35
"""The one place of a heater for the night alone: a night has no warm and no cool end to keep (design
choice) [1].
"""
TUBES_M = {
    20.0: 0.25,
    30.0: 0.3,
    40.0: 0.3,
    60.0: 0.45,
    80.0: 0.6,
    120.0: 0.9,
    180.0: 1.2,
    240.0: 1.5,
}
"""Length of a tube heater of each power (common practice, no source) [W: m]."""
TUBE_USUAL_W = 120.0
"""Stronger ones are for rooms and sheds (common practice, no source) [W]."""
OVER_MESH_M = (0.02, 0.10, 0.22)
"""Heights over a mesh lid that are tried (design choice) [m]."""
OVER_MESH_BELOW_M = 0.8
"""In enclosures of less length an emitter for the air may lie on the mesh where none has room under it
(design choice) [m].
"""
MAT_LONG = 0.45
"""Of the length that a mat may lie under: the other end stays cool (common practice) [1]."""
FLOODS_MOST_W = 80.0
"""The strongest combined lamp that is offered (design choice) [W]."""
UV_STEP_M = 0.02
"""Between heights at which an ultraviolet lamp is tried (design choice) [m]."""
INSIDE = (1.04, 0.96)
"""A little inside both ends of the target range (design choice) [1]."""


def lamp_price_eur(kind: str, power_w: float) -> float:
    """What the programme weighs: a guide price that grows a little with the power [€]."""
    return PRICES_EUR[kind] * (0.8 + power_w / 300)


@dataclass(frozen=True)
class Means:
    """What a setup may be made of."""

    excluded: frozenset[str] = frozenset()
    """Kinds of lamps and heaters that are not allowed."""
    owned: frozenset[tuple[str, float]] = frozenset()
    """Kind and power [W] of what need not be bought."""
    only_owned: bool = False
    """Whether nothing else is taken."""
    not_bought: frozenset[str] = frozenset()
    """Kinds of which only what is there is taken."""
    must: frozenset[tuple[str, float]] = frozenset()
    """Kind and power [W] of what is there and has to be used."""

    def powers(self, kind: str, sold_w: tuple[float, ...]) -> tuple[float, ...]:
        """Powers of a kind that may be bought [W]."""
        if kind in self.excluded | self.not_bought or self.only_owned:
            return ()
        return sold_w

    def owns(self, kind: str) -> tuple[float, ...]:
        """Powers of what is there of a kind [W], the weakest first."""
        if kind in self.excluded:
            return ()
        return tuple(sorted(power for own, power in self.owned if own == kind))


ANYTHING = Means()
"""All that is sold may be taken (design choice)."""


@dataclass(frozen=True)
class HeaterCandidate:
    """A heater, or a pair of lamps, at a place."""

    kind: str
    power_w: float
    """Of each: the strongest that may hang there, until one is chosen."""
    x_m: float
    y_m: float
    z_m: float
    above_lid: bool = False
    probe: Probe = ""
    """What its thermostat holds; empty without one."""
    count: int = 1
    length_m: float | None = None
    mat_m: tuple[float, float] | None = None
    """Length and depth of a mat under the substrate."""
    night_only: bool = False
    sold_w: tuple[float, ...] = ()
    """Powers among which it is chosen; empty where it is this one."""
    owned: bool = False
    """Whether it is there already and costs nothing."""
    lux: float = 0.0
    """Of a bar of light: on the basking animal's back [lx]."""

    def sized(self, power_w: float) -> "HeaterCandidate":
        """The least that is sold of that power, at the same place."""
        enough = [watts for watts in self.sold_w if watts >= power_w - 0.01]
        return replace(self, power_w=min(enough, default=self.power_w), sold_w=())

    @property
    def dark(self) -> bool:
        """Whether it may burn at night."""
        return not HEATERS[self.kind].emits_light

    @property
    def dims(self) -> bool:
        """Whether a thermostat may give it a share of its power."""
        return HEATERS[self.kind].dimmable

    @property
    def place(self) -> tuple[Any, ...]:
        """All that decides where a watt of it lands."""
        at = (self.x_m, self.y_m, self.z_m, self.above_lid)
        more = (self.count, self.length_m, self.mat_m, self.night_only, self.owned)
        fixed = self.power_w if self.owned or not self.dims else 0.0
        return (self.kind, *at, *more, fixed)

    @property
    def price_per_w(self) -> float:
        """What a stronger one costs more, as a guide [€/W]."""
        return self.count * PRICES_EUR[self.kind] / 300

    @property
    def price_eur(self) -> float:
        """A guide, with its thermostat."""
        one = lamp_price_eur(self.kind, self.power_w)
        return self.count * one + PRICES_EUR["thermostat"] * self.dims

    def items(self, name: str, power_w: float | None = None, **more: Any) -> list[dict[str, Any]]:
        """As items of a request; `power_w` of each instead of what is sold."""
        found = []
        for n in range(self.count):
            x = self.x_m + (n - (self.count - 1) / 2) * APART_M
            item: dict[str, Any] = {
                "id": f"{name}-{n + 1}",
                "kind": self.kind,
                "power_w": round(self.power_w if power_w is None else power_w, 4),
                "at_m": [round(x, 4), round(self.y_m, 4), round(self.z_m, 4)],
                **more,
            }
            if self.mat_m is not None:
                item["size_m"] = [*self.mat_m, 0.005]
            else:
                item["above_lid"] = self.above_lid
            if self.length_m is not None:
                item["length_m"] = self.length_m
            found.append(item)

        return found


@dataclass(frozen=True)
class UvCandidate:
    """A lamp for ultraviolet at the height that suits its class."""

    kind: str
    power_w: float
    x_m: float
    y_m: float
    z_m: float
    above_lid: bool
    length_m: float | None
    reflector: bool
    uvi: float
    """At the basking animal's back [UVI]."""
    shade: float
    """Share of the length in shade [1]."""
    covered: float
    """Share of the length inside the target range [1]."""
    reached: float = 0.0
    """At the brightest place that can be climbed to, over the limit there [1]."""
    times: UvTimes = ALL_DAY
    """When it burns."""

    @property
    def place(self) -> tuple[Any, ...]:
        """All that decides where a watt of it lands."""
        return (
            self.kind,
            self.x_m,
            self.y_m,
            self.z_m,
            self.above_lid,
            1,
            self.length_m,
            self.reflector,
        )

    @property
    def price_eur(self) -> float:
        """A guide."""
        return lamp_price_eur(self.kind, self.power_w)

    def items(self, name: str, power_w: float | None = None) -> list[dict[str, Any]]:
        """As items of a request."""
        item: dict[str, Any] = {
            "id": name,
            "kind": self.kind,
            "power_w": self.power_w if power_w is None else power_w,
            "at_m": [round(self.x_m, 4), round(self.y_m, 4), round(self.z_m, 4)],
            "above_lid": self.above_lid,
            "hours_run": 100,
            **self.times.as_item(),
        }
        if self.length_m:
            item |= {"length_m": self.length_m, "reflector": self.reflector}

        return [item]


def heater_candidates(site: Site, means: Means) -> list[HeaterCandidate]:
    """Every heater that may hang or lie in an enclosure, in a fixed order."""
    found = [
        *_over_the_basking_place(site),
        *_for_the_air(site),
        *_tube_heaters(site),
        *_light_bars(site),
        *_mats(site),
    ]
    allowed = []
    for one in dict.fromkeys(found):
        powers = means.powers(one.kind, one.sold_w or (one.power_w,))
        if powers:
            sold = powers if one.sold_w else ()
            allowed.append(replace(one, power_w=max(powers), sold_w=sold))
        if one.count == 1 or means.only_owned:
            allowed += _owned(one, means)

    return allowed


def _owned(one: HeaterCandidate, means: Means) -> list[HeaterCandidate]:
    """The same place with what is there already."""
    have = means.owns(one.kind)
    if not one.sold_w:
        return [replace(one, owned=True)] if one.power_w in have else []
    return [replace(one, power_w=power, sold_w=(), owned=True) for power in have]


def _heights(site: Site) -> Iterator[tuple[float, bool]]:
    """Heights over the basking place, inside and over the mesh, and whether over the mesh."""
    low = site.spot.z_m + site.back_m + CLEAR_M
    if site.ceiling_m - low > 0.06:
        yield from ((round(float(z), 3), False) for z in np.linspace(low, site.ceiling_m, 3))
    elif site.ceiling_m >= low:
        yield round(site.ceiling_m, 3), False
    if site.has_mesh:
        high = site.inside[2]
        yield from ((round(high + up, 3), True) for up in OVER_MESH_M if high + up >= low)


def _over_the_basking_place(site: Site) -> Iterator[HeaterCandidate]:
    long = site.inside[0]
    spot = site.spot
    heights = list(_heights(site))
    inside = [z for z, above in heights if not above]
    for kind in LAMP_KINDS:
        for z, above in heights:
            if kind == "infrared_panel" and (above or z != inside[-1]):
                continue
            for count in _counts(long):
                first = spot.x_m - APART_M / 2 * (count - 1)
                if first > 0.04 and site.free(spot.x_m, spot.y_m, z):
                    at = (spot.x_m, spot.y_m, z)
                    yield _any_power(HeaterCandidate(kind, 0.0, *at, above, "surface", count))


def _for_the_air(site: Site) -> Iterator[HeaterCandidate]:
    long, deep, high = site.inside
    emitters_over = site.has_mesh and long < OVER_MESH_BELOW_M
    for share in ALONG:
        x = round(share * long, 3)
        probe = _end(share)
        for kind, z in (
            ("ceramic_emitter", min(high - 0.12, site.ceiling_m)),
            ("infrared_panel", high - 0.03),
        ):
            clear = z > site.choice.substrate_m + 0.12 and 0.05 < x < long - 0.05
            above = not (clear and site.free(x, 0.5 * deep, z))
            if above and not (emitters_over and kind == "ceramic_emitter"):
                continue
            at = (x, round(0.5 * deep, 3), round(high + OVER_MESH_M[0] if above else z, 3), above)
            for count in (1, *(n for n, from_m in BANKS_FROM_M.items() if long > from_m)):
                yield _any_power(HeaterCandidate(kind, 0.0, *at, probe=probe, count=count))
            if share == NIGHT_ALONG:
                yield _any_power(HeaterCandidate(kind, 0.0, *at, probe=probe, night_only=True))


def _counts(long_m: float) -> tuple[int, ...]:
    """Lamps in a row that are tried over a basking place."""
    return tuple(n for n in (1, 2, 3) if n == 1 or long_m > n * PAIR_FROM_M / 2)


def _any_power(one: HeaterCandidate) -> HeaterCandidate:
    """A place for any of the powers that its class is sold in."""
    sold = HEATERS[one.kind].watts
    return replace(one, power_w=sold[-1], sold_w=sold)


def _end(share: float) -> Probe:
    return "warm_air" if share <= 0.5 else "cool_air"


def _tube_heaters(site: Site) -> Iterator[HeaterCandidate]:
    long, deep, high = site.inside
    over = site.spot.z_m + site.back_m + CLEAR_M

    for share in ALONG:
        for power, length in TUBES_M.items():
            if length + 0.02 > long or (power > TUBE_USUAL_W and long < TUBE_STRONG_FROM_M):
                continue
            x = round(min(max(share * long, length / 2 + 0.01), long - length / 2 - 0.01), 3)

            for z in (high - 0.07, site.choice.substrate_m + 0.06):
                beside = z > over or abs(x - site.spot.x_m) - length / 2 > 2 * CLEAR_M

                if not beside or not site.free(x, deep - 0.04, z, length / 2):
                    continue
                at = (x, round(deep - 0.04, 3), round(z, 3))
                probe = _end(x / long)
                yield HeaterCandidate("tube_heater", power, *at, probe=probe, length_m=length)

                if share == NIGHT_ALONG and probe == "warm_air":
                    yield HeaterCandidate(
                        "tube_heater", power, *at, probe=probe, length_m=length, night_only=True
                    )


def _light_bars(site: Site) -> Iterator[HeaterCandidate]:
    bare = site.request([])
    spot = site.spot
    back = EnclosurePoint(spot.x_m, spot.y_m, spot.z_m + site.back_m)
    long, deep, high = site.inside
    if high - 0.04 <= site.spot.z_m + site.back_m + BAR_CLEAR_M or long < 0.34:
        return
    length = round(min(0.3, 0.5 * long), 3)
    top = high - 0.035
    hung = spot.z_m + site.back_m + BAR_HUNG_M
    before = round(min(0.3 * deep, deep - 0.03), 3)
    places = [(before, top)]
    if hung + BAR_HUNG_M < top:
        places.append((round(spot.y_m - BAR_BEFORE_M, 3), hung))
    for share in (WARM_END, 0.35, 0.66):
        x = round(min(max(share * long, 0.17), long - 0.17), 3)
        for power, (y, z) in itertools.product(HEATERS["led_bar"].watts[:4], places):
            bar = HeaterCandidate("led_bar", power, x, y, round(z, 3), length_m=length)
            lux = lux_of(read_item(bar.items("bar")[0]), bare, back)
            yield replace(bar, lux=lux)


def _mats(site: Site) -> Iterator[HeaterCandidate]:
    profile = site.profile
    (long, deep, _) = site.inside
    suits = profile.group == "snake" or profile.activity != "diurnal"
    if site.choice.substrate_m > MAT_SUBSTRATE_M or not suits or profile.amphibian:
        return
    if profile.body.perch_share or profile.habit == "aquatic":
        return
    for power, size in MATS_M.items():
        for a, b in (size, size[::-1]):
            if a > MAT_LONG * long or b > deep:
                continue
            x = round(max(site.spot.x_m, a / 2 + 0.005), 3)
            yield HeaterCandidate(
                "heat_mat", power, x, site.spot.y_m, 0.0, probe="surface", mat_m=(a, b)
            )


def uv_candidates(
    site: Site, target: TargetRange | None, back: EnclosurePoint, means: Means
) -> list[UvCandidate]:
    """Each class and length of ultraviolet lamp at the height that suits it.

    Parameters
    ----------
    back : EnclosurePoint
        The basking animal's back.
    """
    if target is None or target.low_value <= 0:
        return []
    found: list[UvCandidate] = []
    bare = site.request([])
    times = uv_times(bare, DAY)
    wire = wire_share_of(bare)
    for kind, lamp in UV_LAMPS.items():
        warms = not lamp.is_tube and kind not in COMPACT_KINDS
        if warms and times.also_on:
            continue  # what warms as well burns with the day
        if warms and not site.basks_in_light and not means.owns(kind):
            continue  # bright and hot, over what looks for warmth in the dark
        for power, length in _sizes(lamp, site.inside[0]):
            if means.powers(kind, (power,)) or power in means.owns(kind):
                found += _uv_at_best(site, target, back, lamp, power, length, wire)

    coils = [one for one in found if one.kind in COMPACT_KINDS]
    chosen = QUESTIONS["uv-lamp"].chosen(bare.approaches_of(0)).slug
    tubes = [one for one in found if one.length_m]
    if chosen == "tube" and tubes and site.inside[0] > COIL_MOST_M:
        found = [one for one in found if one not in coils]

    return [replace(one, times=times) for one in found]


def _sizes(lamp: UvLampClass, long_m: float) -> list[tuple[float, float]]:
    """Powers and lengths that fit; lamps that are no tubes have no length."""
    if not lamp.is_tube:
        watts = HEATERS[lamp.kind].watts
        return [(power, 0.0) for power in watts if power <= FLOODS_MOST_W]
    fitting = [pair for pair in lamp.lengths if pair[1] <= long_m - 0.01]
    return sorted(fitting, key=lambda pair: abs(pair[1] - 0.5 * long_m))[:3]


def _uv_at_best(
    site: Site,
    target: TargetRange,
    back: EnclosurePoint,
    lamp: UvLampClass,
    power: float,
    length: float,
    wire: float,
) -> Iterable[UvCandidate]:
    long, deep, high = site.inside
    x = round(min(max(back.x_m, length / 2 + 0.002), long - length / 2 - 0.002), 4)
    y = round(min(back.y_m + 0.07, deep - 0.03), 4)
    aim = math.sqrt(target.low_value * min(target.high_value, 3 * target.low_value))

    for reflector in (False, True) if lamp.is_tube else (False,):
        for above in (False, True) if site.has_mesh else (False,):
            low = high + 0.01 if above else site.choice.substrate_m + 0.1
            top = high + 0.25 if above else high - 0.03
            gain = REFLECTOR_GAIN if reflector else 1.0
            heights = np.round([*np.arange(low, top, UV_STEP_M), top], 3)
            source = UvSource(lamp, x, y, top, length, gain, wire if above else 0.0)
            # a lamp that hangs lower is the same lamp seen from a back that is as much higher
            values = uvi_at(
                source, np.full(len(heights), back.x_m), back.y_m, back.z_m + top - heights
            )
            off = np.abs(np.log(np.maximum(values, NO_UVI) / aim))
            reaches = _reached(site, source, heights, target)
            past = reaches > 1

            # within the limit wherever it can climb, then nearest to the aim
            for n in np.lexsort((off, past)):
                z, uvi = float(heights[n]), float(values[n])
                if not INSIDE[0] * target.low_value <= uvi <= INSIDE[1] * target.high_value:
                    continue
                if not above and not site.free(x, y, z, length / 2):
                    continue
                source = replace(source, z_m=z)
                reached = float(reaches[n])
                ends = (target.low_value, target.high_value)
                seen = coverage((source,), long, back.y_m, back.z_m, *ends)
                at = (x, y, z, above, length or None, reflector)
                yield UvCandidate(lamp.kind, power, *at, uvi, seen.shade, seen.in_range, reached)
                break


def _reached(
    site: Site, source: UvSource, heights: NDArray[np.float64], target: TargetRange
) -> NDArray[np.float64]:
    """The brightest place that can be climbed to with the lamp at each height, over the limit [1]."""
    if target.limit_high is None:
        return np.zeros(len(heights))
    tops = [
        body["at_m"][2] + body["size_m"][2] + site.back_m
        for body in site.bodies
        if body["kind"] in {"branch", "slab", "hide"}
        and abs(body["at_m"][0] - source.x_m) < (body["size_m"][0] + source.length_m) / 2
    ]
    if site.clings and heights.min() > site.inside[2]:
        tops.append(site.inside[2] - UNDER_MESH_M)
    if not tops:
        return np.zeros(len(heights))
    # again a lamp that hangs lower is the same lamp seen from places that are as much higher
    seen_from = source.z_m - heights[:, None] + np.array(tops)
    values = uvi_at(source, np.full(seen_from.shape, source.x_m), source.y_m, seen_from)

    return np.asarray(values.max(axis=1) / target.limit_high.value)
