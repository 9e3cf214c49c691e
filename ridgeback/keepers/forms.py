"""Forms about the keeper."""

from typing import Any

from django import forms
from django.contrib.auth.forms import AuthenticationForm

from ridgeback.keepers.models import Keeper


class SignInForm(AuthenticationForm):
    """Without the focus in its first field: the demo's button comes first."""

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.fields["username"].widget.attrs.pop("autofocus", None)


class PreferencesForm(forms.ModelForm):
    """Units and theme, each switchable alone."""

    class Meta:
        model = Keeper
        fields = ["units_system", "units_temperature", "theme"]

    def __init__(self, *args: object, **kwargs: object) -> None:
        super().__init__(*args, **kwargs)  # type: ignore[arg-type]  # Django's own signature
        for field in self.fields.values():
            field.required = False

    def clean(self) -> dict[str, object]:
        """What was not sent stays as it is."""
        cleaned = super().clean() or {}
        for name in self.fields:
            if not cleaned.get(name):
                cleaned[name] = getattr(self.instance, name)
        return cleaned
