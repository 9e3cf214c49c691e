"""The page of results, and its part that appears under the box while something is typed."""

from itertools import groupby

from django.http import HttpResponse
from django.shortcuts import render
from django.views.decorators.http import require_safe

from ridgeback.households.middleware import KeeperRequest
from ridgeback.search.matching import find
from ridgeback.search.sources import entries_of

MOST_LETTERS = 80


@require_safe
def search(request: KeeperRequest) -> HttpResponse:
    """Find by words, forgiving of spelling."""
    text = request.GET.get("q", "").replace("\x00", "")[:MOST_LETTERS]
    found = find(text, entries_of(request.household))
    order = list(dict.fromkeys(entry.group for entry in found))
    found.sort(key=lambda entry: order.index(entry.group))
    groups = [(name, list(rows)) for name, rows in groupby(found, key=lambda entry: entry.group)]
    template = "search/results.html" if request.htmx else "search/page.html"
    return render(request, template, {"text": text, "groups": groups})
