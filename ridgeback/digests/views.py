"""The daily emails of a keeper: whether and when, today's beforehand, and those that were written."""

from typing import Any

from django import forms
from django.contrib import messages
from django.http import Http404, HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_http_methods

from ridgeback import clock
from ridgeback.clock import now
from ridgeback.digests import flows
from ridgeback.digests.models import DigestSubscription
from ridgeback.digests.returned import closed, open_again
from ridgeback.households.middleware import KeeperRequest
from ridgeback.households.models import Membership

SHOWN = 14


class WishForm(forms.Form):
    """At which hour."""

    hour = forms.TypedChoiceField(
        label="Every day at", choices=[(n, f"{n:02d}:00") for n in range(24)], coerce=int
    )


@require_http_methods(["GET", "HEAD", "POST"])
def digests(request: KeeperRequest) -> HttpResponse:
    """The daily emails, and the wish for them."""
    mine = (
        Membership.objects.filter(household=request.household, keeper=request.user)
        .select_related("household", "keeper")
        .first()
    )
    if mine is None:
        raise Http404
    zone = mine.household.time_zone
    wish = DigestSubscription.objects.filter(membership=mine).first()
    form = WishForm(
        request.POST if "keep" in request.POST else None,
        initial={"hour": wish.hour if wish else 7},
    )
    if "stop" in request.POST:
        DigestSubscription.objects.filter(membership=mine).delete()
        messages.success(request, "No more emails are sent.")
        return redirect("digests:list")
    if "now" in request.POST:
        flows.write(mine, now(), again=True)
        return redirect("digests:list")
    if "again" in request.POST:
        open_again(request.user.email)
        messages.success(request, f"Mail goes to {request.user.email} again.")
        return redirect("digests:list")
    if form.is_bound and form.is_valid():
        DigestSubscription.objects.update_or_create(
            membership=mine, defaults={"hour": form.cleaned_data["hour"]}
        )
        messages.success(
            request,
            f"An email comes every day at {form.cleaned_data['hour']:02d}:00, {zone} time.",
        )
        return redirect("digests:list")
    context: dict[str, Any] = {
        "form": form,
        "wish": wish,
        "digests": [
            (one, f"{clock.local(one.written_at, zone):%-d %B, %H:%M}")
            for one in mine.digests.all()[:SHOWN]
        ],
        "address": request.user.email,
        "returned": closed(request.user.email),
    }
    return render(request, "digests/digests.html", context)
