"""A quick sum's form: text in the reader's units in, the method's own arguments out."""

from typing import Any

from django import forms

from husbandry import methods
from husbandry.derivation import Derivation
from husbandry.errors import HusbandryError, ImpossibleStateError, OutOfRangeError
from husbandry.quantity import Kind, Units, show
from ridgeback.calculators.catalogue import ArgumentPrompt, Calculator
from ridgeback.fields import QuantityField


class CalculatorForm(forms.Form):
    """Fields by the catalogue; `derivation` holds the answer when the form is valid."""

    def __init__(self, *args: Any, sum_: Calculator, units: Units, **kwargs: Any) -> None:
        self.sum = sum_
        self.units = units
        self.derivation: Derivation | None = None
        super().__init__(*args, **kwargs)
        for name, ask in sum_.asks.items():
            self.fields[name] = self._field(ask)

    def _field(self, ask: ArgumentPrompt) -> forms.Field:
        if ask.kind is None:
            return forms.FloatField(
                label=ask.label,
                initial=f"{ask.usual:g}",
                widget=forms.TextInput(attrs={"inputmode": "decimal", "maxlength": 30}),
            )
        return QuantityField(
            ask.kind, self.units, label=ask.label, value=ask.usual, small=ask.small
        )

    def clean(self) -> dict[str, Any]:
        """Compute, and say beside the field what is out of the method's range."""
        cleaned = super().clean() or {}
        if self.errors:
            return cleaned
        given: dict[str, float | str] = {
            name: cleaned[name] * ask.per for name, ask in self.sum.asks.items()
        }
        try:
            self.derivation = methods.compute(self.sum.method, {**given, **self.sum.fixed})
        except OutOfRangeError as why:
            self.add_error(why.name if why.name in self.fields else None, self._range(why))
        except HusbandryError as why:
            self.add_error(None, f"{str(why)[0].upper()}{str(why)[1:]}.")
        return cleaned

    def _range(self, why: OutOfRangeError) -> str:
        ask = self.sum.asks.get(why.name)
        if ask is None or ask.kind is None:
            return f"This holds from {why.low:g} to {why.high:g} {why.unit}."
        low, high = (
            show(end / ask.per, ask.kind, self.units, small=ask.small)
            for end in (why.low, why.high)
        )
        return f"This holds from {low} to {high}."

    def answer(self) -> str:
        """The result in the reader's units."""
        return self._said(self.units)

    def other_units(self) -> str:
        """The result in the other system, for whom it is read to."""
        if self.sum.kind not in {Kind.LENGTH, Kind.MASS, Kind.VOLUME, Kind.TEMPERATURE}:
            return ""
        other = Units(
            "metric" if self.units.system == "us" else "us",
            "c" if self.units.temperature == "f" else "f",
        )
        return self._said(other)

    def _said(self, units: Units) -> str:
        if self.derivation is None:
            raise ImpossibleStateError("missing: self.derivation")
        if self.sum.kind is None:
            return f"{self.derivation.value:.3g}"
        digits = 1 if self.sum.kind in {Kind.TEMPERATURE, Kind.LENGTH, Kind.VOLUME} else None
        return show(self.derivation.value / self.sum.per, self.sum.kind, units, digits=digits)
