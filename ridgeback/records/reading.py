"""Reading a channel over any time in a bounded number of points: from its samples where they are
few, from the sums by the hour where they are many. The least and the most are never lost.
"""

import datetime as dt
from dataclasses import dataclass

import numpy as np
from django.db import connection
from numpy.typing import NDArray

from ridgeback.records.models import Channel

Values = NDArray[np.float64]
Seconds = NDArray[np.int64]
MOST_POINTS = 420
"""Of a line: more than a screen can tell apart are never sent (design choice)."""
BY_SAMPLES = dt.timedelta(days=8)
"""Up to such a time samples are read; beyond it sums by the hour (design choice)."""
_SAMPLES = """
    SELECT floor(extract(epoch FROM at) / %(step)s)::bigint * %(step)s, avg(value), min(value),
        max(value), count(*)
    FROM records_sample WHERE channel_id = %(channel)s AND at >= %(first)s AND at < %(last)s
    GROUP BY 1 ORDER BY 1
"""
_HOURS = """
    SELECT floor(extract(epoch FROM hour) / %(step)s)::bigint * %(step)s,
        sum(mean * count) / sum(count), min(low), max(high), sum(count)
    FROM records_hour WHERE channel_id = %(channel)s AND hour >= %(first)s AND hour < %(last)s
    GROUP BY 1 ORDER BY 1
"""
STEPS_S = (
    60,
    120,
    300,
    600,
    900,
    1800,
    3600,
    7200,
    10_800,
    21_600,
    43_200,
    86_400,
    172_800,
    604_800,
)


@dataclass(frozen=True)
class SeriesPoints:
    """A channel in steps, corrected by its instrument's error."""

    step_s: int
    at_s: Seconds
    """The beginning of each step, seconds since 1970."""
    mean: Values
    low: Values
    high: Values
    count: int
    """Samples behind the points."""

    def __len__(self) -> int:
        return len(self.at_s)


def step_for(first: dt.datetime, last: dt.datetime) -> int:
    """The least of the usual steps that keeps a line within `MOST_POINTS` [s]."""
    span_s = (last - first).total_seconds()
    return next((step for step in STEPS_S if span_s / step <= MOST_POINTS), STEPS_S[-1])


def points_of(channel: Channel, first: dt.datetime, last: dt.datetime) -> SeriesPoints:
    """Read a channel from a moment to another."""
    step = step_for(first, last)
    query = _SAMPLES if last - first <= BY_SAMPLES else _HOURS
    if query is _HOURS:
        step = max(step, 3600)
    asked: dict[str, int | dt.datetime] = {
        "step": step,
        "channel": channel.pk,
        "first": first,
        "last": last,
    }
    with connection.cursor() as cursor:
        cursor.execute(query, asked)
        rows = cursor.fetchall()
    table = np.array([[float(cell) for cell in row] for row in rows]).reshape(-1, 5)
    return SeriesPoints(
        step,
        table[:, 0].astype(np.int64),
        table[:, 1] - channel.offset,
        table[:, 2] - channel.offset,
        table[:, 3] - channel.offset,
        int(table[:, 4].sum()),
    )


def values_of(channel: Channel, first: dt.datetime, last: dt.datetime) -> tuple[Seconds, Values]:
    """The values that are judged, corrected: samples of a short time, hours of a long one."""
    if last - first <= dt.timedelta(days=32):
        rows = channel.samples.filter(at__gte=first, at__lt=last).order_by("at")
        pairs = [(at.timestamp(), value) for at, value in rows.values_list("at", "value")]
    else:
        hours = channel.hours.filter(hour__gte=first, hour__lt=last).order_by("hour")
        pairs = [(at.timestamp(), value) for at, value in hours.values_list("hour", "mean")]
    table = np.array(pairs, dtype=np.float64).reshape(-1, 2)
    return table[:, 0].astype(np.int64), table[:, 1] - channel.offset
