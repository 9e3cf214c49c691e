"""The food supplies as a page shows it: what is there, when it runs short by the meals to come,
what to order, what is past its date.
"""

import datetime as dt
import math
from dataclasses import dataclass, replace
from functools import partial
from typing import Any

from husbandry.errors import NoSolutionError
from husbandry.feeding.feeders import BY_NAME
from husbandry.quantity import Kind, Units, show
from husbandry.tasks.colony import COUNTS_APART_DAYS, harvest_derivation
from husbandry.tasks.stocks import (
    freezer_litres,
    needs_with_mixes,
    price_of,
    put_together,
    stocked,
    weighed,
)
from husbandry.tasks.supplies import (
    LEAD_DAYS,
    SOON_DAYS,
    Need,
    SupplyForecast,
    counted,
    food_of,
    good_until,
    needs_of,
    stock_forecast,
    supplements_of,
)
from ridgeback.calculation import Failed, attempt
from ridgeback.derivations import DerivationView, derivation_view
from ridgeback.households.models import Household
from ridgeback.sentences import plural
from ridgeback.supplies.flows import mixes_of
from ridgeback.supplies.models import FoodRecipe, Stock, StockMovement
from ridgeback.tasks.due_tasks import Due, grown_routines

DAYS = 56


def amount_text(amount: float, units: Units, *, by_mass: bool) -> str:
    """An amount as it is read."""
    return show(amount, Kind.MASS, units) if by_mass else f"{amount:.0f}"


@dataclass(frozen=True)
class SupplyRow:
    """A kind of food, there or needed."""

    name: str
    stock: Stock | None
    there: str
    per_week: str
    direction: str
    words: str
    order: DerivationView | None
    dates: str
    late: bool
    colony: DerivationView | None = None
    """What it gives a week, of a colony that was counted twice."""
    colony_says: str = ""


@dataclass(frozen=True)
class StockView:
    """What a household has, as its page looks at it."""

    stocks: tuple[Stock, ...]
    parts: frozenset[str]
    """Names that mixes are made of."""
    currency: str

    def by_mass(self, name: str) -> bool:
        """Whether something is weighed rather than counted."""
        own = next((stock for stock in self.stocks if stock.name == name), None)
        return weighed(name) or name in self.parts or (own is not None and own.by_mass)

    def price_text(self, amount: float, name: str, price: float | None) -> str:
        """What an amount costs, after a comma; nothing where nobody knows."""
        cost = price_of(amount, price, by_mass=self.by_mass(name))
        return f", about {cost:.2f} {self.currency}" if cost is not None else ""


def _words(found: SupplyForecast, today: dt.date) -> tuple[str, str]:
    if found.short_on is None:
        return (
            ("right", "eight weeks and more")
            if found.per_week
            else ("", "no meal takes it" if found.name in BY_NAME else "")
        )
    if found.short_on <= today:
        return "below", "short today"
    days = (found.short_on - today).days
    return (
        "below" if days <= 3 else "unknown"
    ), f"until {found.short_on - dt.timedelta(days=1):%-d %B}"


def _order(
    found: SupplyForecast, today: dt.date, units: Units, price: float | None, stock: StockView
) -> DerivationView | None:
    if (
        found.derivation is None
        or found.order_by is None
        or found.order_by > today + dt.timedelta(days=14)
    ):
        return None
    when = "now" if found.order_by <= today else f"by {found.order_by:%-d %B}"
    name = plural(found.name) if counted(found.name) and found.buy > 1 else found.name
    seen = derivation_view(found.derivation, units)
    cost = stock.price_text(found.buy, found.name, price)
    each = "100 g" if stock.by_mass(found.name) else "one"
    priced = ((f"your price of {each}", f"{price:g} {stock.currency}"),) if cost else ()
    amount = amount_text(found.buy, units, by_mass=stock.by_mass(found.name))

    return replace(seen, text=f"{amount} {name}, {when}{cost}", inputs=(*seen.inputs, *priced))


def _dates(stock: Stock, today: dt.date) -> tuple[str, bool, int | None]:
    """Its dates in words, whether it is past the last of them, and the days to it."""
    good = good_until(stock.name, stock.came_on, stock.opened_on, stock.best_before)
    said = [f"opened {stock.opened_on:%-d %b %Y}"] if stock.opened_on else []
    if stock.best_before is None or (good is not None and good < stock.best_before):
        said.append(
            f"good until {good:%-d %b %Y}"
            if good is not None
            else f"came {stock.came_on:%-d %b %Y}"
        )
    else:
        said.append(f"best before {stock.best_before:%-d %b %Y}")
    days = (good - today).days if good is not None else None
    return ", ".join(said), days is not None and days < 0 and stock.amount > 0, days


def rows_of(
    view: StockView, needs: list[Need], supplements: set[str], today: dt.date, units: Units
) -> list[SupplyRow]:
    """Everything that is there or will be needed; `supplements` are those that the plans of food
    ask for.
    """
    known = {stock.name: stock for stock in view.stocks}
    names = sorted(
        {*known, *supplements, *(need.name for need in needs)},
        key=lambda name: (name not in BY_NAME, name),
    )
    return [_row(name, known.get(name), view, needs, supplements, today, units) for name in names]


def _row(
    name: str,
    stock: Stock | None,
    view: StockView,
    needs: list[Need],
    supplements: set[str],
    today: dt.date,
    units: Units,
) -> SupplyRow:
    lead = stock.lead_days if stock else LEAD_DAYS.get(food_of(name), 7)
    own = stock.amount if stock else 0.0
    there = own if stock and stock.stands_for else stocked([one.lot for one in view.stocks], name)
    standing_in = there - own
    by_mass = view.by_mass(name)
    seen = stock_forecast(name, there, needs, today, lead)
    dates, late, days = _dates(stock, today) if stock else ("", False, None)
    lasts = _words(seen, today)
    direction, words = _state(lasts, stock, there, days, is_asked=name in supplements)
    if late:
        direction, words = "above", "past its date"

    week = math.ceil(seen.per_week) if counted(name) else seen.per_week
    amount = amount_text(own, units, by_mass=by_mass)
    more = amount_text(standing_in, units, by_mass=by_mass)
    alone = amount if stock else ""

    return SupplyRow(
        name,
        stock,
        f"{amount}, plus {more} fed as this" if standing_in else alone,
        amount_text(week, units, by_mass=by_mass) if seen.per_week else "",
        direction,
        words,
        _order(seen, today, units, stock.price if stock else None, view),
        dates,
        late,
    )


def _state(
    lasts: tuple[str, str], stock: Stock | None, there: float, days: int | None, *, is_asked: bool
) -> tuple[str, str]:
    """The direction and the words of what is there: a plan's wish, how long it lasts, and its date
    where that is near.

    Parameters
    ----------
    lasts : tuple of str
        Direction and words of how long it lasts.
    days : int or None
        To its date.
    """
    direction, words = lasts
    if is_asked:
        direction, words = ("right" if there > 0 else "below"), "a plan needs it"
    elif stock is None and not there:
        return "unknown", "not counted yet"
    elif stock is not None and stock.stands_for:
        words = f"fed as {stock.stands_for}"

    ends_soon = days is not None and 0 <= days <= SOON_DAYS
    if ends_soon and stock is not None and stock.amount > 0 and direction != "below":
        return "unknown", f"{days} days left" if days else "last day"
    return direction, words


def with_colonies(rows: list[SupplyRow], units: Units) -> list[SupplyRow]:
    """The rows with what each colony gives, from its last two counts that lie far enough apart and
    what left between them.
    """
    colonies = {
        row.stock.pk: row
        for row in rows
        if row.stock is not None and row.stock.place == Stock.Place.COLONY
    }
    moved: dict[int, list[StockMovement]] = {}
    for one in StockMovement.objects.filter(stock__in=list(colonies)).order_by("at", "pk"):
        moved.setdefault(one.stock_id, []).append(one)
    told = {pk: _colony(moved.get(pk, []), row, units) for pk, row in colonies.items()}
    return [
        row if row.stock is None or row.stock.pk not in told else told[row.stock.pk]
        for row in rows
    ]


def _colony(moved: list[StockMovement], row: SupplyRow, units: Units) -> SupplyRow:
    there = 0.0
    counts = []
    gone = 0.0
    taken_at: list[tuple[dt.datetime, float]] = []
    for one in moved:
        there += one.change
        if one.note == "counted":
            counts.append((one.at, there))
        elif one.change < 0 or one.short:
            taken_at.append((one.at, -one.change))
    last = counts[-1] if counts else None
    first = next(
        (
            one
            for one in reversed(counts)
            if last is not None and (last[0] - one[0]).days >= COUNTS_APART_DAYS
        ),
        None,
    )
    if last is None or first is None or first[1] < 1:
        return replace(
            row,
            colony_says=(
                "A colony: count it twice, two weeks apart, and what it gives is calculated."
            ),
        )
    gone = sum(amount for at, amount in taken_at if first[0] < at <= last[0])
    try:
        derivation = harvest_derivation(first[1], last[1], gone, (last[0] - first[0]).days)
    except NoSolutionError as why:
        return replace(row, colony_says=str(why))
    return replace(
        row,
        colony=replace(
            derivation_view(derivation, units),
            text=f"A colony: about {derivation.value:.0f} a week can be taken",
        ),
    )


def meal_needs(due_lists: list[Due], at: dt.datetime) -> list[Need]:
    """What the meals of the next weeks take; the second half of them by animals that have grown."""
    later = grown_routines(due_lists, at, DAYS // 2)
    found: list[Need] = []
    for due in due_lists:
        grown = later.get(due.enclosure.pk)
        coming = due.ahead(DAYS, [(DAYS // 2, grown)] if grown is not None else [])
        needs = attempt(partial(needs_of, coming), "enclosure", due.enclosure.pk)
        found += [] if isinstance(needs, Failed) else needs
    return found


def lamps_of(due_lists: list[Due]) -> list[tuple[Due, str, dt.date]]:
    """Ultraviolet lamps in use, with the day on which each will have fallen to seven tenths."""
    found = [
        (
            due,
            lamp.item_id.rsplit("-", 1)[0],
            due.done.lamps_on + dt.timedelta(days=round(lamp.left_days)),
        )
        for due in due_lists
        if due.routines is not None and due.done is not None
        for lamp in due.routines.lamps
    ]
    return sorted(found, key=lambda one: one[2])


def food_rows(
    household: Household, due_lists: list[Due], meals: list[Need], at: dt.datetime, units: Units
) -> list[SupplyRow]:
    """Everything that is in a household's food supplies, or that its animals will need.

    Parameters
    ----------
    meals : list of Need
        What the meals to come take, by `meal_needs`.
    """
    today = household.day_of(at)
    supplements = supplements_of(
        rule.product
        for due in due_lists
        if due.routines is not None
        for animal in due.routines.animals
        for rule in animal.rules
    )
    mixes = mixes_of(household.pk)
    view = StockView(
        tuple(Stock.objects.of(household)),
        frozenset(part for mix in mixes for part, _ in mix.parts),
        household.currency,
    )
    needs = needs_with_mixes(meals, mixes, [stock.lot for stock in view.stocks])
    return with_colonies(rows_of(view, needs, supplements, today, units), units)


@dataclass(frozen=True)
class FreezerView:
    """Frozen food, and the room there is."""

    taken: DerivationView
    is_full: bool


def freezer_of(household: Household, units: Units) -> FreezerView | None:
    """What frozen food takes; None where nothing is frozen and no room was said."""
    frozen = Stock.objects.of(household).filter(place=Stock.Place.FREEZER, amount__gt=0)
    lots = [stock.lot for stock in frozen]
    if not lots and household.freezer_l is None:
        return None
    taken = freezer_litres(lots)
    room = household.freezer_l
    of = f" of {show(room, Kind.VOLUME, units)}" if room is not None else ""
    words = f"Frozen food takes about {show(taken.value, Kind.VOLUME, units)}{of}"

    return FreezerView(
        replace(derivation_view(taken, units), text=words), room is not None and taken.value > room
    )


@dataclass(frozen=True)
class RecipeView:
    """A mix, and what a week of meals takes of it."""

    recipe: FoodRecipe
    made: str
    """How much is put together."""
    parts: tuple[tuple[str, str], ...]


def recipe_initial(recipe: FoodRecipe, units: Units) -> dict[str, Any]:
    """A mix as its form shows it."""
    parts = sorted(recipe.parts.items(), key=lambda part: -part[1])
    lines = [f"{show(grams, Kind.MASS, units)} {name}" for name, grams in parts]
    return {
        "name": recipe.name,
        "stands_for": recipe.stands_for,
        "parts": "\n".join(lines),
        "water_g": recipe.water_g or None,
    }


WEEK_G = 100.0
"""Of a mix, where no meal takes it: so much is shown (design choice) [g]."""


def recipes_of(household: Household, meals: list[Need], units: Units) -> list[RecipeView]:
    """A household's mixes, each as a week of meals takes it."""
    found = []
    for recipe in FoodRecipe.objects.of(household):
        week = sum(need.amount for need in meals if need.name == recipe.stands_for)
        grams = 7 * week / DAYS or WEEK_G
        parts = put_together(recipe.mix, grams)
        found.append(
            RecipeView(
                recipe,
                f"{show(grams, Kind.MASS, units)}{' for a week' if week else ''}",
                tuple(
                    (name, show(part, Kind.MASS, units))
                    for name, part in sorted(parts, key=lambda one: -one[1])
                ),
            )
        )
    return found
