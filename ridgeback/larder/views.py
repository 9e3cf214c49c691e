"""The larder: something is put in, counted, brought or taken out."""

from django.contrib import messages
from django.db import IntegrityError, transaction
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_http_methods, require_POST

from husbandry.chores.larder import (
    LEAD_DAYS,
    PLACES,
    SUPPLIES,
    food_of,
)
from husbandry.diet.feeders import BY_NAME
from husbandry.errors import EntryError
from ridgeback.clock import now
from ridgeback.keepers.middleware import KeeperRequest
from ridgeback.larder import flows
from ridgeback.larder.forms import StockForm, amount_of
from ridgeback.larder.models import Stock
from ridgeback.larder.presenting import DAYS, food_rows, lamps_of
from ridgeback.rounds.due_tasks import gather
from ridgeback.submissions.flows import sent_once
from ridgeback.submissions.forms import key_posted


@require_http_methods(["GET", "HEAD", "POST"])
def larder(request: KeeperRequest) -> HttpResponse:
    """The larder; something new is put in."""
    household, at = request.household, now()
    if household is None:
        return redirect("habitats:list")
    dues = gather(household, at)
    today = household.day_of(at)
    form = StockForm(request.POST if request.method == "POST" else None, units=request.units, today=today)
    if form.is_bound and form.is_valid():
        data = form.cleaned_data
        try:
            with transaction.atomic():
                stock = Stock.objects.create(
                    household=household, name=data["name"], place=data["place"] or PLACES.get(food_of(data["name"]), "shelf"), came_on=today, opened_on=data["opened_on"],
                    best_before=data["best_before"], lead_days=LEAD_DAYS.get(food_of(data["name"]), 7) if data["lead_days"] is None else data["lead_days"],
                )  # fmt: skip
                flows.bring(stock, data["number"], keeper=request.user, now=at, came_on=today)
            messages.success(request, f"In stock: {data['name']}.")
            return redirect("larder:larder")
        except IntegrityError:
            form.add_error("name", "That is in stock already: count it, or add a delivery, in its row.")
    rows = food_rows(household, dues, at, request.units)
    context = {
        "form": form, "rows": rows, "orders": [row.order for row in rows if row.order], "late": [row for row in rows if row.late],
        "feeders": [*sorted(BY_NAME), *SUPPLIES],
        "weeks": DAYS // 7, "lamps": lamps_of(dues), "today": today,
        "failed": [(due, due.failed) for due in dues if due.failed is not None],
    }  # fmt: skip
    return render(request, "larder/larder.html", context)


@require_POST
def move(request: KeeperRequest, pk: int) -> HttpResponse:
    """Count a stock, bring more, or take it out of the larder."""
    stock, at = get_object_or_404(Stock.objects.of(request.household), pk=pk), now()
    if "away" in request.POST:
        stock.delete()
        messages.success(request, f"No longer in stock: {stock.name}.")
        return redirect("larder:larder")
    text = request.POST.get("amount", "")[:40]
    try:
        value = amount_of(text, stock.name, request.units)
    except EntryError as why:
        messages.error(request, f"{stock.name}: {why} Typed was “{text}”.")
        return redirect("larder:larder")
    with sent_once(stock.household_id, key_posted(request.POST)) as first:
        if first and "bring" in request.POST:
            came_on = stock.household.day_of(at)
            flows.bring(stock, value, keeper=request.user, now=at, came_on=came_on)
        elif first:
            flows.count(stock, value, keeper=request.user, now=at, note="counted")
    return redirect("larder:larder")
