"""The species guide: find, weigh up, compare, and keep values of one's own."""

import functools
import json
from typing import Any

from django.contrib import messages
from django.core.paginator import Paginator
from django.http import Http404, HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_GET, require_safe

from husbandry.errors import DocumentError
from husbandry.quantity import Kind, show
from husbandry.species.library import by_slug, library
from husbandry.species.profile import Profile
from husbandry.species.searching import Index
from husbandry.species.variant import Edit, Variant, apply, leaf
from husbandry.tasks.purchase import FirstDay, purchase_guide
from ridgeback.households.middleware import KeeperRequest
from ridgeback.households.models import Household
from ridgeback.species_guide import flows, presenting
from ridgeback.species_guide.forms import EditForm, OfferForm, VariantForm
from ridgeback.species_guide.values import value_text

PAGE = 20
MOST_COMPARED = 3


@functools.lru_cache(maxsize=2)
def index() -> Index:
    """The shipped profiles, ready to be searched."""
    return Index.of(sorted(library().values(), key=lambda profile: profile.name.lower()))


def _own(request: KeeperRequest) -> Household:
    if request.household is None:
        raise Http404
    return request.household


@require_safe
def buying(request: KeeperRequest, slug: str) -> HttpResponse:
    """At the purchase: what to look at, to ask, to hold ready, and the first weeks."""
    profile = _shipped(slug)
    guide = purchase_guide(profile)
    low_c, high_c = guide.travel_c
    travel = (
        f"{show(low_c, Kind.TEMPERATURE, request.units, unit=False, digits=0)} to"
        f" {show(high_c, Kind.TEMPERATURE, request.units, digits=0)}"
    )
    context = {
        "profile": profile,
        "guide": guide,
        "travel": travel,
        "days": [(_days(day), day.text) for day in guide.first_days],
    }
    return render(request, "species_guide/buying.html", context)


def _days(day: FirstDay) -> str:
    """“Day 0”, “Days 1 to 4”."""
    if day.since == day.until:
        return "The day it comes" if day.since == 0 else f"Day {day.since}"
    return f"Days {day.since} to {day.until}"


def _shipped(slug: str) -> Profile:
    profile = by_slug(slug)
    if profile is None:
        raise Http404
    return profile


@require_safe
def species_list(request: KeeperRequest) -> HttpResponse:
    """Every species: by its names, by what a household can give."""
    query = request.GET.get("query", "")[:80].replace("\x00", " ")
    asked = any(name in request.GET for name in OfferForm(units=request.units).fields)
    form = OfferForm(request.GET if asked else None, units=request.units)
    form.is_valid()
    offer = form.offer()
    fitting, others = presenting.found(index(), query, offer)
    own = (
        {species: len(edits) for species, edits in flows.edits_of(request.household).items()}
        if request.household
        else {}
    )
    page = Paginator(fitting, PAGE).get_page(request.GET.get("page", "1"))
    rows = [
        presenting.row_of(profile, request.units, own.get(profile.species, 0))
        for profile in page.object_list
    ]
    against = [presenting.unsuited_row_of(profile, reasons) for profile, reasons in others]
    kept = request.GET.copy()
    kept.pop("page", None)
    context = {
        "rows": rows,
        "against": against,
        "query": query,
        "form": form,
        "offered": offer.said,
        "page": page,
        "asked": kept.urlencode(),
        "total": len(library()),
    }
    return render(
        request, "species_guide/rows.html" if request.htmx else "species_guide/list.html", context
    )


@require_safe
def compare(request: KeeperRequest) -> HttpResponse:
    """Up to three species side by side, with what differs marked."""
    slugs = list(dict.fromkeys(request.GET.getlist("with")))
    chosen = [profile for slug in slugs[:12] if (profile := by_slug(slug)) is not None]
    too_many = len(chosen) > MOST_COMPARED
    own = flows.edits_of(request.household) if request.household else {}
    profiles = [apply(profile, own.get(profile.species, ())) for profile in chosen[:MOST_COMPARED]]
    rows = (
        presenting.compare_rows(profiles, request.household, request.units)
        if len(profiles) > 1
        else []
    )
    only = request.GET.get("only") == "differences"
    context = {
        "profiles": profiles,
        "rows": [row for row in rows if row[2] or not only],
        "too_many": too_many,
        "only": only,
        "every": sorted(library().values(), key=lambda profile: profile.name),
        "slots": [*(profile.slug for profile in profiles), "", "", ""][:MOST_COMPARED],
    }
    return render(request, "species_guide/compare.html", context)


@require_safe
def species(request: KeeperRequest, slug: str) -> HttpResponse:
    """One species: could I keep it, what it needs, and where each value comes from."""
    shipped = _shipped(slug)
    edits = (
        flows.edits_of(request.household, shipped.species).get(shipped.species, ())
        if request.household
        else ()
    )
    profile = apply(shipped, edits)
    age, wrong = _age(request.GET.get("age", ""))
    view = presenting.species_page(profile, shipped, edits, request.household, request.units, age)
    context = {
        "profile": profile,
        "view": view,
        "age": request.GET.get("age", "")[:6],
        "age_wrong": wrong,
    }
    return render(request, "species_guide/page.html", context)


def _age(typed: str) -> tuple[float | None, str]:
    """The keeper's age, where it is given."""
    if not typed.strip():
        return None, ""
    try:
        age = float(typed.replace(",", "."))
    except ValueError:
        return None, "Write your age as a number of years."
    return (age, "") if 3 <= age <= 110 else (None, "An age from 3 to 110 years.")


def edit(request: KeeperRequest, slug: str) -> HttpResponse:
    """One value kept otherwise than the species guide, with a reason."""
    household = _own(request)
    shipped = _shipped(slug)
    at = request.GET.get("at", "")[:200]
    edits = flows.edits_of(household, shipped.species).get(shipped.species, ())
    profile = apply(shipped, edits)
    try:
        was = leaf(shipped, at)
        now = leaf(profile, at)
    except DocumentError:
        raise Http404 from None
    mine = next((one for one in edits if one.at == at), None)
    form = EditForm(
        request.POST or None,
        profile=profile,
        at=at,
        units=request.units,
        reason=mine.reason if mine else "",
    )
    if request.method == "POST" and form.is_valid():
        try:
            flows.set_value(
                household,
                shipped.species,
                Edit(at=at, was=was, value=form.value(), reason=form.cleaned_data["reason"]),
            )
            messages.success(
                request, f"Saved: {presenting.label_at(shipped, at)}. Plans follow it."
            )
            return redirect("species_guide:page", slug=slug)
        except DocumentError as why:
            form.add_error(
                "value", "; ".join(_reason(problem.reason) for problem in why.problems[:3])
            )
    context = {
        "profile": profile,
        "form": form,
        "at": at,
        "label": presenting.label_at(shipped, at),
        "mine": mine,
        "was": value_text(shipped, at, was, request.units),
        "now": value_text(shipped, at, now, request.units),
    }
    return render(request, "species_guide/edit.html", context)


def _reason(text: str) -> str:
    return f"{text[0].upper()}{text[1:].rstrip('.')}."


def revert(request: KeeperRequest, slug: str) -> HttpResponse:
    """Back to the species guide's value, one or all."""
    household = _own(request)
    shipped = _shipped(slug)
    if request.method == "POST":
        try:
            gone = flows.revert(household, shipped.species, request.POST.get("at", ""))
            messages.success(
                request,
                (
                    "The species guide’s value applies again."
                    if gone
                    else "It was the species guide’s value already."
                ),
            )
        except DocumentError as why:
            messages.error(
                request,
                f"This value cannot go back alone: {why.problems[0].reason}. Revert the others"
                " first.",
            )
    return redirect("species_guide:page", slug=slug)


@require_GET
def export_own(request: KeeperRequest, slug: str) -> HttpResponse:
    """A household's own values of a species as a file (ridgeback-variant/2)."""
    household = _own(request)
    shipped = _shipped(slug)
    edits = flows.edits_of(household, shipped.species).get(shipped.species, ())
    variant = Variant(species=shipped.species, library_hash=shipped.hash, edits=edits)
    text = json.dumps(variant.model_dump(mode="json"), ensure_ascii=False, indent=2)
    headers = {"Content-Disposition": f'attachment; filename="{shipped.slug}-own.json"'}
    return HttpResponse(text, content_type="application/json", headers=headers)


def import_own(request: KeeperRequest) -> HttpResponse:
    """Own values from a file, with an answer line by line; nothing is overwritten silently."""
    household = _own(request)
    lines: tuple[Any, ...] = ()
    profile: Profile | None = None
    if request.method == "POST":
        form = VariantForm(
            request.POST, request.FILES, too_large=bool(request.META.get("ridgeback.too_large"))
        )
        if form.is_valid() and form.variant is not None:
            profile = library()[form.variant.species]
            shipped = profile
            told = flows.import_variant(
                household, form.variant, replace=form.cleaned_data["replace"]
            )
            lines = tuple(
                (presenting.label_at(shipped, line.at), line.outcome, line.reason) for line in told
            )
    else:
        form = VariantForm()
    return render(
        request, "species_guide/import.html", {"form": form, "lines": lines, "profile": profile}
    )
