"""Which duties of a box are due on a day, from what was done and when. Method: docs/methods/round.md."""

import datetime as dt
import math
from collections.abc import Mapping, Sequence
from typing import NamedTuple

from husbandry.chores.courses import Course
from husbandry.chores.duties import CLEAN_DAYS, FILTER_DAYS, MOSS_DAYS, SCREEN_AFTER_DAYS, AnimalDuty, Duties, Kind, MealDuty
from husbandry.diet.condition import LOOK_DAYS
from husbandry.diet.feeding import Fed, Pace, coming
from husbandry.diet.spells import QUIET_DAYS
from husbandry.handling.enriching import DAYS as IDEA_DAYS
from husbandry.handling.enriching import idea_of
from husbandry.handling.taming import Session, not_today, standing
from husbandry.species.needs import NeedKey
from husbandry.year.rest import Rest, in_rest

LAMP_AHEAD_DAYS = 14
"""A lamp is asked about so long before its end: it has to be bought (design choice) [days]."""
ORDER: tuple[Kind, ...] = (
    "look", "course", "read", "mist", "feed", "soak", "water", "pool", "tame", "weigh", "body", "screen", "moss", "clean", "deep clean", "filter", "lamp", "enrich",
    "gutload",
)  # fmt: skip


class Done(NamedTuple):
    """What was done, and when last. Animals by their place in the duties."""

    last: Mapping[tuple[int | None, str], dt.date]
    """By animal and stem; of the box itself under None."""
    fed: Mapping[int, Sequence[Fed]]
    weighed: Mapping[int, dt.date]
    read: Mapping[NeedKey, dt.date]
    since: dt.date
    """From which the box is looked after: what was never done counts from there."""
    moved_in: Mapping[int, dt.date]
    """Of animals that arrived, and when."""
    lamps_on: dt.date
    """On which the lamps' hours were written down."""
    resting: Mapping[int, Rest] = {}  # never written to
    """Winter rests, of those that have one."""
    courses: Mapping[int, Sequence[Course]] = {}  # never written to
    """Of treatment, by animal."""
    tamed: Mapping[int, Sequence[Session]] = {}  # never written to
    """Sessions of those whose taming goes on."""


NOTHING = Done({}, {}, {}, {}, dt.date(2000, 1, 1), {}, dt.date(2000, 1, 1))


class Chore(NamedTuple):
    """Something to do today."""

    kind: Kind
    stem: str
    """Its name within the box: what is remembered of it."""
    animal: int | None
    due: dt.date
    """On which it fell due; before today when it was left."""
    at: str = ""
    """A time of day, for what has one."""
    meal: MealDuty | None = None
    products: tuple[str, ...] = ()
    reasons: tuple[str, ...] = ()
    amount: float | None = None
    """As it is usual [ml of mist, l of a pool, g of a meal]."""
    needs: tuple[NeedKey, ...] = ()
    every_days: float | None = None
    quiet: bool = False
    """The animal is in its first week."""
    resting: bool = False
    """Of an animal in its winter rest."""
    never: bool = False
    """It was never logged: since when it is due is a guess."""
    course: Course | None = None
    missed: dt.date | None = None
    """A day of its course before this one, on which nothing is logged."""
    step: int | None = None
    """Of taming."""
    idea: str = ""


def due_today(duties: Duties, done: Done, today: dt.date) -> tuple[Chore, ...]:
    """Everything that is due in a box, in the order in which it is done.

    Notes
    -----
    A duty is due so many days after it was last done, and stays due; it is never counted twice. One that was never done counts from the day on which
    the box came under care.
    """
    found = [*_of_box(duties, done, today)]
    for n, animal in enumerate(duties.animals):
        found += _of_animal(n, animal, done, today)
    return tuple(sorted(found, key=lambda chore: (ORDER.index(chore.kind), chore.at, chore.animal or 0)))


def ahead(
    duties: Duties, done: Done, today: dt.date, days: int, later: Sequence[tuple[int, Duties]] = ()
) -> list[tuple[Chore, ...]]:
    """What is due on each of the next days, if everything is done on its day.

    Parameters
    ----------
    later : sequence of (int, Duties)
        Duties that take over from a day on, rising: of animals that have grown.
    """
    found = []
    for n in range(days):
        day = today + dt.timedelta(days=n)
        duties = next((then for since, then in later if since == n), duties)
        chores = due_today(duties, done, day)
        found.append(chores)
        done = _after(done, chores, day)
    return found


def _after(done: Done, chores: Sequence[Chore], day: dt.date) -> Done:
    """What will have been done, when all of these are."""
    last, fed, weighed, read = (
        dict(done.last),
        {n: list(meals) for n, meals in done.fed.items()},
        dict(done.weighed),
        dict(done.read),
    )
    for chore in chores:
        last[chore.animal, chore.stem] = day
        if chore.kind == "feed" and chore.animal is not None and chore.meal is not None:
            fed.setdefault(chore.animal, []).append(Fed(day, chore.meal.slug, chore.products))
        elif chore.kind == "weigh" and chore.animal is not None:
            weighed[chore.animal] = day
        read.update(dict.fromkeys(chore.needs, day))
    return done._replace(last=last, fed=fed, weighed=weighed, read=read)


def _when(done: Done, stem: str, every_days: float, today: dt.date, animal: int | None = None) -> dt.date | None:
    """The day on which a duty fell due; None while it is not."""
    last = done.last.get((animal, stem), done.since - dt.timedelta(days=1 if every_days <= 1 else 0))
    due = last + dt.timedelta(days=max(1, math.floor(every_days + 0.5)))
    return due if due <= today else None


def _of_box(duties: Duties, done: Done, today: dt.date) -> list[Chore]:
    found = []

    def add(kind: Kind, stem: str, every_days: float, **more: object) -> None:
        due = _when(done, stem, every_days, today)
        if due is not None:
            found.append(Chore(kind, stem, None, due, every_days=every_days, never=(None, stem) not in done.last, **more))  # type: ignore[arg-type]  # fields of a chore

    add("look", "look", 1)
    for one in duties.mistings:
        add("mist", f"mist {one.at}", 1, at=one.at, amount=one.ml)
    if duties.dishes:
        add("water", "water", 1)
    for pool in duties.pools:
        add("pool", f"pool {pool.thing_id}", pool.every_days, amount=pool.share * pool.litres)
    add("clean", "clean", CLEAN_DAYS)
    add("deep clean", "deep clean", duties.deep_days)
    if duties.moss:
        add("moss", "moss", MOSS_DAYS)
    if duties.filtered:
        add("filter", "filter", FILTER_DAYS)
    old = tuple(
        one.need for one in duties.reads if done.read.get(one.need, dt.date.min) + dt.timedelta(days=one.fresh_days) <= today
    )
    if old:
        days = [
            done.read[need] + dt.timedelta(days=next(r.fresh_days for r in duties.reads if r.need == need))
            for need in old
            if need in done.read
        ]
        found.append(Chore("read", "read", None, min([*days, today]), needs=old))
    for lamp in duties.lamps:
        end = done.lamps_on + dt.timedelta(days=lamp.left_days)
        asked = end - dt.timedelta(days=LAMP_AHEAD_DAYS)
        if asked <= today and done.last.get((None, f"lamp {lamp.thing_id}"), dt.date.min) < asked:
            found.append(Chore("lamp", f"lamp {lamp.thing_id}", None, asked))
    return found


def _of_animal(n: int, animal: AnimalDuty, done: Done, today: dt.date) -> list[Chore]:
    found = []
    found += _courses(n, done, today)
    rest = done.resting.get(n)
    if rest is not None and in_rest(rest, today):
        return [*found, *_in_rest(n, rest, done, today)]
    moved = done.moved_in.get(n)
    quiet = moved is not None and (today - moved).days < QUIET_DAYS
    paces = [Pace(meal.slug, meal.every_days, meal.carries, meal.not_before) for meal in animal.meals]
    by_slug = {meal.slug: meal for meal in animal.meals}
    fed = done.fed.get(n) or ([Fed(animal.anchor, meal.slug) for meal in animal.meals] if animal.fed_known else [])
    # Once something is logged the grid stands on a day that stays, or the powders would move with the calendar; before, it eats today.
    anchor = animal.anchor if animal.fed_known or not fed else done.since
    meals, _ = coming(paces, animal.rules, anchor, fed, today, 2)
    for one in meals:
        meal = by_slug[one.slug]
        if one.day == today:
            stem = f"feed {one.slug}"
            found.append(
                Chore(
                    "feed",
                    stem,
                    n,
                    one.due,
                    meal=meal,
                    products=one.products,
                    reasons=one.reasons,
                    amount=meal.grams,
                    quiet=quiet,
                )
            )
        elif (
            meal.live
            and not (rest is not None and in_rest(rest, one.day))
            and (due := _when(done, "gutload", 1, today, n)) is not None
        ):
            found.append(Chore("gutload", "gutload", n, due, meal=meal, every_days=1, never=(n, "gutload") not in done.last))
    if animal.soak is not None and not quiet and (due := _when(done, "soak", animal.soak.every_days, today, n)) is not None:
        found.append(Chore("soak", "soak", n, due, every_days=animal.soak.every_days, never=(n, "soak") not in done.last))
    weighed = done.weighed.get(n, done.since)
    due = weighed + dt.timedelta(days=animal.weigh_days)
    if due <= today and not quiet:
        found.append(Chore("weigh", "weigh", n, due, every_days=animal.weigh_days, never=n not in done.weighed))
    if not quiet and (due := _when(done, "body", LOOK_DAYS, today, n)) is not None:
        found.append(Chore("body", "body", n, due, every_days=LOOK_DAYS, never=(n, "body") not in done.last))
    found += _company(n, animal, fed, done, today, quiet=quiet)
    if (
        moved is not None
        and (due := moved + dt.timedelta(days=SCREEN_AFTER_DAYS)) <= today <= due + dt.timedelta(days=60)
        and (n, "screen") not in done.last
    ):
        found.append(Chore("screen", "screen", n, due))
    return found


def _company(n: int, animal: AnimalDuty, fed: Sequence[Fed], done: Done, today: dt.date, *, quiet: bool) -> list[Chore]:
    """The hand, where its taming goes on, and an idea of the week."""
    found = []
    last_meal = max((one.on for one in fed if one.eaten), default=None)
    sessions = done.tamed.get(n)
    if sessions is not None and animal.tame_days is not None:
        due = _when(done, "tame", animal.tame_days, today, n)
        against = not_today(animal.spells, last_meal, today, whole_prey=animal.whole_prey, quiet=quiet, resting=False)
        if due is not None and not against:
            found.append(Chore("tame", "tame", n, due, step=standing(sessions).step, never=(n, "tame") not in done.last))
    still = any(spell.kind in {"unwell", "shed"} for spell in animal.spells)
    if not quiet and not still and animal.ideas and (due := _when(done, "enrich", IDEA_DAYS, today, n)) is not None:
        idea = idea_of(animal.ideas, today, n)
        found.append(Chore("enrich", "enrich", n, due, idea=idea, every_days=IDEA_DAYS, never=(n, "enrich") not in done.last))
    return found


def _courses(n: int, done: Done, today: dt.date) -> list[Chore]:
    """Doses of today. One that was missed is never made up: it is said, and asked about."""
    found = []
    for course in done.courses.get(n, ()):
        if not course.on(today):
            continue
        for time in range(course.times):
            stem = course.stem(time)
            last = done.last.get((n, stem))
            if last == today:
                continue
            before = course.before(today)
            missed = before if before is not None and (last is None or last < before) else None
            found.append(Chore("course", stem, n, today, course=course, missed=missed))
    return found


def _in_rest(n: int, rest: Rest, done: Done, today: dt.date) -> list[Chore]:
    """Of an animal that rests or is on its way there: nothing but the scale."""
    due = max((step.on for step in rest.steps if step.kind == "weigh" and step.on <= today), default=None)
    if due is None or done.weighed.get(n, dt.date.min) >= due:
        return []
    return [Chore("weigh", "weigh", n, due, every_days=rest.weigh_days, resting=True)]
