"""Moving stock: a meal takes, an undone meal gives back, a keeper counts or brings."""

import datetime as dt
from collections.abc import Mapping
from typing import Any

from django.db import IntegrityError, transaction
from django.db.models import F, Q
from django.db.models.functions import Greatest

from husbandry.tasks.stocks import FoodMix, stocked, taken_from, with_mixes
from husbandry.tasks.supplies import LEAD_DAYS, STORES, food_of
from ridgeback.households.models import Household, Keeper
from ridgeback.log.models import LogEntry
from ridgeback.supplies.models import FoodRecipe, Stock, StockMovement


def take(
    household: int,
    entry: LogEntry,
    wants: Mapping[str, float],
    keeper: Keeper | None,
    now: dt.datetime,
) -> None:
    """Take what a meal wants off the stock, as far as it is there by the books; in the transaction
    that wrote the meal. A mixed food is taken from its parts, and what stands in for a food after it.
    """
    mixes = mixes_of(household)
    names = {*wants, *with_mixes(wants, mixes)}
    mine = Stock.objects.select_for_update().filter(household=household)
    found = mine.filter(Q(name__in=names) | Q(stands_for__in=names)).order_by("pk")
    lots = [stock.lot for stock in sorted(found, key=lambda one: one.came_on)]
    made = {mix.stands_for: stocked(lots, mix.stands_for) for mix in mixes}
    wanted = with_mixes(wants, mixes, made)

    for food, amount in wanted.items():
        taken, short = taken_from(lots, food, amount)
        if not taken:
            mine_of_food = [lot for lot in lots if lot.food == food]
            taken = [(lot.key, 0.0) for lot in mine_of_food[:1]]

        for n, (key, gone) in enumerate(taken):
            StockMovement.objects.create(
                stock_id=key,
                entry=entry,
                change=-gone,
                short=short if n == 0 else 0.0,
                at=now,
                by=keeper,
            )
            mine.filter(pk=key).update(amount=Greatest(F("amount") - gone, 0.0))


def mixes_of(household: int) -> list[FoodMix]:
    """The mixes that a household feeds."""
    return [recipe.mix for recipe in FoodRecipe.objects.filter(household=household)]


def give_back(entry: LogEntry, now: dt.datetime, keeper: Keeper) -> None:
    """What an undone meal took is there again."""
    for moved in StockMovement.objects.filter(entry=entry).order_by("stock"):
        stock = Stock.objects.select_for_update().get(pk=moved.stock_id)
        Stock.objects.filter(pk=stock.pk).update(amount=stock.amount - moved.change)
        StockMovement.objects.create(
            stock=stock, change=-moved.change, at=now, by=keeper, note="meal undone"
        )
    StockMovement.objects.filter(entry=entry).update(entry=None)


@transaction.atomic
def count(stock: Stock, amount: float, *, keeper: Keeper, now: dt.datetime, note: str) -> None:
    """Set a stock to what was counted, or to what it is with what came."""
    there = Stock.objects.select_for_update().get(pk=stock.pk)
    StockMovement.objects.create(
        stock=there, change=amount - there.amount, at=now, by=keeper, note=note
    )
    Stock.objects.filter(pk=there.pk).update(amount=amount)


@transaction.atomic
def bring(
    stock: Stock, amount: float, *, keeper: Keeper, now: dt.datetime, came_on: dt.date
) -> None:
    """Something came: it is more, and as fresh as what came."""
    there = Stock.objects.select_for_update().get(pk=stock.pk)
    StockMovement.objects.create(stock=there, change=amount, at=now, by=keeper, note="came")
    Stock.objects.filter(pk=there.pk).update(amount=there.amount + amount, came_on=came_on)


DETAILS = ("place", "lead_days", "opened_on", "best_before", "stands_for", "piece_g", "price")
"""What is known of something in stock beside its amount."""


def parts_of(household: int) -> frozenset[str]:
    """Names that a household's mixes are made of: they are weighed."""
    return frozenset(part for mix in mixes_of(household) for part, _ in mix.parts)


def put_in(
    household: Household, data: Mapping[str, Any], *, keeper: Keeper, now: dt.datetime
) -> Stock | None:
    """Put something new in; None where something of that name is there."""
    food = food_of(data["stands_for"] or data["name"])
    lead = data["lead_days"]
    known = {name: data[name] for name in DETAILS if name not in {"place", "lead_days"}}
    try:
        with transaction.atomic():
            today = household.day_of(now)
            stock = Stock.objects.create(
                household=household,
                name=data["name"],
                place=data["place"] or STORES.get(food, "shelf"),
                lead_days=LEAD_DAYS.get(food, 7) if lead is None else lead,
                is_weighed=data["is_weighed"],
                came_on=today,
                **known,
            )
            bring(stock, data["number"], keeper=keeper, now=now, came_on=today)
    except IntegrityError:
        return None
    return stock


@transaction.atomic
def change(stock: Stock, data: Mapping[str, Any]) -> None:
    """Keep what is known of something in stock."""
    there = Stock.objects.select_for_update().get(pk=stock.pk)
    for name in DETAILS:
        if name not in {"place", "lead_days"} or data[name] not in {"", None}:
            setattr(there, name, data[name])
    there.save(update_fields=list(DETAILS))


def set_freezer(household: Household, litres: float | None) -> None:
    """Keep how much room there is for frozen food [l]."""
    Household.objects.filter(pk=household.pk).update(freezer_l=litres)


def keep_recipe(household: Household, known: FoodRecipe | None, data: Mapping[str, Any]) -> bool:
    """Keep a mix; False where another is fed as the same food."""
    made = known or FoodRecipe(household=household)
    made.name, made.stands_for = data["name"], data["stands_for"]
    made.parts, made.water_g = data["parts"], data["water_g"]
    try:
        with transaction.atomic():
            made.save()
    except IntegrityError:
        return False
    return True
