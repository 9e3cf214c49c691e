"""The import's form."""

import datetime as dt
from typing import Any

from django import forms

from husbandry.documents.importing import present_problems, questions
from husbandry.documents.request import Request
from husbandry.documents.request_json import from_text
from husbandry.errors import DocumentError, Problem
from husbandry.quantity import METRIC, Units
from ridgeback.exchange.uploads import MOST_BYTES
from ridgeback.households.models import Household

MOST_KEPT = 900_000
"""Characters that travel in the form beside its other fields (`DATA_UPLOAD_MAX_MEMORY_SIZE`)."""
SHOWN = 20
"""Problems of a file that are shown; the others follow once these are corrected."""


def _lines(problems: list[Problem]) -> list[str]:
    return [f"{one.pointer or 'the file'}: {one.reason}"[:300] for one in problems[:SHOWN]]


class ImportForm(forms.Form):
    """A request as a file, and the names its enclosure and its room get here.

    `request_` holds what was read. What is possible and unlikely is in `questions`: the file is
    imported once the person says that it is right. The text of the file travels in `document`, so
    that it is not chosen again.
    """

    file = forms.FileField(
        label="Request (JSON)",
        required=False,
        widget=forms.FileInput(attrs={"accept": ".json,application/json"}),
    )
    document = forms.CharField(required=False, strip=False, widget=forms.HiddenInput)
    name = forms.CharField(label="Name of the enclosure", max_length=80)
    room = forms.CharField(
        label="Name of its room",
        max_length=80,
        help_text="A room is made with the place and the air that the file gives.",
    )
    confirmed = forms.BooleanField(label="It is right as it is", required=False)

    def __init__(
        self,
        *args: Any,
        household: Household,
        now: dt.datetime,
        units: Units = METRIC,
        too_large: bool = False,
        **kwargs: Any,
    ) -> None:
        self.household = household
        self.now = now
        self.units = units
        self.too_large = too_large
        self.request_: Request | None = None
        self.problems: list[str] = []
        self.questions: list[str] = []
        super().__init__(*args, **kwargs)

    def clean_name(self) -> str:
        """Free in this household."""
        name: str = self.cleaned_data["name"]
        if self.household.enclosures.filter(name=name).exists():
            raise forms.ValidationError("There is an enclosure of this name already.")
        return name

    def clean_room(self) -> str:
        """Free in this household."""
        name: str = self.cleaned_data["room"]
        if self.household.rooms.filter(name=name).exists():
            raise forms.ValidationError("There is a room of this name already.")
        return name

    def clean(self) -> dict[str, Any]:
        """Read the file by the core, whose findings name the place in it."""
        cleaned = super().clean() or {}
        text = self._text(cleaned)
        if text is None:
            return cleaned
        try:
            request = from_text(text)
            problems = present_problems(request, self.now)
        except DocumentError as why:
            request = None
            problems = why.problems
        if problems or request is None:
            self.problems = _lines(problems)
            self.add_error("file", "This file is not a request that can be planned.")
            return cleaned
        self.request_ = request
        self._keep(text)
        self.questions = _lines(questions(request, self.units))
        if self.questions and not cleaned.get("confirmed"):
            self.add_error("confirmed", "Look at these values, and tick this if they are right.")
        return cleaned

    def _text(self, cleaned: dict[str, Any]) -> str | None:
        """The file as it was uploaded, or as it came back with the questions."""
        file = cleaned.get("file")
        if self.too_large:
            reason = f"This file is larger than {MOST_BYTES / 1e6:g} MB: no request is."
            self.add_error("file", reason)
            return None
        if file is None:
            text: str = cleaned.get("document", "")
            if not text and "file" not in self.errors:
                self.add_error("file", "Choose a file.")
            return text or None
        try:
            content: str = file.read().decode("utf-8-sig")
        except UnicodeDecodeError:
            self.add_error("file", "This is not UTF-8 text, so it is no request.")
            return None
        return content

    def _keep(self, text: str) -> None:
        """Let the page send the file's text again, if a form can hold it."""
        if len(text) <= MOST_KEPT:
            self.data = {**self.data.dict(), "document": text}  # type: ignore[attr-defined]  # a QueryDict, as posted
