"""Addresses that only a form uses: opened by hand, or by a reload, they lead to the page that they
belong to.
"""

import functools
from collections.abc import Callable

from django import forms
from django.db.models import Model
from django.http import HttpResponse
from django.shortcuts import redirect

from ridgeback.households.middleware import KeeperRequest

MOST_WORDS = 200


def plain_words(text: str, most: int = MOST_WORDS) -> str:
    """Make one line of posted text: without control characters, which no database takes."""
    shown = "".join(one if one.isprintable() else " " for one in text)
    return " ".join(shown.split())[:most]


_KEY = forms.IntegerField(min_value=0, max_value=2**31 - 1)
"""A row's key, or the number of a revision, in a hidden field or a button."""


def posted_key(request: KeeperRequest, name: str) -> int:
    """The key of a row that a form names; −1, which no row has, where it is no key."""
    try:
        return int(_KEY.clean(request.POST.get(name, "")[:12]))
    except forms.ValidationError:
        return -1


View = Callable[[KeeperRequest, int], HttpResponse]


def only_by_form(page: str, own: Callable[[KeeperRequest, int], Model]) -> Callable[[View], View]:
    """A decorator: what is not posted goes to the page of that name, if the row is the household's
    own (`own` raises 404 else).
    """

    def decorate(view: View) -> View:
        @functools.wraps(view)
        def answer(request: KeeperRequest, pk: int) -> HttpResponse:
            if request.method != "POST":
                return redirect(page, pk=own(request, pk).pk)
            return view(request, pk)

        return answer

    return decorate
