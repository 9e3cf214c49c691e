"""Forms of devices: a new one, and a channel of it."""

from typing import Any

from django import forms
from django.db.models import QuerySet

from husbandry.records.channels import (
    PLACE_WORDS,
    QUANTITY_WORDS,
    Quantity,
    SensorPlace,
    places_of,
)
from ridgeback.animals.models import Animal
from ridgeback.devices.flows import MOST_CHANNELS, MOST_DEVICES
from ridgeback.devices.models import Device
from ridgeback.enclosures.models import Enclosure
from ridgeback.households.models import Household
from ridgeback.records.places import place_choices
from ridgeback.submissions.forms import OnceForm


class DeviceForm(OnceForm):
    """What a device is called."""

    name = forms.CharField(
        label="Name", max_length=80, help_text="As you call it, such as “shelf, left”."
    )

    def __init__(self, *args: Any, household: Household, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.household = household

    def clean_name(self) -> str:
        """One name once; so many devices and no more."""
        name: str = self.cleaned_data["name"].strip()
        own = Device.objects.of(self.household).trusted()
        if own.filter(name__iexact=name).exists():
            raise forms.ValidationError("Another device has this name.")
        if own.count() >= MOST_DEVICES:
            raise forms.ValidationError(f"A household has at most {MOST_DEVICES} devices.")
        return name


class BindingForm(forms.Form):
    """What a device measures, and where."""

    enclosure = forms.ChoiceField(label="Enclosure")
    quantity = forms.ChoiceField(
        label="It measures", choices=[(one.value, QUANTITY_WORDS[one]) for one in Quantity]
    )
    place = forms.ChoiceField(label="Where the sensor is", choices=place_choices(SensorPlace))

    def __init__(
        self, *args: Any, device: Device, enclosures: list[Enclosure], **kwargs: Any
    ) -> None:
        super().__init__(*args, **kwargs)
        self.device = device
        self.homes = {str(one.pk): one for one in enclosures}
        choices = [(key, one.name) for key, one in self.homes.items()]
        self.fields["enclosure"].choices = choices  # type: ignore[attr-defined]  # a choice field

    def clean(self) -> dict[str, Any]:
        """A place where the quantity is measured; so many channels and no more."""
        data: dict[str, Any] = super().clean() or {}
        if self.errors:
            return data
        quantity, place = Quantity(data["quantity"]), SensorPlace(data["place"])
        if place not in places_of(quantity):
            allowed = ", ".join(PLACE_WORDS[one] for one in places_of(quantity))
            self.add_error("place", f"The {QUANTITY_WORDS[quantity]} is measured at: {allowed}.")
        if self.device.bindings.count() >= MOST_CHANNELS:
            self.add_error(None, f"A device has at most {MOST_CHANNELS} channels.")
        data.update(quantity=quantity, place=place, enclosure=self.homes[data["enclosure"]])

        return data


class ScaleWeightForm(forms.Form):
    """Whose a weight is that a scale sent."""

    animal = forms.ModelChoiceField(
        label="Whose weight", queryset=Animal.objects.none(), empty_label="choose"
    )

    def __init__(self, *args: Any, animals: QuerySet[Animal], **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.fields["animal"].queryset = animals  # type: ignore[attr-defined]  # a choice field
