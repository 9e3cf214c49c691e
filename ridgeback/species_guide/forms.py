"""Forms of the species guide: what a household can give, one value edited with a reason, a file of
values.
"""

from typing import Any

from django import forms

from husbandry.errors import DocumentError
from husbandry.life_plan.suitability import HouseholdOffer
from husbandry.quantity import Kind, Units
from husbandry.species.profile import Profile
from husbandry.species.variant import Variant, leaf, read
from ridgeback.fields import QuantityField
from ridgeback.species_guide.values import kind_at


class OfferForm(forms.Form):
    """What a household can give: nothing has to be said."""

    def __init__(self, *args: Any, units: Units, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        length: dict[str, Any] = {"kind": Kind.LENGTH, "units": units, "required": False}
        warmth: dict[str, Any] = {
            "kind": Kind.TEMPERATURE,
            "units": units,
            "required": False,
            "plausible": "room",
        }
        self.fields["length"] = QuantityField(
            label="Space: length", plausible="enclosure length", **length
        )
        self.fields["depth"] = QuantityField(label="depth", plausible="enclosure depth", **length)
        self.fields["height"] = QuantityField(
            label="height", plausible="enclosure height", **length
        )
        self.fields["hottest"] = QuantityField(label="Room on a hot day", **warmth)
        self.fields["coldest"] = QuantityField(label="Coldest night, unheated", **warmth)
        self.fields["power"] = QuantityField(
            Kind.POWER, units, label="Power at most", required=False
        )
        self.fields["live"] = forms.BooleanField(label="no live insects", required=False)
        self.fields["prey"] = forms.BooleanField(label="no whole prey", required=False)
        self.fields["first"] = forms.BooleanField(label="a first animal", required=False)
        self.fields["day"] = forms.BooleanField(label="awake by day", required=False)

    def offer(self) -> HouseholdOffer:
        """As the core compares it; what cannot be read is left out, and said beside its field."""
        said = self.cleaned_data if hasattr(self, "cleaned_data") else {}
        return HouseholdOffer(
            length_m=said.get("length"),
            depth_m=said.get("depth"),
            height_m=said.get("height"),
            hottest_c=said.get("hottest"),
            coldest_c=said.get("coldest"),
            power_w=said.get("power"),
            insects=not said.get("live"),
            prey=not said.get("prey"),
            first_animal=bool(said.get("first")),
            by_day=bool(said.get("day")),
        )


class EditForm(forms.Form):
    """One value of a profile as the keeper wants it, with the reason.

    The field is made for the kind of value that stands there.
    """

    reason = forms.CharField(
        label="Why",
        min_length=3,
        max_length=300,
        widget=forms.TextInput(attrs={"autocomplete": "off"}),
        error_messages={
            "required": "Write a reason: it stands beside the value.",
            "min_length": "Write a reason of a few words.",
        },
        help_text=(
            "Your veterinarian, a book, your own animals: it stands beside the value from now on."
        ),
    )

    def __init__(
        self, *args: Any, profile: Profile, at: str, units: Units, reason: str = "", **kwargs: Any
    ) -> None:
        self.profile = profile
        self.at = at
        self.units = units
        self.now = leaf(profile, at)
        super().__init__(*args, **kwargs)
        self.fields["value"] = self._field()
        self.initial["reason"] = reason
        self.order_fields(["value", "reason"])

    def _field(self) -> forms.Field:
        now = self.now
        kind = kind_at(self.profile, self.at)
        if isinstance(now, bool):
            return forms.ChoiceField(
                label="Value",
                choices=[("yes", "yes"), ("no", "no")],
                initial="yes" if now else "no",
            )
        if kind is not None and (now is None or isinstance(now, (int, float))):
            small = kind[1] == 1000.0 and (now or 0) < 150
            return QuantityField(
                kind[0],
                self.units,
                label="Value",
                value=None if now is None else now / kind[1],
                small=small,
                required=False,
            )
        if isinstance(now, (int, float)):
            return forms.FloatField(label="Value", initial=now)
        if isinstance(now, list):
            return forms.CharField(
                label="Values, one a line",
                initial="\n".join(str(part) for part in now),
                widget=forms.Textarea(attrs={"rows": 5}),
            )
        return forms.CharField(
            label="Value",
            max_length=600,
            initial=now or "",
            widget=forms.Textarea(attrs={"rows": 3}),
        )

    def value(self) -> Any:
        """As the profile writes it."""
        typed = self.cleaned_data["value"]
        now = self.now
        kind = kind_at(self.profile, self.at)
        if isinstance(now, bool):
            return typed == "yes"
        if kind is not None and (now is None or isinstance(now, (int, float))):
            return None if typed is None else float(f"{typed * kind[1]:.10g}")
        if isinstance(now, int):
            return int(typed) if float(typed).is_integer() else typed
        if isinstance(now, list):
            return [line.strip() for line in str(typed).splitlines() if line.strip()]
        return typed


class VariantForm(forms.Form):
    """A file of a keeper's own values. `variant` holds what was read."""

    file = forms.FileField(
        label="Own values (JSON)",
        widget=forms.FileInput(attrs={"accept": ".json,application/json"}),
    )
    replace = forms.BooleanField(
        label="Replace my own values with the file’s",
        required=False,
        help_text="If not, yours stay; the result says which, line by line.",
    )

    def __init__(self, *args: Any, too_large: bool = False, **kwargs: Any) -> None:
        self.variant: Variant | None = None
        self.problems: list[str] = []
        super().__init__(*args, **kwargs)
        if too_large:
            self.fields["file"].error_messages["required"] = (
                "This file is larger than any such file is."
            )

    def clean_file(self) -> Any:
        """Read by the core, whose findings name the place in the file."""
        file = self.cleaned_data["file"]
        try:
            self.variant = read(file.read().decode("utf-8-sig"))
        except UnicodeDecodeError:
            raise forms.ValidationError("This is not UTF-8 text, so it is no such file.") from None
        except DocumentError as why:
            self.problems = [
                f"{problem.pointer or 'the file'}: {problem.reason}"[:300]
                for problem in why.problems[:20]
            ]
            raise forms.ValidationError(
                "This file does not hold own values of a profile."
            ) from None
        return file
