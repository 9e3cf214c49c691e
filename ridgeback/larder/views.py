"""The larder: what is there, when it runs short by the meals to come, what to order, what is past its date."""

import datetime as dt
import math
from dataclasses import dataclass, replace
from typing import Any

from django import forms
from django.contrib import messages
from django.db import IntegrityError, transaction
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.utils import timezone
from django.views.decorators.http import require_http_methods, require_POST

from husbandry.chores.larder import (
    LEAD_DAYS,
    PLACES,
    SOON_DAYS,
    SUPPLIES,
    Need,
    Outlook,
    counted,
    food_of,
    good_until,
    needs_of,
    outlook,
    powders_of,
)
from husbandry.diet.feeders import BY_NAME
from husbandry.errors import EntryError
from husbandry.quantity import Kind, Units, read, show
from ridgeback.animals.presenting import WorkedView, worked_view
from ridgeback.habitats.forms import now
from ridgeback.habitats.presenting import plural
from ridgeback.keepers.middleware import KeeperRequest
from ridgeback.larder import flows
from ridgeback.larder.models import Stock
from ridgeback.rounds.gathering import Due, gather, grown_duties

DAYS = 56
MOST = 1_000_000.0


class StockForm(forms.Form):
    """Something new in the larder: food of the list, or a thing of one's own that grows old."""

    name = forms.CharField(label="What", max_length=80, widget=forms.TextInput(attrs={"list": "feeders", "autocomplete": "off"}))
    amount = forms.CharField(
        label="How much",
        max_length=40,
        widget=forms.TextInput(attrs={"autocomplete": "off", "class": "quantity", "placeholder": "number or g"}),
    )
    opened_on = forms.DateField(
        label="Opened on", required=False, widget=forms.DateInput(attrs={"type": "date"}, format="%Y-%m-%d")
    )
    best_before = forms.DateField(
        label="Best before", required=False, widget=forms.DateInput(attrs={"type": "date"}, format="%Y-%m-%d")
    )

    def __init__(self, *args: Any, units: Units, today: dt.date, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.units, self.today = units, today

    def clean_name(self) -> str:
        """One line, without odd characters."""
        return " ".join(self.cleaned_data["name"].replace("\x00", " ").split())

    def clean_opened_on(self) -> dt.date | None:
        """Nothing was opened in days to come."""
        day: dt.date | None = self.cleaned_data["opened_on"]
        if day is not None and day > self.today:
            raise forms.ValidationError("This day is still to come.")
        return day

    def clean(self) -> dict[str, Any]:
        """The amount in the unit of its kind."""
        data = super().clean() or {}
        if "name" in data and "amount" in data:
            try:
                data["number"] = amount_of(data["amount"], data["name"], self.units)
            except EntryError as why:
                self.add_error("amount", str(why))
        return data


def amount_of(text: str, name: str, units: Units) -> float:
    """An amount as it was typed: whole animals and things by number, the rest by mass. Raises `EntryError`."""
    if name in BY_NAME and not counted(name):
        value = read(text, Kind.MASS, units).value
    else:
        try:
            value = float(text.strip().replace(",", "."))
        except ValueError:
            raise EntryError(f"“{text.strip()[:20]}” is no number.") from None
    if not math.isfinite(value) or value > MOST:
        raise EntryError("That is more than fits in any larder.")
    if value < 0:
        raise EntryError("Stock is counted from nothing up.")
    return value


def amount_text(amount: float, name: str, units: Units) -> str:
    """An amount as it is read."""
    if name in BY_NAME and not counted(name):
        return show(amount, Kind.MASS, units)
    return f"{amount:.0f}"


@dataclass(frozen=True)
class Row:
    """A kind of food, there or needed."""

    name: str
    stock: Stock | None
    there: str
    per_week: str
    direction: str
    words: str
    order: WorkedView | None
    dates: str
    late: bool


def _words(found: Outlook, today: dt.date) -> tuple[str, str]:
    if found.short_on is None:
        return ("right", "eight weeks and more") if found.per_week else ("", "no meal takes it" if found.name in BY_NAME else "")
    if found.short_on <= today:
        return "below", "short today"
    days = (found.short_on - today).days
    return ("below" if days <= 3 else "unknown"), f"until {found.short_on - dt.timedelta(days=1):%-d %B}"


def _order(found: Outlook, today: dt.date, units: Units) -> WorkedView | None:
    if found.working is None or found.order_by is None or found.order_by > today + dt.timedelta(days=14):
        return None
    when = "now" if found.order_by <= today else f"by {found.order_by:%-d %B}"
    name = plural(found.name) if counted(found.name) and found.buy > 1 else found.name
    return replace(worked_view(found.working, units), text=f"{amount_text(found.buy, found.name, units)} {name}, {when}")


def _dates(stock: Stock, today: dt.date) -> tuple[str, bool, int | None]:
    """Its dates in words, whether it is past the last of them, and the days to it."""
    good = good_until(stock.name, stock.came_on, stock.opened_on, stock.best_before)
    said = [f"opened {stock.opened_on:%-d %b %Y}"] if stock.opened_on else []
    if stock.best_before is None or (good is not None and good < stock.best_before):
        said.append(f"good until {good:%-d %b %Y}" if good is not None else f"came {stock.came_on:%-d %b %Y}")
    else:
        said.append(f"best before {stock.best_before:%-d %b %Y}")
    days = (good - today).days if good is not None else None
    return ", ".join(said), days is not None and days < 0 and stock.amount > 0, days


def rows_of(stocks: list[Stock], needs: list[Need], powders: set[str], today: dt.date, units: Units) -> list[Row]:
    """Everything that is there or will be needed; `powders` are those that the plans of food ask for."""
    known = {stock.name: stock for stock in stocks}
    names = sorted({*known, *powders, *(need.name for need in needs)}, key=lambda name: (name not in BY_NAME, name))
    found = []
    for name in names:
        stock = known.get(name)
        lead = stock.lead_days if stock else LEAD_DAYS.get(food_of(name), 7)
        seen = outlook(name, stock.amount if stock else 0.0, needs, today, lead)
        direction, words = _words(seen, today)
        if stock is None:
            direction, words = ("below", "a plan needs it") if name in powders else ("unknown", "not counted yet")
        elif name in powders:
            direction, words = ("right", "a plan needs it") if stock.amount > 0 else ("below", "a plan needs it")
        dates, late, days = _dates(stock, today) if stock else ("", False, None)
        if days is not None and 0 <= days <= SOON_DAYS and stock is not None and stock.amount > 0 and direction != "below":
            direction, words = "unknown", f"{days} days left" if days else "last day"
        if late:
            direction, words = "above", "past its date"
        per_week = amount_text(math.ceil(seen.per_week) if counted(name) else seen.per_week, name, units) if seen.per_week else ""
        found.append(
            Row(
                name,
                stock,
                amount_text(stock.amount, name, units) if stock else "",
                per_week,
                direction,
                words,
                _order(seen, today, units),
                dates,
                late,
            )
        )
    return found


def _needs(dues: list[Due], at: dt.datetime) -> list[Need]:
    """What the meals of the next weeks take; the second half of them by animals that have grown."""
    later = grown_duties(dues, at, DAYS // 2)
    return [
        need
        for due in dues
        for need in needs_of(due.ahead(DAYS, [(DAYS // 2, later[due.habitat.pk])] if due.habitat.pk in later else []))
    ]


def _lamps(dues: list[Due]) -> list[tuple[Due, str, dt.date]]:
    """Ultraviolet lamps in use, with the day on which each will have fallen to seven tenths."""
    found = [
        (due, lamp.thing_id.rsplit("-", 1)[0], due.done.lamps_on + dt.timedelta(days=round(lamp.left_days)))
        for due in dues
        if due.duties is not None and due.done is not None
        for lamp in due.duties.lamps
    ]
    return sorted(found, key=lambda one: one[2])


@require_http_methods(["GET", "HEAD", "POST"])
def larder(request: KeeperRequest) -> HttpResponse:
    """The larder; something new is put in."""
    household, at = request.household, now()
    if household is None:
        return redirect("habitats:list")
    dues = gather(household, at)
    today = dues[0].today if dues else timezone.localdate(at)
    needs = _needs(dues, at)
    powders = powders_of(
        rule.product for due in dues if due.duties is not None for animal in due.duties.animals for rule in animal.rules
    )
    form = StockForm(request.POST if request.method == "POST" else None, units=request.units, today=today)
    if form.is_bound and form.is_valid():
        data = form.cleaned_data
        try:
            with transaction.atomic():
                stock = Stock.objects.create(
                    household=household, name=data["name"], place=PLACES.get(food_of(data["name"]), "shelf"), came_on=today, opened_on=data["opened_on"],
                    best_before=data["best_before"], lead_days=LEAD_DAYS.get(food_of(data["name"]), 7),
                )  # fmt: skip
                flows.bring(stock, data["number"], keeper=request.user, now=at, came_on=today)
            messages.success(request, f"In the larder: {data['name']}.")
            return redirect("larder:larder")
        except IntegrityError:
            form.add_error("name", "That is in the larder already: count it, or bring more, in its line.")
    rows = rows_of(list(Stock.objects.of(household)), needs, powders, today, request.units)
    context = {
        "form": form, "rows": rows, "orders": [row.order for row in rows if row.order], "late": [row for row in rows if row.late],
        "feeders": [*sorted(BY_NAME), *SUPPLIES],
        "weeks": DAYS // 7, "lamps": _lamps(dues), "today": today,
    }  # fmt: skip
    return render(request, "larder/larder.html", context)


@require_POST
def move(request: KeeperRequest, pk: int) -> HttpResponse:
    """Count a stock, bring more, or take it out of the larder."""
    stock, at = get_object_or_404(Stock.objects.of(request.household), pk=pk), now()
    if "away" in request.POST:
        stock.delete()
        messages.success(request, f"Out of the larder: {stock.name}.")
        return redirect("larder:larder")
    text = request.POST.get("amount", "")[:40]
    try:
        value = amount_of(text, stock.name, request.units)
    except EntryError as why:
        messages.error(request, f"{stock.name}: {why} Typed was “{text}”.")
        return redirect("larder:larder")
    if "bring" in request.POST:
        flows.bring(stock, value, keeper=request.user, now=at, came_on=timezone.localdate(at))
    else:
        flows.count(stock, value, keeper=request.user, now=at, note="counted")
    return redirect("larder:larder")
