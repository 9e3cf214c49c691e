"""A table of a thousand animals with weights in sixty enclosures: read, and taken in, against an empty
view.

    DATABASE_URL=$(bin/pg start) .venv/bin/python -m benchmarks.intake

Targets: taken in under 5 s; the same table again adds nothing.
"""

import time

from benchmarks.site import site
from benchmarks.timing import Timed, table, timed

LINES, ENCLOSURES = 1000, 60
HEAD = "name,species,sex,born,weight,enclosure"


def text() -> str:
    """The table."""
    rows = [
        f"Snake {n},corn snake,{'mf'[n % 2]},{2015 + n % 10},{300 + n} g,Box {n % ENCLOSURES}"
        for n in range(LINES)
    ]
    return "\n".join([HEAD, *rows])


def main() -> int:
    """Measure and print."""
    with site() as client:
        from django.utils import timezone

        from husbandry.intake.table import read_table
        from ridgeback.animals.models import Animal
        from ridgeback.collection.forms import species_index
        from ridgeback.collection.intake import take_in
        from ridgeback.households.models import Household, Keeper

        own = Household.objects.get()
        keeper = Keeper.objects.get(username="demo")
        room = own.rooms.all()[0]
        now = timezone.now()
        index, said = species_index(), text()
        lines = read_table(said, index, now.date()).of("understood")
        before = Animal.objects.count()

        def take() -> None:
            take_in(own, keeper, lines, room=room, shape="tub-16", now=now)

        began = time.perf_counter()
        take()
        first_ms = 1000 * (time.perf_counter() - began)
        rows = [
            (timed("read, 1,000 lines", lambda: read_table(said, index, now.date()), 3), 5000.0),
            (Timed("taken in, 1,000 animals", first_ms, first_ms), 5000.0),
            (timed("taken in again", take, 3), 5000.0),
        ]
        added = Animal.objects.count() - before
        good = table(timed("an empty view", lambda: client.get("/add/"), 10), rows)
    print(f"animals added by four runs: {added}")
    return 0 if good and added == LINES else 1


if __name__ == "__main__":
    raise SystemExit(main())
