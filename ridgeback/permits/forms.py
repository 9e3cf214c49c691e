"""The form of one paper or mark."""

import datetime as dt
from typing import Any

from django import forms

from ridgeback.animals.models import Animal
from ridgeback.exchange.uploads import PICTURE_BYTES
from ridgeback.fields import day_field
from ridgeback.permits.models import AnimalDocument
from ridgeback.permits.pdf_scans import is_pdf
from ridgeback.photos.shrinking import NoPictureError, look_at
from ridgeback.photos.views import full
from ridgeback.submissions.forms import OnceForm

LONGEST_YEARS = 60
"""No paper holds longer than a tortoise is kept (design choice) [years]."""


class DocumentForm(OnceForm):
    """What it is, who gave it, how long it holds, and a scan of it."""

    kind = forms.ChoiceField(label="What it is", choices=AnimalDocument.Kind.choices)
    number = forms.CharField(
        label="Number", max_length=80, required=False, help_text="Of the paper, the chip or ring."
    )
    issued_by = forms.CharField(
        label="From",
        max_length=120,
        required=False,
        help_text="Office, veterinarian, breeder or shop.",
    )
    issued_on = day_field("Given on", required=False)
    expires_on = day_field(
        "Holds until",
        required=False,
        help_text="Left empty, it holds for good. It comes up two months before.",
    )
    note = forms.CharField(
        label="Note", max_length=300, required=False, help_text="Such as where the original lies."
    )
    file = forms.FileField(
        label="Photo or scan",
        required=False,
        widget=forms.FileInput(
            attrs={"accept": "image/jpeg,image/png,image/webp,application/pdf"}
        ),
        help_text="JPEG, PNG, WebP or PDF.",
    )

    def __init__(
        self, *args: Any, animal: Animal, today: dt.date, too_large: bool = False, **kwargs: Any
    ) -> None:
        super().__init__(*args, **kwargs)
        self.animal = animal
        self.today = today
        self.too_large = too_large

    def clean_issued_on(self) -> dt.date | None:
        """Not to come; a paper may be older than the animal, such as a permit for its species."""
        day: dt.date | None = self.cleaned_data["issued_on"]
        if day is not None and day > self.today:
            raise forms.ValidationError("This day is still to come.")
        return day

    def clean_expires_on(self) -> dt.date | None:
        """A day within a life."""
        day: dt.date | None = self.cleaned_data["expires_on"]
        if day is not None and abs(day.year - self.today.year) > LONGEST_YEARS:
            raise forms.ValidationError("Look at the year again.")
        return day

    def clean_file(self) -> bytes | None:
        """The scan as it is, once its head says that it is a PDF, or a picture of bearable size."""
        if self.too_large:
            raise forms.ValidationError(
                f"This file is larger than {PICTURE_BYTES / 1e6:g} MB: send a smaller one."
            )

        file = self.cleaned_data["file"]
        if not file:
            return None
        if problem := full(self.animal):
            raise forms.ValidationError(problem)
        if not is_pdf(file):
            try:
                look_at(file)
            except NoPictureError as why:
                said = str(why).replace("JPEG, PNG or WebP.", "JPEG, PNG, WebP or PDF.")
                raise forms.ValidationError(said) from None

        body: bytes = file.read()

        return body

    def clean(self) -> dict[str, Any]:
        """Days in order, and something that it says."""
        data: dict[str, Any] = super().clean() or {}
        given, ends = data.get("issued_on"), data.get("expires_on")
        if given is not None and ends is not None and ends < given:
            self.add_error("expires_on", "It ends before it was given.")
        said = any(data.get(name) for name in ("number", "issued_by", "note", "file"))
        if not said and "file" not in self.errors:
            self.add_error("number", "Write its number, or who it is from, or add a scan.")
        return data
