"""Pages of logger files: those of an enclosure, one that is sent, its columns, its import, and back."""

import csv
import io
from typing import Any

from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_http_methods, require_POST

from husbandry.errors import DocumentError
from husbandry.records.logger_file import sentences
from husbandry.records.logger_layout import LoggerLayout
from ridgeback.clock import now
from ridgeback.enclosures.access import own_enclosure
from ridgeback.enclosures.models import Enclosure
from ridgeback.households.middleware import KeeperRequest
from ridgeback.records import flows
from ridgeback.records.forms import ColumnsForm, FileForm
from ridgeback.records.models import LoggerFile
from ridgeback.records.places import places_drawing

SHOWN_LINES = 5
"""Lines of a file that are shown beside what was understood (design choice)."""


@require_http_methods(["GET", "HEAD", "POST"])
def files(request: KeeperRequest, pk: int) -> HttpResponse:
    """The logger files of an enclosure; a new one."""
    enclosure = own_enclosure(request, pk)
    form = FileForm()

    if request.method == "POST":
        sent, posted = (
            request.POST,
            request.FILES,
        )  # read first: the upload says if it is too large

        form = FileForm(sent, posted, too_large=bool(request.META.get("ridgeback.too_large")))

        if form.is_valid():
            made = _sent(request, enclosure, form)
            if made is not None:
                return redirect("records:file", pk=made.pk)

    listed = flows.files_of(enclosure.household, enclosure)
    context = {"enclosure": enclosure, "form": form, "files": listed}

    return render(request, "records/files.html", context)


def _sent(request: KeeperRequest, enclosure: Enclosure, form: FileForm) -> LoggerFile | None:
    """The file as it is kept; None with the reason on the form."""
    file = form.cleaned_data["file"]
    try:
        return flows.send(
            enclosure, file.read(), name=file.name or "file", keeper=request.user, now=now()
        )
    except DocumentError as why:
        form.add_error("file", f"{why.what}: {'; '.join(sentences(why))}.")
        return None


def _own_file(request: KeeperRequest, pk: int) -> LoggerFile:
    rows = LoggerFile.objects.of(request.household).select_related("enclosure", "household")
    return get_object_or_404(rows, pk=pk)


@require_http_methods(["GET", "HEAD", "POST"])
def logger_file(request: KeeperRequest, pk: int) -> HttpResponse:
    """One file: what was understood, how far its import is, what came of it."""
    file = _own_file(request, pk)
    context: dict[str, Any] = {"file": file, "enclosure": file.enclosure}

    if file.state == LoggerFile.State.ASKED:
        homes = list(Enclosure.objects.of(request.household).in_use().order_by("name"))
        form = ColumnsForm(request.POST or None, file=file, enclosures=homes)
        if form.is_bound and form.is_valid():
            flows.answer(file, form.cleaned_data["layout"], form.cleaned_data["answers"])
            return redirect("records:file", pk=pk)
        layout = LoggerLayout.model_validate(file.layout)
        text = flows.text_of(file)
        context |= {
            "form": form,
            "lines": first_lines(text, layout),
            "count": max(0, text.count("\n") - layout.first_line + 2),
            "again": flows.sent_before(file),
            "place_drawing": places_drawing(
                own_enclosure(request, file.enclosure_id), now(), request.units
            ),
        }

    template = "records/file_state.html" if request.htmx else "records/file.html"

    return render(request, template, context)


def first_lines(text: str, layout: LoggerLayout) -> list[list[str]]:
    """The first lines with values, cell by cell."""
    head = "\n".join(text.splitlines()[: layout.first_line + 40])
    reader = csv.reader(io.StringIO(head), delimiter=layout.delimiter)
    rows = [row for row in reader if reader.line_num >= layout.first_line and any(row)]

    return [[cell[:30] for cell in row[: len(layout.columns)]] for row in rows[:SHOWN_LINES]]


@require_POST
def stop(request: KeeperRequest, pk: int) -> HttpResponse:
    """Give up a file that is not imported yet."""
    file = _own_file(request, pk)
    if flows.stop(file):
        messages.success(request, "Stopped. Nothing of the file was imported.")
        return redirect("records:files", pk=file.enclosure_id)
    messages.error(request, "It is imported already: take it back below.")

    return redirect("records:file", pk=pk)


@require_POST
def take_back(request: KeeperRequest, pk: int) -> HttpResponse:
    """Delete what came in a file."""
    file = _own_file(request, pk)
    gone = flows.take_back(file)
    messages.success(request, f"Taken back: {gone:,} values were deleted.")

    return redirect("records:files", pk=file.enclosure_id)
