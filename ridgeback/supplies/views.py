"""The food supplies: something is put in, counted, brought or taken out."""

from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_http_methods, require_POST

from husbandry.errors import EntryError
from husbandry.feeding.feeders import BY_NAME
from husbandry.tasks.supplies import SUPPLIES
from ridgeback.clock import now
from ridgeback.households.middleware import KeeperRequest
from ridgeback.submissions.flows import sent_once
from ridgeback.submissions.forms import key_posted
from ridgeback.supplies import flows
from ridgeback.supplies.forms import (
    FreezerForm,
    RecipeForm,
    StockDetailsForm,
    StockForm,
    amount_of,
)
from ridgeback.supplies.models import FoodRecipe, Stock
from ridgeback.supplies.presenting import (
    DAYS,
    food_rows,
    freezer_of,
    lamps_of,
    meal_needs,
    recipe_initial,
    recipes_of,
)
from ridgeback.tasks.due_tasks import gather


@require_http_methods(["GET", "HEAD", "POST"])
def supplies(request: KeeperRequest) -> HttpResponse:
    """The food supplies; something new is put in."""
    household = request.household
    at = now()
    if household is None:
        return redirect("enclosures:list")
    today = household.day_of(at)
    posted = request.POST if request.method == "POST" else None
    form = StockForm(posted, units=request.units, today=today, parts=flows.parts_of(household.pk))
    if form.is_bound and form.is_valid():
        stock = flows.put_in(household, form.cleaned_data, keeper=request.user, now=at)
        if stock is not None:
            messages.success(request, f"In stock: {stock.name}.")
            return redirect("supplies:list")
        form.add_error(
            "name", "That is in stock already: count it, or add a delivery, in its row."
        )

    due_lists = gather(household, at)
    meals = meal_needs(due_lists, at)
    rows = food_rows(household, due_lists, meals, at, request.units)
    context = {
        "form": form,
        "rows": rows,
        "orders": [row.order for row in rows if row.order],
        "late": [row for row in rows if row.late],
        "feeders": [*sorted(BY_NAME), *SUPPLIES],
        "foods": sorted(BY_NAME),
        "weeks": DAYS // 7,
        "lamps": lamps_of(due_lists),
        "freezer": freezer_of(household, request.units),
        "freezer_form": FreezerForm(units=request.units, litres=household.freezer_l),
        "recipes": recipes_of(household, meals, request.units),
        "today": today,
        "failed": [(due, due.failed) for due in due_lists if due.failed is not None],
    }
    return render(request, "supplies/supplies.html", context)


@require_http_methods(["GET", "HEAD", "POST"])
def details(request: KeeperRequest, pk: int) -> HttpResponse:
    """What is known of something in stock: its dates, its price, as which food it is fed."""
    stock = get_object_or_404(Stock.objects.of(request.household), pk=pk)
    known = {name: getattr(stock, name) for name in flows.DETAILS}
    posted = request.POST if request.method == "POST" else None
    today = stock.household.day_of(now())
    form = StockDetailsForm(posted, units=request.units, today=today, initial=known, stock=stock)
    if form.is_bound and form.is_valid():
        flows.change(stock, form.cleaned_data)
        messages.success(request, f"{stock.name} is saved.")
        return redirect("supplies:list")

    context = {"stock": stock, "form": form, "foods": sorted(BY_NAME)}
    return render(request, "supplies/details.html", context)


@require_POST
def freezer(request: KeeperRequest) -> HttpResponse:
    """How much room there is for frozen food."""
    household = request.household
    if household is None:
        return redirect("enclosures:list")
    form = FreezerForm(request.POST, units=request.units, litres=household.freezer_l)
    if form.is_valid():
        flows.set_freezer(household, form.cleaned_data["freezer"])
        messages.success(request, "Saved.")
    else:
        messages.error(request, str(form.errors["freezer"][0]))
    return redirect("supplies:list")


@require_http_methods(["GET", "HEAD", "POST"])
def recipe(request: KeeperRequest, pk: int | None = None) -> HttpResponse:
    """A mix: a salad, a paste, soaked pellets; new or known."""
    household = request.household
    if household is None:
        return redirect("enclosures:list")
    known = get_object_or_404(FoodRecipe.objects.of(household), pk=pk) if pk else None
    posted = request.POST if request.method == "POST" else None
    if known is not None and posted is not None and "away" in posted:
        known.delete()
        messages.success(request, f"{known.name} is deleted.")
        return redirect("supplies:list")

    initial = recipe_initial(known, request.units) if known is not None else None
    form = RecipeForm(posted, units=request.units, initial=initial)
    if form.is_bound and form.is_valid():
        if flows.keep_recipe(household, known, form.cleaned_data):
            messages.success(request, f"{form.cleaned_data['name']} is saved.")
            return redirect("supplies:list")
        form.add_error("stands_for", "Another mix is already fed as this food.")

    return render(request, "supplies/recipe.html", {"form": form, "known": known})


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
        value = amount_of(text, request.units, is_weighed=stock.by_mass)
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
