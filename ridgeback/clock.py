"""The only clock of the application: the present moment, and the day it is somewhere.

A day is always the day of a room or of a household (`Room.day_of`, `Household.day_of`): the
server's
own day is nobody's. `tests/web/test_clock.py` refuses every other way to ask for the time.
"""

import datetime as dt
import zoneinfo

from django.utils import timezone

WESTERNMOST = dt.timezone(dt.timedelta(hours=-12))
"""Where a day begins last (from memory: UTC-12)."""


def now() -> dt.datetime:
    """Read the clock: the present moment, in UTC."""
    return timezone.now()


def local(moment: dt.datetime, zone: str) -> dt.datetime:
    """Put a moment into the time of a zone."""
    return moment.astimezone(zoneinfo.ZoneInfo(zone))


def day_in(zone: str, moment: dt.datetime) -> dt.date:
    """Find the date in a zone at a moment."""
    return local(moment, zone).date()


def midnight(zone: str, moment: dt.datetime) -> dt.datetime:
    """Find the beginning of the day in a zone at a moment."""
    return local(moment, zone).replace(hour=0, minute=0, second=0, microsecond=0)


def start_of(zone: str, day: dt.date) -> dt.datetime:
    """Find the moment at which a day begins in a zone."""
    return dt.datetime.combine(day, dt.time(), zoneinfo.ZoneInfo(zone))


def earliest_day(moment: dt.datetime) -> dt.date:
    """Find the earliest date that it is anywhere: for windows wide enough for every room."""
    return moment.astimezone(WESTERNMOST).date()
