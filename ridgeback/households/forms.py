"""Forms about the keeper."""

import zoneinfo
from typing import Any

from django import forms
from django.http import HttpRequest

from husbandry.quantity import Kind, Units
from ridgeback.fields import QuantityField
from ridgeback.households.flows import begin
from ridgeback.households.models import Household, Keeper, Room, SavedFilter
from ridgeback.households.places import assumed_place
from ridgeback.submissions.forms import VERSION, VersionedForm


class HouseholdSignUp(forms.Form):
    """What sign-up asks beside e-mail and password."""

    first_name = forms.CharField(label="Your name", max_length=80)
    household = forms.CharField(
        label="Name of your household",
        max_length=80,
        required=False,
        help_text="Animals and enclosures belong to it; several people may share one. If you"
        " leave it empty, it is named after you.",
    )

    def signup(self, request: HttpRequest, user: Keeper) -> None:
        """Called by the accounts package when the person is saved: the household that goes with it."""
        user.first_name = self.cleaned_data["first_name"]
        user.save(update_fields=["first_name"])
        begin(user, self.cleaned_data["household"])


class NewHouseholdForm(forms.Form):
    """Another household of one's own."""

    name = forms.CharField(label="Name", max_length=80)


class SavedFilterForm(forms.ModelForm):
    """A name for what a list is searched for."""

    class Meta:
        model = SavedFilter
        fields = ["page", "name", "query", "state"]

    def clean_name(self) -> str:
        """One line of words."""
        name = " ".join(self.cleaned_data["name"].split())
        if not name:
            raise forms.ValidationError("Name it.")
        return name


class PreferencesForm(forms.ModelForm):
    """Units and theme, each switchable alone."""

    class Meta:
        model = Keeper
        fields = ["units_system", "units_temperature", "theme"]

    def __init__(self, *args: object, **kwargs: object) -> None:
        super().__init__(*args, **kwargs)  # type: ignore[arg-type]  # Django's own signature
        for field in self.fields.values():
            field.required = False

    def clean(self) -> dict[str, object]:
        """What was not sent stays as it is."""
        cleaned = super().clean() or {}
        for name in self.fields:
            if not cleaned.get(name):
                cleaned[name] = getattr(self.instance, name)
        return cleaned


class HouseholdForm(VersionedForm, forms.ModelForm):
    """The household's own facts, and its money: guide prices are kept in euros."""

    class Meta:
        model = Household
        fields = ["name", "currency", "euro_rate", "kwh_price"]
        labels = {
            "currency": "Money",
            "euro_rate": "Of it for one euro",
            "kwh_price": "One kWh costs",
        }
        help_texts = {
            "currency": "Three letters, such as EUR, GBP, USD.",
            "euro_rate": "Guide prices are in euros of 2026.",
            "kwh_price": "From your electricity bill.",
        }

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.initial[VERSION] = self.instance.version
        for name in ("currency", "euro_rate", "kwh_price"):
            self.fields[name].required = False
        self.fields["currency"].validators = []  # the model looks at the capital letters

    def clean_currency(self) -> str:
        """Small letters will do; nothing leaves it as it is."""
        typed: str = self.cleaned_data["currency"] or self.instance.currency
        return typed.upper()

    def clean_euro_rate(self) -> float:
        """A rate is more than nothing."""
        rate: float | None = self.cleaned_data["euro_rate"]
        if rate is None:
            return float(self.instance.euro_rate)
        if not 0 < rate <= 1e6:
            raise forms.ValidationError(
                "A euro is worth more than nothing, and less than a million of any money."
            )
        return rate

    def clean_kwh_price(self) -> float:
        """Not below nothing."""
        price: float | None = self.cleaned_data["kwh_price"]
        if price is None:
            return float(self.instance.kwh_price)
        if not 0 <= price <= 1e6:
            raise forms.ValidationError("A price from nothing upwards, below a million.")
        return price

    def save(self, commit: bool = True) -> Household:
        """The household, one edit on."""
        self.instance.version += 1
        household: Household = super().save(commit)
        return household


class RoomForm(VersionedForm, forms.ModelForm):
    """A room's place and air, in the reader's units."""

    class Meta:
        model = Room
        fields = ["name", "time_zone", "latitude_deg", "longitude_deg", *Room.PETS]
        labels = {
            "has_cats": "A cat comes in",
            "has_dogs": "A dog comes in",
            "time_zone": "Time zone",
            "latitude_deg": "Latitude, °, north positive",
            "longitude_deg": "Longitude, °, east positive",
        }
        help_texts = {
            "time_zone": "Such as Europe/Lisbon.",
            "latitude_deg": "",
            "has_cats": "What is open or of fine mesh gets a screen then.",
            "has_dogs": "What is open gets a screen then.",
        }

    AIR = {
        "day_c": ("By day", "room", 21.0),
        "night_c": ("By night", "room", 18.0),
        "summer_max_c": ("Summer maximum", "room", 28.0),
    }

    def __init__(self, *args: Any, units: Units, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        new = self.instance.pk is None
        self.initial[VERSION] = self.instance.version
        for name, (label, plausible, usual) in self.AIR.items():
            value = usual if new else getattr(self.instance, name)
            self.fields[name] = QuantityField(
                Kind.TEMPERATURE, units, label=label, value=value, plausible=plausible
            )
        rh = 50.0 if new else self.instance.rh_pct
        self.fields["rh_pct"] = QuantityField(
            Kind.HUMIDITY, units, label="Humidity", value=rh, plausible="humidity"
        )
        own = {name: None if new else getattr(self.instance, name) for name in Room.SEASONS}
        self.fields["winter_day_c"] = QuantityField(
            Kind.TEMPERATURE,
            units,
            label="Room on a winter day, if different",
            value=own["winter_day_c"],
            plausible="room",
            required=False,
        )
        for name, label in (
            ("winter_rh_pct", "Humidity in winter"),
            ("summer_rh_pct", "Humidity in summer"),
        ):
            self.fields[name] = QuantityField(
                Kind.HUMIDITY,
                units,
                label=label,
                value=own[name],
                plausible="humidity",
                required=False,
            )
        self.order_fields([name for name in self.fields if name not in Room.PETS])
        self.fields["time_zone"].widget.attrs["list"] = "zones"
        self.stood = (
            self.instance.time_zone,
            self.instance.latitude_deg,
            self.instance.longitude_deg,
        )
        for name in ("latitude_deg", "longitude_deg"):
            self.fields[name].required = False
            self.fields[name].help_text = "Left empty: as for the time zone."
            if new:
                self.initial[name] = None

    @staticmethod
    def zones() -> list[str]:
        """Every zone that may be written, for the field's list."""
        return sorted(
            zone
            for zone in zoneinfo.available_timezones()
            if "/" in zone and not zone.startswith(("Etc/", "posix/"))
        )

    def clean(self) -> dict[str, Any]:
        """Names are used once in a household; a summer is no cooler than a day."""
        cleaned = super().clean() or {}
        name = cleaned.get("name")
        others = Room.objects.filter(household=self.instance.household).exclude(
            pk=self.instance.pk
        )
        if name and others.filter(name=name).exists():
            self.add_error("name", "There is a room of this name already.")
        day = cleaned.get("day_c")
        summer = cleaned.get("summer_max_c")
        if day is not None and summer is not None and summer < day:
            self.add_error("summer_max_c", "The hottest day is no cooler than a usual one.")
        winter = cleaned.get("winter_day_c")
        if day is not None and winter is not None and winter > day:
            self.add_error("winter_day_c", "A winter’s day is no warmer than a usual one.")
        return self._placed(cleaned)

    def _placed(self, cleaned: dict[str, Any]) -> dict[str, Any]:
        """Take the place from the time zone where nobody wrote one, or moved the zone alone."""
        zone = cleaned.get("time_zone")
        if not zone:
            return cleaned
        before, *stood = self.stood
        moved = zone != before and tuple(stood) == assumed_place(before)
        for name, value, old in zip(
            ("latitude_deg", "longitude_deg"), assumed_place(zone), stood, strict=True
        ):
            typed = cleaned.get(name)
            if name not in self.errors and (typed is None or (moved and typed == old)):
                cleaned[name] = value
        return cleaned

    def save(self, commit: bool = True) -> Room:
        """The room with its air."""
        for name in (*self.AIR, "rh_pct", *Room.SEASONS):
            setattr(self.instance, name, self.cleaned_data[name])
        self.instance.version += 1
        room: Room = super().save(commit)
        return room
