"""Could I keep this?

What a species asks of a household: room, warmth, power, food, money, years. Method:
docs/methods/suitability.md.
"""

import functools
from dataclasses import dataclass

from husbandry.derivation import Derivation, Document, Source, named_value
from husbandry.enclosure.sizing import needed_m, rule_for
from husbandry.enclosure.substrate import USUAL_M, substrate_m
from husbandry.feeding.meals import MealPlan, meal_plans
from husbandry.growth.expected import expected
from husbandry.species.needs import NeedKey
from husbandry.species.parts import SizeRule
from husbandry.species.profile import Profile
from husbandry.species.selection import need_of, speaking

ROUTINE = 0.6
"""Share of its connected load that a held enclosure draws while its lamps are on (design choice;
the layout editor predicts a real enclosure) [1].
"""
DARK_ROUTINE = 0.15
"""And in the dark, for heat at night (design choice) [1]."""
EUR_100G: dict[str, float] = {
    "insects": 6.0,
    "ants": 15.0,
    "worms": 6.0,
    "greens": 0.5,
    "grass": 0.3,
    "fruit": 0.6,
    "paste": 8.0,
    "pellets": 2.5,
    "eggs": 3.0,
    "prey": 4.5,
}
"""Guide prices of food, 2026 (common practice) [€ per 100 g]."""
TUBE_EUR, TUBE_YEARS = 45.0, 1.0
"""A tube, and how long its ultraviolet lasts (common practice: about yearly) [€; years]."""
SUNDRIES_EUR = 60.0
"""Substrate, moss, supplements, a look at droppings: a year (common practice) [€]."""
SUITABILITY_PRICES = Source(kind="common practice", text="guide prices of 2026; ask locally")
OLD_AGE = 80
"""An animal that outlives its keeper's eightieth year needs somebody named to take it on (design
choice) [years].
"""


@dataclass(frozen=True)
class Facts:
    """A species in the numbers by which one chooses."""

    species: str
    enclosure_m: tuple[float, float, float]
    """Inside, grown: length, depth, height with the substrate [m]."""
    years: tuple[float, float]
    power_w: float
    live_insects: bool
    whole_prey: bool
    level: str
    by_day: bool
    night_low_c: float | None
    """The coldest night it takes [°C]."""
    cool_high_c: float | None
    """The warmest cool end it takes: its limit, or its target range where no limit is named [°C]."""


@functools.lru_cache(maxsize=4096)
def facts_of(profile: Profile) -> Facts:
    """What a species asks for when it is grown."""
    grown = profile.grown.slug
    length_m = profile.adult_of("any").length_mm.typical / 1000
    length, depth, air = needed_m(rule_for(profile, grown, "room"), length_m)
    deep = (
        0.0
        if profile.habit == "aquatic"
        else max(USUAL_M, substrate_m(profile, grown, {}, length_m))
    )
    night = need_of(profile.needs, NeedKey.AIR_NIGHT, grown, {})
    cool = need_of(profile.needs, NeedKey.COOL_AIR_DAY, grown, {}) or need_of(
        profile.needs, NeedKey.WATER_DAY, grown, {}
    )
    ends = profile.lifespan_years.span.ends
    rules = speaking(profile.food, grown, {})
    return Facts(
        species=profile.species,
        enclosure_m=(length, depth, round(air + deep, 2)),
        years=ends,
        power_w=profile.costs.power_w.middle,
        live_insects=bool({"insects", "ants", "worms"} & profile.foods)
        or any(rule.live for rule in rules),
        whole_prey="prey" in profile.foods,
        level=profile.keeper.level,
        by_day=profile.activity == "diurnal",
        night_low_c=night.low if night else None,
        cool_high_c=(
            (cool.limit_high if cool.limit_high is not None else cool.high) if cool else None
        ),
    )


@dataclass(frozen=True)
class HouseholdOffer:
    """What a household can give. None: not said."""

    length_m: float | None = None
    depth_m: float | None = None
    height_m: float | None = None
    hottest_c: float | None = None
    """The room on a hot day."""
    coldest_c: float | None = None
    """The room in a cold night, where nothing is to be heated in the dark."""
    power_w: float | None = None
    insects: bool = True
    prey: bool = True
    first_animal: bool = False
    by_day: bool = False

    @property
    def said(self) -> bool:
        """Whether anything is asked."""
        return self != HouseholdOffer()


def against(facts: Facts, offer: HouseholdOffer) -> tuple[str, ...]:
    """What speaks against a species in this household, as short words; nothing when it could be
    kept.
    """
    found = []
    floor = sorted((facts.enclosure_m[0], facts.enclosure_m[1]), reverse=True)
    spot = sorted(
        (side for side in (offer.length_m, offer.depth_m) if side is not None), reverse=True
    )
    if any(have < need for have, need in zip(spot, floor, strict=False)) or (
        offer.height_m is not None and offer.height_m < facts.enclosure_m[2]
    ):
        found.append("space")
    if (
        offer.hottest_c is not None
        and facts.cool_high_c is not None
        and offer.hottest_c > facts.cool_high_c
    ):
        found.append("room too hot")
    if (
        offer.coldest_c is not None
        and facts.night_low_c is not None
        and offer.coldest_c < facts.night_low_c
    ):
        found.append("night too cold unheated")
    if offer.power_w is not None and facts.power_w > offer.power_w:
        found.append("power")
    if not offer.insects and facts.live_insects:
        found.append("insects")
    if not offer.prey and facts.whole_prey:
        found.append("whole prey")
    if offer.first_animal and facts.level != "first animal":
        found.append("experience")
    if offer.by_day and not facts.by_day:
        found.append("hours")
    return tuple(found)


class Food(Document):
    """A week of one kind of food."""

    name: str
    count: float | None = None
    grams: float


class Suitability(Document):
    """The answer to "could I keep this?"."""

    species: str
    enclosure_m: tuple[float, float, float]
    """Inside, grown [m]."""
    floor_note: str
    years: tuple[float, float]
    keeper_until: tuple[float, float] | None = None
    """The keeper's own age when a short and a long life of it end [years]."""
    outlives: bool = False
    food: tuple[Food, ...]
    electricity_kwh: Derivation
    """A year."""
    food_eur: Derivation
    """A year."""
    other_eur: float
    """A year."""
    setup_eur: tuple[float, float]
    animal_eur: tuple[float, float]
    first: tuple[str, ...]
    """To be there before the animal."""
    permits: str


def weekly_food(plans: tuple[MealPlan, ...]) -> tuple[Food, ...]:
    """A week of an animal's meals, by kind of food."""
    found: dict[str, Food] = {}
    for plan in plans:
        meals = 7 / plan.every_days.value
        for portion in plan.portions:
            there = found.get(portion.name)
            count = (
                None
                if portion.count is None
                else portion.count * meals + (there.count or 0 if there else 0)
            )
            found[portion.name] = Food(
                name=portion.name,
                count=count,
                grams=portion.grams * meals + (there.grams if there else 0),
            )
    return tuple(found.values())


def asked_of(profile: Profile, *, keeper_age: float | None = None) -> Suitability:
    """What keeping one grown animal asks for.

    Parameters
    ----------
    keeper_age : float, optional
        Of the keeper today [years].
    """
    facts = facts_of(profile)
    grown = profile.grown.slug
    mass_g = profile.adult_of("any").mass_g.typical
    plans = meal_plans(
        profile,
        grown,
        mass_g=mass_g,
        body_length_m=expected(profile).grown_mm / 1000,
        approaches={},
    )
    eur = {
        portion.name: EUR_100G[portion.food] / 100 for plan in plans for portion in plan.portions
    }
    food = weekly_food(plans)
    ends = (
        (keeper_age + facts.years[0], keeper_age + facts.years[1])
        if keeper_age is not None
        else None
    )
    needs_tube = profile.uv.pattern != "none needed"
    rule: SizeRule = rule_for(profile, grown, "room")
    return Suitability(
        species=profile.species,
        enclosure_m=facts.enclosure_m,
        floor_note=rule.note,
        years=facts.years,
        keeper_until=ends,
        outlives=ends is not None and ends[1] > OLD_AGE,
        food=food,
        electricity_kwh=_electricity(profile),
        food_eur=Derivation(
            value=sum(item.grams * eur[item.name] for item in food) * 52,
            unit="€",
            rule="A week of meals by mass × a guide price of each food × 52.",
            inputs=tuple(named_value(f"{item.name}, a week", item.grams, "g") for item in food),
            sources=(SUITABILITY_PRICES,),
            would_change="Where it is bought, and what is bred at home.",
        ),
        other_eur=(TUBE_EUR / TUBE_YEARS if needs_tube else 0.0) + SUNDRIES_EUR,
        setup_eur=profile.costs.setup_eur.ends,
        animal_eur=profile.costs.animal_eur.ends,
        first=before_it_arrives(profile),
        permits=profile.permits.text,
    )


def _electricity(profile: Profile) -> Derivation:
    hours = profile.photoperiod_h.span.middle
    watts = profile.costs.power_w.middle
    kwh = watts * (hours * ROUTINE + (24 - hours) * DARK_ROUTINE) * 365 / 1000
    return Derivation(
        value=kwh,
        unit="kWh",
        rule="Connected load × (hours of light × 0.6 + hours of dark × 0.15) × 365 days.",
        inputs=(
            named_value("connected load", watts, "W"),
            named_value("hours of light", hours, "h"),
        ),
        sources=(
            *profile.sources(profile.costs.origin),
            Source(kind="design choice", text="shares of the load that a held enclosure draws"),
        ),
        would_change=(
            "The enclosure: its walls, its lid and its room. A planned enclosure is computed."
        ),
    )


def before_it_arrives(profile: Profile) -> tuple[str, ...]:
    """What stands, runs and is verified before it comes home."""
    found = [
        "the enclosure for its next stage, built, running and measured for a week, day and night"
    ]
    if profile.basks:
        found.append("heat with a thermostat of the right kind, a guard, and a second thermometer")
    if profile.uv.pattern != "none needed":
        found.append("a straight ultraviolet tube, its date written on it")
    if profile.habit == "aquatic":
        found.append("water that is cycled, conditioned and tested; a way to cool it in summer")
    elif profile.water.treated:
        found.append("conditioner against chlorine and chloramine")
    found.append(f"hides: {', '.join(profile.hides.places)}")
    foods = profile.foods
    if "prey" in foods:
        found.append("a freezer drawer for whole prey, tongs, and a household that agrees")
    if {"insects", "ants", "worms"} & foods:
        found.append("a source of live food, its own food, and a tub to keep it in")
    if profile.supplements.plan != "whole prey":
        found.append("calcium and a multivitamin, in date")
    found.append(
        "a veterinarian who treats its species, and a scale that shows a hundredth of its mass"
    )
    found.append("permits asked for and answered")
    return tuple(found)
