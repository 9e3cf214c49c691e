"""Along the floor: where warmth and ultraviolet meet over the whole body, and whether there is warm
shade, cool light, cool shade and a warm hide.

Method: docs/methods/judging.md, "Zones".
"""

from collections.abc import Sequence
from itertools import groupby
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from husbandry.climate.uv import SHADE_SHARE, total_uvi
from husbandry.derivation import Document
from husbandry.documents.result import NeedState
from husbandry.errors import ImpossibleStateError
from husbandry.findings.furnishing import HALF, MIDDLE, from_warm_end
from husbandry.items.furnishings import Hide
from husbandry.predict.predict import Prediction
from husbandry.predict.warm_patch import ENOUGH, trunk_m
from husbandry.species.needs import NeedKey
from husbandry.species.profile import Profile

POINTS = 60
"""Places along the floor that are looked at (design choice)."""
ZONE_NEAR_K = 0.5
"""Air within so much of a target range's end counts as warm or cool: less than an air probe tells
(design choice) [K].
"""
Warmth = Literal["basking", "warm", "between", "cool"]
Light = Literal["too strong", "in range", "weak", "shade"]
LIGHTS: tuple[Light, ...] = ("too strong", "in range", "weak", "shade")
"""The strongest first."""


class ZoneStretch(Document):
    """A part of the length."""

    from_m: float
    to_m: float
    kind: str


class Zones(Document):
    """The length of an enclosure by warmth and by ultraviolet, at the height where its animal
    lives.
    """

    length_m: float
    warmth: tuple[ZoneStretch, ...]
    light: tuple[ZoneStretch, ...]
    """Empty where the species has no need of ultraviolet."""
    shares: dict[str, float]
    """Of the length, by warmth [1]."""
    body_m: float
    """Without its tail; a snake as it rests [m]."""
    sunny_m: float
    """The longest stretch that is warm or basking and has its ultraviolet [m]."""
    sun_covers_body: bool
    warm_shade: bool
    cool_light: bool
    cool_shade: bool
    warm_hide: bool
    hides: int
    hide_in_warm_half: bool = False
    """Whether a hide lies there, warm or not; as `furnishing` counts halves."""
    warm_light: Light | None = None
    """The strongest ultraviolet where it is warm; None where nothing is warm or none is needed."""


def _stretches(edges: NDArray[np.float64], kinds: Sequence[str]) -> tuple[ZoneStretch, ...]:
    found = []
    at = 0
    for kind, group in groupby(kinds):
        count = len(list(group))
        found.append(
            ZoneStretch(
                from_m=round(float(edges[at]), 3),
                to_m=round(float(edges[at + count]), 3),
                kind=kind,
            )
        )
        at += count
    return tuple(found)


def _basking(prediction: Prediction, x: NDArray[np.float64], low_c: float) -> NDArray[np.bool_]:
    """Where a surface is warm enough to bask on."""
    found: NDArray[np.bool_] = np.zeros(len(x), dtype=bool)
    climbs = prediction.position.perch is not None
    for n, slab in enumerate(prediction.day.heat_model.slabs):
        if slab.is_perch and not climbs:
            continue
        along, _ = slab.cells()
        warm = prediction.day.surface_map(n).max(axis=1) >= low_c
        inside = np.abs(x - slab.x_m) <= slab.length_m / 2
        found |= inside & (np.interp(x, along, warm.astype(float)) >= 0.5)
    return found


def zones_of(
    prediction: Prediction, needs: Sequence[NeedState], profile: Profile, length_m: float
) -> Zones | None:
    """Look along an enclosure; None for what lives in water, or has no target range of air to look
    by.

    Parameters
    ----------
    length_m : float
        Of the largest animal's body [m].
    """
    by_key = {need.key: need for need in needs}
    warm = by_key.get(NeedKey.WARM_AIR_DAY)
    cool = by_key.get(NeedKey.COOL_AIR_DAY)
    if (
        profile.habit == "aquatic"
        or warm is None
        or cool is None
        or warm.low is None
        or cool.high is None
    ):
        return None
    enclosure = prediction.enclosure
    edges = np.linspace(0, enclosure.length_m, POINTS + 1)
    x = (edges[1:] + edges[:-1]) / 2
    air = np.array(
        [prediction.day.value(prediction.day.air(float(at), prediction.living_m)) for at in x]
    )
    surface = by_key.get(NeedKey.SURFACE_DAY)
    basks = (
        _basking(prediction, x, surface.low.value)
        if surface is not None and surface.low is not None
        else np.zeros(POINTS, dtype=bool)
    )
    is_warm = air >= warm.low.value - ZONE_NEAR_K
    is_cool = (air <= cool.high.value + ZONE_NEAR_K) & ~is_warm
    warmth: list[Warmth] = [
        "basking" if b else "warm" if w else "cool" if c else "between"
        for b, w, c in zip(basks, is_warm, is_cool, strict=True)
    ]
    dark = np.zeros(POINTS, dtype=bool)
    hides = [item for item in prediction.request.items if isinstance(item, Hide)]
    for hide in hides:
        if hide.size_m is None:
            raise ImpossibleStateError("missing: hide.size_m")
        dark |= np.abs(x - hide.at_m[0]) <= hide.size_m[0] / 2
    uv = by_key.get(NeedKey.UVI_DAY)
    light = _light(prediction, uv, x) if uv is not None else []
    shade = (
        np.array([kind == "shade" for kind in light]) | dark
        if light
        else np.ones(POINTS, dtype=bool)
    )
    in_range = (
        np.array([kind == "in range" for kind in light]) if light else np.zeros(POINTS, dtype=bool)
    )
    lit = ~np.array([kind == "shade" for kind in light]) if light else np.zeros(POINTS, dtype=bool)
    sunny = (basks | is_warm) & in_range
    body = trunk_m(profile, length_m)
    longest = _longest(sunny) * enclosure.length_m / POINTS
    warm_hides = [
        hide
        for hide in hides
        if bool(
            (
                is_warm
                & (np.abs(x - hide.at_m[0]) <= max(hide.size_m[0] if hide.size_m else 0, 0.05) / 2)
            ).any()
        )
    ]
    return Zones(
        length_m=enclosure.length_m,
        warmth=_stretches(edges, warmth),
        light=_stretches(edges, light) if light else (),
        shares={
            kind: warmth.count(kind) / POINTS for kind in ("basking", "warm", "between", "cool")
        },
        body_m=body,
        sunny_m=longest,
        sun_covers_body=longest >= ENOUGH * min(body, enclosure.length_m),
        warm_shade=bool((is_warm & shade).any()),
        cool_light=bool((is_cool & lit).any()),
        cool_shade=bool((is_cool & shade).any()),
        warm_hide=bool(warm_hides),
        hides=len(hides),
        hide_in_warm_half=any(
            from_warm_end(hide, prediction.request, prediction.warm_left) <= HALF + MIDDLE
            for hide in hides
        ),
        warm_light=_strongest(light, basks | is_warm),
    )


def _light(prediction: Prediction, need: NeedState, x: NDArray[np.float64]) -> list[Light]:
    low = need.low.value if need.low else 0.0
    high = need.high.value if need.high else low * 2
    uvi = total_uvi(
        prediction.uv,
        x,
        prediction.basking.y_m,
        np.full(len(x), prediction.living_m),
        prediction.blockers,
    )
    dim = SHADE_SHARE * (low + high) / 2
    return [
        "too strong" if u > high else "in range" if u >= low else "weak" if u >= dim else "shade"
        for u in uvi
    ]


def _strongest(light: Sequence[Light], where: NDArray[np.bool_]) -> Light | None:
    """The strongest light among the places that are marked."""
    found = {kind for kind, there in zip(light, where, strict=True) if there} if light else set()
    return next((kind for kind in LIGHTS if kind in found), None)


def _longest(flags: NDArray[np.bool_]) -> int:
    best = here = 0
    for flag in flags:
        here = here + 1 if flag else 0
        best = max(best, here)
    return best
