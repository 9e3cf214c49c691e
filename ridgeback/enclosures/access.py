"""Who may reach an enclosure, and in what state: every page of one fetches it here."""

import functools

from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect

from ridgeback.enclosures.models import Enclosure
from ridgeback.households.middleware import KeeperRequest
from ridgeback.posting import View, only_by_form, posted_key


def own_enclosure(request: KeeperRequest, pk: int) -> Enclosure:
    """An enclosure of this household, or 404.

    What a guard before the view has loaded is handed on, once: who asks again asks the database.
    """
    loaded, request.loaded_row = request.loaded_row, None
    if isinstance(loaded, Enclosure) and loaded.pk == pk:
        return loaded
    return get_object_or_404(Enclosure.objects.of(request.household).for_planning(), pk=pk)


posted = only_by_form("enclosures:page", own_enclosure)


def lived_in(view: View) -> View:
    """For what needs a plan: an enclosure that nobody lives in has none, and its page says so."""

    @functools.wraps(view)
    def answer(request: KeeperRequest, pk: int) -> HttpResponse:
        enclosure = own_enclosure(request, pk)
        if not enclosure.present:
            return redirect("enclosures:page", pk=pk)
        request.loaded_row = enclosure
        return view(request, pk)

    return answer


def seen_revision(request: KeeperRequest) -> int:
    """The revision that the page showed."""
    return posted_key(request, "revision")
