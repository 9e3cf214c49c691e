"""A household as one file: asked for, fetched, and taken in again."""

from typing import Any

from django import forms
from django.contrib import messages
from django.http import Http404, HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_http_methods

from ridgeback.archive.reading import ArchiveError, restore
from ridgeback.exchange.uploads import ARCHIVE_BYTES
from ridgeback.households.middleware import CHOSEN, KeeperRequest
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
    """Take everything along; take a household in."""
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
    messages.success(request, f"{made.household.name} is taken in: {rows} rows.")
    return redirect("enclosures:list")
