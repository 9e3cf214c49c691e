"""The list of enclosures from 4 to 200: queries, CPU a row, and a page of 25 with and without
remembered plans, against an empty view.

    DATABASE_URL=$(bin/pg start) .venv/bin/python -m benchmarks.listing

Targets: queries constant; under 2 ms of CPU for a further remembered row; a page of 25 enclosures
under 400 ms unremembered, under 60 ms remembered.
"""

import time

from benchmarks.site import site
from benchmarks.timing import table, timed
from husbandry.quantity import METRIC


def main() -> int:
    """Measure and print."""
    with site() as client:
        from django.db import connection
        from django.test.utils import CaptureQueriesContext
        from django.utils import timezone

        from ridgeback.animals.models import Animal, Weighing
        from ridgeback.enclosure_pages.listing import PAGE, look_again
        from ridgeback.enclosures import flows, planning
        from ridgeback.enclosures.models import Derived, Enclosure, Occupancy
        from ridgeback.households.models import Household
        from ridgeback.jobs import tasks

        own = Household.objects.get()

        def fill(count: int) -> None:
            """Copies of the demo's enclosures, each animal with a mass of its own, so that every
            plan differs.
            """
            patterns = list(Enclosure.objects.for_planning().order_by("pk")[:4])
            now = timezone.now()
            for n in range(Enclosure.objects.count(), count):
                pattern = patterns[n % 4]
                kept = pattern.present[0].animal
                animal = Animal.objects.create(
                    household=own, name=f"Copy {n}", species=kept.species, born_on=kept.born_on
                )
                Weighing.objects.create(
                    animal=animal, on=now.date(), mass_g=(kept.mass_g() or 50) * (1 + n / 1000)
                )
                made = Enclosure.objects.create(
                    household=own, room=pattern.room, name=f"Enclosure {n:03d}"
                )
                Occupancy.objects.create(enclosure=made, animal=animal, since=now)
                assert pattern.head is not None
                flows.begin(made, pattern.head.spec, keeper=None, now=now)

        def remembered() -> None:
            now = timezone.now()
            tasks.make_plans(own.pk)
            while look_again(own, now, METRIC):
                pass
            client.get("/")

        def fresh() -> object:
            Derived.objects.all().delete()
            planning._known.cache_clear()
            return client.get("/")

        counts, spent = [], {}
        for enclosures in (4, 25, 200):
            fill(enclosures)
            remembered()
            with CaptureQueriesContext(connection) as seen:
                client.get("/")
            counts.append(len(seen))  # now: the next request forgets them
            before = time.process_time()
            for _ in range(40):
                client.get("/")
            spent[enclosures] = (time.process_time() - before) / 40 * 1000
            print(
                f"{enclosures:4d} enclosures: {counts[-1]} queries, {spent[enclosures]:.1f} ms of"
                " CPU a page"
            )
        row_ms = (spent[25] - spent[4]) / (PAGE - 4)
        print(
            f"a further row: {row_ms:.2f} ms of CPU; 200 enclosures against 25, both show {PAGE}:"
            f" {spent[200] / spent[25]:.2f}\n"
        )
        reference = timed("empty view, signed in", lambda: client.get("/empty/"), 100)
        pages = [
            (timed("page of 25 enclosures of 200, remembered", lambda: client.get("/"), 60), 60.0),
            (timed("page of 25 enclosures of 200, nothing remembered", fresh, 20), 400.0),
        ]
        met = table(reference, pages)
    return 0 if met and row_ms < 2 and len(set(counts)) == 1 else 1


if __name__ == "__main__":
    raise SystemExit(main())
