"""Forms of practice: a measurement, an answer, a set of cases."""

from collections.abc import Sequence
from typing import Any

from django import forms

from husbandry.practice.cases import LEVELS
from husbandry.practice.faults import NOTHING, causes
from husbandry.practice.lessons import lessons
from husbandry.practice.measuring import MOMENTS, PLACES, Measurement, shelf
from ridgeback.practice.presenting import place_words

NUMBER_MOST = 1_000_000
"""Of a case (design choice)."""
SET_MOST = 12
"""Cases in a set (design choice)."""


class PracticeMeasureForm(forms.Form):
    """Which instrument, where, when, and how it is held."""

    instrument = forms.ChoiceField(label="Instrument")
    place = forms.ChoiceField(
        label="Where", choices=[(place, place_words(place)) for place in PLACES]
    )
    moment = forms.ChoiceField(
        label="When", choices=[(slug, words) for slug, (words, _) in MOMENTS.items()]
    )
    held = forms.ChoiceField(
        label="How",
        choices=[
            ("usual", "as it comes to hand"),
            ("care", "shielded, level, in the shade, on the thing itself"),
        ],
        help_text="“As it comes to hand” is quicker to say, and each instrument has its trap.",
    )

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        choices = [(one.slug, f"{one.name}, {one.minutes} min") for one in shelf().values()]
        self.fields["instrument"].choices = choices  # type: ignore[attr-defined]  # a choice field


def as_before(done: Sequence[Measurement]) -> dict[str, str]:
    """What the form offers first: what was chosen for the last measurement."""
    if not done:
        return {}
    last = done[-1]
    held = "usual" if last.careless else "care"

    return {
        "instrument": last.instrument,
        "place": last.place,
        "moment": last.moment,
        "held": held,
    }


class AnswerForm(forms.Form):
    """What is wrong, and what to change."""

    believed = forms.MultipleChoiceField(
        label="What is wrong?",
        widget=forms.CheckboxSelectMultiple,
        error_messages={"required": "Say what is wrong, or that nothing is."},
    )
    remedy = forms.ChoiceField(label="What do you change?")

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        wrong = [(one.slug, one.label) for one in causes().values()]
        change = [(one.slug, one.remedy) for one in causes().values()]
        self.fields["believed"].choices = wrong  # type: ignore[attr-defined]  # a choice field
        self.fields["remedy"].choices = change  # type: ignore[attr-defined]  # a choice field

    def clean_believed(self) -> list[str]:
        """Nothing, or something."""
        said: list[str] = self.cleaned_data["believed"]

        if NOTHING in said and len(said) > 1:
            raise forms.ValidationError("Either nothing is wrong, or something is.")
        return said


class BeginForm(forms.Form):
    """Which case."""

    lesson = forms.ChoiceField(required=False)
    level = forms.TypedChoiceField(
        label="Level",
        coerce=int,
        choices=[(level, f"{level}: {words}") for level, words in LEVELS.items()],
    )
    number = forms.IntegerField(label="Case", min_value=1, max_value=NUMBER_MOST)

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        choices = [("", ""), *((slug, one.title) for slug, one in lessons().items())]
        self.fields["lesson"].choices = choices  # type: ignore[attr-defined]  # a choice field

    def clean(self) -> dict[str, Any]:
        """A case of a lesson is one of its own."""
        data: dict[str, Any] = super().clean() or {}
        taught = lessons().get(data.get("lesson") or "")

        if taught is not None:
            asked = (data.get("level"), data.get("number"))
            if asked not in {(taught.level, number) for number in taught.numbers}:
                raise forms.ValidationError("This lesson has no such case.")

        return data


class SetForm(forms.Form):
    """Cases that a club does together, as they stand in an address: “1-7,3-12”."""

    cases = forms.RegexField(regex=r"^[1-6]-\d{1,6}(,[1-6]-\d{1,6})*$", max_length=120)

    def pairs(self) -> list[tuple[int, int]]:
        """Level and number of each, at most `SET_MOST`."""
        found = []

        for part in self.cleaned_data["cases"].split(",")[:SET_MOST]:
            level, _, number = part.partition("-")
            if 1 <= int(number) <= NUMBER_MOST:
                found.append((int(level), int(number)))

        return found
