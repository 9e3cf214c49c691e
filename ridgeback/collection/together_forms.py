"""Forms for what is done with several animals at once."""

import datetime as dt
from collections.abc import Sequence
from typing import Any

from django import forms

from ridgeback.animals.models import Animal
from ridgeback.animals.plausibility import day_of_life
from ridgeback.collection.forms import MoveForm
from ridgeback.feeding.logging import OUTCOMES
from ridgeback.fields import day_field
from ridgeback.log.models import LogEntry
from ridgeback.photos.views import PictureForm
from ridgeback.submissions.forms import OnceForm
from ridgeback.tasks.meal_history import FACTS_DAYS
from ridgeback.treatments.views import TreatmentForm


class MealTogetherForm(OnceForm):
    """The meal that is planned for each, on one day: eaten, or refused."""

    outcome = forms.ChoiceField(label="Result", choices=OUTCOMES, initial=LogEntry.Outcome.DONE)
    on = day_field("On")
    note = forms.CharField(label="Note", max_length=300, required=False)

    def __init__(
        self, *args: Any, animals: Sequence[Animal], today: dt.date, **kwargs: Any
    ) -> None:
        kwargs.setdefault("initial", {"on": today})
        super().__init__(*args, **kwargs)
        self.animals = animals
        self.today = today

    def clean_on(self) -> dt.date:
        """Of the last weeks, and not before any of them was born."""
        day: dt.date = self.cleaned_data["on"]
        for animal in self.animals:
            day_of_life(day, animal, self.today)
        if (self.today - day).days > FACTS_DAYS:
            raise forms.ValidationError(f"Meals of the last {FACTS_DAYS} days are followed.")
        return day


def youngest(animals: Sequence[Animal]) -> Animal:
    """The one that was born last, as far as birthdays are known."""
    return max(animals, key=lambda animal: animal.born_on or dt.date.min)


class TreatmentTogetherForm(TreatmentForm):
    """One treatment for several animals: no day of it is before the youngest was born."""

    def __init__(
        self, *args: Any, animals: Sequence[Animal], today: dt.date, **kwargs: Any
    ) -> None:
        super().__init__(*args, animal=youngest(animals), today=today, **kwargs)


class PictureTogetherForm(PictureForm):
    """One photo that shows several animals."""

    def __init__(
        self, *args: Any, animals: Sequence[Animal], today: dt.date, **kwargs: Any
    ) -> None:
        super().__init__(*args, animal=youngest(animals), today=today, **kwargs)


class MoveTogetherForm(MoveForm):
    """Several animals move into one enclosure."""

    def __init__(
        self, *args: Any, animals: Sequence[Animal], now: dt.datetime, **more: Any
    ) -> None:
        super().__init__(*args, animal=animals[0], home=None, now=now, **more)
