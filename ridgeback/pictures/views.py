"""The pictures of an animal: the wall, a new one, one of them, taking one away."""

import datetime as dt
from typing import Any

from django import forms
from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.utils.cache import get_conditional_response
from django.utils.http import quote_etag
from django.views.decorators.http import require_http_methods, require_POST, require_safe

from ridgeback.animals.models import Animal
from ridgeback.animals.questioning import day_of_life
from ridgeback.clock import now
from ridgeback.exchange.uploads import PICTURE_BYTES
from ridgeback.fields import day_field
from ridgeback.keepers.middleware import KeeperRequest
from ridgeback.operations.caching import REVALIDATED
from ridgeback.pictures.models import Picture
from ridgeback.pictures.shrinking import NoPictureError, shrink
from ridgeback.submissions.flows import sent_once
from ridgeback.submissions.forms import OnceForm

SHOWN = 60
MOST = 400
"""Of one animal: what a life needs, and a disc bears."""


class PictureForm(OnceForm):
    """A picture with its day and a note."""

    file = forms.FileField(
        label="Picture", required=False, widget=forms.FileInput(attrs={"accept": "image/jpeg,image/png,image/webp"})
    )
    on = day_field("Taken on")
    note = forms.CharField(label="What it shows", max_length=200, required=False)

    def __init__(self, *args: Any, animal: Animal, today: dt.date, too_large: bool = False, **kwargs: Any) -> None:
        kwargs.setdefault("initial", {"on": today})
        super().__init__(*args, **kwargs)
        self.animal, self.today, self.too_large = animal, today, too_large

    def clean_on(self) -> dt.date:
        """Not to come, not before its birth."""
        day: dt.date = self.cleaned_data["on"]
        day_of_life(day, self.animal, self.today)
        return day

    def clean_file(self) -> tuple[bytes, bytes]:
        """Made small and ours."""
        if self.too_large:
            raise forms.ValidationError(f"That file is larger than {PICTURE_BYTES // 1_000_000} MB.")
        file = self.cleaned_data["file"]
        if file is None:
            raise forms.ValidationError("Choose a picture.")
        if self.animal.pictures.count() >= MOST:
            raise forms.ValidationError(f"There are {MOST} already: take one away first.")
        try:
            return shrink(file)
        except NoPictureError as why:
            raise forms.ValidationError(str(why)) from None


@require_http_methods(["GET", "HEAD", "POST"])
def wall(request: KeeperRequest, pk: int) -> HttpResponse:
    """Pictures of an animal, the latest first; a new one."""
    rows = Animal.objects.of(request.household).select_related("household")
    animal = get_object_or_404(rows, pk=pk)
    today = animal.day_of(now())
    form = PictureForm(animal=animal, today=today)
    if request.method == "POST":
        sent, files = request.POST, request.FILES  # read first: the upload's handler says whether it was too large
        form = PictureForm(sent, files, animal=animal, today=today, too_large=bool(request.META.get("ridgeback.too_large")))
        if form.is_valid():
            body, small = form.cleaned_data["file"]
            data = form.cleaned_data
            facts = {"on": data["on"], "note": data["note"].strip(), "by": request.user}
            with sent_once(animal.household_id, data["form_key"]) as first:
                if first:
                    Picture.objects.create(animal=animal, body=body, small=small, **facts)
            messages.success(request, "Kept, without the place where it was taken.")
            return redirect("pictures:wall", pk=pk)
    pictures = Picture.objects.of(request.household).filter(animal=animal).defer("body", "small")[:SHOWN]
    return render(request, "pictures/wall.html", {"animal": animal, "form": form, "pictures": pictures})


def _file(request: KeeperRequest, pk: int, size: str) -> HttpResponse:
    """A picture's file: asked for again each time, sent again only when the browser has it not."""
    known = get_object_or_404(Picture.objects.of(request.household).only("pk"), pk=pk)
    tag = quote_etag(f"picture-{known.pk}-{size}")  # a picture never changes
    answer: HttpResponse | None = get_conditional_response(request, etag=tag)
    if answer is None or answer.status_code != 304:
        body = Picture.objects.values_list(size, flat=True).get(pk=known.pk)
        answer = HttpResponse(bytes(body), content_type="image/jpeg")
    answer["ETag"] = tag
    answer["Cache-Control"] = REVALIDATED
    return answer


@require_safe
def picture(request: KeeperRequest, pk: int) -> HttpResponse:
    """One picture."""
    return _file(request, pk, "body")


@require_safe
def small(request: KeeperRequest, pk: int) -> HttpResponse:
    """The same, small."""
    return _file(request, pk, "small")


@require_POST
def away(request: KeeperRequest, pk: int) -> HttpResponse:
    """Take a picture away."""
    known = get_object_or_404(Picture.objects.of(request.household).defer("body", "small"), pk=pk)
    known.delete()
    messages.success(request, "Taken away.")
    return redirect("pictures:wall", pk=known.animal_id)
