"""Forms that add animals and enclosures on their own, and move animals."""

import datetime as dt
import functools
import zoneinfo
from typing import Any

from django import forms

from husbandry.enclosure.catalogue import CATALOGUE
from husbandry.enclosure.equipment import MATERIALS
from husbandry.growth.plausibility import question_birth, question_mass
from husbandry.quantity import Kind, Units
from husbandry.species.library import library
from husbandry.species.profile import Profile
from husbandry.species.searching import Index, identify
from ridgeback import clock
from ridgeback.animals.forms import WhereaboutsForm
from ridgeback.animals.models import Animal, Length
from ridgeback.collection.specs import shape_spec, sides_spec
from ridgeback.enclosures.models import TOGETHER_MOST, Enclosure, Occupancy
from ridgeback.fields import QuantityField, day_field
from ridgeback.households.models import Household
from ridgeback.submissions.forms import OnceForm

TABLE_MOST = 2_000_000
"""Of a table, at the most (design choice) [bytes]."""
AT_ONCE = 30
"""Animals, or enclosures, that are added in one go at the most (design choice)."""


@functools.cache
def species_index() -> Index:
    """Every species of the guide, to be named in ordinary words."""
    return Index.of(library().values())


def numbered(stem: str, count: int, taken: set[str]) -> list[str]:
    """So many free names: the stem itself for one, else “Stem 1”, “Stem 2”, and on past what is
    taken.
    """
    if count == 1 and stem not in taken:
        return [stem]
    names: list[str] = []
    n = 0
    while len(names) < count:
        n += 1
        name = f"{stem} {n}"
        if name not in taken:
            names.append(name)
    return names


class AddAnimalsForm(OnceForm, WhereaboutsForm):
    """One animal or several of one species, with or without an enclosure."""

    species = forms.CharField(
        label="Species",
        max_length=80,
        widget=forms.TextInput(attrs={"list": "species-names", "autocomplete": "off"}),
        help_text="By any of its names. Everything it needs follows from it.",
    )
    name = forms.CharField(
        label="Name", max_length=70, help_text="Several are numbered: “Moss 1”, “Moss 2”."
    )
    females = forms.IntegerField(label="Females", min_value=0, max_value=AT_ONCE, required=False)
    males = forms.IntegerField(label="Males", min_value=0, max_value=AT_ONCE, required=False)
    unknown = forms.IntegerField(
        label="Sex not known",
        min_value=0,
        max_value=AT_ONCE,
        required=False,
        help_text="All empty: one animal whose sex is not known.",
    )
    born_on = day_field(
        "Hatched or born on", required=False, help_text="Its age tells its stage. Roughly will do."
    )
    came_on = day_field(
        "Came here on", required=False, help_text="Its quarantine counts from that day."
    )
    sure = forms.BooleanField(label="What is asked about is right", required=False)
    confirm = forms.CharField(required=False, max_length=20, widget=forms.HiddenInput)

    def __init__(
        self, *args: Any, household: Household, units: Units, now: dt.datetime, **kwargs: Any
    ) -> None:
        self.household = household
        self.units = units
        self.now = now
        self.today = household.day_of(now)
        super().__init__(*args, **kwargs)
        help_mass = "Decides its stage and its meals. Of one animal only."
        self.fields["mass"] = QuantityField(
            Kind.MASS, units, label="Mass", required=False, help_text=help_mass
        )
        self.fields["length"] = QuantityField(
            Kind.LENGTH,
            units,
            label="Length",
            required=False,
            help_text="As is usual for its species. Decides the size of its enclosure.",
        )
        found = Enclosure.objects.of(household).in_use().order_by("name")
        choices = [("", "none yet"), *((str(one.pk), one.name) for one in found)]
        self.fields["enclosure"] = forms.ChoiceField(
            label="Lives in", choices=choices, required=False
        )
        self.profile: Profile | None = None
        self.doubted = False
        """Whether something cannot well be true, and may be confirmed."""

    def clean_species(self) -> str:
        """The scientific name of what was said."""
        said = self.cleaned_data["species"]
        found = identify(said, species_index())
        if not found:
            raise forms.ValidationError(
                f"No species answers to “{said}”. The species list shows all that are known."
            )
        if len(found) > 1:
            names = ", ".join(profile.name for profile in found)
            raise forms.ValidationError(f"Several species answer: {names}. Which one?")
        self.profile = found[0]
        return self.profile.species

    def clean(self) -> dict[str, Any]:
        """Days and counts that can be."""
        cleaned = super().clean() or {}
        if sum(self.counts(cleaned).values()) > AT_ONCE:
            self.add_error("unknown", f"At most {AT_ONCE} at once.")
        self._check_days(cleaned)
        self._check_place(cleaned)
        if sum(self.counts(cleaned).values()) > 1:
            for name in ("mass", "length"):
                if cleaned.get(name) is not None:
                    self.add_error(name, "Weigh and measure each on its own page.")
        self._ask_about_mass(cleaned)
        return cleaned

    def _ask_about_mass(self, cleaned: dict[str, Any]) -> None:
        """A mass that cannot well be true of its species or its age is asked about."""
        field = self.fields["mass"]
        entry = field.entry if isinstance(field, QuantityField) else None
        if entry is None or self.profile is None or "mass" in self.errors:
            return
        sex = next(sex for sex, count in self.counts(cleaned).items() if count)
        doubt = question_mass(
            entry,
            self.profile,
            sex,
            on=self.today,
            units=self.units,
            born_on=cleaned.get("born_on"),
        )
        if doubt is not None and (doubt.refused or not cleaned.get("sure")):
            self.doubted = self.doubted or not doubt.refused
            self.add_error("mass", doubt.sentence)

    def _check_days(self, cleaned: dict[str, Any]) -> None:
        born = cleaned.get("born_on")
        came = cleaned.get("came_on")
        for name, day in (("born_on", born), ("came_on", came)):
            if day is not None and day > self.today:
                self.add_error(name, "This day is still to come.")
        if born and came and came < born:
            self.add_error("came_on", "That is before it was born.")
        if born and self.profile is not None and "born_on" not in self.errors:
            doubt = question_birth(born, self.profile, today=self.today)
            if doubt is not None and (doubt.refused or not cleaned.get("sure")):
                self.doubted = self.doubted or not doubt.refused
                self.add_error("born_on", doubt.sentence)

    def _check_place(self, cleaned: dict[str, Any]) -> None:
        """Who is not here lives in no enclosure, and who is here is not expected."""
        away = cleaned.get("whereabouts", "")
        if cleaned.get("enclosure"):
            there = Occupancy.objects.present().filter(enclosure=int(cleaned["enclosure"])).count()
            if there + sum(self.counts(cleaned).values()) > TOGETHER_MOST:
                said = f"At most {TOGETHER_MOST} animals share an enclosure here."
                self.add_error("enclosure", said)
        if away and cleaned.get("enclosure"):
            self.add_error("enclosure", "One that is not here lives in none yet: choose “none”.")
        if not away:
            cleaned["expected_on"] = None
            cleaned["place_note"] = ""
        elif cleaned.get("came_on") and away != Animal.Whereabouts.ELSEWHERE:
            self.add_error("came_on", "It is not here yet: leave this empty.")

    @staticmethod
    def counts(cleaned: dict[str, Any]) -> dict[str, int]:
        """How many of each sex; one of unknown sex where nothing is said."""
        asked = {
            Animal.Sex.FEMALE.value: cleaned.get("females") or 0,
            Animal.Sex.MALE.value: cleaned.get("males") or 0,
            Animal.Sex.UNKNOWN.value: cleaned.get("unknown") or 0,
        }
        if not any(asked.values()):
            asked[Animal.Sex.UNKNOWN.value] = 1
        return asked

    def length_kind(self) -> str:
        """The kind in which its species is measured."""
        kind = self.profile.body.length_kind if self.profile is not None else "total"
        return kind if kind in dict(Length.Kind.choices) else "total"


SIDES = ("wood", "glass", "pvc_board", "acrylic", "mesh")
"""What sides are made of, in the order in which they are offered."""


class AddEnclosuresForm(OnceForm):
    """One enclosure or a row of equal ones, with nobody in them."""

    OWN = ""
    shape = forms.ChoiceField(
        label="Size and kind",
        required=False,
        help_text="By the name the trade gives it. Inside measures are what counts.",
    )
    name = forms.CharField(
        label="Name", max_length=60, help_text="Several are labelled: “Rack A1”, “Rack A2”."
    )
    count = forms.IntegerField(
        label="How many", min_value=1, max_value=AT_ONCE, initial=1, help_text="Equal ones."
    )
    shelf = forms.CharField(label="Shelf or place in the room", max_length=80, required=False)
    state = forms.ChoiceField(
        label="Is it built already?", choices=[("built", "yes"), ("planned", "no, it is planned")]
    )
    purpose = forms.ChoiceField(label="Used as", choices=Enclosure.Purpose.choices, required=False)

    def __init__(self, *args: Any, household: Household, units: Units, **kwargs: Any) -> None:
        self.household = household
        self.units = units
        super().__init__(*args, **kwargs)
        shapes = [(slug, shape.name) for slug, shape in CATALOGUE.items()]
        shape_field = self.fields["shape"]
        if isinstance(shape_field, forms.ChoiceField):
            shape_field.choices = [(self.OWN, "my own measures"), *shapes]
        for side in ("length", "depth", "height"):
            self.fields[side] = QuantityField(
                Kind.LENGTH,
                units,
                label=f"{side.capitalize()} inside",
                required=False,
                plausible=f"enclosure {side}",
            )
        self.fields["walls"] = forms.ChoiceField(
            label="Sides", choices=[(slug, MATERIALS[slug].name) for slug in SIDES], required=False
        )
        rooms = [(str(room.pk), room.name) for room in household.rooms.all()]
        self.fields["room"] = forms.ChoiceField(
            label="Room", choices=rooms, help_text="Its air is what the enclosure begins with."
        )
        animals = household.animals.filter(gone_on__isnull=True).order_by("name")
        self.fields["planned_for"] = forms.ChoiceField(
            label="Planned for",
            required=False,
            choices=[("", "nobody yet"), *((str(one.pk), one.name) for one in animals)],
            help_text="It stays where it is. What this enclosure would do for it is calculated.",
        )

    def clean(self) -> dict[str, Any]:
        """Measures that are whole, and a name that is free."""
        cleaned = super().clean() or {}
        if not cleaned.get("shape"):
            for side in ("length", "depth", "height"):
                if side not in self.errors and cleaned.get(side) is None:
                    self.add_error(side, "Write it, or choose a size above.")
        taken = self.household.enclosures.filter(name=cleaned.get("name", ""))
        if cleaned.get("count") == 1 and taken.exists():
            self.add_error("name", "There is an enclosure of this name already.")
        if cleaned.get("planned_for") and (cleaned.get("count") or 1) > 1:
            self.add_error("planned_for", "One animal is planned into one enclosure.")
        return cleaned

    def names(self) -> list[str]:
        """A name for each."""
        taken = set(self.household.enclosures.values_list("name", flat=True))
        count = self.cleaned_data["count"]
        stem = self.cleaned_data["name"]
        return [stem] if count == 1 else labelled(stem, count, taken)

    def spec(self) -> dict[str, Any]:
        """The enclosure as a request takes it, with nothing in it."""
        shape = CATALOGUE.get(self.cleaned_data["shape"])
        if shape is not None:
            return shape_spec(shape)
        length, depth, height = (self.cleaned_data[x] for x in ("length", "depth", "height"))
        return sides_spec((length, depth, height), self.cleaned_data["walls"] or "wood")


ROW_OF = 4
"""Labels of a rack go A1 to A4, B1 to B4 (design choice)."""


def labelled(stem: str, count: int, taken: set[str]) -> list[str]:
    """Labels of a rack, shelf by shelf: “Stem A1”, “Stem A2” …, past what is taken."""
    names: list[str] = []
    n = 0
    while len(names) < count:
        shelf, place = divmod(n, ROW_OF)
        name = f"{stem} {chr(ord('A') + shelf % 26)}{place + 1 + ROW_OF * (shelf // 26)}"
        n += 1
        if name not in taken:
            names.append(name)
    return names


class MoveForm(OnceForm):
    """An animal moves into an enclosure on a day, for a reason."""

    at = forms.DateTimeField(
        label="When",
        widget=forms.DateTimeInput(attrs={"type": "datetime-local"}, format="%Y-%m-%dT%H:%M"),
        input_formats=["%Y-%m-%dT%H:%M", "%Y-%m-%d"],
    )
    reason = forms.CharField(
        label="Why",
        max_length=200,
        required=False,
        help_text="A larger enclosure, quarantine is over, apart from another.",
    )
    confirm = forms.CharField(required=False, max_length=20, widget=forms.HiddenInput)

    def __init__(
        self, *args: Any, animal: Animal, home: Enclosure | None, now: dt.datetime, **kwargs: Any
    ) -> None:
        zone = home.room.time_zone if home is not None else animal.household.time_zone
        kwargs.setdefault("initial", {"at": clock.local(now, zone).replace(tzinfo=None)})
        self.zone = zone
        super().__init__(*args, **kwargs)
        there = Enclosure.objects.of(animal.household).in_use().order_by("name")
        if home is not None:
            there = there.exclude(pk=home.pk)
        self.fields["to"] = forms.ChoiceField(
            label="Into", choices=[("", "choose"), *((str(one.pk), one.name) for one in there)]
        )
        self.order_fields(["to", "at", "reason"])

    def clean_at(self) -> dt.datetime:
        """The moment, in the time of the room."""
        typed: dt.datetime = self.cleaned_data["at"]
        return typed.replace(tzinfo=zoneinfo.ZoneInfo(self.zone))


class UseForm(forms.Form):
    """The name of an enclosure, where it stands, and what it is used for."""

    name = forms.CharField(label="Name", max_length=80)
    room = forms.ChoiceField(label="Room")
    shelf = forms.CharField(label="Shelf or place in the room", max_length=80, required=False)
    purpose = forms.ChoiceField(label="Used as", choices=Enclosure.Purpose.choices, required=False)

    def __init__(self, *args: Any, enclosure: Enclosure, **kwargs: Any) -> None:
        self.enclosure = enclosure
        kwargs.setdefault(
            "initial",
            {
                "name": enclosure.name,
                "room": str(enclosure.room_id),
                "shelf": enclosure.shelf,
                "purpose": enclosure.purpose,
            },
        )
        super().__init__(*args, **kwargs)
        rooms = enclosure.household.rooms.all()
        room_field = self.fields["room"]
        if isinstance(room_field, forms.ChoiceField):
            room_field.choices = [(str(room.pk), room.name) for room in rooms]

    def clean_name(self) -> str:
        """A name that no other enclosure has."""
        name: str = self.cleaned_data["name"]
        others = self.enclosure.household.enclosures.exclude(pk=self.enclosure.pk)
        if others.filter(name=name).exists():
            raise forms.ValidationError("There is an enclosure of this name already.")
        return name


class TableForm(OnceForm):
    """A table, pasted or as a file, and what it does not say of its enclosures."""

    table = forms.CharField(
        label="The table",
        required=False,
        strip=False,
        max_length=TABLE_MOST,
        widget=forms.Textarea(attrs={"rows": 10, "spellcheck": "false", "class": "table-text"}),
        help_text=(
            "From a spreadsheet, with its line of column names: name, species, sex, born, weight,"
            " enclosure. Any delimiter, days and units as you write them."
        ),
    )
    file = forms.FileField(label="or a file", required=False)
    order = forms.ChoiceField(
        label="Days such as 3/4/2024",
        required=False,
        choices=[("", "as the table tells"), ("day first", "3 April"), ("month first", "4 March")],
    )

    def __init__(self, *args: Any, household: Household, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        rooms = [(str(room.pk), room.name) for room in household.rooms.all()]
        self.fields["room"] = forms.ChoiceField(
            label="Room of enclosures that are new",
            choices=rooms,
            required=False,
            help_text="Where the table names no room of yours.",
        )
        shapes = [(slug, shape.name) for slug, shape in CATALOGUE.items()]
        self.fields["shape"] = forms.ChoiceField(
            label="Size of enclosures whose size it does not say",
            choices=shapes,
            required=False,
            help_text="Corrected for each on its Layout page.",
        )

    def clean(self) -> dict[str, Any]:
        """The text of the table, from the field or from the file."""
        cleaned = super().clean() or {}
        upload = cleaned.get("file")
        if upload is not None:
            if upload.size > TABLE_MOST:
                self.add_error("file", "This file is too large for a table of animals.")
                return cleaned
            cleaned["table"] = decoded(upload.read())
        if not (cleaned.get("table") or "").strip():
            self.add_error("table", "Paste a table, or choose a file.")
        return cleaned


def decoded(raw: bytes) -> str:
    """The text of a file, however a spreadsheet wrote it."""
    for encoding in ("utf-8-sig", "utf-16" if raw[:2] in {b"\xff\xfe", b"\xfe\xff"} else "cp1252"):
        try:
            return raw.decode(encoding)
        except UnicodeDecodeError:
            continue
    return raw.decode("latin-1")
