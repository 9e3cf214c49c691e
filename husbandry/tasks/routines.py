"""The tasks of an enclosure: everything due in it, how often and how much, from its request alone.

No physics: sixty enclosures take a few milliseconds.

Method: docs/methods/tasks.md.
"""

import datetime as dt
from collections.abc import Sequence

from husbandry.derivation import Document
from husbandry.documents.request import Request
from husbandry.feeding.appetite import hunger_days
from husbandry.feeding.condition_periods import ConditionPeriod
from husbandry.feeding.meals import MealPlan, carriers_of, meal_plans, supplement_rules
from husbandry.feeding.supplements import SupplementRule
from husbandry.findings.quarantine import quarantine_of
from husbandry.findings.water import baths, pools_by
from husbandry.handling.enriching import ideas
from husbandry.handling.taming import every_days
from husbandry.items.containers import DigBox
from husbandry.items.drippers import Dripper
from husbandry.items.furnishings import Dish, Hide, Pool
from husbandry.life_plan.forecast import uv_left_days
from husbandry.predict.need_states import AnimalNeeds, look
from husbandry.seasons.summer_and_winter import lean
from husbandry.species.needs import NEEDS, NeedKey
from husbandry.species.profile import Profile

WEIGH_DAYS = (7, 14, 30)
"""Of the youngest, of the growing, of the grown (common practice: weekly while it is small; the
forecast asks only when months have gone) [days].
"""
CLEAN_DAYS, DEEP_DAYS, LIVING_DEEP_DAYS = 7, 30, 180
"""Glass and corners; all of it, or of an enclosure in which a crew lives (common practice) [days]."""
WEEK_DAYS = 7
"""In which what is in quarantine is weighed (common practice) [days]."""
DISH_DAYS = 7
"""A dish of calcium is looked at and filled anew (common practice) [days]."""
MOSS_DAYS, FILTER_DAYS, SCREEN_AFTER_DAYS = 14, 14, 14
"""Moss of a moist hide is changed, a filter rinsed in its own water; droppings of an arrival go to
a veterinarian after two weeks (common practice) [days].
"""
BOX_DAYS = 7
"""A dig box is dampened, and searched for old eggs (common practice) [days]."""
DISINFECT_DAYS = 7
"""In quarantine all of the enclosure is disinfected (common practice) [days]."""
NAIL_DAYS = 30
"""Claws, and the beak of a tortoise, are looked at (common practice) [days]."""
CLAWS_G = 100.0
"""Grown lizards of the ground wear their claws on it from that mass on (common practice) [g]."""
EGG_DAYS = 3
"""After which an egg that was not eaten is taken out (common practice: days, in the warm) [days]."""
SHED_WORDS = {
    "snake": "eye caps and tail tip; a shed in pieces means air too dry",
    "lizard": "each toe and the tail tip; rings of old skin cut off the blood",
}
"""Where old skin stays, by group (common practice)."""
LIVE = frozenset({"insects", "ants", "worms"})


class RoutineMealPart(Document):
    """A part of a meal."""

    food: str
    name: str
    grams: float
    count: int | None = None
    widest_mm: float | None = None


class MealRoutine(Document):
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
    helpings: tuple[RoutineMealPart, ...]
    supplement_mg: float | None = None
    """Of calcium for it [mg]."""
    not_before: dt.date | None = None
    because: tuple[str, ...] = ()
    """Why it differs from the usual of its stage."""


class SoakRoutine(Document):
    """Bathing by hand."""

    every_days: float
    minutes: tuple[float, float]
    depth_m: float
    water_c: tuple[float, float]
    look: str = ""
    """What is looked at meanwhile."""


class AnimalRoutine(Document):
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
    meals: tuple[MealRoutine, ...]
    rules: tuple[SupplementRule, ...]
    hunger_days: int
    """Refused for so long it is past what its species and stage bear [days]."""
    condition_periods: tuple[ConditionPeriod, ...]
    trend_pct: float | None
    """Change of mass over the last 90 days [%]."""
    winter: bool
    """It is the lean time of its year."""
    tame_days: int | None
    """Between two sessions of taming; None for what is not handled [days]."""
    whole_prey: bool
    ideas: tuple[str, ...]
    """Against dull days."""
    soak: SoakRoutine | None
    shed_words: str = ""
    """Where its old skin stays; empty for what sheds in small pieces."""
    nails: str = ""
    """What of it grows too long; empty where nothing does."""
    weigh_days: int
    steps_g: float
    """The coarsest step of a scale that is fit for it: a hundredth of its mass [g]."""


class MistRoutine(Document):
    """A misting by hand."""

    at: str
    ml: float
    every_days: int = 1


class PoolRoutine(Document):
    """A pool that is changed."""

    item_id: str
    share: float
    every_days: float
    litres: float


class ReadRoutine(Document):
    """A need that is measured again when its reading is old."""

    need: NeedKey
    fresh_days: int


class LampRoutine(Document):
    """An ultraviolet lamp that is near its end."""

    item_id: str
    left_days: float
    """Until it has 70 % of its ultraviolet, from when its hours were written down; 0 beyond."""
    burned_days: float = 0.0
    """Days by its timer for which it had burned when its hours were written down."""


class Routines(Document):
    """Everything that comes round in an enclosure."""

    animals: tuple[AnimalRoutine, ...]
    mistings: tuple[MistRoutine, ...]
    """By hand; a pump mists by itself."""
    dishes: bool
    pools: tuple[PoolRoutine, ...]
    filtered: bool
    moss: bool
    calcium_dish: bool = False
    dripper: bool = False
    dig_box: bool = False
    apart: bool = False
    """An animal in quarantine lives here."""
    deep_days: int
    reads: tuple[ReadRoutine, ...]
    lamps: tuple[LampRoutine, ...]


def routines(request: Request) -> Routines:
    """The routines of an enclosure as it stands."""
    looked = look(request)
    meals = [_meals(n, looked, request) for n in range(len(request.animals))]
    animals = tuple(_animal(n, looked, request, meals[n]) for n in range(len(request.animals)))
    pools = pools_by(request, meals, looked.profile)
    wetting = request.enclosure.wetting
    by_hand = wetting is not None and wetting.nozzles_ml_s is None
    return Routines(
        animals=animals,
        mistings=(
            tuple(
                MistRoutine(at=one.at, ml=one.ml, every_days=wetting.mist_days)
                for one in sorted(wetting.mistings, key=lambda one: one.at)
            )
            if wetting is not None and by_hand
            else ()
        ),
        dishes=any(isinstance(item, Dish) for item in request.items),
        pools=tuple(
            PoolRoutine(
                item_id=pool.item_id,
                share=pool.share,
                every_days=max(pool.interval.value, 1.0),
                litres=pool.litres.value,
            )
            for pool in pools
        ),
        filtered=any(isinstance(item, Pool) and item.filter_l_h for item in request.items),
        moss=any(isinstance(item, Hide) and item.moist for item in request.items),
        calcium_dish=any(
            request.approaches_of(n).get("calcium-dish") == "yes"
            for n in range(len(request.animals))
        ),
        dripper=any(isinstance(item, Dripper) for item in request.items),
        dig_box=any(isinstance(item, DigBox) and item.moist for item in request.items),
        apart=any(quarantine_of(one.came_on, request.today) for one in request.animals),
        deep_days=LIVING_DEEP_DAYS if request.enclosure.substrate.crew else DEEP_DAYS,
        reads=tuple(
            ReadRoutine(need=key, fresh_days=NEEDS[key].fresh_days) for key in looked.targets
        ),
        lamps=_lamps(request),
    )


def _lamps(request: Request) -> tuple[LampRoutine, ...]:
    found = []
    for item in request.items:
        days = uv_left_days(item)
        if days is not None:
            burned_days = (item.burned_h or 0.0) / item.hours_a_day
            found.append(LampRoutine(item_id=item.id, left_days=days, burned_days=burned_days))
    return tuple(found)


def _meals(n: int, looked: AnimalNeeds, request: Request) -> tuple[MealPlan, ...]:
    occupant = looked.occupants[n]
    profile = looked.profiles[occupant.species]
    return meal_plans(
        profile,
        occupant.stage.slug,
        mass_g=occupant.body.mass.value,
        body_length_m=occupant.length_m,
        approaches=request.approaches_of(n),
        lead=request.lead_of(n, occupant.stage.slug),
        mass_how=occupant.body.mass.how,
    )


def _animal(
    n: int, looked: AnimalNeeds, request: Request, meals: Sequence[MealPlan]
) -> AnimalRoutine:
    occupant, animal, approaches = (
        looked.occupants[n],
        request.animals[n],
        request.approaches_of(n),
    )
    profile = looked.profiles[occupant.species]
    stage = occupant.stage.slug
    mass = occupant.body.mass.value
    said = animal.fed_on is not None and animal.fed_on <= request.today
    carries = {plan.slug for plan in carriers_of(profile, meals)}
    uvb = any(item.is_uv for item in request.items)
    return AnimalRoutine(
        name=occupant.name,
        common_name=occupant.common_name,
        stage=occupant.stage.name,
        mass_g=mass,
        mass_known=occupant.body.mass.measured,
        anchor=animal.fed_on if animal.fed_on is not None and said else request.today,
        fed_known=said,
        meals=tuple(
            meal_routine(plan, plan.slug in carries, aquatic=profile.habit == "aquatic")
            for plan in meals
        ),
        rules=supplement_rules(
            profile,
            stage,
            meals,
            uvb=uvb,
            approaches=approaches,
            calcium_always=request.lead_of(n, stage).calcium_always,
        ),
        hunger_days=hunger_days(profile, stage),
        condition_periods=animal.condition_periods,
        trend_pct=animal.trend_pct,
        winter=lean(profile, stage, request.today, request.place.lat) and request.place.lat != 0,
        tame_days=every_days(profile.handling.how_often),
        whole_prey=profile.supplements.plan == "whole prey",
        ideas=ideas(profile),
        soak=_soak(n, looked, request),
        shed_words=SHED_WORDS.get(profile.group, ""),
        nails=_nails(profile),
        weigh_days=_weigh_days(
            profile, stage, apart=quarantine_of(animal.came_on, request.today) is not None
        ),
        steps_g=mass / 100,
    )


def _soak(n: int, looked: AnimalNeeds, request: Request) -> SoakRoutine | None:
    """The bath that an animal needs, where it needs one."""
    for bath in baths(request, looked.occupants):
        if bath.n == n and bath.per_week[0] > 0:
            return SoakRoutine(
                every_days=7 / bath.per_week[0],
                minutes=bath.minutes,
                depth_m=bath.depth_m,
                water_c=bath.water_c,
                look=_look_at_the_soak(looked.profiles[looked.occupants[n].species]),
            )
    return None


def _look_at_the_soak(profile: Profile) -> str:
    """What is seen best while it sits in water (common practice)."""
    if profile.body.length_kind == "shell":
        return "brush the shell softly, look at shell, skin and eyes"
    return "look at skin, toes and eyes"


def _nails(profile: Profile) -> str:
    """What of it grows too long on soft ground."""
    if profile.group == "tortoise":
        return "Claws and beak: not too long, the beak closes straight"
    walks = profile.habit in {"terrestrial", "saxicolous"}
    if profile.group == "lizard" and walks and profile.grown.mass_g.ends[0] >= CLAWS_G:
        return "Claws: not too long, none caught or torn"
    return ""


def _weigh_days(profile: Profile, stage: str, *, apart: bool) -> int:
    if apart:
        return WEEK_DAYS
    if stage == profile.stages[0].slug:
        return WEIGH_DAYS[0]
    return WEIGH_DAYS[2] if stage == profile.grown.slug else WEIGH_DAYS[1]


def meal_routine(plan: MealPlan, carries: bool, *, aquatic: bool) -> MealRoutine:
    """A planned meal as a task; `carries` says whether a supplement goes on it."""
    helpings = tuple(
        RoutineMealPart(
            food=part.food,
            name=part.name,
            grams=part.grams,
            count=part.count,
            widest_mm=part.widest_mm,
        )
        for part in plan.portions
    )
    return MealRoutine(
        slug=plan.slug,
        name=plan.name,
        every_days=plan.every_days.value,
        grams=plan.grams.value,
        carries=carries,
        live=any(part.food in LIVE for part in plan.portions),
        aquatic=aquatic,
        helpings=helpings,
        supplement_mg=plan.calcium_mg.value if plan.calcium_mg else None,
        not_before=plan.not_before,
        because=plan.because,
    )
