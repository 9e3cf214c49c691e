"""Forms for the pace of a task, and for a task of one's own."""

import datetime as dt
from typing import Any

from django import forms

from husbandry.tasks.schedules import LONGEST_DAYS, OwnPace
from ridgeback.animals.models import Animal
from ridgeback.fields import day_field
from ridgeback.posting import plain_words
from ridgeback.submissions.forms import OnceForm
from ridgeback.tasks.models import WEEKDAYS

HOW = [("usual", "As usual"), ("days", "Every so many days"), ("weekdays", "On weekdays")]


class PaceFields(forms.Form):
    """Days apart, or weekdays."""

    how = forms.ChoiceField(label="How often", choices=HOW)
    every_days = forms.IntegerField(
        label="Days apart",
        required=False,
        min_value=1,
        max_value=LONGEST_DAYS,
        error_messages={
            "min_value": "At least 1 day.",
            "max_value": f"At most {LONGEST_DAYS} days.",
            "invalid": "Write whole days, such as 14.",
        },
    )
    weekdays = forms.MultipleChoiceField(
        label="Weekdays",
        required=False,
        choices=[(str(n), name) for n, name in enumerate(WEEKDAYS)],
        widget=forms.CheckboxSelectMultiple,
    )

    def pace(self) -> OwnPace | None:
        """What was said; None: as usual."""
        match self.cleaned_data["how"]:
            case "days":
                return OwnPace(self.cleaned_data["every_days"])
            case "weekdays":
                return OwnPace(None, frozenset(int(day) for day in self.cleaned_data["weekdays"]))
        return None

    def clean(self) -> dict[str, Any]:
        """Ask for what goes with the way that was chosen."""
        cleaned: dict[str, Any] = super().clean() or {}
        how = cleaned.get("how")
        if how == "days" and cleaned.get("every_days") is None and "every_days" not in self.errors:
            self.add_error("every_days", "Write how many days apart.")
        if how == "weekdays" and not cleaned.get("weekdays"):
            self.add_error("weekdays", "Tick at least one day.")
        return cleaned


class PaceForm(PaceFields):
    """The pace of one task."""


class OwnTaskForm(OnceForm, PaceFields):
    """A task of one's own."""

    title = forms.CharField(
        label="What is to be done",
        max_length=80,
        help_text="It stands in today’s tasks, the calendar and the log as you write it.",
    )
    animal = forms.ChoiceField(label="For", required=False)
    begins_on = day_field("First on")

    field_order = ["title", "animal", "how", "every_days", "weekdays", "begins_on"]

    def __init__(
        self, *args: Any, animals: list[Animal], today: dt.date, name: str, **kwargs: Any
    ) -> None:
        kwargs.setdefault("initial", {"begins_on": today, "how": "days", "every_days": 7})
        super().__init__(*args, **kwargs)
        self.today = today
        choices = [("", name), *((str(one.pk), one.name) for one in animals)]
        self.fields["animal"] = forms.ChoiceField(label="For", choices=choices, required=False)
        self.fields["how"] = forms.ChoiceField(label="How often", choices=HOW[1:])

    def clean_title(self) -> str:
        """One line of words."""
        title = plain_words(self.cleaned_data["title"], 80)
        if not title:
            raise forms.ValidationError("Write what is to be done.")
        return title

    def clean_begins_on(self) -> dt.date:
        """From today on, and within two years."""
        day: dt.date = self.cleaned_data["begins_on"]
        if day < self.today:
            raise forms.ValidationError("This day is past: from today on.")
        if (day - self.today).days > LONGEST_DAYS:
            raise forms.ValidationError("That is more than two years away.")
        return day
