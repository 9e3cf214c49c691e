"""The day's tasks of 200 animals, each in an enclosure of its own, with five years of log behind them,
against an empty view; taps of eight people at once; a year's calendar of 200 animals.

    DATABASE_URL=$(bin/pg start) .venv/bin/python -m benchmarks.rounds

Targets: queries constant; sixty taps a second with none lost and none doubled; 200 animals for 365
days under half a second.
"""

import datetime as dt
import multiprocessing
import threading
import time
import uuid

from benchmarks.site import site
from benchmarks.timing import table, timed
from husbandry.feeding.supplements import default_rules
from husbandry.feeding.upcoming_meals import MealPace, coming
from husbandry.quantity import METRIC

ENCLOSURES, YEARS, PEOPLE, PROCESSES = 200, 5, 8, 2


def year_of_calendars() -> float:
    """Two hundred animals, a year each, with a fortnight of facts: seconds."""
    today = dt.date(2026, 1, 1)
    rules = [
        default_rules(stage, uvb=True, approaches={})
        for stage in ("hatchling", "juvenile", "adult", "adult")
    ]
    start = time.perf_counter()
    for n in range(200):
        coming(
            (MealPace("insects", (1, 2, 3, 3.5)[n % 4], True),),
            rules[n % 4],
            today,
            (),
            today,
            365,
        )
    return time.perf_counter() - start


def main() -> int:
    """Measure and print."""
    spent = min(year_of_calendars() for _ in range(3))
    print(f"a year's calendar of 200 animals: {spent:.2f} s (target 0.5)\n")
    with site() as client:
        from django.db import connection, connections
        from django.test import Client
        from django.test.utils import CaptureQueriesContext
        from django.utils import timezone

        from ridgeback.animals.models import Animal
        from ridgeback.enclosures import flows
        from ridgeback.enclosures.models import Enclosure
        from ridgeback.households.models import Household, Keeper
        from ridgeback.log.models import LogEntry
        from ridgeback.tasks.due_tasks import gather, task_name
        from ridgeback.today.presenting import amount_text
        from ridgeback.today.sealing import seal

        own, keeper, now = (
            Household.objects.get(),
            Keeper.objects.get(username="demo"),
            timezone.now(),
        )

        def queries() -> int:
            client.get("/today/")
            with CaptureQueriesContext(connection) as seen:
                client.get("/today/")
            return len(seen)

        few = queries()
        patterns = list(Enclosure.objects.for_planning().order_by("pk")[:4])
        for n in range(len(patterns), ENCLOSURES):
            pattern = patterns[n % 4]
            kept = pattern.present[0].animal
            animal = Animal.objects.create(
                household=own,
                name=f"Copy {n}",
                species=kept.species,
                born_on=kept.born_on,
                fed_on=kept.fed_on,
            )
            made = Enclosure.objects.create(
                household=own, room=pattern.room, name=f"Enclosure {n:03d}"
            )
            assert pattern.head is not None
            flows.begin(made, pattern.head.spec, keeper=None, now=now)
            since = now - dt.timedelta(days=900 if kept.born_on is None else 20)
            flows.move_in(made, animal, now=since)
        with connection.cursor() as cursor:
            cursor.execute(
                "insert into log_logentry (household_id, enclosure_id, animal_id, stem, task,"
                ' log_request, outcome, "on", at, products, how, note, by_name, by_id,'
                " touched_at) select"
                " %s, o.enclosure_id, case when s.stem like 'feed%%' then o.animal_id end, s.stem,"
                " 'old/' || o.enclosure_id || '/' || s.stem || '/' || d::date, gen_random_uuid(),"
                " 'done', d::date, d, '[\"calcium\"]', '', '', '', %s, d from enclosures_occupancy o,"
                " generate_series(now() - %s * interval '365 days', now() - interval '14 days',"
                " interval '1 day') d, (values ('look'), ('water'), ('mist 08:00'), ('feed"
                " insects'), ('clean')) s(stem)",
                [own.pk, keeper.pk, YEARS],
            )
            cursor.execute("analyze log_logentry")
        many = queries()
        print(
            f"{Enclosure.objects.count()} enclosures, {LogEntry.objects.count():,} entries;"
            f" queries: {few} for 4 enclosures, {many} now\n"
        )
        reference = timed("empty view, signed in", lambda: client.get("/empty/"), 100)
        after = timezone.now().isoformat()
        rows = [
            (timed("today’s tasks of 200 enclosures", lambda: client.get("/today/"), 25), None),
            (
                timed(
                    "what others did meanwhile: nothing",
                    lambda: client.get("/today/changes/", {"after": after}),
                    50,
                ),
                None,
            ),
            (timed("the week of 200 enclosures", lambda: client.get("/today/week/"), 10), None),
            (timed("the log", lambda: client.get("/log/"), 20), None),
        ]
        table(reference, rows)
        log_requests = []
        for due in gather(own, timezone.now()):
            for task in due.tasks:
                if task.kind not in {"read", "weigh", "body"}:
                    who = due.animal_of(task)
                    shown = amount_text(task.kind, task.amount, METRIC)
                    outcome = "calm" if task.kind == "tame" else "done"
                    log_requests.append(
                        (
                            due.enclosure.pk,
                            task_name(due.enclosure, who, task),
                            seal(due, task, who, shown),
                            outcome,
                        )
                    )
        before = LogEntry.objects.count()
        connections.close_all()  # no process inherits a connection
        context = multiprocessing.get_context("fork")
        gate, told = context.Barrier(PROCESSES + 1), context.Queue()

        def person(n: int, wrong: list[int]) -> None:
            """Taps an eighth of all tasks, and the eighth of the next person as well: each task is
            tapped by two.
            """
            browser = Client()
            browser.force_login(keeper)
            for k in (n, (n + 1) % PEOPLE):
                for enclosure_pk, name, sealed, outcome in log_requests[k::PEOPLE]:
                    fields = {
                        "task": name,
                        "log_request": str(uuid.uuid4()),
                        "sealed": sealed,
                        "outcome": outcome,
                    }
                    answer = browser.post(
                        f"/today/{enclosure_pk}/log/", fields, headers={"X-Today": "1"}
                    )
                    if answer.status_code != 200:
                        wrong.append(answer.status_code)
            connections.close_all()

        def process(first: int) -> None:
            wrong: list[int] = []
            people = [
                threading.Thread(target=person, args=(n, wrong))
                for n in range(first, PEOPLE, PROCESSES)
            ]
            gate.wait()
            for one in people:
                one.start()
            for one in people:
                one.join()
            told.put(len(wrong))

        workers = [context.Process(target=process, args=(n,)) for n in range(PROCESSES)]
        for one in workers:
            one.start()
        gate.wait()
        start = time.perf_counter()
        refused = sum(told.get() for _ in workers)
        lasted = time.perf_counter() - start
        for one in workers:
            one.join()
        rate, written = 2 * len(log_requests) / lasted, LogEntry.objects.count() - before
        print(
            f"\n{2 * len(log_requests)} taps of {PEOPLE} people on {len(log_requests)} chores:"
            f" {rate:.0f} a second by {PROCESSES} processes (target 60); {written} written,"
            f" {refused} refused"
        )
    return (
        0
        if spent < 0.5
        and few == many
        and rate >= 60
        and written == len(log_requests)
        and not refused
        else 1
    )


if __name__ == "__main__":
    raise SystemExit(main())
