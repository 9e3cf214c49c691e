"""What is put into the food supplies, read in its unit."""

import datetime as dt
import math
import re
from collections.abc import Collection
from typing import Any

from django import forms

from husbandry.errors import EntryError
from husbandry.feeding.feeders import BY_NAME
from husbandry.feeding.serving import living_prey
from husbandry.quantity import Kind, Units, read
from husbandry.tasks.stocks import mix_of, weighed
from ridgeback.fields import QuantityField, day_field
from ridgeback.supplies.models import Stock

MOST = 1_000_000.0
PIECE_MOST_G, FREEZER_MOST_L = 20_000.0, 5000.0
PART = re.compile(
    r"(?P<number>\d+(?:[.,]\d+)?)\s*(?P<unit>kg|g|oz|lb)\b\s*(?:of\s+)?(?P<name>\S.*)",
    re.IGNORECASE,
)
"""A line of a recipe."""
OWN_NAME = "Meals already use this name: leave “Fed as” empty."


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
    stands_for = forms.CharField(
        label="Fed as",
        max_length=80,
        required=False,
        widget=forms.TextInput(attrs={"list": "foods", "autocomplete": "off"}),
        help_text="Where meals name it otherwise: “adult mouse”.",
    )

    def __init__(
        self, *args: Any, units: Units, today: dt.date, parts: Collection[str] = (), **kwargs: Any
    ) -> None:
        super().__init__(*args, **kwargs)
        self.units = units
        self.today = today
        self.parts = parts
        self.fields["piece_g"] = QuantityField(
            Kind.MASS,
            units,
            label="Weight of one",
            value=self.initial.get("piece_g"),
            required=False,
            small=True,
        )
        self.fields["price"] = forms.FloatField(
            label="Price of one, or of 100 g",
            required=False,
            min_value=0,
            max_value=1e6,
            widget=forms.TextInput(
                attrs={"inputmode": "decimal", "autocomplete": "off", "class": "quantity"}
            ),
        )

    def clean_name(self) -> str:
        """One line, without odd characters."""
        name = " ".join(self.cleaned_data["name"].replace("\x00", " ").split())
        if living_prey(name):
            raise forms.ValidationError(
                "No live rodents are planned here: they bite and kill. Thawed ones stand in the"
                " list."
            )
        return name

    def clean_stands_for(self) -> str:
        """A food of the guide."""
        name = " ".join(self.cleaned_data["stands_for"].split())
        if name and name not in BY_NAME:
            raise forms.ValidationError(
                "No meal uses a food of that name. Choose one from the list."
            )
        return name

    def clean_piece_g(self) -> float | None:
        """What one weighs [g]."""
        value: float | None = self.cleaned_data["piece_g"]
        if value is not None and not 0 < value <= PIECE_MOST_G:
            raise forms.ValidationError("The weight of one is more than nothing, and up to 20 kg.")
        return value

    def clean_opened_on(self) -> dt.date | None:
        """Nothing was opened in days to come."""
        day: dt.date | None = self.cleaned_data["opened_on"]
        if day is not None and day > self.today:
            raise forms.ValidationError("This day is still to come.")
        return day

    def clean(self) -> dict[str, Any]:
        """The amount in the unit of its species."""
        data = super().clean() or {}
        if data.get("stands_for") == data.get("name"):
            data["stands_for"] = ""
        if data.get("stands_for") and data.get("name") in BY_NAME:
            self.add_error("stands_for", OWN_NAME)
        if "name" in data and "amount" in data:
            food = data.get("stands_for") or data["name"]
            typed_mass = food not in BY_NAME and has_letters(data["amount"])
            data["is_weighed"] = weighed(food) or typed_mass or food in self.parts
            try:
                data["number"] = amount_of(
                    data["amount"], self.units, is_weighed=data["is_weighed"]
                )
            except EntryError as why:
                self.add_error("amount", str(why))
        return data


class StockDetailsForm(StockForm):
    """What is known of something in stock; its amount is counted in its row."""

    def __init__(self, *args: Any, stock: Stock, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.stock = stock
        del self.fields["amount"]
        del self.fields["name"]

    def clean_stands_for(self) -> str:
        """A food of the guide that is counted, or weighed, as this is."""
        food = super().clean_stands_for()
        if food and self.stock.name in BY_NAME:
            raise forms.ValidationError(OWN_NAME)
        if food and weighed(food) != self.stock.by_mass:
            how = "weighed and this is counted" if weighed(food) else "counted and this is weighed"
            raise forms.ValidationError(f"That food is {how}: delete this item and add it again.")
        return food


class FreezerForm(forms.Form):
    """Room for food in a freezer."""

    def __init__(self, *args: Any, units: Units, litres: float | None, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.fields["freezer"] = QuantityField(
            Kind.VOLUME, units, label="Freezer room for food", value=litres, required=False
        )

    def clean_freezer(self) -> float | None:
        """Litres; None for nobody knows."""
        value: float | None = self.cleaned_data["freezer"]
        if value is not None and not 0 < value <= FREEZER_MOST_L:
            raise forms.ValidationError(
                "A freezer holds more than nothing, and up to 5,000 litres."
            )
        return value


class RecipeForm(forms.Form):
    """What a mixed food is put together of."""

    name = forms.CharField(label="Name", max_length=80)
    stands_for = forms.ChoiceField(
        label="Fed as",
        choices=[(name, name) for name in sorted(BY_NAME) if weighed(name)],
        help_text="Meals of this food use up the ingredients.",
    )
    parts = forms.CharField(
        label="Ingredients",
        max_length=2000,
        widget=forms.Textarea(attrs={"rows": 6, "spellcheck": "false"}),
        help_text="One a line, with its weight: “60 g dandelion”.",
    )

    def __init__(self, *args: Any, units: Units, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.units = units
        self.fields["water"] = QuantityField(
            Kind.MASS,
            units,
            label="Water",
            value=self.initial.get("water_g"),
            required=False,
            small=True,
        )

    def clean_parts(self) -> dict[str, float]:
        """Each part and its mass [g]."""
        found: dict[str, float] = {}
        for line in self.cleaned_data["parts"].splitlines():
            if not line.strip():
                continue
            match = PART.fullmatch(line.strip())
            if match is None:
                raise forms.ValidationError(
                    f"“{line.strip()[:40]}”: write a weight and a name, such as “60 g dandelion”."
                )
            try:
                grams = read(f"{match['number']} {match['unit']}", Kind.MASS, self.units).value
            except EntryError as why:
                raise forms.ValidationError(f"“{line.strip()[:40]}”: {why}") from None
            name = " ".join(match["name"].split())[:80]
            found[name] = found.get(name, 0.0) + grams
        return found

    def clean(self) -> dict[str, Any]:
        """A mix that can be made."""
        data = super().clean() or {}
        data["water_g"] = data.get("water") or 0.0
        if {"name", "stands_for", "parts"} <= data.keys():
            try:
                mix_of(data["name"], data["stands_for"], data["parts"], data["water_g"])
            except EntryError as why:
                self.add_error("parts", str(why))
        return data


def has_letters(text: str) -> bool:
    """Whether a unit was typed with a number."""
    return any(letter.isalpha() for letter in text)


def amount_of(text: str, units: Units, *, is_weighed: bool) -> float:
    """An amount as it was typed: whole animals and things by number, the rest by mass.

    Raises `EntryError`.
    """
    if is_weighed:
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
