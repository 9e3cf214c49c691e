"""One animal's life as ribbons: what it needs of each thing, from day to day, and what changes with each stage.

Each step of a ribbon holds what `plan()` says on every day of it. Method: docs/methods/path.md.
"""

import datetime as dt
from collections.abc import Callable
from typing import Literal, TypeVar

from husbandry.diet.calendar import Diet
from husbandry.diet.meals import MealPlan, meal_plans, powder_rules
from husbandry.diet.supplements import Rule, pace_text
from husbandry.path.future_body import Onward, first_day
from husbandry.planning.result import Plan
from husbandry.species.needs import NEEDS, NeedKey
from husbandry.species.selection import need_of, need_otherwise, speaking
from husbandry.worked import Document, Otherwise, Source

Slug = Literal[
    "box",
    "surface",
    "warm air",
    "cool air",
    "night",
    "water",
    "UV",
    "humidity by day",
    "humidity by night",
    "ground",
    "food",
    "powders",
]
RIBBONS: dict[Slug, tuple[NeedKey, ...]] = {
    "surface": (NeedKey.SURFACE_DAY,),
    "warm air": (NeedKey.WARM_AIR_DAY,),
    "cool air": (NeedKey.COOL_AIR_DAY,),
    "night": (NeedKey.AIR_NIGHT,),
    "water": (NeedKey.WATER_DAY,),
    "UV": (NeedKey.UVI_DAY,),
    "humidity by day": (NeedKey.HUMIDITY_DAY,),
    "humidity by night": (NeedKey.HUMIDITY_NIGHT,),
}
SAMPLES = 96
"""Days looked at to find where a ribbon changes; between two of them each change is found to the day."""


class Worth(Document):
    """What a ribbon says on a day."""

    unit: str = ""
    low: float | None = None
    high: float | None = None
    sides_m: tuple[float, float, float] | None = None
    """Of the enclosure: length, depth, height above the substrate [m]."""
    texts: tuple[str, ...] = ()


class Step(Document):
    """A stretch of days on which a ribbon says the same."""

    since: dt.date
    until: dt.date
    """The first day that is no longer of it; the end of the path for the last."""
    worth: Worth


class Ribbon(Document):
    """One thing through a life."""

    slug: Slug
    steps: tuple[Step, ...]
    others: tuple[Otherwise, ...] = ()
    """What other approaches say of it today."""

    def on(self, day: dt.date) -> Worth | None:
        """What it says on a day; None outside the path."""
        return next((step.worth for step in self.steps if step.since <= day < step.until), None)


class Shift(Document):
    """What a stage changes."""

    ribbon: Slug
    before: Worth
    after: Worth


class Milestone(Document):
    """The beginning of a stage, with the days between which it is expected."""

    slug: str
    name: str
    usual: dt.date
    early: dt.date | None = None
    late: dt.date | None = None
    """None: beyond the end of the path."""
    shifts: tuple[Shift, ...] = ()


class StageSpell(Document):
    """A stage with its days."""

    slug: str
    name: str
    since: dt.date
    until: dt.date


class Path(Document):
    """A life."""

    species: str
    today: dt.date
    first: dt.date
    last: dt.date
    """The end of its ribbons: a while after it is grown."""
    life_until: tuple[dt.date, dt.date] | None = None
    """When its species’ short and long lives end, where its birth is known."""
    stages: tuple[StageSpell, ...]
    ribbons: tuple[Ribbon, ...]
    milestones: tuple[Milestone, ...]
    """Of the stages to come."""
    source: Source
    """Whose word the projection is."""

    def ribbon(self, slug: str) -> Ribbon | None:
        """The ribbon of that name."""
        return next((ribbon for ribbon in self.ribbons if ribbon.slug == slug), None)


# --- what a ribbon says -------------------------------------------------------------------------------------------------


def need_worth(life: Onward, key: NeedKey, on: dt.date) -> Worth | None:
    """The band of a need on a day."""
    spec = need_of(life.profile.needs, key, life.stage(on).slug, life.schools)
    return None if spec is None else Worth(unit=NEEDS[key].unit, low=spec.low, high=spec.high)


def food_worth(plans: tuple[MealPlan, ...]) -> Worth:
    """The kinds of meal: what and how often; how much changes with every gram and is told by the plan of the day."""
    texts = []
    for plan in plans:
        things = " and ".join(dict.fromkeys(portion.name for portion in plan.portions))
        texts.append(f"{things} {_every(plan.every_days.value)}")
    return Worth(texts=tuple(texts))


def _every(days: float) -> str:
    return "every day" if days <= 1 else f"every {days:g} days"


def powders_worth(rules: tuple[Rule, ...]) -> Worth:
    """The supplements and their pace."""
    return Worth(texts=tuple(pace_text(rule) for rule in rules) or ("none",))


def ground_worth(life: Onward, on: dt.date) -> Worth:
    """What lies on the floor."""
    grounds = speaking(life.profile.ground, life.stage(on).slug, life.schools)
    low, high = grounds[0].depth_m.ends
    return Worth(unit="m", low=low, high=high, texts=grounds[0].kinds)


def water_worth(life: Onward, on: dt.date) -> Worth:
    """The water it swims in; for others the dish and the soaks."""
    swims = need_worth(life, NeedKey.WATER_DAY, on)
    if swims is not None:
        return swims
    soaks = [
        f"soaks of {soak.minutes.middle:.0f} minutes, {soak.per_week.middle:g} a week"
        for soak in speaking(life.profile.soaks, life.stage(on).slug, life.schools)
    ]
    return Worth(texts=("treated water" if life.profile.water.treated else "fresh water", *soaks))


def _meals(life: Onward, on: dt.date) -> tuple[MealPlan, ...]:
    return meal_plans(
        life.profile, life.stage(on).slug, mass_g=life.planned_g(on), body_length_m=life.length_m(on), schools=life.schools
    )


def _values(life: Onward, *, uvb: bool) -> dict[Slug, Callable[[dt.date], Worth | None]]:
    def powders(on: dt.date) -> Worth:
        rules = powder_rules(life.profile, life.stage(on).slug, _meals(life, on), uvb=uvb, schools=life.schools)
        return powders_worth(rules)

    found: dict[Slug, Callable[[dt.date], Worth | None]] = {
        "box": lambda on: Worth(unit="m", sides_m=life.box_m(on)),
        **{slug: _band(life, keys[0]) for slug, keys in RIBBONS.items()},
        "ground": lambda on: ground_worth(life, on),
        "food": lambda on: food_worth(_meals(life, on)),
        "powders": powders,
        "water": lambda on: water_worth(life, on),
    }
    if life.profile.habit == "aquatic":
        for slug in ("surface", "warm air", "cool air", "humidity by day", "humidity by night", "ground"):
            if slug == "ground" or all(need.need not in RIBBONS[slug] for need in life.profile.needs):
                found.pop(slug)
    return found


def _band(life: Onward, key: NeedKey) -> Callable[[dt.date], Worth | None]:
    return lambda on: need_worth(life, key, on)


def worth_in(plan: Plan, slug: Slug) -> Worth | None:
    """What a plan of one animal says of the same thing: the check of every ribbon. Substrate and soaks are not of the plan."""
    if slug == "box":
        sides = plan.size.sides
        return Worth(unit="m", sides_m=(sides[0].needed_m, sides[1].needed_m, sides[2].needed_m))
    if slug in RIBBONS and plan.need(RIBBONS[slug][0]) is not None:
        state = plan.need(RIBBONS[slug][0])
        assert state is not None
        return Worth(unit=state.unit, low=state.low.value if state.low else None, high=state.high.value if state.high else None)
    diet: Diet = plan.animals[0].diet
    if slug == "food":
        return food_worth(diet.plans)
    if slug == "powders":
        return powders_worth(diet.rules)
    return None


# --- the path -----------------------------------------------------------------------------------------------------------

Value = TypeVar("Value")


def stretches(value: Callable[[dt.date], Value], first: dt.date, last: dt.date) -> list[tuple[dt.date, dt.date, Value]]:
    """Days on which a value stays the same, between two days; the second is not among them."""
    days = (last - first).days
    marks = sorted({first + dt.timedelta(days=round(days * n / SAMPLES)) for n in range(SAMPLES)} | {last - dt.timedelta(days=1)})
    found: list[tuple[dt.date, dt.date, Value]] = []
    since, here = first, value(first)
    for mark in marks[1:]:
        before = max(since, marks[marks.index(mark) - 1])
        there = value(mark)
        while there != here:
            low, high = 0, (mark - before).days  # at `before` it is `here`
            while high - low > 1:
                middle = (low + high) // 2
                if value(before + dt.timedelta(days=middle)) == here:
                    low = middle
                else:
                    high = middle
            change = before + dt.timedelta(days=high)
            found.append((since, change, here))
            since, here, before = change, value(change), change
    found.append((since, last, here))
    return found


SETTLED_DAYS = 400
"""The ribbons end so long after the last stage has begun: from then on they say the same for life [days]."""


def milestones(life: Onward, today: dt.date) -> tuple[Milestone, ...]:
    """The stages to come, each with the days between which it is expected."""
    if not life.known:
        return ()
    end = life.end(today)
    found = []
    for rank in range(life.rank(today) + 1, len(life.profile.stages)):
        usual = first_day(lambda on, n=rank: life.rank(on) >= n, today, end)  # type: ignore[misc]  # bound in the loop
        if usual is None:
            break
        early = first_day(lambda on, n=rank: life.rank(on, "high") >= n, today, usual)  # type: ignore[misc]
        late = first_day(lambda on, n=rank: life.rank(on, "low") >= n, usual, end)  # type: ignore[misc]
        stage = life.profile.stages[rank]
        found.append(Milestone(slug=stage.slug, name=stage.name, early=early or usual, usual=usual, late=late))
    return tuple(found)


def path_of(life: Onward, today: dt.date, *, uvb: bool = True) -> Path:
    """The whole life of an animal as it is known today.

    Parameters
    ----------
    uvb : bool
        Whether its enclosure has a lamp that gives ultraviolet: the supplements depend on it.
    """
    coming = milestones(life, today)
    first = min(life.animal.born_on or today, today)
    grown = coming[-1].late or coming[-1].usual if coming else today
    last = min(grown + dt.timedelta(days=SETTLED_DAYS), max(life.end(today), grown + dt.timedelta(days=30)))
    values = _values(life, uvb=uvb)
    ribbons = []
    for slug, value in values.items():
        steps = [Step(since=a, until=b, worth=worth) for a, b, worth in stretches(value, first, last) if worth is not None]
        if steps:
            ribbons.append(Ribbon(slug=slug, steps=tuple(steps), others=_others(life, slug, today)))
    spells = [
        StageSpell(slug=slug, name=life.profile.stage(slug).name, since=a, until=b)
        for a, b, slug in stretches(lambda on: life.stage(on).slug, first, last)
    ]
    years = life.profile.lifespan_years.span.ends
    born = life.animal.born_on
    return Path(
        species=life.profile.species,
        today=today,
        first=first,
        last=last,
        life_until=(_years_on(born, years[0]), _years_on(born, years[1])) if born else None,
        stages=tuple(spells),
        ribbons=tuple(ribbons),
        milestones=tuple(
            milestone.model_copy(update={"shifts": _shifts(values, milestone, following.usual if following else life.end(today))})
            for milestone, following in zip(coming, [*coming[1:], None], strict=False)
        ),
        source=life.growth.source
        if life.growth.last_g is not None
        else Source(kind="common practice", text="ages of its stages"),
    )


def _years_on(born: dt.date, years: float) -> dt.date:
    return born + dt.timedelta(days=round(years * 365.25))


def _shifts(values: dict[Slug, Callable[[dt.date], Worth | None]], milestone: Milestone, until: dt.date) -> tuple[Shift, ...]:
    """What differs between the day before a stage and its first day; of the enclosure, what it comes to within the stage."""
    found = []
    for slug, value in values.items():
        before = value(milestone.usual - dt.timedelta(days=1))
        after = value(until - dt.timedelta(days=1) if slug == "box" else milestone.usual)
        if before is not None and after is not None and before != after:
            found.append(Shift(ribbon=slug, before=before, after=after))
    return tuple(found)


def _others(life: Onward, slug: Slug, on: dt.date) -> tuple[Otherwise, ...]:
    stage = life.stage(on).slug
    profile = life.profile
    if slug in RIBBONS:
        key = RIBBONS[slug][0]
        if need_of(profile.needs, key, stage, life.schools) is None:
            return ()
        return need_otherwise(profile.needs, key, stage, life.schools, constant="humidity-figure" in profile.questions)
    if slug == "food":
        return tuple({other.school: other for plan in _meals(life, on) for other in plan.every_days.others}.values())
    return ()
