"""The list of boxes from 4 to 200: queries, CPU a row, and a page of 25 with and without remembered plans, against an empty view.

    DATABASE_URL=$(bin/pg start) .venv/bin/python -m benchmarks.listing

Targets: queries constant; under 2 ms of CPU a remembered row; a page of 25 boxes p95 under 400 ms unremembered, under 60 ms remembered.
Uses a test database of its own and leaves nothing behind.
"""

import os
import time

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
    from ridgeback.animals.models import Animal, Weighing
    from ridgeback.demo import household
    from ridgeback.habitats import flows, planning
    from ridgeback.habitats.listing import PAGE, look_again
    from ridgeback.habitats.models import Derived, Habitat, Occupancy
    from ridgeback.jobs import tasks
    from ridgeback.keepers.models import Keeper

    def empty(request: HttpRequest) -> HttpResponse:
        return HttpResponse("ok")

    urls.urlpatterns.append(path("empty/", empty))
    setup_test_environment()
    old = setup_databases(verbosity=0, interactive=False)
    try:
        own = household.load(timezone.now())
        client = Client()
        client.force_login(Keeper.objects.get(username="demo"))

        def fill(count: int) -> None:
            """Copies of the demo's boxes, each animal with a mass of its own, so that every plan differs."""
            patterns = list(Habitat.objects.for_planning().order_by("pk")[:4])
            now = timezone.now()
            for n in range(Habitat.objects.count(), count):
                pattern = patterns[n % 4]
                kept = pattern.present[0].animal
                animal = Animal.objects.create(household=own, name=f"Copy {n}", species=kept.species, born_on=kept.born_on)
                Weighing.objects.create(animal=animal, on=now.date(), mass_g=(kept.mass_g() or 50) * (1 + n / 1000))
                made = Habitat.objects.create(household=own, room=pattern.room, name=f"Box {n:03d}")
                Occupancy.objects.create(habitat=made, animal=animal, since=now)
                assert pattern.head is not None
                flows.begin(made, pattern.head.spec, keeper=None, now=now)

        def remembered() -> None:
            now = timezone.now()
            tasks.make_plans(own.pk)
            while look_again(own, now.date(), now):
                pass
            client.get("/")

        def fresh() -> object:
            Derived.objects.all().delete()
            planning._known.cache_clear()
            return client.get("/")

        met = True
        counts = []
        for boxes in (4, 25, 200):
            fill(boxes)
            remembered()
            with CaptureQueriesContext(connection) as seen:
                client.get("/")
            counts.append(len(seen))  # now: the next request forgets them
            before = time.process_time()
            for _ in range(20):
                client.get("/")
            cpu_ms = (time.process_time() - before) / 20 * 1000
            rows = min(boxes, PAGE)
            print(f"{boxes:4d} boxes: {counts[-1]} queries, {cpu_ms:.1f} ms of CPU a page, {cpu_ms / rows:.2f} ms a row")
            met = met and (boxes == 4 or cpu_ms / rows < 2)
        met = met and len(set(counts)) == 1
        reference = timed("empty view, signed in", lambda: client.get("/empty/"), 100)
        pages = [
            (timed("page of 25 boxes of 200, remembered", lambda: client.get("/"), 60), 60.0),
            (timed("page of 25 boxes of 200, nothing remembered", fresh, 20), 400.0),
        ]
        met = table(reference, pages) and met
    finally:
        teardown_databases(old, verbosity=0)
    return 0 if met else 1


if __name__ == "__main__":
    raise SystemExit(main())
