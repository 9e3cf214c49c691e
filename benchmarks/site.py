"""The application with its demo on a test database of its own, for benchmarks of pages.

Leaves nothing behind.
"""

import os
from collections.abc import Iterator
from contextlib import contextmanager
from typing import TYPE_CHECKING

import husbandry  # noqa: F401  # one BLAS thread, before numpy

if TYPE_CHECKING:
    from django.test import Client


@contextmanager
def site() -> "Iterator[Client]":
    """A client that is signed in to the demo; `/empty/` is a view that does nothing."""
    os.environ["DJANGO_SETTINGS_MODULE"] = "ridgeback.settings.test"
    os.environ["REQUEST_LOG_LEVEL"] = "ERROR"
    import django

    django.setup()
    from django.http import HttpRequest, HttpResponse
    from django.test import Client
    from django.test.utils import setup_databases, setup_test_environment, teardown_databases
    from django.urls import path
    from django.utils import timezone

    from ridgeback import urls
    from ridgeback.demo import household
    from ridgeback.households.models import Keeper

    def empty(request: HttpRequest) -> HttpResponse:
        return HttpResponse("ok")

    urls.urlpatterns.append(path("empty/", empty))
    setup_test_environment()
    old = setup_databases(verbosity=0, interactive=False)
    try:
        household.load(timezone.now())
        client = Client()
        client.force_login(Keeper.objects.get(username="demo"))
        yield client
    finally:
        teardown_databases(old, verbosity=0)
