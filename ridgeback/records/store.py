"""Writing samples in bulk, and the sums by the hour that follow from them.

Samples go in by COPY in PostgreSQL's binary form, made by numpy. A sample that is there already
stays as it is: a file twice adds nothing.
"""

import datetime as dt

import numpy as np
from django.db import connection, transaction
from numpy.typing import NDArray

from ridgeback.records.models import Channel

Seconds = NDArray[np.int64]
Values = NDArray[np.float64]
EPOCH_2000_S = 946_684_800
"""PostgreSQL counts from 2000 (source: PostgreSQL, COPY, binary format) [s]."""
MONTHS_LOCK = 0x5A3D1E
"""Key of the lock under which a month gets its table: two devices may be its first at once."""
MOST_MONTHS = 600
"""In which the samples of one write may lie (design choice)."""
_HEAD = b"PGCOPY\n\xff\r\n\0" + b"\0" * 8
_END = b"\xff\xff"
_ROW = np.dtype(
    [
        ("fields", ">i2"),
        ("l_channel", ">i4"),
        ("channel", ">i8"),
        ("l_at", ">i4"),
        ("at", ">i8"),
        ("l_value", ">i4"),
        ("value", ">f8"),
        ("l_file", ">i4"),
        ("file", ">i8"),
    ]
)
_ROW_WITHOUT_FILE = np.dtype([(one[0], one[1]) for one in _ROW.descr[:-1]])
_NULL = -1
_COLUMNS = "(channel_id, at, value, file)"
_HOURS = """
    INSERT INTO records_hour (channel_id, hour, count, mean, low, high)
    SELECT channel_id, date_trunc('hour', at, 'UTC'), count(*), avg(value), min(value), max(value)
    FROM records_sample WHERE channel_id = %s AND at >= %s AND at < %s
    GROUP BY 1, 2
    ON CONFLICT (channel_id, hour) DO UPDATE SET
        count = excluded.count, mean = excluded.mean, low = excluded.low, high = excluded.high
"""


def moment(seconds: int) -> dt.datetime:
    """A second since 1970 as a moment."""
    return dt.datetime.fromtimestamp(seconds, dt.UTC)


def ensure_months(*times: Seconds) -> None:
    """Make the tables of the months in which some samples lie; those that are there stay.

    In a transaction of its own where none is open: making a table locks the others for a moment.

    Parameters
    ----------
    times : arrays
        Seconds since 1970.

    Raises
    ------
    ValueError
        For more months than anybody has logged.
    """
    whole = [np.unique(one.astype("datetime64[s]").astype("datetime64[M]")) for one in times]
    months = np.unique(np.concatenate(whole)) if whole else np.zeros(0, dtype="datetime64[M]")
    if len(months) > MOST_MONTHS:
        raise ValueError(f"these samples lie in {len(months)} months: look at the clock")

    missing = _missing(months)
    if not missing:
        return

    with transaction.atomic(), connection.cursor() as cursor:
        cursor.execute("SELECT pg_advisory_xact_lock(%s)", [MONTHS_LOCK])
        for month in _missing(months):  # somebody else may have been faster
            cursor.execute(
                f"CREATE TABLE IF NOT EXISTS {_table_of(month)} PARTITION OF records_sample"
                f" FOR VALUES FROM ('{month}-01T00:00:00Z') TO ('{month + 1}-01T00:00:00Z')"
            )


def _table_of(month: np.datetime64) -> str:
    return f"records_sample_{str(month).replace('-', '_')}"


def _missing(months: NDArray[np.datetime64]) -> list[np.datetime64]:
    """Months without a table: by the catalogue, for `to_regclass` may remember what was not there."""
    with connection.cursor() as cursor:
        names = [_table_of(month) for month in months]
        cursor.execute("SELECT relname FROM pg_class WHERE relname = ANY(%s)", [names])
        found = {row[0] for row in cursor.fetchall()}
    return [month for month in months if _table_of(month) not in found]


def binary_rows(channel: int, at_s: Seconds, values: Values, file: int | None) -> bytes:
    """Samples as PostgreSQL's COPY reads them in binary form."""
    rows = np.empty(len(at_s), dtype=_ROW if file is not None else _ROW_WITHOUT_FILE)
    rows["fields"] = 4
    rows["l_channel"] = rows["l_at"] = rows["l_value"] = 8
    rows["channel"] = channel
    rows["at"] = (at_s - EPOCH_2000_S) * 1_000_000
    rows["value"] = values
    rows["l_file"] = _NULL if file is None else 8
    if file is not None:
        rows["file"] = file
    return _HEAD + rows.tobytes() + _END


@transaction.atomic
def write_samples(channel: Channel, at_s: Seconds, values: Values, file: int | None) -> int:
    """Write samples of a channel and bring its hours up to date; how many were new.

    Parameters
    ----------
    at_s : array
        Seconds since 1970, rising, each once; their months exist (`ensure_months`).
    values : array
        In the quantity's own unit, as the instrument showed them.
    """
    if not len(at_s):
        return 0
    first, last = moment(int(at_s[0])), moment(int(at_s[-1]))
    body = binary_rows(channel.pk, at_s, values, file)

    with connection.cursor() as cursor:
        cursor.execute("SELECT 1 FROM records_channel WHERE id = %s FOR UPDATE", [channel.pk])
        cursor.execute(
            "SELECT EXISTS (SELECT 1 FROM records_sample"
            " WHERE channel_id = %s AND at BETWEEN %s AND %s)",
            [channel.pk, first, last],
        )

        if not cursor.fetchone()[0]:
            _copy(cursor, "records_sample", body)
            new = len(at_s)
        else:
            cursor.execute("CREATE TEMP TABLE incoming (LIKE records_sample) ON COMMIT DROP")
            _copy(cursor, "incoming", body)
            cursor.execute(
                f"INSERT INTO records_sample {_COLUMNS} SELECT channel_id, at, value, file"
                " FROM incoming ON CONFLICT DO NOTHING"
            )

            new = cursor.rowcount
            cursor.execute("DROP TABLE incoming")

    if new:
        sum_hours(channel, first, last)
        _mark_last(channel, last, float(values[-1]))
    return new


def _copy(cursor: object, table: str, body: bytes) -> None:
    raw = cursor.cursor  # type: ignore[attr-defined]  # psycopg's own, under Django's
    with raw.copy(f"COPY {table} {_COLUMNS} FROM STDIN (FORMAT BINARY)") as copy:
        copy.write(body)


def _mark_last(channel: Channel, at: dt.datetime, value: float) -> None:
    """Keep the latest sample beside the channel: lists show it without reading samples."""
    known = Channel.objects.filter(pk=channel.pk)
    later = known.filter(last_at__isnull=True) | known.filter(last_at__lt=at)
    later.update(last_at=at, last_value=value)


def sum_hours(channel: Channel, first: dt.datetime, last: dt.datetime) -> None:
    """Sum the hours from one moment to another anew."""
    begin = first.replace(minute=0, second=0, microsecond=0)
    end = last.replace(minute=0, second=0, microsecond=0) + dt.timedelta(hours=1)
    with connection.cursor() as cursor:
        cursor.execute(_HOURS, [channel.pk, begin, end])


@transaction.atomic
def remove_file(file: int, channels: list[Channel], first: dt.datetime, last: dt.datetime) -> int:
    """Delete the samples that came in a file, and sum their hours anew; how many they were."""
    gone = 0
    begin = first.replace(minute=0, second=0, microsecond=0)

    for channel in channels:
        with connection.cursor() as cursor:
            cursor.execute(
                "DELETE FROM records_sample"
                " WHERE channel_id = %s AND at BETWEEN %s AND %s AND file = %s",
                [channel.pk, first, last, file],
            )

            gone += cursor.rowcount
            cursor.execute(
                "DELETE FROM records_hour WHERE channel_id = %s AND hour BETWEEN %s AND %s",
                [channel.pk, begin, last],
            )

        sum_hours(channel, first, last)
        latest = channel.samples.order_by("-at").values_list("at", "value").first()
        at, value = latest if latest is not None else (None, None)
        Channel.objects.filter(pk=channel.pk).update(last_at=at, last_value=value)

    return gone


@transaction.atomic
def drop_months(before: dt.date) -> list[str]:
    """Drop the samples of whole months that end before a day; their sums by the hour stay."""
    with connection.cursor() as cursor:
        cursor.execute(
            "SELECT inhrelid::regclass::text FROM pg_inherits"
            " WHERE inhparent = 'records_sample'::regclass ORDER BY 1"
        )
        names = [row[0] for row in cursor.fetchall()]
        last = f"records_sample_{before:%Y_%m}"
        old = [name for name in names if name < last]

        for name in old:
            cursor.execute(f"DROP TABLE {connection.ops.quote_name(name)}")

    return old
