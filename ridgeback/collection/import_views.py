"""Taking in a keeper's table: what was understood is shown before anything is written."""

import re
from typing import Any

from django.contrib import messages
from django.http import Http404, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render

from husbandry.enclosure.catalogue import CATALOGUE
from husbandry.errors import EntryError
from husbandry.intake.table import TableLine, TableRead, read_table
from husbandry.quantity import Kind, show
from ridgeback.clock import now
from ridgeback.collection.forms import TableForm, species_index
from ridgeback.collection.intake import take_in
from ridgeback.collection.views import get_or_post, household_of
from ridgeback.households.middleware import KeeperRequest
from ridgeback.households.models import Household

ANSWER = re.compile(r"answer-(\d{1,5})-(\w{1,12})")
"""Name of the field that answers a question about a line: its number and the column."""
SHOWN_MOST = 60
"""Lines that are clear are shown up to so many (design choice)."""
LINE_FIELDS = (
    "number",
    "name",
    "count",
    "species",
    "common_name",
    "sex",
    "born_on",
    "enclosure",
    "state",
    "asked",
    "refused",
)
"""What the page shows of a line as it is."""


@get_or_post
def import_table(request: KeeperRequest) -> HttpResponse:
    """Read a table line by line, show what was understood, and take in what is clear."""
    household = household_of(request)
    files = request.FILES if request.method == "POST" else None
    posted_data = request.POST if request.method == "POST" else None
    form = TableForm(posted_data, files, household=household)
    read: TableRead | None = None
    if form.is_bound and form.is_valid():
        read = _read(request, form)
        if read is not None and request.POST.get("take_in"):
            return _taken_in(request, household, form, read)
    context: dict[str, Any] = {"form": form, "has_room": household.rooms.exists()}
    if read is not None:
        context |= _as_read(request, read)
    return render(request, "collection/import.html", context)


def _answers(request: KeeperRequest) -> list[tuple[int, str, str]]:
    """What was said to questions about lines: the line, the column, the answer."""
    found = []
    for name, value in request.POST.items():
        match = ANSWER.fullmatch(name)
        if match is not None and isinstance(value, str) and value:
            found.append((int(match[1]), match[2], value[:80]))
    return found


def _as_read(request: KeeperRequest, read: TableRead) -> dict[str, Any]:
    """The table line by line, what needs an answer first; of what is clear the first lines."""
    clear = read.of("understood")
    doubtful = (*read.of("asked"), *read.of("refused"))
    shown = (*doubtful, *clear[:SHOWN_MOST])
    return {
        "read": read,
        "understood": clear,
        "asked": read.of("asked"),
        "refused": read.of("refused"),
        "shown": [_line_row(line, request) for line in shown],
        "hidden_lines": len(clear) - len(clear[:SHOWN_MOST]),
        "left_columns": [head for head, column in read.columns if head and not column],
        "answered": _answers(request),
    }


def _line_row(line: TableLine, request: KeeperRequest) -> dict[str, Any]:
    """A line as the page shows it, in the reader's units."""
    length = None if line.length_mm is None else line.length_mm / 1000
    return {
        **{name: getattr(line, name) for name in LINE_FIELDS},
        "mass": "" if line.mass_g is None else show(line.mass_g, Kind.MASS, request.units),
        "length": "" if length is None else show(length, Kind.LENGTH, request.units),
    }


def _read(request: KeeperRequest, form: TableForm) -> TableRead | None:
    """The table as it is understood; None with the error on the form."""
    cleaned = form.cleaned_data
    answers = {(number, column): value for number, column, value in _answers(request)}
    try:
        read = read_table(
            cleaned["table"],
            species_index(),
            household_of(request).day_of(now()),
            units=request.units,
            order=cleaned["order"] or None,
            answers=answers,
        )
    except EntryError as why:
        form.add_error("table", str(why))
        return None
    # A file is carried on as text, so that it need not be chosen again.
    form.data = {**request.POST.dict(), "table": cleaned["table"]}
    return read


def _taken_in(
    request: KeeperRequest, household: Household, form: TableForm, read: TableRead
) -> HttpResponse:
    cleaned = form.cleaned_data
    rooms = household.rooms.all()
    room = get_object_or_404(rooms, pk=cleaned["room"]) if cleaned["room"] else rooms.first()
    if room is None:
        raise Http404
    found = take_in(
        household,
        request.user,
        read.of("understood"),
        room=room,
        shape=cleaned["shape"] or next(iter(CATALOGUE)),
        now=now(),
        key=cleaned["form_key"],
    )
    said = [
        f"{found.animals} animals",
        f"{found.enclosures} enclosures",
        f"{found.weights} weights",
    ]
    messages.success(request, f"Taken in: {', '.join(said)}. {found.known} were known already.")
    if found.moved_nowhere:
        names = ", ".join(found.moved_nowhere[:8])
        messages.warning(
            request,
            f"{names}: not put where the table says. They live elsewhere, or it is full: move them on"
            " their own pages.",
        )
    left = len(read.of("asked")) + len(read.of("refused"))
    if left:
        messages.warning(request, f"{left} lines were left out: they were not clear.")
    return redirect("animals:list")
