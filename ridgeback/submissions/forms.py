"""Forms that know themselves again, and forms that know which version of a row they show."""

import uuid
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from django import forms

KEY, VERSION = "form_key", "version"
NO_ID = {"id": False}
"""A page holds several forms, and an id is there once: what has no label needs none."""


class OnceForm(forms.Form):
    """A form with a key of its own: sent twice, it is saved once."""

    form_key = forms.UUIDField(
        required=False, widget=forms.HiddenInput(attrs=NO_ID), initial=uuid.uuid4
    )

    def clean_form_key(self) -> uuid.UUID | None:
        """The key, or None where nobody sent one."""
        key: uuid.UUID | None = self.cleaned_data["form_key"]
        return key


def key_posted(posted: Mapping[str, str]) -> uuid.UUID | None:
    """The key of a form that is written by hand in a template; None where it is none."""
    try:
        return uuid.UUID(posted.get(KEY, ""))
    except ValueError:
        return None


@dataclass(frozen=True)
class Conflict:
    """A field that was saved by somebody else since the page was opened."""

    label: str
    saved: str
    typed: str


class VersionedForm(forms.Form):
    """A form of a row that others edit, too. `conflicts` holds what was saved meanwhile."""

    version = forms.IntegerField(
        required=False, min_value=0, widget=forms.HiddenInput(attrs=NO_ID)
    )
    conflicts: tuple[Conflict, ...] = ()

    def stale(self, version: int, fresh: forms.BaseForm) -> bool:
        """Look whether somebody else saved other values since the page was opened.

        Call it after `is_valid()`, with the row locked. The form then shows both values, and
        carries the row's present version: sent again, it is saved.

        Parameters
        ----------
        version : int
            The row's own, now.
        fresh : BaseForm
            The same form, unbound, of the row as it is now.
        """
        seen = self.cleaned_data.get(VERSION)
        if seen is None or seen == version:
            return False
        self.conflicts = conflicts_of(self, fresh)
        self.data = {**self.data.dict(), self.add_prefix(VERSION): str(version)}  # type: ignore[attr-defined]  # a QueryDict, as posted
        return bool(self.conflicts)


def conflicts_of(form: forms.BaseForm, fresh: forms.BaseForm) -> tuple[Conflict, ...]:
    """The visible fields whose typed value is not the saved one."""
    found = []
    for name, field in form.fields.items():
        if name in {KEY, VERSION} or field.widget.is_hidden or name not in fresh.fields:
            continue
        saved = _saved(fresh, name)
        if form.cleaned_data.get(name) not in {saved, *_empty(saved)}:
            label = getattr(field, "full_label", "") or str(field.label or name)
            typed = str(form[name].value() or "")
            found.append(Conflict(label, _shown(fresh, name), typed))
    return tuple(found)


def _empty(saved: Any) -> tuple[Any, ...]:
    """Values that mean the same as an empty one."""
    return ("", None) if saved in ("", None) else ()


def _saved(fresh: forms.BaseForm, name: str) -> Any:
    """The saved value of a field, as a clean form has it."""
    try:
        return fresh.fields[name].clean(fresh[name].value())
    except forms.ValidationError:  # such as a field that must be filled and was not
        return fresh[name].initial


def _shown(fresh: forms.BaseForm, name: str) -> str:
    """The saved value of a field, as the page shows it."""
    field = fresh.fields[name]
    value = fresh[name].value()
    choices: Mapping[Any, Any] = dict(getattr(field, "choices", ()))
    return str(choices.get(value, "" if value is None else value))
