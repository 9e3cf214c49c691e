"""The list of enclosures, an enclosure's own page, and what can be done there."""

import json
from typing import Any

import jsonpointer
from django.contrib import messages
from django.http import Http404, HttpResponse, HttpResponseRedirect
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.views.decorators.http import require_GET, require_safe

from husbandry.derivation import Derivation
from husbandry.documents.enclosure import EnclosureSpec
from husbandry.documents.request_json import to_data
from husbandry.documents.result import Plan
from husbandry.errors import EntryError, ImpossibleStateError
from husbandry.quantity import METRIC, Kind
from husbandry.quantity import read as read_entry
from husbandry.readings import INSTRUMENTS
from husbandry.seasons.brumation import is_dormant
from husbandry.species.needs import NEEDS, NeedKey, in_sentence
from ridgeback import sentences
from ridgeback.animals.models import Animal
from ridgeback.background import ask_for_plans
from ridgeback.building.commissioning_state import commissioning_text, standing_commissioning
from ridgeback.clock import now
from ridgeback.collection.judging import judged
from ridgeback.drafts import flows as drafts
from ridgeback.drawing.sheet import WIDE, Labels, front_view
from ridgeback.drawing.svg import write
from ridgeback.drawing.two_views import both_views
from ridgeback.enclosure_pages import listing
from ridgeback.enclosure_pages.calibration import record_view
from ridgeback.enclosure_pages.presenting import enclosure_view, linked, undescribed
from ridgeback.enclosures import flows, wording
from ridgeback.enclosures.access import lived_in, own_enclosure, posted, seen_revision
from ridgeback.enclosures.forms import LayoutForm
from ridgeback.enclosures.models import Enclosure
from ridgeback.enclosures.planning import planned
from ridgeback.enclosures.reading_form import ReadingForm
from ridgeback.enclosures.simulated_readings import ROUND, take_readings
from ridgeback.households.middleware import KeeperRequest
from ridgeback.households.models import SavedFilter
from ridgeback.posting import plain_words, posted_key
from ridgeback.seasons.models import with_dormancies
from ridgeback.submissions.forms import conflicts_of
from ridgeback.tasks.meal_history import as_logged


@require_safe
def enclosure_list(request: KeeperRequest) -> HttpResponse:
    """Every enclosure with its drawing, its gauges and its worst problem, the most urgent first."""
    asked = {name: request.GET.get(name, "")[:80] for name in ("query", "state", "page")}
    enclosures = listing.listing(request.household, request.units, now(), **asked)
    if enclosures.pending and request.household is not None:
        ask_for_plans(request.household)
    template = "enclosures/rows.html" if request.htmx else "enclosures/list.html"
    own = request.household
    context = {
        "enclosures": enclosures,
        "states": listing.STATES,
        "query": enclosures.query,
        "state": enclosures.state,
        "saved": own.filters.filter(keeper=request.user, page=SavedFilter.Page.ENCLOSURES)
        if own is not None
        else (),
    }
    return render(request, template, context)


def _page(
    request: KeeperRequest,
    enclosure: Enclosure,
    *,
    layout: LayoutForm | None = None,
    reading: ReadingForm | None = None,
    people: dict[str, Any] | None = None,
    template: str = "page",
) -> HttpResponse:
    at = now()
    layout = layout or LayoutForm(enclosure=enclosure, units=request.units, now=at)
    trying = layout.is_bound and layout.request_ is not None and layout.changed
    made = planned(layout.request_ if trying and layout.request_ else layout.kept, keep=not trying)
    reading = reading or ReadingForm(
        keys=[need.key for need in made.plan.needs],
        units=request.units,
        zone=enclosure.room.time_zone,
        now=now(),
        request=layout.kept,
        basking=made.plan.basking,
        moved_at=flows.moved_at(enclosure),
        initial={
            name: request.GET[name][:60]
            for name in ("from_left", "above_floor", "need", "moment")
            if name in request.GET
        },
    )
    own = Enclosure.objects.of(request.household).in_use()
    others = list(own.only("pk", "name", "shelf", "room"))
    view = linked(
        enclosure_view(
            as_logged(made, enclosure), request.units, at, name=enclosure.name, previewing=trying
        ),
        [one.animal_id for one in enclosure.present],
    )
    if enclosure.is_bare and not trying:
        view = undescribed(view)
    context = {
        "enclosure": enclosure,
        "view": view,
        "layout": layout,
        "reading": reading,
        "to_check": "check" in (request.GET.get("next"), request.POST.get("next")),
        "readings": _recent(enclosure, request),
        "trying": trying,
        "commissioning_text": (
            commissioning_text(enclosure, layout.kept, made)
            if not trying
            else "Commissioning check"
        ),
        "record": record_view(enclosure, request.units, at),
        **(people or _people(enclosure, request)),
        "others": others,
        "touched": [
            one for one in others if one.room_id == enclosure.room_id and one.pk != enclosure.pk
        ],
    }
    context["editing"] = template == "edit"
    context["unsaved"] = template == "page" and _left_try(request, enclosure) is not None
    return render(request, f"enclosures/{template}.html", context)


def _people(enclosure: Enclosure, request: KeeperRequest) -> dict[str, Any]:
    """Who lives here, who did, and who could move in."""
    if request.household is None:
        raise ImpossibleStateError("the enclosure was fetched through it")
    here = {occupancy.animal_id for occupancy in enclosure.present}
    today = enclosure.room.day_of(now())
    animals = with_dormancies(request.household.animals.filter(gone_on__isnull=True), today)
    return {
        "resting": [
            (one, dormancy.ends)
            for one, dormancy in animals
            if dormancy is not None and one.pk in here and is_dormant(dormancy, today)
        ],
        "today": today,
        "could_move_in": [one for one, _ in animals if one.pk not in here],
        "to_come": enclosure.occupancies.planned().select_related("animal"),
        "earlier": (
            enclosure.occupancies.filter(until__isnull=False)
            .select_related("animal")
            .order_by("-until")[:10]
        ),
    }


def _recent(enclosure: Enclosure, request: KeeperRequest) -> list[dict[str, Any]]:
    """The last readings, as lines."""
    lines = []
    for reading in enclosure.readings.all()[:6]:
        key = NeedKey(reading.need)
        lines.append(
            {
                "name": (
                    wording.reading_place(key, reading.at_m, request.units)
                    + (f", {reading.moment}" if reading.moment else "")
                ),
                "value": wording.value_of(key, reading.value - reading.offset, request.units),
                "age": wording.age(reading.at, now()),
                "instrument": INSTRUMENTS.get(reading.instrument, reading.instrument),
                "old": reading.revision_id != enclosure.head_id,
            }
        )
    return lines


@require_safe
def enclosure_page(request: KeeperRequest, pk: int) -> HttpResponse:
    """One enclosure."""
    enclosure = own_enclosure(request, pk)
    if not enclosure.present:
        return render(
            request,
            "enclosures/empty.html",
            {"enclosure": enclosure, **_people(enclosure, request)},
        )
    return _page(request, enclosure)


@require_safe
@lived_in
def edit(request: KeeperRequest, pk: int) -> HttpResponse:
    """Every setting of an enclosure on one form, with what was tried and not saved."""
    enclosure = own_enclosure(request, pk)
    return _page(request, enclosure, layout=_left_try(request, enclosure), template="edit")


@require_safe
@lived_in
def animals(request: KeeperRequest, pk: int) -> HttpResponse:
    """Who lives in an enclosure, who did, who moves in, and their next meals."""
    return _page(request, own_enclosure(request, pk), template="animals")


@require_safe
@lived_in
def humidity(request: KeeperRequest, pk: int) -> HttpResponse:
    """The humidity of an enclosure through its day, and what would change it."""
    return _page(request, own_enclosure(request, pk), template="humidity")


@require_safe
@lived_in
def learned(request: KeeperRequest, pk: int) -> HttpResponse:
    """What readings changed in the model of an enclosure, and how well it has done."""
    return _page(request, own_enclosure(request, pk), template="learned")


REVISION = "_revision"


def _subject(enclosure: Enclosure) -> str:
    return f"enclosure-{enclosure.pk}"


def _keep_try(request: KeeperRequest, enclosure: Enclosure, layout: LayoutForm) -> None:
    """What is tried, or cannot be read yet, is found again after a reload, a change of units or on
    another device.
    """
    if request.household is None or enclosure.head is None:
        raise ImpossibleStateError("missing: request.household, enclosure.head")
    if layout.errors or layout.changed:
        typed = {**request.POST.dict(), REVISION: str(enclosure.head.number)}
        drafts.keep(
            request.household, request.user, _subject(enclosure), "layout", typed, request.units
        )
    else:
        drafts.drop(request.household, request.user, _subject(enclosure))


def _left_try(request: KeeperRequest, enclosure: Enclosure) -> LayoutForm | None:
    """The layout editor as it was left, if it was left with something untold and the enclosure is
    still the one it was tried on.
    """
    draft = drafts.find(request.household, request.user, _subject(enclosure))
    if draft is None or enclosure.head is None:
        return None
    at = now()
    typed = (
        drafts.typed_in(
            draft,
            "layout",
            LayoutForm(enclosure=enclosure, units=request.units, now=at),
            request.units,
        )
        or {}
    )
    if typed.get(REVISION) != str(enclosure.head.number):
        return None
    layout = LayoutForm(typed, enclosure=enclosure, units=request.units, now=at)
    return layout if not layout.is_valid() or layout.changed else None


@posted
@lived_in
def discard(request: KeeperRequest, pk: int) -> HttpResponse:
    """Leave the enclosure as it was."""
    enclosure = own_enclosure(request, pk)
    if request.household is None:
        raise ImpossibleStateError("the enclosure was fetched through it")
    drafts.drop(request.household, request.user, _subject(enclosure))
    return redirect("enclosures:edit", pk=pk)


@posted
@lived_in
def preview(request: KeeperRequest, pk: int) -> HttpResponse:
    """What the typed values would do, without keeping them: new drawing, gauges and changes, and a
    sentence beside each wrong field.
    """
    enclosure = own_enclosure(request, pk)
    at = now()
    layout = LayoutForm(request.POST, enclosure=enclosure, units=request.units, now=at)
    valid = layout.is_valid()
    _keep_try(request, enclosure, layout)
    context: dict[str, Any] = {
        "enclosure": enclosure,
        "layout": layout,
        "trying": valid and layout.changed,
        "oob": True,
    }
    if valid and layout.request_ is not None:
        made = planned(layout.request_, keep=not layout.changed)
        view = enclosure_view(
            as_logged(made, enclosure),
            request.units,
            at,
            name=enclosure.name,
            previewing=layout.changed,
        )
        context["view"] = linked(view, [one.animal_id for one in enclosure.present])
    return render(request, "enclosures/preview.html", context)


@posted
@lived_in
def save(request: KeeperRequest, pk: int) -> HttpResponse:
    """Keep what was tried."""
    enclosure = own_enclosure(request, pk)
    layout = LayoutForm(request.POST, enclosure=enclosure, units=request.units, now=now())
    if not layout.is_valid() or layout.request_ is None:
        return _page(request, enclosure, layout=layout, template="edit")
    try:
        kept = flows.keep_layout(
            enclosure,
            layout.request_,
            seen=seen_revision(request),
            keeper=request.user,
            now=now(),
            seen_animals=seen_animals(request),
        )
    except flows.StaleError as why:
        messages.error(request, str(why))
        saved = LayoutForm(enclosure=own_enclosure(request, pk), units=request.units, now=now())
        layout.conflicts = conflicts_of(layout, saved)
        return _page(request, saved.enclosure, layout=layout, template="edit")
    if request.household is None:
        raise ImpossibleStateError("the enclosure was fetched through it")
    drafts.drop(request.household, request.user, _subject(enclosure))
    messages.success(request, "Saved." if kept else "Nothing differs from what is saved.")
    return redirect("enclosures:page", pk=pk)


def seen_animals(request: KeeperRequest) -> dict[int, int]:
    """The versions of the animals that the page showed, by their keys."""
    pairs = (pair.partition(":") for pair in request.POST.get("animals_seen", "")[:600].split(","))
    return {
        int(key): int(version)
        for key, _, version in pairs
        if key.isdecimal() and version.isdecimal() and len(key) < 12 and len(version) < 9
    }


@posted
@lived_in
def apply_change(request: KeeperRequest, pk: int) -> HttpResponse:
    """Make one of the ranked changes: found again by planning, named by its kind and item."""
    enclosure = own_enclosure(request, pk)
    made = planned(enclosure.request_at(now())).plan
    wanted = request.POST.get("change")
    change = next((c for c in made.changes if f"{c.kind}/{c.item_id}" == wanted), None)
    if change is None:
        messages.error(
            request,
            "This change is no longer on the list: the enclosure or its readings have changed"
            " since.",
        )
        return redirect("enclosures:page", pk=pk)
    title = wording.change_title(change, METRIC)
    try:
        flows.apply_change(
            enclosure,
            change,
            seen=seen_revision(request),
            reason=title,
            keeper=request.user,
            now=now(),
        )
        messages.success(
            request,
            f"Done: {wording.change_title(change, request.units)}. Measure when it has settled.",
            extra_tags="undo",
        )
    except flows.StaleError as why:
        messages.error(request, str(why))
    return redirect("enclosures:page", pk=pk)


@posted
@lived_in
def undo(request: KeeperRequest, pk: int) -> HttpResponse:
    """Back to the state before the last change, as a new revision."""
    enclosure = own_enclosure(request, pk)
    try:
        made = flows.undo(enclosure, seen=seen_revision(request), keeper=request.user, now=now())
        messages.success(request, "Undone." if made else "There is nothing before this state.")
    except flows.StaleError as why:
        messages.error(request, str(why))
    return redirect("enclosures:page", pk=pk)


@posted
@lived_in
def mark_built(request: KeeperRequest, pk: int) -> HttpResponse:
    """The planned enclosure stands."""
    try:
        made = flows.mark_built(
            own_enclosure(request, pk), seen=seen_revision(request), keeper=request.user, now=now()
        )
        messages.success(
            request,
            (
                "Built. Measure when it has settled, best before the animal moves in."
                if made
                else "It stood already."
            ),
        )
    except flows.StaleError as why:
        messages.error(request, str(why))
    return redirect(
        "building:commissioning" if request.POST.get("next") == "check" else "enclosures:page",
        pk=pk,
    )


def _animal(request: KeeperRequest) -> Animal:
    """The animal a form names, of this household, or 404."""
    own = Animal.objects.of(request.household)
    return get_object_or_404(own, pk=posted_key(request, "animal"))


def _unproven(request: KeeperRequest, enclosure: Enclosure, animal: Animal) -> HttpResponse:
    """The page again, which asks why an animal should move into an enclosure that nobody has
    verified; the animal stays chosen.
    """
    people = {**_people(enclosure, request), "moving": animal.pk, "ask_why": True}
    if not enclosure.present:
        return render(request, "enclosures/empty.html", {"enclosure": enclosure, **people})
    return _page(request, enclosure, people=people, template="animals")


@posted
def move_in(request: KeeperRequest, pk: int) -> HttpResponse:
    """An animal of the household moves into this enclosure."""
    enclosure = own_enclosure(request, pk)
    animal = _animal(request)
    if not animal.there:
        messages.error(
            request,
            f"{animal.name} is no longer kept ({animal.get_gone_display()}"
            f" {animal.gone_on:%-d %B %Y}).",
        )
        return redirect("enclosures:page", pk=pk)
    because = plain_words(request.POST.get("because", ""))
    if judged(enclosure, [animal.data()], now(), request.units).danger:
        # Whom it would meet there does harm: that is read before anybody is carried.
        return redirect(f"{reverse('collection:move', args=[animal.pk])}?to={enclosure.pk}")
    proven = standing_commissioning(enclosure, with_=animal) is not None
    if not proven and not because:
        return _unproven(request, enclosure, animal)
    try:
        moved = flows.move_in(enclosure, animal, now=now(), because="" if proven else because)
    except flows.MoveError as why:
        messages.error(request, str(why))
        return redirect("enclosures:page", pk=pk)
    messages.success(
        request,
        f"{animal.name} lives here from now." if moved else f"{animal.name} lives here already.",
    )
    return redirect("enclosures:page", pk=pk)


@posted
def move_out(request: KeeperRequest, pk: int) -> HttpResponse:
    """An animal leaves this enclosure."""
    enclosure = own_enclosure(request, pk)
    animal = _animal(request)
    moved = flows.move_out(enclosure, animal, now=now())
    messages.success(
        request,
        (
            f"{animal.name} has left; its days here are kept."
            if moved
            else f"{animal.name} does not live here."
        ),
    )
    return redirect("enclosures:page", pk=pk)


@posted
@lived_in
def add_reading(request: KeeperRequest, pk: int) -> HttpResponse:
    """Log a reading; ask first about one that cannot well be true."""
    enclosure = own_enclosure(request, pk)
    kept = enclosure.request_at(now())
    made = planned(kept).plan
    form = ReadingForm(
        request.POST,
        keys=[need.key for need in made.needs],
        units=request.units,
        zone=enclosure.room.time_zone,
        now=now(),
        request=kept,
        basking=made.basking,
        moved_at=flows.moved_at(enclosure),
    )
    if not form.is_valid():
        return _page(request, enclosure, reading=form)
    data = form.cleaned_data
    flows.log_form(enclosure, data, keeper=request.user)
    shown = wording.value_of(NeedKey(data["need"]), data["number"], request.units)
    named = dict(form.fields["need"].choices)  # type: ignore[attr-defined]  # a choice field
    messages.success(request, f"Logged: {named[data['need']]}, {shown}.")
    if request.POST.get("next") == "check":
        return redirect("building:commissioning", pk=pk)
    return HttpResponseRedirect(f"/enclosures/{pk}/#needs")


def _spot(
    request: KeeperRequest, enclosure_spec: EnclosureSpec
) -> tuple[float, float, float] | None:
    """A place that was clicked in the layout editor, kept inside the enclosure [m]."""
    try:
        x, z = (
            read_entry(request.POST.get(name, "")[:60], Kind.LENGTH, request.units).value
            for name in ("from_left", "above_floor")
        )
    except EntryError:
        return None
    inside = enclosure_spec.inside_m
    return min(max(x, 0.0), inside.length), inside.depth / 2, min(max(z, 0.0), inside.height)


@posted
@lived_in
def simulate(request: KeeperRequest, pk: int) -> HttpResponse:
    """A round with the demo household's simulated instruments; 404 for an enclosure that is real."""
    enclosure = own_enclosure(request, pk)
    kept = enclosure.request_at(now())
    made = planned(kept).plan
    keys = [need.key for need in made.needs if need.key in ROUND]
    place = _spot(request, kept.enclosure)
    try:
        read = take_readings(
            enclosure,
            [NeedKey.WARM_AIR_DAY] if place else keys,
            keeper=request.user,
            now=now(),
            at_m=place,
        )
    except LookupError:
        raise Http404 from None
    names = {one.need: in_sentence(NEEDS[one.need].name) for one in read}
    said = ", ".join(
        f"{names[one.need]}{f' {one.moment}' if one.moment else ''}"
        f" {wording.value_of(one.need, one.value, request.units)}"
        for one in read
    )
    messages.success(request, f"Read with the demo’s simulated instruments: {said}.")
    if request.POST.get("next") == "check":
        return redirect("building:commissioning", pk=pk)
    return HttpResponseRedirect(f"/enclosures/{pk}/#needs")


@lived_in
def calculation(request: KeeperRequest, pk: int) -> HttpResponse:
    """The derivation behind one number, by its JSON pointer in the plan.

    Posted with the layout editor's fields it shows the state being tried.
    """
    if request.method not in {"GET", "HEAD", "POST"}:
        return HttpResponse(status=405)
    enclosure = own_enclosure(request, pk)
    at = now()
    layout = LayoutForm(
        request.POST if request.method == "POST" else None,
        enclosure=enclosure,
        units=request.units,
        now=at,
    )
    trying = layout.is_bound and layout.is_valid() and layout.changed
    made = planned(
        layout.request_ if trying and layout.request_ else layout.kept, keep=not trying
    ).plan
    pointer = request.GET.get("at", "")
    derivation = _derivation_at(made, pointer)
    if derivation is None:
        raise Http404
    units = request.units
    command = derivation.command or f"plan FILE.json --number {pointer}/value"
    context = {
        "enclosure": enclosure,
        "derivation": derivation,
        "value": _shown(derivation, derivation.value, units),
        "low": _shown(derivation, derivation.low, units) if derivation.low is not None else "",
        "high": _shown(derivation, derivation.high, units) if derivation.high is not None else "",
        "inputs": [
            (item.name.replace("_", " "), sentences.input_text(item, units))
            for item in derivation.inputs
        ],
        "others": [
            (other.approach, sentences.otherwise(other, units), sentences.because(other.why))
            for other in derivation.others
        ],
        "sources": [str(source) for source in derivation.sources],
        "command": f"python -m husbandry {command}".replace("FILE.json", f"enclosure-{pk}.json"),
        "from_plan": command.startswith("plan"),
        "trying": trying,
        "pointer": pointer,
    }
    return render(
        request,
        "enclosures/calculation_fragment.html" if request.htmx else "enclosures/calculation.html",
        context,
    )


def _shown(derivation: Derivation, value: float, units: Any) -> str:
    if derivation.unit == "1" and 0 <= value <= 1:
        return f"{value:.0%}"
    return sentences.number_text(value, derivation.unit, units)


def _derivation_at(made: Plan, pointer: str) -> Derivation | None:
    """The derivation that a pointer names; None when there is none."""
    try:
        part = jsonpointer.resolve_pointer(made.model_dump(mode="json"), pointer)
        return Derivation.model_validate(part)
    except (jsonpointer.JsonPointerException, ValueError, TypeError):
        return None


@require_GET
@lived_in
def request_file(request: KeeperRequest, pk: int) -> HttpResponse:
    """The enclosure as a request of the core, to plan on the command line."""
    enclosure = own_enclosure(request, pk)
    text = json.dumps(to_data(enclosure.request_at(now())), ensure_ascii=False, indent=2)
    return HttpResponse(
        text,
        content_type="application/json",
        headers={"Content-Disposition": f'attachment; filename="enclosure-{pk}.json"'},
    )


@require_GET
@lived_in
def drawing_file(request: KeeperRequest, pk: int) -> HttpResponse:
    """The drawing to scale with its title block, from the front or from both sides, as an SVG that
    needs no style sheet.
    """
    enclosure = own_enclosure(request, pk)
    made = planned(enclosure.request_at(now()))
    state = (
        "planned"
        if enclosure.head and enclosure.head.state == "planned"
        else f"plan {made.plan.revision}"
    )
    labels = Labels(enclosure.name, "Lamp on, settled", state)
    if request.GET.get("view") == "both":
        drawn = both_views(made.plan, made.prediction, request.units, labels)
    else:
        drawn = front_view(made.plan, made.prediction, request.units, labels, WIDE)
    return HttpResponse(
        write(drawn, "export"),
        content_type="image/svg+xml",
        headers={"Content-Disposition": f'attachment; filename="enclosure-{pk}.svg"'},
    )
