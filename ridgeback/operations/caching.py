"""Private pages and files are kept by no browser and no proxy."""

from collections.abc import Callable

from django.http import HttpRequest, HttpResponse

REVALIDATED = "private, no-cache"
"""For files that may be kept by their reader's browser, and are asked for each time by their tag."""


class NoStore:
    """Says of every answer that it must not be stored, unless its view says something else."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        response = self.get_response(request)
        if not response.has_header("Cache-Control"):
            response["Cache-Control"] = "no-store"
        return response
