"""Building a box: the shopping list less what is owned, the steps with their waits, and the day it may move in; as page, CSV and calendar."""

import csv
import datetime as dt
import io
import math
from dataclasses import dataclass
from typing import Any

import icalendar
from django import forms
from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import redirect, render
from django.utils.safestring import SafeString, mark_safe
from django.views.decorators.http import require_http_methods, require_safe

from husbandry.planning.build import Build, Choices, Item, Step, schedule, shopping, tasks_of
from husbandry.planning.request import Request
from husbandry.quantity import Kind, Units, show
from ridgeback.drawing.build import gantt
from ridgeback.drawing.svg import write
from ridgeback.habitats.forms import now
from ridgeback.habitats.views import lived_in, own_habitat
from ridgeback.keepers.middleware import KeeperRequest

ASKED = {
    "second_hand": "The box is second-hand",
    "coated": "Timber is lacquered",
    "foam": "A background of foam is made",
    "planted": "Live plants root first",
    "crew": "A clean-up crew settles first",
}


class BuildForm(forms.Form):
    """When it begins, of what kind it is, what is done, what is owned, and what things cost here."""

    def __init__(self, *args: Any, kept: dict[str, Any], request_: Request, today: dt.date, rate: float, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.kept, self.today = kept, today
        self.items = shopping(request_)
        self.rate = rate
        date = {"type": "date"}
        begin = kept.get("start") or today.isoformat()
        self.fields["start"] = forms.DateField(
            label="Begins on", initial=begin, widget=forms.DateInput(attrs=date, format="%Y-%m-%d")
        )
        for slug, words in ASKED.items():
            self.fields[slug] = forms.BooleanField(label=words, initial=slug in kept.get("choices", []), required=False)
        self.every = tasks_of(request_, Choices(**dict.fromkeys(ASKED, True)))
        for task in self.every:
            done = kept.get("done", {}).get(task.slug)
            self.fields[f"done-{task.slug}"] = forms.DateField(
                label=f"{task.title}: done on",
                initial=done,
                required=False,
                widget=forms.DateInput(attrs=date, format="%Y-%m-%d"),
            )
        for item in self.items:
            self.fields[f"own-{item.slug}"] = forms.BooleanField(
                label=f"owned: {item.name}", initial=item.slug in kept.get("owned", []), required=False
            )
            price, guide = (
                kept.get("prices", {}).get(item.slug),
                round(item.guide_eur * rate, 2 if item.guide_eur * rate < 10 else 0),
            )
            self.fields[f"price-{item.slug}"] = forms.FloatField(
                label=f"price of {item.name}", required=False, min_value=0, max_value=1e6,
                initial=f"{guide if price is None else price:g}",
                widget=forms.TextInput(attrs={"class": "quantity", "inputmode": "decimal", "autocomplete": "off"}),
            )  # fmt: skip

    def clean(self) -> dict[str, Any]:
        """Nothing is done in days to come, or before the build began."""
        data = super().clean() or {}
        start = data.get("start")
        for task in self.every:
            done = data.get(f"done-{task.slug}")
            if done is not None and done > self.today:
                self.add_error(f"done-{task.slug}", "This day is still to come.")
            elif done is not None and start is not None and done < start:
                self.add_error(f"done-{task.slug}", "That is before the build began.")
        return data

    def said(self) -> dict[str, Any]:
        """As it is kept with the box."""
        data = self.cleaned_data
        prices = {}
        for item in self.items:
            price = data.get(f"price-{item.slug}")
            if price is not None and not math.isclose(price, float(self.fields[f"price-{item.slug}"].initial or 0.0)):
                prices[item.slug] = price
        return {
            "start": data["start"].isoformat(),
            "choices": [slug for slug in ASKED if data.get(slug)],
            "done": {task.slug: data[f"done-{task.slug}"].isoformat() for task in self.every if data.get(f"done-{task.slug}")},
            "owned": [item.slug for item in self.items if data.get(f"own-{item.slug}")],
            "prices": {**self.kept.get("prices", {}), **prices},
        }

    def steps(self, build: Build) -> list[tuple[Step, Any]]:
        """Each step with the field of the day on which it was done."""
        return [(step, self[f"done-{step.task.slug}"]) for step in build.steps]

    def bought(self) -> list[tuple[Item, Any, Any]]:
        """Each item with what is owned and what it costs."""
        return [(item, self[f"own-{item.slug}"], self[f"price-{item.slug}"]) for item in self.items]


def build_of(kept: dict[str, Any], asked: Request, today: dt.date) -> Build:
    """The steps and days of a box by what is kept of its build."""
    choices = Choices(**{slug: slug in kept.get("choices", []) for slug in ASKED})
    start = dt.date.fromisoformat(kept["start"]) if kept.get("start") else today
    done = {slug: dt.date.fromisoformat(day) for slug, day in kept.get("done", {}).items()}
    return schedule(tasks_of(asked, choices), start, done)


@dataclass(frozen=True)
class Totals:
    """Sums of the shopping list."""

    all: float
    later: float


def _totals(kept: dict[str, Any], items: tuple[Item, ...], rate: float) -> Totals:
    left = [item for item in items if item.slug not in kept.get("owned", [])]
    costs = {item.slug: float(kept.get("prices", {}).get(item.slug, item.guide_eur * rate)) for item in left}
    return Totals(sum(costs.values()), sum(costs[item.slug] for item in left if item.waits))


def _name(item: Item, units: Units) -> str:
    length = f", {show(item.measure_m, Kind.LENGTH, units)}" if item.measure_m else ""
    return f"{item.name[0].upper()}{item.name[1:]}{length}"


@require_http_methods(["GET", "HEAD", "POST"])
@lived_in
def build(request: KeeperRequest, pk: int) -> HttpResponse:
    """The build; what is said of it is kept with the box."""
    habitat = own_habitat(request, pk)
    asked = habitat.request_at(now())
    today, rate = asked.today, habitat.household.euro_rate
    form = BuildForm(
        request.POST if request.method == "POST" else None, kept=habitat.build, request_=asked, today=today, rate=rate
    )
    if form.is_bound and form.is_valid():
        habitat.build = form.said()
        habitat.save(update_fields=["build"])
        messages.success(request, "Kept.")
        return redirect("habitats:build", pk=pk)
    made = build_of(habitat.build, asked, today)
    chart: SafeString = mark_safe(write(gantt(made, today)))  # our own writer escapes
    rows = [{"name": _name(item, request.units), "item": item, "own": own, "price": price} for item, own, price in form.bought()]
    context = {
        "habitat": habitat, "form": form, "build": made, "chart": chart, "rows": rows, "steps": form.steps(made),
        "choices": [form[slug] for slug in ASKED], "totals": _totals(habitat.build, form.items, rate), "currency": habitat.household.currency,
        "late": made.move_in < today,
    }  # fmt: skip
    return render(request, "habitats/build.html", context)


def _download(text: str | bytes, kind: str, name: str) -> HttpResponse:
    return HttpResponse(text, content_type=kind, headers={"Content-Disposition": f'attachment; filename="{name}"'})


@require_safe
@lived_in
def build_csv(request: KeeperRequest, pk: int) -> HttpResponse:
    """The shopping list and the steps as one table."""
    habitat = own_habitat(request, pk)
    asked = habitat.request_at(now())
    made, kept = build_of(habitat.build, asked, asked.today), habitat.build
    out = io.StringIO()
    writer = csv.writer(out)
    writer.writerow(["what", "count", f"price {habitat.household.currency}", "owned", "can wait"])
    for item in shopping(asked):
        price = kept.get("prices", {}).get(item.slug, item.guide_eur * habitat.household.euro_rate)
        writer.writerow(
            [
                _name(item, request.units),
                item.count,
                f"{price:.2f}",
                "yes" if item.slug in kept.get("owned", []) else "",
                "yes" if item.waits else "",
            ]
        )
    writer.writerow([])
    writer.writerow(["step", "begins", "next from", "may slip, days", "done", "tools", "caution"])
    for step in made.steps:
        writer.writerow(
            [step.task.title, step.begin, step.ready, step.slack_days, step.done_on or "", step.task.tools, step.task.caution]
        )
    return _download("\ufeff" + out.getvalue(), "text/csv; charset=utf-8", f"build-{pk}.csv")


@require_safe
@lived_in
def build_ics(request: KeeperRequest, pk: int) -> HttpResponse:
    """The steps as days of a calendar."""
    habitat = own_habitat(request, pk)
    asked = habitat.request_at(now())
    calendar = icalendar.Calendar()
    calendar.add("prodid", "-//Ridgeback//build//EN")
    calendar.add("version", "2.0")
    for step in build_of(habitat.build, asked, asked.today).steps:
        event = icalendar.Event()
        event.add("uid", f"{step.task.slug.replace(' ', '-')}-{pk}@ridgeback")
        event.add("dtstamp", now())
        event.add("dtstart", step.begin)
        event.add("dtend", max(step.ready, step.begin + dt.timedelta(days=1)))
        event.add("summary", f"{habitat.name}: {step.task.title}")
        event.add("description", " ".join(part for part in (step.task.tools, step.task.caution) if part))
        calendar.add_component(event)
    return _download(calendar.to_ical(), "text/calendar; charset=utf-8", f"build-{pk}.ics")
