"""The page of calculators, and one calculation by its link."""

from typing import Any
from urllib.parse import urlencode

from django import forms
from django.http import Http404, HttpResponse
from django.shortcuts import render
from django.urls import reverse
from django.views.decorators.http import require_safe

from husbandry.errors import EntryError
from husbandry.quantity import Kind, Units, convert, read, show
from ridgeback.calculators.catalogue import CALCULATORS, Calculator
from ridgeback.calculators.forms import CalculatorForm
from ridgeback.households.middleware import KeeperRequest
from ridgeback.sentences import input_text

CONVERTED = (Kind.LENGTH, Kind.MASS, Kind.VOLUME, Kind.TEMPERATURE)
NAMES = {
    Kind.LENGTH: "a length",
    Kind.MASS: "a mass",
    Kind.VOLUME: "a volume",
    Kind.TEMPERATURE: "a temperature",
}


@require_safe
def calculator_list(request: KeeperRequest) -> HttpResponse:
    """All of them, and the conversion of anything."""
    form = Convert(request.GET if "typed" in request.GET else None)
    found: list[tuple[str, list[str]]] = []
    if form.is_bound and form.is_valid():
        found = form.readings(request.units)
        if not found:
            form.add_error(
                "typed",
                "Write a number with its unit, such as “95 °F”, “4 ft”, “20 gal” or “2 lb 3 oz”.",
            )
    return render(
        request,
        "calculators/list.html",
        {"calculators": CALCULATORS.values(), "convert": form, "found": found},
    )


class Convert(forms.Form):
    """A number with its unit, in every unit that it can be told in."""

    typed = forms.CharField(label="Convert", max_length=60)

    def readings(self, units: Units) -> list[tuple[str, list[str]]]:
        """As each kind of quantity that it can be; a bare number has no unit and is none."""
        text = self.cleaned_data["typed"]
        found = []
        for kind in CONVERTED:
            try:
                entry = read(text, kind, units)
            except EntryError:
                continue
            if entry.unit_assumed:
                continue
            ways = {
                show(entry.value, kind, reader, digits=1)
                for reader in (Units("metric", "c"), Units("us", "f"))
            }
            if kind is Kind.LENGTH:
                ways |= {f"{entry.value:.4g} m", f"{entry.value / convert(1, kind, 'ft'):.4g} ft"}
            if kind is Kind.MASS:
                ways |= {f"{entry.value:.4g} g", f"{entry.value / convert(1, kind, 'lb'):.4g} lb"}
            found.append((NAMES[kind], sorted(ways)))
        return found


@require_safe
def calculator(request: KeeperRequest, slug: str) -> HttpResponse:
    """A sum with what its address holds; without anything, with usual values."""
    if slug not in CALCULATORS:
        raise Http404
    known = CALCULATORS[slug]
    asked = {name: request.GET[name][:200] for name in known.asks if name in request.GET}
    fresh = CalculatorForm(sum_=known, units=request.units)
    typed = {name: str(fresh.fields[name].initial) for name in known.asks} | asked
    form = CalculatorForm(typed, sum_=known, units=request.units)
    context: dict[str, Any] = {"sum": known, "form": form, "calculators": CALCULATORS.values()}
    if form.is_valid() and form.derivation is not None:
        derivation = form.derivation
        # The link carries units, so that it gives the same sum to a reader of any.
        spelled = {name: _spelled(form, name) for name in known.asks}
        context |= {
            "answer": form.answer(),
            "other": form.other_units(),
            "derivation": derivation,
            "sources": [str(source) for source in derivation.sources],
            "inputs": [
                (_named(known, item.name), input_text(item, request.units))
                for item in derivation.inputs
            ],
            "command": f"python -m husbandry {derivation.command}",
            "link": f"{reverse('calculators:calculator', args=[slug])}?{urlencode(spelled)}",
        }
    template = "calculators/answer.html" if request.htmx else "calculators/one.html"
    return render(request, template, context)


def _named(known: Calculator, argument: str) -> str:
    """An argument as the form calls it."""
    return known.asks[argument].label if argument in known.asks else argument.replace("_", " ")


def _spelled(form: CalculatorForm, name: str) -> str:
    """A value in the core's own unit with its name, exactly."""
    ask = form.sum.asks[name]
    value = form.cleaned_data[name]
    unit = {
        Kind.LENGTH: " m",
        Kind.TEMPERATURE: " C",
        Kind.TEMPERATURE_DIFFERENCE: " C",
        Kind.MASS: " g",
        Kind.HUMIDITY: " %",
    }.get(ask.kind or Kind.COUNT, "")
    if ask.kind is Kind.SHARE:
        return f"{value * 100:.8g} %"
    return f"{value:.8f}".rstrip("0").rstrip(".") + unit
