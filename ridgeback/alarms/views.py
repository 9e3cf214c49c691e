"""Pages of alarms: all of them, one with its answers, what somebody prefers."""

import datetime as dt
from typing import Any

from django.contrib import messages
from django.db import transaction
from django.http import Http404, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_http_methods, require_POST, require_safe

from husbandry.quantity import Units
from ridgeback.alarms import flows
from ridgeback.alarms.forms import AcknowledgeForm, AlarmPreferencesForm, SilenceForm, SnoozeForm
from ridgeback.alarms.models import Alarm, AlarmPreferences, ChannelWatch
from ridgeback.alarms.wording import view_of
from ridgeback.clock import now
from ridgeback.derivations import DerivationView, derivation_view
from ridgeback.digests.returned import closed
from ridgeback.enclosures.models import Enclosure
from ridgeback.households.middleware import KeeperRequest
from ridgeback.households.models import Membership
from ridgeback.records.models import Channel
from ridgeback.records.targets import request_of, targets_of

SHOWN = 50
"""Alarms that ended and are listed (design choice)."""


def _membership(request: KeeperRequest) -> Membership:
    rows = Membership.objects.filter(household=request.household, keeper=request.user)
    return get_object_or_404(rows)


@require_http_methods(["GET", "HEAD", "POST"])
def alarms(request: KeeperRequest) -> HttpResponse:
    """What is wrong now, what was, and what this person prefers."""
    if request.household is None:
        raise Http404
    member = _membership(request)
    wish = AlarmPreferences.objects.filter(membership=member).first() or AlarmPreferences(
        membership=member
    )
    form = AlarmPreferencesForm(request.POST or None, instance=wish)

    if form.is_bound and form.is_valid():
        with transaction.atomic():
            form.save()
        messages.success(request, "Saved.")
        return redirect("alarms:list")

    rows = Alarm.objects.of(request.household).select_related("channel__enclosure__room")
    at = now()
    own = [view_of(one, at, request.units) for one in rows.going()]
    order = {"danger": 0, "care": 1, "instrument": 2}
    ended = rows.filter(ended_at__isnull=False).order_by("-ended_at")[:SHOWN]
    channels = Channel.objects.of(request.household).filter(is_live=True, binding__isnull=False)
    context = {
        "going": sorted(own, key=lambda one: order[one.alarm.severity]),
        "ended": [view_of(one, at, request.units) for one in ended],
        "watched": channels.count(),
        "silenced": ChannelWatch.objects.filter(
            channel__in=channels, silent_until__gt=at
        ).select_related("channel__enclosure__room"),
        "form": form,
        "returned": closed(request.user.email),
    }

    return render(request, "alarms/list.html", context)


def _own(request: KeeperRequest, pk: int) -> Alarm:
    rows = Alarm.objects.of(request.household)
    return get_object_or_404(
        rows.select_related("channel__enclosure__room", "acknowledged_by"), pk=pk
    )


def _wanted(alarm: Alarm, units: Units) -> list[tuple[str, DerivationView]]:
    """What must hold where its channel is, with how each number was calculated."""
    if alarm.channel is None:
        return []
    at = now()
    rows = Enclosure.objects.of(alarm.household).for_planning()
    enclosure = rows.get(pk=alarm.channel.enclosure_id)
    found = targets_of(alarm.channel, request_of(enclosure, at), enclosure, at)

    return [(words, derivation_view(one, units)) for words, one in found.derivations]


def _page(request: KeeperRequest, alarm: Alarm, **forms: Any) -> HttpResponse:
    context = {
        "view": view_of(alarm, now(), request.units),
        "alarm": alarm,
        "wanted": _wanted(alarm, request.units),
        "told": alarm.messages.select_related("membership__keeper"),
        "acknowledge": forms.get("acknowledge", AcknowledgeForm()),
        "snooze": forms.get("snooze", SnoozeForm(auto_id="snooze-%s")),
        "silence": forms.get("silence", SilenceForm(auto_id="silence-%s")),
    }
    return render(request, "alarms/alarm.html", context)


@require_safe
def alarm(request: KeeperRequest, pk: int) -> HttpResponse:
    """One alarm: what is wrong, what to do, who was told."""
    return _page(request, _own(request, pk))


@require_POST
def acknowledge(request: KeeperRequest, pk: int) -> HttpResponse:
    """Somebody has it in hand."""
    own = _own(request, pk)
    form = AcknowledgeForm(request.POST)
    if not form.is_valid():
        return _page(request, own, acknowledge=form)
    flows.acknowledge(own, request.user, form.cleaned_data["note"], now())
    messages.success(request, "Noted: nobody else is woken.")

    return redirect("alarms:alarm", pk=pk)


@require_POST
def snooze(request: KeeperRequest, pk: int) -> HttpResponse:
    """Say it again later."""
    own = _own(request, pk)
    form = SnoozeForm(request.POST, auto_id="snooze-%s")
    if not form.is_valid():
        return _page(request, own, snooze=form)
    until = now() + dt.timedelta(minutes=form.cleaned_data["minutes"])
    flows.snooze(own, until, form.cleaned_data["reason"])
    messages.success(request, "It is said again later, if it goes on.")

    return redirect("alarms:alarm", pk=pk)


@require_POST
def silence(request: KeeperRequest, pk: int) -> HttpResponse:
    """No alarms of its channel for a while."""
    own = _own(request, pk)
    form = SilenceForm(request.POST, auto_id="silence-%s")
    if own.channel is None or not form.is_valid():
        return _page(request, own, silence=form)
    until = now() + dt.timedelta(minutes=form.cleaned_data["minutes"])
    flows.silence(own.channel, until, form.cleaned_data["reason"], now())
    messages.success(request, "Its alarms are silent for that time.")

    return redirect("alarms:list")


@require_POST
def speak(request: KeeperRequest, pk: int) -> HttpResponse:
    """Watch a channel again."""
    channel = get_object_or_404(Channel.objects.of(request.household), pk=pk)
    flows.silence(channel, None, "", now())
    messages.success(request, "It is watched again.")

    return redirect("alarms:list")


@require_POST
def was_false(request: KeeperRequest, pk: int) -> HttpResponse:
    """It was no alarm."""
    own = _own(request, pk)
    flows.was_false(own, less_sensitive=request.POST.get("less") == "yes")
    messages.success(request, "Noted.")

    return redirect("alarms:alarm", pk=pk)
