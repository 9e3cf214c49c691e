"""What is put into the food supplies, read in its unit."""

import datetime as dt
import math
from typing import Any

from django import forms

from husbandry.errors import EntryError
from husbandry.feeding.feeders import BY_NAME
from husbandry.feeding.serving import living_prey
from husbandry.quantity import Kind, Units, read
from husbandry.tasks.supplies import counted
from ridgeback.fields import day_field
from ridgeback.supplies.models import Stock

MOST = 1_000_000.0


class StockForm(forms.Form):
    """Something new in the food supplies: food of the list, or a thing of one's own that grows old."""

    name = forms.CharField(
        label="What",
        max_length=80,
        widget=forms.TextInput(attrs={"list": "feeders", "autocomplete": "off"}),
    )
    amount = forms.CharField(
        label="How much",
        max_length=40,
        widget=forms.TextInput(
            attrs={"autocomplete": "off", "class": "quantity", "placeholder": "number or g"}
        ),
    )
    place = forms.ChoiceField(
        label="Stored in", required=False, choices=[("", "where it belongs"), *Stock.Place.choices]
    )
    lead_days = forms.IntegerField(
        label="Days until it comes",
        required=False,
        min_value=0,
        max_value=90,
        widget=forms.TextInput(
            attrs={"inputmode": "numeric", "autocomplete": "off", "class": "quantity"}
        ),
    )
    opened_on = day_field("Opened on", required=False)
    best_before = day_field("Best before", required=False)

    def __init__(self, *args: Any, units: Units, today: dt.date, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.units = units
        self.today = today

    def clean_name(self) -> str:
        """One line, without odd characters."""
        name = " ".join(self.cleaned_data["name"].replace("\x00", " ").split())
        if living_prey(name):
            raise forms.ValidationError(
                "No live rodents are planned here: they bite and kill. Thawed ones stand in the"
                " list."
            )
        return name

    def clean_opened_on(self) -> dt.date | None:
        """Nothing was opened in days to come."""
        day: dt.date | None = self.cleaned_data["opened_on"]
        if day is not None and day > self.today:
            raise forms.ValidationError("This day is still to come.")
        return day

    def clean(self) -> dict[str, Any]:
        """The amount in the unit of its species."""
        data = super().clean() or {}
        if "name" in data and "amount" in data:
            try:
                data["number"] = amount_of(data["amount"], data["name"], self.units)
            except EntryError as why:
                self.add_error("amount", str(why))
        return data


def amount_of(text: str, name: str, units: Units) -> float:
    """An amount as it was typed: whole animals and things by number, the rest by mass.

    Raises `EntryError`.
    """
    if name in BY_NAME and not counted(name):
        value = read(text, Kind.MASS, units).value
    else:
        try:
            value = float(text.strip().replace(",", "."))
        except ValueError:
            raise EntryError(f"“{text.strip()[:20]}” is no number.") from None
    if not math.isfinite(value) or value > MOST:
        raise EntryError("That is more than fits in any household.")
    if value < 0:
        raise EntryError("Stock is counted from nothing up.")
    return value
