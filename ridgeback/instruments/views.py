"""Pages of instruments: all of them, one, how they are checked."""

from typing import Any

from django.contrib import messages
from django.http import Http404, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_http_methods, require_POST

from husbandry.records.instrument_checks import METHODS
from ridgeback.clock import now
from ridgeback.households.middleware import KeeperRequest
from ridgeback.instruments import flows
from ridgeback.instruments.forms import InstrumentForm
from ridgeback.instruments.models import Instrument


def _page(request: KeeperRequest, instrument: Instrument, template: str) -> HttpResponse:
    """The form of an instrument, shown or sent."""
    if request.household is None:
        raise Http404
    today = request.household.day_of(now())
    form = InstrumentForm(
        request.POST or None, instance=instrument, household=request.household, today=today
    )
    if form.is_bound and form.is_valid():
        flows.save(form)
        messages.success(request, f"Saved. {form.warning}".strip())
        return redirect("instruments:list")
    rows = Instrument.objects.of(request.household).prefetch_related("channels")
    context: dict[str, Any] = {
        "form": form,
        "instrument": instrument,
        "rows": [(one, one.is_due(today)) for one in rows],
        "methods": METHODS,
    }
    return render(request, template, context)


@require_http_methods(["GET", "HEAD", "POST"])
def instruments(request: KeeperRequest) -> HttpResponse:
    """Every instrument of the household; a new one."""
    return _page(request, Instrument(), "instruments/list.html")


@require_http_methods(["GET", "HEAD", "POST"])
def instrument(request: KeeperRequest, pk: int) -> HttpResponse:
    """One instrument."""
    own = get_object_or_404(Instrument.objects.of(request.household), pk=pk)
    return _page(request, own, "instruments/instrument.html")


@require_POST
def delete(request: KeeperRequest, pk: int) -> HttpResponse:
    """Take an instrument away; what its channels measured stays as it was corrected."""
    get_object_or_404(Instrument.objects.of(request.household), pk=pk).delete()
    messages.success(request, "Deleted.")
    return redirect("instruments:list")
