"""What is due for an animal: its meals, baths, the scale, a look at its body, treatments, the hand, something new; in its rest the scale alone."""

import datetime as dt
from collections.abc import Sequence

from husbandry.chores.chore import Chore, Done, when
from husbandry.chores.duties import SCREEN_AFTER_DAYS, AnimalDuty
from husbandry.diet.condition import LOOK_DAYS
from husbandry.diet.feeding import Fed, Pace, coming
from husbandry.diet.spells import QUIET_DAYS
from husbandry.handling.enriching import DAYS as IDEA_DAYS
from husbandry.handling.enriching import idea_of
from husbandry.handling.taming import not_today, standing
from husbandry.year.rest import Rest, in_rest


def of_animal(n: int, animal: AnimalDuty, done: Done, today: dt.date) -> list[Chore]:
    """What is due for the animal at that place of the duties on a day."""
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
    # Once something is logged the grid stands on a day that stays, or the supplements would move with the calendar; before, it eats today.
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
            and (due := when(done, "gutload", 1, today, n)) is not None
        ):
            found.append(Chore("gutload", "gutload", n, due, meal=meal, every_days=1, never=(n, "gutload") not in done.last))
    if animal.soak is not None and not quiet and (due := when(done, "soak", animal.soak.every_days, today, n)) is not None:
        found.append(Chore("soak", "soak", n, due, every_days=animal.soak.every_days, never=(n, "soak") not in done.last))
    weighed = done.weighed.get(n, done.since)
    due = weighed + dt.timedelta(days=animal.weigh_days)
    if due <= today and not quiet:
        found.append(Chore("weigh", "weigh", n, due, every_days=animal.weigh_days, never=n not in done.weighed))
    if not quiet and (due := when(done, "body", LOOK_DAYS, today, n)) is not None:
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
        due = when(done, "tame", animal.tame_days, today, n)
        against = not_today(animal.spells, last_meal, today, whole_prey=animal.whole_prey, quiet=quiet, resting=False)
        if due is not None and not against:
            found.append(Chore("tame", "tame", n, due, step=standing(sessions).step, never=(n, "tame") not in done.last))
    still = any(spell.kind in {"unwell", "shed"} for spell in animal.spells)
    # One for an enclosure, not one for each who lives there.
    if n == 0 and not quiet and not still and animal.ideas and (due := when(done, "enrich", IDEA_DAYS, today, n)) is not None:
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
