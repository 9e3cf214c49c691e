"""Dishes, pools and soaks: can it leave the water, how many litres are there, and how often are
they changed. Method: docs/methods/water.md.
"""

import math
from collections.abc import Mapping, Sequence
from typing import NamedTuple

from husbandry.climate.pool import (
    AMMONIA_MG_L,
    LONGEST_D,
    LONGEST_UNFILTERED_D,
    NITRATE_MG_L,
    PROTEIN,
    free_ammonia_share,
)
from husbandry.climate.vapour import rh_elsewhere
from husbandry.derivation import Derivation, Source, named_value
from husbandry.documents.request import Request
from husbandry.documents.result import AnimalFound, Occupant
from husbandry.enclosure.equipment import HEATERS
from husbandry.enclosure.walking_room import DISH_BL
from husbandry.errors import ImpossibleStateError
from husbandry.feeding.meals import MealPlan
from husbandry.findings.furnishing_findings import FurnishingFinding
from husbandry.items.furnishings import Branch, Dish, Pool, Slab
from husbandry.items.union import Item
from husbandry.methods import derivation_of, find
from husbandry.predict.pool_water import water_share_m
from husbandry.predict.predict import Prediction
from husbandry.species.care import Soak
from husbandry.species.needs import NeedKey
from husbandry.species.profile import Profile
from husbandry.species.selection import speaking

WADED_M = 0.05
"""Shallower water is waded in, not swum in (common practice, no source) [m]."""
BASIN_FIT = 0.8
"""Water may be so much smaller than its species’ rule on each side: bodies bend (design choice)
[1].
"""
WATER_SHARE = 0.8
"""Of a dish's height that stands full (common practice) [1]."""
DEEPER = 1.3
"""Than its back stands high: a head is held above that (design choice) [1]."""
CLIMBED = 2.0
"""It climbs over what is no higher than so many heights of its back (design choice) [1]."""
SWIMMERS = frozenset({"frog", "turtle", "snake"})
UNDER_LAMP_M = 0.12
"""A dish so near a lamp's axis stands in its heat (design choice) [m]."""
DEEP_M = 0.2
"""Water deeper than that presses on panes that nobody calculated for it (common practice) [m]."""
LABEL_ML, LABEL_L = 5.0, 40.0
"""What labels of conditioners often say, until the keeper types their own (common practice) [ml,
l].
"""
BESIDE_M = 0.03
"""What stands so near the water's edge leads out of it (design choice) [m]."""
INTO_WATER = {"aquatic": 1.0, "semi-aquatic": 0.7}
"""Share of what it excretes that reaches its water, by habit; of others a third (common practice:
many go into their water) [1].
"""
ELSEWHERE = 0.33
"""Share of the droppings of an animal of another habit that falls into its water (design choice)
[1].
"""
PH = 7.5
"""Of tap water, when nobody measured (common practice) [1]."""
CHANGED_SHARE = 0.3
"""At once, of filtered water: what lives in the filter bears that (common practice) [1]."""
TURNOVER: dict[str, tuple[float, float]] = {"turtle": (2.0, 5.0)}
"""Times that a filter turns the water over in an hour, by habit (common practice, no source)
[1/h].
"""
GENTLE = (0.5, 2.0)
"""Volumes an hour through a filter: turtles foul much, newts, toads and frogs want still water
(common practice) [1/h].
"""
_PRACTICE = Source(kind="common practice")


def water_m(item: Item) -> float:
    """Depth of the water when it stands full [m]."""
    if item.sides_m is None:
        raise ImpossibleStateError("missing: item.sides_m")
    return water_share_m(item) if isinstance(item, Pool) else WATER_SHARE * item.sides_m[2]


def litres_of(item: Item) -> float:
    """Of a full pool, or of a round dish [l]."""
    if item.sides_m is None:
        raise ImpossibleStateError("missing: item.sides_m")
    outline = 1.0 if isinstance(item, Pool) else math.pi / 4
    return 1000 * outline * item.sides_m[0] * item.sides_m[1] * water_m(item)


def volume_of(item: Item) -> Derivation:
    """The same with its derivation."""
    if item.sides_m is None:
        raise ImpossibleStateError("missing: item.sides_m")
    rule = (
        "Length × depth × 0.9 of its height"
        if isinstance(item, Pool)
        else "Length × depth × π/4 of a round dish × 0.8 of its height"
    )
    command = (
        f"plan FILE.json --number /predictions/pool_litres_{item.id}/value"
        if isinstance(item, Pool)
        else ""
    )
    sides = zip(("length", "depth", "height"), item.sides_m, strict=True)
    return Derivation(
        value=litres_of(item),
        unit="l",
        rule=f"{rule}, as it stands full.",
        inputs=tuple(named_value(name, side, "m") for name, side in sides),
        sources=(_PRACTICE,),
        command=command,
    )


def air_over(prediction: Prediction, predictions: Mapping[str, Derivation]) -> tuple[float, float]:
    """Temperature and humidity at the cool end by day: predicted where they can be, else the room's
    vapour warmed [°C, %].
    """
    room = prediction.request.room
    cool = prediction.centre(NeedKey.COOL_AIR_DAY)
    temp = cool if cool is not None else room.day_c
    known = predictions.get("humidity_day")
    return temp, (
        known.value
        if known is not None
        else min(rh_elsewhere(room.rh_pct, room.day_c, temp), 100.0)
    )


def waters(request: Request) -> list[Item]:
    """Dishes and pools."""
    return [item for item in request.items if item.holds_water and item.sides_m]


# --- what stands wrong ----------------------------------------------------------------------------


def wrong_waters(request: Request, profile: Profile, length_m: float) -> list[FurnishingFinding]:
    """Too deep, too small, too hot, without a way out, or missing.

    Parameters
    ----------
    length_m : float
        Of the largest animal's body, in the profile's own kind of length [m].
    """
    found = []
    back_m = profile.body.back_height_bl * length_m
    lamps = [
        t
        for t in request.items
        if t.is_heater and t.kind in HEATERS and HEATERS[t.kind].beam_share and not t.sides_m
    ]
    for water in waters(request):
        deep = water_m(water)
        most = DEEPER * max(back_m, 0.015)
        left = profile.habit == "aquatic" or _way_out(request, water, back_m)
        high = (
            water.at_m[2] + water.sides_m[2] - request.enclosure.substrate.depth_m
            if water.sides_m
            else 0.0
        )
        if profile.group not in SWIMMERS and deep > most and not left:
            text = (
                f"A {water.kind} is deeper than its back stands high: a stone or slope in it, so"
                " that it gets out."
            )
            found.append(FurnishingFinding(f"{water.kind} deep", water.id, text, deep, most))
        elif isinstance(water, Pool) and not left and _rim_m(request, water) > back_m:
            text = (
                "No way leads out of a pool: a stone, a branch or a bank in it. Swimmers drown when"
                " they tire."
            )
            found.append(
                FurnishingFinding("no way out", water.id, text, _rim_m(request, water), back_m)
            )
        elif isinstance(water, Pool) and not left and high > CLIMBED * max(back_m, 0.015):
            text = (
                "A pool stands so high that it does not get in: let it into the substrate, or a"
                " stone or root that leads up to its rim."
            )
            found.append(
                FurnishingFinding("no way in", water.id, text, high, CLIMBED * max(back_m, 0.015))
            )
        if isinstance(water, Dish) and any(
            math.dist(water.at_m[:2], lamp.at_m[:2]) < UNDER_LAMP_M for lamp in lamps
        ):
            found.append(
                FurnishingFinding(
                    "dish hot",
                    water.id,
                    "A dish stands under a lamp: its water warms, fouls and is gone by evening.",
                )
            )
    return [*found, *_lies_in(request, profile, length_m), *_lives_in(request, profile, length_m)]


def _rim_m(request: Request, pool: Item) -> float:
    """How far its rim stands over its water [m]."""
    if pool.sides_m is None:
        raise ImpossibleStateError("missing: pool.sides_m")
    return pool.sides_m[2] - water_m(pool)


def _lies_in(request: Request, profile: Profile, length_m: float) -> list[FurnishingFinding]:
    """Water that all of it fits into."""
    here = waters(request)
    if not profile.water.soak or not here or profile.habit == "aquatic":
        return []
    lies_m = profile.lying_m(length_m)
    long, deep_m = (share * lies_m for share in DISH_BL.get(profile.group, (1.1, 0.7)))
    largest = max(
        here, key=lambda water: water.sides_m[0] * water.sides_m[1] if water.sides_m else 0.0
    )
    if largest.sides_m is None:
        raise ImpossibleStateError("missing: largest.sides_m")
    sides = sorted(largest.sides_m[:2], reverse=True)
    if sides[0] >= BASIN_FIT * long and sides[1] >= BASIN_FIT * deep_m:
        return []
    short = (sides[0], long) if sides[0] < BASIN_FIT * long else (sides[1], deep_m)
    return [
        FurnishingFinding(
            "dish small", largest.id, "It lies in its water, and no dish holds all of it.", *short
        )
    ]


def least_depth_m(profile: Profile, length_m: float) -> float:
    """Depth of water that a body of that length swims in: the species' own once it is grown, and less
    in proportion before; never less than what a body is under in [m].
    """
    span = profile.enclosure.water_depth_m
    if span is None or span.low is None:
        return 0.0
    grown_m = (profile.grown.length_mm[profile.body.length_kind].low or 0.0) / 1000
    share = min(length_m / grown_m, 1.0) if grown_m else 1.0
    return max(share * span.low, min(WADED_M, span.low))


def _lives_in(request: Request, profile: Profile, length_m: float) -> list[FurnishingFinding]:
    """The share of the floor and the depth that its species wants of water."""
    share = profile.enclosure.water_share
    span = profile.enclosure.water_depth_m
    if not share[1]:
        return []
    inside = request.enclosure.inside_m
    pools = [item for item in request.items if isinstance(item, Pool)]
    there = sum(pool.size_m[0] * pool.size_m[1] for pool in pools if pool.size_m) / (
        inside.length * inside.depth
    )
    if not pools:
        text = (
            f"Its species wants {share[0]:.0%} to {share[1]:.0%} of the floor as water to swim in,"
            " and there is no pool."
        )
        return [FurnishingFinding("no pool", "", text)]
    found = []
    if there < BASIN_FIT * share[0]:
        text = (
            f"{there:.0%} of the floor is water: its species wants {share[0]:.0%} to"
            f" {share[1]:.0%}."
        )
        found.append(FurnishingFinding("pool small", pools[0].id, text))
    deepest = max(pools, key=water_m)
    low = least_depth_m(profile, length_m)
    high = span.ends[1] if span is not None else math.inf
    if water_m(deepest) < BASIN_FIT * low:
        text = "The water is shallower than its species swims in."
        found.append(FurnishingFinding("pool shallow", deepest.id, text, water_m(deepest), low))
    elif water_m(deepest) > high + 0.02:
        text = "The water is deeper than its species is kept in: it must reach the air without strain."
        found.append(FurnishingFinding("pool deep", deepest.id, text, water_m(deepest), high))
    return found


def _way_out(request: Request, water: Item, back_m: float) -> bool:
    """A stone or branch that stands in it, or close beside it and no higher than its rim; of a pool
    one that reaches up to the rim.
    """
    if water.sides_m is None:
        raise ImpossibleStateError("missing: water.sides_m")
    rim = water.at_m[2] + water.sides_m[2]
    near = BESIDE_M if isinstance(water, Pool) else 0.0
    for body in request.items:
        if isinstance(body, Branch | Slab):
            reach = [
                (one + other) / 2 + near
                for one, other in zip(body.sides_m[:2], water.sides_m[:2], strict=True)
            ]
            top = body.at_m[2] + body.size_m[2]
            reaches = isinstance(water, Dish) or top >= rim - CLIMBED * max(back_m, 0.015)
            if (
                reaches
                and body.at_m[2] <= rim
                and all(abs(body.at_m[n] - water.at_m[n]) < reach[n] for n in (0, 1))
            ):
                return True
    return False


# --- soaks ----------------------------------------------------------------------------------------


class SoakPlan(NamedTuple):
    """Soaks of an animal, by the keeper's hand."""

    n: int
    """Of the animal in the request."""
    animal: str
    per_week: tuple[float, float]
    minutes: tuple[float, float]
    depth_m: float
    """Of the water: to the middle of its flank [m]."""
    water_c: tuple[float, float]
    spec: Soak


SOAK_C = (28.0, 32.0)
"""Water of a bath (common practice, no source) [°C]."""
COOL_SOAK_C = (20.0, 24.0)
"""Lukewarm to the hand; for what dies of warmth, cool (common practice) [°C]."""
FLANK = 0.35
"""Of the height of its back: water that leaves the nose dry whatever it does (common practice) [1]."""


def baths(request: Request, animals: Sequence[Occupant]) -> tuple[SoakPlan, ...]:
    """The soaks of each animal at its stage, by its approaches; nothing for kinds that are not
    soaked.
    """
    found = []
    for n, animal in enumerate(animals):
        profile = request.profiles[animal.species]
        for spec in speaking(profile.soaks, animal.stage.slug, request.approaches_of(n)):
            warm = next(
                (
                    need.high
                    for need in profile.needs
                    if need.need is NeedKey.WARM_AIR_DAY and need.high
                ),
                30.0,
            )
            span = SOAK_C if warm > SOAK_C[0] else COOL_SOAK_C
            depth = FLANK * profile.body.back_height_bl * animal.length_m
            found.append(
                SoakPlan(
                    n,
                    animal.name or animal.common_name,
                    spec.per_week.ends,
                    spec.minutes.ends,
                    depth,
                    span,
                    spec,
                )
            )
    return tuple(found)


# --- pools ----------------------------------------------------------------------------------------


class PoolForecast(NamedTuple):
    """A pool with what keeps its water fit."""

    item_id: str
    litres: Derivation
    nitrogen: Derivation
    share: float
    """Of the water that is changed at once [1]."""
    interval: Derivation
    filter: Derivation
    """The least that a filter for this kind turns over, worked out [l/h]."""
    filter_low_l_h: float
    """A filter for this kind turns over from so much [l/h]."""
    filter_high_l_h: float
    filter_verdict: str
    """none, weak, right or strong."""


def pools_of(request: Request, animals: Sequence[AnimalFound]) -> tuple[PoolForecast, ...]:
    """Each pool, fed by its share of everything that the enclosure's animals eat."""
    lead = max(animals, key=lambda animal: animal.length_m)
    return pools_by(
        request, [animal.diet.plans for animal in animals], request.profiles[lead.species]
    )


def pools_by(
    request: Request, meals: Sequence[Sequence[MealPlan]], profile: Profile
) -> tuple[PoolForecast, ...]:
    """The same, from the meals of each animal and the profile of the largest."""
    pools = [item for item in request.items if isinstance(item, Pool)]
    if not pools:
        return ()
    whole = sum(litres_of(pool) for pool in pools)
    food = _food([meal for one in meals for meal in one])
    return tuple(_pool(pool, litres_of(pool) / whole, food, profile) for pool in pools)


def _food(meals: Sequence[MealPlan]) -> tuple[float, float]:
    """All that is eaten in the enclosure [g/day], and its protein [1]."""
    grams = protein = 0.0
    for meal in meals:
        for portion in meal.portions:
            daily = portion.grams / max(meal.every_days.value, 0.5)
            grams += daily
            protein += daily * PROTEIN.get(portion.food, 0.15)
    return grams, protein / grams if grams else 0.0


def _pool(pool: Item, part: float, food: tuple[float, float], profile: Profile) -> PoolForecast:
    litres = litres_of(pool)
    grams, protein = food
    into = INTO_WATER.get(profile.habit, ELSEWHERE) * part
    load = _by("nitrogen_load", food_g_day=grams, protein_share=protein, into_water=into)
    water_c = next(
        (
            need.high
            for need in profile.needs
            if need.need in {NeedKey.WATER_DAY, NeedKey.COOL_AIR_DAY} and need.high
        ),
        25.0,
    )
    flow_l_h = pool.filter_l_h if isinstance(pool, Pool) else None
    filtered = flow_l_h is not None
    most = NITRATE_MG_L if filtered else AMMONIA_MG_L / free_ammonia_share(min(water_c, 40.0), PH)
    share, longest = (CHANGED_SHARE, LONGEST_D) if filtered else (1.0, LONGEST_UNFILTERED_D)
    interval = _by(
        "change_interval",
        litres=litres,
        nitrogen_mg_day=load.value,
        most_mg_l=most,
        changed_share=share,
    )
    bounded = min(interval.value, longest)
    rule = f"{interval.rule} At the most {longest:g} days, however little is eaten. " + (
        "Filtered: until 40 mg/l of nitrate stand in it."
        if filtered
        else "Unfiltered: until 0.02 mg/l of free ammonia at pH 7.5."
    )
    turns = TURNOVER.get(profile.group, GENTLE)
    low, high = (each * litres for each in turns)
    verdict = "none"
    if flow_l_h is not None:
        verdict = (
            "weak"
            if flow_l_h < BASIN_FIT * low
            else "strong"
            if flow_l_h > high / BASIN_FIT
            else "right"
        )
    named = interval.model_copy(
        update={"value": bounded, "rule": rule, "command": _command("change", pool)}
    )
    return PoolForecast(
        pool.id,
        volume_of(pool),
        load.model_copy(update={"command": _command("nitrogen", pool)}),
        share,
        named,
        _filter_from(litres, turns),
        low,
        high,
        verdict,
    )


def _filter_from(litres: float, turns: tuple[float, float]) -> Derivation:
    rule = (
        f"Litres × {turns[0]:g} to {turns[1]:g} volumes an hour, as the filter runs with its head"
        " and its dirt: less than its box says."
    )
    return Derivation(
        value=turns[0] * litres,
        unit="l/h",
        rule=rule,
        inputs=(
            named_value("litres", litres, "l"),
            named_value("volumes an hour, at least", turns[0], "1/h"),
        ),
        sources=(_PRACTICE,),
    )


def _command(what: str, pool: Item) -> str:
    return f"plan FILE.json --number /predictions/pool_{what}_{pool.id}/value"


def _by(name: str, **arguments: float) -> Derivation:
    known = find(name)
    return derivation_of(known, arguments, known.function(**arguments))


def pool_predictions(request: Request, animals: Sequence[AnimalFound]) -> dict[str, Derivation]:
    """Each pool's numbers by key, for a plan."""
    return {
        f"pool_{what}_{pool.item_id}": derivation
        for pool in pools_of(request, animals)
        for what, derivation in (
            ("litres", pool.litres),
            ("nitrogen", pool.nitrogen),
            ("change", pool.interval),
        )
    }
