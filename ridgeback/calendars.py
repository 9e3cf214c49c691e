"""Calendars of whole days, for calendar programs."""

import datetime as dt

import icalendar
from django.http import HttpResponse


def calendar(product: str) -> icalendar.Calendar:
    """An empty calendar of one of our kinds."""
    made = icalendar.Calendar()
    made.add("prodid", f"-//Ridgeback//{product}//EN")
    made.add("version", "2.0")
    return made


def whole_days(
    uid: str, first: dt.date, after: dt.date, summary: str, description: str, *, stamp: dt.datetime
) -> icalendar.Event:
    """Something on whole days, from the first to the one before `after`; it blocks no hours.

    Parameters
    ----------
    uid : str
        The same for the same thing whenever it is written: programs replace by it.
    """
    event = icalendar.Event()
    event.add("uid", f"{uid}@ridgeback")
    event.add("dtstamp", stamp)
    event.add("dtstart", first)
    event.add("dtend", max(after, first + dt.timedelta(days=1)))
    event.add("transp", "TRANSPARENT")
    event.add("summary", summary)
    event.add("description", description)
    return event


def answer(made: icalendar.Calendar, headers: dict[str, str]) -> HttpResponse:
    """The calendar as it is sent."""
    return HttpResponse(
        made.to_ical(), content_type="text/calendar; charset=utf-8", headers=headers
    )
