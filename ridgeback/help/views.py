"""The list of help pages, and one of them."""

from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import render
from django.views.decorators.http import require_safe

from ridgeback.help.terms import TERMS
from ridgeback.help.topics import TOPICS


@require_safe
def topics(request: HttpRequest) -> HttpResponse:
    """Every help page by its task."""
    return render(request, "help/list.html", {"topics": TOPICS})


@require_safe
def topic(request: HttpRequest, slug: str) -> HttpResponse:
    """One help page."""
    found = next((one for one in TOPICS if one.slug == slug), None)
    if found is None:
        raise Http404
    return render(request, "help/topic.html", {"topic": found})


@require_safe
def terms(request: HttpRequest) -> HttpResponse:
    """Every term that a page explains."""
    return render(request, "help/terms.html", {"terms": TERMS})


@require_safe
def keys(request: HttpRequest) -> HttpResponse:
    """What each key does, for the dialog that opens on “?”."""
    return render(request, "help/keys.html")
