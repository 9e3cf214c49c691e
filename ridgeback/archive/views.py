"""A household as one file: asked for, fetched, and taken in again."""

import datetime as dt
from typing import Any

from django import forms
from django.contrib import messages
from django.http import Http404, HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_http_methods

from ridgeback.archive.reading import ArchiveError, restore, take_in_animal
from ridgeback.clock import now
from ridgeback.exchange.uploads import ARCHIVE_BYTES
from ridgeback.fields import day_field
from ridgeback.households.middleware import CHOSEN, KeeperRequest
from ridgeback.posting import plain_words
from ridgeback.submissions.flows import sent_once
from ridgeback.submissions.forms import OnceForm


class RestoreForm(OnceForm):
    """The file."""

    file = forms.FileField(
        label="The zip of a household",
        required=False,
        widget=forms.FileInput(attrs={"accept": ".zip,application/zip"}),
    )

    def __init__(self, *args: Any, too_large: bool = False, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.too_large = too_large

    def clean_file(self) -> bytes:
        """What was sent."""
        if self.too_large:
            raise forms.ValidationError(f"This file is larger than {ARCHIVE_BYTES / 1e6:g} MB.")
        file = self.cleaned_data["file"]
        if not file:
            raise forms.ValidationError("Choose the file.")
        body: bytes = file.read()
        return body


@require_http_methods(["GET", "HEAD", "POST"])
def archive_page(request: KeeperRequest) -> HttpResponse:
    """Export the household; import another."""
    if request.household is None:
        raise Http404
    form = RestoreForm()
    if request.method == "POST":
        sent, files = request.POST, request.FILES  # read first: the upload says if it is too large
        too_large = bool(request.META.get("ridgeback.too_large"))
        form = RestoreForm(sent, files, too_large=too_large)
        if form.is_valid():
            answer = _restored(request, form)
            if answer is not None:
                return answer
    return render(request, "archive/archive.html", {"form": form})


class TakeInForm(RestoreForm):
    """The file of an animal, what it is called here, and when it came."""

    name = forms.CharField(
        label="Name here", max_length=70, required=False, help_text="Left empty: as in the file."
    )
    came_on = day_field("Came here on", help_text="Its quarantine counts from that day.")

    def __init__(self, *args: Any, today: dt.date, **kwargs: Any) -> None:
        kwargs.setdefault("initial", {"came_on": today})
        super().__init__(*args, **kwargs)
        self.fields["file"].label = "The zip of the animal"
        self.today = today

    def clean_name(self) -> str:
        """One line of words."""
        return plain_words(self.cleaned_data["name"], 70)

    def clean_came_on(self) -> dt.date:
        """Not to come."""
        day: dt.date = self.cleaned_data["came_on"]
        if day > self.today:
            raise forms.ValidationError("This day is still to come.")
        return day


@require_http_methods(["GET", "HEAD", "POST"])
def take_in(request: KeeperRequest) -> HttpResponse:
    """Take in an animal that somebody hands over."""
    household = request.household
    if household is None:
        raise Http404
    at = now()
    form = TakeInForm(today=household.day_of(at))
    if request.method == "POST":
        sent, files = request.POST, request.FILES  # read first: the upload says if it is too large
        too_large = bool(request.META.get("ridgeback.too_large"))
        form = TakeInForm(sent, files, today=household.day_of(at), too_large=too_large)
        if form.is_valid():
            cleaned = form.cleaned_data
            try:
                with sent_once(household.pk, cleaned["form_key"]) as first:
                    if not first:
                        return redirect("animals:list")
                    made = take_in_animal(
                        cleaned["file"],
                        household,
                        request.user,
                        name=cleaned["name"],
                        came_on=cleaned["came_on"],
                        now=at,
                    )
            except ArchiveError as why:
                form.add_error("file", str(why))
            else:
                messages.success(
                    request, f"{made.name} is here with its history. It lives in no enclosure yet."
                )
                return redirect("animals:page", pk=made.pk)
    return render(request, "archive/take_in.html", {"form": form})


def _restored(request: KeeperRequest, form: RestoreForm) -> HttpResponse | None:
    if request.household is None:
        raise Http404
    try:
        with sent_once(request.household.pk, form.cleaned_data["form_key"]) as first:
            if not first:
                return redirect("households:household")
            made = restore(form.cleaned_data["file"], request.user)
            if request.household.visit_ends is not None:  # of a visitor: goes with the visit
                made.household.visit_ends = request.household.visit_ends
                made.household.save(update_fields=["visit_ends"])
    except ArchiveError as why:
        form.add_error("file", str(why))
        return None
    request.session[CHOSEN] = made.household.pk
    rows = sum(made.counts.values())
    messages.success(request, f"{made.household.name} is imported: {rows} rows.")
    return redirect("enclosures:list")
