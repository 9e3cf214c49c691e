"""Pages of reviews: all of them with a new one, one with its facts and findings, its letter."""

from django.contrib import messages
from django.core.paginator import Paginator
from django.db import transaction
from django.http import Http404, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_http_methods, require_POST, require_safe

from husbandry.errors import HusbandryError
from husbandry.review.letter import letter
from husbandry.review.tried_fixes import try_fixes, waits_for_correction
from ridgeback.background import ask_for_correction
from ridgeback.clock import now
from ridgeback.households.middleware import KeeperRequest
from ridgeback.households.models import Household
from ridgeback.reviews import flows
from ridgeback.reviews.forms import DescriptionForm, ReviewFactsForm, ReviewTakeInForm
from ridgeback.reviews.models import EnclosureReview, ReviewLink
from ridgeback.reviews.photo_forms import ReviewPhotoForm
from ridgeback.reviews.presenting import chips_of, correction_view, review_view, tried_view
from ridgeback.submissions.flows import sent_once

PAGE = 30
MOST_FIXES = 40
LINK = "review_link"  # the name of a place in the session
CHANGED_MEANWHILE = "Somebody changed this review meanwhile. What you typed is below; save again to keep it instead."


def household_of(request: KeeperRequest) -> Household:
    """The reader's household. Raises `Http404` for somebody without one."""
    if request.household is None:
        raise Http404
    return request.household


def own_review(request: KeeperRequest, pk: int) -> EnclosureReview:
    """A review of the reader's household."""
    return get_object_or_404(
        EnclosureReview.objects.of(request.household).light().select_related("household"), pk=pk
    )


@require_http_methods(["GET", "HEAD", "POST"])
def reviews(request: KeeperRequest) -> HttpResponse:
    """Every review of the household; a new one."""
    household = household_of(request)
    form = DescriptionForm(request.POST or None, request.FILES or None)

    if form.is_bound and form.is_valid() and form.said is not None:
        if EnclosureReview.objects.of(household).count() >= flows.MOST_REVIEWS:
            form.add_error(None, f"There are {flows.MOST_REVIEWS} reviews: delete some first.")
        else:
            return _add(request, household, form)
    words = request.GET.get("q", "").strip()[:80]
    rows = EnclosureReview.objects.of(household).light().saying(words)
    page = Paginator(rows, PAGE).get_page(request.GET.get("page"))
    context = {"form": form, "page": page, "words": words}

    return render(request, "reviews/list.html", context)


def _add(request: KeeperRequest, household: Household, form: DescriptionForm) -> HttpResponse:
    photo = form.cleaned_data["photo"]

    with sent_once(household.pk, form.cleaned_data["form_key"]) as first:
        if first and form.said is not None:
            flows.add(
                household,
                form.said,
                keeper=request.user,
                now=now(),
                photo=photo.read() if photo is not None else None,
            )

    newest = EnclosureReview.objects.of(household).light().filter(by=request.user).first()

    return redirect("reviews:page", pk=newest.pk) if newest else redirect("reviews:list")


@require_http_methods(["GET", "HEAD", "POST"])
def page(request: KeeperRequest, pk: int) -> HttpResponse:
    """One review: its facts, which may be corrected, and what is wrong."""
    own = own_review(request, pk)
    form = _facts(request, own)

    if form.is_bound and form.is_valid():
        if _changed(request, pk, form):
            messages.success(request, "Saved, and judged again.")
            return redirect("reviews:page", pk=pk)
        own = own_review(request, pk)
        form.data = {**request.POST.dict(), "revision": own.version}
        form.add_error(None, CHANGED_MEANWHILE)
    own_rows = EnclosureReview.objects.of(request.household).light()
    made = flows.best_known(own)
    known = request.session.pop(LINK, None)
    context = {
        "review": own,
        "made": made,
        "view": review_view(own, made, request.units),
        "form": form,
        "chips": chips_of(_facts(request, own, shown=True)),
        "link": ReviewLink.objects.filter(
            review=own, until_on__gte=own.household.day_of(now())
        ).first(),
        "address": known[1] if known and known[0] == pk else "",
        "older": own_rows.filter(made_at__lt=own.made_at).first(),
        "newer": own_rows.filter(made_at__gt=own.made_at).order_by("made_at").first(),
        "has_photo": EnclosureReview.objects.filter(pk=pk, photo__isnull=False).exists(),
        "photo_form": ReviewPhotoForm(),
    }

    return render(request, "reviews/page.html", context)


def _changed(request: KeeperRequest, pk: int, form: ReviewFactsForm) -> bool:
    """Keep corrected facts; not where somebody changed them since they were shown."""
    with transaction.atomic():
        rows = EnclosureReview.objects.of(request.household).light().select_for_update()
        own = get_object_or_404(rows, pk=pk)
        if form.cleaned_data["revision"] != own.version:
            return False
        flows.change(own, form.said, form.cleaned_data["title"])

    return True


def _facts(
    request: KeeperRequest, own: EnclosureReview, *, shown: bool = False
) -> ReviewFactsForm:
    """The form of the facts; as it is saved, whatever was posted, for `shown`."""
    posted = request.POST if request.method == "POST" and not shown else None
    form = ReviewFactsForm(posted, said=own.said, units=request.units)
    form.initial["title"] = own.title
    form.initial["revision"] = own.version

    return form


@require_safe
def correction(request: KeeperRequest, pk: int) -> HttpResponse:
    """The corrected enclosure, worked out by a worker when it is first asked for."""
    own = own_review(request, pk)
    made = flows.best_known(own)
    if made.correction is None and not made.correction_sought:
        ask_for_correction(pk, own.household_id)
        return render(request, "reviews/waiting.html", {"review": own})

    context = {
        "review": own,
        "made": made,
        "view": correction_view(own, made, request.units),
        "form": ReviewTakeInForm(household=household_of(request), initial=_names(own)),
    }

    return render(request, "reviews/correction.html", context)


def _names(own: EnclosureReview) -> dict[str, str]:
    return {"name": own.title[:80], "room": f"Room of {own.title}"[:80]}


@require_safe
def tried(request: KeeperRequest, pk: int) -> HttpResponse:
    """The enclosure with the fixes that were chosen, and no others."""
    own = own_review(request, pk)
    made = flows.best_known(own)
    slugs = request.GET.getlist("fix")[:MOST_FIXES]
    context: dict[str, object] = {"review": own, "slugs": slugs}
    template = "reviews/tried.html" if request.htmx else "reviews/tried_page.html"

    if waits_for_correction(made, slugs):
        ask_for_correction(pk, own.household_id)
        return render(request, template, {**context, "waits": True})

    try:
        found = try_fixes(made, slugs, own.made_at)
    except HusbandryError:
        context["problem"] = "These fixes cannot be built together. Take one of them out."
    else:
        if found is not None:
            context["view"] = tried_view(own, made, found, slugs, request.units)

    return render(request, template, context)


@require_safe
def write_letter(request: KeeperRequest, pk: int) -> HttpResponse:
    """The review as a text to send."""
    own = own_review(request, pk)
    made = flows.best_known(own)
    context = {"review": own, "letter": letter(made, request.units)}

    return render(request, "reviews/letter.html", context)


@require_POST
def delete(request: KeeperRequest, pk: int) -> HttpResponse:
    """Take a review away for good, its photo and its link with it."""
    own = own_review(request, pk)
    own.delete()
    messages.success(request, f"“{own.title}” is deleted.")

    return redirect("reviews:list")
