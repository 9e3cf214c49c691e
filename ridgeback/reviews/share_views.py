"""What is given back: a page by link, and the corrected plan into a household."""

from django.contrib import messages
from django.contrib.auth.decorators import login_not_required
from django.db import IntegrityError
from django.http import Http404, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.views.decorators.cache import never_cache
from django.views.decorators.http import require_http_methods, require_POST, require_safe

from husbandry.quantity import METRIC
from ridgeback.background import ask_for_correction
from ridgeback.clock import now
from ridgeback.exchange import flows as exchange
from ridgeback.households.middleware import KeeperRequest
from ridgeback.reviews import flows
from ridgeback.reviews.forms import ReviewTakeInForm
from ridgeback.reviews.models import EnclosureReview
from ridgeback.reviews.presenting import correction_view, review_view
from ridgeback.reviews.views import LINK, household_of, own_review
from ridgeback.submissions.flows import sent_once


@require_POST
def share(request: KeeperRequest, pk: int) -> HttpResponse:
    """Open a link to a review; its address is shown once."""
    own = own_review(request, pk)
    secret = flows.share(own, own.household.day_of(now()))
    address = request.build_absolute_uri(reverse("reviews:shown", args=[secret]))
    request.session[LINK] = [pk, address]

    return redirect("reviews:page", pk=pk)


@require_POST
def unshare(request: KeeperRequest, pk: int) -> HttpResponse:
    """Close the link."""
    flows.unshare(own_review(request, pk))
    messages.success(request, "The link opens nothing any more.")

    return redirect("reviews:page", pk=pk)


def _shared(secret: str) -> EnclosureReview:
    """The review that a link opens. Raises `Http404`."""
    own = flows.shared_by(secret, now())

    if own is None:
        raise Http404
    return own


@login_not_required
@never_cache
@require_safe
def shown(request: KeeperRequest, secret: str) -> HttpResponse:
    """A review as whoever asked sees it: without an account, read only."""
    own = _shared(secret)
    units = own.by.units if own.by is not None else METRIC
    made = flows.best_known(own)
    if not made.correction_sought:
        ask_for_correction(own.pk, own.household_id)
    household = getattr(request, "household", None)
    context = {
        "review": own,
        "made": made,
        "view": review_view(own, made, units),
        "correction": correction_view(own, made, units),
        "secret": secret,
        "form": ReviewTakeInForm(household=household) if household is not None else None,
    }

    return render(request, "reviews/shown.html", context)


@require_http_methods(["GET", "HEAD", "POST"])
def take_in(request: KeeperRequest, pk: int) -> HttpResponse:
    """The corrected plan as a planned enclosure of the reviewer's own household."""
    return _take_in(request, own_review(request, pk))


@require_http_methods(["GET", "HEAD", "POST"])
def take_in_shared(request: KeeperRequest, secret: str) -> HttpResponse:
    """The corrected plan as a planned enclosure of the receiver's household."""
    return _take_in(request, _shared(secret))


def _take_in(request: KeeperRequest, own: EnclosureReview) -> HttpResponse:
    household = household_of(request)
    made = flows.best_known(own)

    if made.correction is None:
        raise Http404
    initial = {"name": own.title, "room": f"Room of {own.title}"[:80]}
    form = ReviewTakeInForm(request.POST or None, household=household, initial=initial)

    if form.is_bound and form.is_valid():
        names = {"name": form.cleaned_data["name"], "room_name": form.cleaned_data["room"]}
        try:
            with sent_once(household.pk, form.cleaned_data["form_key"]) as first:
                if first:
                    corrected = made.correction.request.model_copy(update={"now": now()})
                    exchange.take_in(household, request.user, corrected, **names, now=now())
        except IntegrityError:
            form.add_error(None, "This could not be saved under these names: choose others.")
        else:
            enclosure = household.enclosures.get(name=names["name"])
            messages.success(request, f"{enclosure.name} is there, as a plan with its animal.")
            return redirect("enclosures:page", pk=enclosure.pk)

    return render(request, "reviews/take_in.html", {"review": own, "form": form})
