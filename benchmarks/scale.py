"""How many cores, rows and bytes a number of households asks for: measured costs, assumed habits, and a
queue that is played through.

    DATABASE_URL=$(bin/pg start) .venv/bin/python -m benchmarks.scale [--households N]

Measured here, on this machine, in one run: what a page, a tap, a batch of a device, a look at a channel
and a sheet cost; what a row weighs. Assumed: how people and devices behave (`HABITS`). Played: the
busiest hour, request by request, first come first served, for a growing number of processes.
"""

import argparse
import heapq
import json
import math
import statistics
import time
import uuid
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

import numpy as np

from benchmarks.site import site

WANTED_S = 1.0
"""95 of 100 answers in the busiest hour come within so long [s]."""
HOUR_S = 3600.0
ALL_S = 600.0
"""Between two looks at all channels (`ridgeback.jobs.tasks`) [s]."""


@dataclass(frozen=True)
class Habits:
    """What is assumed of households (design choice; nothing of it was measured)."""

    enclosures: float = 4.0
    visits_a_day: float = 1.5
    peak_share: float = 0.25
    """Of the day's visits that come in its busiest hour: the evening of one time zone."""
    pages_a_visit: float = 7.0
    taps_a_visit: float = 5.0
    with_devices: float = 0.15
    """Households with devices."""
    channels: float = 6.0
    """Of such a household."""
    batch_s: float = 300.0
    """Between two batches of a device, with a value of each channel."""
    logged_a_day: float = 8.0
    """Lines of the log of a household."""
    sheets_a_month: float = 1.0
    searches_a_month: float = 2.0


HABITS = Habits()


@dataclass(frozen=True)
class Costs:
    """What was measured."""

    pages_s: list[float]
    taps_s: list[float]
    """A tap is taken to cost what the log's page does: no tap is measured [s]."""
    batch_s: float
    look_s: float
    """At a channel, by a worker."""
    sheet_s: float
    search_s: float
    row_bytes: dict[str, float]
    plan_bytes: float


def seconds(act: Callable[[], object], times: int) -> list[float]:
    """How long an act takes, each time [s]."""
    found = []
    for _ in range(times):
        begin = time.perf_counter()
        act()
        found.append(time.perf_counter() - begin)
    return found


def measure() -> Costs:
    """Run the application's own parts on a database of their own."""
    with site() as client:
        from ridgeback.enclosures.models import Enclosure

        pip = Enclosure.objects.for_planning().get(name="Pip’s enclosure")
        addresses = (
            "/",
            "/today/",
            f"/enclosures/{pip.pk}/",
            "/animals/",
            "/coming-up/",
            f"/enclosures/{pip.pk}/history/",
        )
        pages = [
            one
            for address in addresses
            for one in seconds(lambda a=address: client.get(a), 8)[2:]  # type: ignore[misc]  # bound now
        ]
        taps = seconds(lambda: client.get("/log/"), 6)[2:]
        batch_s, look_s = _device_costs(client, pip)
        sheet_s, search_s = _job_costs(pip)
        row_bytes, plan_bytes = _weights()

        return Costs(pages, taps, batch_s, look_s, sheet_s, search_s, row_bytes, plan_bytes)


def _device_costs(client: Any, pip: Any) -> tuple[float, float]:
    """A batch of a device, and a worker's look at its channel, with eight days of minutes behind it."""
    from husbandry.records.channels import Quantity, SensorPlace
    from ridgeback.alarms.flows import watch_channel
    from ridgeback.clock import now
    from ridgeback.devices.flows import add, bind
    from ridgeback.records.store import ensure_months, write_samples

    device, token = add(pip.household, name="Scale", keeper=None, now=now())
    binding = bind(device, pip, Quantity.TEMPERATURE, SensorPlace.WARM)
    end = int(now().timestamp())
    at_s = np.arange(end - 8 * 86_400, end, 60, dtype=np.int64)
    ensure_months(at_s)
    write_samples(binding.channel, at_s, np.round(24 + np.sin(at_s / 9000), 1), None)
    binding.channel.refresh_from_db()
    moment = iter(range(end, end + 10_000))

    def batch() -> None:
        row = {"channel": binding.code, "at": next(moment), "value": 24.0}
        answer = client.post(
            "/api/v1/readings",
            json.dumps({"readings": [row]}),
            content_type="application/json",
            headers={"Authorization": f"Bearer {token}"},
        )
        if answer.status_code != 200:
            raise SystemExit(f"a batch was refused: {answer.content[:200]!r}")

    batches = seconds(batch, 30)[5:]
    looks = seconds(lambda: watch_channel(binding.channel, now()), 12)[2:]

    return statistics.mean(batches), statistics.mean(looks)


def _job_costs(pip: Any) -> tuple[float, float]:
    """A sheet as PDF, and a search for setups."""
    from husbandry.documents.request_json import from_data
    from husbandry.setups.search import find_setups
    from ridgeback.clock import now
    from ridgeback.jobs.flows import ask_for_sheet
    from ridgeback.jobs.tasks import make_sheet

    keeper = pip.household.memberships.get().keeper
    job = ask_for_sheet(pip, keeper, keeper.units, now())
    sheet = seconds(lambda: make_sheet(job.pk), 1)[0]
    request = from_data(pip.request_data(now()))
    search = seconds(lambda: find_setups(request, lambda share, said: True), 1)[0]

    return sheet, search


def _weights() -> tuple[dict[str, float], float]:
    """What a row weighs with its indexes, by table, and a remembered plan [bytes]."""
    from django.db import connection

    from ridgeback.enclosures.models import Derived
    from ridgeback.log.models import LogEntry

    _fill_log(LogEntry)
    tables = {"log": LogEntry._meta.db_table, "sample": "records_sample", "hour": "records_hour"}
    found = {}
    with connection.cursor() as cursor:
        cursor.execute("ANALYZE")
        for name, table in tables.items():
            cursor.execute(f"SELECT count(*) FROM {table}")  # our own names
            count = int(cursor.fetchone()[0])
            cursor.execute(
                "SELECT coalesce(sum(pg_total_relation_size(relid)), 0) FROM pg_partition_tree(%s)"
                if name == "sample"
                else "SELECT pg_total_relation_size(%s::regclass)",
                [table],
            )
            found[name] = float(cursor.fetchone()[0]) / max(count, 1)
        cursor.execute(f"SELECT avg(pg_column_size(t.*)) FROM {Derived._meta.db_table} t")
        plan_bytes = float(cursor.fetchone()[0] or 0)

    return found, plan_bytes


def _fill_log(model: type[Any]) -> None:
    """Lines enough that a table's size is its rows'."""
    one = model.objects.filter(outcome="done").first()
    copies = []
    for n in range(5000):
        copy = model(**{f.attname: getattr(one, f.attname) for f in model._meta.concrete_fields})
        copy.pk, copy.log_request, copy.task = None, uuid.uuid4(), f"{one.task[:40]}/{n}"
        copies.append(copy)
    model.objects.bulk_create(copies, batch_size=1000)


def played(rate_s: float, services: list[float], processes: int, seed: int = 1) -> np.ndarray:
    """Times to answer over an hour of requests that come by chance, first come first served [s].

    Parameters
    ----------
    rate_s : float
        Requests a second.
    services : list of float
        What one may take [s].
    """
    draw = np.random.default_rng(seed)
    count = max(int(rate_s * HOUR_S), 1)
    comes = np.sort(draw.uniform(0, HOUR_S, count))
    takes = draw.choice(services, count)
    free = [0.0] * processes
    waits = np.empty(count)
    for n in range(count):
        begin = max(comes[n], heapq.heappop(free))
        heapq.heappush(free, begin + takes[n])
        waits[n] = begin + takes[n] - comes[n]
    return waits


def main() -> int:
    """Print what so many households ask for."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--households", type=int, default=10_000)
    n = parser.parse_args().households
    costs, habits = measure(), HABITS
    print("measured on one core of this machine:")
    print(f"  a page {statistics.mean(costs.pages_s) * 1000:.0f} ms (mean of six kinds)")
    print(f"  a batch of a device {costs.batch_s * 1000:.0f} ms")
    print(f"  a look at a channel {costs.look_s * 1000:.0f} ms")
    print(f"  a sheet {costs.sheet_s:.1f} s, a search {costs.search_s:.1f} s")
    rows = ", ".join(f"{name} {size:.0f} bytes" for name, size in costs.row_bytes.items())
    print(f"  a row with its indexes: {rows}; a remembered plan {costs.plan_bytes / 1000:.0f} kB")

    visits = n * habits.visits_a_day
    per_visit = habits.pages_a_visit + habits.taps_a_visit
    people_s = visits * habits.peak_share * per_visit / HOUR_S
    with_devices = n * habits.with_devices
    batches_s = with_devices / habits.batch_s
    services = [
        *costs.pages_s * round(10 * habits.pages_a_visit / len(costs.pages_s) + 1),
        *costs.taps_s * round(10 * habits.taps_a_visit / len(costs.taps_s) + 1),
    ]
    share = batches_s / (people_s + batches_s)
    whole = services + [costs.batch_s] * round(len(services) * share / max(1 - share, 0.01))
    rate = people_s + batches_s
    print(
        f"\n{n:,} households, busiest hour: {people_s:.1f} requests a second of people, ", end=""
    )
    print(f"{batches_s:.1f} of devices")
    print(f"{'processes':>9} {'busy':>5} {'half':>8} {'95 %':>8} {'99 %':>8}")
    least = max(1, math.ceil(rate * statistics.mean(whole)))
    enough = 0
    for processes in range(least, least + 12):
        found = played(rate, whole, processes)
        p50, p95, p99 = np.percentile(found, [50, 95, 99])
        busy = rate * statistics.mean(whole) / processes
        print(f"{processes:9} {busy:5.0%} {p50:7.2f}s {p95:7.2f}s {p99:7.2f}s")
        if p95 <= WANTED_S:
            enough = processes
            break
    print(
        f"web: {enough or 'more than ' + str(least + 11)} cores keep 95 % under {WANTED_S:.0f} s"
    )

    watched = with_devices * habits.channels * costs.look_s
    looks_s = watched * (1 / ALL_S + 1 / habits.batch_s)
    work_s = n * (habits.sheets_a_month * costs.sheet_s + habits.searches_a_month * costs.search_s)
    print(f"\nworkers: {looks_s:.1f} cores watch {with_devices * habits.channels:,.0f} channels")
    print(
        f"(after each batch, every ten minutes); {work_s / 30 / 86_400 * 5:.1f} cores make sheets and"
    )
    print("searches when five times the mean is asked for at once")

    samples = with_devices * habits.channels * 86_400 / habits.batch_s * 365
    logged = n * habits.logged_a_day * 365
    hours = with_devices * habits.channels * 24 * 365
    amounts = {"sample": samples, "hour": hours, "log": logged}
    print("\nrows a year:")
    for name, count in amounts.items():
        gb = count * costs.row_bytes[name] / 1e9
        print(f"  {name:7} {count / 1e6:8.1f} million, {gb:6.1f} GB")
    plans = n * habits.enclosures * costs.plan_bytes / 1e9
    print(f"  remembered plans {plans:.1f} GB at any time (14 days)")

    return 0 if enough else 1


if __name__ == "__main__":
    raise SystemExit(main())
