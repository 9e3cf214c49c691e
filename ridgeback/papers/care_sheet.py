"""How an animal is kept, for whoever takes it over: from its own plan, with what others do."""

import datetime as dt
from dataclasses import dataclass
from functools import partial

from husbandry.documents.request import Request
from husbandry.findings.quarantine import LEAST_DAYS, MOST_DAYS
from husbandry.life_plan.rows import LifePlan
from husbandry.quantity import Kind, Units, show
from ridgeback.animal_pages.lives import Life, life_of
from ridgeback.animal_pages.presenting import MilestoneView, milestones_of, questions_of, stage_now
from ridgeback.animals import wording
from ridgeback.animals.models import Animal, ConditionPeriod
from ridgeback.calculation import Failed, attempt
from ridgeback.enclosures.models import Enclosure
from ridgeback.feeding.presenting import FoodPage, fed, food_page
from ridgeback.log.models import LogEntry
from ridgeback.sentences import because, otherwise
from ridgeback.species_guide.flows import profile_of
from ridgeback.today.wording import entry_text

MEALS = 5
"""So many of the last meals are told (design choice)."""
AHEAD = 3
"""So many stages to come (design choice)."""


@dataclass(frozen=True)
class CareSheet:
    """All of it."""

    animal: Animal
    kind: str
    on: dt.date
    stage: str
    body: str
    """What it weighed last, and when."""
    needs: tuple[tuple[str, tuple[str, ...]], ...]
    """What, and its ranges as lines."""
    grown_enclosure: str
    others: tuple[tuple[str, str, str, str], ...]
    """What, the approach, what it says, why."""
    chosen: tuple[tuple[str, str], ...]
    """Question, and the approach by which it is kept."""
    home: str
    items: tuple[str, ...]
    """What hangs, stands and lies in its enclosure."""
    food: FoodPage | None
    meals: tuple[tuple[dt.date, str], ...]
    milestones: tuple[MilestoneView, ...]
    conditions: tuple[ConditionPeriod, ...]
    treatments: tuple[str, ...]
    apart_days: tuple[int, int]
    """How long it stays apart from others: the least and the most [days]."""
    failed: str = ""
    """Why its needs cannot be calculated."""


def care_sheet(animal: Animal, now: dt.datetime, units: Units) -> CareSheet:
    """Compose the sheet of today; `animal` comes with its weights, lengths and periods."""
    today = animal.day_of(now)
    profile = profile_of(animal.household, animal.species)
    life = attempt(partial(life_of, animal, today, profile), "animal", animal.pk)
    lives = Enclosure.objects.of(animal.household).for_planning()
    home = lives.filter(occupancies__in=animal.occupancies.present()).first()
    made = attempt(partial(_food, animal, home, now, today, units), "animal", animal.pk)
    last = max(animal.weighings.all(), key=lambda one: (one.on, one.pk), default=None)
    logged = LogEntry.objects.standing().filter(animal=animal, stem__startswith="feed ")
    meals = logged.exclude(outcome=LogEntry.Outcome.SKIPPED).order_by("-on", "-at")[:MEALS]
    failed = life.text if isinstance(life, Failed) else ""
    known = None if isinstance(life, Failed) else life
    return CareSheet(
        animal=animal,
        kind=f"{profile.name} ({animal.species})",
        on=today,
        stage=wording.article(stage_now(known, today).name) if known else "",
        body=(
            f"{show(last.mass_g, Kind.MASS, units)} on {last.on:%-d %B %Y}"
            if last is not None
            else "never weighed here"
        ),
        needs=_needs(known, units, today, fed_by_plan=not isinstance(made, Failed)),
        grown_enclosure=wording.sides(known.buying.grown_enclosure_m, units) if known else "",
        others=_others(known, units) if known else (),
        chosen=_chosen(known) if known else (),
        home=home.name if home is not None else "",
        items=_items(home, now),
        food=None if isinstance(made, Failed) else made,
        meals=tuple((one.on, entry_text(one, units)) for one in meals),
        milestones=milestones_of(known, units, today)[:AHEAD] if known else (),
        conditions=tuple(one for one in animal.condition_periods.all() if one.until is None),
        treatments=tuple(
            f"{one.words} ({one.by}), until {one.ends:%-d %B %Y}"
            for one in animal.treatments.all()
            if one.stopped_on is None and one.ends >= today
        ),
        apart_days=(LEAST_DAYS, MOST_DAYS),
        failed=failed,
    )


def needs_of(
    life_plan: LifePlan, today: dt.date, units: Units
) -> tuple[tuple[str, tuple[str, ...]], ...]:
    """What a life plan says of a day, row by row."""
    found = []
    for row in life_plan.life_rows:
        step = next((one for one in row.steps if one.since <= today < one.until), None)
        lines = wording.worth_lines(step.worth, units) if step is not None else ()
        if lines:
            found.append((wording.VERBS.get(row.slug, wording.NAMES[row.slug]), lines))
    return tuple(found)


def _needs(
    life: Life | None, units: Units, today: dt.date, *, fed_by_plan: bool
) -> tuple[tuple[str, tuple[str, ...]], ...]:
    """Its needs; its meals stand below by what it weighs and does, if they are known."""
    rows = needs_of(life.life_plan, today, units) if life is not None else ()
    return tuple(one for one in rows if one[0] != wording.NAMES["food"] or not fed_by_plan)


def _others(life: Life, units: Units) -> tuple[tuple[str, str, str, str], ...]:
    return tuple(
        (wording.NAMES[row.slug], other.approach, otherwise(other, units), because(other.why))
        for row in life.life_plan.life_rows
        for other in row.others
    )


def _chosen(life: Life) -> tuple[tuple[str, str], ...]:
    return tuple(
        (question.text, name)
        for question in questions_of(life)
        for slug, name, *_ in question.approaches
        if slug == question.chosen
    )


def _food(
    animal: Animal, home: Enclosure | None, now: dt.datetime, today: dt.date, units: Units
) -> FoodPage:
    profile = profile_of(animal.household, animal.species)
    made = fed(animal, profile, home, now, today)
    return food_page(animal, made, units, today, resting=False)


def _items(home: Enclosure | None, now: dt.datetime) -> tuple[str, ...]:
    """The names of what is in its enclosure; several of a name are counted."""
    if home is None or home.head is None:
        return ()
    request: Request | Failed = attempt(partial(home.request_at, now), "enclosure", home.pk)
    if isinstance(request, Failed):
        return ()
    names = [one.name for one in request.items]
    return tuple(
        name if names.count(name) == 1 else f"{names.count(name)} × {name}"
        for name in dict.fromkeys(names)
    )
