"""Forms of what a sitter must know, and of the days of a sheet."""

import datetime as dt
from typing import Any

from django import forms

from ridgeback.fields import day_field
from ridgeback.papers.models import CareNotes, EnclosureNotes

LONGEST_DAYS = 35
"""Of a sheet: longer, and the animals have grown out of it (design choice) [days]."""


class CareNotesForm(forms.ModelForm):
    """Whom to call, where things are, what never to do."""

    class Meta:
        model = CareNotes
        fields = ["call", "vet", "places", "never"]
        labels = {
            "call": "Whom to call, in this order",
            "vet": "Veterinarian and deputy",
            "places": "Where food and tools are",
            "never": "What never to do",
        }
        help_texts = {
            "call": "A line each, with the number.",
            "places": "Food, spare lamps, keys, the fuse box, the water.",
            "never": "Such as: never open the left door, never feed by hand.",
        }


class EnclosureNotesForm(forms.ModelForm):
    """What is normal in an enclosure, and what is not."""

    class Meta:
        model = EnclosureNotes
        fields = ["normal", "watch"]
        labels = {"normal": "This is normal", "watch": "This is not: call"}


class DaysForm(forms.Form):
    """A first and a last day."""

    first = day_field("From")
    last = day_field("Until")

    def __init__(self, *args: Any, today: dt.date, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.today = today

    def clean(self) -> dict[str, Any]:
        """In order, and as the days of its kind must be."""
        cleaned: dict[str, Any] = super().clean() or {}
        first, last = cleaned.get("first"), cleaned.get("last")
        if first is not None and last is not None:
            self.check(first, last)
            if last < first and not self.errors:
                self.add_error("last", "The last day is before the first.")
        return cleaned

    def check(self, first: dt.date, last: dt.date) -> None:
        """Say what cannot be."""


class PeriodForm(DaysForm):
    """The first and the last day of what is looked back on."""

    def check(self, first: dt.date, last: dt.date) -> None:
        """Not to come, and not too much."""
        if last > self.today:
            self.add_error("last", "This day is still to come.")
        elif (last - first).days > LONGEST_PERIOD_DAYS:
            self.add_error("first", "Five years at the most.")


LONGEST_PERIOD_DAYS = 5 * 366
"""That a summary looks back (design choice) [days]."""


class SheetForm(DaysForm):
    """The first and the last day of a sheet."""

    def check(self, first: dt.date, last: dt.date) -> None:
        """From today on, and no longer than a sheet holds."""
        if first < self.today:
            self.add_error("first", "This day is past.")
        elif (last - self.today).days > LONGEST_DAYS:
            self.add_error("last", f"At most {LONGEST_DAYS} days ahead.")
