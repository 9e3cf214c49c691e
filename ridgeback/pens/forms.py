"""Forms of pens: a new one, what it is like, the day's forecast, coming in."""

from typing import Any

from django import forms

from husbandry.enclosure.equipment import MESHES
from husbandry.forecast.outdoor_day import Weather
from husbandry.pens.pen import PenSpec
from husbandry.pens.plan import PenClimate
from husbandry.quantity import Kind, PlausibleRange, Units
from ridgeback.animals.models import Animal
from ridgeback.fields import QuantityField, day_field
from ridgeback.households.models import Household, Room
from ridgeback.pens.models import Pen
from ridgeback.submissions.forms import OnceForm

CLOUDS = [("clear", "clear"), ("half", "half covered"), ("overcast", "overcast")]
WINDS = [("still", "hardly any"), ("breeze", "a breeze"), ("windy", "windy")]
GROUNDS = [
    ("grass", "grass"),
    ("soil", "bare soil"),
    ("sand", "dry sand"),
    ("stone", "stone slabs"),
]
WALLS = [
    ("boards", "boards, stones, anything opaque"),
    ("mesh", "mesh or wire"),
    ("glass", "glass or clear plastic"),
]
SIDE_M = PlausibleRange((0.6, 15.0), (0.3, 30.0))
WALL_M = PlausibleRange((0.2, 2.5), (0.0, 4.0))
SUNK_M = PlausibleRange((0.0, 0.6), (0.0, 1.0))
"""Of pens that people build (common practice, no source) [m]."""


class _Whose(OnceForm):
    """What a pen is called, where it stands, who goes out."""

    name = forms.CharField(label="Name", max_length=80)

    def __init__(
        self, *args: Any, household: Household, pen: Pen | None = None, **kwargs: Any
    ) -> None:
        super().__init__(*args, **kwargs)
        self.household, self.pen = household, pen
        rooms = Room.objects.filter(household=household).order_by("name")
        self.fields["room"] = forms.ModelChoiceField(
            rooms,
            label="Near",
            required=False,
            empty_label="nowhere that is known",
            initial=pen.room_id if pen else rooms.first(),
            help_text="The sun is that of where this room is.",
        )
        self.fields["animals"] = forms.ModelMultipleChoiceField(
            Animal.objects.of(household).here().order_by("name", "pk"),
            label="Who goes out",
            required=False,
            widget=forms.CheckboxSelectMultiple,
            initial=list(pen.animals.all()) if pen else [],
        )

    def clean_name(self) -> str:
        """Another pen has another name."""
        name: str = self.cleaned_data["name"].strip()
        others = Pen.objects.of(self.household).filter(name=name)
        if self.pen is not None:
            others = others.exclude(pk=self.pen.pk)
        if others.exists():
            raise forms.ValidationError("There is a pen of this name: choose another.")
        return name


class NewPenForm(_Whose):
    """A new pen: planned for its animals, or described next."""

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.fields["begin"] = forms.ChoiceField(
            label="Begin with",
            choices=[
                ("plan", "A pen that is right for them"),
                ("own", "The pen I have: I describe it next"),
            ],
            initial="plan",
        )


class PenForm(_Whose):
    """Everything of a pen."""

    def __init__(self, *args: Any, units: Units, pen: Pen, **kwargs: Any) -> None:
        super().__init__(*args, pen=pen, **kwargs)
        spec, climate = pen.described, pen.usual_climate
        self.fields["name"].initial = pen.name
        self.fields["length_m"] = self._length("Length", spec.length_m, units, SIDE_M)
        self.fields["width_m"] = self._length("Width", spec.width_m, units, SIDE_M)
        self.fields["wall_m"] = self._length("Height of the walls", spec.wall_m, units, WALL_M)
        self.fields["sunk_m"] = self._length(
            "Walls let into the ground by", spec.sunk_m, units, SUNK_M
        )
        self.fields["walls"] = forms.ChoiceField(
            label="Walls of", choices=WALLS, initial=spec.walls
        )
        meshes = [(slug, mesh.label) for slug, mesh in MESHES.items()]
        self.fields["top"] = forms.ChoiceField(
            label="Over the top",
            choices=[("", "nothing"), *meshes],
            required=False,
            initial=spec.top,
        )
        self.fields["ground"] = forms.ChoiceField(
            label="Ground", choices=GROUNDS, initial=spec.ground
        )
        self.fields["shade_pct"] = forms.FloatField(
            label="In shade all day, % of the floor",
            min_value=0,
            max_value=100,
            initial=f"{100 * spec.shade_share:g}",
            widget=forms.TextInput(attrs={"inputmode": "decimal", "class": "quantity"}),
            error_messages={"invalid": "Write a number from 0 to 100."},
        )
        self.fields["hides"] = forms.IntegerField(
            label="Hides",
            min_value=0,
            max_value=20,
            initial=spec.hides,
            widget=forms.TextInput(attrs={"inputmode": "numeric", "class": "quantity"}),
            error_messages={"invalid": "Write a whole number."},
        )
        for name, label in (
            ("stone", "A dark flat stone in the sun"),
            ("water", "A dish of water in the shade"),
            ("branches", "Branches to climb on"),
        ):
            self.fields[name] = forms.BooleanField(
                label=label, required=False, initial=getattr(spec, name)
            )
        self._ask_climate(climate, units)

    def _ask_climate(self, climate: PenClimate, units: Units) -> None:
        """Fields of what is usual where it stands."""
        for name, label in (
            ("warm_max_c", "Warmest month: usual day"),
            ("warm_min_c", "Warmest month: usual night"),
            ("cold_max_c", "Coldest month: usual day"),
            ("cold_min_c", "Coldest month: usual night"),
        ):
            self.fields[name] = QuantityField(
                Kind.TEMPERATURE,
                units,
                label=label,
                value=getattr(climate, name),
                plausible="outdoors",
                what=label.lower(),
            )

    @staticmethod
    def _length(label: str, value: float, units: Units, span: PlausibleRange) -> QuantityField:
        return QuantityField(Kind.LENGTH, units, label=label, value=value, plausible=span)

    def clean(self) -> dict[str, Any]:
        """Nights are no warmer than days, and the coldest month no warmer than the warmest."""
        data: dict[str, Any] = super().clean() or {}
        for low, high, words in (
            ("warm_min_c", "warm_max_c", "The night is warmer than the day: one is mistyped."),
            ("cold_min_c", "cold_max_c", "The night is warmer than the day: one is mistyped."),
            ("cold_max_c", "warm_max_c", "The coldest month is warmer than the warmest."),
        ):
            if None not in (data.get(low), data.get(high)) and data[low] > data[high]:
                self.add_error(low, words)
        return data

    def spec(self) -> PenSpec:
        """As the core takes it."""
        said = self.cleaned_data
        own = {name: said[name] for name in PenSpec.model_fields if name in said}
        return PenSpec(**own, shade_share=round(said["shade_pct"] / 100, 4))

    def climate(self) -> PenClimate:
        """As the core takes it."""
        return PenClimate(**{name: self.cleaned_data[name] for name in PenClimate.model_fields})


class PenDayForm(forms.Form):
    """The forecast of a day."""

    def __init__(self, *args: Any, units: Units, usual: Weather, on: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        warmth: dict[str, Any] = {
            "kind": Kind.TEMPERATURE,
            "units": units,
            "plausible": "outdoors",
        }
        self.fields["on"] = day_field("On", initial=on)
        self.fields["warmest"] = QuantityField(
            label="Warmest of the day", value=usual.max_c, **warmth
        )
        self.fields["coldest"] = QuantityField(
            label="Coldest of the night before", value=usual.min_c, **warmth
        )
        self.fields["clouds"] = forms.ChoiceField(label="Sky", choices=CLOUDS, initial="clear")
        self.fields["wind"] = forms.ChoiceField(
            label="Wind in the pen", choices=WINDS, initial="breeze"
        )

    def clean(self) -> dict[str, Any]:
        """The night is no warmer than the day."""
        data: dict[str, Any] = super().clean() or {}
        low, high = data.get("coldest"), data.get("warmest")
        if low is not None and high is not None and low > high:
            self.add_error("coldest", "The night before is warmer than the day: one is mistyped.")
        return data

    def weather(self) -> Weather:
        """As the core takes it; what the pen is of is the pen's."""
        said = self.cleaned_data
        return Weather(
            max_c=said["warmest"], min_c=said["coldest"], clouds=said["clouds"], wind=said["wind"]
        )


class ComeInForm(forms.Form):
    """They come in; what the thermometer in the shade shows."""

    def __init__(self, *args: Any, units: Units, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.fields["shade_c"] = QuantityField(
            Kind.TEMPERATURE,
            units,
            label="Thermometer in the shade",
            plausible="outdoors",
            required=False,
        )
