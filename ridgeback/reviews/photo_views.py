"""The photo of a review: shown, added, and laid under the drawing to scale."""

from django.contrib import messages
from django.db import transaction
from django.http import Http404, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_http_methods, require_POST, require_safe

from husbandry.documents.request import Request
from husbandry.quantity import Kind, show
from ridgeback.drawing.sheet import NARROW, fit
from ridgeback.households.middleware import KeeperRequest
from ridgeback.operations.caching import REVALIDATED
from ridgeback.reviews import flows
from ridgeback.reviews.models import EnclosureReview
from ridgeback.reviews.photo_forms import PhotoScaleForm, ReviewPhotoForm
from ridgeback.reviews.photo_scale import PhotoScale, laid_over, size_of
from ridgeback.reviews.presenting import drawing_of
from ridgeback.reviews.views import own_review


def with_photo(request: KeeperRequest, pk: int) -> EnclosureReview:
    """A review of the reader's household that has a photo. Raises `Http404` for others."""
    rows = EnclosureReview.objects.of(request.household).filter(photo__isnull=False)
    return get_object_or_404(rows, pk=pk)


@require_safe
def photo(request: KeeperRequest, pk: int) -> HttpResponse:
    """The photo itself."""
    own = with_photo(request, pk)
    answer = HttpResponse(bytes(own.photo or b""), content_type="image/jpeg")
    answer["Cache-Control"] = REVALIDATED

    return answer


@require_POST
def add_photo(request: KeeperRequest, pk: int) -> HttpResponse:
    """Take a photo in; a worker makes it small."""
    own = own_review(request, pk)
    form = ReviewPhotoForm(request.POST, request.FILES)

    if form.is_valid():
        flows.add_photo(own, form.cleaned_data["photo"].read())
        messages.success(request, "The photo is there in a moment.")
    else:
        first = next(iter(form.errors.as_data().values()))[0]
        messages.error(request, first.messages[0])

    return redirect("reviews:page", pk=pk)


@require_http_methods(["GET", "HEAD", "POST"])
def photo_scale(request: KeeperRequest, pk: int) -> HttpResponse:
    """The drawing over the photo, once two of its points and their distance are known."""
    own = with_photo(request, pk)
    now = flows.best_known(own).request

    if now is None:
        raise Http404
    known = PhotoScale.read(own.photo_scale) if own.photo_scale else None
    posted = request.POST if request.method == "POST" else None
    form = PhotoScaleForm(posted, units=request.units, initial=_initial(request, now))

    if form.is_bound and form.is_valid() and form.scale is not None:
        with transaction.atomic():
            own.photo_scale = form.scale.data()
            own.save(update_fields=["photo_scale"])
        return redirect("reviews:photo-scale", pk=pk)
    size = size_of(bytes(own.photo or b""))
    context = {
        "review": own,
        "form": form,
        "width": size[0],
        "height": size[1],
        "radius": round(max(size) / 90),
        "setting": known is None or form.is_bound or "anew" in request.GET,
    }

    if known is not None and not context["setting"]:
        drawn = drawing_of(now, request.units, "As it was said", pk)
        context |= {
            "over": laid_over(drawn.svg, fit(now, NARROW), known, size),
            "pixels_per_metre": round(known.pixels_per_metre(size), 2),
            "known": show(known.length_m, Kind.LENGTH, request.units),
        }

    return render(request, "reviews/photo_scale.html", context)


def _initial(request: KeeperRequest, now: Request) -> dict[str, str]:
    """The enclosure's own length, for its corners."""
    return {
        "kind": "corners",
        "length": show(now.enclosure.inside_m.length, Kind.LENGTH, request.units),
    }
