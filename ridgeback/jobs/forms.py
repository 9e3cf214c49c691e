"""What is asked of a search."""

from django import forms


class SearchForm(forms.Form):
    """Whether other enclosures are tried, too."""

    vary = forms.BooleanField(required=False)
