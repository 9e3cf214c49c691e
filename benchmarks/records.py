"""A million lines of a logger against the bare COPY of the same rows; a chart with five million readings
behind it against an empty view.

    DATABASE_URL=$(bin/pg start) .venv/bin/python -m benchmarks.records

Targets: the import's writing within 1.5 times of the bare COPY; the chart's points under 150 ms.
"""

import datetime as dt
import time
from functools import partial

import numpy as np

from benchmarks.site import site
from benchmarks.timing import table, timed
from husbandry.records.logger_file import read_file
from husbandry.records.logger_layout import layout_of

LINES = 1_000_000
YEARS, CHANNELS = 5, 2
BEGIN = dt.datetime(2021, 1, 1)  # noqa: DTZ001  # a logger's own clock


def text_of(lines: int) -> str:
    """A file with a line a minute."""
    rows = [
        f"{BEGIN + dt.timedelta(minutes=n):%Y-%m-%d %H:%M:%S},{20 + n % 97 / 10:.1f}"
        for n in range(lines)
    ]
    return "time,temp C\n" + "\n".join(rows) + "\n"


def main() -> int:
    """Measure and print; 1 where a target is missed."""
    text = text_of(LINES)
    now = dt.datetime(2026, 11, 30, tzinfo=dt.UTC)
    start = time.perf_counter()
    read = read_file(text, layout_of(text), zone="Europe/Berlin", clock="room", now=now)
    parsing = time.perf_counter() - start
    one = read.channels[0]
    with site() as client:
        from django.db import connection

        from husbandry.records.channels import Quantity
        from ridgeback.enclosures.models import Enclosure
        from ridgeback.records import store
        from ridgeback.records.flows import channel_for
        from ridgeback.records.models import Channel

        pip = Enclosure.objects.order_by("pk").first()
        if pip is None:
            raise SystemExit("the demo has no enclosure")
        store.ensure_months(one.at_s)
        bare = []
        for n in range(3):
            body = store.binary_rows(-1 - n, one.at_s, one.values, None)
            start = time.perf_counter()
            with connection.cursor() as cursor:
                store._copy(cursor, "records_sample", body)
            bare.append(time.perf_counter() - start)
        channels = [channel_for(pip, Quantity.TEMPERATURE, "warm", f"bench {n}") for n in range(3)]
        written = []
        for channel in channels:
            start = time.perf_counter()
            store.write_samples(channel, one.at_s, one.values, None)
            written.append(time.perf_counter() - start)
        start = time.perf_counter()
        again = store.write_samples(channels[0], one.at_s, one.values, None)
        twice = time.perf_counter() - start
        with connection.cursor() as cursor:
            cursor.execute("DELETE FROM records_sample WHERE channel_id < 0")
        ratio = min(written) / min(bare)
        print(f"read {LINES:,} lines: {parsing:.2f} s")
        print(f"bare COPY of {len(one.values):,} rows: {min(bare):.2f} s")
        print(
            f"written, with the sums by the hour: {min(written):.2f} s, {ratio:.2f} of it (target 1.5)"
        )
        print(f"the whole import: {(parsing + min(written)) / min(bare):.2f} of it")
        print(f"the same once more: {twice:.2f} s, {again} new\n")
        end_s = int(now.timestamp())
        for channel in channels[:CHANNELS]:
            at_s = np.arange(end_s - YEARS * 365 * 86_400, end_s, 60, dtype=np.int64)
            store.ensure_months(at_s)
            store.write_samples(channel, at_s, 20 + at_s % 97 / 10, None)
        with connection.cursor() as cursor:
            cursor.execute("ANALYZE records_sample")
            cursor.execute("ANALYZE records_hour")
            cursor.execute("SELECT count(*) FROM records_sample")
            print(f"{cursor.fetchone()[0]:,} readings in the store")
        page = f"/enclosures/{pip.pk}/charts/?channel={channels[0].pk}"
        empty = timed("an empty view (health)", lambda: client.get("/health/live"), 50)
        rows = []
        for span in ("day", "week", "month", "year", "all"):
            spent = timed(f"chart of {span}", partial(client.get, f"{page}&span={span}"), 15)
            rows.append((spent, 150.0))
        good = table(empty, rows)
        Channel.objects.filter(pk__in=[one.pk for one in channels]).delete()
    return int(ratio > 1.5 or not good)


if __name__ == "__main__":
    raise SystemExit(main())
