"""One animal's life as rows: what it needs of each thing, from day to day, and what changes with
each stage.

Each step of a row holds what `plan()` says on every day of it. Method: docs/methods/life-plan.md.
"""

import datetime as dt
import functools
from collections.abc import Callable
from typing import Literal, TypeVar

from husbandry.derivation import Document, OtherApproach, Source
from husbandry.documents.result import Plan
from husbandry.errors import ImpossibleStateError
from husbandry.feeding.calendar import Diet
from husbandry.feeding.meals import MealPlan, meal_plans, supplement_rules
from husbandry.feeding.supplements import SupplementRule, pace_text
from husbandry.life_plan.future_body import FutureAnimal, first_day
from husbandry.species.needs import NEEDS, NeedKey
from husbandry.species.selection import need_of, need_otherwise, speaking

Slug = Literal[
    "enclosure",
    "surface",
    "warm air",
    "cool air",
    "night",
    "water",
    "UV",
    "humidity by day",
    "humidity by night",
    "substrate",
    "food",
    "supplements",
]
LIFE_ROWS: dict[Slug, tuple[NeedKey, ...]] = {
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
"""Days looked at to find where a row changes; between two of them each change is found to the day
(design choice).
"""


class LifeRowValue(Document):
    """What a row says on a day."""

    unit: str = ""
    low: float | None = None
    high: float | None = None
    sides_m: tuple[float, float, float] | None = None
    """Of the enclosure: length, depth, height [m]."""
    texts: tuple[str, ...] = ()


class LifeRowStep(Document):
    """A stretch of days on which a row says the same."""

    since: dt.date
    until: dt.date
    """The first day that is no longer of it; the end of the life plan for the last."""
    worth: LifeRowValue


class LifeRow(Document):
    """One thing through a life."""

    slug: Slug
    steps: tuple[LifeRowStep, ...]
    others: tuple[OtherApproach, ...] = ()
    """What other approaches say of it today."""

    def on(self, day: dt.date) -> LifeRowValue | None:
        """What it says on a day; None outside the life plan."""
        return next((step.worth for step in self.steps if step.since <= day < step.until), None)


class StageChange(Document):
    """What a stage changes."""

    life_row: Slug
    before: LifeRowValue
    after: LifeRowValue


class Milestone(Document):
    """The beginning of a stage, with the days between which it is expected."""

    slug: str
    name: str
    usual: dt.date
    early: dt.date | None = None
    late: dt.date | None = None
    """None: beyond the end of the life plan."""
    shifts: tuple[StageChange, ...] = ()


class StageConditionPeriod(Document):
    """A stage with its days."""

    slug: str
    name: str
    since: dt.date
    until: dt.date


class LifePlan(Document):
    """A life."""

    species: str
    today: dt.date
    first: dt.date
    last: dt.date
    """The end of its rows: a while after it is grown."""
    life_until: tuple[dt.date, dt.date] | None = None
    """When its species’ short and long lives end, where its birth is known."""
    stages: tuple[StageConditionPeriod, ...]
    life_rows: tuple[LifeRow, ...]
    milestones: tuple[Milestone, ...]
    """Of the stages to come."""
    source: Source
    """Whose word the projection is."""

    def life_row(self, slug: str) -> LifeRow | None:
        """The row of that name."""
        return next((life_row for life_row in self.life_rows if life_row.slug == slug), None)


# --- what a row says ------------------------------------------------------------------------------


def need_worth(life: FutureAnimal, key: NeedKey, on: dt.date) -> LifeRowValue | None:
    """The target range of a need on a day."""
    spec = need_of(life.profile.needs, key, life.stage_slug(on), life.approaches)
    return (
        None if spec is None else LifeRowValue(unit=NEEDS[key].unit, low=spec.low, high=spec.high)
    )


def food_worth(plans: tuple[MealPlan, ...]) -> LifeRowValue:
    """The kinds of meal: what and how often; how much changes with every gram and is told by the
    plan of the day.
    """
    texts = []
    for plan in plans:
        items = " and ".join(dict.fromkeys(portion.name for portion in plan.portions))
        texts.append(f"{items} {_every(plan.every_days.value)}")
    return LifeRowValue(texts=tuple(texts))


def _every(days: float) -> str:
    if days <= 1:
        return "every day"
    if days == 3.5:
        return "twice a week"
    return f"every {days:.2g} days" if days < 10 else f"every {days:.0f} days"


def supplements_worth(rules: tuple[SupplementRule, ...]) -> LifeRowValue:
    """The supplements and their pace."""
    return LifeRowValue(texts=tuple(pace_text(rule) for rule in rules) or ("none",))


def substrate_worth(life: FutureAnimal, on: dt.date) -> LifeRowValue:
    """What lies on the floor."""
    substrates = speaking(life.profile.substrate, life.stage_slug(on), life.approaches)
    low, high = substrates[0].depth_m.ends
    return LifeRowValue(unit="m", low=low, high=high, texts=substrates[0].kinds)


def water_worth(life: FutureAnimal, on: dt.date) -> LifeRowValue:
    """The water it swims in; for others the dish and the soaks."""
    swims = need_worth(life, NeedKey.WATER_DAY, on)
    if swims is not None:
        return swims
    soaks = [
        f"soaks of {soak.minutes.middle:.0f} minutes, {soak.per_week.middle:g} a week"
        for soak in speaking(life.profile.soaks, life.stage_slug(on), life.approaches)
    ]
    return LifeRowValue(
        texts=("treated water" if life.profile.water.treated else "fresh water", *soaks)
    )


def _meals(life: FutureAnimal, on: dt.date) -> tuple[MealPlan, ...]:
    return meal_plans(
        life.profile,
        life.stage_slug(on),
        mass_g=life.planned_g(on),
        body_length_m=life.length_m(on),
        approaches=life.approaches,
    )


def _values(
    life: FutureAnimal, *, uvb: bool
) -> dict[Slug, Callable[[dt.date], LifeRowValue | None]]:
    meals = functools.cache(functools.partial(_meals, life))

    def supplements(on: dt.date) -> LifeRowValue:
        rules = supplement_rules(
            life.profile, life.stage_slug(on), meals(on), uvb=uvb, approaches=life.approaches
        )
        return supplements_worth(rules)

    found: dict[Slug, Callable[[dt.date], LifeRowValue | None]] = {
        "enclosure": lambda on: LifeRowValue(unit="m", sides_m=life.enclosure_m(on)),
        **{slug: _target(life, keys[0]) for slug, keys in LIFE_ROWS.items()},
        "substrate": lambda on: substrate_worth(life, on),
        "food": lambda on: food_worth(meals(on)),
        "supplements": supplements,
        "water": lambda on: water_worth(life, on),
    }
    if life.profile.habit == "aquatic":
        for slug in (
            "surface",
            "warm air",
            "cool air",
            "humidity by day",
            "humidity by night",
            "substrate",
        ):
            if slug == "substrate" or all(
                need.need not in LIFE_ROWS[slug] for need in life.profile.needs
            ):
                found.pop(slug)
    return found


def _target(life: FutureAnimal, key: NeedKey) -> Callable[[dt.date], LifeRowValue | None]:
    return lambda on: need_worth(life, key, on)


def worth_in(plan: Plan, slug: Slug) -> LifeRowValue | None:
    """What a plan of one animal says of the same thing: the check of every row.

    Substrate and soaks are not of the plan.
    """
    if slug == "enclosure":
        sides = plan.size.sides
        return LifeRowValue(
            unit="m", sides_m=(sides[0].needed_m, sides[1].needed_m, sides[2].needed_m)
        )
    if slug in LIFE_ROWS and plan.need(LIFE_ROWS[slug][0]) is not None:
        state = plan.need(LIFE_ROWS[slug][0])
        if state is None:
            raise ImpossibleStateError("missing: state")
        return LifeRowValue(
            unit=state.unit,
            low=state.low.value if state.low else None,
            high=state.high.value if state.high else None,
        )
    diet: Diet = plan.animals[0].diet
    if slug == "food":
        return food_worth(diet.plans)
    if slug == "supplements":
        return supplements_worth(diet.rules)
    return None


# --- the life plan --------------------------------------------------------------------------------

Value = TypeVar("Value")


def stretches(
    value: Callable[[dt.date], Value], first: dt.date, last: dt.date
) -> list[tuple[dt.date, dt.date, Value]]:
    """Days on which a value stays the same, between two days; the second is not among them."""
    days = (last - first).days
    marks = sorted(
        {first + dt.timedelta(days=round(days * n / SAMPLES)) for n in range(SAMPLES)}
        | {last - dt.timedelta(days=1)}
    )
    found: list[tuple[dt.date, dt.date, Value]] = []
    since = first
    here = value(first)
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
            since = change
            here = value(change)
            before = change
    found.append((since, last, here))
    return found


SETTLED_DAYS = 400
"""The rows end so long after the last stage has begun: from then on they say the same for life
(design choice) [days].
"""


def milestones(life: FutureAnimal, today: dt.date) -> tuple[Milestone, ...]:
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
        found.append(
            Milestone(
                slug=stage.slug, name=stage.name, early=early or usual, usual=usual, late=late
            )
        )
    return tuple(found)


def life_plan_of(life: FutureAnimal, today: dt.date, *, uvb: bool = True) -> LifePlan:
    """The whole life of an animal as it is known today.

    Parameters
    ----------
    uvb : bool
        Whether its enclosure has a lamp that gives ultraviolet: the supplements depend on it.
    """
    coming = milestones(life, today)
    first = min(life.animal.born_on or today, today)
    grown = coming[-1].late or coming[-1].usual if coming else today
    last = min(
        grown + dt.timedelta(days=SETTLED_DAYS),
        max(life.end(today), grown + dt.timedelta(days=30)),
    )
    values = _values(life, uvb=uvb)
    life_rows = []
    for slug, value in values.items():
        steps = [
            LifeRowStep(since=a, until=b, worth=worth)
            for a, b, worth in stretches(value, first, last)
            if worth is not None
        ]
        if steps:
            life_rows.append(
                LifeRow(slug=slug, steps=tuple(steps), others=_others(life, slug, today))
            )
    condition_periods = [
        StageConditionPeriod(slug=slug, name=life.profile.stage(slug).name, since=a, until=b)
        for a, b, slug in stretches(life.stage_slug, first, last)
    ]
    years = life.profile.lifespan_years.span.ends
    born = life.animal.born_on
    return LifePlan(
        species=life.profile.species,
        today=today,
        first=first,
        last=last,
        life_until=(_years_on(born, years[0]), _years_on(born, years[1])) if born else None,
        stages=tuple(condition_periods),
        life_rows=tuple(life_rows),
        milestones=tuple(
            milestone.model_copy(
                update={
                    "shifts": _shifts(
                        values, milestone, following.usual if following else life.end(today)
                    )
                }
            )
            for milestone, following in zip(coming, [*coming[1:], None], strict=False)
        ),
        source=(
            life.growth.source
            if life.growth.last_g is not None
            else Source(kind="common practice", text="ages of its stages")
        ),
    )


def _years_on(born: dt.date, years: float) -> dt.date:
    return born + dt.timedelta(days=round(years * 365.25))


def _shifts(
    values: dict[Slug, Callable[[dt.date], LifeRowValue | None]],
    milestone: Milestone,
    until: dt.date,
) -> tuple[StageChange, ...]:
    """What differs between the day before a stage and its first day; of the enclosure, what it
    comes to within the stage.
    """
    found = []
    for slug, value in values.items():
        before = value(milestone.usual - dt.timedelta(days=1))
        after = value(until - dt.timedelta(days=1) if slug == "enclosure" else milestone.usual)
        if before is not None and after is not None and before != after:
            found.append(StageChange(life_row=slug, before=before, after=after))
    return tuple(found)


def _others(life: FutureAnimal, slug: Slug, on: dt.date) -> tuple[OtherApproach, ...]:
    stage = life.stage_slug(on)
    profile = life.profile
    if slug in LIFE_ROWS:
        key = LIFE_ROWS[slug][0]
        if need_of(profile.needs, key, stage, life.approaches) is None:
            return ()
        return need_otherwise(
            profile.needs,
            key,
            stage,
            life.approaches,
            constant="humidity-figure" in profile.questions,
        )
    if slug == "food":
        return tuple(
            {
                other.approach: other
                for plan in _meals(life, on)
                for other in plan.every_days.others
            }.values()
        )
    return ()
