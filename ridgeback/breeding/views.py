"""Clutches: the list, a new one, one with its window and its looks, and what hatched of it."""

import datetime as dt
from dataclasses import dataclass, replace
from typing import Any

from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_http_methods, require_safe

from husbandry.breeding.incubation import (
    EGG_CHECKS,
    SPREAD,
    HatchWindow,
    due_look,
    set_derivation,
    set_point,
    strays,
)
from husbandry.breeding.medium import MEDIA, is_topped_up, medium_water_g
from husbandry.quantity import Kind, Units, show
from ridgeback.breeding import flows
from ridgeback.breeding.forms import BoxForm, ClutchForm, HatchForm, LookForm
from ridgeback.breeding.models import Clutch
from ridgeback.clock import now
from ridgeback.derivations import DerivationView, derivation_view
from ridgeback.households.middleware import KeeperRequest
from ridgeback.households.models import Household
from ridgeback.posting import only_by_form
from ridgeback.submissions.flows import sent_once

WAY = 398.0
WRITTEN = ("mother", "father", "species", "laid_on", "laid_from", "count", "set_c", "where")
"""What of a new clutch is kept as it was typed."""


@dataclass(frozen=True)
class ClutchView:
    """A clutch as lists show it."""

    clutch: Clutch
    title: str
    window: HatchWindow
    when: str
    left: int | None
    direction: str
    says: str
    """What is to be done, or what is off; empty where nothing is."""
    done_pct: float
    marks: tuple[float, float]
    """On the drawn way of 400: today, and where the window opens."""

    @property
    def window_width(self) -> float:
        """Of the window on the drawn way."""
        return 1 + WAY - self.marks[1]


def view_of(clutch: Clutch, today: dt.date) -> ClutchView:
    """A clutch today. Reads the prefetched looks."""
    found = clutch.window(today)
    whose = f"{clutch.mother.name}’s" if clutch.mother else clutch.profile.name
    title = f"{whose} young" if clutch.carried else f"{whose} eggs"
    when = f"about {found.usual:%-d %B %Y}, {found.early:%-d %b} to {found.late:%-d %b}"
    looks = list(clutch.looks.all())
    last = max((one.on for one in looks), default=None)
    read = max(
        (one for one in looks if one.temp_c is not None),
        key=lambda one: (one.on, one.pk),
        default=None,
    )
    off = (
        strays(clutch.profile, clutch.set_c, read.temp_c)
        if read is not None and read.temp_c is not None
        else ""
    )
    direction = "right"
    says = ""
    if clutch.ended_on is None and off:
        direction = "below"
        says = f"Last read it was {off}."
    elif clutch.ended_on is None and today > found.late:
        direction, says = (
            "unknown",
            (
                "Past its window: candle it again, and ask somebody of experience. Eggs are not"
                " opened."
            ),
        )
    elif (
        clutch.ended_on is None
        and not clutch.carried
        and (due := due_look(clutch.laid_on, found, last, today)) is not None
    ):
        direction = "unknown"
        says = EGG_CHECKS[due[0]]
    done = min(max(found.done, 0.0), 1 + SPREAD)
    marks = 1 + WAY * done / (1 + SPREAD), 1 + WAY * (1 - SPREAD) / (1 + SPREAD)
    return ClutchView(
        clutch, title, found, when, clutch.left(), direction, says, 100 * min(done, 1.0), marks
    )


def clutches_of(household: Household | None, today: dt.date) -> list[ClutchView]:
    """Clutches that go on, those that come first first."""
    rows = Clutch.objects.of(household).going().select_related("mother").prefetch_related("looks")
    return sorted((view_of(one, today) for one in rows), key=lambda one: one.window.usual)


@require_http_methods(["GET", "HEAD", "POST"])
def clutches(request: KeeperRequest) -> HttpResponse:
    """Every clutch; a new one is noted."""
    household = request.household
    if household is None:
        return redirect("enclosures:list")
    today = household.day_of(now())
    form = ClutchForm(
        request.POST if request.method == "POST" else None,
        household=household,
        units=request.units,
        today=today,
    )
    if form.is_bound and form.is_valid():
        data = form.cleaned_data
        names = (*WRITTEN, "ended_on", "hatched")
        with sent_once(household.pk, data["form_key"]) as first:
            clutch = (
                flows.lay(household, **{name: data[name] for name in names}) if first else None
            )
        window = " Its hatch window is calculated from now on." if not data["ended_on"] else ""
        messages.success(request, f"Saved.{window}")
        return redirect("breeding:clutch", pk=clutch.pk) if clutch else redirect("breeding:list")
    ended = (
        Clutch.objects.of(household)
        .filter(ended_on__isnull=False)
        .select_related("mother")
        .prefetch_related("hatchlings")[:20]
    )
    context = {"form": form, "rows": clutches_of(household, today), "ended": ended}
    return render(request, "breeding/list.html", context)


def _clutch(request: KeeperRequest, pk: int) -> Clutch:
    rows = (
        Clutch.objects.of(request.household)
        .select_related("mother", "household")
        .prefetch_related("looks__by", "hatchlings__animal")
    )
    return get_object_or_404(rows, pk=pk)


posted = only_by_form("breeding:clutch", _clutch)


def _wants(clutch: Clutch, units: Units) -> str:
    point = set_point(clutch.profile.young)
    if point is None:
        return ""
    stray = show(point[1], Kind.TEMPERATURE_DIFFERENCE, units, digits=1)
    return (
        f"{show(clutch.set_c or point[0], Kind.TEMPERATURE, units, digits=1)}, straying by {stray}"
        " at most"
    )


def _set_derivation(clutch: Clutch, units: Units) -> DerivationView | None:
    found = set_derivation(clutch.profile)
    return (
        replace(derivation_view(found, units), text="Why so warm") if found is not None else None
    )


def _derivation(found: HatchWindow, units: Units) -> DerivationView:
    return derivation_view(found.derivation, units)


def _page(
    request: KeeperRequest,
    clutch: Clutch,
    *,
    look: LookForm | None = None,
    hatch: HatchForm | None = None,
    box: BoxForm | None = None,
) -> HttpResponse:
    today = clutch.household.day_of(now())
    view = view_of(clutch, today)
    context: dict[str, Any] = {
        "clutch": clutch,
        "profile": clutch.profile,
        "view": view,
        "wants": _wants(clutch, request.units),
        "derivation": _derivation(view.window, request.units),
        "set_derivation": _set_derivation(clutch, request.units),
        "look": look or LookForm(clutch=clutch, units=request.units, today=today),
        "hatch": hatch or HatchForm(clutch=clutch, today=today),
        "looks": [
            (
                one,
                (
                    show(one.temp_c, Kind.TEMPERATURE, request.units, digits=1)
                    if one.temp_c is not None
                    else ""
                ),
            )
            for one in clutch.looks.all()
        ],
        "box": box or BoxForm(clutch=clutch, units=request.units),
        "box_words": _box_words(clutch, request.units),
        "young": [one.animal for one in clutch.hatchlings.all()],
    }
    return render(request, "breeding/clutch.html", context)


def _box_words(clutch: Clutch, units: Units) -> tuple[str, ...]:
    """How the box is set up, how much water goes in, and how much it has lost."""
    if clutch.medium not in MEDIA:
        return ()
    medium = MEDIA[clutch.medium]
    found = [f"{medium.label[0].upper()}{medium.label[1:]}: {medium.how}."]
    water_g = 0.0
    if clutch.medium_g is not None and medium.water_share:
        water_g = medium_water_g(clutch.medium_g, medium.water_share)
        dry = show(clutch.medium_g, Kind.MASS, units)
        found.append(f"{show(water_g, Kind.MASS, units)} of water to {dry} of dry medium.")
    lost_g = clutch.lost_g()
    if lost_g is not None:
        lost = show(lost_g, Kind.MASS, units)
        if is_topped_up(lost_g, water_g):
            found.append(f"It has lost {lost} of water: give it beside the eggs, never on them.")
        else:
            found.append(f"It has lost {lost} of water: leave it.")
    return tuple(found)


@require_safe
def clutch(request: KeeperRequest, pk: int) -> HttpResponse:
    """One clutch."""
    return _page(request, _clutch(request, pk))


@posted
def set_box(request: KeeperRequest, pk: int) -> HttpResponse:
    """Say what the eggs lie in."""
    known = _clutch(request, pk)
    form = BoxForm(request.POST, clutch=known, units=request.units)
    if not form.is_valid():
        return _page(request, known, box=form)
    flows.set_box(known, **form.cleaned_data)
    messages.success(request, "Saved.")
    return redirect("breeding:clutch", pk=pk)


@posted
def look(request: KeeperRequest, pk: int) -> HttpResponse:
    """It was looked at."""
    known = _clutch(request, pk)
    form = LookForm(
        request.POST, clutch=known, units=request.units, today=known.household.day_of(now())
    )
    if not form.is_valid():
        return _page(request, known, look=form)
    data = dict(form.cleaned_data)
    with sent_once(known.household_id, data.pop("form_key")) as first:
        if first:
            flows.look(known, keeper=request.user, **data)
    messages.success(request, "Saved.")
    return redirect((request.POST.get("back") == "round" and "today:page") or f"/breeding/{pk}/")


@posted
def hatch(request: KeeperRequest, pk: int) -> HttpResponse:
    """Young came out of it."""
    known = _clutch(request, pk)
    form = HatchForm(request.POST, clutch=known, today=known.household.day_of(now()))
    if known.ended_on is not None:
        messages.error(request, "That clutch has ended.")
        return redirect("breeding:clutch", pk=pk)
    if not form.is_valid():
        return _page(request, known, hatch=form)
    data = dict(form.cleaned_data)
    with sent_once(known.household_id, data.pop("form_key")) as first:
        if first:
            flows.hatch(known, **data)
    messages.success(
        request,
        f"Added: {data['number']}, each with records of its own. Weigh them, and choose an"
        " enclosure.",
    )
    return redirect("breeding:clutch", pk=pk)


@posted
def end(request: KeeperRequest, pk: int) -> HttpResponse:
    """Nothing more comes of it."""
    known = _clutch(request, pk)
    flows.end(known, on=known.household.day_of(now()))
    messages.success(request, "Ended. What was seen of it stays.")
    return redirect("breeding:list")
