"""Pages of channels: their charts, their values as a table, their name, place and known error."""

import datetime as dt
from typing import Any

from django import forms
from django.contrib import messages
from django.db import IntegrityError, transaction
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.views.decorators.http import require_POST, require_safe

from husbandry.quantity import Kind, PlausibleRange, Units
from husbandry.records.channels import Quantity, places_of
from ridgeback import clock
from ridgeback.background import defer
from ridgeback.clock import now
from ridgeback.drawing.svg import write
from ridgeback.enclosures.access import own_enclosure
from ridgeback.enclosures.models import Enclosure
from ridgeback.fields import QuantityField
from ridgeback.households.middleware import KeeperRequest
from ridgeback.records.charts import channel_view, sample_rows
from ridgeback.records.day_readings import correct, withdraw
from ridgeback.records.models import Channel
from ridgeback.records.places import place_choices, places_drawing
from ridgeback.records.reading import points_of
from ridgeback.spreadsheets import csv_text

SPANS = (
    ("day", "a day", 1),
    ("week", "a week", 7),
    ("month", "a month", 30),
    ("year", "a year", 365),
    ("all", "five years", 1826),
)
"""What a chart shows, and for how many days."""
OFFSETS = {
    Quantity.TEMPERATURE: (Kind.TEMPERATURE_DIFFERENCE, PlausibleRange((-3, 3), (-15, 15))),
    Quantity.HUMIDITY: (Kind.HUMIDITY, PlausibleRange((-10, 10), (-40, 40))),
    Quantity.UVI: (Kind.UVI, PlausibleRange((-1, 1), (-5, 5))),
    Quantity.POWER: (Kind.POWER, PlausibleRange((-2, 2), (-20, 20))),
    Quantity.HEATING: (Kind.SHARE, PlausibleRange((-0.1, 0.1), (-0.5, 0.5))),
    Quantity.MASS: (Kind.MASS, PlausibleRange((-5, 5), (-500, 500))),
}


class ChannelForm(forms.Form):
    """What a channel is called, where its sensor is, and what it reads too high."""

    name = forms.CharField(label="Name", max_length=80)
    place = forms.ChoiceField(label="Where the sensor is")

    def __init__(self, *args: Any, channel: Channel, units: Units, **kwargs: Any) -> None:
        kwargs.setdefault("initial", {"name": channel.name, "place": channel.place})
        super().__init__(*args, **kwargs)
        quantity = Quantity(channel.quantity)
        places = place_choices(places_of(quantity))
        self.fields["place"].choices = places  # type: ignore[attr-defined]  # a choice field
        kind, plausible = OFFSETS[quantity]
        self.fields["offset"] = QuantityField(
            kind,
            units,
            label="It reads too high by",
            value=channel.offset,
            plausible=plausible,
            required=False,
            help_text="Against ice water, a salt test or a better instrument. Too low: with a minus."
            " All its values are judged anew.",
        )


def _span(
    request: KeeperRequest, zone: str, channel: Channel
) -> tuple[str, dt.datetime, dt.datetime]:
    """What is asked for: the name of the span, its beginning and its end.

    It ends with the day of the channel's last value until another day is asked for.
    """
    asked = request.GET.get("span", "week")
    name, days = next(((name, days) for name, _, days in SPANS if name == asked), ("week", 7))
    today = clock.day_in(zone, now())

    try:
        to = dt.date.fromisoformat(request.GET.get("to", ""))
    except ValueError:
        to = clock.day_in(zone, channel.last_at) if channel.last_at is not None else today

    to = min(max(to, today - dt.timedelta(days=20_000)), today)
    end = clock.start_of(zone, to + dt.timedelta(days=1))

    return name, end - dt.timedelta(days=days), end


@require_safe
def charts(request: KeeperRequest, pk: int) -> HttpResponse:
    """What loggers and devices measured in an enclosure, over time."""
    enclosure = own_enclosure(request, pk)
    own = Channel.objects.of(request.household).filter(enclosure=enclosure)
    channels = sorted(own, key=lambda one: one.order)
    context: dict[str, Any] = {"enclosure": enclosure, "channels": channels}
    if channels:
        context |= _chart(request, enclosure, channels)
    return render(request, "records/charts.html", context)


def _chart(
    request: KeeperRequest, enclosure: Enclosure, channels: list[Channel]
) -> dict[str, Any]:
    keys = {str(one.pk): one for one in channels}
    channel = keys.get(request.GET.get("channel", ""), channels[0])
    alike = _comparable(request, channel)
    other = next((one for one in alike if str(one.pk) == request.GET.get("with")), None)
    zone = enclosure.room.time_zone
    name, first, last = _span(request, zone, channel)
    shown = [channel] if other is None else [channel, other]
    view = channel_view(enclosure, shown, first, last, now(), request.units)
    span_days = (last - first).days
    to = clock.day_in(zone, last) - dt.timedelta(days=1)

    return {
        "channel": channel,
        "other": other,
        "alike": alike,
        "view": view,
        "span": name,
        "spans": SPANS,
        "to": to,
        "first": clock.day_in(zone, first),
        "earlier": to - dt.timedelta(days=span_days),
        "later": to + dt.timedelta(days=span_days) if last < now() else None,
        "form": ChannelForm(channel=channel, units=request.units),
        "place_drawing": places_drawing(enclosure, now(), request.units),
    }


def _comparable(request: KeeperRequest, channel: Channel) -> list[Channel]:
    """Channels of the same quantity in the whole household, its own enclosure's first."""
    rows = Channel.objects.of(request.household).filter(quantity=channel.quantity)
    others = rows.exclude(pk=channel.pk).select_related("enclosure")
    own = channel.enclosure_id

    return sorted(others, key=lambda one: (one.enclosure_id != own, one.enclosure.name, one.order))


@require_safe
def values(request: KeeperRequest, pk: int) -> HttpResponse:
    """The points of a chart as CSV."""
    rows = Channel.objects.of(request.household).select_related("enclosure__room")
    channel = get_object_or_404(rows, pk=pk)
    zone = channel.enclosure.room.time_zone
    _, first, last = _span(request, zone, channel)
    text = csv_text(sample_rows(channel, points_of(channel, first, last), zone))
    answer = HttpResponse(text, content_type="text/csv; charset=utf-8")
    answer["Content-Disposition"] = f'attachment; filename="channel-{channel.pk}.csv"'

    return answer


@require_safe
def drawing(request: KeeperRequest, pk: int) -> HttpResponse:
    """A chart as an SVG file, with its own colours."""
    rows = Channel.objects.of(request.household).select_related("enclosure__room")
    channel = get_object_or_404(rows, pk=pk)
    enclosure = own_enclosure(request, channel.enclosure_id)
    _, first, last = _span(request, enclosure.room.time_zone, channel)
    view = channel_view(enclosure, [channel], first, last, now(), request.units)

    answer = HttpResponse(write(view.drawing, "export"), content_type="image/svg+xml")
    answer["Content-Disposition"] = f'attachment; filename="channel-{channel.pk}.svg"'
    return answer


@require_POST
def edit(request: KeeperRequest, pk: int) -> HttpResponse:
    """Change what a channel is called, where it is, and its known error."""
    rows = Channel.objects.of(request.household).select_related("enclosure")
    channel = get_object_or_404(rows, pk=pk)
    form = ChannelForm(request.POST, channel=channel, units=request.units)
    back = f"{reverse('records:charts', args=[channel.enclosure_id])}?channel={channel.pk}"

    if not form.is_valid():
        said = "; ".join(str(errors[0]) for errors in form.errors.values())
        messages.error(request, f"Not saved. {said}")
        return redirect(back)

    has_moved = channel.place != form.cleaned_data["place"]
    channel.name, channel.place = form.cleaned_data["name"], form.cleaned_data["place"]
    channel.offset = form.cleaned_data["offset"] or 0.0

    try:
        with transaction.atomic():
            channel.save(update_fields=["name", "place", "offset"])
            correct(channel)
            if has_moved:  # what it told of the other place is taken back
                withdraw([channel])
                defer("read_days", enclosures=[channel.enclosure_id])

        messages.success(request, "Saved. Its values are judged by what you wrote.")
    except IntegrityError:
        messages.error(request, "Not saved. Another channel of that name is at that place.")

    return redirect(back)


@require_POST
def delete(request: KeeperRequest, pk: int) -> HttpResponse:
    """Delete a channel with all its values."""
    channel = get_object_or_404(Channel.objects.of(request.household), pk=pk)

    if request.POST.get("sure") != "yes":
        messages.error(request, "Tick the box first: all its values go, and cannot come back.")
        back = reverse("records:charts", args=[channel.enclosure_id])
        return redirect(f"{back}?channel={channel.pk}")

    with transaction.atomic():
        withdraw([channel])
        channel.delete()
    messages.success(request, "Deleted, with all its values.")

    return redirect("records:charts", pk=channel.enclosure_id)
