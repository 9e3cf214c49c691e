"""A page whose numbers cannot be calculated says so, and leads to what can be corrected."""

import logging
from collections.abc import Callable

from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from pydantic import ValidationError

from husbandry.errors import CannotCalculateError, DocumentError
from ridgeback.animals.models import Animal
from ridgeback.calculation import Failed, reasons_of
from ridgeback.enclosures.models import Enclosure

log = logging.getLogger("ridgeback.calculation")


class UncalculatedPage:
    """Answers with a page of ways to correct it where an enclosure or an animal cannot be
    calculated.
    """

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        return self.get_response(request)

    def process_exception(self, request: HttpRequest, error: Exception) -> HttpResponse | None:
        """Take errors of calculation in pages of one enclosure or one animal; leave all others."""
        known = isinstance(error, DocumentError | CannotCalculateError)
        match = request.resolver_match
        household = getattr(request, "household", None)
        if household is None or match is None or "pk" not in match.kwargs:
            return None
        if not known and not isinstance(error, ArithmeticError | ValidationError):
            return None
        if not known:
            log.exception("not calculated", extra={"what": match.route, "row": match.kwargs["pk"]})
        failed = Failed(reasons_of(error))
        pk = match.kwargs["pk"]
        if match.route.startswith("enclosures/"):
            enclosure = Enclosure.objects.of(household).for_planning().filter(pk=pk).first()
            return _page(request, failed, enclosure=enclosure) if enclosure else None
        if match.route.startswith("animals/"):
            animal = Animal.objects.of(household).filter(pk=pk).first()
            return _page(request, failed, animal=animal) if animal else None
        return None


def _page(
    request: HttpRequest,
    failed: Failed,
    *,
    enclosure: Enclosure | None = None,
    animal: Animal | None = None,
) -> HttpResponse:
    context = {
        "failed": failed,
        "enclosure": enclosure,
        "animal": animal,
        "name": enclosure or animal,
        "crumb": animal.name if animal else "",
    }
    return render(request, "shared/cannot_calculate.html", context)
