"""Forms about one animal: its weights, its lengths, its facts, its approaches.

What cannot well be true is asked about, and may be confirmed.
"""

import datetime as dt
from typing import Any

from django import forms

from husbandry.errors import EntryError
from husbandry.growth.plausibility import question_birth, question_length
from husbandry.quantity import PLAUSIBLE, Doubt, Kind, QuantityEntry, Units, question, read
from husbandry.species.approaches import PRESETS, QUESTIONS
from husbandry.species.profile import Profile
from ridgeback.animals.models import Animal, Length
from ridgeback.animals.plausibility import body_mm, day_of_life, doubt_of_mass
from ridgeback.approach_fields import approach_field, chosen_approaches
from ridgeback.fields import day_field
from ridgeback.submissions.forms import OnceForm, VersionedForm


def _day(today: dt.date) -> forms.DateField:
    return day_field("On", initial=today)


def _typed(label: str, unit: str) -> forms.CharField:
    attrs = {
        "autocomplete": "off",
        "inputmode": "decimal",
        "class": "quantity",
        "placeholder": unit,
    }
    return forms.CharField(label=label, max_length=60, widget=forms.TextInput(attrs=attrs))


class BodyForm(OnceForm):
    """A number of the body on a day.

    `doubt` holds the question about one that is unlikely; `confirm` answers it.
    """

    field_name = ""
    confirm = forms.CharField(required=False, max_length=60, widget=forms.HiddenInput)

    def __init__(
        self,
        *args: Any,
        animal: Animal,
        profile: Profile,
        units: Units,
        today: dt.date,
        **kwargs: Any,
    ) -> None:
        self.animal = animal
        self.profile = profile
        self.units = units
        self.today = today
        self.doubt: Doubt | None = None
        super().__init__(*args, **kwargs)
        self.fields["on"] = _day(today)

    def clean_on(self) -> dt.date:
        """Not to come, and not before its birth."""
        on: dt.date = self.cleaned_data["on"]
        day_of_life(on, self.animal, self.today)
        if self.animal.gone_on and on > self.animal.gone_on:
            raise forms.ValidationError(
                f"It is not here since {self.animal.gone_on:%-d %B %Y}"
                f" ({self.animal.get_gone_display()})."
            )
        return on

    def clean(self) -> dict[str, Any]:
        """Read the number, then ask."""
        cleaned = super().clean() or {}
        typed = cleaned.get(self.field_name)
        if not typed or "on" not in cleaned:
            return cleaned
        try:
            entry = self._read(typed)
        except EntryError as why:
            self.add_error(self.field_name, str(why))
            return cleaned
        if entry.value <= 0:
            self.add_error(self.field_name, "A body is more than nothing.")
            return cleaned
        doubt = self._question(entry, cleaned["on"])
        if doubt and (doubt.refused or cleaned.get("confirm") != typed):
            self.doubt = doubt
            self.add_error(self.field_name, doubt.sentence)
        cleaned["number"] = entry.value
        return cleaned

    def _read(self, typed: str) -> QuantityEntry:
        raise NotImplementedError

    def _question(self, entry: QuantityEntry, on: dt.date) -> Doubt | None:
        raise NotImplementedError


class WeighForm(BodyForm):
    """A weighing."""

    field_name = "mass"

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.fields["mass"] = _typed("Mass", "g")
        self.order_fields(["mass", "on", "confirm", "form_key"])

    def _read(self, typed: str) -> QuantityEntry:
        return read(typed, Kind.MASS, self.units)

    def _question(self, entry: QuantityEntry, on: dt.date) -> Doubt | None:
        return doubt_of_mass(entry, self.animal, self.profile, on=on, units=self.units)


class MeasureForm(BodyForm):
    """A measuring."""

    field_name = "length"

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        # it stands beside the form of the weight: a label names the field of its own form
        super().__init__(*args, auto_id="measuring_%s", **kwargs)
        kinds = self.profile.grown.length_mm
        own = self.profile.body.length_kind
        names = dict(Length.Kind.choices)
        choices = [(own, names[own])] + [(kind, names[kind]) for kind in kinds if kind != own]
        self.fields["kind"] = forms.ChoiceField(label="What", choices=choices)
        self.small = max(span.ends[1] for span in kinds.values()) < 150
        self.fields["length"] = _typed(
            "Length", "in" if self.units.system == "us" else "mm" if self.small else "cm"
        )
        self.order_fields(["kind", "length", "on", "confirm", "form_key"])

    def _read(self, typed: str) -> QuantityEntry:
        return read(typed, Kind.LENGTH, self.units, small=self.small)

    def _question(self, entry: QuantityEntry, on: dt.date) -> Doubt | None:
        if self.cleaned_data.get("kind") != self.profile.body.length_kind:
            usual = PLAUSIBLE["body length"]
            return question(entry, usual, units=self.units, what="length of a body")
        last = max(
            (pair for pair in body_mm(self.animal, self.profile) if pair[0] <= on),
            key=lambda pair: pair[0],
            default=None,
        )
        weights = [w for w in self.animal.weighings.all() if abs((on - w.on).days) <= 60]
        near = max(weights, key=lambda w: w.on, default=None)
        return question_length(
            entry,
            self.profile,
            self.animal.sex,
            on=on,
            units=self.units,
            last=last,
            mass_g=near.mass_g if near else None,
        )


class WhereaboutsForm(forms.Form):
    """Where an animal is that is not here, and when it is expected."""

    whereabouts = forms.ChoiceField(
        label="Where it is",
        choices=Animal.Whereabouts.choices,
        required=False,
        help_text="Only who is here has tasks.",
    )
    expected_on = day_field(
        "Expected on", required=False, help_text="For one that is not here: when it comes."
    )
    place_note = forms.CharField(
        label="Where it is meanwhile",
        max_length=80,
        required=False,
        help_text="For one that is elsewhere: at the vet, with a breeder.",
    )


class FactsForm(VersionedForm, WhereaboutsForm):
    """Name, sex, birth and arrival."""

    name = forms.CharField(label="Name", max_length=80)
    sex = forms.ChoiceField(label="Sex", choices=Animal.Sex.choices)
    born_on = day_field(
        "Born or hatched on",
        required=False,
        help_text="Roughly will do; leave it empty if nobody knows.",
    )
    came_on = day_field(
        "Came here on",
        required=False,
        help_text="Its quarantine counts from that day; empty for one bred here or here for long.",
    )
    confirm_born = forms.CharField(required=False, max_length=20, widget=forms.HiddenInput)

    def __init__(
        self, *args: Any, animal: Animal, profile: Profile, today: dt.date, **kwargs: Any
    ) -> None:
        self.animal = animal
        self.profile = profile
        self.today = today
        self.doubt: Doubt | None = None
        kwargs.setdefault(
            "initial",
            {
                "name": animal.name,
                "sex": animal.sex,
                "born_on": animal.born_on,
                "came_on": animal.came_on,
                "whereabouts": animal.whereabouts,
                "expected_on": animal.expected_on,
                "place_note": animal.place_note,
                "version": animal.version,
            },
        )
        super().__init__(*args, **kwargs)

    def clean(self) -> dict[str, Any]:
        """An impossible age is asked about."""
        cleaned = super().clean() or {}
        born = cleaned.get("born_on")
        came = cleaned.get("came_on")
        if came is not None and came > self.today:
            self.add_error("came_on", "This day is still to come.")
        elif came is not None and born is not None and came < born:
            self.add_error("came_on", "That is before it was born.")
        self._check_place(cleaned)
        if born is None:
            return cleaned
        doubt = question_birth(born, self.profile, today=self.today)
        first = min((w.on for w in self.animal.weighings.all()), default=None)
        if doubt is None and first is not None and born > first:
            doubt = Doubt(f"It was weighed on {first:%-d %B %Y}, before that day.", None, True)
        if doubt and (doubt.refused or cleaned.get("confirm_born") != born.isoformat()):
            self.doubt = doubt
            self.add_error("born_on", doubt.sentence)
        return cleaned

    def _check_place(self, cleaned: dict[str, Any]) -> None:
        """Who is here is not expected; who lives in an enclosure is here."""
        if not cleaned.get("whereabouts"):
            cleaned["expected_on"] = None
            cleaned["place_note"] = ""
            return
        home = self.animal.occupancies.present().select_related("enclosure").first()
        if home is not None:
            said = f"It lives in {home.enclosure.name}: move it out of there first."
            self.add_error("whereabouts", said)


class DepartureForm(forms.Form):
    """It is here no more."""

    gone = forms.ChoiceField(label="Reason", choices=[("", ""), *Animal.DepartureReason.choices])
    gone_on = day_field("On")

    def __init__(self, *args: Any, animal: Animal, today: dt.date, **kwargs: Any) -> None:
        kwargs.setdefault("initial", {"gone_on": today})
        super().__init__(*args, **kwargs)
        self.animal = animal
        self.today = today

    def clean_gone_on(self) -> dt.date:
        """Not to come, not before its birth, not before it was weighed last."""
        day: dt.date = self.cleaned_data["gone_on"]
        day_of_life(day, self.animal, self.today)
        last = max((one.on for one in self.animal.weighings.all()), default=None)
        if last is not None and day < last:
            raise forms.ValidationError(f"It was weighed on {last:%-d %B %Y}, after that day.")
        return day


class ApproachesForm(forms.Form):
    """By which approaches it is kept: each question that concerns its species, and ways of keeping
    that answer many at once.
    """

    def __init__(self, *args: Any, animal: Animal, profile: Profile, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.asked = [slug for slug in profile.questions if QUESTIONS[slug].of == "animal"]
        for slug in self.asked:
            self.fields[slug] = approach_field(slug, animal.approaches)
            self.fields[slug].required = False

    def chosen(self) -> dict[str, str]:
        """What differs from the usual."""
        return chosen_approaches(
            {slug: self.cleaned_data[slug] or QUESTIONS[slug].default for slug in self.asked}
        )


def preset_approaches(slug: str, profile: Profile) -> dict[str, str] | None:
    """A way of keeping, as far as it concerns a species and an animal; None for an unknown one."""
    preset = PRESETS.get(slug)
    if preset is None:
        return None
    asked = {question for question in profile.questions if QUESTIONS[question].of == "animal"}
    return chosen_approaches(
        {
            question: approach
            for question, approach in preset.approaches.items()
            if question in asked
        }
    )
