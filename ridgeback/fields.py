"""Form fields that read quantities as keepers write them and ask about what cannot well be true."""

from collections.abc import Iterable
from typing import Any

from django import forms
from django.core.exceptions import ValidationError

from husbandry.errors import EntryError
from husbandry.items.timers import read_spans
from husbandry.quantity import (
    PLAUSIBLE,
    Doubt,
    Kind,
    PlausibleRange,
    QuantityEntry,
    Units,
    default_unit,
    question,
    read,
    show,
)


def day_field(label: str, **kwargs: Any) -> forms.DateField:
    """A day, as a browser's own field for it."""
    return forms.DateField(
        label=label, widget=forms.DateInput(attrs={"type": "date"}, format="%Y-%m-%d"), **kwargs
    )


class QuantityField(forms.CharField):
    """A quantity with its unit, as text.

    What was shown and comes back unchanged keeps its stored value to the last digit.
    """

    def __init__(
        self,
        kind: Kind,
        units: Units,
        *,
        label: str,
        value: float | None = None,
        plausible: str | PlausibleRange = "",
        small: bool = False,
        digits: int | None = None,
        what: str = "",
        **kwargs: Any,
    ) -> None:
        self.what = what or label.lower()  # as a sentence about it calls it
        self.kind, self.units, self.small, self.stored, self.plausible = (
            kind,
            units,
            small,
            value,
            plausible,
        )
        self.shown = "" if value is None else show(value, kind, units, small=small, digits=digits)
        unit = default_unit(kind, units, small=small)
        kwargs.setdefault("required", True)
        widget = forms.TextInput(
            attrs={"autocomplete": "off", "class": "quantity", "placeholder": unit}
        )
        super().__init__(label=label, initial=self.shown, max_length=60, widget=widget, **kwargs)
        self.doubt: Doubt | None = None
        self.entry: QuantityEntry | None = None
        """As it was read last; None where nothing was typed, or what was shown came back."""
        self.error_messages["required"] = f"Write a {self.what}."

    @property
    def asked(self) -> str:
        """The question about a value that is unlikely."""
        return self.doubt.sentence if self.doubt and not self.doubt.refused else ""

    def clean(self, value: Any) -> float | None:
        """The value in the core's own unit."""
        self.doubt = self.entry = None
        typed = super().clean(value).strip()
        if not typed:
            return None
        if typed == self.shown:
            return self.stored
        try:
            entry = read(typed, self.kind, self.units, small=self.small)
        except EntryError as why:
            raise ValidationError(str(why)) from None
        self.entry = entry
        if self.plausible:
            span = PLAUSIBLE[self.plausible] if isinstance(self.plausible, str) else self.plausible
            what = (
                self.plausible
                if isinstance(self.plausible, str) and self.what == str(self.label).lower()
                else self.what
            )
            self.doubt = question(entry, span, units=self.units, what=what)
            if self.doubt and self.doubt.refused:
                raise ValidationError(self.doubt.sentence)

        return entry.value


def clock() -> forms.TimeInput:
    return forms.TimeInput(attrs={"type": "time"}, format="%H:%M")


class DaySpansField(forms.CharField):
    """Spans of a day as people write them, such as “7:30–8:00, 17:00–18:00”."""

    def __init__(self, *, initial: Iterable[str] = (), **kwargs: Any) -> None:
        """Show what is kept as it is typed."""
        shown = ", ".join(one.replace("-", "–") for one in initial)
        widget = forms.TextInput(attrs={"autocomplete": "off", "placeholder": "17:00–18:00"})
        super().__init__(initial=shown, max_length=120, widget=widget, **kwargs)

    def clean(self, value: Any) -> tuple[str, ...]:
        """Read them; a sentence where they cannot be."""
        try:
            return read_spans(super().clean(value))
        except ValueError as why:
            raise ValidationError(f"{why}.") from None
