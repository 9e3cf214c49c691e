"""The form of an instrument."""

import datetime as dt
from typing import Any

from django import forms

from husbandry.bounds import OFFSET
from husbandry.records.instrument_checks import advice
from ridgeback.fields import day_field
from ridgeback.households.models import Household
from ridgeback.instruments.models import Instrument, MeasuredChannel
from ridgeback.records.models import Channel


class InstrumentForm(forms.ModelForm):
    """What it is, its last check, and the channels that it measures."""

    offset = forms.CharField(
        label="It reads too high by",
        required=False,
        max_length=20,
        widget=forms.TextInput(attrs={"inputmode": "decimal", "class": "quantity"}),
        help_text="In °C or %. Too low: with a minus.",
    )
    checked_on = day_field("Checked on", required=False)
    battery_on = day_field("Battery changed on", required=False)

    class Meta:
        model = Instrument
        fields = [
            "name",
            "kind",
            "resolution",
            "offset",
            "way",
            "checked_on",
            "every_months",
            "battery_on",
            "place",
            "channels",
        ]
        labels = {
            "resolution": "Shows steps of",
            "way": "Checked with",
            "every_months": "Check again after months",
            "place": "Where it is kept",
            "channels": "Channels in the charts that it measures",
        }

    def __init__(self, *args: Any, household: Household, today: dt.date, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.household = household
        self.today = today
        own = Channel.objects.of(household).select_related("enclosure")
        self.fields["channels"].queryset = own  # type: ignore[attr-defined]  # a choice field
        self.fields["channels"].widget = forms.CheckboxSelectMultiple()
        self.fields["channels"].widget.choices = [
            (one.pk, f"{one.enclosure.name}: {one}") for one in own
        ]
        kinds = [("", "choose"), *Instrument.Kind.choices]
        self.fields["kind"].choices = kinds  # type: ignore[attr-defined]  # a choice field
        self.fields["every_months"].min_value = 1  # type: ignore[attr-defined]  # an integer field
        if self.instance.pk and not self.is_bound:
            self.initial["offset"] = f"{self.instance.offset:g}"

    def clean_name(self) -> str:
        """One name once."""
        name: str = self.cleaned_data["name"].strip()
        others = Instrument.objects.of(self.household).exclude(pk=self.instance.pk)
        if others.filter(name__iexact=name).exists():
            raise forms.ValidationError("Another instrument has this name.")
        return name

    def clean_offset(self) -> float:
        """A number with either decimal mark."""
        typed = str(self.cleaned_data["offset"]).strip().replace(",", ".").replace("−", "-")
        if not typed:
            return 0.0
        try:
            value = float(typed)
        except ValueError:
            raise forms.ValidationError("Write a number such as 1.4 or -0.5.") from None
        if not -OFFSET <= value <= OFFSET:
            raise forms.ValidationError(f"It lies from {-OFFSET:g} to {OFFSET:g}.")
        return value

    def clean_channels(self) -> Any:
        """Each channel has one instrument: an error is applied once."""
        chosen = self.cleaned_data["channels"]
        rows = MeasuredChannel.objects.filter(channel__in=chosen).select_related("instrument")
        other = rows.exclude(instrument=self.instance.pk).first()
        if other is not None:
            raise forms.ValidationError(f"One of these is measured by {other.instrument} already.")
        return chosen

    def clean_every_months(self) -> int:
        """From a month to five years."""
        months: int = self.cleaned_data["every_months"]
        if not 1 <= months <= 60:
            raise forms.ValidationError("From 1 to 60 months.")
        return months

    def clean(self) -> dict[str, Any]:
        """A check has its day, and days are past."""
        data: dict[str, Any] = super().clean() or {}
        for name in ("checked_on", "battery_on"):
            if data.get(name) is not None and data[name] > self.today:
                self.add_error(name, "This day is still to come.")
        if data.get("way") and data.get("checked_on") is None and "checked_on" not in self.errors:
            self.add_error("checked_on", "Write when it was checked.")
        if data.get("checked_on") is not None and not data.get("way"):
            self.add_error("way", "Say with what it was checked.")
        return data

    @property
    def warning(self) -> str:
        """What a large error asks for."""
        data = self.cleaned_data
        return advice(data.get("way") or "", data.get("offset") or 0.0)
