"""The tasks of an enclosure: everything due in it, how often and how much, from its request alone.

No physics: sixty enclosures take a few milliseconds.

Method: docs/methods/round.md.
"""

import datetime as dt
from collections.abc import Sequence
from typing import Literal

from husbandry.diet.appetite import hunger_days
from husbandry.diet.meals import MealPlan, carriers_of, meal_plans, powder_rules
from husbandry.diet.spells import Spell
from husbandry.diet.supplements import Rule
from husbandry.handling.enriching import ideas
from husbandry.handling.taming import every_days
from husbandry.path.outlook import uv_left_days
from husbandry.planning.need_states import Looked, look
from husbandry.planning.quarantine import quarantine_of
from husbandry.planning.request import Request
from husbandry.planning.watering import baths, pools_by
from husbandry.species.needs import NEEDS, NeedKey
from husbandry.species.profile import Profile
from husbandry.worked import Document
from husbandry.year.seasons import lean

Kind = Literal[
    "look",
    "feed",
    "gutload",
    "mist",
    "water",
    "pool",
    "soak",
    "weigh",
    "body",
    "course",
    "read",
    "clean",
    "deep clean",
    "moss",
    "calcium dish",
    "filter",
    "lamp",
    "screen",
    "tame",
    "enrich",
]
WEIGH_DAYS = (7, 14, 30)
"""Of the youngest, of the growing, of the grown (common practice: weekly while it is small; the outlook asks only when months have gone) [days]."""
CLEAN_DAYS, DEEP_DAYS, LIVING_DEEP_DAYS = 7, 30, 180
"""Glass and corners; all of it, or of an enclosure in which a crew lives (common practice) [days]."""
WEEK_DAYS = 7
"""In which what is in quarantine is weighed (common practice) [days]."""
DISH_DAYS = 7
"""A dish of calcium is looked at and filled anew (common practice) [days]."""
MOSS_DAYS, FILTER_DAYS, SCREEN_AFTER_DAYS = 14, 14, 14
"""Moss of a moist hide is changed, a filter rinsed in its own water; droppings of an arrival go to a veterinarian after two weeks (common practice) [days]."""
LIVE = frozenset({"insects", "ants", "worms"})


class Helping(Document):
    """A part of a meal."""

    food: str
    name: str
    grams: float
    count: int | None = None
    widest_mm: float | None = None


class MealDuty(Document):
    """A kind of meal."""

    slug: str
    name: str
    every_days: float
    grams: float
    carries: bool
    """Supplement goes on it."""
    live: bool
    aquatic: bool
    """It is eaten under water."""
    helpings: tuple[Helping, ...]
    powder_mg: float | None = None
    """Of calcium for it [mg]."""
    not_before: dt.date | None = None
    because: tuple[str, ...] = ()
    """Why it differs from the usual of its stage."""


class SoakDuty(Document):
    """Bathing by hand."""

    every_days: float
    minutes: tuple[float, float]
    depth_m: float
    water_c: tuple[float, float]


class AnimalDuty(Document):
    """What comes round for one animal."""

    name: str
    common_name: str
    stage: str
    mass_g: float
    mass_known: bool
    anchor: dt.date
    """On which its calendar stands."""
    fed_known: bool
    """It was fed on that day, by what was said of it before anything was logged."""
    meals: tuple[MealDuty, ...]
    rules: tuple[Rule, ...]
    hunger_days: int
    """Refused for so long it is past what its species and stage bear [days]."""
    spells: tuple[Spell, ...]
    trend_pct: float | None
    """Change of mass over the last 90 days [%]."""
    winter: bool
    """It is the lean time of its year."""
    tame_days: int | None
    """Between two sessions of taming; None for what is not handled [days]."""
    whole_prey: bool
    ideas: tuple[str, ...]
    """Against dull days."""
    soak: SoakDuty | None
    weigh_days: int
    steps_g: float
    """The coarsest step of a scale that is fit for it: a hundredth of its mass [g]."""


class MistDuty(Document):
    """A misting by hand."""

    at: str
    ml: float


class PoolDuty(Document):
    """A pool that is changed."""

    thing_id: str
    share: float
    every_days: float
    litres: float


class ReadDuty(Document):
    """A need that is measured again when its reading is old."""

    need: NeedKey
    fresh_days: int


class LampDuty(Document):
    """An ultraviolet lamp that is near its end."""

    thing_id: str
    left_days: float
    """Until it has 70 % of its ultraviolet, from when its hours were written down; 0 beyond."""


class Duties(Document):
    """Everything that comes round in an enclosure."""

    animals: tuple[AnimalDuty, ...]
    mistings: tuple[MistDuty, ...]
    """By hand; a pump mists by itself."""
    dishes: bool
    pools: tuple[PoolDuty, ...]
    filtered: bool
    moss: bool
    calcium_dish: bool = False
    deep_days: int
    reads: tuple[ReadDuty, ...]
    lamps: tuple[LampDuty, ...]


def duties(request: Request) -> Duties:
    """The duties of an enclosure as it stands."""
    looked = look(request)
    meals = [_meals(n, looked, request) for n in range(len(request.animals))]
    animals = tuple(_animal(n, looked, request, meals[n]) for n in range(len(request.animals)))
    pools = pools_by(request, meals, looked.profile)
    wetting = request.box.wetting
    by_hand = wetting is not None and wetting.nozzles_ml_s is None
    return Duties(
        animals=animals,
        mistings=tuple(MistDuty(at=one.at, ml=one.ml) for one in sorted(wetting.mistings, key=lambda one: one.at)) if wetting is not None and by_hand else (),
        dishes=any(thing.kind == "dish" for thing in request.things),
        pools=tuple(
            PoolDuty(thing_id=pool.thing_id, share=pool.share, every_days=max(pool.interval.value, 1.0), litres=pool.litres.value)
            for pool in pools
        ),
        filtered=any(thing.filter_l_h is not None for thing in request.things),
        moss=any(thing.kind == "hide" and thing.moist for thing in request.things),
        calcium_dish=any(
            request.schools_of(n).get("calcium-dish") == "yes" for n in range(len(request.animals))
        ),
        deep_days=LIVING_DEEP_DAYS if request.box.ground.crew else DEEP_DAYS,
        reads=tuple(ReadDuty(need=key, fresh_days=NEEDS[key].fresh_days) for key in looked.bands),
        lamps=_lamps(request),
    )  # fmt: skip


def _lamps(request: Request) -> tuple[LampDuty, ...]:
    left = {thing.id: uv_left_days(thing) for thing in request.things}
    return tuple(LampDuty(thing_id=name, left_days=days) for name, days in left.items() if days is not None)


def _meals(n: int, looked: Looked, request: Request) -> tuple[MealPlan, ...]:
    occupant = looked.occupants[n]
    profile = looked.profiles[occupant.species]
    return meal_plans(
        profile,
        occupant.stage.slug,
        mass_g=occupant.body.mass.value,
        body_length_m=occupant.length_m,
        schools=request.schools_of(n),
        lead=request.lead_of(n, occupant.stage.slug),
        mass_how=occupant.body.mass.how,
    )


def _animal(n: int, looked: Looked, request: Request, meals: Sequence[MealPlan]) -> AnimalDuty:
    occupant, animal, schools = looked.occupants[n], request.animals[n], request.schools_of(n)
    profile = looked.profiles[occupant.species]
    stage = occupant.stage.slug
    mass = occupant.body.mass.value
    said = animal.fed_on is not None and animal.fed_on <= request.today
    carries = {plan.slug for plan in carriers_of(profile, meals)}
    uvb = any(thing.is_uv for thing in request.things)
    bath = next((bath for bath in baths(request, looked.occupants) if bath.n == n and bath.per_week[0] > 0), None)
    return AnimalDuty(
        name=occupant.name,
        common_name=occupant.common_name,
        stage=occupant.stage.name,
        mass_g=mass,
        mass_known=occupant.body.mass.measured,
        anchor=animal.fed_on if animal.fed_on is not None and said else request.today,
        fed_known=said,
        meals=tuple(meal_duty(plan, plan.slug in carries, aquatic=profile.habit == "aquatic") for plan in meals),
        rules=powder_rules(profile, stage, meals, uvb=uvb, schools=schools, calcium_always=request.lead_of(n, stage).calcium_always),
        hunger_days=hunger_days(profile, stage),
        spells=animal.spells,
        trend_pct=animal.trend_pct,
        winter=lean(profile, stage, request.today, request.place.lat) and request.place.lat != 0,
        tame_days=every_days(profile.handling.how_often),
        whole_prey=profile.supplements.plan == "whole prey",
        ideas=ideas(profile),
        soak=SoakDuty(every_days=7 / bath.per_week[0], minutes=bath.minutes, depth_m=bath.depth_m, water_c=bath.water_c) if bath else None,
        weigh_days=_weigh_days(profile, stage, apart=quarantine_of(animal.came_on, request.today) is not None),
        steps_g=mass / 100,
    )  # fmt: skip


def _weigh_days(profile: Profile, stage: str, *, apart: bool) -> int:
    if apart:
        return WEEK_DAYS
    if stage == profile.stages[0].slug:
        return WEIGH_DAYS[0]
    return WEIGH_DAYS[2] if stage == profile.grown.slug else WEIGH_DAYS[1]


def meal_duty(plan: MealPlan, carries: bool, *, aquatic: bool) -> MealDuty:
    """A planned meal as a task; `carries` says whether a supplement goes on it."""
    helpings = tuple(
        Helping(food=part.food, name=part.name, grams=part.grams, count=part.count, widest_mm=part.widest_mm)
        for part in plan.portions
    )
    return MealDuty(
        slug=plan.slug, name=plan.name, every_days=plan.every_days.value, grams=plan.grams.value, carries=carries,
        live=any(part.food in LIVE for part in plan.portions), aquatic=aquatic, helpings=helpings, powder_mg=plan.calcium_mg.value if plan.calcium_mg else None,
        not_before=plan.not_before, because=plan.because,
    )  # fmt: skip
