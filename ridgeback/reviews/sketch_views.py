"""A review tapped together from pictures, drawn while it grows."""

from django.http import HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_http_methods, require_POST

from husbandry.review.description import Description
from husbandry.review.review import review
from ridgeback.clock import now
from ridgeback.households.middleware import KeeperRequest
from ridgeback.households.models import Household
from ridgeback.reviews import flows
from ridgeback.reviews.models import EnclosureReview
from ridgeback.reviews.presenting import drawing_of, headline
from ridgeback.reviews.sketch_form import SketchForm
from ridgeback.reviews.views import household_of
from ridgeback.submissions.flows import sent_once


@require_http_methods(["GET", "HEAD", "POST"])
def sketch(request: KeeperRequest) -> HttpResponse:
    """Every question with its pictures; saved as a review."""
    household = household_of(request)
    posted = request.POST if request.method == "POST" else None
    form = SketchForm(posted, units=request.units)

    if form.is_bound and form.is_valid() and form.said is not None:
        if form.said == Description():
            form.add_error(None, "Tap at least one picture, or choose the animal.")
        elif EnclosureReview.objects.of(household).count() >= flows.MOST_REVIEWS:
            form.add_error(None, f"There are {flows.MOST_REVIEWS} reviews: delete some first.")
        else:
            return _add(request, household, form)

    return render(request, "reviews/sketch.html", {"form": form, **_drawn(request, form)})


def _add(request: KeeperRequest, household: Household, form: SketchForm) -> HttpResponse:
    with sent_once(household.pk, form.cleaned_data["form_key"]) as first:
        if first and form.said is not None:
            flows.add(household, form.said, keeper=request.user, now=now(), photo=None)
    newest = EnclosureReview.objects.of(household).light().filter(by=request.user).first()

    return redirect("reviews:page", pk=newest.pk) if newest else redirect("reviews:list")


@require_POST
def sketch_drawn(request: KeeperRequest) -> HttpResponse:
    """The drawing of what was tapped so far. Nothing is kept."""
    household_of(request)
    form = SketchForm(request.POST, units=request.units)
    form.is_valid()

    return render(request, "reviews/sketch_drawn.html", {"form": form, **_drawn(request, form)})


def _drawn(request: KeeperRequest, form: SketchForm) -> dict[str, object]:
    """The drawing, what to say first, and why there is none."""
    if form.said is None:
        return {"problem": "What is marked in red cannot be drawn." if form.errors else ""}
    made = review(form.said, now(), correct=False)

    if made.request is None:
        return {"problem": "Choose the animal to see it drawn to scale."}

    return {
        "drawn": drawing_of(made.request, request.units, "As it was tapped", 0),
        "headline": headline(made),
        "worst": made.worst,
        "count": len(made.findings),
    }
