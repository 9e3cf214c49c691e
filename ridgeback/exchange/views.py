"""Importing an enclosure."""

from django.contrib import messages
from django.db import IntegrityError
from django.http import Http404, HttpResponse
from django.shortcuts import redirect, render

from ridgeback.clock import now
from ridgeback.exchange import flows
from ridgeback.exchange.forms import ImportForm
from ridgeback.households.middleware import KeeperRequest


def take_in(request: KeeperRequest) -> HttpResponse:
    """An enclosure from a file."""
    if request.household is None:
        raise Http404
    if request.method == "POST":
        posted, files = (
            request.POST,
            request.FILES,
        )  # read first: the upload says if it is too large
        form = ImportForm(
            posted,
            files,
            household=request.household,
            now=now(),
            units=request.units,
            too_large=bool(request.META.get("ridgeback.too_large")),
        )
        if form.is_valid() and form.request_ is not None:
            names = {"name": form.cleaned_data["name"], "room_name": form.cleaned_data["room"]}
            try:
                made, left = flows.take_in(
                    request.household, request.user, form.request_, **names, now=now()
                )
                for line in left:
                    messages.warning(
                        request,
                        f"An own value of the file was not taken: {line.at}, {line.outcome}."
                        f" {line.reason}",
                    )
                messages.success(
                    request, f"{made.name} is imported, with its animals and readings."
                )
                return redirect("enclosures:page", pk=made.pk)
            except IntegrityError:
                form.add_error(
                    None, "The file says something that cannot be saved: nothing was imported."
                )
    else:
        form = ImportForm(household=request.household, now=now())
    return render(request, "exchange/import.html", {"form": form})
