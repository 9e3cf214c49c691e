"""The samples of a channel as text, to be taken along and in again without loss."""

import io

import numpy as np
from django.db import connection

from ridgeback.records.models import Channel
from ridgeback.records.store import ensure_months, write_samples

_OUT = (
    "COPY (SELECT extract(epoch FROM at)::bigint, value FROM records_sample"
    " WHERE channel_id = {channel} ORDER BY at) TO STDOUT (FORMAT CSV)"
)


def samples_csv(channel: Channel) -> bytes:
    """Every sample of a channel: seconds since 1970 and the value, a line each."""
    out = io.BytesIO()

    with connection.cursor() as cursor:
        raw = cursor.cursor
        with raw.copy(_OUT.format(channel=int(channel.pk))) as copy:
            for part in copy:
                out.write(bytes(part))

    return out.getvalue()


def take_in_csv(channel: Channel, body: bytes) -> int:
    """Take in what `samples_csv` wrote; how many they were.

    Raises
    ------
    ValueError
        For lines that are not two finite numbers.
    """
    if not body.strip():
        return 0
    table = np.loadtxt(io.BytesIO(body), delimiter=",", ndmin=2, dtype=np.float64)
    if table.shape[1] != 2 or not np.isfinite(table).all():
        raise ValueError("samples are a time and a value each")
    at_s, firsts = np.unique(table[:, 0].astype(np.int64), return_index=True)
    ensure_months(at_s)

    return write_samples(channel, at_s, table[firsts, 1], None)
