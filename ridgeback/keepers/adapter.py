"""What the accounts package asks of us."""

from typing import Any

from allauth.account.adapter import DefaultAccountAdapter
from django.http import HttpRequest


class Adapter(DefaultAccountAdapter):
    """The package's own ways, without its passing remarks: our pages say what happened."""

    def add_message(self, request: HttpRequest, level: int, *args: Any, **kwargs: Any) -> None:
        """Nothing: “signed in as …” is seen from the page."""
