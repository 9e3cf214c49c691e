"""The letters of a keeper: whether and when, today's beforehand, and those that were written."""

from typing import Any

from django import forms
from django.contrib import messages
from django.http import Http404, HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_http_methods

from ridgeback import clock
from ridgeback.clock import now
from ridgeback.keepers.middleware import KeeperRequest
from ridgeback.keepers.models import Membership
from ridgeback.reminders import flows
from ridgeback.reminders.models import Wish

SHOWN = 14


class WishForm(forms.Form):
    """At which hour."""

    hour = forms.TypedChoiceField(label="Every day at", choices=[(n, f"{n:02d}:00") for n in range(24)], coerce=int)


@require_http_methods(["GET", "HEAD", "POST"])
def letters(request: KeeperRequest) -> HttpResponse:
    """The letters, and the wish for them."""
    mine = (
        Membership.objects.filter(household=request.household, keeper=request.user).select_related("household", "keeper").first()
    )
    if mine is None:
        raise Http404
    zone = mine.household.time_zone
    wish = Wish.objects.filter(membership=mine).first()
    form = WishForm(request.POST if "keep" in request.POST else None, initial={"hour": wish.hour if wish else 7})
    if "stop" in request.POST:
        Wish.objects.filter(membership=mine).delete()
        messages.success(request, "No more emails are sent.")
        return redirect("reminders:letters")
    if "now" in request.POST:
        flows.write(mine, now(), again=True)
        return redirect("reminders:letters")
    if form.is_bound and form.is_valid():
        Wish.objects.update_or_create(membership=mine, defaults={"hour": form.cleaned_data["hour"]})
        messages.success(request, f"An email comes every day at {form.cleaned_data['hour']:02d}:00, {zone} time.")
        return redirect("reminders:letters")
    context: dict[str, Any] = {
        "form": form,
        "wish": wish,
        "letters": [(one, f"{clock.local(one.written_at, zone):%-d %B, %H:%M}") for one in mine.letters.all()[:SHOWN]],
        "address": request.user.email,
    }
    return render(request, "reminders/letters.html", context)
