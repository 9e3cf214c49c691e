"""Moving stock: a meal takes, an undone meal gives back, a keeper counts or brings."""

import datetime as dt
from collections.abc import Mapping

from django.db import transaction

from ridgeback.households.models import Keeper
from ridgeback.log.models import LogEntry
from ridgeback.supplies.models import Stock, StockMovement


def take(
    household: int,
    entry: LogEntry,
    wants: Mapping[str, float],
    keeper: Keeper | None,
    now: dt.datetime,
) -> None:
    """Take what a meal wants off the stock, as far as it is there by the books; in the transaction
    that wrote the meal.
    """
    for stock in (
        Stock.objects.select_for_update()
        .filter(household=household, name__in=list(wants))
        .order_by("pk")
    ):
        gone = min(stock.amount, wants[stock.name])
        StockMovement.objects.create(
            stock=stock,
            entry=entry,
            change=-gone,
            short=wants[stock.name] - gone,
            at=now,
            by=keeper,
        )
        Stock.objects.filter(pk=stock.pk).update(amount=max(stock.amount - gone, 0.0))


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
