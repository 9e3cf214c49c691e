"""The import's form."""

from typing import Any

from django import forms

from husbandry.errors import DocumentError
from husbandry.planning.request import Request, from_text
from ridgeback.exchange.uploads import MOST_BYTES
from ridgeback.keepers.models import Household


class ImportForm(forms.Form):
    """A request as a file, and the names its box and its room get here. `request_` holds what was read."""

    file = forms.FileField(label="Request (JSON)", widget=forms.FileInput(attrs={"accept": ".json,application/json"}))
    name = forms.CharField(label="Name of the box", max_length=80)
    room = forms.CharField(
        label="Name of its room", max_length=80, help_text="A room is made with the place and the air that the file gives."
    )

    def __init__(self, *args: Any, household: Household, too_large: bool = False, **kwargs: Any) -> None:
        self.household, self.too_large = household, too_large
        self.request_: Request | None = None
        self.problems: list[str] = []
        super().__init__(*args, **kwargs)
        if too_large:
            self.fields["file"].error_messages["required"] = f"This file is larger than {MOST_BYTES / 1e6:g} MB: no request is."

    def clean_name(self) -> str:
        """Free in this household."""
        name: str = self.cleaned_data["name"]
        if self.household.habitats.filter(name=name).exists():
            raise forms.ValidationError("There is a box of this name already.")
        return name

    def clean_room(self) -> str:
        """Free in this household."""
        name: str = self.cleaned_data["room"]
        if self.household.rooms.filter(name=name).exists():
            raise forms.ValidationError("There is a room of this name already.")
        return name

    def clean_file(self) -> Any:
        """Read by the core, whose findings name the place in the file."""
        file = self.cleaned_data["file"]
        try:
            text = file.read().decode("utf-8-sig")
        except UnicodeDecodeError:
            raise forms.ValidationError("This is not UTF-8 text, so it is no request.") from None
        try:
            self.request_ = from_text(text)
        except DocumentError as why:
            self.problems = [f"{problem.pointer or 'the file'}: {problem.reason}"[:300] for problem in why.problems[:20]]
            raise forms.ValidationError("This file is not a request that can be planned.") from None
        except RecursionError:
            raise forms.ValidationError("This file is nested deeper than any request.") from None
        return file
