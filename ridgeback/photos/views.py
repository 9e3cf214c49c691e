"""The pictures of an animal: the wall, a new one, one of them, taking one away."""

import datetime as dt
import logging
from typing import Any

from django import forms
from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.utils.cache import get_conditional_response
from django.utils.http import quote_etag
from django.views.decorators.http import require_http_methods, require_POST, require_safe

from ridgeback.animals.models import Animal
from ridgeback.animals.plausibility import day_of_life
from ridgeback.clock import now
from ridgeback.exchange.uploads import PICTURE_BYTES
from ridgeback.fields import day_field
from ridgeback.households.middleware import KeeperRequest
from ridgeback.households.models import Membership
from ridgeback.operations.caching import REVALIDATED
from ridgeback.photos import flows
from ridgeback.photos.models import Picture
from ridgeback.photos.shrinking import NoPictureError, look_at
from ridgeback.submissions.flows import sent_once
from ridgeback.submissions.forms import OnceForm

log = logging.getLogger("ridgeback.photos")
SHOWN = 60
MOST, MOST_OF_HOUSEHOLD = 400, 4000
"""Of one animal, and of a household: what a life needs, and a disc bears (design choice)."""
MOST_WAITING = 12
"""Of a household, that a worker has not made small yet (design choice)."""


class PictureForm(OnceForm):
    """A picture with its day and a note."""

    file = forms.FileField(
        label="Picture",
        required=False,
        widget=forms.FileInput(attrs={"accept": "image/jpeg,image/png,image/webp"}),
    )
    on = day_field("Taken on")
    note = forms.CharField(label="What it shows", max_length=200, required=False)

    def __init__(
        self, *args: Any, animal: Animal, today: dt.date, too_large: bool = False, **kwargs: Any
    ) -> None:
        kwargs.setdefault("initial", {"on": today})
        super().__init__(*args, **kwargs)
        self.animal = animal
        self.today = today
        self.too_large = too_large

    def clean_on(self) -> dt.date:
        """Not to come, not before its birth."""
        day: dt.date = self.cleaned_data["on"]
        day_of_life(day, self.animal, self.today)
        return day

    def clean_file(self) -> bytes:
        """The file as it is, once its head says that it is a photo of bearable size."""
        if self.too_large:
            raise forms.ValidationError(
                f"This file is larger than {PICTURE_BYTES / 1e6:g} MB: no photo needs that."
            )
        file = self.cleaned_data["file"]
        if not file:
            raise forms.ValidationError("Choose a photo.")
        if problem := full(self.animal):
            raise forms.ValidationError(problem)
        try:
            look_at(file)
        except NoPictureError as why:
            raise forms.ValidationError(str(why)) from None
        body: bytes = file.read()
        return body


def full(animal: Animal, more: int = 1) -> str:
    """Why no further photo is taken; empty while there is room.

    Parameters
    ----------
    more : int
        Photos that come to the household at once.
    """
    own = Picture.objects.of(animal.household)
    if own.waiting().count() + more > MOST_WAITING:
        return f"{MOST_WAITING} photos are being made smaller: send more in a minute."
    if animal.pictures.count() >= MOST:
        return f"{animal.name} has {MOST} photos: delete some first."
    if own.count() + more > MOST_OF_HOUSEHOLD:
        return f"The household has {MOST_OF_HOUSEHOLD} photos: delete some first."
    return ""


@require_http_methods(["GET", "HEAD", "POST"])
def photo_list(request: KeeperRequest, pk: int) -> HttpResponse:
    """Photos of an animal, the latest first; a new one."""
    rows = Animal.objects.of(request.household).select_related("household")
    animal = get_object_or_404(rows, pk=pk)
    today = animal.day_of(now())
    form = PictureForm(animal=animal, today=today)
    if request.method == "POST":
        sent, files = request.POST, request.FILES  # read first: the upload says if it is too large
        too_large = bool(request.META.get("ridgeback.too_large"))
        form = PictureForm(sent, files, animal=animal, today=today, too_large=too_large)
        if form.is_valid():
            data = form.cleaned_data
            facts = {"on": data["on"], "note": data["note"].strip()}
            with sent_once(animal.household_id, data["form_key"]) as first:
                if first:
                    flows.add(animal, data["file"], keeper=request.user, **facts)
            messages.success(
                request, "Saved. It is made smaller, without the place where it was taken."
            )
            return redirect("photos:list", pk=pk)
    own = Picture.objects.of(request.household).photographs().filter(animal=animal)
    context = {
        "animal": animal,
        "form": form,
        "pictures": own.with_state()[:SHOWN],
        "waiting": own.waiting().exists(),
    }
    template = "photos/photos.html" if request.htmx else "photos/wall.html"
    return render(request, template, context)


def _file(request: KeeperRequest, pk: int, size: str) -> HttpResponse:
    """A picture's file: asked for again each time, sent again only when the browser has it not."""
    own = Picture.objects.of(request.household)
    if request.role == Membership.Role.SITTER:
        own = own.photographs()
    known = get_object_or_404(own.ready().only("pk"), pk=pk)
    tag = quote_etag(f"picture-{known.pk}-{size}")  # a picture never changes
    answer: HttpResponse | None = get_conditional_response(request, etag=tag)
    if answer is None or answer.status_code != 304:
        try:
            body = Picture.objects.values_list(size, flat=True).get(pk=known.pk)
        except OSError:  # its store is away: the page stands, the picture comes later
            log.exception("picture not read", extra={"picture": known.pk})
            return HttpResponse(status=503, headers={"Retry-After": "30"})
        answer = HttpResponse(bytes(body), content_type="image/jpeg")
    answer["ETag"] = tag
    answer["Cache-Control"] = REVALIDATED
    return answer


@require_safe
def photo(request: KeeperRequest, pk: int) -> HttpResponse:
    """One picture."""
    return _file(request, pk, "body")


@require_safe
def small(request: KeeperRequest, pk: int) -> HttpResponse:
    """The same, small."""
    return _file(request, pk, "small")


@require_POST
def delete(request: KeeperRequest, pk: int) -> HttpResponse:
    """Take a picture away."""
    known = get_object_or_404(Picture.objects.of(request.household).light(), pk=pk)
    known.delete()
    messages.success(request, "Deleted.")
    return redirect("photos:list", pk=known.animal_id)
