"""The page of an enclosure's day: what it does from hour to hour, and what faults and hard days
would do. Remembered by content, like a plan.
"""

from dataclasses import dataclass
from typing import Any

from django import forms
from django.http import HttpResponse
from django.shortcuts import redirect, render
from django.utils.safestring import SafeString, mark_safe
from django.views.decorators.http import require_safe

from husbandry.documents.request import Request
from husbandry.documents.request_json import to_data
from husbandry.errors import DocumentError
from husbandry.forecast.day_forecast import (
    ADVICE,
    DayForecast,
    FailureScenario,
    ScenarioAssumptions,
    day_of,
)
from husbandry.quantity import Kind, PlausibleRange, Units, show
from husbandry.species.stages import DAYS_PER_MONTH
from ridgeback.clock import now
from ridgeback.derivations import DerivationView, derivation_view
from ridgeback.drawing import day as drawn
from ridgeback.drawing.svg import write
from ridgeback.enclosures.access import own_enclosure
from ridgeback.enclosures.models import Enclosure
from ridgeback.enclosures.planning import key_of, recall, remember
from ridgeback.fields import QuantityField
from ridgeback.households.middleware import KeeperRequest

TITLES = {
    "thermostat failed on": "A thermostat sticks on, on the hottest day",
    "probe out": "A thermostat’s probe falls out and feels the room",
    "lamp failed": "Everything that warms fails",
    "power cut": "The power is cut",
    "heat wave": "A heat wave",
}


class AssumedForm(forms.Form):
    """What the hard days are made of."""

    def __init__(self, *args: Any, units: Units, room_max_c: float, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        common: dict[str, Any] = {"units": units, "required": False}
        hours = PlausibleRange((0.5, 48), (0.1, 96))
        warmth = PlausibleRange((-5, 45), (-20, 55))
        self.fields["cut"] = QuantityField(
            Kind.HOURS, label="Power cut for", value=6.0, plausible=hours, **common
        )
        self.fields["cold"] = QuantityField(
            Kind.TEMPERATURE, label="the room would fall to", value=8.0, plausible=warmth, **common
        )
        self.fields["days"] = QuantityField(
            Kind.COUNT,
            label="Heat wave, days",
            value=3,
            digits=0,
            plausible=PlausibleRange((1, 10), (1, 14)),
            **common,
        )
        self.fields["top"] = QuantityField(
            Kind.TEMPERATURE,
            label="the room would reach",
            value=room_max_c,
            plausible=warmth,
            **common,
        )

    def assumed(self, room_max_c: float) -> ScenarioAssumptions:
        """As the core takes it; what cannot be read is left as usual, and said beside its field."""
        said = self.cleaned_data if self.is_bound and hasattr(self, "cleaned_data") else {}
        return ScenarioAssumptions(
            cut_h=said.get("cut") or 6.0,
            cold_c=said["cold"] if said.get("cold") is not None else 8.0,
            wave_days=int(said.get("days") or 3),
            wave_c=said["top"] if said.get("top") is not None else room_max_c,
        )


@dataclass(frozen=True)
class FaultView:
    """A fault or a hard day."""

    title: str
    direction: str
    words: str
    chart: SafeString
    advice: str


@dataclass(frozen=True)
class DayForecastView:
    """The page's content."""

    chart: SafeString
    warm_up: tuple[tuple[str, DerivationView], ...]
    energy: DerivationView
    month: str
    load: DerivationView
    amps: str
    lamps: tuple[tuple[str, str], ...]
    faults: tuple[FaultView, ...]
    slowest: str


def seen(request: Request, assumed: ScenarioAssumptions) -> DayForecast:
    """An enclosure's day, worked out or remembered."""
    key = key_of(
        "day",
        [to_data(request.model_copy(update={"readings": ()})), assumed.model_dump(mode="json")],
    )
    body = recall([key]).get(key)
    if body is not None:
        return DayForecast.model_validate_json(body)
    made = day_of(request, assumed)
    remember({key: made.model_dump_json(exclude_none=True)})
    return made


def _after(hours: float) -> str:
    return (
        f"{hours * 60:.0f} minutes"
        if hours < 1.5
        else f"{hours:.0f} h"
        if hours < 36
        else f"{hours / 24:.1f} days"
    )


def fault_view(fault: FailureScenario, units: Units, assumed: ScenarioAssumptions) -> FaultView:
    """One fault in words and lines."""
    cold = fault.slug in {"lamp failed", "power cut"}
    marks = [
        drawn.Mark(
            c.limit_c,
            f"{'never over' if c.above else 'never under'}"
            f" {show(c.limit_c, Kind.TEMPERATURE, units, digits=0)}",
        )
        for c in fault.crossings
    ]
    if fault.crossings:
        first = fault.crossings[0]
        words = (
            f"{first.name} passes the animal’s limit of"
            f" {show(first.limit_c, Kind.TEMPERATURE, units)} after {_after(first.after_h)}."
        )
    else:
        words = "No limit of the animal is passed."
    if cold:
        words += (
            f" Its warmest place falls to {show(fault.coldest_warm_c, Kind.TEMPERATURE, units)}."
        )
    else:
        words += (
            f" The surface reaches {show(fault.hottest_surface_c, Kind.TEMPERATURE, units)}, the"
            f" retreat {show(fault.hottest_cool_c, Kind.TEMPERATURE, units)}."
        )
    title = TITLES[fault.slug]
    if fault.slug == "power cut":
        title += f" for {assumed.cut_h:g} h, from 18:00"
    if fault.slug == "heat wave":
        title += f" of {assumed.wave_days} days"
    svg = drawn.chart(
        fault.series,
        units,
        title,
        f"{words} {drawn.spoken(fault.series, units)}",
        limits=marks,
        crossed_h=fault.crossings[0].after_h if fault.crossings else None,
        height=190.0,
        start_h=18.0 if fault.slug == "power cut" else 0.0,
    )
    direction = (
        "above"
        if fault.crossings and fault.crossings[0].above
        else "below"
        if fault.crossings
        else "right"
    )
    return FaultView(
        title, direction, words, mark_safe(write(svg)), ADVICE[fault.slug]
    )  # our own writer escapes


def day_view(
    found: DayForecast, enclosure: Enclosure, units: Units, assumed: ScenarioAssumptions
) -> DayForecastView:
    """The whole page."""
    said = drawn.spoken(found.series, units)
    names = ("surface", "warm end", "cool end")
    month = found.energy.value * DAYS_PER_MONTH
    household = enclosure.household
    return DayForecastView(
        mark_safe(
            write(
                drawn.chart(
                    found.series,
                    units,
                    f"24-hour forecast of {enclosure.name}",
                    said,
                    lit=found.lit,
                )
            )
        ),  # our own writer escapes
        tuple(
            (names[n], derivation_view(derivation, units))
            for n, derivation in enumerate(found.warm_up)
        ),
        derivation_view(found.energy, units),
        f"{month:.0f} kWh, about {month * household.kwh_price:.0f} {household.currency} a month",
        derivation_view(found.load, units),
        f"{found.load.value / 230:.1f} A at 230 V, {found.load.value / 120:.1f} A at 120 V",
        tuple(
            (
                lamp.name,
                (
                    f"{lamp.power_w:g} W for {lamp.hours:g} h, {lamp.share:.0%} of it,"
                    f" {lamp.kwh:.2f} kWh"
                ),
            )
            for lamp in found.lamps
        ),
        tuple(fault_view(fault, units, assumed) for fault in found.what_ifs),
        f"{found.slowest_h:.1f} h",
    )


@require_safe
def day(request: KeeperRequest, pk: int) -> HttpResponse:
    """An enclosure from hour to hour."""
    enclosure = own_enclosure(request, pk)
    if not enclosure.present:
        return redirect("enclosures:page", pk=pk)
    try:
        asked = enclosure.request_at(now())
    except DocumentError:
        return redirect("enclosures:page", pk=pk)
    room_max = enclosure.room.summer_max_c
    form = AssumedForm(
        request.GET if "cut" in request.GET else None, units=request.units, room_max_c=room_max
    )
    form.is_valid()
    assumed = form.assumed(room_max)
    view = day_view(seen(asked, assumed), enclosure, request.units, assumed)
    return render(
        request, "climate/day.html", {"enclosure": enclosure, "view": view, "form": form}
    )
