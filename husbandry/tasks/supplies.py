"""What the meals to come take out of the food supplies, when it runs short, and how much to buy.

Method: docs/methods/supplies.md.
"""

import datetime as dt
import math
from collections.abc import Iterable, Mapping, Sequence
from typing import NamedTuple

from husbandry.derivation import Derivation, Source, named_text, named_value
from husbandry.feeding.feeders import BY_NAME
from husbandry.methods import Argument, Example, method
from husbandry.tasks.routines import MealRoutine
from husbandry.tasks.task import Task

LIVE_FOODS = frozenset({"insects", "ants", "worms"})
DAILY_LOSS = {
    "insects": 0.03,
    "ants": 0.03,
    "worms": 0.01,
    "greens": 0.1,
    "grass": 0.02,
    "fruit": 0.1,
}
"""Of what is alive or fresh, lost in a day (source: feeding C8: 3 % of crickets;
the others common practice) [1].
"""
KEEPS_DAYS = {
    "prey": 270,
    "greens": 5,
    "fruit": 5,
    "grass": 180,
    "paste": 180,
    "pellets": 180,
    "eggs": 28,
}
"""How long it is good once it is there: frozen prey six to twelve months at -18 °C (note, C8), the
others by their labels (common practice) [days].
"""
LEAD_DAYS = {
    "insects": 3,
    "ants": 7,
    "worms": 3,
    "prey": 7,
    "greens": 1,
    "fruit": 1,
    "grass": 7,
    "paste": 7,
    "pellets": 7,
    "eggs": 3,
}
"""From ordering to having it (common practice; edited by the keeper) [days]."""
STORES = {
    "prey": "freezer",
    "greens": "fridge",
    "fruit": "fridge",
    "ants": "shelf",
    "worms": "fridge",
}
"""Where it is kept; all else on a shelf (common practice: worms of the colder kinds cool, never
crickets).
"""
SUPPLIES: Mapping[str, int] = {
    "calcium supplement": 365,
    "calcium supplement with D3": 180,
    "multivitamin supplement": 180,
    "vitamin A supplement": 180,
    "water conditioner": 365,
    "ammonia test": 365,
    "nitrite test": 365,
    "nitrate test": 365,
    "hygrometer salt test": 730,
}
"""Things that are no food, and how long they are good once opened, where the label says nothing
(common practice: vitamins half a year) [days].
"""
SUPPLEMENT_NAMES: Mapping[str, str] = {
    "calcium": "calcium supplement",
    "calcium + D3": "calcium supplement with D3",
    "multivitamin": "multivitamin supplement",
    "vitamin A": "vitamin A supplement",
}
"""Under which name a product of the plans stands in the food supplies."""
SOON_DAYS = 21
"""So long before its date it is said (design choice) [days]."""
SAFETY_DAYS = 3
"""Of food that is there when the order comes (design choice) [days]."""


class Need(NamedTuple):
    """What one kind of food is needed for on a day, by count for whole animals, else by mass."""

    day: dt.date
    name: str
    amount: float
    """[animals or g]"""


def counted(name: str) -> bool:
    """Whether that food is counted rather than weighed."""
    feeder = BY_NAME.get(name)
    return feeder is not None and feeder.food in {*LIVE_FOODS, "prey", "eggs"}


def food_of(name: str) -> str:
    """The kind of food that a feeder is; empty for what is none."""
    feeder = BY_NAME.get(name)
    return feeder.food if feeder is not None else ""


def taken(task: Task, grams: float | None = None) -> dict[str, float]:
    """What a meal takes, by food [animals or g]; in proportion where less or more than usual was
    given.
    """
    if task.kind != "feed" or task.meal is None:
        return {}
    return taken_by(task.meal, grams)


def taken_by(meal: MealRoutine, grams: float | None = None) -> dict[str, float]:
    """What so much of a meal takes, by food [animals or g]; all of it where no amount is said."""
    share = 1.0 if grams is None or not meal.grams else grams / meal.grams
    found: dict[str, float] = {}
    for part in meal.helpings:
        amount = float(part.count) if part.count is not None else part.grams
        found[part.name] = found.get(part.name, 0.0) + (
            round(amount * share) if part.count is not None else amount * share
        )
    return found


def needs_of(days: Iterable[tuple[dt.date, Sequence[Task]]]) -> list[Need]:
    """What the meals of days to come take."""
    found: dict[tuple[dt.date, str], float] = {}
    for day, tasks in days:
        for task in tasks:
            for name, amount in taken(task).items():
                found[day, name] = found.get((day, name), 0.0) + amount
    return [Need(day, name, amount) for (day, name), amount in sorted(found.items())]


@method(
    arguments={
        "per_day": Argument("1/day", 0, 100_000),
        "days": Argument("days", 1, 60),
        "daily_loss": Argument("1", 0, 0.5),
    },
    unit="1",
    rule=(
        "Backwards from the last day: what a day begins with is what the next needs, over what"
        " lives through the night, and its own meal."
    ),
    source=Source(kind="published", text="arithmetic"),
    example=Example(
        {"per_day": 20, "days": 7, "daily_loss": 0.03}, 154, 0.005, "source: feeding C8: 154"
    ),
)
def to_buy(per_day: float, days: float, daily_loss: float) -> float:
    """How many must be there on the first day for a meal on each of so many days, when some are
    lost every night.
    """
    return to_cover([per_day] * round(days), daily_loss)


def to_cover(amounts: Sequence[float], daily_loss: float) -> float:
    """How much must be there on the first of these days for what each of them takes, when a share
    is lost every night.
    """
    wanted = 0.0
    for amount in reversed(amounts):
        wanted = wanted / (1 - daily_loss) + amount
    return wanted


class SupplyForecast(NamedTuple):
    """One kind of food in the weeks to come."""

    name: str
    per_week: float
    short_on: dt.date | None
    """The first day on which a meal cannot be had; None within the weeks looked at."""
    order_by: dt.date | None
    """So that it comes in time."""
    buy: float
    """For two weeks from the day on which it is short; whole animals [animals or g]."""
    derivation: Derivation | None
    """Of what is to be bought."""


BUY_DAYS = 14
"""What is bought lasts so long (design choice) [days]."""


def stock_forecast(
    name: str, stock: float, needs: Iterable[Need], today: dt.date, lead_days: int
) -> SupplyForecast:
    """What becomes of a stock: eaten meal by meal, and lost night by night."""
    mine = {need.day: need.amount for need in needs if need.name == name}
    loss = DAILY_LOSS.get(food_of(name), 0.0)
    left = stock
    short = None
    day = today
    last = max(mine, default=today)
    while day <= last:
        wanted = mine.get(day, 0.0)
        if wanted > left + 1e-9:
            short = day
            break
        left = (left - wanted) * (1 - loss)
        day += dt.timedelta(days=1)
    weeks = max((last - today).days + 1, 7) / 7
    order = short - dt.timedelta(days=lead_days + SAFETY_DAYS) if short is not None else None
    if short is None:
        return SupplyForecast(name, sum(mine.values()) / weeks, None, None, 0.0, None)
    fortnight = [mine.get(short + dt.timedelta(days=n), 0.0) for n in range(BUY_DAYS)]
    buy = to_cover(fortnight, loss)
    buy = float(math.ceil(buy - 1e-9)) if counted(name) else buy
    return SupplyForecast(
        name,
        sum(mine.values()) / weeks,
        short,
        order,
        buy,
        _buying(name, buy, stock, fortnight, loss, short, lead_days),
    )


def _buying(
    name: str,
    buy: float,
    stock: float,
    fortnight: Sequence[float],
    loss: float,
    short: dt.date,
    lead_days: int,
) -> Derivation:
    unit = "" if counted(name) else "g"
    rule = (
        "Backwards through two weeks from the day on which it runs short: what a day begins with is"
        " what the next needs, over what lives through the night, and its own meals. Ordered so"
        " many days before as it takes to come, and three more."
    )
    inputs = (
        named_value("there", stock, unit),
        named_text("short on", f"{short:%-d %B %Y}"),
        named_value("meals of these two weeks", sum(fortnight), unit),
        named_value("lost each night", 100 * loss, "%"),
        named_value("from order to delivery", lead_days, "days"),
        named_value("to spare", SAFETY_DAYS, "days"),
    )
    return Derivation(
        value=buy,
        unit=unit,
        rule=rule,
        inputs=inputs,
        sources=(Source(kind="published", text="arithmetic"), Source(kind="common practice")),
    )


def good_until(
    name: str, came_on: dt.date, opened_on: dt.date | None, best_before: dt.date | None
) -> dt.date | None:
    """The last day on which it is good: by its label, by its opening, or by what its species keeps;
    None where nobody knows.
    """
    ends = [best_before] if best_before is not None else []
    if opened_on is not None and name in SUPPLIES:
        ends.append(opened_on + dt.timedelta(days=SUPPLIES[name]))
    keeps = KEEPS_DAYS.get(food_of(name))
    if keeps is not None and best_before is None:
        ends.append(came_on + dt.timedelta(days=keeps))
    return min(ends, default=None)


def supplements_of(rules: Iterable[str]) -> set[str]:
    """The supplements that plans ask for, by their names in the food supplies."""
    return {SUPPLEMENT_NAMES[product] for product in rules}
