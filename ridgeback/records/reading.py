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
_SAMPLE_VALUES = """
    SELECT array_agg(extract(epoch FROM at)::bigint ORDER BY at), array_agg(value ORDER BY at)
    FROM records_sample WHERE channel_id = %s AND at >= %s AND at < %s
"""
_HOUR_VALUES = """
    SELECT array_agg(extract(epoch FROM hour)::bigint ORDER BY hour),
        array_agg(mean ORDER BY hour), array_agg(low ORDER BY hour),
        array_agg(high ORDER BY hour), coalesce(sum(count), 0)
    FROM records_hour WHERE channel_id = %s AND hour >= %s AND hour < %s
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
    """Every sample from a moment to another, corrected."""
    with connection.cursor() as cursor:
        cursor.execute(_SAMPLE_VALUES, [channel.pk, first, last])
        at_s, values = cursor.fetchone()
    return _seconds(at_s), np.array(values or [], dtype=np.float64) - channel.offset


def hours_of(channel: Channel, first: dt.datetime, last: dt.datetime) -> SeriesPoints:
    """Every hour from a moment to another, corrected."""
    with connection.cursor() as cursor:
        cursor.execute(_HOUR_VALUES, [channel.pk, first, last])
        at_s, *parts, count = cursor.fetchone()
    mean, low, high = (np.array(one or [], dtype=np.float64) - channel.offset for one in parts)
    return SeriesPoints(3600, _seconds(at_s), mean, low, high, int(count))


def _seconds(rows: list[int] | None) -> Seconds:
    return np.array(rows or [], dtype=np.int64)
