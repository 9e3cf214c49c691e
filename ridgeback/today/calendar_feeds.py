"""The tasks of the weeks to come as a calendar: an address that a calendar program reads, and that
can be taken away.
"""

import datetime as dt
import hashlib
import secrets
from functools import partial
from typing import Any

import icalendar
from django import forms
from django.contrib import messages
from django.contrib.auth.decorators import login_not_required
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.views.decorators.cache import never_cache
from django.views.decorators.http import require_http_methods, require_POST, require_safe

from husbandry.errors import ImpossibleStateError
from husbandry.quantity import METRIC, Units
from husbandry.tasks.kinds import TASK_KINDS
from husbandry.tasks.task import Task
from ridgeback.breeding.views import clutches_of
from ridgeback.calculation import Failed, attempt
from ridgeback.calendars import answer, calendar, whole_days
from ridgeback.clock import now
from ridgeback.households.middleware import KeeperRequest
from ridgeback.households.models import Household
from ridgeback.tasks.due_tasks import Due, gather
from ridgeback.today.models import CalendarFeed
from ridgeback.today.week import words_of
from ridgeback.today.wording import said_of

DAYS = 28
SECRET_BYTES = 24
MOST = 20


class FeedForm(forms.Form):
    """For whom, and of which room."""

    name = forms.CharField(
        label="For",
        max_length=80,
        widget=forms.TextInput(attrs={"placeholder": "the sitter, my phone"}),
    )
    room = forms.ChoiceField(label="Of", required=False)

    def __init__(self, *args: Any, household: Household, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        rooms = [(str(room.pk), room.name) for room in household.rooms.all()]
        self.fields["room"].choices = [("", "every room"), *rooms]  # type: ignore[attr-defined]  # a choice field


def _hash(secret: str) -> str:
    return hashlib.sha256(secret.encode("utf-8", "surrogatepass")).hexdigest()


@never_cache
@require_http_methods(["GET", "HEAD", "POST"])
def feeds(request: KeeperRequest) -> HttpResponse:
    """The addresses of a household; a new one is shown once."""
    household = request.household
    if household is None:
        return redirect("enclosures:list")
    form, shown = (
        FeedForm(request.POST if request.method == "POST" else None, household=household),
        "",
    )
    if form.is_bound and form.is_valid():
        if CalendarFeed.objects.filter(household=household).count() >= MOST:
            form.add_error("name", f"There are {MOST} already: take one away first.")
        else:
            secret = secrets.token_urlsafe(SECRET_BYTES)
            room = form.cleaned_data["room"]
            CalendarFeed.objects.create(
                household=household,
                room_id=int(room) if room else None,
                name=form.cleaned_data["name"],
                secret_hash=_hash(secret),
                made_at=now(),
                made_by=request.user,
            )
            shown = request.build_absolute_uri(reverse("today:feed", args=[secret]))
            form = FeedForm(household=household)
    return render(
        request,
        "today/calendar_feeds.html",
        {
            "form": form,
            "feeds": CalendarFeed.objects.filter(household=household).select_related("room"),
            "shown": shown,
        },
    )


@require_POST
def delete_feed(request: KeeperRequest, pk: int) -> HttpResponse:
    """Take an address away: calendars that read it get nothing any more."""
    get_object_or_404(CalendarFeed, household=request.household, pk=pk).delete()
    messages.success(request, "Deleted: that address no longer answers.")
    return redirect("today:feeds")


@login_not_required
@require_safe
def feed(request: HttpRequest, secret: str) -> HttpResponse:
    """The calendar behind an address; for nobody else's secret there is none."""
    known = (
        CalendarFeed.objects.filter(secret_hash=_hash(secret))
        .select_related("household", "room")
        .first()
    )
    if known is None:
        raise Http404
    due_lists = [
        due
        for due in gather(known.household, now())
        if known.room_id is None or due.enclosure.room_id == known.room_id
    ]
    made = calendar_of(
        due_lists, f"{known.household.name}{f', {known.room.name}' if known.room else ''}", METRIC
    )
    if known.room_id is None:
        _hatching(made, known.household)
    return answer(made, {"Cache-Control": "no-store"})


def calendar_of(due_lists: list[Due], name: str, units: Units) -> icalendar.Calendar:
    """Whole-day events for everything that does not come every day, four weeks ahead, if everything
    is done on its day.
    """
    made = calendar("round")
    made.add("x-wr-calname", name)
    made.add("refresh-interval", dt.timedelta(hours=6), parameters={"VALUE": "DURATION"})
    stamp = now()
    for due in due_lists:
        events = attempt(partial(_events, due, stamp, units), "enclosure", due.enclosure.pk)
        failed = events if isinstance(events, Failed) else due.failed
        for event in [] if isinstance(events, Failed) else events:
            made.add_component(event)
        if failed is not None:
            made.add_component(_failed_event(due, failed, stamp))
    return made


def _events(due: Due, stamp: dt.datetime, units: Units) -> list[icalendar.Event]:
    """Everything in an enclosure that is not due every day."""
    return [
        _event(due, task, day, stamp, units)
        for day, tasks in due.ahead(DAYS)
        for task in tasks
        if not TASK_KINDS[task.kind].daily
    ]


def _failed_event(due: Due, failed: Failed, stamp: dt.datetime) -> icalendar.Event:
    """An enclosure that cannot be calculated is said today, so that nobody waits for its tasks."""
    uid = f"{due.enclosure.pk}-not-calculated-{due.today.isoformat()}"
    title = f"{due.enclosure.name}: cannot be calculated"
    return whole_days(uid, due.today, due.today, title, failed.text, stamp=stamp)


def _hatching(made: icalendar.Calendar, household: Household) -> None:
    """The windows of clutches that go on."""
    for one in clutches_of(household, household.day_of(now())):
        what = "may be born" if one.clutch.carried else "may hatch"
        after = one.window.late + dt.timedelta(days=1)
        made.add_component(
            whole_days(
                f"clutch-{one.clutch.pk}",
                one.window.early,
                after,
                f"{one.title} {what}",
                one.when,
                stamp=now(),
            )
        )


def _event(
    due: Due, task: Task, day: dt.date, stamp: dt.datetime, units: Units
) -> icalendar.Event:
    if due.routines is None:
        raise ImpossibleStateError("else nothing would be ahead of it")
    animal = due.animal_of(task)
    said = said_of(task, due.routines, due.weighed_on(task), due.today, units)
    uid = f"{due.enclosure.pk}-{animal.pk if animal else 0}-{task.stem.replace(' ', '-')}-{day.isoformat()}"
    more = f"{said.title}. {said.small}" if said.small else said.title
    return whole_days(
        uid, day, day, f"{due.enclosure.name}: {words_of(task, due)[1]}", more, stamp=stamp
    )
