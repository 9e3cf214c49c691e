"""Forms about people: invited, given another role, given a link."""

import datetime as dt
from typing import Any

from django import forms

from ridgeback.animals.models import Animal
from ridgeback.fields import day_field
from ridgeback.households.models import Household, Membership
from ridgeback.people.models import PersonalLink
from ridgeback.posting import plain_words
from ridgeback.submissions.forms import OnceForm

LONGEST_DAYS = 366
"""A sitter comes, and a link is open, for so long at the most (design choice) [days]."""
ROLES = [
    (Membership.Role.KEEPER, "keeper: everything but who comes in"),
    (Membership.Role.SITTER, "sitter: tasks, readings and photos, on days agreed"),
    (Membership.Role.OWNER, "owner: everything"),
]


class DatedForm(forms.Form):
    """The first and the last day of something."""

    from_on = day_field("From", required=False)
    until_on = day_field("Until", required=False)
    today: dt.date

    def days(self) -> tuple[dt.date, dt.date] | None:
        """Both days; None where they were not asked for."""
        first, last = self.cleaned_data.get("from_on"), self.cleaned_data.get("until_on")
        return (first, last) if first is not None and last is not None else None

    def clean_days(self, cleaned: dict[str, Any]) -> None:
        """Both are there, in order, and not over."""
        first, last = cleaned.get("from_on"), cleaned.get("until_on")
        for name, value in (("from_on", first), ("until_on", last)):
            if value is None and name not in self.errors:
                self.add_error(name, "Write the day.")
        if first is None or last is None:
            return
        if last < self.today:
            self.add_error("until_on", "This day is past.")
        elif last < first:
            self.add_error("until_on", "The last day is before the first.")
        elif (last - first).days > LONGEST_DAYS:
            self.add_error("until_on", "A year at the most.")


class InviteForm(OnceForm, DatedForm):
    """Whom, and as what."""

    role = forms.ChoiceField(label="As", choices=ROLES)
    email = forms.EmailField(
        label="Email",
        required=False,
        help_text="Left empty: you are shown a link and a code to hand on.",
    )
    field_order = ["role", "from_on", "until_on", "email"]

    def __init__(self, *args: Any, own: str, today: dt.date, **kwargs: Any) -> None:
        kwargs.setdefault("initial", {"from_on": today})
        super().__init__(*args, **kwargs)
        self.own = own
        self.today = today

    def clean_email(self) -> str:
        """Not one's own."""
        email: str = self.cleaned_data["email"]
        if email and email.lower() == self.own.lower():
            raise forms.ValidationError("That is your own address.")
        return email

    def clean(self) -> dict[str, Any]:
        """A sitter has days; others have none."""
        cleaned: dict[str, Any] = super().clean() or {}
        if cleaned.get("role") == Membership.Role.SITTER:
            self.clean_days(cleaned)
        else:
            cleaned.update(from_on=None, until_on=None)
        return cleaned


class RoleForm(DatedForm):
    """Another role for a member."""

    role = forms.ChoiceField(label="Role", choices=ROLES)

    def __init__(self, *args: Any, today: dt.date, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.today = today

    def clean(self) -> dict[str, Any]:
        """A sitter has days; others have none."""
        cleaned: dict[str, Any] = super().clean() or {}
        if cleaned.get("role") == Membership.Role.SITTER:
            self.clean_days(cleaned)
        else:
            cleaned.update(from_on=None, until_on=None)
        return cleaned


class LinkForm(OnceForm, DatedForm):
    """A personal link: whose, of what kind, for which days."""

    kind = forms.ChoiceField(label="For", choices=PersonalLink.Kind.choices)
    name = forms.CharField(
        label="Whose", max_length=80, help_text="Today’s log and the list below name them so."
    )
    animals = forms.MultipleChoiceField(
        label="Animals that are shown", required=False, widget=forms.CheckboxSelectMultiple
    )
    field_order = ["kind", "name", "from_on", "until_on", "animals"]

    def __init__(self, *args: Any, household: Household, today: dt.date, **kwargs: Any) -> None:
        kwargs.setdefault("initial", {"from_on": today})
        # two forms of the page ask for days: a label names the field of its own form
        kwargs.setdefault("auto_id", "link_%s")
        super().__init__(*args, **kwargs)
        self.today = today
        self.mine = {str(one.pk): one for one in household.animals.filter(gone_on__isnull=True)}
        self.fields["animals"] = forms.MultipleChoiceField(
            label="Animals that are shown",
            required=False,
            choices=[(pk, one.name) for pk, one in self.mine.items()],
            widget=forms.CheckboxSelectMultiple,
        )

    def chosen(self) -> list[Animal]:
        """The animals that were ticked."""
        return [self.mine[pk] for pk in self.cleaned_data["animals"]]

    def clean_name(self) -> str:
        """One line of words."""
        name = plain_words(self.cleaned_data["name"], 80)
        if not name:
            raise forms.ValidationError("Say whose it is.")
        return name

    def clean(self) -> dict[str, Any]:
        """Its days; a viewer is shown at least one animal."""
        cleaned: dict[str, Any] = super().clean() or {}
        self.clean_days(cleaned)
        if cleaned.get("kind") == PersonalLink.Kind.VIEWER and not cleaned.get("animals"):
            self.add_error("animals", "Tick at least one animal.")
        return cleaned
