"""Clocks to run the web tests by: `RIDGEBACK_TEST_CLOCK=sydney ./test web`, or `./test clocks`.

The time runs on from the moment named here, and the demo household stands in its zone.
"""

import datetime as dt
import os
from typing import NamedTuple

import pytest
from django.utils import timezone

from ridgeback import clock
from ridgeback.demo import household as demo


class Clock(NamedTuple):
    """A moment at which the day of a household is not the server's."""

    start: dt.datetime
    zone: str


CLOCKS = {
    "afternoon": Clock(dt.datetime(2026, 11, 26, 14, 10, tzinfo=dt.UTC), demo.ZONE),
    "sydney": Clock(dt.datetime(2026, 7, 14, 23, 20, tzinfo=dt.UTC), "Australia/Sydney"),
    "los-angeles": Clock(dt.datetime(2026, 7, 15, 5, 0, tzinfo=dt.UTC), "America/Los_Angeles"),
}


def chosen() -> Clock | None:
    """The clock of this run: an afternoon, so that no test depends on the hour; None for the
    machine's own.
    """
    name = os.environ.get("RIDGEBACK_TEST_CLOCK", "afternoon")
    return CLOCKS[name] if name else None


def is_named() -> bool:
    """Whether this run asked for a clock of its own."""
    return bool(os.environ.get("RIDGEBACK_TEST_CLOCK"))


def today() -> dt.date:
    """The day of the demo household by the clock of this run, also where tests are collected."""
    named = chosen()
    if named is None:
        return clock.day_in(demo.ZONE, timezone.now())
    return clock.day_in(named.zone, named.start)


def set_clock(monkeypatch: pytest.MonkeyPatch, to: Clock) -> None:
    """Let Django's clock, the only one that is read, run from a moment."""
    begun = timezone.now()
    true_now = timezone.now
    monkeypatch.setattr(timezone, "now", lambda: to.start + (true_now() - begun))
