"""Guessing passwords is slowed down, by address and source; nobody is locked out.

After a few wrong passwords for one address from one source, that source waits before its next try,
twice as long each time up to a minute. Other sources, the owner's among them, are not touched. The
counts are in the database's cache, so that every web process counts alike.
"""

import hashlib
import time
from typing import NamedTuple

from django.core.cache import cache

FREE_TRIES = 5
"""Wrong passwords before the first wait (design choice) [1]."""
FIRST_WAIT_S, LONGEST_WAIT_S = 2.0, 60.0
REMEMBERED_S = 15 * 60
"""After so long without a try from there everything is forgotten (design choice) [s]."""


class FailedSignIns(NamedTuple):
    """Wrong passwords for one address from one source."""

    number: int
    last_s: float
    """When the last one was, in the clock of `time.time`."""


def _now_s() -> float:
    """The clock that waits are counted by [s]."""
    return time.time()


def _key(address: str, source: str) -> str:
    digest = hashlib.sha256(f"{address.strip().lower()} {source}".encode()).hexdigest()
    return f"wrong-password-{digest}"


def wait_after(tries: int) -> float:
    """Find how long a source waits after so many wrong passwords [s].

    >>> [wait_after(tries) for tries in (4, 5, 6, 9, 10, 50)]
    [0.0, 2.0, 4.0, 32.0, 60.0, 60.0]
    """
    if tries < FREE_TRIES:
        return 0.0
    return min(LONGEST_WAIT_S, FIRST_WAIT_S * 2.0 ** min(tries - FREE_TRIES, 10))


def seconds_to_wait(address: str, source: str) -> int:
    """Find how long a source still has to wait before it may try an address [s]."""
    known: FailedSignIns | None = cache.get(_key(address, source))
    if known is None:
        return 0
    number, last_s = known
    left = last_s + wait_after(number) - _now_s()
    return max(0, round(left + 0.5)) if left > 0 else 0


def note_wrong(address: str, source: str) -> None:
    """Note a wrong password."""
    key = _key(address, source)
    known: FailedSignIns | None = cache.get(key)
    number = (known[0] if known else 0) + 1
    cache.set(key, FailedSignIns(number, _now_s()), REMEMBERED_S)


def forget(address: str, source: str) -> None:
    """Forget wrong passwords: the right one came, or a new one was set by email."""
    cache.delete(_key(address, source))
