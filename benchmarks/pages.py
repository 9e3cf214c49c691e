"""A box's page against an empty view, in one process, with its queries.

    DATABASE_URL=$(bin/pg start) .venv/bin/python -m benchmarks.pages

Uses a test database of its own and leaves nothing behind.
"""

import os

import husbandry  # noqa: F401  # one BLAS thread, before numpy


def main() -> int:
    """Measure and print."""
    os.environ["DJANGO_SETTINGS_MODULE"] = "ridgeback.settings.test"
    import django

    django.setup()
    from django.db import connection
    from django.http import HttpRequest, HttpResponse
    from django.test import Client
    from django.test.utils import CaptureQueriesContext, setup_databases, setup_test_environment, teardown_databases
    from django.urls import path
    from django.utils import timezone

    from benchmarks.timing import table, timed
    from ridgeback import urls
    from ridgeback.demo import household
    from ridgeback.habitats import planning
    from ridgeback.habitats.models import Derived, Habitat
    from ridgeback.keepers.models import Keeper

    def empty(request: HttpRequest) -> HttpResponse:
        return HttpResponse("ok")

    urls.urlpatterns.append(path("empty/", empty))
    setup_test_environment()
    old = setup_databases(verbosity=0, interactive=False)
    try:
        household.load(timezone.now())
        client = Client()
        client.force_login(Keeper.objects.get(username="demo"))
        pip = Habitat.objects.get(name="Pip’s box")
        address = f"/habitats/{pip.pk}/"

        def fresh(target: str) -> object:
            planning._known.cache_clear()
            Derived.objects.all().delete()
            return client.get(target)

        reference = timed("empty view, signed in", lambda: client.get("/empty/"), 100)
        rows = [
            (timed("a box's page, plan made anew", lambda: fresh(address), 25), 400.0),
            (timed("a box's page, plan known", lambda: client.get(address), 50), None),
            (timed("list of four boxes, plans made anew", lambda: fresh("/"), 15), None),
            (timed("a working, plan known", lambda: client.get(f"{address}working/?at=/predictions/surface_day"), 50), None),
        ]
        met = table(reference, [(row, target) for row, target in rows])
        for name in ("/empty/", address, "/"):
            with CaptureQueriesContext(connection) as seen:
                response = client.get(name)
            print(f"{name}: {len(seen)} queries, {len(response.content)} bytes")
    finally:
        teardown_databases(old, verbosity=0)
    return 0 if met else 1


if __name__ == "__main__":
    raise SystemExit(main())
