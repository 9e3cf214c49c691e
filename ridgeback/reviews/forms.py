"""Forms of a review: what was said, its facts, and where a corrected plan goes."""

from collections.abc import Callable
from typing import Any

from django import forms

from husbandry.errors import EntryError, HusbandryError
from husbandry.quantity import Kind, Units, read, show
from husbandry.review.describe import described
from husbandry.review.description import TEXT_MOST, Description
from husbandry.review.fact_words import PLACES, in_words, with_words
from husbandry.species.library import library
from ridgeback.households.models import Household
from ridgeback.photos.shrinking import NoPictureError, look_at
from ridgeback.submissions.forms import OnceForm

MOST_PHOTO_BYTES = 8_000_000
"""Of an uploaded photo (design choice) [bytes]."""
UNSAID = ("", "not said")
YES_NO = (UNSAID, ("yes", "yes"), ("no", "no"))
KINDS = (
    UNSAID,
    ("glass", "glass"),
    ("timber", "timber"),
    ("board", "plastic board"),
    ("mesh", "mesh cage"),
    ("tub", "tub"),
    ("open table", "open table"),
    ("tank of water", "aquarium"),
)
LIDS = (UNSAID, ("mesh", "mesh"), ("solid", "solid"), ("open", "none: it is open"))
STAGES = (
    UNSAID,
    ("hatchling", "hatchling"),
    ("juvenile", "juvenile"),
    ("subadult", "sub-adult"),
    ("adult", "adult"),
)
INSTRUMENTS = (
    UNSAID,
    ("none", "nothing"),
    ("dial", "dials on the glass"),
    ("digital", "digital, with probes"),
    ("infrared", "infrared"),
    ("uv meter", "UV meter"),
)
PLANTS = (UNSAID, ("live", "live"), ("artificial", "artificial"), ("none", "none"))
WATER = (UNSAID, ("dish", "a dish"), ("pool", "a pool"), ("none", "none"))
WORD_LABELS = {
    "size": "Size",
    "heat": "Heat",
    "uv": "UVB",
    "temperature_basking": "Basking",
    "temperature_warm": "Warm end",
    "temperature_cool": "Cool end",
    "temperature_night": "Night",
    "temperature_water": "Water temperature",
    "temperature_room": "Room",
    "temperature_room night": "Room at night",
    "temperature_air": "Air",
    "humidity": "Humidity",
    "substrate": "Substrate",
    "substrate_depth": "Its depth",
    "food": "Food",
    "supplements": "Supplements",
}
"""Facts that are written as words, with what stands beside them."""
GROUPS: tuple[tuple[str, tuple[str, ...]], ...] = (
    ("Animal", ("species", "stage", "count", "mass")),
    ("Enclosure", ("enclosure", "size", "lid")),
    ("Heat and light", ("heat", "thermostat", "guarded", "uv", "light_hours")),
    ("Measured", ("instruments", *(f"temperature_{place}" for place in PLACES), "humidity")),
    (
        "Inside",
        ("substrate", "substrate_depth", "hides", "moist_hide", "climbing", "plants", "water"),
    ),
    ("Care", ("mistings_per_day", "food", "supplements")),
)
"""In which order facts are shown."""


class DescriptionForm(OnceForm):
    """A text, and a photo beside it."""

    text = forms.CharField(
        label="What was said",
        strip=False,
        widget=forms.Textarea(attrs={"rows": 6, "data-key": "r", "maxlength": TEXT_MOST}),
        help_text=(
            "Paste the description as it came: “40 gallon, 100 W basking at 95, no UVB, sand, two"
            " hides, crickets every day”. Leave out names and places of people."
        ),
        error_messages={"required": "Paste or write what was said of the enclosure."},
    )
    photo = forms.FileField(
        label="Photo",
        required=False,
        help_text="If there is one: JPEG, PNG or WebP. It lies beside the drawing.",
        widget=forms.FileInput(attrs={"accept": "image/jpeg,image/png,image/webp"}),
    )
    said: Description | None = None

    def clean_text(self) -> str:
        """Read by the core, whose sentence says what cannot be read."""
        text: str = self.cleaned_data["text"].replace("\r\n", "\n")

        try:
            self.said = described(text)
        except EntryError as why:
            raise forms.ValidationError(str(why)) from None

        return text

    def clean_photo(self) -> Any:
        """A photo of a bearable size."""
        photo = self.cleaned_data.get("photo")

        if photo is None:
            return None

        if photo.size > MOST_PHOTO_BYTES:
            most = f"at most {MOST_PHOTO_BYTES / 1e6:g} MB"
            raise forms.ValidationError(f"That photo is too large: {most}.")

        try:
            look_at(photo)
        except NoPictureError as why:
            raise forms.ValidationError(str(why)) from None

        return photo


class ReviewFactsForm(forms.Form):
    """Every fact of a description, to be corrected. What is empty was not said."""

    title = forms.CharField(
        label="In your list it is called",
        max_length=80,
        required=False,
        help_text="Without names and places of people.",
    )
    revision = forms.IntegerField(required=False, widget=forms.HiddenInput)
    species = forms.ChoiceField(label="Species", required=False)
    stage = forms.ChoiceField(label="Stage", choices=STAGES, required=False)
    count = forms.IntegerField(label="How many", min_value=1, max_value=20, required=False)
    mass = forms.CharField(label="Weight", max_length=20, required=False)
    enclosure = forms.ChoiceField(label="Kind", choices=KINDS, required=False)
    lid = forms.ChoiceField(label="Lid", choices=LIDS, required=False)
    thermostat = forms.ChoiceField(label="Thermostat", choices=YES_NO, required=False)
    guarded = forms.ChoiceField(label="Guard", choices=YES_NO, required=False)
    light_hours = forms.FloatField(
        label="Light, hours a day", min_value=0, max_value=24, required=False
    )
    instruments = forms.ChoiceField(label="Measured with", choices=INSTRUMENTS, required=False)
    hides = forms.IntegerField(label="Hides", min_value=0, max_value=12, required=False)
    moist_hide = forms.ChoiceField(label="Moist hide", choices=YES_NO, required=False)
    climbing = forms.ChoiceField(label="To climb", choices=YES_NO, required=False)
    plants = forms.ChoiceField(label="Plants", choices=PLANTS, required=False)
    water = forms.ChoiceField(label="Water", choices=WATER, required=False)
    mistings_per_day = forms.FloatField(
        label="Misted a day", min_value=0, max_value=24, required=False
    )

    def __init__(self, *args: Any, said: Description, units: Units, **kwargs: Any) -> None:
        self.before = said
        self.units = units
        self.said = said
        kwargs.setdefault("initial", initial_of(said, units))
        super().__init__(*args, **kwargs)
        names = sorted((profile.name, species) for species, profile in library().items())
        choices = [UNSAID, *((species, name) for name, species in names)]
        self.fields["species"].choices = choices  # type: ignore[attr-defined]  # a choice field

        for name, label in WORD_LABELS.items():
            self.fields[name] = forms.CharField(label=label, max_length=200, required=False)

        for field in self.fields.values():
            field.widget.attrs["placeholder"] = "not said"

    def groups(self) -> list[tuple[str, list[forms.BoundField]]]:
        """Its fields under their headings; those that say something first in each."""
        return [(heading, [self[name] for name in names]) for heading, names in GROUPS]

    def clean(self) -> dict[str, Any]:
        """Put together by the core; what it does not understand is said beside its field."""
        data: dict[str, Any] = super().clean() or {}

        if not self.errors:
            words = {name: data[name] for name in WORD_LABELS}
            made = put_together(self, lambda: with_words(self._plain(data), words))
            self.said = made or self.said

        return data

    def _plain(self, data: dict[str, Any]) -> Description:
        """The description with the facts that are chosen or counted."""
        animal = self.before.animal.model_dump()
        same = data["species"] == (self.before.animal.species or "")
        animal |= {
            "species": data["species"] or None,
            "words": self.before.animal.words if same else "",
            "stage": data["stage"] or None,
            "count": data["count"],
            "mass_g": self._mass(data["mass"]),
        }

        if data["stage"] != (self.before.animal.stage or ""):
            animal["age_months"] = None
        instruments = data["instruments"]
        measured = self.before.instruments

        if instruments != first_instrument(measured):
            measured = None if not instruments else () if instruments == "none" else (instruments,)

        return Description.model_validate(
            {
                **self.before.model_dump(),
                "animal": animal,
                "enclosure": data["enclosure"] or None,
                "lid": data["lid"] or None,
                "thermostat": flag_of(data["thermostat"]),
                "guarded": flag_of(data["guarded"]),
                "light_hours": data["light_hours"],
                "instruments": measured,
                "hides": data["hides"],
                "moist_hide": flag_of(data["moist_hide"]),
                "climbing": flag_of(data["climbing"]),
                "plants": data["plants"] or None,
                "water": data["water"] or None,
                "mistings_per_day": data["mistings_per_day"],
                "contradictions": (),
            }
        )

    def _mass(self, text: str) -> float | None:
        if not text.strip():
            return None
        try:
            return read(text, Kind.MASS, self.units).value
        except EntryError as why:
            raise EntryError(f"mass: {why}") from None


def put_together(form: forms.Form, make: Callable[[], Description]) -> Description | None:
    """A description from a form's facts; None where they make none, which is said beside the field
    that stands before the core's sentence.
    """
    try:
        return make()
    except EntryError as why:
        field, _, sentence = str(why).partition(": ")
        form.add_error(field if field in form.fields else None, sentence or str(why))
    except (HusbandryError, ValueError):
        form.add_error(None, "These facts do not go together: look at them again.")

    return None


def flag_of(text: str) -> bool | None:
    """Yes, no, or not said."""
    return {"yes": True, "no": False}.get(text)


def words_of(flag: bool | None) -> str:
    """The same the other way."""
    return "" if flag is None else "yes" if flag else "no"


def first_instrument(measured: tuple[str, ...] | None) -> str:
    """Of several the one that is shown."""
    if measured is None:
        return ""
    return measured[0] if measured else "none"


def initial_of(said: Description, units: Units) -> dict[str, Any]:
    """The facts as the form shows them."""
    animal = said.animal
    return {
        **in_words(said, units),
        "species": animal.species or "",
        "stage": animal.stage or "",
        "count": animal.count,
        "mass": show(animal.mass_g, Kind.MASS, units) if animal.mass_g is not None else "",
        "enclosure": said.enclosure or "",
        "lid": said.lid or "",
        "thermostat": words_of(said.thermostat),
        "guarded": words_of(said.guarded),
        "light_hours": said.light_hours,
        "instruments": first_instrument(said.instruments),
        "hides": said.hides,
        "moist_hide": words_of(said.moist_hide),
        "climbing": words_of(said.climbing),
        "plants": said.plants or "",
        "water": said.water or "",
        "mistings_per_day": said.mistings_per_day,
    }


class ReviewTakeInForm(OnceForm):
    """Where a corrected plan goes in a household."""

    name = forms.CharField(label="Name of the enclosure", max_length=80)
    room = forms.CharField(
        label="Name of its room",
        max_length=80,
        help_text="A room is made with the air that was told or taken. Change it to yours afterwards.",
    )

    def __init__(self, *args: Any, household: Household, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.household = household

    def clean_name(self) -> str:
        """Free in this household."""
        name: str = self.cleaned_data["name"].strip()

        if self.household.enclosures.filter(name=name).exists():
            raise forms.ValidationError("There is an enclosure of this name already.")
        return name

    def clean_room(self) -> str:
        """Free in this household."""
        name: str = self.cleaned_data["room"].strip()

        if self.household.rooms.filter(name=name).exists():
            raise forms.ValidationError("There is a room of this name already.")
        return name
