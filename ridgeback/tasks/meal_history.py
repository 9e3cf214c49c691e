"""Plans that follow what was logged: the weeks of food are laid around the meals that were given."""

import datetime as dt

from husbandry.feeding.meals import carriers_of
from husbandry.feeding.upcoming_meals import GivenMeal, relaid
from husbandry.handling.taming import HOW, HandlingSession
from husbandry.seasons.brumation import is_dormant
from ridgeback.enclosures.models import Enclosure
from ridgeback.enclosures.planning import Planned
from ridgeback.log.models import LogEntry
from ridgeback.seasons.models import dormancies_of

TAME = "tame"
FACTS_DAYS = 70
"""Meals of so many days back decide the supplements to come: two of the longest intervals, and a
little [days].
"""


def meals_of(animals: list[int], today: dt.date) -> dict[int, list[GivenMeal]]:
    """The meals that each of these animals was offered of late, in one query."""
    found: dict[int, list[GivenMeal]] = {}
    offered = LogEntry.objects.standing().exclude(outcome=LogEntry.Outcome.SKIPPED)
    since = today - dt.timedelta(days=FACTS_DAYS)
    rows = offered.filter(animal__in=animals, stem__startswith="feed ", on__gte=since).order_by()
    for animal, stem, on, products, outcome in rows.values_list(
        "animal", "stem", "on", "products", "outcome"
    ):
        found.setdefault(animal or 0, []).append(
            GivenMeal(
                on, stem.removeprefix("feed "), tuple(products), outcome == LogEntry.Outcome.DONE
            )
        )
    return found


def sessions_of(animals: "dict[int, dt.date]") -> dict[int, list[HandlingSession]]:
    """Sessions of taming of each of these animals from its day on, in one query; an empty list
    where there were none yet.
    """
    found: dict[int, list[HandlingSession]] = {pk: [] for pk in animals}
    if not animals:
        return found
    rows = LogEntry.objects.standing().filter(
        animal__in=list(animals),
        stem=TAME,
        outcome=LogEntry.Outcome.DONE,
        on__gte=min(animals.values()),
    )
    for pk, on, how in rows.order_by("on", "pk").values_list("animal", "on", "how"):
        if pk is not None and how in HOW and on >= animals[pk]:
            found[pk].append(HandlingSession(on, how))
    return found


def as_logged(made: Planned, enclosure: Enclosure) -> Planned:
    """The same plan with its weeks of food as they follow from the log."""
    request = made.request
    plan = made.plan
    here = [occupancy.animal_id for occupancy in enclosure.present]
    if len(here) != len(plan.animals):
        return made
    fed = meals_of(here, request.today)
    resting = dormancies_of(here, request.today)
    if not fed and not resting:
        return made
    since = enclosure.room.day_of(
        min(one.since for one in enclosure.present)
    )  # as the day's tasks count
    animals = []
    for n, (pk, found) in enumerate(zip(here, plan.animals, strict=True)):
        said = request.animals[n].fed_on
        anchor = said if said is not None and said <= request.today else since
        carries = [
            one.slug for one in carriers_of(request.profiles[found.species], found.diet.plans)
        ]
        diet = relaid(found.diet, carries, anchor, fed.get(pk, ()), request.today)
        dormancy = resting.get(pk)
        if dormancy is not None:  # nothing is offered from its last meal to its first
            diet = diet.model_copy(
                update={
                    "meals": tuple(
                        meal for meal in diet.meals if not is_dormant(dormancy, meal.day)
                    )
                }
            )
        animals.append(found.model_copy(update={"diet": diet}))
    return made.with_plan(plan.model_copy(update={"animals": tuple(animals)}))
