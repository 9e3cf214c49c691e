"""The next twelve months of 200 animals: one request, its queries and its time against an empty
view; and what the job costs an animal.

    DATABASE_URL=$(bin/pg start) .venv/bin/python -m benchmarks.coming_up

Targets: queries constant from 4 to 200 animals; the request for 200 under 300 ms (median). Growth
is fitted in the job, never on the page.
"""

import datetime as dt
import math
import time

from benchmarks.site import site
from benchmarks.timing import table, timed

WEIGHTS = 24


def main() -> int:
    """Measure and print."""
    with site() as client:
        from django.db import connection
        from django.test.utils import CaptureQueriesContext
        from django.utils import timezone

        from husbandry.growth.expected import expected
        from husbandry.species.library import library
        from ridgeback.animals.models import Animal, Weighing
        from ridgeback.enclosures import flows
        from ridgeback.enclosures.models import Enclosure, Occupancy
        from ridgeback.households.models import Household
        from ridgeback.jobs import tasks

        own, now = Household.objects.get(), timezone.now()
        today = now.date()
        pattern = Enclosure.objects.for_planning().order_by("pk")[0]
        kinds = [profile for profile in library().values() if profile.habit != "aquatic"]

        def fill(count: int) -> None:
            """Animals of every kind and age, each with an enclosure and two years of weights on its
            species’ curve.
            """
            for n in range(Animal.objects.count(), count):
                profile = kinds[n % len(kinds)]
                born = today - dt.timedelta(days=120 + 9 * n)
                animal = Animal.objects.create(
                    household=own, name=f"Animal {n:03d}", species=profile.species, born_on=born
                )
                curve = expected(profile).usual
                days = [(120 + 9 * n) * k / WEIGHTS for k in range(1, WEIGHTS + 1)]
                Weighing.objects.bulk_create(
                    Weighing(
                        animal=animal,
                        on=born + dt.timedelta(days=int(day)),
                        mass_g=curve.mass_g(day / 30.44) * math.exp(0.03 * math.sin(7 * k)),
                    )
                    for k, day in enumerate(days)
                )
                made = Enclosure.objects.create(
                    household=own, room=pattern.room, name=f"Enclosure {n:03d}"
                )
                Occupancy.objects.create(enclosure=made, animal=animal, since=now)
                assert pattern.head is not None
                flows.begin(made, pattern.head.spec, keeper=None, now=now)

        counts = []
        for animals in (4, 50, 200):
            fill(animals)
            before, began = Animal.objects.count(), time.perf_counter()
            tasks.work_out_lives(own.pk)
            spent = time.perf_counter() - began
            with CaptureQueriesContext(connection) as seen:
                client.get("/coming-up/")
            counts.append(len(seen))
            print(f"{before:4d} animals: {counts[-1]} queries; the job took {spent:.1f} s")
        print()
        reference = timed("an empty view", lambda: client.get("/empty/"), 60)
        rows = [
            (timed("coming up for 200 animals", lambda: client.get("/coming-up/"), 15), 300.0),
            (timed("the list of 200 animals", lambda: client.get("/animals/"), 15), 300.0),
        ]
        good = table(reference, rows)
        print(f"\nqueries constant: {'yes' if len(set(counts)) == 1 else f'no, {counts}'}")
    return 0 if good and len(set(counts)) == 1 else 1


if __name__ == "__main__":
    raise SystemExit(main())
