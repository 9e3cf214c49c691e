"""An enclosure's page against an empty view, in one process, with its queries.

DATABASE_URL=$(bin/pg start) .venv/bin/python -m benchmarks.pages
"""

from benchmarks.site import site
from benchmarks.timing import table, timed


def main() -> int:
    """Measure and print."""
    with site() as client:
        from django.db import connection
        from django.test.utils import CaptureQueriesContext

        from ridgeback.enclosures import planning
        from ridgeback.enclosures.models import Derived, Enclosure
        from ridgeback.jobs.tasks import make_plans

        pip = Enclosure.objects.get(name="Pip’s enclosure")
        address = f"/enclosures/{pip.pk}/"

        def fresh(target: str) -> object:
            planning._known.cache_clear()
            Derived.objects.all().delete()
            return client.get(target)

        reference = timed("empty view, signed in", lambda: client.get("/empty/"), 100)
        empty = reference.p50_ms
        derivation = f"{address}calculation/?at=/predictions/surface_day"
        rows = [
            (timed("an enclosure's page, plan made anew", lambda: fresh(address), 25), 400.0),
            (
                timed("an enclosure's page, plan known", lambda: client.get(address), 50),
                12 * empty,
            ),
            (timed("a derivation, plan known", lambda: client.get(derivation), 50), None),
            (timed("list of five, plans not made yet", lambda: client.get("/"), 50), None),
        ]
        make_plans(pip.household_id)  # as the worker does, before anybody comes again
        rows += [
            (timed("list of five, remembered", lambda: client.get("/"), 50), 8 * empty),
            (timed("list of five, nothing remembered", lambda: fresh("/"), 15), None),
        ]
        met = table(reference, rows)
        for name in ("/empty/", address, "/"):
            with CaptureQueriesContext(connection) as seen:
                response = client.get(name)
            print(f"{name}: {len(seen)} queries, {len(response.content)} bytes")
    return 0 if met else 1


if __name__ == "__main__":
    raise SystemExit(main())
