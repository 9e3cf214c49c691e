"""What is due for an animal: its meals, baths, the scale, a look at its body, treatments, the hand,
something new; in its rest the scale alone.
"""

import datetime as dt
from collections.abc import Sequence

from husbandry.feeding.condition import LOOK_DAYS
from husbandry.feeding.condition_periods import QUIET_DAYS
from husbandry.feeding.upcoming_meals import GivenMeal, MealPace, coming
from husbandry.handling.enriching import ENRICHMENT_DAYS as IDEA_DAYS
from husbandry.handling.enriching import idea_of
from husbandry.handling.taming import not_today, standing
from husbandry.seasons.brumation import Dormancy, is_dormant
from husbandry.tasks.routines import EGG_DAYS, NAIL_DAYS, SCREEN_AFTER_DAYS, AnimalRoutine
from husbandry.tasks.task import Done, Task, when


def of_animal(n: int, animal: AnimalRoutine, done: Done, today: dt.date) -> list[Task]:
    """What is due for the animal at that place of the routines on a day."""
    found = []
    found += _treatments(n, done, today)
    dormancy = done.resting.get(n)
    if dormancy is not None and is_dormant(dormancy, today):
        return [*found, *_while_dormant(n, dormancy, done, today)]
    moved = done.moved_in.get(n)
    quiet = moved is not None and (today - moved).days < QUIET_DAYS
    fed = _meals_due(animal, done, found, n, quiet, dormancy, today)
    if (
        animal.soak is not None
        and not quiet
        and (due := when(done, "soak", animal.soak.every_days, today, n)) is not None
    ):
        found.append(
            Task(
                "soak",
                "soak",
                n,
                due,
                every_days=done.paced(n, "soak", animal.soak.every_days),
                never=(n, "soak") not in done.last,
            )
        )
    weighed = done.weighed.get(n, done.since)
    own = done.own.get((n, "weigh"))
    due = own.next_after(weighed) if own else weighed + dt.timedelta(days=animal.weigh_days)
    if due <= today and not quiet:
        every_days = done.paced(n, "weigh", animal.weigh_days)
        found.append(
            Task("weigh", "weigh", n, due, every_days=every_days, never=n not in done.weighed)
        )
    found += _body_checks(n, animal, fed, done, today, quiet=quiet)
    if not quiet and (due := when(done, "body", LOOK_DAYS, today, n)) is not None:
        found.append(
            Task("body", "body", n, due, every_days=LOOK_DAYS, never=(n, "body") not in done.last)
        )
    found += _company(n, animal, fed, done, today, quiet=quiet)
    if (
        moved is not None
        and (due := moved + dt.timedelta(days=SCREEN_AFTER_DAYS))
        <= today
        <= due + dt.timedelta(days=60)
        and (n, "screen") not in done.last
    ):
        found.append(Task("screen", "screen", n, due))
    return found


def _body_checks(
    n: int,
    animal: AnimalRoutine,
    fed: Sequence[GivenMeal],
    done: Done,
    today: dt.date,
    *,
    quiet: bool,
) -> list[Task]:
    """Old skin after a shed, claws and beak, and an egg that was left lying."""
    found = []
    over = done.shed_over.get(n)
    checked = done.last.get((n, "toes"))

    if animal.shed_words and over is not None and (checked is None or checked < over):
        found.append(Task("toes", "toes", n, over))

    if animal.nails and not quiet and (due := when(done, "nails", NAIL_DAYS, today, n)):
        never = (n, "nails") not in done.last
        every_days = done.paced(n, "nails", NAIL_DAYS)
        found.append(Task("nails", "nails", n, due, every_days=every_days, never=never))
    eggs = {meal.slug for meal in animal.meals if any(p.food == "eggs" for p in meal.helpings)}
    left = max((one.on for one in fed if one.slug in eggs and not one.eaten), default=None)

    if left is not None:
        due = left + dt.timedelta(days=EGG_DAYS)
        taken = done.last.get((n, "leftovers"))

        if due <= today and (taken is None or taken < left):
            found.append(Task("leftovers", "leftovers", n, due))

    return found


def _meals_due(
    animal: AnimalRoutine,
    done: Done,
    found: list[Task],
    n: int,
    quiet: bool,
    dormancy: Dormancy | None,
    today: dt.date,
) -> Sequence[GivenMeal]:
    """Add the meals that are due, and give back those that were given."""
    paces = [
        MealPace(meal.slug, meal.every_days, meal.carries, meal.not_before)
        for meal in animal.meals
    ]
    by_slug = {meal.slug: meal for meal in animal.meals}
    fed = done.fed.get(n) or (
        [GivenMeal(animal.anchor, meal.slug) for meal in animal.meals] if animal.fed_known else []
    )
    # Once something is logged the grid stands on a day that stays, or the supplements would move
    # with the calendar; before, it eats today.
    anchor = animal.anchor if animal.fed_known or not fed else done.since
    meals, _ = coming(paces, animal.rules, anchor, fed, today, 2)
    for one in meals:
        meal = by_slug[one.slug]
        if one.day == today:
            stem = f"feed {one.slug}"
            found.append(
                Task(
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
            and not (dormancy is not None and is_dormant(dormancy, one.day))
            and (due := when(done, "gutload", 1, today, n)) is not None
        ):
            found.append(
                Task(
                    "gutload",
                    "gutload",
                    n,
                    due,
                    meal=meal,
                    every_days=1,
                    never=(n, "gutload") not in done.last,
                )
            )
    return fed


def _company(
    n: int,
    animal: AnimalRoutine,
    fed: Sequence[GivenMeal],
    done: Done,
    today: dt.date,
    *,
    quiet: bool,
) -> list[Task]:
    """The hand, where its taming goes on, and an idea of the week."""
    found = []
    last_meal = max((one.on for one in fed if one.eaten), default=None)
    sessions = done.tamed.get(n)
    if sessions is not None and animal.tame_days is not None:
        due = when(done, "tame", animal.tame_days, today, n)
        against = not_today(
            animal.condition_periods,
            last_meal,
            today,
            whole_prey=animal.whole_prey,
            quiet=quiet,
            resting=False,
        )
        if due is not None and not against:
            found.append(
                Task(
                    "tame",
                    "tame",
                    n,
                    due,
                    step=standing(sessions).step,
                    never=(n, "tame") not in done.last,
                )
            )
    still = any(
        condition_period.kind in {"unwell", "shed"}
        for condition_period in animal.condition_periods
    )
    # One for an enclosure, not one for each who lives there.
    if (
        n == 0
        and not quiet
        and not still
        and animal.ideas
        and (due := when(done, "enrich", IDEA_DAYS, today, n)) is not None
    ):
        idea = idea_of(animal.ideas, today, n)
        found.append(
            Task(
                "enrich",
                "enrich",
                n,
                due,
                idea=idea,
                every_days=IDEA_DAYS,
                never=(n, "enrich") not in done.last,
            )
        )
    return found


def _treatments(n: int, done: Done, today: dt.date) -> list[Task]:
    """Doses of today. One that was missed is never made up: it is said, and asked about."""
    found = []
    for treatment in done.treatments.get(n, ()):
        if not treatment.on(today):
            continue
        for time in range(treatment.times):
            stem = treatment.stem(time)
            last = done.last.get((n, stem))
            if last == today:
                continue
            before = treatment.before(today)
            missed = before if before is not None and (last is None or last < before) else None
            found.append(Task("treatment", stem, n, today, treatment=treatment, missed=missed))
    return found


def _while_dormant(n: int, dormancy: Dormancy, done: Done, today: dt.date) -> list[Task]:
    """Of an animal that rests or is on its way there: nothing but the scale."""
    due = max(
        (step.on for step in dormancy.steps if step.kind == "weigh" and step.on <= today),
        default=None,
    )
    if due is None or done.weighed.get(n, dt.date.min) >= due:
        return []
    return [Task("weigh", "weigh", n, due, every_days=dormancy.weigh_days, resting=True)]
