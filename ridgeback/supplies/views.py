"""The food supplies: something is put in, counted, brought or taken out."""

from django.contrib import messages
from django.db import IntegrityError, transaction
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_http_methods, require_POST

from husbandry.errors import EntryError
from husbandry.feeding.feeders import BY_NAME
from husbandry.tasks.supplies import LEAD_DAYS, STORES, SUPPLIES, food_of
from ridgeback.clock import now
from ridgeback.households.middleware import KeeperRequest
from ridgeback.submissions.flows import sent_once
from ridgeback.submissions.forms import key_posted
from ridgeback.supplies import flows
from ridgeback.supplies.forms import StockForm, amount_of
from ridgeback.supplies.models import Stock
from ridgeback.supplies.presenting import DAYS, food_rows, lamps_of
from ridgeback.tasks.due_tasks import gather


@require_http_methods(["GET", "HEAD", "POST"])
def supplies(request: KeeperRequest) -> HttpResponse:
    """The food supplies; something new is put in."""
    household = request.household
    at = now()
    if household is None:
        return redirect("enclosures:list")
    due_lists = gather(household, at)
    today = household.day_of(at)
    form = StockForm(
        request.POST if request.method == "POST" else None, units=request.units, today=today
    )
    if form.is_bound and form.is_valid():
        data = form.cleaned_data
        try:
            with transaction.atomic():
                stock = Stock.objects.create(
                    household=household,
                    name=data["name"],
                    place=data["place"] or STORES.get(food_of(data["name"]), "shelf"),
                    came_on=today,
                    opened_on=data["opened_on"],
                    best_before=data["best_before"],
                    lead_days=(
                        LEAD_DAYS.get(food_of(data["name"]), 7)
                        if data["lead_days"] is None
                        else data["lead_days"]
                    ),
                )
                flows.bring(stock, data["number"], keeper=request.user, now=at, came_on=today)
            messages.success(request, f"In stock: {data['name']}.")
            return redirect("supplies:list")
        except IntegrityError:
            form.add_error(
                "name", "That is in stock already: count it, or add a delivery, in its row."
            )
    rows = food_rows(household, due_lists, at, request.units)
    context = {
        "form": form,
        "rows": rows,
        "orders": [row.order for row in rows if row.order],
        "late": [row for row in rows if row.late],
        "feeders": [*sorted(BY_NAME), *SUPPLIES],
        "weeks": DAYS // 7,
        "lamps": lamps_of(due_lists),
        "today": today,
        "failed": [(due, due.failed) for due in due_lists if due.failed is not None],
    }
    return render(request, "supplies/supplies.html", context)


@require_POST
def move(request: KeeperRequest, pk: int) -> HttpResponse:
    """Count a stock, bring more, or take it out of the food supplies."""
    stock = get_object_or_404(Stock.objects.of(request.household), pk=pk)
    at = now()
    if "away" in request.POST:
        stock.delete()
        messages.success(request, f"No longer in stock: {stock.name}.")
        return redirect("supplies:list")
    text = request.POST.get("amount", "")[:40]
    try:
        value = amount_of(text, stock.name, request.units)
    except EntryError as why:
        messages.error(request, f"{stock.name}: {why} Typed was “{text}”.")
        return redirect("supplies:list")
    with sent_once(stock.household_id, key_posted(request.POST)) as first:
        if first and "bring" in request.POST:
            came_on = stock.household.day_of(at)
            flows.bring(stock, value, keeper=request.user, now=at, came_on=came_on)
        elif first:
            flows.count(stock, value, keeper=request.user, now=at, note="counted")
    return redirect("supplies:list")
