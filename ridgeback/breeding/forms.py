"""Forms about clutches: laid, looked at, hatched."""

import datetime as dt
from typing import Any

from django import forms

from husbandry.breeding.incubation import earliest, may_be_set, set_point
from husbandry.breeding.medium import MEDIA
from husbandry.quantity import Kind, PlausibleRange, Units
from husbandry.species.library import library
from husbandry.species.profile import Profile
from ridgeback.animals.models import Animal
from ridgeback.breeding.models import Clutch
from ridgeback.fields import QuantityField, day_field
from ridgeback.households.models import Household
from ridgeback.submissions.forms import OnceForm

INCUBATOR = PlausibleRange((18, 36), (5, 40))
READ = PlausibleRange((15, 37), (0, 50))
MOST_NAMED = 60
"""Hatchlings that get a book of their own in one go; more are a colony."""


BOX = PlausibleRange((20, 5000), (1, 50_000))
"""What a closed incubation box weighs (common practice) [g]."""
MEDIUM_MASS = PlausibleRange((10, 2000), (1, 20_000))
"""Dry medium of an incubation box (common practice) [g]."""
GOING, OVER = "going", "over"


class ClutchForm(OnceForm):
    """Whose, when, how many, how warm; and what became of it, where it is over."""

    mother = forms.ChoiceField(label="Mother", required=False)
    father = forms.ChoiceField(label="Father", required=False)
    species = forms.ChoiceField(label="or species", required=False)
    laid_on = day_field(
        "Laid on, or mated on", help_text="Found, and nobody saw it: the last day it can be."
    )
    laid_from = day_field(
        "and not before",
        required=False,
        help_text="Only of eggs that were found: the day on which none lay there yet.",
    )
    state = forms.ChoiceField(
        label="State now", required=False, choices=[(GOING, "going on"), (OVER, "over")]
    )
    ended_on = day_field("Over on", required=False)
    hatched = forms.IntegerField(label="Hatched", required=False, min_value=0, max_value=2000)
    count = forms.IntegerField(
        label="Eggs",
        required=False,
        min_value=1,
        max_value=2000,
        widget=forms.TextInput(attrs={"inputmode": "numeric", "class": "quantity"}),
    )
    where = forms.CharField(label="Where they stand", required=False, max_length=120)

    def __init__(
        self, *args: Any, household: Household, units: Units, today: dt.date, **kwargs: Any
    ) -> None:
        kwargs.setdefault("initial", {"laid_on": today})
        super().__init__(*args, **kwargs)
        self.today = today
        self.mothers = {
            str(one.pk): one
            for one in household.animals.filter(gone_on__isnull=True).exclude(sex=Animal.Sex.MALE)
        }
        kinds = [
            (one.species, one.name) for one in sorted(library().values(), key=lambda one: one.name)
        ]
        mothers = [(pk, one.name) for pk, one in self.mothers.items()]
        self.fields["mother"].choices = [("", "not one of ours"), *mothers]  # type: ignore[attr-defined]  # a choice field
        self.fields["species"].choices = [("", "the mother’s"), *kinds]  # type: ignore[attr-defined]  # a choice field
        self.fathers = {
            str(one.pk): one for one in household.animals.exclude(sex=Animal.Sex.FEMALE)
        }
        fathers = [(pk, one.name) for pk, one in self.fathers.items()]
        self.fields["father"].choices = [("", "not known, or not ours"), *fathers]  # type: ignore[attr-defined]  # a choice field
        self.fields["set_c"] = QuantityField(
            Kind.TEMPERATURE, units, label="Incubator set to", required=False, plausible=INCUBATOR
        )
        self.order_fields(
            [
                "mother",
                "species",
                "father",
                "laid_on",
                "laid_from",
                "count",
                "set_c",
                "where",
                "state",
                "ended_on",
                "hatched",
            ]
        )

    def clean(self) -> dict[str, Any]:
        """A kind; a day that can be; a temperature that its species bears."""
        data = super().clean() or {}
        mother = self.mothers.get(data.get("mother", ""))
        species = mother.species if mother is not None else data.get("species", "")
        if not species:
            self.add_error("species", "Say whose they are, or of which species.")
            return data
        if mother is not None and data.get("species") and data["species"] != mother.species:
            self.add_error("species", f"{mother.name} is of another species.")
        day = data.get("laid_on")
        profile: Profile = library()[species]
        if day is not None and day > self.today:
            self.add_error("laid_on", "This day is still to come.")
        elif (
            day is not None
            and data.get("state") != OVER
            and (self.today - day).days > 2 * profile.young.days.ends[1]
        ):
            self.add_error(
                "laid_on",
                f"Its species takes at most {profile.young.days.ends[1]:g} days: that is long"
                " over. Say so under “State now”.",
            )
        elif day is not None and mother is not None and mother.born_on and day < mother.born_on:
            self.add_error("laid_on", f"{mother.name} was born on {mother.born_on:%-d %B %Y}.")
        point = set_point(profile.young)
        if data.get("set_c") is not None and point is None:
            self.add_error("set_c", "Its species bears living young: nothing is incubated.")
        elif data.get("set_c") is not None and profile.young.incubation_c is not None:
            low, high = profile.young.incubation_c.ends
            if not may_be_set(profile.young, data["set_c"]):
                self.add_error(
                    "set_c",
                    f"Its species is incubated at {low:g} to {high:g} °C ({9 / 5 * low + 32:.0f} to"
                    f" {9 / 5 * high + 32:.0f} °F).",
                )
        self._clean_found(data)
        self._clean_over(data)
        father = self._clean_father(data, species, mother)
        data.update(mother=mother, father=father, species=species)
        if point is not None and data.get("set_c") is None and not self.errors:
            data["set_c"] = point[0]
        return data

    def _clean_father(
        self, data: dict[str, Any], species: str, mother: Animal | None
    ) -> Animal | None:
        """Of the same species, another than the mother, and born before."""
        father = self.fathers.get(data.get("father", ""))
        day = data.get("laid_on")
        if father is None:
            return None
        if father == mother:
            self.add_error("father", f"{father.name} is its mother.")
        elif father.species != species:
            self.add_error("father", f"{father.name} is of another species.")
        elif day is not None and father.born_on and day < father.born_on:
            self.add_error("father", f"{father.name} was born on {father.born_on:%-d %B %Y}.")
        return father

    def _clean_found(self, data: dict[str, Any]) -> None:
        """Of eggs that were found the first day is before the last, and not by far."""
        day, first = data.get("laid_on"), data.get("laid_from")
        if day is None or first is None:
            return
        if first >= day:
            self.add_error("laid_from", "This day is before the other, or left empty.")
        elif (day - first).days > FOUND_DAYS:
            self.add_error("laid_from", f"More than {FOUND_DAYS} days apart tell nothing.")

    def _clean_over(self, data: dict[str, Any]) -> None:
        """What is over has its day and no more hatchlings than eggs; what goes on has neither."""
        if data.get("state") != OVER:
            data.update(ended_on=None, hatched=None)
            return
        ended, day = data.get("ended_on"), data.get("laid_on")
        if ended is None and "ended_on" not in self.errors:
            self.add_error("ended_on", "Write when it was over.")
        elif ended is not None and ended > self.today:
            self.add_error("ended_on", "This day is still to come.")
        elif ended is not None and day is not None and ended < day:
            self.add_error("ended_on", "It was over only after it was laid.")
        count, hatched = data.get("count"), data.get("hatched")
        if count is not None and hatched is not None and hatched > count:
            self.add_error("hatched", f"{count} were laid.")


FOUND_DAYS = 60
"""Between the days on which a found clutch can have been laid, at the most (design choice) [days]."""


class BoxForm(forms.Form):
    """What the eggs lie in, and what the closed box weighs."""

    medium = forms.ChoiceField(
        label="Medium", choices=[(one.slug, one.label) for one in MEDIA.values()]
    )

    def __init__(self, *args: Any, clutch: Clutch, units: Units, **kwargs: Any) -> None:
        kwargs.setdefault("initial", {"medium": clutch.medium or "vermiculite"})
        super().__init__(*args, **kwargs)
        self.fields["medium_g"] = QuantityField(
            Kind.MASS,
            units,
            label="Dry medium",
            value=clutch.medium_g,
            plausible=MEDIUM_MASS,
            required=False,
            help_text="Weighed before the water goes in.",
        )
        self.fields["box_g"] = QuantityField(
            Kind.MASS,
            units,
            label="The closed box weighs",
            value=clutch.box_g,
            plausible=BOX,
            required=False,
            help_text="With medium, water and eggs: what it loses from then on is water.",
        )


class LookForm(OnceForm):
    """What is seen of a clutch."""

    on = day_field("On")
    good = forms.IntegerField(
        label="Good eggs",
        required=False,
        min_value=0,
        max_value=2000,
        widget=forms.TextInput(attrs={"inputmode": "numeric", "class": "quantity"}),
    )
    note = forms.CharField(label="Note", required=False, max_length=200)

    def __init__(
        self, *args: Any, clutch: Clutch, units: Units, today: dt.date, **kwargs: Any
    ) -> None:
        kwargs.setdefault("initial", {"on": today})
        super().__init__(*args, **kwargs)
        self.clutch = clutch
        self.today = today
        self.fields["temp_c"] = QuantityField(
            Kind.TEMPERATURE, units, label="Thermometer reading", required=False, plausible=READ
        )
        if clutch.box_g is not None:
            self.fields["box_g"] = QuantityField(
                Kind.MASS, units, label="The closed box weighs", required=False, plausible=BOX
            )
        self.order_fields(["on", "temp_c", "good", "box_g", "note"])

    def clean_on(self) -> dt.date:
        """From laying to today."""
        day: dt.date = self.cleaned_data["on"]
        if day > self.today:
            raise forms.ValidationError("This day is still to come.")
        if day < self.clutch.laid_on:
            raise forms.ValidationError(
                f"They were laid on {self.clutch.laid_on:%-d %B %Y}: this day is before."
            )
        return day

    def clean_good(self) -> int | None:
        """Never more than were laid."""
        good: int | None = self.cleaned_data["good"]
        if good is not None and self.clutch.count is not None and good > self.clutch.count:
            raise forms.ValidationError(f"{self.clutch.count} were laid.")
        return good


class HatchForm(OnceForm):
    """How many came, when, and what they are called."""

    on = day_field("Hatched on")
    number = forms.IntegerField(
        label="How many",
        min_value=1,
        max_value=MOST_NAMED,
        widget=forms.TextInput(attrs={"inputmode": "numeric", "class": "quantity"}),
    )
    name = forms.CharField(
        label="Name", max_length=60, help_text="A number follows where there are several."
    )
    last = forms.BooleanField(label="No more will hatch", required=False, initial=True)

    def __init__(self, *args: Any, clutch: Clutch, today: dt.date, **kwargs: Any) -> None:
        kwargs.setdefault(
            "initial",
            {
                "on": today,
                "last": True,
                "name": f"{clutch.mother.name}’s" if clutch.mother else "Hatchling",
            },
        )
        super().__init__(*args, **kwargs)
        self.clutch = clutch
        self.today = today
        if clutch.carried:
            self.fields["on"].label = "Born on"

    def clean_on(self) -> dt.date:
        """Between half the shortest time and today."""
        day: dt.date = self.cleaned_data["on"]
        if day > self.today:
            raise forms.ValidationError("This day is still to come.")
        least = earliest(self.clutch.profile.young, self.clutch.laid_from or self.clutch.laid_on)
        if day < least:
            raise forms.ValidationError(
                f"That is sooner than they can be there: from {least:%-d %B %Y} at the earliest."
            )
        return day

    def clean_number(self) -> int:
        """Never more than were laid."""
        number: int = self.cleaned_data["number"]
        there = self.clutch.hatchlings.count()
        if self.clutch.count is not None and number + there > self.clutch.count:
            raise forms.ValidationError(
                f"{self.clutch.count} were laid{f', {there} have hatched' if there else ''}."
            )
        return number
