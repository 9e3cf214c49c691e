"""Pages of outdoor pens: all of them, a new one, one with its day, its year and its times outside."""

import datetime as dt
from typing import Any

from django.contrib import messages
from django.http import Http404, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.utils.safestring import mark_safe
from django.views.decorators.http import require_http_methods, require_POST, require_safe

from husbandry.forecast.outdoor_day import Weather
from husbandry.pens.pen import PenDay
from husbandry.pens.plan import plan_pen, year
from husbandry.quantity import Units
from ridgeback.clock import day_in, local, now
from ridgeback.drawing.outdoors import chart
from ridgeback.drawing.pens import from_above, through_the_year
from ridgeback.drawing.primitives import Drawing
from ridgeback.drawing.svg import write
from ridgeback.households.middleware import KeeperRequest
from ridgeback.pens import flows
from ridgeback.pens.forms import ComeInForm, NewPenForm, PenDayForm, PenForm
from ridgeback.pens.models import Pen
from ridgeback.pens.presenters import (
    facts_of,
    kept_in,
    outing_rows,
    rows,
    rule_numbers,
    spans_words,
    wrong_of,
)
from ridgeback.submissions.flows import is_sent, sent_once
from ridgeback.submissions.forms import key_posted

OUTINGS_SHOWN = 8
"""Of the last times outside (design choice)."""


def _own(request: KeeperRequest, pk: int) -> Pen:
    """A pen of the household, with all that its plan needs."""
    return get_object_or_404(Pen.objects.of(request.household).for_planning(), pk=pk)


def _today(pen: Pen) -> dt.date:
    return day_in(pen.place.tz, now())


@require_safe
def pens(request: KeeperRequest) -> HttpResponse:
    """Every pen, each on a usual day of this month."""
    if request.household is None:
        raise Http404
    today = request.household.day_of(now())
    own = list(Pen.objects.of(request.household).for_planning())
    return render(request, "pens/list.html", {"rows": list(rows(own, today)), "today": today})


@require_http_methods(["GET", "HEAD", "POST"])
def new(request: KeeperRequest) -> HttpResponse:
    """A new pen: planned for its animals, or described next."""
    household = request.household
    if household is None:
        raise Http404
    if is_sent(household.pk, key_posted(request.POST)):  # a second press of the button
        made = Pen.objects.of(household).filter(name=request.POST.get("name", "").strip()).first()
        if made is not None:
            return redirect("pens:page", pk=made.pk)
    form = NewPenForm(request.POST or None, household=household)
    if form.is_bound and form.is_valid():
        said = form.cleaned_data
        is_planned = said["begin"] == "plan"
        with sent_once(household.pk, said["form_key"]) as first:
            if first:
                flows.add(
                    household,
                    name=said["name"],
                    room=said["room"],
                    animals=said["animals"],
                    is_planned=is_planned,
                    on=household.day_of(now()),
                )
        made = Pen.objects.of(household).get(name=said["name"])
        return redirect("pens:page" if is_planned else "pens:edit", pk=made.pk)

    return render(request, "pens/new.html", {"form": form})


@require_http_methods(["GET", "HEAD", "POST"])
def edit(request: KeeperRequest, pk: int) -> HttpResponse:
    """Describe a pen anew."""
    pen = _own(request, pk)
    form = PenForm(request.POST or None, household=pen.household, pen=pen, units=request.units)
    if form.is_bound and form.is_valid():
        said = form.cleaned_data
        flows.save(
            pen,
            form.spec(),
            animals=list(said["animals"]),
            name=said["name"],
            room=said["room"],
            climate=form.climate().model_dump(mode="json"),
        )
        messages.success(request, "Saved.")
        return redirect("pens:page", pk=pk)

    return render(request, "pens/edit.html", {"form": form, "pen": pen})


@require_safe
def page(request: KeeperRequest, pk: int) -> HttpResponse:
    """A pen: what is wrong with it, the day, the year, when they were out."""
    return _page(request, _own(request, pk), ComeInForm(units=request.units))


def _page(request: KeeperRequest, pen: Pen, come_in: ComeInForm) -> HttpResponse:
    today = _today(pen)
    day = _day_form(request, pen, today)
    on, weather = today, flows.usual_weather(pen, today)
    if day.is_valid():
        on, weather = day.cleaned_data["on"], day.weather()
    context: dict[str, Any] = {
        "pen": pen,
        "day": day,
        "on": on,
        "come_in": come_in,
        **_judged(pen, on, weather, request.units),
        **_outings(pen, request.units),
    }

    return render(request, "pens/page.html", context)


def _judged(pen: Pen, on: dt.date, weather: Weather, units: Units) -> dict[str, Any]:
    """What the page says of the pen, the day and the year."""
    animals = flows.planned_animals(pen, on)
    spec = pen.described
    climate = pen.usual_climate
    made = plan_pen(spec, animals, PenDay(pen.place, on, weather), climate)
    judged = [
        (animal.name, found)
        for animal, found in zip(animals, made.days, strict=True)
        if not found.ruled_out
    ]
    context: dict[str, Any] = {
        "wrong": wrong_of(made, units),
        "can_fix": any(one.patch for one in made.findings),
        "out": spans_words(made.out),
        "animals": [
            (name, spans_words(found.out), kept_in(found, units)) for name, found in judged
        ],
        **rule_numbers(units),
        "plan_view": _svg(from_above(spec, units, len(animals))),
    }
    if judged:
        first = judged[0][1]
        months = year(spec, animals, pen.place, climate, on.year)
        context |= {
            "chart": _svg(chart(first, units)),
            "facts": facts_of(first, units),
            "year": _svg(through_the_year(months)),
        }

    return context


def _outings(pen: Pen, units: Units) -> dict[str, Any]:
    """Whether they are out, and when they were."""
    is_out = pen.outings.filter(in_at__isnull=True).first()
    last = pen.outings.filter(in_at__isnull=False)[:OUTINGS_SHOWN]
    return {
        "is_out": is_out,
        "out_since": local(is_out.out_at, pen.place.tz) if is_out else None,
        "outings": outing_rows(pen, last, units),
    }


def _svg(drawing: Drawing) -> str:
    return mark_safe(write(drawing))  # our own writer escapes


def _day_form(request: KeeperRequest, pen: Pen, today: dt.date) -> PenDayForm:
    """The forecast as the address holds it; a usual day of this month where it holds none."""
    usual = flows.usual_weather(pen, today)
    fresh = PenDayForm(units=request.units, usual=usual, on=today)
    first = {name: str(field.initial) for name, field in fresh.fields.items()}
    asked = {name: value[:80] for name, value in request.GET.items() if name in first}
    return PenDayForm({**first, **asked}, units=request.units, usual=usual, on=today)


@require_POST
def apply(request: KeeperRequest, pk: int) -> HttpResponse:
    """Change the pen as one finding says, or as all of them do."""
    pen = _own(request, pk)
    wanted = request.POST.get("slug", "")
    made = flows.plan_of(pen, _today(pen))
    chosen = [one for one in made.findings if one.patch and wanted in {"", one.slug}]
    if chosen:
        flows.apply(pen, chosen)
        messages.success(request, "Changed in the plan: now change it in the garden.")

    return redirect("pens:page", pk=pk)


@require_POST
def undo(request: KeeperRequest, pk: int) -> HttpResponse:
    """Take the last change back."""
    if flows.undo(_own(request, pk)):
        messages.success(request, "Taken back.")
    return redirect("pens:page", pk=pk)


@require_POST
def out(request: KeeperRequest, pk: int) -> HttpResponse:
    """They are out."""
    pen = _own(request, pk)
    if flows.bring_out(pen, now(), request.user):
        messages.success(request, "Out. Look every half hour.")
    return redirect("pens:page", pk=pk)


@require_POST
def back_in(request: KeeperRequest, pk: int) -> HttpResponse:
    """They are in again."""
    pen = _own(request, pk)
    form = ComeInForm(request.POST, units=request.units)
    if not form.is_valid():
        return _page(request, pen, form)
    if flows.bring_in(pen, now(), form.cleaned_data["shade_c"]) is not None:
        messages.success(request, "In again. Wash your hands.")

    return redirect("pens:page", pk=pk)


@require_POST
def delete(request: KeeperRequest, pk: int) -> HttpResponse:
    """Take a pen away, with its times outside."""
    _own(request, pk).delete()
    messages.success(request, "Deleted.")
    return redirect("pens:list")
